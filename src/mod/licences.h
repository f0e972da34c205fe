// Licences that models, pictures and sounds are shared under, by their SPDX identifiers (SPDX License
// List 3.x).
#pragma once

#include <string>
#include <vector>

namespace rakugo::mod {

struct Licence {
  const char* id;      ///< SPDX identifier
  const char* title;   ///< its name
  const char* demand;  ///< what it asks of whoever shares the mod, in one sentence
};

/// Those one meets, the freest first.
const std::vector<Licence>& knownLicences();
/// By its identifier, letter case aside; null for one that is not known here, which may be a good one still.
const Licence* findLicence(const std::string& id);

}  // namespace rakugo::mod
