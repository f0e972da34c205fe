// `rakugo-tool piece`: what an object is made of.
#include <fmt/core.h>

#include "base/text.h"
#include "mod/things.h"
#include "prepare/objects/piece_edits.h"
#include "scene/same_parts.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct PieceOptions {
  std::string mod, object, piece, model, as, name, other, part;
  std::vector<std::string> pieces;
  std::vector<double> at_m, turn_deg;
  bool alone = false, mirrored = false;
};

prepare::GameAxes axesOf(const rulebook::Rulebook& book) {
  return {geometry::axisVector(book.forward), book.side(), geometry::axisVector(book.up)};
}

Json pieceJson(const mod::PieceDoc& piece, const prepare::GameAxes& axes) {
  const glm::dvec3 angles = prepare::anglesOf(
      axes, glm::quat(glm::dquat(piece.turn[3], piece.turn[0], piece.turn[1], piece.turn[2])));
  return Json{
      {"name", piece.name}, {"model", piece.model},           {"as", piece.as},
      {"pair", piece.pair}, {"position_m", piece.position_m}, {"turn_deg", {angles.x, angles.y, angles.z}}};
}

std::string pieceText(const mod::PieceDoc& piece, const prepare::GameAxes& axes) {
  const Json json = pieceJson(piece, axes);
  const auto number = [&](const char* key, size_t i, int digits) {
    return base::numberText(json[key][i].get<double>(), digits);
  };
  std::string out = fmt::format("{}: {}", piece.name, piece.model);
  if (!piece.as.empty()) out += fmt::format(", the {}", piece.as);
  out += fmt::format(", at {}, {}, {} m", number("position_m", 0, 4), number("position_m", 1, 4),
                     number("position_m", 2, 4));
  if (piece.turn != std::array<double, 4>{0, 0, 0, 1})
    out += fmt::format(", turned by {}, {}, {} degrees", number("turn_deg", 0, 2), number("turn_deg", 1, 2),
                       number("turn_deg", 2, 2));
  if (!piece.pair.empty()) out += fmt::format(", a pair with {}", piece.pair);
  return out + "\n";
}

int list(const Common& common, const PieceOptions& o) {
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto object = named(open->state.objects, o.object, "object", "mod.no_object", o.mod);
  if (!object) return failed(common, object.error());
  const prepare::GameAxes axes = axesOf(*open->book);
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
  const prepare::GameAxes axes = axesOf(*open->book);
  const mod::PieceDoc* now = prepare::findPiece(open->state.objects.at(o.object), *piece);
  return said(common,
              Json{{"object", o.object}, {"piece", now != nullptr ? pieceJson(*now, axes) : Json(*piece)}},
              now != nullptr ? pieceText(*now, axes) : done + "\n");
}

base::Status knownModel(const OpenMod& open, const mod::ObjectDoc& object, const std::string& as) {
  const rulebook::Kind* kind = open.book->findKind(object.kind);
  if (as.empty() || as == rulebook::kMainModel || kind == nullptr || kind->findModel(as) != nullptr)
    return {};
  std::vector<std::string> known = {rulebook::kMainModel};
  for (const rulebook::KindModel& model : kind->models) known.push_back(model.id);
  return base::Error{
      "rulebook.model",
      fmt::format("A {} is not made of a \"{}\".", base::lowerAscii(kind->title), base::presentable(as, 40)),
      {},
      fmt::format("Its models are {}.", base::listText(known, 12))};
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

base::Result<std::string> set(OpenMod& open, mod::ObjectDoc& object, const PieceOptions& o) {
  const mod::PieceDoc* piece = prepare::findPiece(object, o.piece);
  if (piece != nullptr && (!o.at_m.empty() || !o.turn_deg.empty())) {
    prepare::PiecePlace place = prepare::placeOf(*piece);
    for (size_t i = 0; i < o.at_m.size(); ++i) place.position_m[i] = o.at_m[i];
    if (!o.turn_deg.empty()) {
      const glm::dquat turn =
          prepare::turnOf(axesOf(*open.book), {o.turn_deg[0], o.turn_deg[1], o.turn_deg[2]});
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
    sub->add_option("--as", o->as, "Which of the kind's models it is; main: the kind's own");
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

  sub = command("set", "Place a piece, name it, say what it is; its pair follows", true);
  sub->add_option("--at", o->at_m, "X Y Z in metres, in the object")->expected(3);
  sub->add_option("--turn", o->turn_deg, "Degrees about the game's forward, side and up axes")->expected(3);
  CLI::Option* like = sub->add_option("--like", o->other, "Another piece, whose place it is given");
  sub->add_flag("--mirrored", o->mirrored, "The mirror image of that place")->needs(like);
  sub->add_option("--model", o->model, "The model that it shows");
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
