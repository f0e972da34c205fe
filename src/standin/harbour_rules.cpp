#include "standin/harbour_rules.h"

#include <algorithm>
#include <map>
#include <optional>
#include <set>

#include "standin/game.h"
#include "standin/harbour_lists.h"

namespace rakugo::standin {
namespace {

struct KindRule {
  const char* kind;
  uint64_t most_triangles, most_vertices;
  size_t most_parts, most_materials;  ///< 0: any
  const char* price_field;
  const char* seller;
  int most_price;
  float most_height_m;
  bool has_bones;  ///< it moves as the harbour's keepers do
};
constexpr size_t kMostBones = 32;
constexpr KindRule kRules[] = {{"fitting", 12'000, 20'000, 0, 0, "price", "the chandler", 9999, 4.5F, false},
                               {"craft", 60'000, 90'000, 0, 12, "price", "the broker", 99999, 9, false},
                               {"keeper", 24'000, 30'000, 0, 8, "wage", "a keeper", 500, 2.2F, true},
                               {"coat", 14'000, 18'000, 0, 6, "price", "the slop shop", 9999, 1.9F, true},
                               {"gear", 5'000, 8'000, 0, 4, "price", "the chandler", 9999, 3.2F, false},
                               {"pier-block", 400, 900, 1, 2, "cost", "the mason", 999, 2, false}};
// What a coat may cover; the harbour's wardrobe knows no other shelf.
constexpr const char* kRegions[] = {"trunk", "sleeve-left", "sleeve-right", "collar", "skirts"};

const KindRule* ruleOf(const std::string& kind) {
  for (const KindRule& rule : kRules)
    if (kind == rule.kind) return &rule;
  return nullptr;
}

using Refusal = std::optional<Complaint>;

Complaint refused(std::string field, std::string message) {
  return {true, "refused", std::move(field), std::move(message)};
}

// Counts are held against the rule; the first that is over it refuses.
Refusal tooMuch(const LoadedThing& object, const KindRule& rule) {
  const bundle::ObjectRecord& r = object.record;
  uint64_t triangles = 0, vertices = 0, carried_triangles = 0, carried_vertices = 0;
  std::set<std::string> carried, materials;
  for (const bundle::ObjectPiece& piece : r.pieces)
    if (const auto mesh = object.meshes.find(piece.mesh); mesh != object.meshes.end()) {
      if (!piece.apart) materials.insert(mesh->second.materials.begin(), mesh->second.materials.end());
      // What is carried is one thing, however often it is there.
      if (piece.apart && !carried.insert(piece.mesh).second) continue;
      (piece.apart ? carried_triangles : triangles) += mesh->second.indices.size() / 3;
      (piece.apart ? carried_vertices : vertices) += mesh->second.vertex_count;
    }
  const auto parts = static_cast<uint64_t>(std::count_if(
      r.pieces.begin(), r.pieces.end(), [](const bundle::ObjectPiece& piece) { return !piece.apart; }));
  if (triangles == 0) return refused("triangles", r.id + " has nothing to show.");
  size_t bones = 0;
  if (rule.has_bones)
    for (const auto& [id, skeleton] : object.skeletons) bones = std::max(bones, skeleton.bones.size());
  const struct {
    const char* what;
    uint64_t has, most;
  } counts[] = {{"triangles", triangles, rule.most_triangles},
                {"vertices", vertices, rule.most_vertices},
                {"parts", parts, rule.most_parts},
                {"materials", materials.size(), rule.most_materials},
                {"bones", bones, kMostBones},
                {"triangles to carry", carried_triangles, kMostCarriedTriangles},
                {"vertices to carry", carried_vertices, kMostCarriedVertices}};
  for (const auto& [what, has, most] : counts)
    if (most != 0 && has > most)
      return refused(what, r.id + " has " + std::to_string(has) + " " + what + "; the harbour takes " +
                               std::to_string(most) + ".");
  return {};
}

Refusal unknownRegion(const bundle::ObjectRecord& r) {
  if (r.kind != "coat") return {};
  for (const bundle::ObjectPiece& piece : r.pieces)
    if (!piece.region.empty() && std::none_of(std::begin(kRegions), std::end(kRegions),
                                              [&](const char* known) { return piece.region == known; }))
      return refused("regions",
                     r.id + " covers " + piece.region + "; nobody here has such a place on the body.");
  return {};
}

Refusal badPrice(const bundle::ObjectRecord& r, const KindRule& rule) {
  // Whole pennies; anything else is no price.
  const double price = r.card.contains(rule.price_field) && r.card[rule.price_field].is_number_integer()
                           ? r.card[rule.price_field].get<double>()
                           : 0.0;
  if (price >= 1 && price <= rule.most_price) return {};
  return refused(rule.price_field, r.id + " costs " + std::to_string(static_cast<long long>(price)) +
                                       " pennies; " + rule.seller + " asks 1 to " +
                                       std::to_string(rule.most_price) + ".");
}

Refusal refusalOf(const LoadedThing& object, const KindRule& rule) {
  if (auto found = tooMuch(object, rule)) return found;
  if (rule.has_bones && object.record.rigs.empty())
    return refused("bones", object.record.id + " has no bones; it would stand like a post.");
  if (auto found = unknownRegion(object.record)) return found;
  return badPrice(object.record, rule);
}

using Words = std::vector<std::string>;

const Words& wordsOf(const std::map<std::string, Words>& of, const std::string& kind) {
  static const Words kNone;
  const auto found = of.find(kind);
  return found != of.end() ? found->second : kNone;
}

bool holds(const Words& words, const std::string& word) {
  return std::find(words.begin(), words.end(), word) != words.end();
}

}  // namespace

const std::vector<std::string>& harbourLamps(const std::string& kind) {
  static const std::map<std::string, Words> kLamps = {
      {"fitting", {"lamp"}}, {"craft", {"side-light", "mast-light", "cabin-light"}}, {"gear", {"lantern"}}};
  return wordsOf(kLamps, kind);
}
const std::vector<std::string>& harbourEmitters(const std::string& kind) {
  static const std::map<std::string, Words> kEmitters = {
      {"fitting", {"fire", "smoke"}}, {"craft", {"funnel-smoke", "stern-wash"}}, {"gear", {"flame"}}};
  return wordsOf(kEmitters, kind);
}
const std::vector<std::string>& harbourShapes(const std::string& kind) {
  static const std::map<std::string, Words> kShapes = {
      {"fitting", {"fitting-body"}}, {"craft", {"hull-body"}}, {"gear", {"gear-body"}}};
  return wordsOf(kShapes, kind);
}
const std::vector<std::string>& harbourSounds(const std::string& kind) {
  static const std::map<std::string, Words> kSounds = {
      {"fitting", {"murmur"}}, {"craft", {"engine-sound", "horn"}}, {"gear", {"gear-sound"}}};
  return wordsOf(kSounds, kind);
}
const std::vector<std::string>& harbourMotions(const std::string& kind) {
  static const std::map<std::string, Words> kMotions = {
      {"fitting", {"turning-part"}}, {"craft", {"rudder", "turning-part"}}, {"gear", {"turning-part"}}};
  return wordsOf(kMotions, kind);
}
const std::vector<std::string>& harbourMoments() {
  static const Words kMoments = {"always", "night", "under-way", "touched", "leaving", "helm"};
  return kMoments;
}

std::vector<Complaint> complaintsOf(const LoadedThing& object) {
  const bundle::ObjectRecord& r = object.record;
  const KindRule* rule = ruleOf(r.kind);
  if (rule == nullptr)
    return {refused("kind", r.id + " is a " + r.kind + "; this harbour knows no such thing.")};
  if (auto refusal = refusalOf(object, *rule)) return {std::move(*refusal)};

  std::vector<Complaint> out;
  const auto warn = [&](const char* event, const char* field, const std::string& message) {
    out.push_back({false, event, field, r.id + message});
  };
  const auto has_point = [&](const char* name) {
    return std::any_of(r.points.begin(), r.points.end(), [&](const auto& p) { return p.name == name; });
  };
  const bool lit = r.card.contains("lit") && r.card["lit"] == true;
  const bool has_lamp = std::any_of(object.materials.begin(), object.materials.end(),
                                    [](const auto& m) { return m.second.role == "lamp"; });
  if (lit && !has_lamp) warn("dark", "lit", " says it is lit, and no material has the role lamp.");
  if (lit && !has_point("light")) warn("dark", "light", " says it is lit, and has no point for the light.");
  if (r.kind == "craft" && !has_point("water-line"))
    warn("adrift", "water-line", " does not say how deep it floats; its origin is taken.");
  if (r.kind == "gear" && !has_point("grip"))
    warn("slips", "grip", " has no grip; a hand would close on its origin.");
  const auto judge = [&](const std::string& as, const std::string& when, const Words& known,
                         const char* what) {
    if (!holds(known, as))
      warn("odd_piece", as.c_str(),
           " has a " + std::string(what) + " \"" + as + "\"; the harbour knows none.");
    if (!holds(harbourMoments(), when))
      warn("odd_moment", as.c_str(), ": the harbour does not know when \"" + when + "\" is.");
  };
  for (const bundle::ObjectLamp& lamp : r.lamps) judge(lamp.as, lamp.lit, harbourLamps(r.kind), "lamp");
  for (const bundle::ObjectEmitter& emitter : r.emitters)
    judge(emitter.as, emitter.runs, harbourEmitters(r.kind), "emitter");
  for (const bundle::ObjectMotion& motion : r.motions)
    judge(motion.as, motion.runs, harbourMotions(r.kind), "moving part");
  for (const bundle::ObjectShape& shape : r.shapes)
    if (!holds(harbourShapes(r.kind), shape.as))
      warn("odd_piece", shape.as.c_str(), " has a shape \"" + shape.as + "\"; the harbour knows none.");
  for (const bundle::ObjectSound& sound : r.sounds) {
    judge(sound.as, sound.plays, harbourSounds(r.kind), "sound");
    for (const std::string& id : sound.sounds)
      if (object.sounds.count(id) == 0 && harbourSound(id) == nullptr)
        warn("silent", sound.as.c_str(),
             " lets one hear \"" + id + "\", and there is nothing to be heard of it.");
  }
  for (const bundle::ObjectListEntry& one : r.lists) {
    const HarbourList* list = findHarbourList(one.list);
    if (list == nullptr)
      warn("odd_list", one.list.c_str(), " stands in the list \"" + one.list + "\"; the harbour has none.");
    else if (std::none_of(list->kinds.begin(), list->kinds.end(),
                          [&](const char* kind) { return r.kind == kind; }))
      warn("odd_list", one.list.c_str(), std::string(": ") + list->title + " deals in no " + r.kind + ".");
  }
  if (r.icon.empty()) warn("no_icon", "icon", " has no icon.");
  const float height = r.bounds_max[2] - r.bounds_min[2];
  if (height > rule->most_height_m * 1.001F)
    warn("giant", "", " is " + std::to_string(height) + " m high and will not fit under the shed's eaves.");
  return out;
}

}  // namespace rakugo::standin
