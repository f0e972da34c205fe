#include "prepare/objects/snapping.h"

#include <cmath>

#include "base/phrase.h"
#include "geometry/moved_box.h"
#include "prepare/objects/point_edits.h"
#include "prepare/parts/pieces.h"

namespace rakugo::prepare {
namespace {

// Both ends and the middle of a box along a direction; its corners tell, so that it may be turned.
void addBox(const geometry::Bounds& box, const glm::dvec3& along, const std::string& name,
            std::vector<SnapTarget>& out) {
  if (box.empty()) return;
  const glm::dvec3 middle(box.center()), half(box.size() * 0.5F);
  const double at = glm::dot(middle, along), reach = glm::dot(half, glm::abs(along));
  out.push_back({at, base::phrase("the middle of {0}", name)});
  out.push_back({at - reach, base::phrase("the end of {0}", name)});
  out.push_back({at + reach, base::phrase("the end of {0}", name)});
}

}  // namespace

Snapped snapped(double at_m, std::span<const SnapTarget> targets, const SnapOptions& options) {
  Snapped out{at_m, {}};
  if (!std::isfinite(at_m)) return out;
  const SnapTarget* nearest = nullptr;
  for (const SnapTarget& one : targets)
    if (std::abs(one.at_m - at_m) < options.reach_m &&
        (nearest == nullptr || std::abs(one.at_m - at_m) < std::abs(nearest->at_m - at_m)))
      nearest = &one;
  if (nearest != nullptr) return {nearest->at_m, nearest->what};
  if (options.step_m > 0) out.at_m = std::round(at_m / options.step_m) * options.step_m + 0.0;
  return out;
}

std::vector<SnapTarget> levelsOf(const mod::ObjectDoc& object, const std::string& piece,
                                 const glm::dvec3& along, const ModelOf& model) {
  std::vector<SnapTarget> out = {{0, base::phrase("the origin")}};
  const mod::PieceDoc* moved = findPiece(object, piece);
  for (const mod::PieceDoc& one : object.pieces) {
    if (&one == moved || mod::hangsOn(object, one, piece)) continue;
    if (moved != nullptr && !moved->pair.empty() &&
        (one.name == moved->pair || mod::hangsOn(object, one, moved->pair)))
      continue;
    const glm::mat4 place = placeInObject(object, one);
    out.push_back({glm::dot(glm::dvec3(place[3]), along), one.name});
    const scene::Model* of = one.isModel() ? model(one.model) : nullptr;
    if (of != nullptr) addBox(geometry::movedBox(scene::boundsOf(*of), place), along, one.name, out);
  }
  return out;
}

std::vector<SnapTarget> levelsOf(const mod::ModelDoc& doc, const std::string& point, const glm::dvec3& along,
                                 const geometry::Bounds& box_m, const rulebook::Kind* kind) {
  std::vector<SnapTarget> out = {{0, base::phrase("the origin")}};
  const mod::PointDoc* moved = findPoint(doc, point);
  for (const mod::PointDoc& one : doc.points)
    if (&one != moved && (moved == nullptr || one.id != moved->pair))
      out.push_back({glm::dot(glm::dvec3(one.position_m[0], one.position_m[1], one.position_m[2]), along),
                     pointTitle(kind, one.id)});
  addBox(box_m, along, base::phrase("the model"), out);
  return out;
}

}  // namespace rakugo::prepare
