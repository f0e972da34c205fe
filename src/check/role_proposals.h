// Which role each material of a model most likely plays, with reasons; nothing is given by it.
#pragma once

#include <string>
#include <vector>

#include "check/context.h"

namespace rakugo::check {

struct RoleProposal {
  std::string material;              ///< key
  std::string role;                  ///< id
  double certainty = 0;              ///< 0.3 to 0.95
  std::vector<std::string> reasons;  ///< phrases, the weightiest first: "its name says lamp"
};

/// For the materials that a model wears without a role: at most one proposal each, in the model's order. What
/// speaks for a role is added up: the material's name, in a dozen languages and six scripts; the names of the
/// parts that wear it; what the same name plays in other models of the mod; that it glows or is see-through;
/// that its colour is the role's; that the role is needed and nobody else is left to play it. Empty where the
/// kind has no roles, or is not known. Cost: linear in words and materials.
std::vector<RoleProposal> proposeRoles(const Context& context, const ModelState& state);

/// Words of several languages that mean the same, one group a row, folded as `prepare::foldedWord` does. The
/// first group means what one sees through.
const std::vector<std::vector<std::string>>& materialWords();

}  // namespace rakugo::check
