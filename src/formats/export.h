// A model into files of any format that Rakugo writes.
#pragma once

#include <map>

#include "formats/read_model.h"

namespace rakugo::formats {

/// Files by name, and what they cannot carry.
struct Exported {
  std::map<std::string, base::Bytes> files;
  std::vector<std::string> lost;  ///< for people: "2 skins", "vertex colours"
};

/// Writes a model in the format of `name`'s ending; further files (materials, buffers, pictures) are named
/// after it, pictures as the source names them. glTF and COLLADA keep the tree; for the others all parts are
/// put where they stand in the model's space, skinned ones where their bones put them at rest. Lengths are
/// metres, axes the model's own; glTF, which has one way up only, gets a node above all that turns it there.
/// Numbers are written so that reading gives the same floats; glTF gets what any reader takes
/// (`scene::writtenModel`). What no root reaches is left out. Equal models give equal bytes. Errors:
/// export.unknown_format, job.cancelled.
base::Result<Exported> exportModel(const scene::Model& model, const std::string& name,
                                   const base::Progress* progress = nullptr);

/// The endings it writes, what carries most first: "glb", "gltf", "dae", "obj", "ply", "stl".
const std::vector<std::string>& exportEndings();

}  // namespace rakugo::formats
