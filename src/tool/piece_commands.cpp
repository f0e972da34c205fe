// `rakugo-tool piece`: what an object is made of.
#include <fmt/core.h>

#include "base/text.h"
#include "mod/things.h"
#include "prepare/objects/collision_shapes.h"
#include "prepare/objects/derived_model.h"
#include "prepare/objects/moving_parts.h"
#include "prepare/objects/object_body.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/piece_parts.h"
#include "prepare/objects/piece_values.h"
#include "rulebook/field_value.h"
#include "rulebook/piece_sorts.h"
#include "scene/same_parts.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct PieceOptions {
  std::string mod, object, piece, model, as, name, other, part;
  std::string parent, along, form;
  std::vector<std::string> values;  ///< "reach_m=8"
  std::vector<std::string> pieces, parts;
  double scale = 0;                   ///< 0: as it is
  double mass_kg = 0, density = 700;  ///< mass 0: as the card says
  double from_m = 1;
  std::vector<double> at_m, turn_deg;
  bool alone = false, mirrored = false;
};

Json pieceJson(const mod::PieceDoc& piece, const prepare::GameAxes& axes) {
  const glm::dvec3 angles = prepare::anglesOf(
      axes, glm::quat(glm::dquat(piece.turn[3], piece.turn[0], piece.turn[1], piece.turn[2])));
  Json out{{"name", piece.name},
           {"model", piece.model},
           {"as", piece.as},
           {"pair", piece.pair},
           {"position_m", piece.position_m},
           {"turn_deg", {angles.x, angles.y, angles.z}},
           {"sort", piece.isModel() ? "model" : piece.sort},
           {"parent", piece.parent},
           {"scale", piece.scale}};
  if (!piece.values.empty()) out["values"] = piece.values;
  return out;
}

std::string pieceText(const mod::PieceDoc& piece, const prepare::GameAxes& axes) {
  const Json json = pieceJson(piece, axes);
  const auto number = [&](const char* key, size_t i, int digits) {
    return base::numberText(json[key][i].get<double>(), digits);
  };
  std::string out = fmt::format("{}: {}", piece.name, piece.isModel() ? piece.model : piece.sort);
  if (!piece.as.empty()) out += fmt::format(", the {}", piece.as);
  out += fmt::format(", at {}, {}, {} m", number("position_m", 0, 4), number("position_m", 1, 4),
                     number("position_m", 2, 4));
  if (piece.turn != std::array<double, 4>{0, 0, 0, 1})
    out += fmt::format(", turned by {}, {}, {} degrees", number("turn_deg", 0, 2), number("turn_deg", 1, 2),
                       number("turn_deg", 2, 2));
  if (piece.scale != 1) out += fmt::format(", scaled {} times", base::numberText(piece.scale, 4));
  if (!piece.parent.empty()) out += fmt::format(", hangs on {}", piece.parent);
  if (!piece.pair.empty()) out += fmt::format(", a pair with {}", piece.pair);
  for (const auto& [id, value] : piece.values.items())
    out += fmt::format("\n  {}: {}", id, base::jsonLine(value));
  return out + "\n";
}

int list(const Common& common, const PieceOptions& o) {
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto object = named(open->state.objects, o.object, "object", "mod.no_object", o.mod);
  if (!object) return failed(common, object.error());
  const prepare::GameAxes axes = prepare::gameAxes(*open->book);
  Json out = Json::array();
  std::string text;
  for (const mod::PieceDoc& piece : (*object)->pieces) {
    out.push_back(pieceJson(piece, axes));
    text += pieceText(piece, axes);
  }
  return said(common, out, text.empty() ? "No piece yet.\n" : text);
}

// Loads, changes the object and saves; `work` returns the name of the piece to speak of, or none.
int change(const Common& common, const PieceOptions& o, const std::string& done,
           const std::function<base::Result<std::string>(OpenMod&, mod::ObjectDoc&)>& work) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto object = named(open->state.objects, o.object, "object", "mod.no_object", o.mod);
  if (!object) return failed(common, object.error());
  const auto piece = work(*open, **object);
  if (!piece) {
    base::Error error = piece.error();
    if (error.place.file.empty()) error.place.file = o.mod;
    return failed(common, error);
  }
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  const prepare::GameAxes axes = prepare::gameAxes(*open->book);
  const mod::PieceDoc* now = prepare::findPiece(open->state.objects.at(o.object), *piece);
  return said(common,
              Json{{"object", o.object}, {"piece", now != nullptr ? pieceJson(*now, axes) : Json(*piece)}},
              now != nullptr ? pieceText(*now, axes) : done + "\n");
}

base::Status knownModel(const OpenMod& open, const mod::ObjectDoc& object, const std::string& as) {
  const rulebook::Kind* kind = open.book->findKind(object.kind);
  if (as.empty() || as == rulebook::kMainModel || kind == nullptr || kind->findModel(as) != nullptr)
    return {};
  if (kind->findPiece(as) != nullptr) return {};
  std::vector<std::string> known = {rulebook::kMainModel};
  for (const rulebook::KindModel& model : kind->models) known.push_back(model.id);
  for (const rulebook::PieceRule& rule : kind->pieces) known.push_back(rule.id);
  return base::Error{
      "rulebook.model",
      fmt::format("A {} is not made of a \"{}\".", base::lowerAscii(kind->title), base::presentable(as, 40)),
      {},
      fmt::format("It has {}.", base::listText(known, 12))};
}

base::Result<std::string> add(OpenMod& open, mod::ObjectDoc& object, const PieceOptions& o) {
  RAKUGO_TRY(knownModel(open, object, o.as));
  RAKUGO_TRY(mod::addPiece(open.state, o.object, o.model));
  mod::PieceDoc& made = object.pieces.back();
  if (!o.name.empty()) {
    RAKUGO_TRY(prepare::renamePiece(object, made.name, o.name));
  }
  const std::string name = made.name;
  RAKUGO_TRY(prepare::setPieceAs(object, name, o.as));
  return name;
}

// "reach_m=8", by the fields that a piece has.
base::Status setValue(const OpenMod& open, mod::ObjectDoc& object, const std::string& piece,
                      const std::string& given) {
  const size_t equals = given.find('=');
  const std::string id = given.substr(0, equals);
  const mod::PieceDoc* found = prepare::findPiece(object, piece);
  if (equals == std::string::npos)
    return base::Error{"piece.value",
                       fmt::format("\"{}\" says no value.", base::presentable(given, 60)),
                       {},
                       "Write a value behind a sign: --value reach_m=8"};
  if (found == nullptr) return prepare::setPieceValue(object, piece, id, {});
  std::vector<std::string> known;
  for (const rulebook::Field& field : prepare::fieldsOfPiece(*open.book, object, *found)) {
    known.push_back(field.id);
    if (field.id != id) continue;
    RAKUGO_ASSIGN(const base::Json value, rulebook::typedValue(field, given.substr(equals + 1)));
    return prepare::setPieceValue(object, piece, id, value);
  }
  return base::Error{"piece.value",
                     fmt::format("{} has no value \"{}\".", piece, base::presentable(id, 40)),
                     {},
                     known.empty() ? std::string("A model and a group have none.")
                                   : fmt::format("Its values are {}.", base::listText(known, 20))};
}

// What lies in the game's axes as options name them.
base::Result<glm::vec3> axisNamed(const rulebook::Rulebook& book, const std::string& name) {
  const prepare::GameAxes axes = prepare::gameAxes(book);
  if (name == "forward") return axes.forward;
  if (name == "side") return axes.side;
  if (name == "up") return axes.up;
  return base::Error{"piece.axis",
                     fmt::format("\"{}\" is no direction.", base::presentable(name, 40)),
                     {},
                     "Write forward, side or up."};
}

base::Result<std::string> set(OpenMod& open, mod::ObjectDoc& object, const PieceOptions& o) {
  const mod::PieceDoc* piece = prepare::findPiece(object, o.piece);
  if (piece != nullptr && (!o.at_m.empty() || !o.turn_deg.empty())) {
    prepare::PiecePlace place = prepare::placeOf(*piece);
    for (size_t i = 0; i < o.at_m.size(); ++i) place.position_m[i] = o.at_m[i];
    if (!o.turn_deg.empty()) {
      const glm::dquat turn =
          prepare::turnOf(prepare::gameAxes(*open.book), {o.turn_deg[0], o.turn_deg[1], o.turn_deg[2]});
      place.turn = {turn.x, turn.y, turn.z, turn.w};
    }
    RAKUGO_TRY(prepare::placePiece(object, o.piece, place, open.book->side()));
  }
  if (!o.other.empty()) {
    RAKUGO_TRY(prepare::copyPlace(object, o.other, o.piece, o.mirrored, open.book->side()));
  }
  if (!o.as.empty()) {
    RAKUGO_TRY(knownModel(open, object, o.as));
    RAKUGO_TRY(prepare::setPieceAs(object, o.piece, o.as));
  }
  if (!o.model.empty()) {
    RAKUGO_TRY(named(open.state.models, o.model, "model", "mod.no_model", o.mod));
    if (mod::PieceDoc* one = prepare::findPiece(object, o.piece)) one->model = o.model;
  }
  if (!o.parent.empty()) {
    RAKUGO_TRY(prepare::setParent(object, o.piece, o.parent == "-" ? "" : o.parent, open.book->side()));
  }
  if (o.scale != 0) {
    RAKUGO_TRY(prepare::scalePiece(object, o.piece, o.scale));
  }
  for (const std::string& given : o.values) {
    RAKUGO_TRY(setValue(open, object, o.piece, given));
  }
  const std::string name = o.name.empty() ? o.piece : o.name;
  RAKUGO_TRY(prepare::renamePiece(object, o.piece, name));
  return name;
}

base::Result<std::shared_ptr<const scene::Model>> preparedModel(const OpenMod& open,
                                                                const std::string& name) {
  RAKUGO_ASSIGN(const auto x, examineModel(open, name));
  const auto state = x->context.models.find(name);
  if (state == x->context.models.end() || !state->second.prepared.model)
    return base::Error{"model.unknown",
                       fmt::format("The mod has no model {} that can be read.", base::presentable(name, 60)),
                       {},
                       {}};
  return state->second.prepared.model;
}

// All models of the mod as they are prepared.
base::Result<prepare::ModelOf> modelsOf(const OpenMod& open, const mod::ObjectDoc& object) {
  auto models = std::make_shared<std::map<std::string, std::shared_ptr<const scene::Model>>>();
  for (const mod::PieceDoc& piece : object.pieces)
    if (piece.isModel() && models->count(piece.model) == 0) {
      RAKUGO_ASSIGN((*models)[piece.model], preparedModel(open, piece.model));
    }
  return prepare::ModelOf([models](const std::string& name) -> const scene::Model* {
    const auto found = models->find(name);
    return found != models->end() ? found->second.get() : nullptr;
  });
}

// The key of a part that a piece can name: by its whole path, or by its last name where one alone is so
// called.
base::Result<std::string> partNamed(const mod::ObjectDoc& object, const std::string& piece,
                                    const std::string& name, const prepare::ModelOf& models) {
  const std::vector<std::string> parts =
      prepare::partsForPiece(object, *prepare::findPiece(object, piece), models);
  std::vector<std::string> meant;
  for (const std::string& part : parts) {
    if (part == name) return part;
    if (part.ends_with("/" + name)) meant.push_back(part);
  }
  if (meant.size() == 1) return meant.front();
  return base::Error{"part.unknown",
                     meant.empty() ? fmt::format("There is no part {}.", base::presentable(name, 60))
                                   : fmt::format("Several parts are called {}.", base::presentable(name, 60)),
                     {},
                     parts.empty() ? std::string("The model has no parts.")
                                   : fmt::format("There are {}.", base::listText(parts, 12))};
}

base::Result<std::string> addRuled(OpenMod& open, mod::ObjectDoc& object, const PieceOptions& o,
                                   rulebook::PieceSort sort) {
  const rulebook::Kind* kind = open.book->findKind(object.kind);
  if (kind == nullptr)
    return base::Error{"object.kind",
                       fmt::format("The rulebook has no kind \"{}\".", base::presentable(object.kind, 40)),
                       {},
                       "Say first what the object is."};
  const rulebook::PieceRule* rule = kind->findPiece(o.as);
  if (rule != nullptr && rule->sort != sort)
    return base::Error{"piece.sort",
                       fmt::format("{} is no {}: it is a {}.", o.as, rulebook::pieceSortName(sort),
                                   rulebook::pieceSortName(rule->sort)),
                       {},
                       fmt::format("Write piece {}.", rulebook::pieceSortName(rule->sort))};
  RAKUGO_ASSIGN(std::string made, prepare::addRuledPiece(object, *kind, o.as));
  if (!o.name.empty()) {
    RAKUGO_TRY(prepare::renamePiece(object, made, o.name));
    made = o.name;
  }
  if (!o.parent.empty()) {
    RAKUGO_TRY(prepare::setParent(object, made, o.parent == "-" ? "" : o.parent, open.book->side()));
  }
  if (sort == rulebook::PieceSort::sound && !o.values.empty()) {
    Json sounds = Json::array();
    for (const std::string& one : o.values) sounds.push_back(one);
    RAKUGO_TRY(prepare::setPieceValue(object, made, "sounds", sounds));
  }
  if (sort == rulebook::PieceSort::moving && (!o.part.empty() || !o.pieces.empty())) {
    RAKUGO_ASSIGN(const prepare::ModelOf models, modelsOf(open, object));
    if (!o.part.empty()) {
      RAKUGO_ASSIGN(const std::string part, partNamed(object, made, o.part, models));
      RAKUGO_TRY(prepare::setPieceValue(object, made, "part", part));
    }
    for (const std::string& one : o.pieces)
      RAKUGO_TRY(prepare::setParent(object, one, made, open.book->side()));
    RAKUGO_TRY(prepare::centerMoving(object, made, *open.book, models));
  }
  if (sort != rulebook::PieceSort::shape) return made;
  if (!o.form.empty()) {
    RAKUGO_TRY(setValue(open, object, made, "form=" + o.form));
  }
  RAKUGO_ASSIGN(const prepare::ModelOf models, modelsOf(open, object));
  if (!o.parts.empty()) {
    Json parts = Json::array();
    for (const std::string& one : o.parts) {
      RAKUGO_ASSIGN(const std::string part, partNamed(object, made, one, models));
      parts.push_back(part);
    }
    RAKUGO_TRY(prepare::setPieceValue(object, made, "parts", parts));
  }
  RAKUGO_TRY(prepare::fitShape(object, made, *open.book, models));
  return made;
}

// Fits a shape anew, saves, and says how it lies over the model.
int fit(const Common& common, const PieceOptions& o) {
  prepare::ShapeOff off;
  prepare::ShapeMesh shape;
  int result = change(common, o, "", [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
    RAKUGO_ASSIGN(const prepare::ModelOf models, modelsOf(open, object));
    RAKUGO_TRY(prepare::fitShape(object, o.piece, *open.book, models));
    const mod::PieceDoc& piece = *prepare::findPiece(object, o.piece);
    const prepare::ShapeValues says =
        prepare::shapeValues(piece, prepare::fieldsOfPiece(*open.book, object, piece));
    if (says.form.empty())
      return base::Error{"piece.sort", fmt::format("{} is no collision shape.", o.piece), {}, {}};
    const prepare::ShapeMesh under = prepare::modelUnderShape(*open.book, object, piece, models);
    shape = prepare::shapeMesh(says, under, prepare::gameAxes(*open.book));
    off = prepare::shapeOff(shape, under, says.form != "mesh");
    return o.piece;
  });
  if (result != 0 || common.json) return result;
  return said(
      common, Json::object(),
      fmt::format("{} corners, {} triangles; the model reaches out by {}, the shape stands off by {}.\n",
                  shape.corners.size(), shape.triangles.size() / 3, base::lengthText(off.short_m),
                  base::lengthText(off.beyond_m)));
}

const char* fromText(prepare::BodyFrom from) {
  return from == prepare::BodyFrom::shapes  ? "its collision shapes"
         : from == prepare::BodyFrom::model ? "its models, which are closed"
                                            : "the convex hull of its models, which are open";
}

// The object's body, by what is said of its weight or its card.
base::Result<prepare::ObjectBody> bodyOf(const OpenMod& open, const PieceOptions& o) {
  RAKUGO_ASSIGN(const mod::ObjectDoc* object,
                named(open.state.objects, o.object, "object", "mod.no_object", o.mod));
  RAKUGO_ASSIGN(const prepare::ModelOf models, modelsOf(open, *object));
  prepare::BodyWeight weight = prepare::weightOnCard(*open.book, *object);
  weight.density_kg_m3 = o.density;
  if (o.mass_kg > 0) weight.mass_kg = o.mass_kg;
  const auto body = prepare::objectBody(*object, *open.book, models, weight);
  if (!body)
    return base::Error{"object.body", fmt::format("{} holds no volume.", o.object),
                       base::Place{"objects/" + o.object + ".object.json"},
                       "Give it a model or a collision shape that has a body."};
  return *body;
}

int drop(const Common& common, const PieceOptions& o) {
  constexpr double kLongest_s = 30;
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto body = bodyOf(*open, o);
  if (!body) return failed(common, body.error());
  geometry::Fall fall(prepare::fallingBody(*body), glm::dvec3(prepare::gameAxes(*open->book).up), o.from_m);
  fall.advance(kLongest_s);
  const double lean_deg = glm::degrees(fall.lean_rad());
  return said(common,
              Json{{"from_m", o.from_m},
                   {"bounced_m", fall.bounced_m()},
                   {"rests", fall.atRest()},
                   {"time_s", fall.time_s()},
                   {"lean_deg", lean_deg}},
              fmt::format("It falls from {} and bounces to {}. {} after {} s; it leans by {}°.\n",
                          base::lengthText(o.from_m), base::lengthText(fall.bounced_m()),
                          fall.atRest() ? "It comes to rest" : "It still moves",
                          base::numberText(fall.time_s(), 2), base::numberText(lean_deg, 1)));
}

int weigh(const Common& common, const PieceOptions& o) {
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto body = bodyOf(*open, o);
  if (!body) return failed(common, body.error());
  const auto list = [](const glm::dvec3& v) { return Json::array({v.x, v.y, v.z}); };
  Json json{{"from", body->from == prepare::BodyFrom::shapes  ? "shapes"
                     : body->from == prepare::BodyFrom::model ? "model"
                                                              : "hull"},
            {"volume_m3", body->volume_m3},
            {"mass_kg", body->mass_kg},
            {"center_m", list(body->center_m)},
            {"moments_kg_m2", list(body->inertia.moments)}};
  std::string text =
      fmt::format("Reckoned from {}.\n{} kg, {} litres; the centre of mass lies at {}, {}, {} m.\n",
                  fromText(body->from), base::numberText(body->mass_kg, 3),
                  base::numberText(body->volume_m3 * 1000, 3), base::numberText(body->center_m.x, 3),
                  base::numberText(body->center_m.y, 3), base::numberText(body->center_m.z, 3));
  if (body->stands) {
    json["stands"] =
        Json{{"margin_m", body->stands->margin}, {"angle_deg", glm::degrees(body->stands->angle_rad)}};
    text += body->stands->margin > 0
                ? fmt::format("It stands, and falls over where the ground leans by {} degrees.\n",
                              base::numberText(glm::degrees(body->stands->angle_rad), 1))
                : std::string("It falls over: its weight lies beside what it stands on.\n");
  }
  if (body->floats) {
    json["afloat"] = Json{{"draught_m", body->floats->draught},
                          {"level_m", body->floats->level},
                          {"righting_sides_m", body->floats->righting_sides},
                          {"righting_ends_m", body->floats->righting_ends}};
    text += fmt::format("It floats {} deep; {}\n", base::lengthText(body->floats->draught),
                        body->floats->righting_sides > 0 && body->floats->righting_ends > 0
                            ? "it rights itself when it leans."
                            : "it turns over.");
  } else {
    json["afloat"] = nullptr;
    text += "It sinks.\n";
  }
  return said(common, json, text);
}

// One of the kind's models made from another, fitted to what the rulebook says of it.
int derive(const Common& common, const PieceOptions& o) {
  return change(common, o, "", [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
    const rulebook::Kind* kind = open.book->findKind(object.kind);
    const rulebook::KindModel* rule = kind != nullptr ? kind->findModel(o.as) : nullptr;
    const mod::PieceDoc* from = rule != nullptr ? prepare::pieceMadeFrom(object, *rule) : nullptr;
    auto prepared = std::make_shared<const scene::Model>();
    if (from != nullptr) {
      RAKUGO_ASSIGN(prepared, preparedModel(open, from->model));
    }
    return prepare::addDerivedModel(open.state, *open.book, o.object, o.as,
                                    [&](const rulebook::Kind& rules, const std::string& made_from) {
                                      return prepare::stepsToDerive(*open.book, rules, made_from, *prepared);
                                    });
  });
}

// Which parts are copies is told by the model as it is prepared.
base::Result<std::string> fromCopies(OpenMod& open, const PieceOptions& o) {
  RAKUGO_ASSIGN(const auto prepared, preparedModel(open, o.model));
  const scene::Model& model = *prepared;
  std::vector<std::string> known;
  for (const scene::SameParts& same : scene::sameParts(model)) {
    for (const scene::NodeIndex i : same.parts) {
      known.push_back(model.node(i).name);
      if (model.node(i).name == o.part || model.node(i).key == o.part)
        return prepare::piecesFromCopies(open.state, o.object, o.model, model, *open.book, same, o.as);
    }
  }
  return base::Error{"part.no_copies",
                     fmt::format("The part {} of {} has no copies.", base::presentable(o.part, 60), o.model),
                     {},
                     known.empty() ? std::string("No part of it has any.")
                                   : fmt::format("Parts that have: {}.", base::listText(known, 12))};
}

}  // namespace

void addPieceCommands(Tool& tool) {
  const auto o = std::make_shared<PieceOptions>();
  CLI::App* group = tool.group("piece", "What an object is made of");
  const auto command = [&](const char* name, const char* help, bool of_one) {
    CLI::App* sub = tool.command(name, help, group);
    sub->add_option("MOD", o->mod, "The mod's folder")->required();
    sub->add_option("OBJECT", o->object)->required();
    if (of_one) sub->add_option("PIECE", o->piece, "Its name in the object")->required();
    return sub;
  };
  const auto as = [&](CLI::App* sub) {
    sub->add_option("--as", o->as, "Which of the kind's models or pieces it is; main: the kind's own model");
  };
  CLI::App* sub = command("list", "Every piece, and where it stands", false);
  tool.runs(sub, [o](const Common& common) { return list(common, *o); });

  sub = command("add", "Add a model as a piece, at the object's origin", false);
  sub->add_option("MODEL", o->model)->required();
  sub->add_option("--name", o->name, "What it is called in the object");
  as(sub);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "",
                  [&](OpenMod& open, mod::ObjectDoc& object) { return add(open, object, *o); });
  });

  sub = command("derive", "Make one of the kind's models from another, such as the carried version", false);
  sub->add_option("WHICH", o->as, "Its id in the rulebook")->required();
  tool.runs(sub, [o](const Common& common) { return derive(common, *o); });

  for (const rulebook::PieceSort sort : rulebook::kPieceSorts) {
    const char* help =
        sort == rulebook::PieceSort::lamp      ? "Add a lamp that the game takes in such an object"
        : sort == rulebook::PieceSort::emitter ? "Add an emitter that the game takes in such an object"
        : sort == rulebook::PieceSort::sound   ? "Add a sound that the game takes in such an object"
        : sort == rulebook::PieceSort::moving  ? "Let a part turn or swing, about its middle"
                                               : "Add a collision shape, fitted to the model that carries it";
    sub = command(rulebook::pieceSortName(sort), help, false);
    sub->add_option("WHICH", o->as, "Its id in the rulebook")->required();
    sub->add_option("--name", o->name, "What it is called in the object");
    sub->add_option("--on", o->parent, "The piece that carries it");
    if (sort == rulebook::PieceSort::sound)
      sub->add_option("--sound", o->values,
                      "sources/NAME, or the id of what the game shares; of variants each");
    if (sort == rulebook::PieceSort::shape) {
      sub->add_option("--form", o->form, "hull, box, sphere, ...");
      sub->add_option("--part", o->parts, "A part that it is made of and fitted to; of several each");
    }
    if (sort == rulebook::PieceSort::moving) {
      sub->add_option("--part", o->part, "The part of the model that moves");
      sub->add_option("--piece", o->pieces,
                      "A piece that hangs on it from now on, and moves; of several each");
    }
    tool.runs(sub, [o, sort](const Common& common) {
      return change(common, *o, "",
                    [&](OpenMod& open, mod::ObjectDoc& object) { return addRuled(open, object, *o, sort); });
    });
  }

  sub = command("middle",
                "Put a moving part in the middle of what it moves, its axis along the shortest side", true);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "", [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
      RAKUGO_ASSIGN(const prepare::ModelOf models, modelsOf(open, object));
      RAKUGO_TRY(prepare::centerMoving(object, o->piece, *open.book, models));
      return o->piece;
    });
  });

  sub = command("fit", "Fit a collision shape to what it lies over, and say how well it does", true);
  tool.runs(sub, [o](const Common& common) { return fit(common, *o); });

  const auto weightOptions = [&](CLI::App* of) {
    CLI::Option* mass = of->add_option("--mass", o->mass_kg, "Kilograms, in place of what its card says");
    of->add_option("--density", o->density, "Kilograms a cubic metre, where nothing says its mass; 700: wood")
        ->excludes(mass);
  };
  sub = command("weigh", "What an object weighs, where its weight lies, how it stands and floats", false);
  weightOptions(sub);
  tool.runs(sub, [o](const Common& common) { return weigh(common, *o); });
  sub = command(
      "drop", "Let an object fall on a floor by its body, and tell how it bounces and comes to rest", false);
  sub->add_option("--from", o->from_m, "How high its lowest point begins, in metres; 1 unless told")
      ->check(CLI::Range(0.001, 1000.0));
  weightOptions(sub);
  tool.runs(sub, [o](const Common& common) { return drop(common, *o); });

  sub = command("group", "Let a new group carry pieces; they stay where they are", false);
  sub->add_option("PIECES", o->pieces, "Their names; pairs come along")->required()->expected(1, 1000);
  sub->add_option("--name", o->name, "What the group is called");
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "", [&](OpenMod& open, mod::ObjectDoc& object) {
      return prepare::groupPieces(object, o->pieces, o->name, open.book->side());
    });
  });

  sub = command("align", "Give pieces the place of the first along one direction", false);
  sub->add_option("DIRECTION", o->along, "forward, side or up")->required();
  sub->add_option("PIECES", o->pieces, "At least two")->required()->expected(2, 1000);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "They are aligned.",
                  [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
                    RAKUGO_ASSIGN(const glm::vec3 along, axisNamed(*open.book, o->along));
                    RAKUGO_TRY(prepare::alignPieces(object, o->pieces, along, open.book->side()));
                    return std::string();
                  });
  });

  sub = command("set", "Place a piece, name it, say what it is and says; its pair follows", true);
  sub->add_option("--at", o->at_m, "X Y Z in metres, against what carries it")->expected(3);
  sub->add_option("--turn", o->turn_deg, "Degrees about the game's forward, side and up axes")->expected(3);
  CLI::Option* like = sub->add_option("--like", o->other, "Another piece, whose place it is given");
  sub->add_flag("--mirrored", o->mirrored, "The mirror image of that place")->needs(like);
  sub->add_option("--model", o->model, "The model that it shows");
  sub->add_option("--on", o->parent, "The piece that carries it; -: the object itself");
  sub->add_option("--scale", o->scale, "How many times its size, with all it carries");
  sub->add_option("--value", o->values, "FIELD=VALUE of a lamp, emitter, shape or sound; as often as wanted");
  sub->add_option("--name", o->name, "What it is called from now on");
  as(sub);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "",
                  [&](OpenMod& open, mod::ObjectDoc& object) { return set(open, object, *o); });
  });

  sub = command("floor", "Let a piece down, or lift it, to stand on the floor", true);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "", [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
      std::shared_ptr<const scene::Model> model = std::make_shared<scene::Model>();
      if (const mod::PieceDoc* piece = prepare::findPiece(object, o->piece)) {
        RAKUGO_ASSIGN(model, preparedModel(open, piece->model));
      }
      RAKUGO_TRY(prepare::putOnFloor(object, o->piece, *model, *open.book));
      return o->piece;
    });
  });

  sub = command("spread", "Place pieces at even distances between the first and the last of them", false);
  sub->add_option("PIECES", o->pieces, "At least three, in their order")->required()->expected(3, 1000);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "They are spread evenly.",
                  [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
                    RAKUGO_TRY(prepare::spreadPieces(object, o->pieces, open.book->side()));
                    return std::string();
                  });
  });

  sub = command("copy", "Add a copy of a piece at the same place", true);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "",
                  [&](OpenMod&, mod::ObjectDoc& object) { return prepare::copyPiece(object, o->piece); });
  });

  sub = command("mirror", "Add the mirror image of a piece, as its pair", true);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "", [&](OpenMod& open, mod::ObjectDoc& object) {
      return prepare::addMirrorImage(object, o->piece, open.book->side());
    });
  });

  sub = command("pair", "Make another piece the mirror image of this one, from now on", true);
  CLI::Option* other = sub->add_option("OTHER", o->other, "The piece that follows");
  sub->add_flag("--alone", o->alone, "Untie it instead")->excludes(other);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "", [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
      if (!o->alone && o->other.empty())
        return base::Error{"piece.pair", "Name the other piece, or say --alone.", {}, {}};
      RAKUGO_TRY(prepare::pairPieces(object, o->piece, o->other, open.book->side()));
      return o->piece;
    });
  });

  sub = command("remove", "Take a piece out; the model stays in the mod", true);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "Took " + o->piece + " out.",
                  [&](OpenMod&, mod::ObjectDoc& object) -> base::Result<std::string> {
                    RAKUGO_TRY(prepare::removePiece(object, o->piece));
                    return o->piece;
                  });
  });

  sub = command("from-copies", "Make one model of parts that are copies, and pieces where they stood", false);
  sub->add_option("MODEL", o->model, "The model that they are parts of")->required();
  sub->add_option("PART", o->part, "One of the copies")->required();
  as(sub);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, "Each copy is a piece now.",
                  [&](OpenMod& open, mod::ObjectDoc& object) -> base::Result<std::string> {
                    RAKUGO_TRY(knownModel(open, object, o->as));
                    return fromCopies(open, *o);
                  });
  });
}

}  // namespace rakugo::tool
