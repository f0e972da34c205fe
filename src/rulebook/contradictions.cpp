#include "rulebook/contradictions.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "rulebook/field_value.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::rulebook {
namespace {

constexpr const char *kContradiction = "rulebook.contradiction", *kNoEffect = "rulebook.no_effect";

std::string counted(int64_t value) { return base::groupedText(static_cast<uint64_t>(value)); }

// One kind while its rules are held against each other.
struct Held {
  const Rulebook& book;
  const Kind& kind;
  std::string at;
  Mistakes& mistakes;

  void cannot(const std::string& key, const std::string& message, const std::string& cure) const {
    mistakes.add(kContradiction, at + "/" + key, message, cure);
  }
  void idle(const std::string& key, const std::string& message, const std::string& cure) const {
    mistakes.add(kNoEffect, at + "/" + key, message, cure);
  }
};

void holdBudgets(const Held& h) {
  const Kind& k = h.kind;
  if (k.max_triangles > 0 && k.max_part_triangles > k.max_triangles)
    h.idle("max_part_triangles",
           base::phrase("No part can have more triangles than the whole model may: {0}.",
                        counted(k.max_triangles)),
           base::phrase("Make it smaller than max_triangles, or leave it out."));
  if (k.max_triangles > 0 && k.max_vertices >= 3 * k.max_triangles)
    h.idle("max_vertices",
           base::phrase("{0} triangles never have that many vertices.", counted(k.max_triangles)),
           base::phrase("Make it smaller than three times max_triangles, or leave it out."));
  if (k.max_vertices == 1 || k.max_vertices == 2)
    h.cannot("max_vertices", base::phrase("A triangle alone has three vertices."),
             base::phrase("Allow more."));
  if (k.lighter.over_triangles > 0 && k.max_triangles > 0 && k.lighter.over_triangles >= k.max_triangles)
    h.idle(
        "lighter/over_triangles",
        base::phrase("A model of this kind has at most {0} triangles, so that none needs lighter versions.",
                     counted(k.max_triangles)),
        base::phrase("Make it smaller than max_triangles."));
}

template <class List>
int64_t alwaysRequired(const List& list) {
  return std::count_if(list.begin(), list.end(), [](const auto& one) { return one.required; });
}

void holdCounts(const Held& h) {
  const Kind& k = h.kind;
  if (const int64_t needed = alwaysRequired(k.parts); k.max_parts > 0 && needed > k.max_parts)
    h.cannot("max_parts", base::phrase("The kind requires {0} parts.", counted(needed)),
             base::phrase("Allow as many, or require fewer."));
  int64_t roles = 0;
  for (const Role& role : k.roles) roles += role.required && role.when.field.empty() ? 1 : 0;
  if (k.max_materials > 0 && roles > k.max_materials)
    h.cannot("max_materials", base::phrase("The kind requires materials with {0} roles.", counted(roles)),
             base::phrase("Allow as many, or require fewer."));
  const Skeleton* skeleton = h.book.findSkeleton(k.skeleton);
  if (skeleton != nullptr && k.max_bones > 0 && !h.mistakes.inside("/skeletons")) {
    if (const int64_t needed = alwaysRequired(skeleton->bones); needed > k.max_bones)
      h.cannot("max_bones",
               base::phrase("The skeleton \"{0}\" requires {1} bones.", k.skeleton, counted(needed)),
               base::phrase("Allow as many, or mark bones as not required."));
  }
  if (!k.variants.empty() && k.body.empty() && k.regions.empty() && k.skeleton.empty())
    h.idle("variants",
           base::phrase("Sizes are of outfits: this kind has neither skeleton nor body nor regions."),
           base::phrase("Leave it out, or say what it is worn on."));
}

// The farthest vertex lies at least half of the largest smallest extent away from any origin.
void holdSizes(const Held& h) {
  const Kind& k = h.kind;
  double least = 0, volume_m3 = 1;
  bool boxed = true;
  for (const auto* band : {&k.length_m, &k.width_m, &k.height_m}) {
    if (*band) least = std::max(least, (*band)->min);
    boxed = boxed && *band;
    volume_m3 *= *band ? (*band)->max : 1;
  }
  for (const auto& [key, band] : {std::pair("length", &k.length_m), std::pair("width", &k.width_m),
                                  std::pair("height", &k.height_m), std::pair("reach", &k.reach_m)})
    if (*band && (*band)->max <= 0)
      h.cannot(std::string("size_m/") + key, base::phrase("Nothing that can be seen has a size of 0."),
               base::phrase("Write metres: [0.5, 2]."));
  if (k.reach_m && k.reach_m->max < least / 2)
    h.cannot("size_m/reach",
             base::phrase("A thing of at least {0} reaches at least half as far from any origin.",
                          base::lengthText(least)),
             base::phrase("Allow {0} or more.", base::numberText(least / 2)));
  if (k.volume_l && boxed && k.volume_l->min > volume_m3 * 1000)
    h.cannot("volume_l",
             base::phrase("The largest box that the kind allows holds {0} litres.",
                          base::numberText(volume_m3 * 1000)),
             base::phrase("Ask for less, or allow larger sizes."));
  if (k.texels_per_m && k.texels_per_m->max <= 0)
    h.cannot("texels_per_m", base::phrase("No picture has 0 pixels to a metre."),
             base::phrase("Write pixels: [64, 1024]."));
}

void holdGrid(const Held& h) {
  const Kind& k = h.kind;
  if (k.grid.cell_m <= 0) return;
  const auto sizes = {std::pair("length", &k.length_m), std::pair("width", &k.width_m),
                      std::pair("height", &k.height_m)};
  size_t axis = 0;
  for (const auto& [key, band] : sizes) {
    const int most = k.grid.cells[axis++];
    if (!*band) continue;
    const double fewest = std::max(1.0, std::ceil((*band)->min / k.grid.cell_m - 1e-6));
    const double fit = std::min<double>(most, std::floor((*band)->max / k.grid.cell_m + 1e-6));
    if (fewest > fit)
      return h.cannot(std::string("size_m/") + key,
                      base::phrase("No whole number of cells of {0}, at most {1}, lies in this range.",
                                   base::lengthText(k.grid.cell_m), most),
                      base::phrase("Change the range, or cell_m and cells of the grid."));
  }
}

// What a condition asks for must be what the field can be.
void holdCondition(const Held& h, const Condition& when, bool required, const std::string& at,
                   const std::vector<Field>* among = nullptr) {
  if (when.field.empty()) return;
  if (!required)
    return h.idle(at, base::phrase("A condition narrows `required`, and this is not required."),
                  base::phrase("Write \"required\": true, or leave the condition out."));
  const std::vector<Field>& fields = among != nullptr ? *among : h.kind.fields;
  const auto field =
      std::find_if(fields.begin(), fields.end(), [&](const Field& one) { return one.id == when.field; });
  if (field == fields.end()) return;
  const std::string place = at + "/is", title = "\"" + field->title + "\"";
  if (const auto fault = fieldFault(*field, when.is))
    h.cannot(place, base::phrase("{0} is never so: this {1}.", title, fault->what),
             base::phrase("It is {0}.", fault->expected));
}

// The game reads each word, or id where there is none, as one thing.
template <class List>
void holdWords(const Held& h, const List& list, const std::string& key) {
  std::map<std::string, std::string> read;
  for (const auto& one : list)
    if (one.word.empty()) read.emplace(one.id, one.title);
  for (size_t i = 0; i < list.size(); ++i)
    if (!list[i].word.empty())
      if (const auto [first, fresh] = read.emplace(list[i].word, list[i].title); !fresh)
        h.cannot(key + "/" + std::to_string(i) + "/word",
                 base::phrase("The game reads \"{0}\" as \"{1}\" already.", list[i].word, first->second),
                 base::phrase("Give one of the two another word."));
}

void holdHints(const Held& h) {
  std::map<std::string, std::string> seen;
  for (size_t i = 0; i < h.kind.roles.size(); ++i)
    for (size_t j = 0; j < h.kind.roles[i].hints.size(); ++j) {
      const auto [first, fresh] =
          seen.emplace(base::lowerAscii(h.kind.roles[i].hints[j]), h.kind.roles[i].title);
      if (!fresh)
        h.cannot(
            "roles/" + std::to_string(i) + "/hints/" + std::to_string(j),
            base::phrase("\"{0}\" is a hint of \"{1}\" already.", h.kind.roles[i].hints[j], first->second),
            base::phrase("Keep it at one of the two: a word that means both tells nothing."));
    }
}

// What a point names in the skeleton and in other kinds.
void holdHanging(const Held& h, const Point& point, const std::string& at) {
  const auto missing = [&](const std::string& key, const std::string& id, const char* list,
                           const std::string& cure) {
    h.mistakes.add("rulebook.reference", h.at + "/" + at + "/" + key,
                   base::phrase("There is no \"{0}\" among `{1}`.", base::presentable(id, 60), list), cure);
  };
  const Skeleton* skeleton = h.book.findSkeleton(h.kind.skeleton);
  if (!point.bone.empty() && h.kind.skeleton.empty())
    h.idle(at + "/bone", base::phrase("Things of this kind have no skeleton."),
           base::phrase("Name the kind's skeleton, or leave it out."));
  else if (!point.bone.empty() && skeleton != nullptr && skeleton->findBone(point.bone) == nullptr)
    missing("bone", point.bone, "bones", base::phrase("Write the id of a bone of the kind's skeleton."));
  if (h.mistakes.inside("/kinds")) return;  // the other kind may be what is wrong
  for (size_t i = 0; i < point.hangs.size(); ++i) {
    const Kind* kind = h.book.findKind(point.hangs[i].kind);
    const std::string key = "hangs/" + std::to_string(i);
    if (kind == nullptr)
      missing(key + "/kind", point.hangs[i].kind, "kinds", base::phrase("Write the id of a kind."));
    else if (!point.hangs[i].by.empty() && kind->findPoint(point.hangs[i].by) == nullptr)
      missing(key + "/by", point.hangs[i].by, "points",
              base::phrase("Write the id of a point of that kind, or leave it out."));
  }
}

void holdCard(const Held& h) {
  const Kind& k = h.kind;
  holdWords(h, k.roles, "roles");
  holdWords(h, k.points, "points");
  holdWords(h, k.fields, "fields");
  holdWords(h, k.regions, "regions");
  holdWords(h, k.pieces, "pieces");
  for (size_t i = 0; i < k.roles.size(); ++i)
    if (!k.roles[i].tones.empty() && k.roles[i].effect != "tint")
      h.idle("roles/" + std::to_string(i) + "/tones",
             base::phrase("Nobody chooses a colour for a role that takes none."),
             base::phrase("Write \"effect\": \"tint\", or leave the tones out."));
  for (size_t i = 0; i < k.roles.size(); ++i)
    holdCondition(h, k.roles[i].when, k.roles[i].required, "roles/" + std::to_string(i) + "/when");
  for (size_t i = 0; i < k.points.size(); ++i) holdHanging(h, k.points[i], "points/" + std::to_string(i));
  std::set<std::string> unpaired;  // a point that is named by one whose pair is wrong is not wrong itself
  for (size_t i = 0; i < k.points.size(); ++i) {
    const Point& point = k.points[i];
    const std::string at = "points/" + std::to_string(i);
    holdCondition(h, point.when, point.required, at + "/when");
    const Point* other = k.findPoint(point.pair);
    if (other == nullptr || (other != &point && other->pair == point.id) || unpaired.count(other->id) != 0)
      continue;
    unpaired.insert(point.id);
    h.cannot(at + "/pair", base::phrase("A pair is two points of the kind that name each other."),
             base::phrase("Name the other point here, and this one there."));
  }
}

// Keys that are of other types of field.
void holdFieldKeys(const Held& h, const Field& f, const std::string& at) {
  const bool number =
      f.type == FieldType::number || f.type == FieldType::integer || f.type == FieldType::range;
  const bool rows = f.type == FieldType::list || f.type == FieldType::curve;
  const bool text =
      f.type == FieldType::text || f.type == FieldType::long_text || f.type == FieldType::text_id;
  const auto ignored = [&](bool given, const char* key, const char* of) {
    if (given)
      h.idle(at + "/" + key, base::phrase("\"{0}\" is of {1} alone.", key, of),
             base::phrase("Leave it out."));
  };
  ignored(!number && !rows && f.min.has_value(), "min", "numbers");
  ignored(!number && !rows && f.max.has_value(), "max", "numbers");
  ignored(f.type != FieldType::reference && !f.to.empty(), "to", "references");
  ignored(!rows && !f.columns.empty(), "columns", "lists");
  ignored(!number && !f.unit.empty(), "unit", "numbers");
  ignored(!text && f.max_length > 0, "max_length", "texts");
  ignored(f.type != FieldType::choice && !f.choices.empty(), "choices", "choices");
  if (f.when_empty && !f.required)
    h.idle(at + "/when_empty", base::phrase("The field is not required: empty is no mistake."),
           base::phrase("Write \"required\": true, or leave it out."));
  if (f.when_outside && !(f.min || f.max || f.max_length > 0 || f.type == FieldType::choice))
    h.idle(at + "/when_outside", base::phrase("The field has no limits."),
           base::phrase("Give it limits, or leave this out."));
}

void holdField(const Held& h, const Field& f, const std::string& at);

// What a reference may name must be something that there is.
void holdReference(const Held& h, const Field& f, const std::string& at) {
  for (size_t i = 0; i < f.to.size(); ++i) {
    const std::string& word = f.to[i];
    const bool known =
        word == kSoundSort ||
        std::any_of(h.book.kinds.begin(), h.book.kinds.end(), [&](const Kind& k) { return k.id == word; }) ||
        std::any_of(h.book.shared_assets.begin(), h.book.shared_assets.end(),
                    [&](const SharedAsset& one) { return one.sort == word; });
    if (!known && !h.mistakes.inside("/kinds") && !h.mistakes.inside("/shared_assets"))
      h.mistakes.add(
          "rulebook.reference", h.at + "/" + at + "/to/" + std::to_string(i),
          base::phrase("\"{0}\" is no kind, and nothing in `shared_assets` is of this sort.", word),
          base::phrase("Write the id of a kind, sound, or the sort of a shared asset."));
  }
}

// A list has columns; a curve has two, of numbers.
void holdColumns(const Held& h, const Field& f, const std::string& at) {
  if (f.columns.empty())
    return h.cannot(at + "/columns", base::phrase("A list needs columns."),
                    base::phrase("Say what stands in each row, as fields."));
  const auto number = [](const Field& one) {
    return one.type == FieldType::number || one.type == FieldType::integer;
  };
  if (f.type == FieldType::curve &&
      (f.columns.size() != 2 || !std::all_of(f.columns.begin(), f.columns.end(), number)))
    h.cannot(at + "/columns", base::phrase("A curve has two columns, both of numbers."),
             base::phrase("Write two columns of the type number, or make it a list."));
  holdWords(h, f.columns, at + "/columns");
  for (size_t i = 0; i < f.columns.size(); ++i)
    holdField(h, f.columns[i], at + "/columns/" + std::to_string(i));
}

void holdField(const Held& h, const Field& f, const std::string& at) {
  if (f.type == FieldType::choice && f.choices.empty())
    return h.cannot(at + "/choices", base::phrase("A choice needs a list of choices."),
                    base::phrase("Write \"choices\": [\"one\", \"another\"]."));
  if (f.type == FieldType::reference) holdReference(h, f, at);
  if (f.type == FieldType::list || f.type == FieldType::curve) holdColumns(h, f, at);
  if (f.min && f.max && *f.min > *f.max)
    return h.cannot(at + "/min", base::phrase("min is above max."), base::phrase("Exchange the two."));
  const bool rows = f.type == FieldType::list || f.type == FieldType::curve;
  if (f.min && f.max && *f.min == *f.max && !rows)
    h.cannot(at + "/min", base::phrase("min and max are the same: the field can have one value only."),
             base::phrase("Widen the range."));
  if (f.type == FieldType::integer || rows)
    for (const auto& [key, limit] : {std::pair("/min", f.min), std::pair("/max", f.max)})
      if (limit && *limit != std::floor(*limit))
        h.cannot(at + key, base::phrase("The field takes whole numbers."),
                 base::phrase("Write a whole number, or make its type number."));
  holdFieldKeys(h, f, at);
  if (f.default_value.is_null()) return;
  if (const auto fault = fieldFault(f, f.default_value))
    h.cannot(at + "/default", base::phrase("The default does not fit the field: it {0}.", fault->what),
             base::phrase("The field is {0}.", fault->expected));
}

void holdModels(const Held& h);
void holdPieces(const Held& h);

void holdKind(const Held& h) {
  holdModels(h);
  holdPieces(h);
  holdBudgets(h);
  holdCounts(h);
  holdSizes(h);
  holdGrid(h);
  holdCard(h);
  holdHints(h);
  for (size_t i = 0; i < h.kind.fields.size(); ++i)
    holdField(h, h.kind.fields[i], "fields/" + std::to_string(i));
  for (size_t i = 0; i < h.kind.fields.size(); ++i)
    holdCondition(h, h.kind.fields[i].when, h.kind.fields[i].required,
                  "fields/" + std::to_string(i) + "/when");
  if (!h.kind.body.empty() && h.kind.regions.empty())
    h.idle("body", base::phrase("A body without `regions` covers nothing."),
           base::phrase("List the regions that its parts are called after."));
}

// How many pieces are something, and when so many are needed.
void holdCount(const Held& h, int64_t least, int64_t most, const Condition& when, const std::string& at) {
  if (least > most)
    h.cannot(at + "/least", base::phrase("least is above most."), base::phrase("Exchange the two."));
  if (least == 0 && !when.field.empty())
    return h.idle(at + "/when", base::phrase("A condition narrows `least`, and that is 0."),
                  base::phrase("Write how many are needed then, or leave the condition out."));
  holdCondition(h, when, true, at + "/when");
}

// Whether the model lists no roles, and so has those of the one that it is made from.
bool hasRolesOf(const Kind& own, const Kind& kind, const KindModel& model) {
  const KindModel* from = kind.findModel(model.made_from);
  const std::vector<Role>& theirs = from != nullptr ? from->kind().roles : kind.roles;
  return !model.made_from.empty() &&
         std::equal(own.roles.begin(), own.roles.end(), theirs.begin(), theirs.end(),
                    [](const Role& a, const Role& b) { return a.id == b.id && !a.required; });
}

// Of a kind's further models: each by itself, and how many pieces are one.
void holdModels(const Held& h) {
  for (size_t i = 0; i < h.kind.models.size(); ++i) {
    const KindModel& model = h.kind.models[i];
    const std::string at = "models/" + std::to_string(i);
    if (model.id == kMainModel)
      h.cannot(at + "/id", base::phrase("\"main\" is the model that the kind's own keys are about."),
               base::phrase("Write another id."));
    holdCount(h, model.least, model.most, model.when, at);
    // What it is made from, up to one that is made by itself.
    std::set<std::string> met = {model.id};
    for (const KindModel* from = &model; from != nullptr && !from->made_from.empty();) {
      if (from->made_from == kMainModel) break;
      const KindModel* next = h.kind.findModel(from->made_from);
      if (next == nullptr && from == &model)
        h.mistakes.add("rulebook.reference", h.at + "/" + at + "/made_from",
                       base::phrase("There is no \"{0}\" among `models`.", model.made_from),
                       base::phrase("Write the id of another model of the kind, or main."));
      if (next != nullptr && !met.insert(next->id).second) {
        h.cannot(at + "/made_from", base::phrase("It would be made from itself."),
                 base::phrase("Name another, or leave it out."));
        break;
      }
      from = next;
    }
    // Roles that it has of the one that it is made from are held there.
    Kind own = model.kind();
    if (hasRolesOf(own, h.kind, model)) own.roles.clear();
    holdKind({h.book, own, h.at + "/" + at, h.mistakes});
  }
}

// Of the lamps and emitters of a kind: each by itself. What its sort has may be narrowed only.
void holdPieces(const Held& h) {
  for (size_t i = 0; i < h.kind.pieces.size(); ++i) {
    const PieceRule& rule = h.kind.pieces[i];
    const std::string at = "pieces/" + std::to_string(i);
    if (rule.id == kMainModel || h.kind.findModel(rule.id) != nullptr)
      h.cannot(at + "/id", base::phrase("A model of the kind has this id: pieces name both by it."),
               base::phrase("Write another id."));
    holdCount(h, rule.least, rule.most, rule.when, at);
    const std::vector<Field> values = pieceValues(rule.sort);
    for (size_t f = 0; f < rule.fields.size(); ++f) {
      Field field = rule.fields[f];
      for (const Field& value : values)
        if (value.id == field.id && field.columns.empty()) field.columns = value.columns;
      const std::string place = at + "/fields/" + std::to_string(f);
      holdField(h, field, place);
      holdCondition(h, field.when, field.required, place + "/when", &rule.fields);
      for (const Field& value : values) {
        if (value.id != field.id) continue;
        if (value.type != field.type)
          h.cannot(
              place + "/type",
              base::phrase("Every {0} has this value, and it is of another type.", pieceSortName(rule.sort)),
              base::phrase("Write the type that it has, or another id."));
        for (const auto& [key, limit] : {std::pair("/min", field.min), std::pair("/max", field.max)})
          if (limit && value.type == field.type &&
              ((value.min && *limit < *value.min) || (value.max && *limit > *value.max)))
            h.cannot(place + key,
                     base::phrase("The value is never below {0} or above {1}.", base::numberText(*value.min),
                                  base::numberText(*value.max)),
                     base::phrase("Write a limit within that range."));
      }
    }
  }
}

void holdTargets(const Rulebook& book, Mistakes& mistakes) {
  for (size_t i = 0; i < book.targets.size(); ++i) {
    const Target& target = book.targets[i];
    const std::string at = "/targets/" + std::to_string(i) + "/max_side";
    if (target.max_side > 0 && book.picture_max_side > 0 && target.max_side >= book.picture_max_side)
      mistakes.add(kNoEffect, at,
                   base::phrase("No picture of the game is larger than {0} pixels.", book.picture_max_side),
                   base::phrase("Make it smaller, or leave it out."));
    else if (book.picture_power_of_two && (target.max_side & (target.max_side - 1)) != 0)
      mistakes.add(
          kContradiction, at,
          base::phrase("Sides must be powers of two, and this is none: no picture is ever so large."),
          base::phrase("Write a power of two."));
  }
}

template <class Is>
bool anyKind(const Rulebook& book, const Is& is) {
  const std::vector<const Kind*> all = book.modelKinds();
  return std::any_of(all.begin(), all.end(), [&](const Kind* kind) { return is(*kind); });
}
bool anyHasRole(const Rulebook& book, const std::string& role) {
  return anyKind(book, [&](const Kind& kind) { return kind.findRole(role) != nullptr; });
}

// A packed picture holds something, is written, and names roles that some kind has.
void holdPacked(const Rulebook& book, Mistakes& mistakes) {
  for (size_t i = 0; i < book.packed_pictures.size(); ++i) {
    const PackedPicture& one = book.packed_pictures[i];
    const std::string at = "/packed_pictures/" + std::to_string(i);
    for (size_t r = 0; r < one.roles.size(); ++r)
      if (!mistakes.inside("/kinds") && !anyHasRole(book, one.roles[r]))
        mistakes.add("rulebook.reference", at + "/roles/" + std::to_string(r),
                     base::phrase("No kind has a role \"{0}\".", one.roles[r]),
                     base::phrase("Write the id of a role."));
    if (one.channels() == PackedPicture().channels())
      mistakes.add(kNoEffect, at, base::phrase("Nothing goes into this picture."),
                   base::phrase("Say in r, g, b or a what the channel holds."));
    if (book.packaging == "bundle")
      mistakes.add(kNoEffect, at, base::phrase("A bundle holds pictures as glTF has them."),
                   base::phrase("Leave it out, or write \"packaging\": \"zip\"."));
    for (size_t j = 0; j < i; ++j)
      if (book.packed_pictures[j].id == one.id)
        mistakes.add(kContradiction, at + "/id", base::phrase("Two packed pictures are called {0}.", one.id),
                     base::phrase("Write another id."));
  }
}

// A change names roles that some kind has, and changes something.
void holdSwitches(const Rulebook& book, Mistakes& mistakes) {
  for (size_t i = 0; i < book.switches.size(); ++i)
    for (size_t j = 0; j < book.switches[i].changes.size(); ++j) {
      const LookChange& change = book.switches[i].changes[j];
      const std::string at = "/switches/" + std::to_string(i) + "/changes/" + std::to_string(j);
      for (size_t r = 0; r < change.roles.size(); ++r)
        if (!mistakes.inside("/kinds") && !anyHasRole(book, change.roles[r]))
          mistakes.add("rulebook.reference", at + "/roles/" + std::to_string(r),
                       base::phrase("No kind has a role \"{0}\".", change.roles[r]),
                       base::phrase("Write the id of a role."));
      if (change.color == std::array<float, 3>{1, 1, 1} && change.roughness == 1 && change.glow == 0)
        mistakes.add(kNoEffect, at, base::phrase("This changes nothing."),
                     base::phrase("Give it a color, a roughness or a glow, or leave it out."));
    }
}

// Lists that things enter: kinds that there are, and what each entry says.
void holdLists(const Rulebook& book, Mistakes& mistakes) {
  static const Kind kNone;
  for (size_t i = 0; i < book.lists.size(); ++i) {
    const GameList& list = book.lists[i];
    const std::string at = "/lists/" + std::to_string(i);
    const Held h{book, kNone, at, mistakes};
    if (list.least > list.most)
      h.cannot("least", base::phrase("least is above most."), base::phrase("Exchange the two."));
    for (size_t k = 0; k < list.of.size(); ++k)
      if (!mistakes.inside("/kinds") && std::none_of(book.kinds.begin(), book.kinds.end(),
                                                     [&](const Kind& kind) { return kind.id == list.of[k]; }))
        mistakes.add("rulebook.reference", at + "/of/" + std::to_string(k),
                     base::phrase("There is no kind \"{0}\".", list.of[k]),
                     base::phrase("Write the id of a kind."));
    holdWords(h, list.fields, "fields");
    for (size_t f = 0; f < list.fields.size(); ++f) {
      const std::string place = "fields/" + std::to_string(f);
      holdField(h, list.fields[f], place);
      holdCondition(h, list.fields[f].when, list.fields[f].required, place + "/when", &list.fields);
    }
  }
}

void holdBook(const Rulebook& book, Mistakes& mistakes) {
  if (!mistakes.inside("/space") && geometry::parallel(book.up, book.forward))
    mistakes.add(kContradiction, "/space/forward", base::phrase("up and forward lie on one line."),
                 base::phrase("Say along which axis things of the game face."));
  if (book.index_bits != 16 && book.index_bits != 32)
    mistakes.add(kContradiction, "/meshes/index_bits", base::phrase("Indices have 16 or 32 bits."),
                 base::phrase("Write 16 or 32."));
  const uint32_t side = book.picture_max_side;
  if (book.picture_power_of_two && (side & (side - 1)) != 0) {
    uint32_t below = 1;
    while (below * 2 < side) below *= 2;
    mistakes.add(kContradiction, "/pictures/max_side",
                 base::phrase("Sides must be powers of two, and this is none: no picture is ever so large."),
                 base::phrase("Write {0} or {1}.", below, below * 2));
  }
  holdTargets(book, mistakes);
  holdSwitches(book, mistakes);
  holdPacked(book, mistakes);
  holdLists(book, mistakes);
  constexpr uint32_t kLeastRate_hz = 8000;
  if (book.sounds.rate_hz > 0 && book.sounds.rate_hz < kLeastRate_hz)
    mistakes.add(kContradiction, "/sounds/rate_hz",
                 base::phrase("Not all formats of sounds take so low a rate."),
                 base::phrase("Write 8000 or more, or 0 for the sound's own."));
  for (size_t i = 0; i < book.skeletons.size(); ++i)
    if (const std::string& id = book.skeletons[i].id;
        !id.empty() && !mistakes.inside("/kinds") &&
        !anyKind(book, [&](const Kind& kind) { return kind.skeleton == id; }))
      mistakes.add(kNoEffect, "/skeletons/" + std::to_string(i) + "/id",
                   base::phrase("No kind names the skeleton \"{0}\".", id),
                   base::phrase("Name it as the \"skeleton\" of a kind, or leave it out."));
  for (size_t i = 0; i < book.samples.size(); ++i)
    for (size_t j = 0; j < i; ++j)
      if (book.samples[j].folder == book.samples[i].folder)
        mistakes.add("rulebook.repeated", "/samples/" + std::to_string(i) + "/folder",
                     base::phrase("This sample stands in the list already."),
                     base::phrase("Leave one of the two out."));
}

}  // namespace

void findContradictions(const Rulebook& book, Mistakes& mistakes) {
  holdBook(book, mistakes);
  for (size_t i = 0; i < book.kinds.size() && !mistakes.full(); ++i)
    if (const std::string at = "/kinds/" + std::to_string(i); !mistakes.inside(at))
      holdKind({book, book.kinds[i], at, mistakes});
  findSkeletonContradictions(book, mistakes);
}

}  // namespace rakugo::rulebook
