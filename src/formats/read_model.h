// One call that reads any model format Rakugo knows.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "base/jobs.h"
#include "base/limits.h"
#include "base/result.h"
#include "scene/model.h"

namespace rakugo::formats {

/// What a reader made of a file.
struct ReadModel {
  std::string format;   ///< "glTF binary", "glTF"
  std::string version;  ///< "2.0"
  scene::Model model;
  std::vector<base::Note> notes;  ///< what was odd but readable
  uint32_t cameras = 0, lights = 0;
};

/// Gives the bytes of a file that the model names, by its decoded relative path. Must not leave the source's
/// folder.
using Fetch = std::function<base::Result<base::Bytes>(const std::string& relative)>;

struct ReadOptions {
  base::Limits limits;
  base::Progress* progress = nullptr;  ///< may be null
};

/// Reads a model from disk; files it names are looked for beside it. Thread-safe.
/// Errors: file.*, model.unknown_format, gltf.*; all with the file and the place inside it.
base::Result<ReadModel> readModelFile(const std::filesystem::path& path, const ReadOptions& options = {});

/// The same from bytes. `name` is used in messages.
base::Result<ReadModel> readModel(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                  const ReadOptions& options = {});

/// A `Fetch` for the folder of `path`. Links, absolute paths and ".." are refused.
Fetch fetchBeside(const std::filesystem::path& path, const base::Limits& limits);

/// The files a source names (buffers and pictures), decoded and relative, in order of appearance, without
/// embedded ones. Used when a source is copied into a mod. Errors as `readModel`.
base::Result<std::vector<std::string>> namedFiles(base::ByteSpan bytes, const std::string& name,
                                                  const ReadOptions& options = {});

}  // namespace rakugo::formats
