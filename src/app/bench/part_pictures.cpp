#include "app/bench/part_pictures.h"

#include <QTimer>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"
#include "geometry/bounds.h"
#include "scene/rest_pose.h"
#include "scene/whole_mesh.h"

namespace rakugo::app {
namespace {

constexpr int kSide = 40;          // drawn twice as large as it is shown
constexpr size_t kMostKept = 400;  // pictures

// A triangle filled into the picture where it is nearer than what is there.
void fill(QImage& picture, std::vector<float>& depth, const glm::vec3 (&at)[3], QRgb color) {
  const glm::vec2 u = glm::vec2(at[1]) - glm::vec2(at[0]), v = glm::vec2(at[2]) - glm::vec2(at[0]);
  const float area = u.x * v.y - u.y * v.x;
  if (!std::isfinite(area) || std::abs(area) < 1e-9F) return;
  const int side = picture.width();
  const auto cut = [side](float at_px) {
    return std::clamp(static_cast<int>(std::floor(at_px)), 0, side - 1);
  };
  const int left = cut(std::min({at[0].x, at[1].x, at[2].x})),
            right = cut(std::max({at[0].x, at[1].x, at[2].x})),
            top = cut(std::min({at[0].y, at[1].y, at[2].y})),
            bottom = cut(std::max({at[0].y, at[1].y, at[2].y}));
  for (int y = top; y <= bottom; ++y)
    for (int x = left; x <= right; ++x) {
      const glm::vec2 p =
          glm::vec2(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F) - glm::vec2(at[0]);
      const float b = (p.x * v.y - p.y * v.x) / area, c = (u.x * p.y - u.y * p.x) / area;
      if (b < -0.02F || c < -0.02F || b + c > 1.02F) continue;
      const float z = at[0].z + (at[1].z - at[0].z) * b + (at[2].z - at[0].z) * c;
      float& there = depth[static_cast<size_t>(y) * static_cast<size_t>(side) + static_cast<size_t>(x)];
      if (z <= there) continue;
      there = z;
      picture.setPixel(x, y, color);
    }
}

}  // namespace

QImage partPicture(const scene::Model& model, scene::NodeIndex part, const std::vector<glm::mat4>& world,
                   glm::vec3 up, glm::vec3 forward, int side, QColor lit, QColor shaded) {
  QImage out(side, side, QImage::Format_ARGB32);
  out.fill(Qt::transparent);
  const scene::WholeMesh whole = scene::placedMesh(model, part, world);
  const geometry::Bounds box = geometry::boundsOf(whole.positions);
  if (box.empty()) return out;
  // From before, a little from the side and from above, as the bench looks.
  const glm::vec3 left = glm::cross(up, forward);
  const glm::vec3 toward = glm::normalize(forward * 0.72F + left * 0.62F + up * 0.35F);
  const glm::vec3 right = glm::normalize(glm::cross(up, toward)), high = glm::cross(toward, right);
  glm::vec2 low(1e30F), top(-1e30F);
  std::vector<glm::vec3> seen(whole.positions.size());
  for (size_t i = 0; i < seen.size(); ++i) {
    const glm::vec3 p = whole.positions[i] - box.center();
    seen[i] = {glm::dot(p, right), -glm::dot(p, high), glm::dot(p, toward)};
    if (!std::isfinite(seen[i].x + seen[i].y + seen[i].z)) continue;
    low = glm::min(low, glm::vec2(seen[i]));
    top = glm::max(top, glm::vec2(seen[i]));
  }
  const float size = std::max({top.x - low.x, top.y - low.y, 1e-9F});
  const float scale = static_cast<float>(side - 2) / size;
  const glm::vec2 middle = (low + top) * 0.5F;
  for (glm::vec3& p : seen) {
    p.x = (p.x - middle.x) * scale + static_cast<float>(side) / 2;
    p.y = (p.y - middle.y) * scale + static_cast<float>(side) / 2;
  }
  std::vector<float> depth(static_cast<size_t>(side) * static_cast<size_t>(side), -1e30F);
  for (size_t t = 0; t + 2 < whole.indices.size(); t += 3) {
    const glm::vec3 at[3] = {seen[whole.indices[t]], seen[whole.indices[t + 1]], seen[whole.indices[t + 2]]};
    if (!std::isfinite(at[0].x + at[1].x + at[2].x)) continue;
    const glm::vec3 normal =
        glm::cross(whole.positions[whole.indices[t + 1]] - whole.positions[whole.indices[t]],
                   whole.positions[whole.indices[t + 2]] - whole.positions[whole.indices[t]]);
    const float length = glm::length(normal);
    // Lit from above and the left of the picture; which way it is wound does not matter here.
    // Of a triangle whose numbers are beyond all bounds no direction is told.
    const float light = length > 0 && std::isfinite(length)
                            ? std::abs(glm::dot(normal / length,
                                                glm::normalize(high * 0.8F + toward * 0.55F - right * 0.25F)))
                            : 0.5F;
    const double shade = 0.16 + 0.5 * (1 - static_cast<double>(light));
    const auto mixed = [&](int a, int b) { return static_cast<int>(a + (b - a) * shade); };
    fill(out, depth, at,
         qRgb(mixed(lit.red(), shaded.red()), mixed(lit.green(), shaded.green()),
              mixed(lit.blue(), shaded.blue())));
  }
  return out;
}

PartPictures::PartPictures(QObject* parent) : QObject(parent) {}

QImage PartPictures::pictureOf(const std::shared_ptr<const scene::Model>& model, scene::NodeIndex part,
                               glm::vec3 up, glm::vec3 forward) {
  if (night_ != isNight()) {
    known_.clear();
    asked_.clear();
  }
  night_ = isNight();
  const scene::Mesh* mesh = &model->mesh(model->node(part).mesh);
  const auto known = known_.find(mesh);
  if (known != known_.end()) return known->second.second;
  // On its way: asked for again at each painting until it is there.
  if (!asked_.insert(mesh).second) return {};
  if (wanted_.empty()) QTimer::singleShot(0, this, &PartPictures::draw);
  wanted_.push_back({model, part, up, forward});
  return {};
}

void PartPictures::draw() {
  if (known_.size() > kMostKept) known_.clear();
  background_.post([this, wanted = std::exchange(wanted_, {}), night = night_, lit = theme().sheet,
                    shade = theme().ink](base::Progress& progress) -> Background::Finish {
    std::vector<std::pair<Wanted, QImage>> made;
    std::shared_ptr<const scene::Model> of;
    std::vector<glm::mat4> world;
    for (const Wanted& one : wanted) {
      if (progress.cancelled()) return {};
      if (of != one.model) world = scene::worldMatrices(*(of = one.model));
      made.emplace_back(one, partPicture(*of, one.part, world, one.up, one.forward, kSide, lit, shade));
    }
    return [this, night, made = std::move(made)] {
      if (night != night_) return Q_EMIT drawn();  // asked for again, in the other colours
      for (const auto& [one, picture] : made) {
        const auto mesh = one.model->meshes[one.model->node(one.part).mesh.value()];
        known_[mesh.get()] = {mesh, picture};
        asked_.erase(mesh.get());
      }
      Q_EMIT drawn();
    };
  });
}

}  // namespace rakugo::app
