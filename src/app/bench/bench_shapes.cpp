#include "app/bench/bench_shapes.h"

#include <algorithm>
#include <map>

#include "mod/piece_tree.h"
#include "prepare/parts/pieces.h"

namespace rakugo::app {
namespace {

// Edges at which two triangles meet at more than a few degrees, or that have one alone.
std::vector<std::array<uint32_t, 2>> bentEdges(const prepare::ShapeMesh& mesh) {
  std::map<std::array<uint32_t, 2>, std::vector<glm::vec3>> sides;
  for (size_t t = 0; t + 2 < mesh.triangles.size(); t += 3) {
    const std::array<uint32_t, 3> at = {mesh.triangles[t], mesh.triangles[t + 1], mesh.triangles[t + 2]};
    const glm::vec3 n =
        glm::cross(mesh.corners[at[1]] - mesh.corners[at[0]], mesh.corners[at[2]] - mesh.corners[at[0]]);
    const float length = glm::length(n);
    for (size_t i = 0; i < 3; ++i) {
      const uint32_t a = at[i], b = at[(i + 1) % 3];
      sides[{std::min(a, b), std::max(a, b)}].push_back(length > 0 ? n / length : glm::vec3(0));
    }
  }
  std::vector<std::array<uint32_t, 2>> out;
  for (const auto& [edge, normals] : sides)
    if (normals.size() != 2 || glm::dot(normals[0], normals[1]) < 0.995F) out.push_back(edge);
  return out;
}

// The models under a shape, and where each lies in its space.
std::vector<std::pair<std::shared_ptr<const scene::Model>, glm::mat4>> under(const check::Examination& x,
                                                                             const mod::ObjectDoc& object,
                                                                             const mod::PieceDoc& shape) {
  const std::vector<const mod::PieceDoc*> carriers = mod::carriersOf(object, shape);
  const auto carrier =
      std::find_if(carriers.begin(), carriers.end(), [](const mod::PieceDoc* one) { return one->isModel(); });
  std::vector<std::pair<std::shared_ptr<const scene::Model>, glm::mat4>> out;
  const glm::mat4 back = glm::inverse(prepare::placeInObject(object, shape));
  for (const mod::PieceDoc& piece : object.pieces) {
    if (!piece.isModel() || (carrier != carriers.end() && *carrier != &piece)) continue;
    if (carrier == carriers.end() && prepare::apartRoot(*x.book, object, piece) != nullptr) continue;
    const auto state = x.context.models.find(piece.model);
    if (state != x.context.models.end() && state->second.prepared.model)
      out.emplace_back(state->second.prepared.model, back * prepare::placeInObject(object, piece));
  }
  return out;
}

const scene::Model* modelNamed(const check::Examination& x, const std::string& name) {
  const auto found = x.context.models.find(name);
  return found != x.context.models.end() ? found->second.prepared.model.get() : nullptr;
}

}  // namespace

std::shared_ptr<const BenchBody> benchBody(const check::Examination& x, const mod::ObjectDoc& object,
                                           const std::shared_ptr<const BenchBody>& known) {
  const prepare::BodyWeight weight = prepare::weightOnCard(*x.book, object);
  auto out = std::make_shared<BenchBody>();
  out->pieces = object.pieces;
  out->mass_kg = weight.mass_kg;
  for (const mod::PieceDoc& piece : object.pieces) {
    const auto found = x.context.models.find(piece.model);
    out->models.push_back(found != x.context.models.end() ? found->second.prepared.model : nullptr);
  }
  if (known && known->pieces == out->pieces && known->models == out->models && known->mass_kg == out->mass_kg)
    return known;
  const auto body = prepare::objectBody(
      object, *x.book, [&](const std::string& name) { return modelNamed(x, name); }, weight);
  if (!body) return nullptr;
  out->body = *body;
  return out;
}

std::shared_ptr<const BenchShape> benchShape(const check::Examination& x, const mod::ObjectDoc& object,
                                             const mod::PieceDoc& piece,
                                             const std::shared_ptr<const BenchShape>& known) {
  auto out = std::make_shared<BenchShape>();
  out->says = prepare::shapeValues(piece, prepare::fieldsOfPiece(*x.book, object, piece));
  out->under = under(x, object, piece);
  if (known && known->says == out->says && known->under == out->under) return known;
  const auto model_of = [&](const std::string& name) { return modelNamed(x, name); };
  const prepare::ShapeMesh model = prepare::modelUnderShape(*x.book, object, piece, model_of);
  out->mesh = prepare::shapeMesh(out->says, model, prepare::gameAxes(*x.book));
  if (out->mesh.empty()) return nullptr;
  out->edges = bentEdges(out->mesh);
  out->off = prepare::shapeOff(out->mesh, model, out->says.form != "mesh");
  return out;
}

}  // namespace rakugo::app
