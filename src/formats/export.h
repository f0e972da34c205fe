// Writers of the simple mesh formats: OBJ with MTL, PLY, STL. (glTF's is in gltf.h.)
#pragma once

#include <map>

#include "formats/read_model.h"

namespace rakugo::formats {

/// Files by name, and what they cannot carry.
struct Exported {
  std::map<std::string, base::Bytes> files;
  std::vector<std::string> lost;  ///< for people: "2 skins", "vertex colours"
};

/// Writes a model in the format of `name`'s ending (obj, ply, stl); further files (materials, pictures) are
/// named after it. All parts are put where they stand in the model's space; lengths are metres, axes the
/// model's own. Numbers are written so that reading gives the same floats. Equal models give equal bytes.
/// Errors: export.unknown_format.
base::Result<Exported> exportModel(const scene::Model& model, const std::string& name);

/// The endings it writes: "obj", "ply", "stl".
const std::vector<std::string>& exportEndings();

}  // namespace rakugo::formats
