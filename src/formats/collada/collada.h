// COLLADA 1.4.1 and 1.5 (ISO/PAS 17506): reader and writer.
#pragma once

#include "formats/read_model.h"

namespace rakugo::formats {

/// True when the text begins like an XML document whose first element is COLLADA.
bool looksLikeCollada(base::ByteSpan bytes);

/// The document that the manifest of a .zae archive names (COLLADA 1.5, appendix on archives); empty when it
/// names none.
std::string colladaRootOf(base::ByteSpan manifest);

/// Reads a .dae file. The model keeps the file's numbers and axes; `unit_m` and `up` say what the file says
/// of them. Polygons become triangles, with their holes; a placement that shears is brought to the nearest
/// turn and scale with a note; animations on single components are gathered into position, turn and scale by
/// node. Other documents of the same folder are followed where the file refers to them. No document type is
/// read, so that no entity is ever fetched or expanded. A missing picture is no error: its bytes are null.
/// Errors: collada.syntax, collada.version, collada.reference, collada.source, collada.number, collada.index,
/// collada.tree, collada.too_large, collada.empty; each with the element and, for the file itself, the line.
base::Result<ReadModel> readCollada(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                    const ReadOptions& options);

/// The model as COLLADA 1.4.1, lengths in metres; pictures are named by `pictures`, one an image, empty for
/// those that are not there. Cubic keys are sampled. Equal models give equal bytes.
std::string writeCollada(const scene::Model& model, const std::vector<std::string>& pictures,
                         const base::Progress* progress = nullptr);

}  // namespace rakugo::formats
