// `rakugo-tool set` and `point`: cards, and the places of attachment points.
#include <fmt/core.h>

#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "formats/pictures/pictures.h"
#include "mod/things.h"
#include "prepare/edit_steps.h"
#include "prepare/objects/point_edits.h"
#include "prepare/space/space_ops.h"
#include "rulebook/field_value.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct FieldOptions {
  std::string mod, object, field, value, model, point;
  std::vector<double> at_m, turn_deg;
  bool unset = false;
};

// A field of mod.json that a person sets.
std::string* ownField(mod::ModCard& card, const std::string& field) {
  for (const auto& [name, text] : {std::pair("title", &card.title),
                                   {"author", &card.author},
                                   {"version", &card.version},
                                   {"description", &card.description}})
    if (field == name) return text;
  return nullptr;
}

base::Status setModField(OpenMod& open, const FieldOptions& o) {
  std::string* text = ownField(open.state.card, o.field);
  if (text == nullptr)
    return base::Error{"field.unknown", "A mod has no field " + base::presentable(o.field, 60) + ".",
                       base::Place{open.folder}, "It has title, author, version and description."};
  *text = o.unset ? std::string() : o.value;
  return {};
}

// An object's icon from a picture file, under the object's name.
base::Status setIcon(OpenMod& open, const FieldOptions& o) {
  mod::ObjectDoc& object = open.state.objects.at(o.object);
  if (o.unset) {
    open.state.icons.erase(object.icon);
    object.icon.clear();
    object.icon_of.clear();
    return {};
  }
  RAKUGO_ASSIGN(base::Bytes bytes, base::readFile(o.value));
  RAKUGO_TRY(formats::pictureInfo(bytes, o.value));
  const std::string path = "icons/" + o.object + std::filesystem::path(o.value).extension().string();
  open.state.icons.erase(object.icon);
  open.state.icons[path] = std::make_shared<const base::Bytes>(std::move(bytes));
  object.icon = path;
  object.icon_of.clear();  // a picture of one's own is not held against the object
  return {};
}

base::Status setCardField(OpenMod& open, const FieldOptions& o) {
  RAKUGO_ASSIGN(mod::ObjectDoc* const found,
                named(open.state.objects, o.object, "object", "mod.no_object", open.folder));
  mod::ObjectDoc& object = *found;
  const rulebook::Kind* kind = open.book->findKind(object.kind);
  const rulebook::Field* field = kind != nullptr ? kind->findField(o.field) : nullptr;
  if (field == nullptr && o.field == "title") {
    object.title = o.unset ? std::string() : o.value;
    return {};
  }
  if (field == nullptr && o.field == "kind") {
    object.kind = o.value;
    return {};
  }
  if (field == nullptr && o.field == "icon") return setIcon(open, o);
  if (field == nullptr && o.field == "replaces") {
    object.replaces = o.unset ? std::string() : o.value;
    return {};
  }
  if (o.unset) {
    object.card.erase(o.field);
    return {};
  }
  if (field == nullptr) {
    std::vector<std::string> known;
    if (kind != nullptr)
      for (const rulebook::Field& one : kind->fields) known.push_back(one.id);
    const std::string near = base::nearMiss(o.field, known);
    return base::Error{
        "field.unknown",
        "The game's record of a " + (kind != nullptr ? kind->title : object.kind) + " has no field " +
            base::presentable(o.field, 60) + ".",
        base::Place{open.folder},
        near.empty() ? "It has " + base::listText(known, 20) + "." : near + " is probably meant."};
  }
  RAKUGO_ASSIGN(object.card[o.field], rulebook::typedValue(*field, o.value));
  return {};
}

int setField(const Common& common, const FieldOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const base::Status set = o.object == "." ? setModField(*open, o) : setCardField(*open, o);
  if (!set) return failed(common, set.error());
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  const std::string what = (o.object == "." ? "" : o.object + ", ") + o.field;
  return said(common,
              Json{{"object", o.object}, {"field", o.field}, {"value", o.unset ? Json() : Json(o.value)}},
              o.unset ? what + " is empty now.\n" : what + ": " + base::presentable(o.value, 200) + "\n");
}

int listFields(const Common& common, const FieldOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto found = named(open->state.objects, o.object, "object", "mod.no_object", o.mod);
  if (!found) return failed(common, found.error());
  const mod::ObjectDoc& object = **found;
  const rulebook::Kind* kind = open->book->findKind(object.kind);
  Json fields = Json::array();
  std::string text = fmt::format("title: {}\nkind: {}\n", object.title, object.kind);
  for (const rulebook::Field& field : kind != nullptr ? kind->fields : std::vector<rulebook::Field>{}) {
    const Json* value = base::memberOf(object.card, field.id.c_str());
    fields.push_back(Json{{"field", field.id},
                          {"title", field.title},
                          {"required", field.required},
                          {"value", value != nullptr ? *value : Json()}});
    text += fmt::format("{}: {}{}\n", field.id,
                        value == nullptr     ? ""
                        : value->is_string() ? value->get<std::string>()
                                             : base::jsonLine(*value),
                        value == nullptr && field.required ? "(required)" : "");
  }
  return said(common,
              Json{{"object", o.object}, {"kind", object.kind}, {"title", object.title}, {"fields", fields}},
              text);
}

base::Error noPoint(const FieldOptions& o, const mod::ModelDoc& model) {
  std::vector<std::string> known;
  for (const mod::PointDoc& p : model.points) known.push_back(p.id);
  return unknownThing("point.unknown", "point", o.point, known, o.mod);
}

int setPoint(const Common& common, const FieldOptions& o, bool remove) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto model = named(open->state.models, o.model, "model", "mod.no_model", o.mod);
  if (!model) return failed(common, model.error());
  const mod::PointDoc* known = prepare::findPoint(**model, o.point);
  if (remove && known == nullptr) return failed(common, noPoint(o, **model));
  if (remove) {
    if (const base::Status done = prepare::removePoint(**model, o.point); !done)
      return failed(common, done.error());
  } else {
    prepare::PiecePlace place = known != nullptr ? prepare::placeOf(*known) : prepare::PiecePlace();
    for (size_t i = 0; i < 3; ++i) place.position_m[i] = o.at_m[i];
    if (!o.turn_deg.empty()) {
      const glm::dquat turn =
          prepare::turnOf(prepare::gameAxes(*open->book), {o.turn_deg[0], o.turn_deg[1], o.turn_deg[2]});
      place.turn = {turn.x, turn.y, turn.z, turn.w};
    }
    prepare::placePoint(**model, o.point, place, open->book->side());
  }
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  return said(common, Json{{"model", o.model}, {"point", o.point}, {"removed", remove}},
              remove ? "Removed the point " + o.point + ".\n"
                     : fmt::format("{} stands at {}, {}, {} m.\n", o.point, base::numberText(o.at_m[0], 4),
                                   base::numberText(o.at_m[1], 4), base::numberText(o.at_m[2], 4)));
}

int pairPoint(const Common& common, const FieldOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto model = named(open->state.models, o.model, "model", "mod.no_model", o.mod);
  if (!model) return failed(common, model.error());
  if (prepare::findPoint(**model, o.point) == nullptr) return failed(common, noPoint(o, **model));
  if (const base::Status done = prepare::pairPoints(**model, o.point, o.value, open->book->side()); !done)
    return failed(common, done.error());
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  return said(common, Json{{"model", o.model}, {"point", o.point}, {"pair", o.value}},
              o.value.empty() ? o.point + " stands alone.\n"
                              : o.value + " is the mirror image of " + o.point + ".\n");
}

int listPoints(const Common& common, const FieldOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto model = named(open->state.models, o.model, "model", "mod.no_model", o.mod);
  if (!model) return failed(common, model.error());
  Json list = Json::array();
  std::string text;
  for (const mod::PointDoc& p : (*model)->points) {
    list.push_back(Json{{"id", p.id}, {"position_m", p.position_m}, {"turn", p.turn}, {"pair", p.pair}});
    text += fmt::format("{}: {}, {}, {} m{}\n", p.id, base::numberText(p.position_m[0], 4),
                        base::numberText(p.position_m[1], 4), base::numberText(p.position_m[2], 4),
                        p.pair.empty() ? "" : ", a pair with " + p.pair);
  }
  return said(common, list, text.empty() ? "No points yet.\n" : text);
}

void addPointCommands(Tool& tool, const std::shared_ptr<FieldOptions>& o) {
  CLI::App* points = tool.group("point", "Attachment points of a model");
  const auto command = [&](const char* name, const char* help) {
    CLI::App* sub = tool.command(name, help, points);
    sub->add_option("MOD", o->mod, "The mod's folder")->required();
    sub->add_option("MODEL", o->model, "The model's name in the mod")->required();
    return sub;
  };
  CLI::App* sub = command("list", "The points that are placed");
  tool.runs(sub, [o](const Common& common) { return listPoints(common, *o); });
  sub = command("set", "Place a point, in metres of the prepared model");
  sub->add_option("POINT", o->point, "What the game calls it")->required();
  sub->add_option("PLACE", o->at_m, "X Y Z")->required()->expected(3);
  sub->add_option("--turn", o->turn_deg, "Degrees about the game's forward, side and up axes")->expected(3);
  tool.runs(sub, [o](const Common& common) { return setPoint(common, *o, false); });
  sub = command("pair", "Make another point its mirror image, now and whenever either is placed");
  sub->add_option("POINT", o->point, "What the game calls it")->required();
  sub->add_option("OTHER", o->value, "The other point, placed by it; without it the point stands alone");
  tool.runs(sub, [o](const Common& common) { return pairPoint(common, *o); });
  sub = command("remove", "Take a point away");
  sub->add_option("POINT", o->point, "What the game calls it")->required();
  tool.runs(sub, [o](const Common& common) { return setPoint(common, *o, true); });
}

}  // namespace

void addFieldCommands(Tool& tool) {
  const auto o = std::make_shared<FieldOptions>();
  CLI::App* sub = tool.command("set", "Set a field of an object's card, or of the mod");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("OBJECT", o->object, "The object's name; \".\" for the mod itself")->required();
  sub->add_option(
         "FIELD", o->field,
         "The field's id; also title, kind, icon: a picture file, and replaces: what of the game it stands "
         "in place of")
      ->required();
  CLI::Option* value = sub->add_option("VALUE", o->value, "Its value, as the field's type wants it");
  CLI::Option* unset = sub->add_flag("--unset", o->unset, "Empty the field");
  tool.runs(sub, [o, value, unset](const Common& common) {
    if (value->count() == 0 && unset->count() == 0) throw CLI::RequiredError("VALUE or --unset");
    return setField(common, *o);
  });
  sub = tool.command("fields", "The card of an object, field by field");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("OBJECT", o->object, "The object's name")->required();
  tool.runs(sub, [o](const Common& common) { return listFields(common, *o); });
  addPointCommands(tool, o);
}

}  // namespace rakugo::tool
