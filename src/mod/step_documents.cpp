#include "mod/step_documents.h"

#include <algorithm>
#include <array>
#include <set>
#include <string_view>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::mod {
namespace {

using base::Json;
using base::JsonFields;

// Every kind of step that a Rakugo which wrote format 1 knew. Frozen: format 1 is not written any more.
constexpr std::array kKindsOfFormat1 = std::to_array<std::string_view>({"read_lengths",
                                                                        "use_picture",
                                                                        "turn",
                                                                        "rotate",
                                                                        "scale",
                                                                        "stretch",
                                                                        "drop",
                                                                        "keep",
                                                                        "free",
                                                                        "split",
                                                                        "join",
                                                                        "rename",
                                                                        "duplicate",
                                                                        "mirror",
                                                                        "remove_degenerate",
                                                                        "bake",
                                                                        "weld",
                                                                        "remove_duplicates",
                                                                        "orient",
                                                                        "fill_holes",
                                                                        "remove_hidden",
                                                                        "remove_specks",
                                                                        "remove_needles",
                                                                        "dissolve",
                                                                        "simplify",
                                                                        "remove_unused",
                                                                        "split_picked",
                                                                        "move_picked",
                                                                        "turn_picked",
                                                                        "scale_picked",
                                                                        "bend_picked",
                                                                        "flatten_picked",
                                                                        "snap_picked",
                                                                        "make_normals",
                                                                        "make_tangents",
                                                                        "name_bones",
                                                                        "add_bones",
                                                                        "hang_bones",
                                                                        "drop_bones",
                                                                        "game_pose",
                                                                        "straighten_bones",
                                                                        "mend_weights",
                                                                        "copy_weights",
                                                                        "first_weights",
                                                                        "give_to_bone",
                                                                        "drop_loose_weights",
                                                                        "smooth_weights",
                                                                        "mirror_weights",
                                                                        "turn_bone",
                                                                        "origin",
                                                                        "pivot",
                                                                        "role",
                                                                        "region_nearest",
                                                                        "region_material",
                                                                        "region",
                                                                        "region_picked",
                                                                        "hand_over",
                                                                        "order_regions",
                                                                        "like_first",
                                                                        "snap_seam",
                                                                        "make_lighter"});

bool knownToFormat1(std::string_view kind) {
  return std::find(kKindsOfFormat1.begin(), kKindsOfFormat1.end(), kind) != kKindsOfFormat1.end();
}

bool hasOnly(const Json& values, std::initializer_list<const char*> keys) {
  return std::all_of(values.items().begin(), values.items().end(), [&](const auto& one) {
    return std::any_of(keys.begin(), keys.end(), [&](const char* key) { return one.key() == key; });
  });
}

// The four kinds of step that had a value called `kind`, those first that the step most likely was.
std::vector<std::string> formerKinds(const Json& values, const std::vector<StepDoc>& others) {
  if (values.empty()) return {"order_regions"};
  if (!hasOnly(values, {"most_mm", "model"}) || !values.contains("most_mm")) return {};
  if (values.contains("model")) return {"copy_weights"};
  const auto anyOf = [&](std::initializer_list<std::string_view> kinds) {
    return std::any_of(others.begin(), others.end(), [&](const StepDoc& step) {
      return std::find(kinds.begin(), kinds.end(), step.kind) != kinds.end();
    });
  };
  // Closing seams begins at 30 mm, the two others at 100.
  if (values["most_mm"] != Json(100)) return {"snap_seam", "region_nearest", "copy_weights"};
  const bool outfit = anyOf({"region_picked", "region_material", "region", "hand_over", "like_first"});
  if (!outfit &&
      anyOf({"name_bones", "add_bones", "hang_bones", "drop_bones", "game_pose", "straighten_bones",
             "mend_weights", "first_weights", "smooth_weights", "mirror_weights", "turn_bone"}))
    return {"copy_weights", "region_nearest", "snap_seam"};
  return {"region_nearest", "copy_weights", "snap_seam"};
}

void recover(StepDoc& step, const std::vector<StepDoc>& all) {
  std::vector<std::string> kinds = formerKinds(step.values, all);
  if (kinds.empty()) return;
  step.values["kind"] = step.kind;
  step.kind = kinds.front();
  kinds.erase(kinds.begin());
  step.more[kRecoveredKey] = kinds;
}

}  // namespace

Json stepsJson(const std::vector<StepDoc>& steps) {
  Json out = Json::array();
  for (const StepDoc& s : steps) {
    Json one{{"id", s.id}, {"kind", s.kind}};
    if (!s.enabled) one["enabled"] = false;
    if (!s.note.empty()) one["note"] = s.note;
    one["values"] = s.values;
    for (const auto& [key, value] : s.more.items()) one[key] = value;
    out.push_back(std::move(one));
  }
  return out;
}

std::vector<StepDoc> stepsFrom(JsonFields& in, int64_t format) {
  std::vector<StepDoc> out;
  std::set<std::string> ids;
  for (JsonFields& one : in.objects("steps")) {
    StepDoc step;
    step.id = one.requiredText("id");
    if (!ids.insert(step.id).second)
      one.complain("mod.repeated", base::phrase("Two steps have the id \"{0}\".", base::presentable(step.id)),
                   "id");
    if (!one.has("kind"))
      one.complain("json.missing", base::phrase("The field \"kind\" is missing."), "kind");
    // It may be empty: in format 1 a value of that name, often "", took its place.
    step.kind = one.text("kind");
    step.enabled = one.flag("enabled", true);
    Json others = one.others({"id", "kind", "enabled"});
    if (format < 2) {
      step.values = std::move(others);
    } else {
      step.note = one.text("note");
      others.erase("note");
      if (const auto values = one.object("values"); values && values->json().is_object())
        step.values = values->json();
      others.erase("values");
      step.more = std::move(others);
    }
    out.push_back(std::move(step));
  }
  if (format < 2)
    for (StepDoc& step : out)
      if (!knownToFormat1(step.kind)) recover(step, out);
  return out;
}

}  // namespace rakugo::mod
