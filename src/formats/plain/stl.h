// STL, text and binary, as the StereoLithography Interface Specification (3D Systems, 1989) has it.
#pragma once

#include "formats/read_model.h"

namespace rakugo::formats {

/// True for a binary file whose length is that of the facets it counts, or a text that begins with "solid"
/// and has a facet. A binary file may begin with "solid" too: its length decides.
bool looksLikeStl(base::ByteSpan bytes);

/// Reads STL. Corners at the very same place become one vertex (the format stores each facet's corners anew).
/// Facets' normals are left out: what is stored is often zero, and the corners' order says the same. A text
/// may hold several solids; each is a part. No unit, no axes: metres and +Z up are taken, as printers have
/// it. Errors: stl.cut, stl.syntax, stl.empty, stl.too_large; with the line or byte.
base::Result<ReadModel> readStl(base::ByteSpan bytes, const std::string& name, const ReadOptions& options);

}  // namespace rakugo::formats
