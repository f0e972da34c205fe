#include "prepare/objects/donor.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/moved_box.h"
#include "mod/piece_tree.h"
#include "mod/references.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/piece_values.h"
#include "prepare/objects/point_edits.h"
#include "prepare/objects/thing_names.h"
#include "prepare/parts/pieces.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::prepare {
namespace {

using base::Json;

const mod::ObjectDoc* objectOf(const DonorSide& side) {
  const auto found = side.mod.objects.find(side.object);
  return found != side.mod.objects.end() ? &found->second : nullptr;
}

const mod::ModelDoc* modelOf(const DonorSide& side) {
  const mod::ObjectDoc* object = objectOf(side);
  const mod::PieceDoc* first = object != nullptr ? mod::firstModelPiece(*object) : nullptr;
  const auto model = first != nullptr ? side.mod.models.find(first->model) : side.mod.models.end();
  return model != side.mod.models.end() ? &model->second : nullptr;
}

const mod::PointDoc* pointOf(const mod::ModelDoc* model, const std::string& id) {
  if (model == nullptr) return nullptr;
  for (const mod::PointDoc& point : model->points)
    if (point.id == id) return &point;
  return nullptr;
}

std::string wordsOf(const rulebook::Field& field, const Json& value) {
  if (value.is_string()) return base::presentable(value.get<std::string>(), 60);
  if (value.is_boolean()) return value.get<bool>() ? base::phrase("yes") : base::phrase("no");
  if (value.is_number())
    return base::numberText(value.get<double>()) + (field.unit.empty() ? "" : " " + field.unit);
  return base::presentable(base::jsonLine(value), 60);
}

std::string placeText(const glm::dvec3& at) {
  return base::phrase("{0}, {1}, {2} m", base::numberText(at.x, 2), base::numberText(at.y, 2),
                      base::numberText(at.z, 2));
}

glm::dvec3 vectorOf(const std::array<double, 3>& v) { return {v[0], v[1], v[2]}; }

// Whether all that a value names is there for the one who takes it.
bool namesKnown(const rulebook::Rulebook& book, const mod::ModState& mod, const rulebook::Field& field,
                const Json& value) {
  bool good = true;
  eachReferenceOf(field, value, [&](const rulebook::Field& cell, int, const std::string& named) {
    good = good && !referenceFault(book, mod, cell, named);
  });
  return good;
}
bool namesKnown(const rulebook::Rulebook& book, const mod::ModState& mod,
                const std::vector<rulebook::Field>& fields, const Json& values) {
  return std::all_of(fields.begin(), fields.end(), [&](const rulebook::Field& field) {
    const Json* value = base::memberOf(values, field.id.c_str());
    return value == nullptr || namesKnown(book, mod, field, *value);
  });
}

// What the pieces' boxes are in their objects: the model's box where its first piece stands.
geometry::Bounds boxInObject(const DonorSide& side) {
  const mod::ObjectDoc* object = objectOf(side);
  const mod::PieceDoc* first = object != nullptr ? mod::firstModelPiece(*object) : nullptr;
  return first != nullptr ? geometry::movedBox(side.body.box_m, placeInObject(*object, *first))
                          : geometry::Bounds();
}

void offerFields(const rulebook::Rulebook& book, const DonorSide& taker, const rulebook::Kind& kind,
                 const mod::ObjectDoc& theirs, const mod::ObjectDoc& ours, std::vector<DonorOffer>& out) {
  for (const rulebook::Field& field : kind.fields) {
    const Json *there = base::memberOf(theirs.card, field.id.c_str()),
               *here = base::memberOf(ours.card, field.id.c_str());
    if (there == nullptr || !namesKnown(book, taker.mod, field, *there)) continue;
    out.push_back({SetUp::field, field.id, field.title, wordsOf(field, *there),
                   here != nullptr ? wordsOf(field, *here) : std::string()});
  }
}

const DonorMaterial* materialOf(const DonorBody& body, const std::string& name) {
  for (const DonorMaterial& one : body.materials)
    if (base::lowerAscii(one.name) == base::lowerAscii(name)) return &one;
  return nullptr;
}

// Of materials that are called alike on both sides.
void offerRoles(const rulebook::Kind& kind, const DonorSide& taker, const DonorSide& donor,
                std::vector<DonorOffer>& out) {
  const auto title = [&](const std::string& id) {
    const rulebook::Role* role = kind.findRole(id);
    return role != nullptr ? role->title : id;
  };
  std::set<std::string> offered;
  for (const DonorMaterial& there : donor.body.materials) {
    if (kind.findRole(there.role) == nullptr) continue;
    const DonorMaterial* here = materialOf(taker.body, there.name);
    if (here == nullptr || !offered.insert(here->name).second) continue;
    out.push_back({SetUp::role, here->name, base::phrase("{0}, its role", here->name), title(there.role),
                   here->role.empty() ? std::string() : title(here->role)});
  }
}

void offerPoints(const rulebook::Kind& kind, const DonorSide& taker, const DonorSide& donor,
                 std::vector<DonorOffer>& out) {
  const mod::ModelDoc *theirs = modelOf(donor), *ours = modelOf(taker);
  if (theirs == nullptr || ours == nullptr) return;
  for (const mod::PointDoc& point : theirs->points) {
    const rulebook::Point* known = kind.findPoint(point.id);
    if (known == nullptr) continue;
    const mod::PointDoc* here = pointOf(ours, point.id);
    const std::string title = known->id == point.id ? known->title : known->title + " " + point.id;
    out.push_back({SetUp::point, point.id, title,
                   placeText(carriedOver(vectorOf(point.position_m), donor.body.box_m, taker.body.box_m)),
                   here != nullptr ? placeText(vectorOf(here->position_m)) : std::string()});
  }
}

// "Berth slipway, From day 1", by the fields that there are.
std::string valuesText(const std::vector<rulebook::Field>& fields, const Json& values) {
  std::string out;
  for (const rulebook::Field& field : fields)
    if (const Json* value = base::memberOf(values, field.id.c_str()))
      out += (out.empty() ? "" : ", ") + field.title + " " + wordsOf(field, *value);
  return out;
}

std::string entriesText(const mod::ObjectDoc& object, const rulebook::GameList& list) {
  std::string out;
  for (const mod::ListEntry& one : object.lists)
    if (one.list == list.id) out += (out.empty() ? "" : "; ") + valuesText(list.fields, one.values);
  return base::presentable(out, 200);
}

void offerLists(const rulebook::Rulebook& book, const DonorSide& taker, const mod::ObjectDoc& theirs,
                const mod::ObjectDoc& ours, std::vector<DonorOffer>& out) {
  for (const rulebook::GameList& list : book.lists) {
    if (!list.takes(ours.kind)) continue;
    bool any = false, known = true;
    for (const mod::ListEntry& one : theirs.lists)
      if (one.list == list.id)
        any = true, known = known && namesKnown(book, taker.mod, list.fields, one.values);
    if (any && known)
      out.push_back({SetUp::entry, list.id, list.title, entriesText(theirs, list), entriesText(ours, list)});
  }
}

std::string pieceText(const mod::ObjectDoc& object, const mod::PieceDoc& piece,
                      const std::vector<rulebook::Field>& fields) {
  const std::string values = valuesText(fields, piece.values);
  return placeText(vectorOf(objectPlace(object, piece).position_m)) +
         (values.empty() ? "" : ", " + base::presentable(values, 200));
}

void offerPieces(const rulebook::Rulebook& book, const rulebook::Kind& kind, const DonorSide& taker,
                 const mod::ObjectDoc& theirs, const mod::ObjectDoc& ours, std::vector<DonorOffer>& out) {
  for (const mod::PieceDoc& piece : theirs.pieces) {
    const auto sort = rulebook::pieceSortFrom(piece.sort);
    const rulebook::PieceRule* rule = kind.findPiece(piece.as);
    if (!sort || rule == nullptr || rule->sort != *sort) continue;
    if (!namesKnown(book, taker.mod, rule->fields, piece.values)) continue;
    const mod::PieceDoc* here = mod::findPiece(ours, piece.name);
    out.push_back({SetUp::piece, piece.name,
                   base::phrase("{0} ({1})", piece.name, base::lowerAscii(rule->title)),
                   pieceText(theirs, piece, rule->fields),
                   here != nullptr ? pieceText(ours, *here, rule->fields) : std::string()});
  }
}

bool isChosen(const std::vector<DonorOffer>& chosen, SetUp sort, const std::string& id) {
  return std::any_of(chosen.begin(), chosen.end(),
                     [&](const DonorOffer& one) { return one.sort == sort && one.id == id; });
}

// Lengths of a shape along the axes grow as the box does.
void scaleShape(const rulebook::Rulebook& book, const geometry::Bounds& from, const geometry::Bounds& to,
                mod::PieceDoc& piece) {
  if (from.empty() || to.empty()) return;
  const GameAxes axes = gameAxes(book);
  const glm::vec3 a = from.size(), b = to.size();
  const std::array<std::pair<const char*, glm::vec3>, 3> along = {
      {{"length_m", axes.forward}, {"width_m", axes.side}, {"height_m", axes.up}}};
  for (const auto& [id, axis] : along) {
    const auto value = piece.values.find(id);
    if (value == piece.values.end() || !value->is_number()) continue;
    const auto before = static_cast<double>(glm::dot(glm::abs(axis), a)),
               after = static_cast<double>(glm::dot(glm::abs(axis), b));
    if (before > 1e-9) *value = std::round(value->get<double>() * after / before * 1e4) / 1e4;
  }
}

void takePieces(mod::ObjectDoc& ours, const rulebook::Rulebook& book, const DonorSide& taker,
                const DonorSide& donor, const std::vector<DonorOffer>& chosen) {
  const mod::ObjectDoc& theirs = *objectOf(donor);
  const geometry::Bounds from = boxInObject(donor), to = boxInObject(taker);
  for (const mod::PieceDoc& piece : theirs.pieces) {
    if (!isChosen(chosen, SetUp::piece, piece.name)) continue;
    mod::PieceDoc next = piece;
    const PiecePlace place = objectPlace(theirs, piece);
    const glm::dvec3 at = carriedOver(vectorOf(place.position_m), from, to);
    next.parent.clear();
    next.position_m = {at.x, at.y, at.z};
    next.turn = place.turn;
    next.scale = 1;
    if (!isChosen(chosen, SetUp::piece, piece.pair)) next.pair.clear();
    if (rulebook::pieceSortFrom(piece.sort) == rulebook::PieceSort::shape) scaleShape(book, from, to, next);
    mod::PieceDoc* here = mod::findPiece(ours, piece.name);
    // What had it for a pair stands alone, unless it is replaced too.
    if (here != nullptr && !here->pair.empty() && here->pair != next.pair)
      if (mod::PieceDoc* other = mod::findPiece(ours, here->pair)) other->pair.clear();
    if (here == nullptr)
      ours.pieces.push_back(std::move(next));
    else if (!here->isModel())
      *here = std::move(next);
  }
}

}  // namespace

const char* setUpName(SetUp sort) {
  static constexpr const char* kNames[] = {"field", "role", "point", "list", "piece"};
  return kNames[static_cast<size_t>(sort)];
}

DonorBody donorBodyOf(const scene::Model& prepared) {
  DonorBody out;
  out.box_m = scene::boundsOf(prepared);
  for (const scene::MaterialIndex i : scene::usedMaterials(prepared)) {
    const scene::Material& material = prepared.materials[i.value()];
    out.materials.push_back({material.key, material.name, material.role});
  }
  return out;
}

glm::dvec3 carriedOver(const glm::dvec3& place, const geometry::Bounds& from, const geometry::Bounds& to) {
  if (from.empty() || to.empty()) return place;
  glm::dvec3 out = place;
  for (int i = 0; i < 3; ++i) {
    const auto a = static_cast<double>(from.min[i]), b = static_cast<double>(from.max[i]),
               c = static_cast<double>(to.min[i]), d = static_cast<double>(to.max[i]);
    out[i] = b - a > 1e-6 ? c + (place[i] - a) / (b - a) * (d - c) : place[i] - (a + b) / 2 + (c + d) / 2;
    out[i] = std::round(out[i] * 1e6) / 1e6 + 0.0;
  }
  return out;
}

std::vector<DonorOffer> donorOffers(const rulebook::Rulebook& book, const DonorSide& taker,
                                    const DonorSide& donor) {
  std::vector<DonorOffer> out;
  const mod::ObjectDoc *theirs = objectOf(donor), *ours = objectOf(taker);
  if (theirs == nullptr || ours == nullptr) return out;
  const rulebook::Kind* kind = book.findKind(ours->kind);
  if (kind == nullptr) return out;
  offerFields(book, taker, *kind, *theirs, *ours, out);
  offerRoles(*kind, taker, donor, out);
  offerPoints(*kind, taker, donor, out);
  offerLists(book, taker, *theirs, *ours, out);
  offerPieces(book, *kind, taker, *theirs, *ours, out);
  return out;
}

base::Status takeSetUp(mod::ModState& mod, const rulebook::Rulebook& book, const DonorSide& taker,
                       const DonorSide& donor, const std::vector<DonorOffer>& chosen) {
  const mod::ObjectDoc* theirs = objectOf(donor);
  const auto ours = mod.objects.find(taker.object);
  if (theirs == nullptr || ours == mod.objects.end())
    return base::Error{
        "mod.no_object",
        base::phrase("There is no object {0}.", theirs == nullptr ? donor.object : taker.object),
        {},
        {}};
  mod::ObjectDoc next = ours->second;
  for (const DonorOffer& one : chosen) {
    if (one.sort == SetUp::field && theirs->card.contains(one.id)) next.card[one.id] = theirs->card[one.id];
    if (one.sort == SetUp::entry) {
      std::erase_if(next.lists, [&](const mod::ListEntry& entry) { return entry.list == one.id; });
      for (const mod::ListEntry& entry : theirs->lists)
        if (entry.list == one.id) next.lists.push_back(entry);
    }
  }
  takePieces(next, book, taker, donor, chosen);
  const mod::PieceDoc* first = mod::firstModelPiece(next);
  const mod::ModelDoc* from = modelOf(donor);
  if (first != nullptr && mod.models.count(first->model) != 0)
    for (const DonorMaterial& here : taker.body.materials) {
      const DonorMaterial* there = materialOf(donor.body, here.name);
      if (there != nullptr && there->role != here.role && isChosen(chosen, SetUp::role, here.name))
        setRole(mod.models[first->model], here.key, there->role);
    }
  const bool points = std::any_of(chosen.begin(), chosen.end(),
                                  [](const DonorOffer& one) { return one.sort == SetUp::point; });
  if (points && (first == nullptr || from == nullptr || mod.models.count(first->model) == 0))
    return base::Error{"donor.no_model",
                       base::phrase("Points are of a model, and {0} has none.", taker.object),
                       {},
                       base::phrase("Give it a model first.")};
  if (points) {
    const std::vector<mod::PointDoc> there = from->points;
    mod::ModelDoc& model = mod.models[first->model];
    for (const mod::PointDoc& point : there) {
      if (!isChosen(chosen, SetUp::point, point.id)) continue;
      const glm::dvec3 at = carriedOver(vectorOf(point.position_m), donor.body.box_m, taker.body.box_m);
      placePoint(model, point.id, {{at.x, at.y, at.z}, point.turn}, book.side());
    }
    // Two that are a pair and both taken stay one.
    for (const mod::PointDoc& point : there)
      if (!point.pair.empty() && isChosen(chosen, SetUp::point, point.id) &&
          isChosen(chosen, SetUp::point, point.pair))
        RAKUGO_TRY(pairPoints(model, point.id, point.pair, book.side()));
  }
  mod.objects[taker.object] = std::move(next);
  return {};
}

}  // namespace rakugo::prepare
