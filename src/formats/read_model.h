// One call that reads any model format Rakugo knows.
#pragma once

#include <filesystem>
#include <functional>
#include <map>
#include <optional>
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
  std::vector<base::Note> notes;     ///< what was odd but readable
  uint32_t cameras = 0, lights = 0;  ///< as the file defines them, in use or not
  /// As the file counts them, before anything is cut to triangles or welded; 0 where the Model's are those.
  uint64_t stored_vertices = 0, stored_primitives = 0, stored_meshes = 0, stored_triangles = 0;
  uint64_t unused_vertices = 0;    ///< of the file, named by no face and left out (OBJ)
  uint32_t added_nodes = 0;        ///< nodes of the Model that stand for none of the file's
  uint64_t lines = 0, points = 0;  ///< elements that are no triangles and were left out
  /// By the number of their mesh, the box of those elements, in the mesh's space.
  std::map<uint32_t, geometry::Bounds> other_boxes;
  std::optional<double>
      unit_m;  ///< what the file says of its unit; nothing where the format has no word for it
  std::optional<geometry::Axis> up;  ///< the same of the axis that points up
  std::string copyright;             ///< what the file says of who made it; may be empty
  /// The files it names (buffers, libraries, pictures), decoded and relative, once each, in the order in
  /// which they were asked for, whether they are there or not.
  std::vector<std::string> named_files;
};

/// The box of all that the file draws, in the model's space: `scene::boundsOf`, and around lines and points.
geometry::Bounds boundsWithOthers(const ReadModel& read);

/// Gives the bytes of a file that the model names, by its decoded relative path. Must not leave the source's
/// folder.
using Fetch = std::function<base::Result<base::Bytes>(const std::string& relative)>;

struct ReadOptions {
  base::Limits limits;
  base::Progress* progress = nullptr;  ///< may be null
};

/// Reads a model from disk; files it names are looked for beside it. Of an archive its model is read, with
/// the files in there. Thread-safe. Errors: file.*, model.unknown_format, gltf.*, obj.*, ply.*, stl.*; all
/// with the file and the place inside it.
base::Result<ReadModel> readModelFile(const std::filesystem::path& path, const ReadOptions& options = {});

/// The same from bytes. `name` is used in messages.
base::Result<ReadModel> readModel(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                  const ReadOptions& options = {});

/// A `Fetch` for the folder of `path`. Links, absolute paths and ".." are refused.
Fetch fetchBeside(const std::filesystem::path& path, const base::Limits& limits);

/// One format of models.
struct ModelFormat {
  const char* name;                  ///< "glTF 2.0"
  std::vector<const char*> endings;  ///< lower case, without the dot; the usual one first
  /// How surely a file that begins so, of that name, is in this format: 0, no; 1, it may be; 2, by its first
  /// bytes; 3, by a mark that no other format has. The highest bid reads it; of equal ones the earlier row.
  int (*bid)(base::ByteSpan bytes, const std::string& name);
  base::Result<ReadModel> (*read)(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                  const ReadOptions& options);
};
/// All formats, the best ones first.
const std::vector<ModelFormat>& modelFormats();
/// Adds a row for the rest of the program; replaces one of that name. Call it before the first thread is
/// started.
void addModelFormat(ModelFormat format);

/// The endings of the model formats that can be read, the best ones first: "glb", "gltf", "obj", ...
std::vector<std::string> modelEndings();
/// The same of archives: "zip", "7z", "tar", ...
const std::vector<std::string>& archiveEndings();

}  // namespace rakugo::formats
