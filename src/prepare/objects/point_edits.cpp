#include "prepare/objects/point_edits.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::prepare {
namespace {

base::Error unknownPoint(const std::string& point) {
  return {"point.unknown",
          base::phrase("The model has no attachment point \"{0}\".", base::presentable(point, 60)),
          {},
          base::phrase("Name one that is placed, or place it first.")};
}

void putPlace(mod::PointDoc& point, const PiecePlace& place) {
  point.position_m = place.position_m;
  point.turn = place.turn;
}

void standAlone(mod::ModelDoc& model, const std::string& point) {
  for (mod::PointDoc& one : model.points)
    if (one.id == point || one.pair == point) one.pair.clear();
}

double rounded(float value, double per_unit) {
  // As doubles, so that the file reads 1.234 and not 1.23399996; no zero with a sign.
  return std::round(static_cast<double>(value) * per_unit) / per_unit + 0.0;
}

}  // namespace

const mod::PointDoc* findPoint(const mod::ModelDoc& model, const std::string& point) {
  const auto found = std::find_if(model.points.begin(), model.points.end(),
                                  [&](const mod::PointDoc& one) { return one.id == point; });
  return found != model.points.end() ? &*found : nullptr;
}

mod::PointDoc* findPoint(mod::ModelDoc& model, const std::string& point) {
  return const_cast<mod::PointDoc*>(findPoint(std::as_const(model), point));
}

PiecePlace placeOf(const mod::PointDoc& point) { return {point.position_m, point.turn}; }

void placePoint(mod::ModelDoc& model, const std::string& point, const PiecePlace& place,
                const glm::vec3& side) {
  mod::PointDoc* found = findPoint(model, point);
  if (found == nullptr) {
    model.points.emplace_back();
    found = &model.points.back();
    found->id = point;
  }
  putPlace(*found, place);
  if (found->pair.empty() || found->pair == point) return;
  if (mod::PointDoc* other = findPoint(model, found->pair); other != nullptr && other->pair == point)
    putPlace(*other, mirrored(place, side));
}

void putPoints(mod::ModelDoc& model, const std::vector<scene::NamedPlace>& points, const glm::vec3& side) {
  for (const scene::NamedPlace& one : points) {
    PiecePlace place;
    for (size_t i = 0; i < 3; ++i) place.position_m[i] = rounded(one.position[static_cast<int>(i)], 1e3);
    place.turn = {rounded(one.turn.x, 1e6), rounded(one.turn.y, 1e6), rounded(one.turn.z, 1e6),
                  rounded(one.turn.w, 1e6)};
    placePoint(model, one.name, place, side);
  }
}

base::Status removePoint(mod::ModelDoc& model, const std::string& point) {
  if (findPoint(model, point) == nullptr) return unknownPoint(point);
  standAlone(model, point);
  std::erase_if(model.points, [&](const mod::PointDoc& one) { return one.id == point; });
  return {};
}

base::Status pairPoints(mod::ModelDoc& model, const std::string& point, const std::string& other,
                        const glm::vec3& side) {
  if (findPoint(model, point) == nullptr) return unknownPoint(point);
  if (point == other)
    return base::Error{"point.pair",
                       base::phrase("{0} cannot be its own mirror image.", base::presentable(point, 60)),
                       {},
                       base::phrase("Name another point.")};
  standAlone(model, point);
  if (other.empty()) return {};
  standAlone(model, other);
  const PiecePlace place = placeOf(*findPoint(model, point));
  placePoint(model, other, mirrored(place, side), side);
  findPoint(model, other)->pair = point;
  findPoint(model, point)->pair = other;
  return {};
}

std::string freePointId(const mod::ModelDoc& model, const rulebook::Point& point) {
  const bool plain = findPoint(model, point.id) != nullptr;
  if (point.most <= 1) return plain ? std::string() : point.id;
  int64_t count = plain ? 1 : 0, free = 0;
  for (int64_t n = 1; n <= point.most; ++n)
    if (findPoint(model, point.id + "-" + std::to_string(n)) != nullptr)
      ++count;
    else if (free == 0)
      free = n;
  return free == 0 || count >= point.most ? std::string() : point.id + "-" + std::to_string(free);
}

std::string pointTitle(const rulebook::Kind* kind, const std::string& point) {
  const rulebook::Point* known = kind != nullptr ? kind->findPoint(point) : nullptr;
  if (known == nullptr) return point;
  return known->id == point ? known->title : known->title + " " + point.substr(known->id.size() + 1);
}

}  // namespace rakugo::prepare
