// Objects of a bundle as donors of set-up.
#pragma once

#include <memory>

#include "bundle/bundle_reader.h"
#include "prepare/objects/donor.h"

namespace rakugo::packing {

/// An object taken apart, as a mod that holds nothing else: enough for `prepare::DonorSide`.
struct BundleDonor {
  std::shared_ptr<const mod::ModState> mod;
  std::string object;  ///< its name in it
  prepare::DonorBody body;
  [[nodiscard]] prepare::DonorSide side() const { return {*mod, object, body}; }
};
/// Errors: those of `unpackObject`.
base::Result<BundleDonor> donorOf(const bundle::Bundle& bundle, const std::string& id,
                                  const rulebook::Rulebook& book);

}  // namespace rakugo::packing
