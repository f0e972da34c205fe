// From rulebook.json to a Rulebook. docs/rulebook.md is the specification of what is read here.
#include <algorithm>
#include <cmath>
#include <set>

#include "base/files.h"
#include "base/text.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {
namespace {

using base::Json;
using base::JsonFields;

// An identifier of the rulebook: lower-case letters, digits, dash, underscore.
std::string readId(JsonFields& in, const char* key) {
  std::string id = in.requiredText(key);
  for (const char c : id)
    if (!((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-' || c == '_')) {
      in.complain("rulebook.id", "An id is made of lower-case letters, digits, dashes and underscores.", key,
                  "Write \"" + base::slug(id) + "\".");
      break;
    }
  return id;
}

// Complains of ids that stand twice in a list.
template <class List>
void refuseRepeats(JsonFields& in, const char* key, const List& list) {
  std::set<std::string> seen;
  for (size_t i = 0; i < list.size(); ++i)
    if (!list[i].id.empty() && !seen.insert(list[i].id).second)
      in.complain("rulebook.repeated", "The id \"" + list[i].id + "\" stands twice in this list.",
                  std::string(key) + "/" + std::to_string(i) + "/id");
}

geometry::Axis readAxis(JsonFields& in, const char* key, geometry::Axis fallback) {
  if (!in.has(key)) return fallback;
  const auto axis = geometry::axisFromName(in.text(key));
  if (!axis) in.complain("rulebook.axis", "An axis is one of +X, -X, +Y, -Y, +Z, -Z.", key);
  return axis.value_or(fallback);
}

std::optional<Band> readBand(JsonFields& in, const char* key) {
  const auto two = in.numbers(key, 2);
  if (!two) return std::nullopt;
  if ((*two)[0] < 0 || (*two)[0] > (*two)[1]) {
    in.complain("rulebook.band", "A range is [smallest, largest], neither negative.", key);
    return std::nullopt;
  }
  return Band{(*two)[0], (*two)[1]};
}

Condition readCondition(JsonFields& in, const char* key) {
  Condition out;
  if (auto when = in.object(key)) {
    out.field = when->requiredText("field");
    if (when->has("is"))
      out.is = when->json()["is"];
    else
      when->complain("json.missing", "The field \"is\" is missing.", "is");
    when->refuseOthers({"field", "is"});
  }
  return out;
}

std::optional<Outcome> readOutcome(JsonFields& in, const char* key) {
  if (!in.has(key)) return std::nullopt;
  const auto outcome = outcomeFromName(in.text(key));
  if (!outcome)
    in.complain("rulebook.outcome",
                "What the game does is refuses_mod, refuses_object, shows_wrong, shows_blank, takes_default "
                "or ignores.",
                key);
  return outcome;
}

std::map<std::string, Outcome> readOutcomes(JsonFields& in) {
  std::map<std::string, Outcome> out;
  const auto outcomes = in.object("outcomes");
  if (!outcomes || !outcomes->json().is_object()) return out;
  JsonFields fields = *outcomes;
  for (const auto& [check, value] : fields.json().items())
    if (const auto outcome = readOutcome(fields, check.c_str())) out[check] = *outcome;
  return out;
}

bool fitsField(const Field& f, const Json& value) {
  switch (f.type) {
    case FieldType::text:
    case FieldType::long_text:
    case FieldType::text_id:
      return value.is_string();
    case FieldType::number:
      return value.is_number();
    case FieldType::integer:
      return value.is_number_integer();
    case FieldType::flag:
      return value.is_boolean();
    case FieldType::choice:
      return value.is_string() &&
             std::find(f.choices.begin(), f.choices.end(), value.get<std::string>()) != f.choices.end();
  }
  return false;
}

Field readField(JsonFields& in) {
  Field f;
  f.id = readId(in, "id");
  f.title = in.requiredText("title");
  f.help = in.text("help");
  f.unit = in.text("unit");
  const std::string type = in.requiredText("type");
  static const std::vector<std::pair<std::string, FieldType>> kTypes = {
      {"text", FieldType::text},       {"long_text", FieldType::long_text}, {"number", FieldType::number},
      {"integer", FieldType::integer}, {"choice", FieldType::choice},       {"flag", FieldType::flag},
      {"text_id", FieldType::text_id}};
  const auto known =
      std::find_if(kTypes.begin(), kTypes.end(), [&](const auto& t) { return t.first == type; });
  if (known != kTypes.end())
    f.type = known->second;
  else if (!type.empty())
    in.complain("rulebook.field_type",
                "A field is text, long_text, number, integer, choice, flag or text_id.", "type");
  f.required = in.flag("required");
  f.min = in.optionalNumber("min");
  f.max = in.optionalNumber("max");
  if (f.min && f.max && *f.min > *f.max) in.complain("rulebook.band", "min is above max.", "min");
  f.max_length = in.integer("max_length");
  f.choices = in.texts("choices");
  if (f.type == FieldType::choice && f.choices.empty())
    in.complain("rulebook.choices", "A choice needs a list of choices.", "choices");
  if (in.has("default")) {
    f.default_value = in.json()["default"];
    if (!fitsField(f, f.default_value))
      in.complain("rulebook.default", "The default does not fit the field.", "default");
  }
  f.when_empty = readOutcome(in, "when_empty");
  f.when_outside = readOutcome(in, "when_outside");
  in.refuseOthers({"id", "title", "help", "unit", "type", "required", "min", "max", "max_length", "choices",
                   "default", "when_empty", "when_outside"});
  return f;
}

Role readRole(JsonFields& in) {
  Role r;
  r.id = readId(in, "id");
  r.title = in.requiredText("title");
  r.help = in.text("help");
  r.required = in.flag("required");
  r.when = readCondition(in, "when");
  r.hints = in.texts("hints");
  r.effect = in.text("effect");
  if (!r.effect.empty() && r.effect != "tint" && r.effect != "glow")
    in.complain("rulebook.effect", "An effect is tint or glow.", "effect");
  if (const auto rgb = in.numbers("swatch", 3))
    for (size_t i = 0; i < 3; ++i) r.swatch[i] = static_cast<float>(std::clamp((*rgb)[i], 0.0, 1.0));
  in.refuseOthers({"id", "title", "help", "required", "when", "hints", "swatch", "effect"});
  return r;
}

NamedPart readNamedPart(JsonFields& in) {
  NamedPart p;
  // The name is the game's, not ours: anything printable.
  p.id = in.requiredText("id");
  if (p.id != base::presentable(p.id, 64))
    in.complain("rulebook.part", "A part's name is printable and at most 64 bytes long.", "id");
  p.title = in.requiredText("title");
  p.help = in.text("help");
  p.required = in.flag("required", true);
  p.hints = in.texts("hints");
  in.refuseOthers({"id", "title", "help", "required", "hints"});
  return p;
}

Point readPoint(JsonFields& in) {
  Point p;
  p.id = readId(in, "id");
  p.title = in.requiredText("title");
  p.help = in.text("help");
  p.required = in.flag("required");
  p.when = readCondition(in, "when");
  if (auto propose = in.object("propose")) {
    p.propose_role = propose->text("role");
    p.propose_at = propose->text("at");
    if (!p.propose_at.empty() && p.propose_at != "top" && p.propose_at != "centre" &&
        p.propose_at != "floor_centre")
      propose->complain("rulebook.propose", "A place is top, centre or floor_centre.", "at");
    propose->refuseOthers({"role", "at"});
  }
  p.pair = in.text("pair");
  in.refuseOthers({"id", "title", "help", "required", "when", "propose", "pair"});
  return p;
}

void readGrid(JsonFields& in, Grid& grid) {
  auto own = in.object("grid");
  if (!own) return;
  grid.cell_m = own->number("cell_m");
  if (!(grid.cell_m > 0.001 && grid.cell_m < 1000))
    own->complain("rulebook.grid", "A cell is a positive length in metres.", "cell_m");
  if (const auto cells = own->numbers("cells", 3))
    for (size_t i = 0; i < 3; ++i) {
      grid.cells[i] = static_cast<int>(std::clamp((*cells)[i], 0.0, 1000.0));
      if (grid.cells[i] < 1 || grid.cells[i] != (*cells)[i])
        own->complain("rulebook.grid", "Cells are whole numbers from 1.", "cells/" + std::to_string(i));
    }
  grid.linear = own->flag("linear");
  own->refuseOthers({"cell_m", "cells", "linear"});
}

void readLighter(JsonFields& in, LighterRule& rule) {
  auto own = in.object("lighter");
  if (!own) return;
  rule.over_triangles = own->integer("over_triangles");
  rule.levels = own->integer("levels", 2);
  rule.from_m = own->number("from_m", 12);
  if (rule.over_triangles < 1)
    own->complain("rulebook.lighter", "A number of triangles from 1 is wanted.", "over_triangles");
  if (rule.levels < 1 || rule.levels > 4) own->complain("rulebook.lighter", "Levels are 1 to 4.", "levels");
  if (!(rule.from_m > 0 && rule.from_m <= 1e5))
    own->complain("rulebook.lighter", "A distance lies between 0 and 100,000 m.", "from_m");
  own->refuseOthers({"over_triangles", "levels", "from_m"});
}

Bone readBone(JsonFields& in) {
  Bone b;
  // A bone's name is the game's, not ours: anything printable.
  b.id = in.requiredText("id");
  if (b.id != base::presentable(b.id, 64))
    in.complain("rulebook.bone", "A bone's name is printable and at most 64 bytes long.", "id");
  b.title = in.requiredText("title");
  b.parent = in.text("parent");
  const std::string side = in.text("side", "centre");
  b.side = side == "left" ? Side::left : side == "right" ? Side::right : Side::centre;
  if (side != "left" && side != "right" && side != "centre")
    in.complain("rulebook.side", "A side is left, right or centre.", "side");
  b.required = in.flag("required", true);
  if (const auto at = in.numbers("at_m", 3))
    for (size_t i = 0; i < 3; ++i) b.at_m[i] = (*at)[i];
  else
    in.complain("json.missing", "A bone needs its place in the rest pose: [forward, left, up] in metres.",
                "at_m");
  b.hints = in.texts("hints");
  if (const auto turn = in.numbers("turn", 4)) {
    double length = 0;
    for (size_t i = 0; i < 4; ++i) length += (*turn)[i] * (*turn)[i];
    if (!(std::abs(length - 1) < 1e-3))
      in.complain("rulebook.turn", "A turn is a unit quaternion: [x, y, z, w].", "turn");
    for (size_t i = 0; i < 4; ++i) b.turn[i] = (*turn)[i];
  }
  b.most_deg = in.number("most_deg");
  if (!(b.most_deg >= 0 && b.most_deg <= 180))
    in.complain("rulebook.angle", "An angle is 0 to 180 degrees.", "most_deg");
  in.refuseOthers({"id", "title", "parent", "side", "required", "at_m", "hints", "turn", "most_deg"});
  return b;
}

void readMovements(JsonFields& in, Skeleton& s) {
  auto movements = in.object("movements");
  if (!movements) return;
  s.movements_file = movements->requiredText("file");
  if (!base::isInnerPath(s.movements_file))
    movements->complain("rulebook.path", "The path must lie inside the rulebook's folder.", "file");
  for (JsonFields& one : movements->objects("list")) {
    Movement movement{one.requiredText("id"), one.requiredText("title"), one.flag("loops"), {}};
    if (one.has("moments_s")) {
      const Json& moments = one.json()["moments_s"];
      movement.moments_s =
          one.numbers("moments_s", moments.is_array() ? moments.size() : 1).value_or(std::vector<double>());
      const bool good = std::all_of(movement.moments_s.begin(), movement.moments_s.end(),
                                    [](double moment) { return moment >= 0 && moment <= 600; });
      if (!good || movement.moments_s.size() > 32)
        one.complain("rulebook.moment", "At most 32 moments, each of 0 to 600 seconds.", "moments_s");
    }
    one.refuseOthers({"id", "title", "loops", "moments_s"});
    s.movements.push_back(std::move(movement));
  }
  refuseRepeats(*movements, "list", s.movements);
  movements->refuseOthers({"file", "list"});
}

Skeleton readSkeleton(JsonFields& in) {
  Skeleton s;
  s.id = readId(in, "id");
  s.title = in.requiredText("title");
  for (JsonFields& one : in.objects("bones")) {
    Bone bone = readBone(one);
    if (!bone.parent.empty() && s.findBone(bone.parent) == nullptr)
      one.complain(
          "rulebook.bone",
          "The parent \"" + base::presentable(bone.parent, 60) + "\" does not stand before this bone.",
          "parent", "List parents before their children.");
    if (bone.parent.empty() && !s.bones.empty())
      one.complain("rulebook.bone", "Only the first bone is without a parent.", "parent");
    // A left bone on the right side would swap every match made by position.
    if ((bone.side == Side::left && bone.at_m[1] <= 0) || (bone.side == Side::right && bone.at_m[1] >= 0))
      one.complain("rulebook.side", "The bone does not lie on the side it says: left is positive.", "at_m/1");
    s.bones.push_back(std::move(bone));
  }
  if (s.bones.empty()) in.complain("rulebook.bone", "A skeleton needs bones.", "bones");
  refuseRepeats(in, "bones", s.bones);
  for (JsonFields& one : in.objects("chains")) {
    Chain chain{readId(one, "id"), one.requiredText("title"), one.texts("bones"), one.flag("plants")};
    for (size_t i = 0; i < chain.bones.size(); ++i) {
      const Bone* bone = s.findBone(chain.bones[i]);
      if (bone == nullptr || (i > 0 && bone->parent != chain.bones[i - 1]))
        one.complain("rulebook.chain",
                     "A chain names bones of the skeleton, each the child of the one before.",
                     "bones/" + std::to_string(i));
    }
    one.refuseOthers({"id", "title", "bones", "plants"});
    s.chains.push_back(std::move(chain));
  }
  refuseRepeats(in, "chains", s.chains);
  readMovements(in, s);
  in.refuseOthers({"id", "title", "bones", "chains", "movements"});
  return s;
}

Kind readKind(JsonFields& in) {
  Kind k;
  k.id = readId(in, "id");
  k.title = in.requiredText("title");
  k.help = in.text("help");
  if (auto size = in.object("size_m")) {
    k.length_m = readBand(*size, "length");
    k.width_m = readBand(*size, "width");
    k.height_m = readBand(*size, "height");
    k.reach_m = readBand(*size, "reach");
    size->refuseOthers({"length", "width", "height", "reach"});
  }
  k.volume_l = readBand(in, "volume_l");
  k.texels_per_m = readBand(in, "texels_per_m");
  for (JsonFields& one : in.objects("parts")) k.parts.push_back(readNamedPart(one));
  refuseRepeats(in, "parts", k.parts);
  const std::string origin = in.text("origin", "any");
  if (origin == "floor_centre")
    k.origin = OriginRule::floor_centre;
  else if (origin == "centre")
    k.origin = OriginRule::centre;
  else if (origin != "any")
    in.complain("rulebook.origin", "An origin is any, floor_centre or centre.", "origin");
  k.origin_tolerance_m = in.number("origin_tolerance_m", 0.02);
  k.baked = in.flag("baked");
  k.max_triangles = in.integer("max_triangles");
  k.max_vertices = in.integer("max_vertices");
  k.max_part_triangles = in.integer("max_part_triangles");
  k.max_parts = in.integer("max_parts");
  k.max_materials = in.integer("max_materials");
  k.max_bones = in.integer("max_bones");
  k.max_influences = in.integer("max_influences");
  for (const char* limit : {"max_triangles", "max_vertices", "max_part_triangles", "max_parts",
                            "max_materials", "max_bones", "max_influences"})
    if (in.integer(limit) < 0)
      in.complain("rulebook.limit", "A limit is not negative; 0 is no limit.", limit);
  k.skeleton = in.text("skeleton");
  for (JsonFields& one : in.objects("regions")) {
    k.regions.push_back(
        {readId(one, "id"), one.requiredText("title"), one.text("help"), one.flag("required", true)});
    one.refuseOthers({"id", "title", "help", "required"});
  }
  for (JsonFields& one : in.objects("variants")) {
    k.variants.push_back({readId(one, "id"), one.requiredText("title")});
    one.refuseOthers({"id", "title"});
  }
  refuseRepeats(in, "regions", k.regions);
  refuseRepeats(in, "variants", k.variants);
  if (auto body = in.object("body")) {
    k.body = body->requiredText("file");
    k.body_title = body->requiredText("title");
    if (!k.body.empty() && !base::isInnerPath(k.body))
      body->complain("rulebook.path", "The path must lie inside the rulebook's folder.", "file");
    k.seam_mm = body->number("seam_mm", 1);
    if (!(k.seam_mm > 0 && k.seam_mm <= 1000))
      body->complain("rulebook.body", "A gap lies between 0 and 1,000 mm.", "seam_mm");
    body->refuseOthers({"file", "title", "seam_mm"});
  }
  readGrid(in, k.grid);
  readLighter(in, k.lighter);
  for (JsonFields& one : in.objects("roles")) k.roles.push_back(readRole(one));
  for (JsonFields& one : in.objects("points")) k.points.push_back(readPoint(one));
  for (JsonFields& one : in.objects("fields")) k.fields.push_back(readField(one));
  refuseRepeats(in, "roles", k.roles);
  refuseRepeats(in, "points", k.points);
  refuseRepeats(in, "fields", k.fields);
  if (auto ghost = in.object("ghost")) {
    k.ghost = ghost->requiredText("file");
    k.ghost_title = ghost->requiredText("title");
    if (!k.ghost.empty() && !base::isInnerPath(k.ghost))
      ghost->complain("rulebook.path", "The path must lie inside the rulebook's folder.", "file");
    ghost->refuseOthers({"file", "title"});
  }
  k.outcomes = readOutcomes(in);
  if (auto icon = in.object("icon")) {
    const int64_t width = icon->integer("width"), height = icon->integer("height");
    if (width < 8 || height < 8 || width > 2048 || height > 2048)
      icon->complain("rulebook.icon", "An icon's sides are 8 to 2048 pixels.");
    else
      k.icon_width = static_cast<uint32_t>(width), k.icon_height = static_cast<uint32_t>(height);
    icon->refuseOthers({"width", "height"});
  }
  // A condition that names no field of the kind could never hold.
  const auto checkCondition = [&](const Condition& when, const std::string& place) {
    if (!when.field.empty() && k.findField(when.field) == nullptr)
      in.complain("rulebook.condition",
                  "The condition names the field \"" + when.field + "\", which the kind does not have.",
                  place + "/when/field");
  };
  for (size_t i = 0; i < k.roles.size(); ++i) checkCondition(k.roles[i].when, "roles/" + std::to_string(i));
  for (size_t i = 0; i < k.points.size(); ++i) {
    checkCondition(k.points[i].when, "points/" + std::to_string(i));
    if (const std::string& pair = k.points[i].pair; !pair.empty()) {
      const Point* other = k.findPoint(pair);
      if (other == nullptr || other->pair != k.points[i].id)
        in.complain("rulebook.pair", "A pair is two points of the kind that name each other.",
                    "points/" + std::to_string(i) + "/pair");
    }
    if (!k.points[i].propose_role.empty() && k.findRole(k.points[i].propose_role) == nullptr)
      in.complain("rulebook.propose", "The proposal names a role that the kind does not have.",
                  "points/" + std::to_string(i) + "/propose/role");
  }
  in.refuseOthers({"id",           "title",
                   "help",         "size_m",
                   "origin",       "origin_tolerance_m",
                   "baked",        "max_triangles",
                   "max_vertices", "max_part_triangles",
                   "max_parts",    "max_materials",
                   "max_bones",    "max_influences",
                   "skeleton",     "volume_l",
                   "texels_per_m", "parts",
                   "regions",      "body",
                   "variants",     "grid",
                   "lighter",      "roles",
                   "points",       "fields",
                   "ghost",        "icon",
                   "outcomes"});
  return k;
}

void readSpace(JsonFields& in, Rulebook& r) {
  auto space = in.object("space");
  if (!space) return in.complain("json.missing", "The field \"space\" is missing.", "space");
  r.unit_m = space->number("unit_m", 1);
  if (!(r.unit_m > 1e-6 && r.unit_m < 1e6))
    space->complain("rulebook.unit", "The unit must be a positive length in metres.", "unit_m");
  r.up = readAxis(*space, "up", r.up);
  r.forward = readAxis(*space, "forward", r.forward);
  if (geometry::parallel(r.up, r.forward))
    space->complain("rulebook.axis", "up and forward lie on one line.", "forward");
  const std::string hand = space->text("handedness", "right");
  r.right_handed = hand != "left";
  if (hand != "left" && hand != "right")
    space->complain("rulebook.handedness", "Handedness is left or right.", "handedness");
  r.person_height_m = space->number("person_height_m", 1.7);
  space->refuseOthers({"unit_m", "up", "forward", "handedness", "person_height_m"});
}

Rulebook readRulebook(JsonFields& in) {
  Rulebook r;
  if (const int64_t format = in.integer("format", 0); format != 1)
    in.complain(
        "rulebook.format",
        "The rulebook has format " + std::to_string(format) + "; this version of Rakugo reads format 1.",
        "format", format > 1 ? "Use a newer Rakugo." : "");
  r.id = readId(in, "id");
  r.version = in.requiredText("version");
  r.title = in.requiredText("title");
  r.description = in.text("description");
  readSpace(in, r);
  for (JsonFields& one : in.objects("kinds")) r.kinds.push_back(readKind(one));
  if (r.kinds.empty()) in.complain("rulebook.kinds", "A rulebook needs at least one kind.", "kinds");
  refuseRepeats(in, "kinds", r.kinds);
  for (JsonFields& one : in.objects("skeletons")) r.skeletons.push_back(readSkeleton(one));
  refuseRepeats(in, "skeletons", r.skeletons);
  for (size_t i = 0; i < r.kinds.size(); ++i)
    if (!r.kinds[i].skeleton.empty() && r.findSkeleton(r.kinds[i].skeleton) == nullptr)
      in.complain("rulebook.skeleton",
                  "The kind names the skeleton \"" + base::presentable(r.kinds[i].skeleton, 60) +
                      "\", which the rulebook does not have.",
                  "kinds/" + std::to_string(i) + "/skeleton");
  for (JsonFields& one : in.objects("samples")) {
    r.samples.push_back({one.requiredText("folder"), one.requiredText("title"), one.text("help")});
    if (!base::isInnerPath(r.samples.back().folder))
      one.complain("rulebook.path", "The path must lie inside the rulebook's folder.", "folder");
    one.refuseOthers({"folder", "title", "help"});
  }
  r.packaging = in.text("packaging", "bundle");
  if (r.packaging != base::slug(r.packaging))
    in.complain("rulebook.packaging", "Packaging is the name of a sort of package, as bundle or zip.",
                "packaging");
  if (auto meshes = in.object("meshes")) {
    const int64_t bits = meshes->integer("index_bits", 32);
    if (bits != 16 && bits != 32)
      meshes->complain("rulebook.meshes", "Indices have 16 or 32 bits.", "index_bits");
    r.index_bits = bits == 16 ? 16 : 32;
    meshes->refuseOthers({"index_bits"});
  }
  if (auto pictures = in.object("pictures")) {
    r.picture_max_side = static_cast<uint32_t>(std::clamp<int64_t>(pictures->integer("max_side"), 0, 16384));
    r.picture_power_of_two = pictures->flag("power_of_two");
    pictures->refuseOthers({"max_side", "power_of_two"});
  }
  for (JsonFields& one : in.objects("shared_assets")) {
    r.shared_assets.push_back({one.requiredText("id"), one.text("title")});
    one.refuseOthers({"id", "title"});
  }
  refuseRepeats(in, "shared_assets", r.shared_assets);
  r.target = in.text("target", "desktop");
  r.outcomes = readOutcomes(in);
  if (auto reasons = in.object("reasons"); reasons && reasons->json().is_object())
    for (const auto& [key, value] : reasons->json().items())
      r.reasons.emplace_back(key, reasons->text(key.c_str()));
  in.refuseOthers({"format", "id", "version", "title", "description", "space", "kinds", "meshes", "pictures",
                   "shared_assets", "target", "reasons", "outcomes", "skeletons", "samples", "packaging"});
  return r;
}

}  // namespace

base::Result<Rulebook> parseRulebook(std::string_view text, const std::string& file,
                                     std::vector<base::Error>* mistakes) {
  std::vector<base::Error> own;
  std::vector<base::Error>& list = mistakes != nullptr ? *mistakes : own;
  auto json = base::parseJson(text, file);
  if (!json) {
    list.push_back(json.error());
    return json.error();
  }
  JsonFields in(*json, file, "", list);
  Rulebook out = readRulebook(in);
  if (!list.empty()) return list.front();
  return out;
}

}  // namespace rakugo::rulebook
