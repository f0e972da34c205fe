#include "standin/role_effects.h"

namespace rakugo::standin {

const std::vector<RoleEffect>& roleEffects() {
  using Act = RoleEffect::Act;
  static const std::vector<RoleEffect> kEffects = {
      {"fitting", "paint", Act::tint, {0.24F, 0.42F, 0.45F}, true},
      {"fitting", "lamp", Act::glow, {}, false, "lit", true},
      {"craft", "hull-paint", Act::tint, {0.69F, 0.24F, 0.2F}, true},
      {"craft", "nav-lamp", Act::glow, {}, false, "drive", "steam"},
      {"keeper", "skin", Act::tint, {0.82F, 0.63F, 0.5F}},
      {"keeper", "hair", Act::tint, {0.36F, 0.24F, 0.16F}},
      {"coat", "dye", Act::tint, {0.2F, 0.29F, 0.42F}},
      {"gear", "paint", Act::tint, {0.24F, 0.42F, 0.45F}, true},
      {"gear", "lamp", Act::glow, {}, false, "lit", true}};
  return kEffects;
}

const std::vector<HarbourSwitch>& harbourSwitches() {
  static const std::vector<HarbourSwitch> kSwitches = {
      {"rain", nullptr, {0.78F, 0.8F, 0.84F}, 0.55F},
      {"rain", "oilcloth", glm::vec3(1), 0.35F},
      {"rain", "tar", {0.55F, 0.55F, 0.58F}, 0.6F},
      {"salt", nullptr, {0.86F, 0.84F, 0.8F}, 1.6F},
      {"astern", "stern-lamp", glm::vec3(1), 1, {0.95F, 0.3F, 0.24F}, 4}};
  return kSwitches;
}

render::LookEffect lookOf(const std::set<std::string>& on, const std::string& role) {
  render::LookEffect out;
  for (const HarbourSwitch& one : harbourSwitches()) {
    if (on.count(one.name) == 0 || (one.role != nullptr && role != one.role)) continue;
    out.color *= one.color;
    out.roughness *= one.roughness;
    out.emitted += render::linear(one.glow) * one.strength;
  }
  return out;
}

const RoleEffect* effectOf(const std::string& kind, const std::string& role, const base::Json& card) {
  for (const RoleEffect& effect : roleEffects()) {
    if (kind != effect.kind || role != effect.role) continue;
    if (effect.field == nullptr) return &effect;
    const auto value = card.find(effect.field);
    return value != card.end() && *value == effect.is ? &effect : nullptr;
  }
  return nullptr;
}

}  // namespace rakugo::standin
