#include "packing/unpack_object.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/pictures.h"
#include "packing/unpacked_model.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/text_ids.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::packing {
namespace {

using base::Json;
using bundle::ObjectPiece;

// The id of what the game calls by that word; the word itself where nothing is called so.
template <class List>
std::string idOf(const List& list, const std::string& word) {
  for (const auto& one : list)
    if ((one.word.empty() ? one.id : one.word) == word) return one.id;
  return word;
}

// To so many parts of one: what was written as 0.4 is read as 0.4.
Json round(double value, double parts) { return std::round(value * parts) / parts + 0.0; }

// The sRGB value of a linear one (IEC 61966-2-1), 0 to 1.
double srgbOf(float light) {
  const double c = std::clamp(static_cast<double>(light), 0.0, 1.0);
  return c <= 0.0031308 ? 12.92 * c : 1.055 * std::pow(c, 1 / 2.4) - 0.055;
}

Json colorJson(const std::array<float, 3>& linear) {
  Json out = Json::array();
  for (const float c : linear) out.push_back(round(srgbOf(c), 1e4));
  return out;
}

// As PNG. An icon that is no picture of ours is taken anew.
base::Bytes iconOf(const bundle::Bundle& bundle, const bundle::ObjectRecord& record) {
  const bundle::Entry* entry = record.icon.empty() ? nullptr : bundle.find(record.icon);
  const auto bytes = entry != nullptr ? bundle.read(*entry) : base::Result<base::Bytes>(base::Bytes());
  const auto picture = bytes ? formats::decodePicture(*bytes, record.icon) : bytes.error();
  return picture ? formats::encodePng(*picture) : base::Bytes();
}

constexpr size_t kMostPieces = 4096;

class ObjectUnpacker {
 public:
  ObjectUnpacker(const bundle::Bundle& bundle, const rulebook::Rulebook& book)
      : bundle_(bundle), book_(book), models_(bundle, book) {}

  base::Result<UnpackedObject> run(const std::string& id) {
    const bundle::Entry* entry = bundle_.find("object/" + id);
    if (entry == nullptr || entry->kind != bundle::EntryKind::object) return noObject(id);
    RAKUGO_ASSIGN(const base::Bytes bytes, bundle_.read(*entry));
    RAKUGO_ASSIGN(record_, bundle::decodeObject(bytes, entry->id));
    if (record_.pieces.size() + record_.shapes.size() > kMostPieces)
      return base::Error{"bundle.too_many",
                         base::phrase("{0} has {1}; no more than {2} are taken apart.", id,
                                      base::countText(record_.pieces.size(), "piece", "pieces"),
                                      base::groupedText(kMostPieces)),
                         base::Place{bundle_.name()},
                         {}};
    kind_ = book_.findKind(record_.kind);
    out_.object.kind = record_.kind;
    out_.object.title = record_.name;
    out_.object.card = values(kind_ != nullptr ? &kind_->fields : nullptr, record_.card);
    RAKUGO_TRY(addModels());
    for (const bundle::ObjectLamp& lamp : record_.lamps) addLamp(lamp);
    for (const bundle::ObjectEmitter& emitter : record_.emitters) addEmitter(emitter);
    addShapes();
    for (const bundle::ObjectSound& sound : record_.sounds) RAKUGO_TRY(addSound(sound));
    for (const bundle::ObjectMotion& motion : record_.motions) addMotion(motion);
    for (const bundle::ObjectListEntry& one : record_.lists) {
      const std::string list = idOf(book_.lists, one.list);
      const rulebook::GameList* known = book_.findList(list);
      out_.object.lists.push_back({list, values(known != nullptr ? &known->fields : nullptr, one.values)});
    }
    addTexts();
    out_.icon_png = iconOf(bundle_, record_);
    for (std::string& one : models_.lost()) out_.lost.push_back(std::move(one));
    return std::move(out_);
  }

 private:
  base::Error noObject(const std::string& id) const {
    std::vector<std::string> known;
    for (const ObjectInBundle& one : objectsIn(bundle_)) known.push_back(one.id);
    return {"bundle.no_object", base::phrase("The bundle has no object {0}.", base::presentable(id, 60)),
            base::Place{bundle_.name()},
            known.empty() ? base::phrase("It has none.")
                          : base::phrase("It has {0}.", base::listText(known, 12))};
  }

  // Values by the rulebook's ids. References to things of the bundle lead nowhere in a mod.
  Json values(const std::vector<rulebook::Field>* fields, const Json& said) {
    Json out = Json::object();
    for (const auto& [word, value] : said.items()) {
      const rulebook::Field* field = nullptr;
      if (fields != nullptr)
        for (const rulebook::Field& one : *fields)
          if ((one.word.empty() ? one.id : one.word) == word) field = &one;
      if (std::optional<Json> own = ownValue(field, value)) out[field != nullptr ? field->id : word] = *own;
    }
    return out;
  }

  std::optional<Json> ownValue(const rulebook::Field* field, const Json& value) {
    if (value.is_string()) {
      const std::string text = value.get<std::string>();
      if (text.starts_with("object/") && bundle_.find(text) != nullptr) {
        out_.lost.push_back(base::phrase("what it says of {0}, which stays in the bundle", text.substr(7)));
        return std::nullopt;
      }
      if (const auto source = soundSource(text)) return Json("sources/" + *source);
      return value;
    }
    if (!value.is_array()) return value;
    Json out = Json::array();
    for (const Json& row : value) {
      if (row.is_object())
        out.push_back(values(field != nullptr ? &field->columns : nullptr, row));
      else if (auto own = ownValue(nullptr, row))
        out.push_back(std::move(*own));
    }
    return out;
  }

  // The source that a sound of the bundle becomes; nothing for what is no sound of it.
  std::optional<std::string> soundSource(const std::string& id) {
    if (const auto known = sounds_.find(id); known != sounds_.end()) return known->second;
    const bundle::Entry* entry = bundle_.find(id);
    if (entry == nullptr || entry->kind != bundle::EntryKind::sound) return std::nullopt;
    auto bytes = bundle_.read(*entry);
    if (!bytes) return std::nullopt;
    const std::string stem = base::slug(id.substr(id.rfind('/') + 1));
    std::string name = stem;
    for (int n = 2; out_.sounds.count(name) != 0; ++n) name = stem + "-" + std::to_string(n);
    out_.sounds[name] = std::move(bytes).value();
    sounds_[id] = name;
    return name;
  }

  // Parts in groups, each of which is one piece: the main model's in one, of what is shown apart by what it
  // is, of others each by itself, as often as it is placed.
  base::Status addModels() {
    std::vector<const ObjectPiece*> main;
    std::map<std::string, std::vector<const ObjectPiece*>> apart;
    std::vector<const ObjectPiece*> others;
    for (const ObjectPiece& part : record_.pieces)
      (part.apart ? apart[part.as] : part.as.empty() ? main : others).push_back(&part);
    if (!main.empty()) RAKUGO_TRY(addModel(main, glm::mat4(1), {}, "main"));
    std::map<std::string, std::string> made;  // models by their mesh
    for (const ObjectPiece* part : others) {
      const std::string as = pieceId(part->as);
      auto known = made.find(part->mesh);
      if (known == made.end()) {
        std::string name = as;
        for (int n = 2; hasModel(name); ++n) name = as + "-" + std::to_string(n);
        RAKUGO_TRY(addModel({part}, glm::inverse(models_.placeOf(*part)), as, name));
        known = made.emplace(part->mesh, name).first;
        out_.object.pieces.pop_back();
      }
      addPiece(known->second, as, models_.placeOf(*part));
    }
    for (const auto& [word, parts] : apart) {
      const std::string as = pieceId(word);
      RAKUGO_TRY(addModel(parts, glm::mat4(1), as, as));
    }
    for (UnpackedModel& one : out_.models) {
      const std::string word = one.name == "main" ? std::string() : wordOfModel_[one.name];
      addPoints(word, one);
    }
    return {};
  }

  [[nodiscard]] bool hasModel(const std::string& name) const {
    return std::any_of(out_.models.begin(), out_.models.end(),
                       [&](const UnpackedModel& one) { return one.name == name; });
  }

  std::string pieceId(const std::string& word) const {
    if (kind_ == nullptr) return word;
    for (const rulebook::KindModel& one : kind_->models)
      if (kind_->pieceWord(one.id) == word) return one.id;
    return idOf(kind_->pieces, word);
  }

  void addPiece(const std::string& model, const std::string& as, const glm::mat4& place) {
    bool exact = true;
    const scene::Placement at = scene::placementOf(place, exact);
    mod::PieceDoc piece;
    piece.model = model;
    piece.as = as;
    piece.name = prepare::freePieceName(out_.object, model);
    for (int i = 0; i < 3; ++i)
      piece.position_m[static_cast<size_t>(i)] = round(static_cast<double>(at.position[i]), 1e6);
    piece.turn = {at.turn.x, at.turn.y, at.turn.z, at.turn.w};
    const double scale = static_cast<double>(at.scale.x + at.scale.y + at.scale.z) / 3;
    if (std::abs(scale - 1) > 1e-5) piece.scale = scale;
    out_.object.pieces.push_back(std::move(piece));
  }

  base::Status addModel(const std::vector<const ObjectPiece*>& parts, const glm::mat4& from_model,
                        const std::string& as, const std::string& name) {
    UnpackedModel made;
    made.name = name;
    RAKUGO_ASSIGN(made.model, models_.model(parts, from_model));
    const rulebook::KindModel* model = kind_ != nullptr ? kind_->findModel(as) : nullptr;
    const rulebook::Kind* rules = model != nullptr ? &model->kind() : kind_;
    for (scene::Material& material : made.model.materials) {
      if (material.role.empty()) continue;
      made.roles[material.key] = rules != nullptr ? idOf(rules->roles, material.role) : material.role;
    }
    if (rules != nullptr)
      for (scene::Node& node : made.model.nodes)
        if (!node.region.empty()) node.region = idOf(rules->regions, node.region);
    if (parts.front()->apart) wordOfModel_[name] = parts.front()->as;
    out_.models.push_back(std::move(made));
    addPiece(name, as, glm::inverse(from_model));
    return {};
  }

  // Points of the object are the main model's; those with a word are of what is shown apart.
  void addPoints(const std::string& word, UnpackedModel& into) {
    if (word.empty() && into.name != "main") return;
    const GameSpace& space = models_.space();
    for (const bundle::ObjectPoint& point : record_.points) {
      if (point.as != word) continue;
      const glm::vec3 at = space.direction({point.position[0], point.position[1], point.position[2]}) *
                           static_cast<float>(space.unit_m);
      const glm::quat turn =
          space.turn(glm::quat(point.turn[3], point.turn[0], point.turn[1], point.turn[2]));
      mod::PointDoc made;
      made.id = kind_ != nullptr ? idOf(kind_->points, point.name) : point.name;
      for (int i = 0; i < 3; ++i)
        made.position_m[static_cast<size_t>(i)] = round(static_cast<double>(at[i]), 1e6);
      made.turn = {turn.x, turn.y, turn.z, turn.w};
      into.points.push_back(std::move(made));
    }
  }

  // A piece of that sort, where the record has it.
  template <class Record>
  mod::PieceDoc ruled(const Record& one, rulebook::PieceSort sort) {
    mod::PieceDoc piece;
    piece.sort = rulebook::pieceSortName(sort);
    piece.as = pieceId(one.as);
    piece.name = prepare::freePieceName(out_.object, one.name.empty() ? piece.as : one.name);
    const GameSpace& space = models_.space();
    const glm::vec3 at = space.direction({one.position[0], one.position[1], one.position[2]}) *
                         static_cast<float>(space.unit_m);
    const glm::quat turn = space.turn(glm::quat(one.turn[3], one.turn[0], one.turn[1], one.turn[2]));
    for (int i = 0; i < 3; ++i)
      piece.position_m[static_cast<size_t>(i)] = round(static_cast<double>(at[i]), 1e6);
    piece.turn = {turn.x, turn.y, turn.z, turn.w};
    const rulebook::PieceRule* rule = kind_ != nullptr ? kind_->findPiece(piece.as) : nullptr;
    piece.values = values(rule != nullptr ? &rule->fields : nullptr, one.values);
    return piece;
  }

  [[nodiscard]] Json length(float value) const {
    return round(static_cast<double>(value) * models_.space().unit_m, 1e6);
  }
  static Json degrees(float radians) { return round(static_cast<double>(glm::degrees(radians)), 1e4); }
  static Json number(float value) { return round(static_cast<double>(value), 1e6); }

  void addLamp(const bundle::ObjectLamp& lamp) {
    mod::PieceDoc piece = ruled(lamp, rulebook::PieceSort::lamp);
    piece.values.update(Json{{"color", colorJson(lamp.color)},
                             {"strength", number(lamp.strength)},
                             {"reach_m", length(lamp.reach)},
                             {"cone_deg", degrees(lamp.cone)},
                             {"soft", number(lamp.soft)},
                             {"lit", lamp.lit}});
    out_.object.pieces.push_back(std::move(piece));
  }

  void addEmitter(const bundle::ObjectEmitter& emitter) {
    mod::PieceDoc piece = ruled(emitter, rulebook::PieceSort::emitter);
    piece.values.update(Json{{"look", emitter.look},
                             {"runs", emitter.runs},
                             {"rate", number(emitter.rate)},
                             {"life_s", number(emitter.life)},
                             {"speed_m_s", length(emitter.speed)},
                             {"spread_deg", degrees(emitter.spread)},
                             {"gravity", number(emitter.gravity)},
                             {"size_m", length(emitter.size[0])},
                             {"size_end_m", length(emitter.size[1])},
                             {"opacity", number(emitter.opacity[0])},
                             {"opacity_end", number(emitter.opacity[1])},
                             {"color", colorJson(emitter.color[0])},
                             {"color_end", colorJson(emitter.color[1])}});
    out_.object.pieces.push_back(std::move(piece));
  }

  // Of those made of a model the form comes along, and is made of the model anew: each sort once, for several
  // hulls are shapes of their own to the game.
  void addShapes() {
    std::map<std::string, size_t> made;  // places among the pieces, by what they are
    for (const bundle::ObjectShape& shape : record_.shapes) {
      const bool of_model = shape.form == "hull" || shape.form == "mesh";
      if (const auto known = made.find(shape.as); of_model && known != made.end()) {
        out_.object.pieces[known->second].values["form"] = "hulls";
        continue;
      }
      mod::PieceDoc piece = ruled(shape, rulebook::PieceSort::shape);
      piece.values["form"] = shape.form;
      // "body-1" is the first of several hulls of "body".
      if (of_model && piece.name.ends_with("-1") && piece.name.size() > 2)
        piece.name = prepare::freePieceName(out_.object, piece.name.substr(0, piece.name.size() - 2));
      piece.values["friction"] = number(shape.friction);
      piece.values["bounce"] = number(shape.bounce);
      if (of_model) {
        made[shape.as] = out_.object.pieces.size();
        piece.position_m = {0, 0, 0};
        piece.turn = {0, 0, 0, 1};
      } else {
        const char* keys[] = {"length_m", "width_m", "height_m"};
        for (size_t i = 0; i < 3; ++i)
          if (shape.size[i] > 0) piece.values[keys[i]] = length(shape.size[i]);
      }
      out_.object.pieces.push_back(std::move(piece));
    }
  }

  base::Status addSound(const bundle::ObjectSound& sound) {
    mod::PieceDoc piece = ruled(sound, rulebook::PieceSort::sound);
    Json named = Json::array();
    for (const std::string& id : sound.sounds) {
      const auto source = soundSource(id);
      named.push_back(source ? "sources/" + *source : id);
    }
    piece.values.update(
        Json{{"sounds", std::move(named)},
             {"plays", sound.plays},
             {"loop", sound.loop},
             {"gain_db",
              sound.gain > 0 ? round(20 * std::log10(static_cast<double>(sound.gain)), 1e3) : Json(-60)},
             {"pitch", {number(sound.pitch[0]), number(sound.pitch[1])}},
             {"near_m", length(sound.near)},
             {"far_m", length(sound.far)}});
    out_.object.pieces.push_back(std::move(piece));
    return {};
  }

  // What moves as a part of the main model; what is a model of its own stands still, and that is told.
  void addMotion(const bundle::ObjectMotion& motion) {
    mod::PieceDoc piece = ruled(motion, rulebook::PieceSort::moving);
    std::set<std::string> parts;
    bool others = !motion.lamps.empty() || !motion.emitters.empty();
    for (const uint32_t i : motion.pieces) {
      if (record_.pieces[i].as.empty()) parts.insert(record_.pieces[i].name);
      others = others || !record_.pieces[i].as.empty();
    }
    if (others || parts.size() > 1)
      out_.lost.push_back(base::phrase("what moves with {0}, but for one part", piece.name));
    std::string part;
    for (const UnpackedModel& model : out_.models)
      for (const scene::Node& node : model.model.nodes)
        if (model.name == "main" && !parts.empty() && node.name == *parts.begin()) part = node.key;
    if (part.empty()) return;
    const bool other_hand = models_.space().mirrored >= 0;
    const float way = other_hand ? -1.0F : 1.0F;
    piece.values.update(Json{{"part", part},
                             {"moves", motion.swings ? "swings" : "turns"},
                             {"runs", motion.runs},
                             {"rate", number(way * motion.rate)}});
    if (motion.swings)
      piece.values["span_deg"] = Json::array(
          {degrees(way * motion.span[other_hand ? 1 : 0]), degrees(way * motion.span[other_hand ? 0 : 1])});
    out_.object.pieces.push_back(std::move(piece));
  }

  void addTexts() {
    const std::vector<prepare::TextUse> named = prepare::textsNamedBy(book_, record_.id, out_.object);
    for (const bundle::Entry& entry : bundle_.entries()) {
      if (entry.kind != bundle::EntryKind::texts || named.empty()) continue;
      const auto bytes = bundle_.read(entry);
      const auto record = bytes ? bundle::decodeTexts(*bytes, entry.id) : bytes.error();
      if (!record) continue;
      for (const prepare::TextUse& use : named)
        if (const auto found = record->texts.find(use.id); found != record->texts.end())
          out_.texts[record->language][use.id] = found->second;
    }
  }

  const bundle::Bundle& bundle_;
  const rulebook::Rulebook& book_;
  ModelUnpacker models_;
  bundle::ObjectRecord record_;
  const rulebook::Kind* kind_ = nullptr;
  UnpackedObject out_;
  std::map<std::string, std::string> sounds_;       // sources by entry
  std::map<std::string, std::string> wordOfModel_;  // of what is shown apart
};

}  // namespace

std::vector<ObjectInBundle> objectsIn(const bundle::Bundle& bundle) {
  std::vector<ObjectInBundle> out;
  for (const bundle::Entry& entry : bundle.entries()) {
    if (entry.kind != bundle::EntryKind::object) continue;
    const auto bytes = bundle.read(entry);
    const auto record = bytes ? bundle::decodeObject(*bytes, entry.id) : bytes.error();
    if (record) out.push_back({entry.id.substr(entry.id.find('/') + 1), record->kind, record->name});
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const ObjectInBundle& a, const ObjectInBundle& b) { return a.title < b.title; });
  return out;
}

base::Bytes iconIn(const bundle::Bundle& bundle, const std::string& id) {
  const bundle::Entry* entry = bundle.find("object/" + id);
  const auto bytes = entry != nullptr ? bundle.read(*entry) : base::Result<base::Bytes>(base::Bytes());
  const auto record = bytes ? bundle::decodeObject(*bytes, id) : bytes.error();
  return record ? iconOf(bundle, *record) : base::Bytes();
}

base::Result<UnpackedObject> unpackObject(const bundle::Bundle& bundle, const std::string& id,
                                          const rulebook::Rulebook& book) {
  return ObjectUnpacker(bundle, book).run(id);
}

}  // namespace rakugo::packing
