// Checks of attachment points.
#include <algorithm>

#include "base/text.h"
#include "check/checks.h"
#include "prepare/edit_steps.h"
#include "prepare/objects/piece_edits.h"
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

Mend placeMend(const std::string& model, scene::NamedPlace place, std::string label) {
  return {std::move(label), [model, place = std::move(place)](mod::ModState& mod) {
            if (auto* found = mod.models.change(model)) prepare::putPoints(*found, {place});
          }};
}

// Whether an empty means a point: it is called as that is, in whatever case and with whatever between words.
bool means(const std::string& name, const rulebook::Point& point) {
  const auto plain = [](const std::string& text) {
    std::string out = base::lowerAscii(text);
    std::erase_if(out, [](char c) { return c == ' ' || c == '-' || c == '_' || c == '.'; });
    return out;
  };
  return plain(name) == plain(point.id) || plain(name) == plain(point.title);
}

// The point on the other side of the plane of symmetry through the origin: what is left becomes right.
mod::PointDoc mirrored(const mod::PointDoc& point, glm::vec3 side, const std::string& id) {
  mod::PointDoc out = point;
  out.id = id;
  const prepare::PiecePlace image = prepare::mirrored({point.position_m, point.turn}, side);
  out.position_m = image.position_m;
  out.turn = image.turn;
  return out;
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
      Finding f = begin(context, row,
                        phrase("{0} has no attachment point {1}.{2}", name, base::lowerAscii(point.title),
                               (point.help.empty() ? "" : " " + point.help)));
      f.expected = point.title;
      f.place.model = name;
      f.place.point = point.id;
      f.place.document = "models/" + name + ".model.json";
      if (const auto pair = std::find_if(doc.points.begin(), doc.points.end(),
                                         [&](const mod::PointDoc& p) { return p.id == point.pair; });
          !point.pair.empty() && pair != doc.points.end()) {
        const mod::PointDoc image = mirrored(*pair, context.book->side(), point.id);
        f.mends.push_back(
            {phrase("Mirror it from {0}", base::lowerAscii(state.kind->findPoint(point.pair)->title)),
             [name, image](mod::ModState& mod) {
               if (auto* found = mod.models.change(name)) found->points.push_back(image);
             }});
      }
      for (const scene::NamedPlace& empty : scene::emptiesOf(*state.prepared.model)) {
        if (!means(empty.name, point)) continue;
        f.place.marks_m = {empty.position};
        f.mends.push_back(placeMend(name, {point.id, empty.position, empty.turn},
                                    phrase("Place it where the model has {0}", empty.name)));
        break;
      }
      if (const auto place = proposedPlace(context, state, point)) {
        if (f.place.marks_m.empty()) f.place.marks_m = {*place};
        f.mends.push_back(placeMend(name, {point.id, *place},
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
      Finding f = begin(context, row,
                        phrase("{0} has {1} called {2}; a {3} may have {4}.", name,
                               base::countText(count, "attachment point", "attachment points"),
                               base::lowerAscii(point.title), base::lowerAscii(state.kind->title),
                               std::to_string(point.most)));
      f.measured = std::to_string(count);
      f.expected = phrase("at most {0}", std::to_string(point.most));
      f.place.model = name;
      f.place.point = point.id;
      f.place.document = "models/" + name + ".model.json";
      for (size_t i = doc.points.size(); i-- > 0;)
        if (state.kind->findPoint(doc.points[i].id) == &point) {
          const std::string last = doc.points[i].id;
          f.mends.push_back({phrase("Take {0} out", last), [name, last, i](mod::ModState& mod) {
                               auto* found = mod.models.change(name);
                               if (found != nullptr && i < found->points.size() &&
                                   found->points[i].id == last)
                                 found->points.erase(found->points.begin() + static_cast<std::ptrdiff_t>(i));
                             }});
          break;
        }
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
           checkPointCount}};
}

}  // namespace rakugo::check
