#include "standin/motion.h"

#include <QFile>
#include <algorithm>
#include <cmath>

#include <glm/gtc/matrix_transform.hpp>

#include "bundle/bundle_reader.h"

// Q_INIT_RESOURCE must stand outside of every namespace.
static void initData() { Q_INIT_RESOURCE(data); }

namespace rakugo::standin {
namespace {

glm::vec3 vec(const std::array<float, 3>& v) { return {v[0], v[1], v[2]}; }

std::vector<glm::mat4> worldOf(const bundle::SkeletonRecord& skeleton, const BonePose& pose) {
  std::vector<glm::mat4> out;
  for (size_t i = 0; i < skeleton.bones.size(); ++i) {
    const BonePlace& place = pose[i];
    const glm::mat4 local =
        glm::scale(glm::translate(glm::mat4(1), place.position) * glm::mat4_cast(place.turn), place.scale);
    const int parent = skeleton.bones[i].parent;
    out.push_back(parent >= 0 ? out[static_cast<size_t>(parent)] * local : local);
  }
  return out;
}

// By name; of several the first.
std::map<std::string, size_t> named(const bundle::SkeletonRecord& skeleton) {
  std::map<std::string, size_t> out;
  for (size_t i = 0; i < skeleton.bones.size(); ++i) out.emplace(skeleton.bones[i].name, i);
  return out;
}

}  // namespace

const Movements& Movements::keepers() {
  static const Movements kKeepers = [] {
    const auto ours = [](auto result) {
      if (!result) base::brokenPromise("the harbour's movements are damaged", result.error().text());
      return std::move(result).value();
    };
    initData();
    QFile file(QStringLiteral(":/data/keeper-movements.rkb"));
    if (!file.open(QIODevice::ReadOnly)) base::brokenPromise("the harbour's movements are not there", "");
    const QByteArray held = file.readAll();
    const base::ByteSpan bytes = std::as_bytes(std::span(held.constData(), static_cast<size_t>(held.size())));
    const auto bundle = ours(bundle::Bundle::parse(bytes, "keeper-movements.rkb"));
    Movements out;
    for (const bundle::Entry& entry : bundle.entries()) {
      if (entry.kind == bundle::EntryKind::skeleton)
        out.skeleton_ = ours(bundle::decodeSkeleton(ours(bundle.read(entry)), entry.id));
      if (entry.kind == bundle::EntryKind::animation)
        out.animations_[entry.id.substr(entry.id.rfind('/') + 1)] =
            ours(bundle::decodeAnimation(ours(bundle.read(entry)), entry.id));
    }
    return out;
  }();
  return kKeepers;
}

const bundle::AnimationPayload* Movements::find(const std::string& name) const {
  const auto found = animations_.find(name);
  return found != animations_.end() ? &found->second : nullptr;
}

std::vector<std::string> Movements::names() const {
  std::vector<std::string> out;
  for (const auto& [name, animation] : animations_) out.push_back(name);
  return out;
}

std::vector<std::string> Movements::missingIn(const bundle::SkeletonRecord& skeleton) const {
  const auto there = named(skeleton);
  std::vector<std::string> out;
  for (const bundle::BoneRecord& bone : skeleton_.bones)
    if (there.count(bone.name) == 0) out.push_back(bone.name);
  return out;
}

BonePose restPose(const bundle::SkeletonRecord& skeleton) {
  BonePose out;
  for (const bundle::BoneRecord& bone : skeleton.bones)
    out.push_back({vec(bone.position), glm::quat(bone.turn[3], bone.turn[0], bone.turn[1], bone.turn[2]),
                   vec(bone.scale)});
  return out;
}

void play(const bundle::AnimationPayload& movement, float at_s, const bundle::SkeletonRecord& skeleton,
          const bundle::SkeletonRecord* made_for, BonePose& pose, const std::vector<std::string>& only) {
  const auto own = named(skeleton);
  const auto theirs = made_for != nullptr ? named(*made_for) : std::map<std::string, size_t>();
  for (const bundle::Track& track : movement.tracks) {
    const auto bone = own.find(track.bone);
    if (bone == own.end() || track.path == bundle::TrackPath::weights) continue;
    if (!only.empty() && std::find(only.begin(), only.end(), track.bone) == only.end()) continue;
    const std::vector<float> v = bundle::valueAt(track, at_s);
    BonePlace& place = pose[bone->second];
    if (track.path == bundle::TrackPath::turn) {
      place.turn = glm::quat(v[3], v[0], v[1], v[2]);
    } else if (track.path == bundle::TrackPath::scale) {
      place.scale = {v[0], v[1], v[2]};
    } else {
      place.position = {v[0], v[1], v[2]};
      if (const auto from = theirs.find(track.bone); from != theirs.end())
        place.position +=
            vec(skeleton.bones[bone->second].position) - vec(made_for->bones[from->second].position);
    }
  }
}

std::vector<glm::mat4> bentBy(const bundle::SkeletonRecord& skeleton, const BonePose& pose) {
  return bentFrom(skeleton, restPose(skeleton), pose);
}

std::vector<glm::mat4> bentFrom(const bundle::SkeletonRecord& skeleton, const BonePose& bind,
                                const BonePose& pose) {
  std::vector<glm::mat4> out = worldOf(skeleton, pose);
  const std::vector<glm::mat4> from = worldOf(skeleton, bind);
  for (size_t i = 0; i < out.size(); ++i)
    out[i] = std::abs(glm::determinant(from[i])) > 1e-12F ? out[i] * glm::inverse(from[i]) : glm::mat4(1);
  return out;
}

bundle::MeshPayload followBones(const bundle::MeshPayload& mesh, const bundle::SkeletonRecord& skeleton,
                                const BonePose& bind, const std::vector<std::string>& bones) {
  struct Line {
    uint16_t bone;
    glm::vec3 a, b;
  };
  const std::vector<glm::mat4> world = worldOf(skeleton, bind);
  const auto head = [&](size_t i) { return glm::vec3(world[i][3]); };
  std::vector<Line> lines;
  for (size_t i = 0; i < skeleton.bones.size(); ++i) {
    if (std::find(bones.begin(), bones.end(), skeleton.bones[i].name) == bones.end()) continue;
    bool any = false;
    for (size_t k = 0; k < skeleton.bones.size(); ++k)
      if (skeleton.bones[k].parent == static_cast<int>(i)) {
        lines.push_back({static_cast<uint16_t>(i), head(i), head(k)});
        any = true;
      }
    if (!any) lines.push_back({static_cast<uint16_t>(i), head(i), head(i)});
  }
  if (lines.empty() || mesh.find(bundle::Semantic::joints) != nullptr) return mesh;
  bundle::MeshPayload out = mesh;
  out.stride = mesh.stride + 16;
  out.attributes.push_back({bundle::Semantic::joints, bundle::AttributeFormat::u16x4, mesh.stride});
  out.attributes.push_back({bundle::Semantic::weights, bundle::AttributeFormat::unorm16x4, mesh.stride + 8});
  base::ByteWriter vertices;
  for (uint64_t v = 0; v < mesh.vertex_count; ++v) {
    vertices.bytes(base::ByteSpan(mesh.vertices).subspan(v * mesh.stride, mesh.stride));
    const auto p = base::loadAt<glm::vec3>(mesh.vertices, v * mesh.stride);
    std::vector<std::pair<float, uint16_t>> near;
    for (const Line& line : lines) {
      const glm::vec3 d = line.b - line.a;
      const float length2 = glm::dot(d, d);
      const float t = length2 > 0 ? std::clamp(glm::dot(p - line.a, d) / length2, 0.0F, 1.0F) : 0;
      const float away = std::max(glm::distance(p, line.a + d * t), 1e-3F);
      const auto known =
          std::find_if(near.begin(), near.end(), [&](const auto& one) { return one.second == line.bone; });
      if (known == near.end())
        near.emplace_back(away, line.bone);
      else
        known->first = std::min(known->first, away);
    }
    std::sort(near.begin(), near.end());
    near.resize(2, {1e9F, near[0].second});
    const float other = std::pow(near[0].first / near[1].first, 4.0F);
    const auto second = static_cast<uint16_t>(std::lround(other / (1 + other) * 65'535));
    for (const uint16_t bone : {near[0].second, near[1].second, uint16_t{0}, uint16_t{0}})
      vertices.write<uint16_t>(bone);
    for (const uint16_t share : {static_cast<uint16_t>(65'535 - second), second, uint16_t{0}, uint16_t{0}})
      vertices.write<uint16_t>(share);
  }
  out.vertices = vertices.take();
  return out;
}

float looped(float at_s, const bundle::AnimationPayload& movement) {
  return movement.length_s > 0 ? std::fmod(at_s, movement.length_s) : 0;
}

}  // namespace rakugo::standin
