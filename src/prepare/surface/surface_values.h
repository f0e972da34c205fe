// What steps on materials have in common: which material, which of its pictures.
#pragma once

#include <optional>

#include "prepare/steps.h"

namespace rakugo::prepare {

/// In place of a slot's name: no picture at all.
inline constexpr const char* kNoSlot = "none";

/// The material that a step names, and the slot: that of the value "slot", or `slot`. Where either is not
/// there, `outcome` says so.
struct SurfaceTarget {
  scene::MaterialIndex material;
  size_t slot = 0;
  std::optional<StepOutcome> outcome;
};
SurfaceTarget surfaceTarget(const scene::Model& model, const base::Json& values, const char* slot = nullptr);

/// "material": a key of a material.
Parameter materialParameter();
/// The name of one of `scene::kTextureSlots`.
Parameter slotParameter(const char* key = "slot", const char* title = "picture");
/// All slots, and none.
Choices targetSlots();

}  // namespace rakugo::prepare
