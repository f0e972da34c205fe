#include "prepare/weights/skin_faults.h"

#include <algorithm>
#include <cmath>

#include "geometry/welding.h"
#include "scene/influences.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

// A bone of a chain between the one before it and the next, and the vertices that follow both of the first
// two by a quarter or more.
struct Joint {
  NodeIndex before, bone, next;
  std::vector<uint32_t> vertices;
};

// A skinned part as it is at rest, and which of its places are beside each other.
struct Skinned {
  NodeIndex part;
  scene::WholeMesh rest;
  std::vector<uint32_t> place;                // by vertex
  std::vector<uint32_t> first;                // by place: a vertex of it
  std::vector<std::vector<uint32_t>> beside;  // by place
  std::vector<Joint> joints;
};

float areaOf(glm::vec3 a, glm::vec3 b, glm::vec3 c) { return glm::length(glm::cross(b - a, c - a)) * 0.5F; }

std::vector<Joint> jointsOf(const scene::Model& model, NodeIndex part, const Retarget& retarget,
                            const rulebook::Skeleton& skeleton) {
  const auto& joints = model.skins[model.node(part).skin.value()].joints;
  std::vector<Joint> out;
  for (const rulebook::Chain& chain : skeleton.chains)
    for (size_t k = 0; k + 2 < chain.bones.size(); ++k) {
      const auto bone = [&](size_t at) {
        return retarget
            .bones()[static_cast<size_t>(skeleton.findBone(chain.bones[at]) - skeleton.bones.data())];
      };
      Joint joint{bone(k), bone(k + 1), bone(k + 2), {}};
      if (!joint.before.valid() || !joint.bone.valid() || !joint.next.valid()) continue;
      uint32_t whole = 0;
      for (const scene::Primitive& p : model.mesh(model.node(part).mesh).primitives)
        for (size_t v = 0; v < p.positions.size(); ++v, ++whole) {
          float first = 0, second = 0;
          scene::eachInfluence(p, v, [&](uint32_t number, float weight) {
            if (number >= joints.size()) return;
            if (joints[number] == joint.before) first += weight;
            if (joints[number] == joint.bone) second += weight;
          });
          if (first >= 0.25F && second >= 0.25F) joint.vertices.push_back(whole);
        }
      if (joint.vertices.size() >= 3) out.push_back(std::move(joint));
    }
  return out;
}

std::vector<Skinned> skinnedParts(const scene::Model& model, const Retarget& retarget,
                                  const rulebook::Skeleton& skeleton) {
  const auto world = scene::worldMatrices(model);
  std::vector<Skinned> out;
  for (const NodeIndex i : scene::reachedNodes(model)) {
    if (!model.node(i).skin.valid() || !model.node(i).mesh.valid()) continue;
    Skinned one;
    one.part = i;
    one.rest = scene::placedMesh(model, i, world);
    one.joints = jointsOf(model, i, retarget, skeleton);
    const geometry::Welding welding = geometry::weldEqual(one.rest.positions);
    one.place = welding.of;
    one.first = welding.first;
    one.beside.resize(welding.places());
    for (size_t t = 0; t + 2 < one.rest.indices.size(); t += 3)
      for (size_t k = 0; k < 3; ++k) {
        const uint32_t a = one.place[one.rest.indices[t + k]],
                       b = one.place[one.rest.indices[t + (k + 1) % 3]];
        if (a == b) continue;
        one.beside[a].push_back(b);
        one.beside[b].push_back(a);
      }
    out.push_back(std::move(one));
  }
  return out;
}

// Collects faults, of those that lie close together the worst.
class Worst {
 public:
  Worst(float apart_m, const SkinFaultLimits& limits) : apart_(apart_m), limits_(limits) {}

  void add(const SkinFault& fault) {
    if (!(over(fault) > 1) || !std::isfinite(fault.much)) return;
    for (SkinFault& known : list_)
      if (known.sort == fault.sort && glm::distance(known.rest_m, fault.rest_m) < apart_) {
        if (over(fault) > over(known)) known = fault;
        return;
      }
    list_.push_back(fault);
    // What is far from the worst is not kept for ever.
    if (list_.size() > 16 * limits_.most + 64) trim(8 * limits_.most + 32);
  }
  std::vector<SkinFault> take() {
    trim(limits_.most);
    return std::move(list_);
  }

 private:
  [[nodiscard]] double over(const SkinFault& fault) const {
    switch (fault.sort) {
      case SkinFaultSort::stretched:
        return fault.much / limits_.stretch;
      case SkinFaultSort::collapsed:
        return fault.much / limits_.collapse;
      case SkinFaultSort::twisted:
        return fault.much / limits_.wring;
      case SkinFaultSort::left_behind:
        return fault.much / limits_.behind_m;
    }
    return 0;
  }
  void trim(size_t most) {
    std::stable_sort(list_.begin(), list_.end(),
                     [&](const SkinFault& a, const SkinFault& b) { return over(a) > over(b); });
    if (list_.size() > most) list_.resize(most);
  }
  float apart_;
  SkinFaultLimits limits_;
  std::vector<SkinFault> list_;
};

void lookAtTriangles(const Skinned& part, const std::vector<glm::vec3>& now, SkinFault fault, Worst& worst) {
  fault.part = part.part;
  const auto& rest = part.rest.positions;
  for (size_t t = 0; t + 2 < part.rest.indices.size(); t += 3) {
    const uint32_t v[3] = {part.rest.indices[t], part.rest.indices[t + 1], part.rest.indices[t + 2]};
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t a = v[k], b = v[(k + 1) % 3];
      const float was = glm::distance(rest[a], rest[b]);
      if (was < 1e-4F) continue;
      fault.sort = SkinFaultSort::stretched;
      fault.much = double{glm::distance(now[a], now[b])} / double{was};
      fault.rest_m = (rest[a] + rest[b]) * 0.5F;
      fault.place_m = (now[a] + now[b]) * 0.5F;
      worst.add(fault);
    }
    const float was = areaOf(rest[v[0]], rest[v[1]], rest[v[2]]);
    const float longest =
        std::max({glm::distance(rest[v[0]], rest[v[1]]), glm::distance(rest[v[1]], rest[v[2]]),
                  glm::distance(rest[v[2]], rest[v[0]])});
    // A sliver has no surface to lose.
    if (was < 0.05F * longest * longest || was < 1e-8F) continue;
    fault.sort = SkinFaultSort::collapsed;
    fault.much = double{was} / std::max(double{areaOf(now[v[0]], now[v[1]], now[v[2]])}, double{was} * 1e-4);
    fault.rest_m = (rest[v[0]] + rest[v[1]] + rest[v[2]]) / 3.0F;
    fault.place_m = (now[v[0]] + now[v[1]] + now[v[2]]) / 3.0F;
    worst.add(fault);
  }
}

void lookForLeftBehind(const Skinned& part, const std::vector<glm::vec3>& now, SkinFault fault,
                       Worst& worst) {
  fault.part = part.part;
  fault.sort = SkinFaultSort::left_behind;
  const auto& rest = part.rest.positions;
  const auto way = [&](uint32_t place) {
    const uint32_t v = part.first[place];
    return now[v] - rest[v];
  };
  for (uint32_t p = 0; p < part.first.size(); ++p) {
    if (part.beside[p].empty()) continue;
    glm::vec3 mean(0);
    for (const uint32_t other : part.beside[p])
      mean += way(other) / static_cast<float>(part.beside[p].size());
    // It hardly moves itself, while all beside it go the same way.
    if (glm::length(way(p)) > 0.2F * glm::length(mean)) continue;
    const bool together = std::all_of(part.beside[p].begin(), part.beside[p].end(), [&](uint32_t other) {
      return glm::distance(way(other), mean) < 0.5F * glm::length(mean);
    });
    if (!together) continue;
    fault.much = double{glm::distance(way(p), mean)};
    fault.rest_m = rest[part.first[p]];
    fault.place_m = now[part.first[p]];
    worst.add(fault);
  }
}

// How far a bone is turned about its own length since rest, against the one before it; radians.
double twistOf(const Joint& joint, const std::vector<glm::mat4>& rest, const std::vector<glm::mat4>& now) {
  const auto since = [&](NodeIndex i) {
    return scene::turnOf(now[i.value()]) * glm::conjugate(scene::turnOf(rest[i.value()]));
  };
  const glm::vec3 along = glm::vec3(rest[joint.next.value()][3]) - glm::vec3(rest[joint.bone.value()][3]);
  if (glm::length(along) < 1e-5F) return 0;
  // Swing and twist: what of the turn is about the bone's length.
  const glm::quat more = glm::conjugate(since(joint.before)) * since(joint.bone);
  const double angle =
      std::abs(2 * std::atan2(double{glm::dot(glm::vec3(more.x, more.y, more.z), glm::normalize(along))},
                              double{more.w}));
  return std::min(angle, 2 * 3.14159265358979 - angle);
}

// Mean distance of vertices from the line of a bone, where they and it are now.
double thickness(const std::vector<uint32_t>& vertices, const std::vector<glm::vec3>& places, glm::vec3 head,
                 glm::vec3 next) {
  const glm::vec3 along = glm::normalize(next - head);
  double sum = 0;
  for (const uint32_t v : vertices) {
    const glm::vec3 off = places[v] - head;
    sum += double{glm::length(off - along * glm::dot(off, along))};
  }
  return sum / static_cast<double>(vertices.size());
}

// Joints at which a bone is turned about its own length, and the skin between the two is wrung thin.
void lookForTwists(const Skinned& part, const std::vector<glm::vec3>& places,
                   const std::vector<glm::mat4>& rest, const std::vector<glm::mat4>& now, SkinFault fault,
                   Worst& worst) {
  constexpr double kTurned_rad = 1;
  fault.part = part.part;
  fault.sort = SkinFaultSort::twisted;
  for (const Joint& joint : part.joints) {
    if (twistOf(joint, rest, now) < kTurned_rad) continue;
    const auto at = [](const std::vector<glm::mat4>& world, NodeIndex i) {
      return glm::vec3(world[i.value()][3]);
    };
    const double was = thickness(joint.vertices, part.rest.positions, at(rest, joint.bone),
                                 at(rest, joint.next)),
                 is = thickness(joint.vertices, places, at(now, joint.bone), at(now, joint.next));
    if (!(was > 1e-5)) continue;
    fault.much = was / std::max(is, was * 1e-3);
    fault.rest_m = at(rest, joint.bone);
    fault.place_m = at(now, joint.bone);
    worst.add(fault);
  }
}

}  // namespace

const char* sortName(SkinFaultSort sort) {
  switch (sort) {
    case SkinFaultSort::stretched:
      return "stretched";
    case SkinFaultSort::collapsed:
      return "collapsed";
    case SkinFaultSort::twisted:
      return "twisted";
    case SkinFaultSort::left_behind:
      return "left behind";
  }
  return "";
}

std::vector<SkinFault> skinFaults(const scene::Model& model, const Retarget& retarget,
                                  const rulebook::Skeleton& skeleton, const SkinFaultLimits& limits) {
  const std::vector<Skinned> parts = skinnedParts(model, retarget, skeleton);
  const auto rest = scene::worldMatrices(model);
  geometry::Bounds box;
  for (const Skinned& part : parts)
    for (const glm::vec3& p : part.rest.positions) box.add(p);
  Worst worst(box.empty() ? 0 : glm::length(box.size()) / 25, limits);
  for (size_t m = 0; m < skeleton.movements.size(); ++m)
    for (const double at_s : skeleton.movements[m].moments_s) {
      const auto now = scene::worldMatrices(model, retarget.at(m, static_cast<float>(at_s)));
      SkinFault fault;
      fault.movement = m;
      fault.at_s = at_s;
      for (const Skinned& part : parts) {
        const auto places = scene::placedPositions(model, part.part, now);
        lookAtTriangles(part, places, fault, worst);
        lookForLeftBehind(part, places, fault, worst);
        lookForTwists(part, places, rest, now, fault, worst);
      }
    }
  return worst.take();
}

}  // namespace rakugo::prepare
