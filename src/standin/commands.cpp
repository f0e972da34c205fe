#include "standin/commands.h"

#include <algorithm>

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
  if (what == "scan" || what == "reload") {
    if (game_.scan()) play_.refresh();
  } else if (what == "place") {
    game_.place(in.text("object"), vectorOf(in, "at", glm::vec3(0)),
                static_cast<float>(in.number("turn_deg") * kDegree));
  } else if (what == "clear") {
    game_.clearPlaced();
  } else if (what == "use") {
    play_.use(in.text("object"));
  } else if (what == "leave") {
    play_.leave();
  } else if (what == "move") {
    play_.move(static_cast<float>(in.number("ahead")), static_cast<float>(in.number("turn")));
    play_.pass(static_cast<float>(std::clamp(in.number("seconds", 0), 0.0, 600.0)));
  } else if (what == "eyes") {
    play_.lookThroughEyes(in.flag("on", true));
  } else {
    look(what, in);
  }
  if (!complaints.empty()) return complaints.front();
  return {};
}

void Commands::look(const std::string& what, base::JsonFields& in) {
  if (what == "day" || what == "night") {
    const auto night = what == "day" ? 0.0F : static_cast<float>(std::clamp(in.number("value", 1), 0.0, 1.0));
    if (view != nullptr) view->night = night;
  } else if (what == "paint") {
    const glm::vec3 color = vectorOf(in, "color", {0.24F, 0.42F, 0.45F});
    if (view != nullptr) view->paint = glm::clamp(color, 0.0F, 1.0F);
  } else if (what == "follow") {
    if (view != nullptr) view->follow(play_);
  } else if (what == "show") {
    const std::string object = in.text("object");
    if (view != nullptr && !view->lookAt(game_, play_, object))
      say_({"warning", "unknown", "", "", object, "", object + " does not stand in the harbour."});
  } else if (what == "look") {
    if (view == nullptr) return;
    render::Camera& camera = view->camera;
    camera.target = vectorOf(in, "at", camera.target);
    camera.distance_m = static_cast<float>(std::clamp(in.number("distance", camera.distance_m), 0.2, 200.0));
    camera.yaw_rad = static_cast<float>(in.number("yaw_deg", camera.yaw_rad / kDegree) * kDegree);
    camera.pitch_rad = static_cast<float>(in.number("pitch_deg", camera.pitch_rad / kDegree) * kDegree);
  } else {
    in.complain("link.unknown", "The command \"" + what + "\" is not known.", "do",
                "docs/game-link.md lists what the game understands.");
  }
}

}  // namespace rakugo::standin
