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
