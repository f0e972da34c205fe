#include "packing/delivery/object_values.h"

#include <fmt/format.h>

#include <cmath>
#include <set>

#include "base/text.h"
#include "packing/game_values.h"
#include "prepare/edit_steps.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/piece_values.h"
#include "prepare/parts/pieces.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::packing {
namespace {

using base::Json;

// The shortest number that means it to six digits.
double brief(double value) {
  if (!std::isfinite(value)) return 0;
  const double out = std::stod(fmt::format("{:.6g}", value));
  return std::abs(out) < 1e-6 ? 0 : out;
}

template <class V>
Json listOf(const V& v, int count = 3) {
  Json out = Json::array();
  for (int i = 0; i < count; ++i) out.push_back(brief(static_cast<double>(v[i])));
  return out;
}

class ObjectTeller {
 public:
  ObjectTeller(const check::Examination& x, const std::string& name, const mod::ObjectDoc& doc)
      : x_(x),
        book_(*x.book),
        name_(name),
        doc_(doc),
        kind_(x.book->findKind(doc.kind)),
        space_(*x.book),
        axes_(prepare::gameAxes(*x.book)) {}

  Json all(size_t number) const {
    return {{"object", object(number)}, {"card", card()},     {"points", points()},
            {"pieces", pieces()},       {"models", models()}, {"lists", lists()}};
  }

  Json object(size_t number) const {
    return {{"id", base::slug(name_)},
            {"title", doc_.title},
            {"kind", doc_.kind},
            {"replaces", doc_.replaces},
            {"number", number}};
  }

 private:
  // What fields refer to is called by its id in a delivery.
  static NameInPackage ids() {
    return [](const mod::NamedThing& named) { return base::slug(named.name); };
  }

  Json card() const {
    Json out = Json::object();
    if (kind_ == nullptr) return out;
    const Json given = gameValues(kind_->fields, doc_.card, ids());
    for (const rulebook::Field& field : kind_->fields) {
      const Json* value = base::memberOf(given, field.id.c_str());
      out[field.id] = value != nullptr ? *value : Json();
    }
    return out;
  }

  // Where something stands in the object.
  void place(const glm::mat4& at, Json& out) const {
    bool exact = true;
    const scene::Placement place = scene::placementOf(at, exact);
    const glm::quat turn = space_.turn(place.turn);
    out["position"] = listOf(space_.position(place.position));
    out["turn"] = listOf(turn, 4);
    out["forward"] = listOf(space_.direction(place.turn * axes_.forward));
    out["up"] = listOf(space_.direction(place.turn * axes_.up));
    out["angles"] = listOf(prepare::anglesOf(axes_, place.turn));
  }

  Json points() const {
    Json out = Json::object();
    if (kind_ == nullptr) return out;
    for (const rulebook::Point& point : kind_->points) out[point.id] = Json::array();
    for (const mod::PieceDoc& piece : doc_.pieces) {
      const auto model = piece.isModel() ? x_.mod->models.find(piece.model) : x_.mod->models.end();
      if (model == x_.mod->models.end() || prepare::apartRoot(book_, doc_, piece) != nullptr) continue;
      const glm::mat4 at = prepare::placeInObject(doc_, piece);
      for (const mod::PointDoc& point : model->second.points) {
        const rulebook::Point* sort = kind_->findPoint(point.id);
        if (sort == nullptr) continue;
        scene::Placement own;
        own.position = {point.position_m[0], point.position_m[1], point.position_m[2]};
        own.turn = glm::quat(static_cast<float>(point.turn[3]), static_cast<float>(point.turn[0]),
                             static_cast<float>(point.turn[1]), static_cast<float>(point.turn[2]));
        const glm::mat4 there = at * own.matrix();
        Json one{{"id", point.id}};
        place(there, one);
        const float aside = glm::dot(glm::vec3(there[3]), axes_.side);
        one["side"] = aside > 1e-4F ? "left" : aside < -1e-4F ? "right" : "middle";
        out[sort->id].push_back(std::move(one));
      }
    }
    return out;
  }

  Json pieces() const {
    Json out = Json::array();
    for (const mod::PieceDoc& piece : doc_.pieces) {
      Json one{{"name", piece.name},
               {"as", kind_ != nullptr && !piece.as.empty() ? kind_->pieceWord(piece.as) : piece.as},
               {"sort", piece.isModel() ? std::string("model") : piece.sort},
               {"model", piece.isModel() ? base::slug(piece.model) : std::string()},
               {"on", piece.parent},
               {"number", out.size() + 1}};
      place(prepare::placeWhereShown(book_, doc_, piece), one);
      one["scale"] = brief(prepare::scaleInObject(doc_, piece));
      Json values = Json::object();
      for (const rulebook::Field& field : prepare::fieldsOfPiece(book_, doc_, piece))
        values[field.id] = gameValue(&field, prepare::valueOf(piece, field), ids());
      one["values"] = std::move(values);
      out.push_back(std::move(one));
    }
    return out;
  }

  Json models() const {
    Json out = Json::array();
    std::set<std::string> told;
    for (const mod::PieceDoc& piece : doc_.pieces) {
      if (!piece.isModel() || !told.insert(piece.model).second) continue;
      const auto state = x_.context.models.find(piece.model);
      if (state == x_.context.models.end() || !state->second.prepared.model) continue;
      out.push_back(model(piece, state->second));
    }
    return out;
  }

  Json model(const mod::PieceDoc& piece, const check::ModelState& state) const {
    const scene::Model& model = *state.prepared.model;
    const scene::Counts counts = scene::countsOf(model);
    // Mirrored coordinates swap the ends of the box.
    const glm::vec3 a = space_.position(state.box_m.min), b = space_.position(state.box_m.max);
    Json out{{"id", base::slug(piece.model)},
             {"as", kind_ != nullptr && !piece.as.empty() ? kind_->pieceWord(piece.as) : piece.as},
             {"min", listOf(glm::min(a, b))},
             {"max", listOf(glm::max(a, b))},
             {"size", listOf(glm::abs(b - a))},
             {"triangles", counts.triangles},
             {"vertices", counts.vertices},
             {"parts", Json::array()},
             {"materials", Json::array()}};
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      const scene::Node& node = model.node(i);
      if (node.mesh.valid())
        out["parts"].push_back(
            Json{{"id", base::slug(node.name)}, {"name", node.name}, {"region", node.region}});
    }
    for (const scene::Material& m : model.materials)
      out["materials"].push_back(
          Json{{"id", base::slug(m.name)},
               {"name", m.name},
               {"role", !m.role.empty() && state.kind != nullptr ? state.kind->roleWord(m.role) : m.role},
               {"color", listOf(m.base_color, 4)}});
    return out;
  }

  Json lists() const {
    Json out = Json::object();
    for (const rulebook::GameList& list : book_.lists) out[list.id] = Json::array();
    for (const mod::ListEntry& entry : doc_.lists)
      if (const rulebook::GameList* list = book_.findList(entry.list))
        out[list->id].push_back(gameValues(list->fields, entry.values, ids()));
    return out;
  }

  const check::Examination& x_;
  const rulebook::Rulebook& book_;
  const std::string& name_;
  const mod::ObjectDoc& doc_;
  const rulebook::Kind* kind_;
  GameSpace space_;
  prepare::GameAxes axes_;
};

}  // namespace

Json modValues(const check::Examination& x, const std::string& target) {
  const mod::ModCard& card = x.mod->card;
  Json out{{"mod",
            {{"id", card.id},
             {"title", card.title},
             {"author", card.author},
             {"version", card.version},
             {"description", card.description}}},
           {"game",
            {{"id", x.book->id}, {"title", x.book->title}, {"version", x.book->version}, {"target", target}}},
           {"objects", Json::array()}};
  for (const auto& [name, doc] : x.mod->objects)
    out["objects"].push_back(ObjectTeller(x, name, doc).object(out["objects"].size() + 1));
  return out;
}

Json objectValues(const check::Examination& x, const std::string& object) {
  size_t number = 0;
  for (const auto& [name, doc] : x.mod->objects) {
    ++number;
    if (name == object) return ObjectTeller(x, name, doc).all(number);
  }
  return Json::object();
}

}  // namespace rakugo::packing
