#include "standin/commands.h"

#include <algorithm>

#include "base/text.h"
#include "standin/harbour_lists.h"
#include "standin/role_effects.h"

namespace rakugo::standin {
namespace {

constexpr double kDegree = 3.14159265358979 / 180;

glm::vec3 vectorOf(base::JsonFields& in, const char* key, glm::vec3 fallback) {
  if (const auto v = in.numbers(key, 3)) return {(*v)[0], (*v)[1], (*v)[2]};
  return fallback;
}

}  // namespace

base::Status Commands::run(const base::Json& command, const std::string& place) {
  std::vector<base::Error> complaints;
  base::JsonFields in(command, place, "", complaints);
  const std::string what = in.requiredText("do");
  if (!complaints.empty()) return complaints.front();
  // All fields are read before anything is done, so that a command is carried out whole or not at all.
  Act act = understood(what, in);
  if (!act) act = looks(what, in);
  if (!act)
    in.complain("link.unknown", "The command \"" + what + "\" is not known.", "do",
                "docs/game-link.md lists what the game understands.");
  if (!complaints.empty()) return complaints.front();
  act();
  return {};
}

Commands::Act Commands::understood(const std::string& what, base::JsonFields& in) {
  if (what == "scan" || what == "reload")
    return [this] {
      if (game_.scan()) play_.refresh();
    };
  if (what == "place") {
    const glm::vec3 at = vectorOf(in, "at", glm::vec3(0));
    const auto turn = static_cast<float>(in.number("turn_deg") * kDegree);
    return [this, object = in.text("object"), at, turn] { game_.place(object, at, turn); };
  }
  if (what == "clear") return [this] { game_.clearPlaced(); };
  if (what == "use") return [this, object = in.text("object")] { play_.use(object); };
  if (what == "take") return [this, object = in.text("object")] { play_.take(object); };
  if (what == "leave") return [this] { play_.leave(); };
  if (what == "move") {
    const auto ahead = static_cast<float>(in.number("ahead")), turn = static_cast<float>(in.number("turn")),
               seconds = static_cast<float>(std::clamp(in.number("seconds", 0), 0.0, 600.0));
    return [this, ahead, turn, seconds] {
      play_.move(ahead, turn);
      play_.pass(seconds);
    };
  }
  if (what == "drop") {
    std::optional<glm::vec2> at;
    if (const auto v = in.numbers("at", 2)) at = glm::vec2((*v)[0], (*v)[1]);
    const auto height = static_cast<float>(in.number("height", 1));
    return [this, object = in.text("object"), at, height] { play_.drop(object, at, height); };
  }
  if (what == "offers") {
    const HarbourList* list = findHarbourList(in.text("list"));
    if (list == nullptr)
      in.complain("link.unknown", "The harbour has no list of that name.", "list",
                  "docs/game-link.md names those that it has.");
    return [this, list] {
      const std::vector<Offer> offers = offersOf(game_, *list);
      for (const Offer& one : offers) {
        const size_t slash = one.object.find('/');
        say_({"info", "offer", "", one.object.substr(0, slash), one.object.substr(slash + 1), list->id,
              std::string(list->title) + ": " + one.text});
      }
      if (offers.empty())
        say_({"info", "offer", "", "", "", list->id, std::string(list->title) + " has nothing of a mod."});
    };
  }
  if (what == "act") return [this, movement = in.text("movement")] { play_.act(movement); };
  if (what == "build") {
    const auto broad = static_cast<float>(in.number("value", in.number("broad")));
    return [this, broad] { play_.setBuild(broad); };
  }
  if (what == "language") return [this, language = in.text("language")] { play_.setLanguage(language); };
  if (what == "eyes") return [this, on = in.flag("on", true)] { play_.lookThroughEyes(on); };
  return nullptr;
}

Commands::Act Commands::looks(const std::string& what, base::JsonFields& in) {
  const auto seen = [this](std::function<void(HarbourView&)> change) -> Act {
    return [this, change = std::move(change)] {
      if (view != nullptr) change(*view);
    };
  };
  if (what == "day" || what == "night") {
    const auto night = what == "day" ? 0.0F : static_cast<float>(std::clamp(in.number("value", 1), 0.0, 1.0));
    play_.setNight(night);
    return seen([night](HarbourView& v) { v.night = night; });
  }
  if (what == "paint") {
    const glm::vec3 color = glm::clamp(vectorOf(in, "color", {0.24F, 0.42F, 0.45F}), 0.0F, 1.0F);
    return seen([color](HarbourView& v) { v.paint = color; });
  }
  if (what == "switch") {
    const std::string name = in.text("name");
    if (std::none_of(harbourSwitches().begin(), harbourSwitches().end(),
                     [&](const HarbourSwitch& one) { return one.name == name; }))
      in.complain("link.unknown",
                  "Nothing of the name \"" + base::presentable(name, 40) + "\" goes on in the harbour.",
                  "name", "docs/game-link.md lists what does.");
    return seen([name, on = in.flag("on", true)](HarbourView& v) {
      if (on)
        v.switched.insert(name);
      else
        v.switched.erase(name);
    });
  }
  if (what == "follow") return seen([this](HarbourView& v) { v.follow(play_); });
  if (what == "show")
    return seen([this, object = in.text("object")](HarbourView& v) {
      if (!v.lookAt(game_, play_, object))
        say_({"warning", "unknown", "", "", object, "", object + " does not stand in the harbour."});
    });
  if (what == "look") {
    const render::Camera now = view != nullptr ? view->camera : render::Camera();
    render::Camera to = now;
    to.target = vectorOf(in, "at", now.target);
    to.distance_m = static_cast<float>(std::clamp(in.number("distance", now.distance_m), 0.2, 200.0));
    to.yaw_rad = static_cast<float>(in.number("yaw_deg", now.yaw_rad / kDegree) * kDegree);
    to.pitch_rad = static_cast<float>(in.number("pitch_deg", now.pitch_rad / kDegree) * kDegree);
    return seen([to](HarbourView& v) { v.camera = to; });
  }
  return nullptr;
}

}  // namespace rakugo::standin
