// Checks of attachment points.
#include <algorithm>

#include "base/text.h"
#include "check/checks.h"
#include "prepare/edit_steps.h"
#include "prepare/objects/point_edits.h"
#include "scene/named_places.h"

namespace rakugo::check {
namespace {

// Where the rulebook proposes to put a point, in the model's space.
std::optional<glm::vec3> proposedPlace(const Context& context, const ModelState& state,
                                       const rulebook::Point& point) {
  const scene::Model& model = *state.prepared.model;
  const auto world = scene::worldMatrices(model);
  if (!point.propose_role.empty()) {
    geometry::Bounds box;
    for (const auto i : scene::reachedNodes(model)) {
      if (!model.node(i).mesh.valid()) continue;
      for (const auto& p : model.mesh(model.node(i).mesh).primitives)
        if (p.material.valid() && model.materials[p.material.value()].role == point.propose_role)
          box.add(geometry::boundsOf(p.positions, world[i.value()]));
    }
    if (!box.empty()) return box.center();
    if (point.propose_at.empty()) return std::nullopt;
  }
  const geometry::Bounds box = scene::boundsOf(model);
  if (box.empty() || point.propose_at.empty()) return std::nullopt;
  const glm::vec3 up = geometry::axisVector(context.book->up);
  const float half = std::abs(glm::dot(box.size(), up)) * 0.5F;
  if (point.propose_at == "top") return box.center() + up * half;
  if (point.propose_at == "floor_centre") return box.center() - up * half;
  return box.center();
}

Mend placeMend(const Context& context, const std::string& model, scene::NamedPlace place, std::string label) {
  return {std::move(label),
          [model, side = context.book->side(), place = std::move(place)](mod::ModState& mod) {
            if (auto* found = mod.models.change(model)) prepare::putPoints(*found, {place}, side);
          }};
}

// An edit of a model's document; where it refuses, nothing changes.
Mend modelMend(const std::string& model, std::string label,
               std::function<base::Status(mod::ModelDoc&)> change) {
  return {std::move(label), [model, change = std::move(change)](mod::ModState& mod) {
            if (auto* found = mod.models.change(model)) (void)change(*found);
          }};
}

Finding aboutPoint(const Context& context, const CheckRow& row, const std::string& model,
                   const std::string& point, std::string sentence) {
  Finding out = begin(context, row, std::move(sentence));
  out.place.model = model;
  out.place.point = point;
  out.place.document = "models/" + model + ".model.json";
  return out;
}

// Whether an empty means a point: it is called as that is.
bool means(const std::string& name, const rulebook::Point& point) {
  return base::sameWords(name, point.id) || base::sameWords(name, point.title);
}

// How many points of that sort the model has.
size_t countOf(const mod::ModelDoc& doc, const rulebook::Kind& kind, const rulebook::Point& point) {
  return static_cast<size_t>(
      std::count_if(doc.points.begin(), doc.points.end(),
                    [&](const mod::PointDoc& one) { return kind.findPoint(one.id) == &point; }));
}

void checkPoints(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    if (state.kind == nullptr) return;
    for (const rulebook::Point& point : state.kind->points) {
      if (!point.required || !holdsForAny(context, state, point.when)) continue;
      if (countOf(doc, *state.kind, point) > 0) continue;
      Finding f =
          aboutPoint(context, row, name, point.id,
                     phrase("{0} has no attachment point {1}.{2}", name, base::lowerAscii(point.title),
                            (point.help.empty() ? "" : " " + point.help)));
      f.expected = point.title;
      if (!point.pair.empty() && prepare::findPoint(doc, point.pair) != nullptr)
        f.mends.push_back(modelMend(
            name, phrase("Mirror it from {0}", base::lowerAscii(state.kind->findPoint(point.pair)->title)),
            [from = point.pair, to = point.id, side = context.book->side()](mod::ModelDoc& model) {
              return prepare::pairPoints(model, from, to, side);
            }));
      for (const scene::NamedPlace& empty : scene::emptiesOf(*state.prepared.model)) {
        if (!means(empty.name, point)) continue;
        f.place.marks_m = {empty.position};
        f.mends.push_back(placeMend(context, name, {point.id, empty.position, empty.turn},
                                    phrase("Place it where the model has {0}", empty.name)));
        break;
      }
      if (const auto place = proposedPlace(context, state, point)) {
        if (f.place.marks_m.empty()) f.place.marks_m = {*place};
        f.mends.push_back(placeMend(context, name, {point.id, *place},
                                    phrase("Place it at {0}, {1}, {2} m", base::numberText(place->x, 2),
                                           base::numberText(place->y, 2), base::numberText(place->z, 2))));
      }
      out.push_back(std::move(f));
    }
  });
}

void checkPointCount(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    if (state.kind == nullptr) return;
    for (const rulebook::Point& point : state.kind->points) {
      const size_t count = countOf(doc, *state.kind, point);
      if (count <= static_cast<size_t>(point.most)) continue;
      Finding f = aboutPoint(context, row, name, point.id,
                             phrase("{0} has {1} called {2}; a {3} may have {4}.", name,
                                    base::countText(count, "attachment point", "attachment points"),
                                    base::lowerAscii(point.title), base::lowerAscii(state.kind->title),
                                    std::to_string(point.most)));
      f.measured = std::to_string(count);
      f.expected = phrase("at most {0}", std::to_string(point.most));
      for (size_t i = doc.points.size(); i-- > 0;)
        if (state.kind->findPoint(doc.points[i].id) == &point) {
          const std::string last = doc.points[i].id;
          f.mends.push_back(modelMend(name, phrase("Take {0} out", last), [last](mod::ModelDoc& model) {
            return prepare::removePoint(model, last);
          }));
          break;
        }
      out.push_back(std::move(f));
    }
  });
}

// Two points that are told to be mirror images and are none: a document written by hand, or by another.
void checkPointPairs(const Context& context, const CheckRow& row, Findings& out) {
  const glm::vec3 side = context.book->side();
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    for (const mod::PointDoc& point : doc.points) {
      if (point.pair.empty()) continue;
      const mod::PointDoc* other = prepare::findPoint(doc, point.pair);
      const std::string title = prepare::pointTitle(state.kind, point.id);
      const Mend untie = modelMend(name, phrase("Let {0} stand alone", title),
                                   [point = point.id, side](mod::ModelDoc& model) {
                                     return prepare::pairPoints(model, point, {}, side);
                                   });
      if (other == nullptr || other == &point || other->pair != point.id) {
        Finding f = aboutPoint(
            context, row, name, point.id,
            other == nullptr
                ? phrase("The attachment point {0} of {1} is a pair with {2}, which is not placed.", title,
                         name, base::presentable(point.pair, 60))
                : phrase("The attachment point {0} of {1} is a pair with {2}, which names another.", title,
                         name, base::presentable(point.pair, 60)));
        f.mends.push_back(untie);
        out.push_back(std::move(f));
        continue;
      }
      if (point.id > other->id) continue;  // told once
      const double off = prepare::offMirror(prepare::placeOf(point), prepare::placeOf(*other), side);
      if (off < 0) continue;
      const std::string beside = prepare::pointTitle(state.kind, other->id);
      Finding f = aboutPoint(context, row, name, point.id,
                             phrase("The attachment points {0} and {1} of {2} are a pair and no mirror "
                                    "images: {3} apart.",
                                    title, beside, name, base::lengthText(off)));
      f.measured = base::lengthText(off);
      f.expected = phrase("the mirror image");
      const auto follow = [&, of = name](const std::string& leads, const std::string& follows,
                                         const std::string& label) {
        f.mends.push_back(modelMend(of, label, [leads, follows, side](mod::ModelDoc& model) {
          return prepare::pairPoints(model, leads, follows, side);
        }));
      };
      follow(point.id, other->id, phrase("Let {0} follow {1}", beside, title));
      follow(other->id, point.id, phrase("Let {0} follow {1}", title, beside));
      f.mends.push_back(untie);
      out.push_back(std::move(f));
    }
  });
}

}  // namespace

std::vector<CheckRow> pointChecks() {
  using S = Severity;
  return {{"point.missing",
           490,
           S::shows,
           Station::objects,
           {"model.points"},
           "An attachment point is missing",
           "What the game hangs there appears at the origin, or not at all.",
           "Place the point.",
           checkPoints},
          {"point.count",
           491,
           S::tidy,
           Station::objects,
           {"model.points"},
           "More attachment points than the game takes",
           "The game takes the first ones, and nothing comes of the others.",
           "Take some out.",
           checkPointCount},
          {"point.pair",
           492,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "Two attachment points that should be mirror images are none",
           "What hangs there is in different places on the two sides.",
           "Let one follow the other, or let them stand alone.",
           checkPointPairs}};
}

}  // namespace rakugo::check
