// A mod as a zip of plain open files, for games that take them so. docs/zip-package.md is the specification.
#pragma once

#include <string>
#include <vector>

#include "build/build_bundle.h"

namespace rakugo::build {

inline constexpr const char* kZipManifest = "manifest.json";

/// The archive's bytes: manifest.json, objects/*.json, models/*.glb (glTF 2.0: metres, +Y up, +Z forward,
/// right-handed), pictures/*.png within the rulebook's limits, icons/*.png. Other sizes of a model are morph
/// targets of its meshes. Errors: picture.*, zip.*, job.cancelled.
base::Result<base::Bytes> buildZip(const check::Examination& examination, const BuildOptions& options);

/// The word for what lies at a path of the archive: "mesh", "object", ...
std::string zipKind(const std::string& path);

/// All faults: damage of the archive, files that cannot be read, references that lead nowhere.
std::vector<base::Error> verifyZip(base::ByteSpan bytes, const std::string& name,
                                   const base::Progress* progress = nullptr);

}  // namespace rakugo::build
