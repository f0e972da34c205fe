// `rakugo-tool pose`: a model of a mod in one of the game's movements.
#include <fmt/core.h>

#include "base/json.h"
#include "base/text.h"
#include "prepare/movement/pose_tests.h"
#include "tool/command_list.h"
#include "tool/examine.h"

namespace rakugo::tool {
namespace {

using base::Json;

constexpr double kDegrees = 180 / 3.14159265358979;

template <class V>
Json numbers(const V& v, int count) {
  Json out = Json::array();
  for (int c = 0; c < count; ++c) out.push_back(v[c]);
  return out;
}

// Everything that the report needs, found; or why not.
struct Posed {
  std::shared_ptr<const check::Examination> x;
  const check::ModelState* state = nullptr;
  const rulebook::Skeleton* skeleton = nullptr;
  std::shared_ptr<const prepare::GameFigure> figure;
  size_t movement = 0;
};

base::Result<Posed> posed(const std::string& folder, const std::string& model, const std::string& movement) {
  Posed out;
  RAKUGO_ASSIGN(out.x, examineFolder(folder, {}));
  const auto found = out.x->context.models.find(model);
  std::vector<std::string> known;
  for (const auto& [name, state] : out.x->context.models) known.push_back(name);
  if (found == out.x->context.models.end() || !found->second.prepared.model)
    return base::Error{"model.unknown",
                       "The mod has no model " + base::presentable(model, 60) + " that can be read.",
                       base::Place{folder}, "Its models are " + base::listText(known, 12) + "."};
  out.state = &found->second;
  if (out.state->kind != nullptr) out.skeleton = out.x->book->findSkeleton(out.state->kind->skeleton);
  if (out.skeleton == nullptr)
    return base::Error{"kind.unknown", "The model " + model + " is of no kind that has a skeleton.",
                       base::Place{folder}, "Say in an object what it is to be."};
  RAKUGO_ASSIGN(out.figure, prepare::gameFigure(*out.x->book, *out.skeleton));
  known.clear();
  for (const rulebook::Movement& one : out.skeleton->movements) known.push_back(one.id);
  const rulebook::Movement* wanted = out.skeleton->findMovement(movement);
  if (wanted == nullptr)
    return base::Error{"movement.unknown",
                       "The game has no movement " + base::presentable(movement, 60) + ".",
                       base::Place{folder}, "Its movements are " + base::listText(known, 24) + "."};
  out.movement = static_cast<size_t>(wanted - out.skeleton->movements.data());
  return out;
}

int pose(const Common& common, const std::string& folder, const std::string& model_name,
         const std::string& movement, double at_s) {
  const auto found = posed(folder, model_name, movement);
  if (!found) return failed(common, found.error());
  const scene::Model& model = *found->state->prepared.model;
  const prepare::SlotBones named = prepare::bonesByGameName(model, *found->skeleton);
  // What bears no name of the game's is taken as it was matched, so that the movement can be seen at all.
  prepare::SlotBones bones = named;
  for (size_t s = 0; s < bones.size() && found->state->bones; ++s)
    if (!bones[s].valid()) bones[s] = found->state->bones->slots[s].bone;
  const prepare::Retarget retarget(model, bones, *found->skeleton, *found->x->book, found->figure);
  const auto world = scene::worldMatrices(model, retarget.at(found->movement, static_cast<float>(at_s)));
  const prepare::MomentOff off =
      prepare::momentOff(model, retarget, *found->skeleton, *found->figure, named, found->movement, at_s);
  const auto off_of = [&](size_t slot) -> const prepare::BoneOff* {
    for (const prepare::BoneOff& one : off.bones)
      if (one.slot == slot) return &one;
    return nullptr;
  };
  Json slots = Json::array();
  double worst = 0;
  for (size_t s = 0; s < bones.size(); ++s) {
    const std::string& id = found->skeleton->bones[s].id;
    const prepare::BoneOff* test = off_of(s);
    const Json degrees = test != nullptr ? Json(test->turned_rad * kDegrees) : Json();
    if (test != nullptr) worst = std::max(worst, test->turned_rad * kDegrees);
    if (!bones[s].valid()) {
      slots.push_back(Json{{"slot", id}, {"bone", Json()}});
      if (!common.json) say("{:<18} none\n", id);
      continue;
    }
    bool exact = true;
    const scene::Placement place = scene::placementOf(world[bones[s].value()], exact);
    const glm::vec4 turn(place.turn.x, place.turn.y, place.turn.z, place.turn.w);
    if (common.json)
      slots.push_back(Json{{"slot", id},
                           {"bone", model.node(bones[s]).name},
                           {"position", numbers(place.position, 3)},
                           {"turn", numbers(turn, 4)},
                           {"degrees_off", degrees},
                           {"off_m", test != nullptr ? Json(test->moved_m) : Json()},
                           {"bends_back", test != nullptr && test->bends_back}});
    else
      say("{:<18} {:>7.3f} {:>7.3f} {:>7.3f} m  {}\n", id, place.position.x, place.position.y,
          place.position.z,
          test != nullptr
              ? fmt::format("{:.1f}° and {:.0f} mm off in the game{}", test->turned_rad * kDegrees,
                            test->moved_m * 1000, test->bends_back ? ", bent backwards" : "")
              : "not called as the game calls it");
  }
  if (common.json)
    say("{}", base::jsonText(Json{{"movement", movement},
                                  {"at_s", at_s},
                                  {"scale", retarget.scale()},
                                  {"slots", slots},
                                  {"most_degrees_off", worst}}));
  return kGood;
}

struct PoseOptions {
  std::string mod, model, movement;
  double at_s = 0;
};

}  // namespace

void addPoseCommands(Tool& tool) {
  const auto o = std::make_shared<PoseOptions>();
  CLI::App* sub =
      tool.command("pose", "Say where a model's bones are in one of the game's movements, and how far off");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("MODEL", o->model, "The model's name in the mod")->required();
  sub->add_option("--movement", o->movement, "The movement's id in the rulebook")->required();
  sub->add_option("--at", o->at_s, "Seconds from its beginning")->check(CLI::Range(0.0, 600.0));
  tool.runs(sub, [o](const Common& common) { return pose(common, o->mod, o->model, o->movement, o->at_s); });
}

}  // namespace rakugo::tool
