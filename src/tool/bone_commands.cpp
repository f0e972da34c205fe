// `rakugo-tool match`, `weights`: the bones of a model.
#include "base/json.h"
#include "base/text.h"
#include "prepare/matching/bone_match.h"
#include "prepare/matching/families.h"
#include "scene/weights.h"
#include "tool/command_list.h"
#include "tool/find_book.h"
#include "tool/subject.h"

namespace rakugo::tool {
namespace {

const char* facingName(prepare::BoneMatch::Facing facing) {
  using Facing = prepare::BoneMatch::Facing;
  return facing == Facing::forward ? "forward" : facing == Facing::backward ? "backward" : "unknown";
}

using base::Json;

Json namesOf(const scene::Model& model, const std::vector<scene::NodeIndex>& nodes) {
  Json out = Json::array();
  for (const scene::NodeIndex i : nodes) out.push_back(model.node(i).name);
  return out;
}

std::string namesText(const scene::Model& model, const std::vector<scene::NodeIndex>& nodes) {
  std::vector<std::string> names;
  for (const scene::NodeIndex i : nodes) names.push_back(model.node(i).name);
  return base::listText(names, 8);
}

int match(const Common& common, const std::string& subject, const std::string& book_id,
          const std::string& kind_id) {
  const auto model = subjectOf(subject);
  if (!model) return failed(common, model.error());
  const auto book = findBook(book_id);
  if (!book) return failed(common, book.error());
  const rulebook::Kind* kind = book->findKind(kind_id);
  const rulebook::Skeleton* skeleton = kind != nullptr ? book->findSkeleton(kind->skeleton) : nullptr;
  if (skeleton == nullptr) {
    std::vector<std::string> known;
    for (const rulebook::Kind& k : book->kinds)
      if (!k.skeleton.empty()) known.push_back(k.id);
    return failed(common,
                  {"kind.unknown",
                   kind == nullptr ? "The rulebook has no kind \"" + base::presentable(kind_id, 60) + "\"."
                                   : "A " + base::lowerAscii(kind->title) + " has no skeleton.",
                   base::Place{subject}, "Kinds with a skeleton are " + base::listText(known, 12) + "."});
  }
  const prepare::BoneMatch found = prepare::matchBones(*model->model, *skeleton, *book);
  size_t empty = 0;
  for (const prepare::SlotMatch& slot : found.slots) empty += slot.required && !slot.bone.valid() ? 1 : 0;
  const std::vector<prepare::Habit> habits = prepare::loadHabits(prepare::habitsFolder());
  const auto family = prepare::familyOf(*model->model, habits, book->id);
  if (common.json) {
    Json slots = Json::array();
    for (const prepare::SlotMatch& slot : found.slots)
      slots.push_back(Json{{"slot", slot.slot},
                           {"required", slot.required},
                           {"bone", slot.bone.valid() ? Json(model->model->node(slot.bone).name) : Json()},
                           {"confidence", slot.confidence},
                           {"sure", slot.sure},
                           {"reason", slot.reason}});
    say("{}", base::jsonText(Json{{"slots", slots},
                                  {"surplus", namesOf(*model->model, found.surplus)},
                                  {"sides_swapped", found.sides_swapped},
                                  {"facing", facingName(found.facing)},
                                  {"family", family ? Json(habits[family->habit].name) : Json()}}));
    return empty == 0 ? kGood : kStops;
  }
  for (const prepare::SlotMatch& slot : found.slots)
    say("{} {:<18} {:<22} {:>3.0f} %  {}\n",
        slot.sure           ? "✓"
        : slot.bone.valid() ? "?"
                            : "◆",
        slot.slot, slot.bone.valid() ? model->model->node(slot.bone).name : "none", slot.confidence * 100,
        slot.reason);
  if (!found.surplus.empty()) say("Surplus: {}\n", namesText(*model->model, found.surplus));
  if (family) {
    say("Its bones are those of \"{}\"", habits[family->habit].name);
    if (!family->missing.empty()) say(", without {}", base::listText(family->missing, 6));
    if (!family->extra.empty()) say(", and beside them {}", base::listText(family->extra, 6));
    say(".\n");
  }
  using Facing = prepare::BoneMatch::Facing;
  if (found.facing == Facing::backward) say("By its body it faces backwards.\n");
  if (found.sides_swapped)
    say("{}", found.facing == Facing::unknown
                  ? "The names' left is the model's right: either they are wrong, or it faces backwards.\n"
                  : "The names' left is the body's right: they are wrong.\n");
  return empty == 0 ? kGood : kStops;
}

int weights(const Common& common, const std::string& subject, int limit) {
  const auto model = subjectOf(subject);
  if (!model) return failed(common, model.error());
  const scene::WeightReport r = scene::weightsOf(*model->model, limit);
  const bool good = r.without_weight + r.sum_off + r.over_limit + r.beyond == 0;
  if (common.json) {
    say("{}", base::jsonText(Json{{"vertices", r.vertices},
                                  {"without_weight", r.without_weight},
                                  {"sum_off", r.sum_off},
                                  {"over_limit", r.over_limit},
                                  {"beyond", r.beyond},
                                  {"most_influences", r.most_influences},
                                  {"bones_without_weight", namesOf(*model->model, r.bones_without_weight)},
                                  {"end_bones", namesOf(*model->model, r.end_bones)}}));
    return good ? kGood : kStops;
  }
  say("{} that follow bones, up to {} each\n", base::countText(r.vertices, "vertex", "vertices"),
      base::countText(static_cast<uint64_t>(r.most_influences), "bone", "bones"));
  for (const auto& [count, what] : {std::pair(r.without_weight, "follow none"),
                                    std::pair(r.sum_off, "have weights that do not sum to one"),
                                    std::pair(r.over_limit, "follow more than the limit"),
                                    std::pair(r.beyond, "name a bone that is not there")})
    if (count > 0) say("  {} {}\n", base::groupedText(count), what);
  if (!r.bones_without_weight.empty())
    say("  nothing follows {}\n", namesText(*model->model, r.bones_without_weight));
  return good ? kGood : kStops;
}

struct BoneOptions {
  std::string model, book, kind;
  int limit = 0;
};

}  // namespace

void addBoneCommands(Tool& tool) {
  const auto o = std::make_shared<BoneOptions>();
  CLI::App* sub = tool.command("match", "Say which bones of a model are the game's, how surely and why");
  sub->add_option("MODEL", o->model, "A model file, a mod's folder, or MOD:MODEL")->required();
  sub->add_option("--rulebook", o->book, "The rulebook's id")->required();
  sub->add_option("--kind", o->kind, "The kind it is to be")->required();
  tool.runs(sub, [o](const Common& common) { return match(common, o->model, o->book, o->kind); });
  sub = tool.command("weights", "Count what is wrong with the weights of a model's vertices");
  sub->add_option("MODEL", o->model, "A model file, a mod's folder, or MOD:MODEL")->required();
  sub->add_option("--limit", o->limit, "How many bones a vertex may follow")->check(CLI::Range(0, 64));
  tool.runs(sub, [o](const Common& common) { return weights(common, o->model, o->limit); });
}

}  // namespace rakugo::tool
