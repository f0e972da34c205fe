#include "prepare/skin_faults.h"

#include <algorithm>
#include <cmath>

#include "geometry/welding.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

constexpr double kDegrees = 180 / 3.14159265358979;

// A skinned part as it is at rest, and which of its places are beside each other.
struct Skinned {
  NodeIndex part;
  scene::WholeMesh rest;
  std::vector<uint32_t> place;       // by vertex
  std::vector<uint32_t> first;       // by place: a vertex of it
  std::vector<std::vector<uint32_t>> beside;  // by place
};

float areaOf(glm::vec3 a, glm::vec3 b, glm::vec3 c) { return glm::length(glm::cross(b - a, c - a)) * 0.5F; }

std::vector<Skinned> skinnedParts(const scene::Model& model) {
  const auto world = scene::worldMatrices(model);
  std::vector<Skinned> out;
  for (const NodeIndex i : scene::reachedNodes(model)) {
    if (!model.node(i).skin.valid() || !model.node(i).mesh.valid()) continue;
    Skinned one;
    one.part = i;
    one.rest = scene::placedMesh(model, i, world);
    const geometry::Welding welding = geometry::weldEqual(one.rest.positions);
    one.place = welding.of;
    one.first = welding.first;
    one.beside.resize(welding.places());
    for (size_t t = 0; t + 2 < one.rest.indices.size(); t += 3)
      for (size_t k = 0; k < 3; ++k) {
        const uint32_t a = one.place[one.rest.indices[t + k]], b = one.place[one.rest.indices[t + (k + 1) % 3]];
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
        return fault.much / limits_.twist_deg;
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
    const float longest = std::max({glm::distance(rest[v[0]], rest[v[1]]), glm::distance(rest[v[1]], rest[v[2]]),
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

void lookForLeftBehind(const Skinned& part, const std::vector<glm::vec3>& now, SkinFault fault, Worst& worst) {
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
    for (const uint32_t other : part.beside[p]) mean += way(other) / static_cast<float>(part.beside[p].size());
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

// How far the second bone of each pair of a chain is turned about its own length against the first.
void lookForTwists(const Retarget& retarget, const rulebook::Skeleton& skeleton,
                   const std::vector<glm::mat4>& rest, const std::vector<glm::mat4>& now, SkinFault fault,
                   Worst& worst) {
  fault.sort = SkinFaultSort::twisted;
  const auto turn = [](const glm::mat4& m) {
    bool exact = true;
    return scene::placementOf(m, exact).turn;
  };
  for (const rulebook::Chain& chain : skeleton.chains)
    for (size_t k = 0; k + 2 < chain.bones.size(); ++k) {
      const auto bone = [&](size_t at) {
        return retarget.bones()[static_cast<size_t>(skeleton.findBone(chain.bones[at]) - skeleton.bones.data())];
      };
      const NodeIndex a = bone(k), b = bone(k + 1), c = bone(k + 2);
      if (!a.valid() || !b.valid() || !c.valid()) continue;
      const glm::vec3 head(rest[b.value()][3]), along = glm::vec3(rest[c.value()][3]) - head;
      if (glm::length(along) < 1e-5F) continue;
      // Each bone's turn since rest, in the model's space; the second's against the first's.
      const glm::quat first = turn(now[a.value()]) * glm::conjugate(turn(rest[a.value()])),
                      second = turn(now[b.value()]) * glm::conjugate(turn(rest[b.value()]));
      const glm::quat more = glm::conjugate(first) * second;
      // Swing and twist about the bone's length.
      const float about = glm::dot(glm::vec3(more.x, more.y, more.z), glm::normalize(along));
      fault.much = std::abs(2 * std::atan2(double{about}, double{more.w})) * kDegrees;
      if (fault.much > 180) fault.much = 360 - fault.much;
      fault.rest_m = head;
      fault.place_m = glm::vec3(now[b.value()][3]);
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
  const std::vector<Skinned> parts = skinnedParts(model);
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
      lookForTwists(retarget, skeleton, rest, now, fault, worst);
      for (const Skinned& part : parts) {
        const auto places = scene::placedPositions(model, part.part, now);
        lookAtTriangles(part, places, fault, worst);
        lookForLeftBehind(part, places, fault, worst);
      }
    }
  return worst.take();
}

}  // namespace rakugo::prepare
