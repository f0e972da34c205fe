// Checks of lamps, emitters and shapes: what they are, what they say, whether anything is seen of them.
#include <algorithm>
#include <cmath>
#include <glm/gtc/constants.hpp>

#include "base/text.h"
#include "check/rows/piece_findings.h"
#include "geometry/ray.h"
#include "prepare/objects/collision_shapes.h"
#include "prepare/objects/moving_parts.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/piece_parts.h"
#include "prepare/objects/piece_values.h"
#include "prepare/parts/pieces.h"
#include "rulebook/field_value.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::check {
namespace {

using rulebook::PieceSort;

// Calls body(object, doc, piece, sort) for every lamp, emitter and shape.
template <class Body>
void eachRuledPiece(const Context& context, const Body& body) {
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces)
      if (const auto sort = rulebook::pieceSortFrom(piece.sort)) body(name, doc, piece, *sort);
}

Mend takeOut(const std::string& object, const std::string& piece) {
  return objectMend(object, phrase("Take {0} out", piece),
                    [piece](mod::ObjectDoc& doc) { return prepare::removePiece(doc, piece); });
}

void checkSort(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (piece.isModel() || piece.sort == mod::kGroupSort) continue;
      const auto sort = rulebook::pieceSortFrom(piece.sort);
      const rulebook::Kind* kind = context.book->findKind(doc.kind);
      if (!sort) {
        Finding f = aboutPiece(context, row, name, piece.name,
                               phrase("{0} of {1} is a \"{2}\", which this version of Rakugo does not know.",
                                      piece.name, name, base::presentable(piece.sort, 40)));
        f.mends.push_back(takeOut(name, piece.name));
        out.push_back(std::move(f));
        continue;
      }
      if (kind == nullptr) continue;
      const rulebook::PieceRule* rule = kind->findPiece(piece.as);
      if (rule != nullptr && rule->sort == *sort) continue;
      std::vector<std::string> takes;
      Finding f = aboutPiece(context, row, name, piece.name, {});
      for (const rulebook::PieceRule& one : kind->pieces)
        if (one.sort == *sort) {
          takes.push_back(one.id);
          f.mends.push_back(objectMend(name,
                                       phrase("{0} is the {1}", piece.name, base::lowerAscii(one.title)),
                                       [piece = piece.name, as = one.id](mod::ObjectDoc& object) {
                                         return prepare::setPieceAs(object, piece, as);
                                       }));
        }
      const std::string sort_name = phrase(rulebook::pieceSortName(*sort)),
                        of = base::lowerAscii(kind->title);
      f.sentence =
          takes.empty()
              ? phrase("{0} of {1} is a {2}; the game takes none in a {3}.", piece.name, name, sort_name, of)
          : piece.as.empty()
              ? phrase("{0} of {1} does not say which {2} of a {3} it is.", piece.name, name, sort_name, of)
              : phrase("{0} of {1} is the \"{2}\"; a {3} has no such {4}.", piece.name, name,
                       base::presentable(piece.as, 40), of, sort_name);
      f.measured = base::presentable(piece.as, 40);
      f.expected = takes.empty() ? phrase("none") : base::listText(takes, 8);
      f.mends.push_back(takeOut(name, piece.name));
      out.push_back(std::move(f));
    }
}

std::string said(const rulebook::Field& field, const base::Json& value) {
  if (value.is_number())
    return base::numberText(value.get<double>()) + (field.unit.empty() ? "" : " " + field.unit);
  return base::presentable(value.is_string() ? value.get<std::string>() : base::jsonLine(value), 40);
}

void checkValues(const Context& context, const CheckRow& row, Findings& out) {
  eachRuledPiece(context, [&](const std::string& name, const mod::ObjectDoc& doc, const mod::PieceDoc& piece,
                              PieceSort) {
    const std::vector<rulebook::Field> fields = prepare::fieldsOfPiece(*context.book, doc, piece);
    const auto set = [&](const rulebook::Field& field, const base::Json& value) {
      return objectMend(name, phrase("Set {0} to {1}", base::lowerAscii(field.title), said(field, value)),
                        [piece = piece.name, id = field.id, value](mod::ObjectDoc& object) {
                          return prepare::setPieceValue(object, piece, id, value);
                        });
    };
    for (const rulebook::Field& field : fields) {
      const auto value = piece.values.find(field.id);
      const bool empty = value == piece.values.end() || value->is_null();
      if (empty && (!field.required || !field.default_value.is_null())) continue;
      const auto fault = empty ? std::optional<rulebook::FieldFault>({phrase("is empty"), {}})
                               : rulebook::fieldFault(field, *value);
      if (!fault) continue;
      Finding f = aboutPiece(context, row, name, piece.name,
                             phrase("{0} of {1}, {2}: {3} {4}.", piece.name, name, field.title,
                                    empty ? phrase("it") : said(field, *value), fault->what));
      f.measured = empty ? std::string() : said(field, *value);
      f.expected = fault->expected;
      const base::Json nearest = prepare::valueOf(piece, field);
      if (!nearest.is_null() && (empty || !rulebook::hasRows(field))) f.mends.push_back(set(field, nearest));
      out.push_back(std::move(f));
    }
  });
}

// Whether anything is to be seen of it by what it says.
std::string nothingSeen(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields,
                        PieceSort sort) {
  if (sort == PieceSort::lamp) {
    const prepare::LampValues lamp = prepare::lampValues(piece, fields);
    if (lamp.strength <= 0) return phrase("its strength is 0");
    if (lamp.reach_m <= 0) return phrase("its reach is 0");
    return glm::length(lamp.color) <= 0.002F ? phrase("its light is black") : std::string();
  }
  if (sort == PieceSort::moving) {
    const prepare::MovingValues moving = prepare::movingValues(piece, fields);
    if (moving.moves == "swings" && moving.span_deg[0] == moving.span_deg[1]) return phrase("its span is 0");
    return moving.rate == 0 ? phrase("its rate is 0") : std::string();
  }
  if (sort == PieceSort::shape || sort == PieceSort::sound) return {};
  const prepare::EmitterValues emitter = prepare::emitterValues(piece, fields);
  if (emitter.rate <= 0) return phrase("it sends no particles");
  return emitter.opacity[0] <= 0 && emitter.opacity[1] <= 0 ? phrase("its particles cannot be seen")
                                                            : std::string();
}

void checkIdle(const Context& context, const CheckRow& row, Findings& out) {
  eachRuledPiece(context, [&](const std::string& name, const mod::ObjectDoc& doc, const mod::PieceDoc& piece,
                              PieceSort sort) {
    const std::vector<rulebook::Field> fields = prepare::fieldsOfPiece(*context.book, doc, piece);
    const std::string why = nothingSeen(piece, fields, sort);
    if (why.empty()) return;
    Finding f = aboutPiece(context, row, name, piece.name,
                           phrase("Nothing is seen of {0} of {1}: {2}.", piece.name, name, why));
    f.mends.push_back(
        objectMend(name, phrase("Give it the usual values"),
                   [piece = piece.name, fields](mod::ObjectDoc& object) -> base::Status {
                     for (const rulebook::Field& field : fields)
                       RAKUGO_TRY(prepare::setPieceValue(object, piece, field.id, field.default_value));
                     return {};
                   }));
    f.mends.push_back(takeOut(name, piece.name));
    out.push_back(std::move(f));
  });
}

// Twelve directions evenly round: the corners of an icosahedron, which no edge of a box lies along.
std::vector<glm::vec3> allRound() {
  std::vector<glm::vec3> out;
  const float g = glm::golden_ratio<float>();
  for (const float a : {-1.0F, 1.0F})
    for (const float b : {-g, g}) {
      out.push_back(glm::normalize(glm::vec3(0.0F, a, b)));
      out.push_back(glm::normalize(glm::vec3(a, b, 0.0F)));
      out.push_back(glm::normalize(glm::vec3(b, 0.0F, a)));
    }
  return out;
}

// Light goes through what is blended or glows, and through what the rulebook's roles make of it.
bool letsThrough(const scene::Model& model, const scene::Primitive& p, const rulebook::Kind* kind) {
  if (!p.material.valid()) return false;
  const scene::Material& m = model.materials[p.material.value()];
  const rulebook::Role* role = kind != nullptr ? kind->findRole(m.role) : nullptr;
  return m.alpha != scene::AlphaMode::opaque || (role != nullptr && role->effect == "glow");
}

// Whether each of the directions from a point of the object meets a surface, other than one that light goes
// through. Cost: directions x triangles.
bool shutIn(const Context& context, const mod::ObjectDoc& doc, glm::vec3 at) {
  std::vector<glm::vec3> open = allRound();
  for (const mod::PieceDoc& piece : doc.pieces) {
    const auto state = context.models.find(piece.model);
    if (!piece.isModel() || state == context.models.end() || !state->second.prepared.model) continue;
    if (prepare::apartRoot(*context.book, doc, piece) != nullptr) continue;
    const scene::Model& model = *state->second.prepared.model;
    const glm::mat4 back = glm::inverse(prepare::placeInObject(doc, piece));
    const auto world = scene::worldMatrices(model);
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      if (!model.node(i).mesh.valid() || open.empty()) continue;
      const glm::mat4 into = glm::inverse(world[i.value()]) * back;
      const glm::vec3 from(into * glm::vec4(at, 1));
      for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives) {
        if (letsThrough(model, p, state->second.kind)) continue;
        for (size_t t = 0; t + 2 < p.indices.size() && !open.empty(); t += 3)
          std::erase_if(open, [&](const glm::vec3& way) {
            return geometry::rayMeets(from, glm::vec3(into * glm::vec4(way, 0)), p.positions[p.indices[t]],
                                      p.positions[p.indices[t + 1]], p.positions[p.indices[t + 2]])
                .has_value();
          });
      }
    }
  }
  return open.empty();
}

void checkPlace(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    if (std::none_of(doc.pieces.begin(), doc.pieces.end(), [](const mod::PieceDoc& piece) {
          return rulebook::pieceSortFrom(piece.sort).has_value();
        }))
      continue;
    geometry::Bounds box;
    for (const mod::PieceDoc& piece : doc.pieces) box.add(boxOfPiece(context, doc, piece));
    if (box.empty()) continue;
    for (const mod::PieceDoc& piece : doc.pieces) {
      const auto sort = rulebook::pieceSortFrom(piece.sort);
      if (!sort || (*sort != PieceSort::lamp && *sort != PieceSort::emitter)) continue;
      const prepare::PiecePlace place = prepare::objectPlace(doc, piece);
      const glm::vec3 at(place.position_m[0], place.position_m[1], place.position_m[2]);
      const float away = glm::distance(at, glm::clamp(at, box.min, box.max));
      const glm::vec3 size = box.size();
      const float most = std::max(1.0F, std::max({size.x, size.y, size.z}) / 2);
      if (away > most) {
        Finding f = aboutPiece(context, row, name, piece.name,
                               phrase("{0} is {1} away from {2}.", piece.name, base::lengthText(away), name));
        f.measured = base::lengthText(away);
        f.expected = phrase("at most {0}", base::lengthText(most));
        f.mends.push_back(objectMend(name, phrase("Bring it to the nearest place on {0}", name),
                                     [piece = piece.name, near = glm::clamp(at, box.min, box.max),
                                      side = context.book->side()](mod::ObjectDoc& object) -> base::Status {
                                       const mod::PieceDoc* one = prepare::findPiece(object, piece);
                                       if (one == nullptr) return {};
                                       prepare::PiecePlace to = prepare::objectPlace(object, *one);
                                       to.position_m = {near.x, near.y, near.z};
                                       return prepare::placePiece(
                                           object, piece, prepare::placeUnder(object, *one, to), side);
                                     }));
        out.push_back(std::move(f));
      } else if (away <= 0 && shutIn(context, doc, at)) {
        Finding f = aboutPiece(
            context, row, name, piece.name,
            *sort == PieceSort::lamp
                ? phrase("{0} is shut in by {1} on all sides: its light stays inside.", piece.name, name)
                : phrase("{0} is inside of {1}: what it sends out comes through the walls.", piece.name,
                         name));
        f.place.marks_m = {at};
        f.mends.push_back(takeOut(name, piece.name));
        out.push_back(std::move(f));
      }
    }
  }
}

// A shape may stand off what it holds by so much of its longest side, and by a few millimetres.
constexpr double kOff = 0.25, kShort = 0.05, kLeast_m = 0.01;

// Whether a shape is there, and holds what it lies over.
void checkShape(const Context& context, const CheckRow& row, Findings& out) {
  const auto model_of = [&](const std::string& name) -> const scene::Model* {
    const auto found = context.models.find(name);
    return found != context.models.end() ? found->second.prepared.model.get() : nullptr;
  };
  eachRuledPiece(context, [&](const std::string& name, const mod::ObjectDoc& doc, const mod::PieceDoc& piece,
                              PieceSort sort) {
    if (sort != PieceSort::shape) return;
    const prepare::ShapeValues says =
        prepare::shapeValues(piece, prepare::fieldsOfPiece(*context.book, doc, piece));
    const prepare::ShapeMesh under = prepare::modelUnderShape(*context.book, doc, piece, model_of);
    const std::vector<std::string> parts = prepare::partsForPiece(doc, piece, model_of);
    if (parts.empty()) return;  // a model that is missing or cannot be read has findings of its own
    bool lost = false;
    for (size_t i = 0; i < says.parts.size(); ++i) {
      const std::string& part = says.parts[i];
      if (std::find(parts.begin(), parts.end(), part) != parts.end()) continue;
      lost = true;
      Finding f = aboutPiece(context, row, name, piece.name,
                             phrase("{0} of {1} is made of the part \"{2}\", which is not there.", piece.name,
                                    name, base::presentable(part, 60)));
      f.measured = base::presentable(part, 60);
      f.expected = base::listText(parts, 8);
      // Which part is meant is for the person to say.
      const auto with = [&](const std::string& title, std::vector<std::string> instead) {
        f.mends.push_back(objectMend(
            name, title, [piece = piece.name, instead = std::move(instead)](mod::ObjectDoc& object) {
              return prepare::setPieceValue(object, piece, "parts", base::Json(instead));
            }));
      };
      std::vector<std::string> others = says.parts;
      if (const std::string near = base::nearMiss(part, parts); !near.empty()) {
        others[i] = near;
        with(phrase("Make it of {0}", near), others);
      }
      others = says.parts;
      others.erase(others.begin() + static_cast<std::ptrdiff_t>(i));
      with(others.empty() ? phrase("Make it of the whole model") : phrase("Make it of the others"), others);
      f.mends.push_back(takeOut(name, piece.name));
      out.push_back(std::move(f));
    }
    if (lost || under.empty()) return;
    const prepare::ShapeMesh shape = prepare::shapeMesh(says, under, prepare::gameAxes(*context.book));
    if (shape.empty()) {
      Finding f =
          aboutPiece(context, row, name, piece.name,
                     phrase("{0} of {1} is empty: what it is made of lies in one plane.", piece.name, name));
      f.mends.push_back(takeOut(name, piece.name));
      out.push_back(std::move(f));
      return;
    }
    const bool made = prepare::isMadeOfModel(says.form);
    const prepare::ShapeOff off = prepare::shapeOff(shape, under, says.form != "mesh");
    geometry::Bounds box;
    for (const glm::vec3& v : under.corners) box.add(v);
    const double longest = std::max({box.size().x, box.size().y, box.size().z});
    const double may_miss = std::max(kLeast_m, longest * kShort),
                 may_stand = std::max(kLeast_m, longest * kOff);
    const bool misses = off.short_m > may_miss, stands = !made && off.beyond_m > may_stand;
    if (!misses && !stands) return;
    const double measured = misses ? off.short_m : off.beyond_m;
    Finding f = aboutPiece(context, row, name, piece.name,
                           misses ? phrase("{0} of {1} leaves out what reaches {2} beyond it.", piece.name,
                                           name, base::lengthText(measured))
                                  : phrase("{0} of {1} stands off by {2}: one bumps into nothing there.",
                                           piece.name, name, base::lengthText(measured)));
    f.measured = base::lengthText(measured);
    f.expected = phrase("at most {0}", base::lengthText(misses ? may_miss : may_stand));
    const glm::vec3 at = misses ? off.short_at : off.beyond_at;
    f.place.marks_m = {glm::vec3(prepare::placeInObject(doc, piece) * glm::vec4(at, 1))};
    // Of what a shape is made of is in the context alone; the mend takes it along.
    std::map<std::string, std::shared_ptr<const scene::Model>> models;
    for (const auto& [model, state] : context.models) models[model] = state.prepared.model;
    if (!made)
      f.mends.push_back(objectMend(
          name, phrase("Fit it anew"),
          [piece = piece.name, book = context.book, models = std::move(models)](mod::ObjectDoc& object) {
            return prepare::fitShape(object, piece, *book, [&](const std::string& model) {
              const auto found = models.find(model);
              return found != models.end() ? found->second.get() : nullptr;
            });
          }));
    else
      f.mends.push_back(objectMend(
          name, phrase("Give it all corners that the game takes"),
          [piece = piece.name, fields = prepare::fieldsOfPiece(*context.book, doc, piece)](
              mod::ObjectDoc& object) -> base::Status {
            for (const rulebook::Field& field : fields)
              if ((field.id == "corners" || field.id == "triangles") && field.max)
                RAKUGO_TRY(prepare::setPieceValue(object, piece, field.id, static_cast<int64_t>(*field.max)));
            return {};
          }));
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> lampChecks() {
  using S = Severity;
  return {{"piece.sort",
           75,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A lamp, emitter, shape, sound or moving part that the game does not know",
           "The game leaves it out.",
           "Say which of those that the game knows it is, or take it out.",
           checkSort},
          {"piece.values",
           77,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A lamp, emitter, shape, sound or moving part says what it cannot",
           "The game takes another value, or none.",
           "Choose a value within the limits.",
           checkValues},
          {"piece.idle",
           78,
           S::tidy,
           Station::objects,
           {"mod.documents"},
           "A lamp that lights nothing, an emitter that sends nothing, a part that stands still",
           "The game works for it, and players see nothing.",
           "Give it values that show, or take it out.",
           checkIdle},
          {"piece.place",
           79,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A lamp or emitter far off, or inside",
           "Light and smoke come from where nothing is, or through the walls.",
           "Put it where it belongs.",
           checkPlace},
          {"piece.shape",
           81,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A collision shape that does not fit",
           "Players walk into what they see, or bump into what is not there.",
           "Fit it anew, or choose another form.",
           checkShape}};
}

}  // namespace rakugo::check
