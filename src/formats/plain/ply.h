// PLY, the Polygon File Format (Turk, 1994): text, and binary of both orders.
#pragma once

#include "formats/read_model.h"

namespace rakugo::formats {

bool isPly(base::ByteSpan bytes);

/// Reads PLY. Of the element "vertex": x y z, nx ny nz, red green blue alpha (bytes are taken as sRGB's
/// 0..255, floats as 0..1), and texture coordinates under the names s t, u v, texture_u texture_v; of "face"
/// the list vertex_indices or vertex_index, any number of corners. Other elements and properties are passed
/// over with a note. One part. No unit and no axes are known: metres, +Y up. Errors: ply.header, ply.type,
/// ply.cut, ply.number, ply.index, ply.empty, ply.too_large; with the line or byte.
base::Result<ReadModel> readPly(base::ByteSpan bytes, const std::string& name, const ReadOptions& options);

}  // namespace rakugo::formats
