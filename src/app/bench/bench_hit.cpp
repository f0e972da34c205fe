#include "app/bench/bench_hit.h"

#include <algorithm>
#include <cmath>

#include "geometry/ray.h"

namespace rakugo::app {
namespace {

// Where a pose has put a part's vertices, in the model's space; empty for one that does not bend.
std::vector<glm::vec3> bentPlaces(const BenchPart& part, const BenchPose& pose) {
  const bundle::Attribute* joints = part.mesh.find(bundle::Semantic::joints);
  const bundle::Attribute* weights = part.mesh.find(bundle::Semantic::weights);
  if (joints == nullptr || weights == nullptr) return {};
  using Four = std::array<uint16_t, 4>;
  std::vector<glm::vec3> out(part.places.size());
  base::parallelPieces(out.size(), 4096, [&](size_t, size_t begin, size_t end) {
    for (size_t v = begin; v < end; ++v) {
      const size_t at = v * part.mesh.stride;
      const auto bones = base::loadAt<Four>(part.mesh.vertices, at + joints->offset),
                 shares = base::loadAt<Four>(part.mesh.vertices, at + weights->offset);
      glm::vec3 sum(0);
      for (size_t k = 0; k < 4; ++k)
        if (shares[k] > 0 && bones[k] < pose.bones.size())
          sum += glm::vec3(pose.bones[bones[k]] * glm::vec4(part.places[v], 1)) *
                 (static_cast<float>(shares[k]) / 65'535);
      out[v] = sum;
    }
  });
  return out;
}

// The part of a ray that is not cut away, in lengths of its direction.
struct Reach {
  float from = 0;
  double to = std::numeric_limits<double>::infinity();
  bool none = false;
};

Reach reachOf(glm::vec3 origin, glm::vec3 direction, const std::optional<glm::vec4>& cut) {
  Reach out;
  if (!cut) return out;
  const float at = glm::dot(*cut, glm::vec4(origin, 1)), along = glm::dot(glm::vec3(*cut), direction);
  if (std::abs(along) < 1e-12F)
    out.none = at > 0;
  else if (along < 0)
    out.from = std::max(0.0F, -at / along);
  else if (at > 0)
    out.none = true;
  else
    out.to = static_cast<double>(-at / along);
  return out;
}

glm::mat4 worldOf(const BenchPart& part, const PosedScene* posed) {
  const BenchPose* pose = posed != nullptr ? posed->pose.get() : nullptr;
  if (pose != nullptr && part.bone >= 0 && static_cast<size_t>(part.bone) < pose->bones.size())
    return pose->bones[static_cast<size_t>(part.bone)] * part.world;
  return part.world;
}

// A part whose box the ray may enter: the ray in the part's space, and what it is held against there.
struct Candidate {
  size_t part = 0;
  float enters = 0;
  glm::vec3 origin{0}, direction{0};
  const std::vector<glm::vec3>* places = nullptr;
  const geometry::Bvh* tree = nullptr;
};

Candidate candidateOf(const BenchPart& part, size_t number, glm::vec3 origin, glm::vec3 direction,
                      const PosedScene* posed) {
  const glm::mat4 back = glm::inverse(worldOf(part, posed));
  const bool bent = posed != nullptr && !posed->parts[number].places.empty();
  Candidate out;
  out.part = number;
  out.origin = glm::vec3(back * glm::vec4(origin, 1));
  out.direction = glm::vec3(back * glm::vec4(direction, 0));
  out.places = bent ? &posed->parts[number].places : &part.places;
  out.tree = bent ? &posed->parts[number].tree : &part.tree;
  out.enters = out.tree->entersAt(out.origin, out.direction);
  return out;
}

}  // namespace

std::shared_ptr<const PosedScene> posedScene(const std::shared_ptr<const BenchScene>& scene,
                                             const std::shared_ptr<const BenchPose>& pose,
                                             const base::Progress* progress) {
  if (!scene || !pose || pose->bones.size() != scene->rig.nodes.size()) return nullptr;
  auto out = std::make_shared<PosedScene>();
  out->scene = scene;
  out->pose = pose;
  for (const BenchPart& part : scene->parts) {
    if (progress != nullptr && progress->cancelled()) return nullptr;
    PosedScene::Bent bent{bentPlaces(part, *pose), {}};
    if (!bent.places.empty())
      bent.tree = geometry::Bvh(geometry::triangleBoxes(bent.places, part.mesh.indices));
    out->parts.push_back(std::move(bent));
  }
  return out;
}

std::optional<BenchHit> hit(const BenchScene& scene, glm::vec3 origin, glm::vec3 direction,
                            const HitOptions& options) {
  return hit(scene.parts, origin, direction, options);
}

std::optional<BenchHit> hit(std::span<const BenchPart> parts, glm::vec3 origin, glm::vec3 direction,
                            const HitOptions& options) {
  const Reach reach = reachOf(origin, direction, options.cut);
  if (reach.none) return std::nullopt;
  origin += direction * reach.from;
  // Nearer parts first, so that few are looked into.
  std::vector<Candidate> candidates;
  for (size_t i = 0; i < parts.size(); ++i) {
    if (i < options.presence.size() && options.presence[i] != render::Presence::whole) continue;
    const Candidate one = candidateOf(parts[i], i, origin, direction, options.posed);
    if (static_cast<double>(one.enters) <= reach.to - static_cast<double>(reach.from))
      candidates.push_back(one);
  }
  std::sort(candidates.begin(), candidates.end(),
            [](const Candidate& a, const Candidate& b) { return a.enters < b.enters; });
  std::optional<BenchHit> best;
  double nearest = reach.to - static_cast<double>(reach.from);
  for (const Candidate& one : candidates) {
    if (static_cast<double>(one.enters) > nearest) break;
    const BenchPart& part = parts[one.part];
    const auto met =
        geometry::nearestHit(*one.tree, *one.places, part.mesh.indices, one.origin, one.direction, nearest);
    if (!met) continue;
    nearest = met->distance;
    best = BenchHit{one.part, origin + direction * static_cast<float>(nearest), {}, {}, {}, {}};
    best->share = glm::vec3(1 - met->u - met->v, met->u, met->v);
    const glm::mat4 world = worldOf(part, options.posed);
    for (size_t k = 0; k < 3; ++k) {
      best->vertices[k] = part.mesh.indices[size_t{met->triangle} * 3 + k];
      best->corners[k] = glm::vec3(world * glm::vec4((*one.places)[best->vertices[k]], 1));
    }
    const auto& c = best->corners;
    best->normal = glm::normalize(glm::cross(c[1] - c[0], c[2] - c[0]));
    if (glm::dot(best->normal, direction) > 0) best->normal = -best->normal;
  }
  return best;
}

float weightAt(const BenchPart& part, uint32_t vertex, int bone) {
  const bundle::Attribute* joints = part.mesh.find(bundle::Semantic::joints);
  const bundle::Attribute* weights = part.mesh.find(bundle::Semantic::weights);
  if (joints == nullptr || weights == nullptr || bone < 0) return 0;
  using Four = std::array<uint16_t, 4>;
  const size_t at = size_t{vertex} * part.mesh.stride;
  const auto bones = base::loadAt<Four>(part.mesh.vertices, at + joints->offset),
             shares = base::loadAt<Four>(part.mesh.vertices, at + weights->offset);
  uint32_t out = 0;
  for (size_t k = 0; k < 4; ++k) out += bones[k] == bone ? shares[k] : 0U;
  return static_cast<float>(out) / 65'535;
}

}  // namespace rakugo::app
