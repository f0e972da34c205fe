// What unit a source's lengths are in and which way it stands: worked out, with reasons.
#pragma once

#include <optional>

#include "check/context.h"
#include "check/proposal.h"

namespace rakugo::check {

/// The unit of a model's source: by what the file says, by the sizes that its kind has, by the height of a
/// person where a skeleton is one's, by the game's own example. Nothing for a model without vertices.
std::optional<Proposal> proposeUnit(const Context& context, const std::string& model);
/// Up and forward: by what the file says, by the proportions its kind has, by the likeness to the game's own
/// example.
std::optional<Proposal> proposeAxes(const Context& context, const std::string& model);

}  // namespace rakugo::check
