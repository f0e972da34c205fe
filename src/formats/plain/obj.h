// Wavefront OBJ and its material library MTL, as their published descriptions have them (OBJ format
// version 3.0).
#pragma once

#include "formats/read_model.h"

namespace rakugo::formats {

/// True when the text looks like OBJ: its first statement, after comments, is one of the format.
bool looksLikeObj(base::ByteSpan bytes);

/// Reads an OBJ file. Parts are its objects, or its groups where it has no objects; each material in a part
/// is a primitive. Polygons of any size become triangles. Where the file gives no normals but smoothing
/// groups, normals are made of those. Pictures' V runs upward in OBJ and is turned to run downward. The
/// format knows no unit and no axes: lengths are taken as metres, +Y as up. UTF-8 and UTF-16, with or without
/// a mark; lines end in any way and may be continued with a backslash. Lines, points and free-form curves are
/// counted or named in a note and left out. A missing material library is a note. Errors: obj.index,
/// obj.number, obj.empty, obj.too_large, obj.encoding; with the line.
base::Result<ReadModel> readObj(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                const ReadOptions& options);

}  // namespace rakugo::formats
