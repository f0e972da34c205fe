// What an object's main model is like, for set-up that is carried over from one object to another.
#pragma once

#include <filesystem>

#include "check/context.h"
#include "prepare/objects/donor.h"

namespace rakugo::check {

/// Of an object's first model as an examination has it; empty where it is not known.
prepare::DonorBody bodyOfObject(const Context& context, const std::string& object);
/// The same of an object of a mod folder that is not open: its first model is read and prepared. Empty where
/// that cannot be.
prepare::DonorBody bodyOfObject(const std::filesystem::path& folder,
                                const std::shared_ptr<const rulebook::Rulebook>& book,
                                const mod::ModState& mod, const std::string& object);

}  // namespace rakugo::check
