#include "formats/read_model.h"

#include "base/files.h"
#include "formats/gltf.h"

namespace rakugo::formats {
namespace fs = std::filesystem;
namespace {

bool startsLikeJson(base::ByteSpan bytes) {
  for (const std::byte b : bytes.first(std::min<size_t>(bytes.size(), 64))) {
    const auto c = static_cast<unsigned char>(b);
    if (c == '{') return true;
    if (c > ' ' && c != 0xEF && c != 0xBB && c != 0xBF) return false;
  }
  return false;
}

base::Error unknownFormat(const std::string& name) {
  return {"model.unknown_format", "This file is in no model format that Rakugo reads.",
          base::Place{name, "", 0}, "Export it as glTF 2.0 (.glb or .gltf)."};
}

}  // namespace

Fetch fetchBeside(const fs::path& path, const base::Limits& limits) {
  return [folder = path.parent_path(), limits](const std::string& relative) -> base::Result<base::Bytes> {
    if (!base::isInnerPath(relative))
      return base::Error{"file.outside", "The file name leads out of the source's folder.",
                         base::Place{relative}, "Put the file beside the model."};
    // A link inside the folder could lead anywhere; every step of the path must be a plain file or folder.
    fs::path at = folder;
    for (const fs::path& step : fs::path(relative)) {
      at /= step;
      std::error_code error;
      if (fs::is_symlink(at, error))
        return base::Error{"file.outside", "The file is a link.", base::Place{relative},
                           "Put the file itself beside the model."};
    }
    return base::readFile(at, limits.file_bytes);
  };
}

base::Result<ReadModel> readModelFile(const fs::path& path, const ReadOptions& options) {
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(path, options.limits.file_bytes));
  return readModel(bytes, path.filename().string(), fetchBeside(path, options.limits), options);
}

base::Result<ReadModel> readModel(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                  const ReadOptions& options) {
  if (isGlb(bytes) || startsLikeJson(bytes)) return readGltf(bytes, name, fetch, options);
  return unknownFormat(name);
}

base::Result<std::vector<std::string>> namedFiles(base::ByteSpan bytes, const std::string& name,
                                                  const ReadOptions& options) {
  if (isGlb(bytes) || startsLikeJson(bytes)) return gltfNamedFiles(bytes, name, options);
  return unknownFormat(name);
}

}  // namespace rakugo::formats
