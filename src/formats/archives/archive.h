// Archives as download sites hand them out: looked into in memory, never unpacked to disk.
#pragma once

#include <map>

#include "formats/read_model.h"

namespace rakugo::formats {

/// True for zip, 7z and tar, the last also behind gzip, bzip2, xz or zstd; told by the first bytes.
bool isArchive(base::ByteSpan bytes);

/// Every regular file by path, with the refusals of `readZip`: paths that leave the archive, links,
/// encryption, repeated paths, too many files, and contents far larger than the archive. Errors: archive.*.
base::Result<std::map<std::string, base::Bytes>> readArchive(base::ByteSpan bytes, const std::string& name,
                                                             const base::Limits& limits = {});

/// A model found in an archive, with the files of the archive that it names.
struct ArchivedModel {
  std::string path;  ///< in the archive
  base::Bytes bytes;
  ReadModel read;
  std::map<std::string, base::Bytes> files;  ///< by the name the model has for them
  std::vector<std::string> others;           ///< paths of the other models in there
};

/// The models of an archive, the likeliest first: the one that the manifest of a .zae names, then glTF before
/// COLLADA, OBJ, PLY and STL, and of several of a format the largest. A file without an ending that is known
/// is none.
std::vector<std::string> archivedModels(const std::map<std::string, base::Bytes>& files);

/// Reads a model of an archive: the one at `wanted`, or with that empty the likeliest. Files it names are
/// looked for where it says, then in other letter case, then anywhere in the archive under the same name if
/// only one file has it; what was found elsewhere is a note. Errors: archive.*, archive.no_model, and those
/// of the model's reader.
base::Result<ArchivedModel> readArchivedModel(base::ByteSpan bytes, const std::string& name,
                                              const ReadOptions& options = {},
                                              const std::string& wanted = {});

}  // namespace rakugo::formats
