// What Kelpwick does with materials by their role. Its rulebook says the same; a test holds the two together.
#pragma once

#include <glm/glm.hpp>
#include <set>
#include <string>
#include <vector>

#include "base/json.h"
#include "render/renderer.h"

namespace rakugo::standin {

struct RoleEffect {
  const char* kind;  ///< of the object that wears the material
  const char* role;
  enum class Act : unsigned char { tint, glow } act;
  glm::vec3 tone{0};            ///< sRGB, of what is tinted, while nobody has chosen another
  bool chosen = false;          ///< the player's paint goes over it
  const char* field = nullptr;  ///< of the card: it acts where the field has the value `is`; null: always
  base::Json is = nullptr;
};

/// What goes on in the harbour, and what it does to materials. One that names no role changes all.
struct HarbourSwitch {
  const char* name;  ///< "rain"
  const char* role;  ///< or null
  glm::vec3 color{1};
  float roughness = 1;
  glm::vec3 glow{0};  ///< sRGB, times its strength
  float strength = 0;
};

/// All of them; several of one name act together.
const std::vector<HarbourSwitch>& harbourSwitches();
/// What those that are on do to a material of that role.
render::LookEffect lookOf(const std::set<std::string>& on, const std::string& role);

/// All of them.
const std::vector<RoleEffect>& roleEffects();
/// What happens to a material of that role on an object of that kind and card; null: nothing.
const RoleEffect* effectOf(const std::string& kind, const std::string& role, const base::Json& card);

}  // namespace rakugo::standin
