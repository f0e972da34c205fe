// The manifest of a bundle: who made it, for which game, and which objects a game finds in it.
#pragma once

#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"

namespace rakugo::bundle {

/// Credit that is owed for a source.
struct Credit {
  std::string work, author, licence, address;
  bool operator==(const Credit&) const = default;
};

/// docs/bundle-format.md section 4. All texts are UTF-8.
struct Manifest {
  std::string mod_id, title, author, version, description;
  std::string rulebook_id, rulebook_version;
  std::string target;                      ///< "desktop"
  std::vector<std::string> objects;        ///< entry ids
  std::vector<std::string> shared_assets;  ///< ids of the game's own assets that are referenced, not carried
  std::vector<Credit> credits;
  bool operator==(const Manifest&) const = default;
};

/// JSON text with stable key order.
base::Bytes encodeManifest(const Manifest& manifest);
/// Errors: json.*, bundle.manifest with the JSON pointer.
base::Result<Manifest> decodeManifest(base::ByteSpan bytes, const std::string& file);

}  // namespace rakugo::bundle
