#include "mod/licences.h"

#include "base/text.h"

namespace rakugo::mod {

const std::vector<Licence>& knownLicences() {
  static const std::vector<Licence> kAll = {
      {"CC0-1.0", "Creative Commons Zero", "Free for everything; nothing is asked."},
      {"CC-BY-4.0", "Creative Commons Attribution", "Name the author, the licence and what was changed."},
      {"CC-BY-SA-4.0", "Creative Commons Attribution, share alike",
       "Name the author and what was changed; the mod has to be shared under the same licence."},
      {"CC-BY-NC-4.0", "Creative Commons Attribution, not commercial",
       "Name the author and what was changed; the mod may not be sold."},
      {"CC-BY-NC-SA-4.0", "Creative Commons Attribution, not commercial, share alike",
       "Name the author; the mod may not be sold and has to be shared under the same licence."},
      {"CC-BY-ND-4.0", "Creative Commons Attribution, no derivatives",
       "Changed versions may not be shared, and a preparation changes it: ask the author first."},
      {"CC-BY-NC-ND-4.0", "Creative Commons Attribution, not commercial, no derivatives",
       "Changed versions may not be shared, and a preparation changes it: ask the author first."},
      {"MIT", "MIT Licence", "Keep the copyright line and the licence's text with it."},
      {"Apache-2.0", "Apache License 2.0", "Keep the licence's text and say what was changed."},
      {"GPL-3.0-or-later", "GNU General Public License 3 or later",
       "Share what it was made from too, under the same licence."},
      {"OFL-1.1", "SIL Open Font License 1.1", "Keep the licence's text; do not sell it by itself."},
      {"LicenseRef-Own", "Own work", "It is yours; say what others may do with it in the mod's description."},
  };
  return kAll;
}

const Licence* findLicence(const std::string& id) {
  for (const Licence& one : knownLicences())
    if (base::lowerAscii(one.id) == base::lowerAscii(id)) return &one;
  return nullptr;
}

}  // namespace rakugo::mod
