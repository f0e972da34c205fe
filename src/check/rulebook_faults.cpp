#include "check/rulebook_faults.h"

#include <algorithm>

#include "base/json.h"
#include "base/text.h"
#include "check/context.h"
#include "prepare/movement/movements.h"
#include "prepare/shipped_models.h"

namespace rakugo::check {
namespace {

class Finder {
 public:
  explicit Finder(const rulebook::Rulebook& book) : book_(book) {
    for (const CheckRow& row : checkTable()) checks_.push_back(row.id);
  }

  std::vector<base::Error> all() {
    outcomes(book_.outcomes, "");
    for (const auto& [check, words] : book_.reasons) known(check, "/reasons/" + check);
    for (size_t i = 0; i < book_.kinds.size(); ++i) kind(book_.kinds[i], "/kinds/" + std::to_string(i));
    for (size_t i = 0; i < book_.skeletons.size(); ++i) {
      if (book_.skeletons[i].movements_file.empty()) continue;
      const auto figure = prepare::gameFigure(book_, book_.skeletons[i]);
      if (!figure) unreadable(figure.error(), "/skeletons/" + std::to_string(i) + "/movements/file");
    }
    rulebook::addLines(book_.folder, out_);
    return std::move(out_);
  }

 private:
  void say(const std::string& code, const std::string& at, const std::string& message,
           const std::string& cure) {
    out_.push_back({code, message, base::Place{(book_.folder / "rulebook.json").string(), at}, cure});
  }
  void unreadable(const base::Error& error, const std::string& at) {
    say(error.code, at, error.message + " (" + error.place.text() + ")", error.cure);
  }

  void outcomes(const std::map<std::string, rulebook::Outcome>& said, const std::string& at) {
    for (const auto& [check, outcome] : said) known(check, at + "/outcomes/" + check);
  }
  void known(const std::string& check, const std::string& at) {
    if (std::find(checks_.begin(), checks_.end(), check) != checks_.end()) return;
    const std::string near = base::nearMiss(check, checks_);
    say("rulebook.check", at, "There is no check \"" + base::presentable(check, 60) + "\".",
        near.empty() ? "docs/checks.md has all; `rakugo-tool checks` lists them."
                     : "Is \"" + near + "\" meant?");
  }

  void kind(const rulebook::Kind& kind, const std::string& at) {
    outcomes(kind.outcomes, at);
    if (!kind.ghost.empty()) ghost(kind, at + "/ghost/file");
    if (!kind.body.empty()) body(kind, at + "/body/file");
    for (size_t i = 0; i < kind.models.size(); ++i) {
      const rulebook::Kind& rules = kind.models[i].kind();
      const std::string place = at + "/models/" + std::to_string(i);
      if (!rules.ghost.empty()) ghost(rules, place + "/ghost/file");
      if (!rules.body.empty()) body(rules, place + "/body/file");
    }
  }

  void ghost(const rulebook::Kind& kind, const std::string& at) {
    const auto model = prepare::shippedModel(book_, kind.ghost);
    if (!model) return unreadable(model.error(), at);
    const glm::vec3 size = scene::boundsOf(**model).size();
    const auto along = [&](glm::vec3 axis) { return static_cast<double>(std::abs(glm::dot(size, axis))); };
    const auto hold = [&](const char* what, const std::optional<rulebook::Band>& band, double length) {
      const double slack = 0.01 * length;
      if (band && (length < band->min - slack || length > band->max + slack))
        say("rulebook.contradiction", at,
            "The ghost breaks the rule of its own kind: its " + std::string(what) + " is " +
                base::lengthText(length) + ", and " + base::lengthText(band->min) + " to " +
                base::lengthText(band->max) + " are asked for.",
            "A ghost lies in the game's axes and in metres; or the range is wrong.");
    };
    hold("length", kind.length_m, along(geometry::axisVector(book_.forward)));
    hold("width", kind.width_m, along(book_.side()));
    hold("height", kind.height_m, along(geometry::axisVector(book_.up)));
    const auto triangles = static_cast<int64_t>(scene::countsOf(**model).triangles);
    if (kind.max_triangles > 0 && triangles > kind.max_triangles)
      say("rulebook.contradiction", at,
          "The ghost breaks the rule of its own kind: it has " +
              base::groupedText(static_cast<uint64_t>(triangles)) + " triangles.",
          "Allow as many, or make the ghost lighter.");
  }

  void body(const rulebook::Kind& kind, const std::string& at) {
    const auto model = prepare::shippedModel(book_, kind.body);
    if (!model) return unreadable(model.error(), at);
    for (const scene::NodeIndex i : scene::reachedNodes(**model))
      if ((*model)->node(i).mesh.valid() && kind.findRegion((*model)->node(i).name) != nullptr) return;
    say("rulebook.contradiction", at, "No part of the body is called as one of the kind's regions.",
        "Name its parts as the regions they belong to.");
  }

  const rulebook::Rulebook& book_;
  std::vector<std::string> checks_;
  std::vector<base::Error> out_;
};

}  // namespace

std::vector<base::Error> rulebookFaults(const rulebook::Rulebook& book) { return Finder(book).all(); }

}  // namespace rakugo::check
