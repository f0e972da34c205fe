// Steps of outfits: closing the seam to the body that they are worn on, and sizes that go together.
#include <algorithm>
#include <map>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/outfit/body.h"
#include "prepare/steps.h"
#include "scene/rest_pose.h"
#include "scene/seams.h"
#include "scene/variants.h"

namespace rakugo::prepare {
namespace {

using scene::Model;
using scene::NodeIndex;
using scene::Primitive;

// A vertex of the body's border, with all that is taken along.
struct BodyVertex {
  glm::vec3 at{0}, normal{0};
  std::vector<std::pair<std::string, float>> weights;  // by bone name
};

struct PlaceLess {
  bool operator()(glm::vec3 a, glm::vec3 b) const {
    return std::tie(a.x, a.y, a.z) < std::tie(b.x, b.y, b.z);
  }
};

// What stands at each of the body's border places.
std::map<glm::vec3, BodyVertex, PlaceLess> bodyVertices(const Model& body) {
  std::map<glm::vec3, BodyVertex, PlaceLess> out;
  const auto world = scene::worldMatrices(body);
  for (const NodeIndex i : scene::reachedNodes(body)) {
    const scene::Node& node = body.node(i);
    if (!node.mesh.valid()) continue;
    const auto mesh = scene::restMesh(body, i, world);
    const glm::mat4 matrix = node.skin.valid() ? glm::mat4(1) : world[i.value()];
    for (const Primitive& p : mesh->primitives)
      for (size_t v = 0; v < p.positions.size(); ++v) {
        BodyVertex one;
        one.at = glm::vec3(matrix * glm::vec4(p.positions[v], 1));
        if (v < p.normals.size()) one.normal = glm::mat3(glm::transpose(glm::inverse(matrix))) * p.normals[v];
        if (node.skin.valid() && v < p.joints.size() && v < p.weights.size())
          for (int k = 0; k < 4; ++k) {
            const auto& joints = body.skins[node.skin.value()].joints;
            if (p.weights[v][k] > 0 && p.joints[v][k] < joints.size())
              one.weights.emplace_back(body.node(joints[p.joints[v][k]]).name, p.weights[v][k]);
          }
        out.emplace(one.at, std::move(one));
      }
  }
  return out;
}

// Gives a vertex the body's weights, when the skin has all of those bones.
void takeWeights(const Model& model, scene::SkinIndex skin, const BodyVertex& from, Primitive& p, size_t v) {
  if (!skin.valid() || v >= p.joints.size() || v >= p.weights.size() || from.weights.empty()) return;
  const auto& joints = model.skins[skin.value()].joints;
  glm::u16vec4 bones(0);
  glm::vec4 weights(0);
  for (size_t k = 0; k < from.weights.size() && k < 4; ++k) {
    const auto found = std::find_if(joints.begin(), joints.end(),
                                    [&](NodeIndex j) { return model.node(j).name == from.weights[k].first; });
    if (found == joints.end()) return;
    bones[static_cast<int>(k)] = static_cast<uint16_t>(found - joints.begin());
    weights[static_cast<int>(k)] = from.weights[k].second;
  }
  p.joints[v] = bones;
  p.weights[v] = weights;
  if (v < p.more_weights.size()) p.more_weights[v] = glm::vec4(0);
}

StepOutcome applyLikeFirst(Model& model, const base::Json&, const StepContext& context) {
  StepOutcome out;
  if (context.like == nullptr) {
    out.did = base::phrase("this is the first");
    return out;
  }
  const scene::VariantReport report = scene::compareVariants(*context.like, model);
  if (report.same) {
    out.did = base::phrase("in order");
    return out;
  }
  if (!report.only_order)
    return missed(base::phrase("This size differs from the first in more than the order of its vertices."));
  scene::orderLike(model, *context.like, report);
  out.did = base::countText(report.vertices[1], "vertex", "vertices");
  return out;
}

// Where each place of the outfit's borders goes: by part and position.
using SeamGoals =
    std::map<std::pair<uint32_t, glm::vec3>, const BodyVertex*, decltype([](const auto& a, const auto& b) {
               return a.first != b.first ? a.first < b.first : PlaceLess()(a.second, b.second);
             })>;

struct SnapPlan {
  SeamGoals goals;
  uint64_t moved = 0, far = 0, closed = 0;  // places, places, seams
};

// Each place of the outfit's borders goes to the nearest of the border it is paired with.
SnapPlan planSnap(const scene::SeamReport& report, const std::map<glm::vec3, BodyVertex, PlaceLess>& body,
                  double most_mm) {
  SnapPlan out;
  for (const scene::SeamPair& pair : report.seams.pairs) {
    const auto part = static_cast<uint32_t>(report.outfit[pair.outfit].part.value());
    const auto& places = report.body[pair.body].places_m;
    bool any = false;
    for (const glm::vec3& p : report.outfit[pair.outfit].places_m) {
      const glm::vec3 to = *std::min_element(places.begin(), places.end(), [&](glm::vec3 a, glm::vec3 b) {
        return glm::distance(p, a) < glm::distance(p, b);
      });
      if (static_cast<double>(glm::distance(p, to)) * 1000 > most_mm) {
        ++out.far;
        continue;
      }
      const auto at = body.find(to);
      if (at == body.end()) continue;
      out.goals[{part, p}] = &at->second;
      any = true;
      out.moved += to == p ? 0 : 1;
    }
    out.closed += any ? 1 : 0;
  }
  return out;
}

// The mesh of `part` with its border at the goals, weights and normals as there; null where none of it moves.
std::shared_ptr<const scene::Mesh> snapped(Model& model, NodeIndex part, const SeamGoals& goals,
                                           const std::vector<glm::mat4>& world) {
  const scene::WholeMesh placed = scene::placedMesh(model, part, world);
  const scene::Standing standing(model, part, world);
  scene::Mesh mesh = model.mesh(model.node(part).mesh);
  bool any = false;
  for (size_t k = 0; k < mesh.primitives.size(); ++k) {
    Primitive& p = mesh.primitives[k];
    for (size_t v = 0; v < p.positions.size(); ++v) {
      const auto found =
          goals.find({static_cast<uint32_t>(part.value()), placed.positions[placed.first_vertex[k] + v]});
      if (found == goals.end()) continue;
      const BodyVertex& to = *found->second;
      takeWeights(model, model.node(part).skin, to, p, v);
      // Back from where its bones, the new ones by now, put it at rest.
      const glm::mat4 put = standing.of(p, v);
      p.positions[v] = glm::vec3(glm::inverse(put) * glm::vec4(to.at, 1));
      if (v < p.normals.size() && glm::length(to.normal) > 0)
        p.normals[v] = glm::normalize(glm::transpose(glm::mat3(put)) * to.normal);
      any = true;
    }
  }
  return any ? std::make_shared<const scene::Mesh>(std::move(mesh)) : nullptr;
}

StepOutcome applySnapSeam(Model& model, const base::Json& values, const StepContext& context) {
  const auto found = gameBody(*context.book, base::textOf(values, "kind"));
  if (!found) return wrongValues(found.error().message);
  const scene::SeamReport report = scene::seamsBetween(model, **found);
  if (report.seams.pairs.empty())
    return missed(base::phrase("No border of the model lies at one of the body's."));
  const auto body = bodyVertices(**found);
  const SnapPlan plan = planSnap(report, body, numberValue(values, "most_mm", 30));
  const auto world = scene::worldMatrices(model);
  for (const NodeIndex i : scene::reachedNodes(model)) {
    if (!model.node(i).mesh.valid()) continue;
    auto mesh = snapped(model, i, plan.goals, world);
    if (mesh == nullptr) continue;
    model.node(i).mesh = scene::MeshIndex(model.meshes.size());
    model.meshes.push_back(std::move(mesh));
  }
  StepOutcome out;
  out.did = plan.moved == 0 ? base::phrase("none open")
                            : base::countText(plan.closed, "seam", "seams") + ", " +
                                  base::countText(plan.moved, "vertex", "vertices");
  if (plan.far > 0) {
    out.state = StepState::partly;
    out.misses.push_back(
        base::phrase("{0} farther off than that.", base::countText(plan.far, "vertex lies", "vertices lie")));
  }
  return out;
}

}  // namespace

std::vector<StepKind> outfitSteps() {
  return {
      {"like_first",
       "Order sizes alike",
       StepGroup::surface,
       46,
       "In every other size, put vertices in the order of the first",
       {},
       applyLikeFirst,
       "",
       true},
      {"snap_seam",
       "Close seams",
       StepGroup::surface,
       47,
       "Close the seams to {kind} where they gape no more than {most_mm} mm",
       {referenceParameter("kind", "kind", ParameterType::body_kind),
        numberParameter("most_mm", "gap", 30).above(0, 1e6).in("mm")},
       applySnapSeam,
       "Borders paired with the body's are put onto them."},
  };
}

}  // namespace rakugo::prepare
