// What Kelpwick does with materials by their role. Its rulebook says the same; a test holds the two together.
#pragma once

#include <glm/glm.hpp>
#include <string>
#include <vector>

#include "base/json.h"

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

/// All of them.
const std::vector<RoleEffect>& roleEffects();
/// What happens to a material of that role on an object of that kind and card; null: nothing.
const RoleEffect* effectOf(const std::string& kind, const std::string& role, const base::Json& card);

}  // namespace rakugo::standin
