#include "prepare/objects/hanging.h"

#include <algorithm>

#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/quaternion.hpp>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/objects/point_edits.h"

namespace rakugo::prepare {
namespace {

glm::mat4 matrixOf(const scene::NamedPlace& place) {
  return glm::translate(glm::mat4(1), place.position) * glm::mat4_cast(place.turn);
}

}  // namespace

std::vector<HangChoice> hangChoices(const rulebook::Rulebook& book, const mod::ModState& mod,
                                    const rulebook::Kind& kind, const std::string& point,
                                    const std::string& self) {
  const rulebook::Point* own = kind.findPoint(point);
  if (own == nullptr) return {};
  // Kinds with their point, each once: what hangs here, then what this hangs on.
  std::vector<std::pair<const rulebook::Kind*, std::string>> ways;
  const auto add = [&](const rulebook::Kind* of, const std::string& by) {
    if (of != nullptr && std::find(ways.begin(), ways.end(), std::pair(of, by)) == ways.end())
      ways.emplace_back(of, by);
  };
  for (const rulebook::Hanging& one : own->hangs) add(book.findKind(one.kind), one.by);
  for (const rulebook::Kind& other : book.kinds)
    for (const rulebook::Point& theirs : other.points)
      for (const rulebook::Hanging& one : theirs.hangs)
        if (one.kind == kind.id && one.by == own->id) add(&other, theirs.id);
  std::vector<HangChoice> out;
  for (const auto& [of, by] : ways)
    if (!of->ghost.empty()) out.push_back({of->id, {}, by});
  for (const auto& [of, by] : ways)
    for (const auto& [name, object] : mod.objects)
      if (object.kind == of->id && name != self) out.push_back({of->id, name, by});
  return out;
}

std::string hangTitle(const rulebook::Rulebook& book, const mod::ModState& mod, const HangChoice& choice) {
  const rulebook::Kind* kind = book.findKind(choice.kind);
  std::string what = kind == nullptr             ? choice.kind
                     : kind->ghost_title.empty() ? kind->title
                                                 : kind->ghost_title;
  if (!choice.object.empty()) {
    const auto object = mod.objects.find(choice.object);
    what =
        object != mod.objects.end() && !object->second.title.empty() ? object->second.title : choice.object;
  }
  if (choice.point.empty()) return what;
  return base::phrase("{0}, {1}", what, base::lowerAscii(pointTitle(kind, choice.point)));
}

glm::mat4 hangMatrix(const scene::NamedPlace& ours, const scene::NamedPlace& theirs) {
  return matrixOf(ours) * glm::inverse(matrixOf(theirs));
}

scene::NamedPlace hangPlace(const std::vector<scene::NamedPlace>& places, const std::string& point) {
  for (const scene::NamedPlace& one : places)
    if (!point.empty() && base::sameWords(one.name, point)) return one;
  return {};
}

}  // namespace rakugo::prepare
