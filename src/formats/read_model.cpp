#include "formats/read_model.h"

#include <algorithm>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "formats/archives/archive.h"
#include "formats/collada/collada.h"
#include "formats/gltf/gltf.h"
#include "formats/plain/obj.h"
#include "formats/plain/ply.h"
#include "formats/plain/stl.h"

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

bool endsWith(const std::string& name, std::string_view ending) {
  return name.size() >= ending.size() && base::lowerAscii(name.substr(name.size() - ending.size())) == ending;
}

std::vector<ModelFormat>& formatRows() {
  // Text formats without a mark of their own come last.
  static std::vector<ModelFormat> rows = {
      {"glTF 2.0",
       {"glb", "gltf"},
       [](base::ByteSpan bytes, const std::string&) {
         return isGlb(bytes) ? 3 : startsLikeJson(bytes) ? 2 : 0;
       },
       readGltf},
      {"COLLADA",
       {"dae"},
       [](base::ByteSpan bytes, const std::string&) { return looksLikeCollada(bytes) ? 2 : 0; },
       readCollada},
      {"OBJ",
       {"obj"},
       [](base::ByteSpan bytes, const std::string&) { return looksLikeObj(bytes) ? 1 : 0; },
       readObj},
      {"PLY",
       {"ply"},
       [](base::ByteSpan bytes, const std::string&) { return isPly(bytes) ? 3 : 0; },
       [](base::ByteSpan bytes, const std::string& name, const Fetch&, const ReadOptions& options) {
         return readPly(bytes, name, options);
       }},
      {"STL",
       {"stl"},
       [](base::ByteSpan bytes, const std::string& name) {
         return looksLikeStl(bytes) || endsWith(name, ".stl") ? 2 : 0;
       },
       [](base::ByteSpan bytes, const std::string& name, const Fetch&, const ReadOptions& options) {
         return readStl(bytes, name, options);
       }},
  };
  return rows;
}

std::string formatNames() {
  std::string out;
  for (size_t i = 0; i < formatRows().size(); ++i) {
    out += (i == 0                         ? ""
            : i + 1 == formatRows().size() ? " or "
                                           : ", ") +
           std::string(formatRows()[i].name) + " (";
    for (const char* ending : formatRows()[i].endings)
      out += (out.ends_with('(') ? "." : ", .") + std::string(ending);
    out += ")";
  }
  return out;
}

base::Error unknownFormat(base::ByteSpan bytes, const std::string& name) {
  if (bytes.empty())
    return {"model.unknown_format", base::phrase("The file is empty."), base::Place{name, "", 0},
            base::phrase("Copy or export it again.")};
  const bool binary =
      std::find(bytes.begin(), bytes.begin() + static_cast<ptrdiff_t>(std::min<size_t>(bytes.size(), 1024)),
                std::byte{0}) != bytes.begin() + static_cast<ptrdiff_t>(std::min<size_t>(bytes.size(), 1024));
  return {"model.unknown_format",
          binary ? base::phrase("This file is in a closed format, or in none that Rakugo knows.")
                 : base::phrase("This text is in no open model format that Rakugo reads."),
          base::Place{name, "", 0},
          base::phrase("Ask for, or export, one of the open ones: {0}.", formatNames())};
}

}  // namespace

Fetch fetchBeside(const fs::path& path, const base::Limits& limits) {
  return [folder = path.parent_path(), limits](const std::string& relative) -> base::Result<base::Bytes> {
    if (!base::isInnerPath(relative))
      return base::Error{"file.outside", base::phrase("The file name leads out of the source's folder."),
                         base::Place{relative}, base::phrase("Put the file beside the model.")};
    // A link inside the folder could lead anywhere; every step of the path must be a plain file or folder.
    fs::path at = folder;
    for (const fs::path& step : fs::path(relative)) {
      at /= step;
      std::error_code error;
      if (fs::is_symlink(at, error))
        return base::Error{"file.outside", base::phrase("The file is a link."), base::Place{relative},
                           base::phrase("Put the file itself beside the model.")};
    }
    return base::readFile(at, limits.file_bytes);
  };
}

base::Result<ReadModel> readModelFile(const fs::path& path, const ReadOptions& options) {
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(path, options.limits.file_bytes));
  if (isArchive(bytes)) {
    RAKUGO_ASSIGN(ArchivedModel found, readArchivedModel(bytes, path.filename().string(), options));
    return std::move(found.read);
  }
  return readModel(bytes, path.filename().string(), fetchBeside(path, options.limits), options);
}

base::Result<ReadModel> readModel(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                  const ReadOptions& options) {
  std::vector<std::string> named;
  const Fetch noting = [&](const std::string& said) -> base::Result<base::Bytes> {
    const std::string relative = base::withoutDots(said);
    if (std::find(named.begin(), named.end(), relative) == named.end()) named.push_back(relative);
    if (!fetch)
      return base::Error{"file.missing", base::phrase("The file is not at hand."), base::Place{relative}, ""};
    return fetch(relative);
  };
  const ModelFormat* best = nullptr;
  int highest = 0;
  for (const ModelFormat& format : formatRows())
    if (const int bid = format.bid(bytes, name); bid > highest) highest = bid, best = &format;
  if (best == nullptr) return unknownFormat(bytes, name);
  base::Result<ReadModel> read = best->read(bytes, name, noting, options);
  if (read) read->named_files = std::move(named);
  return read;
}

const std::vector<ModelFormat>& modelFormats() { return formatRows(); }

void addModelFormat(ModelFormat format) {
  std::erase_if(formatRows(), [&](const ModelFormat& one) { return std::string(one.name) == format.name; });
  formatRows().push_back(std::move(format));
}

std::vector<std::string> modelEndings() {
  std::vector<std::string> out;
  for (const ModelFormat& format : formatRows())
    out.insert(out.end(), format.endings.begin(), format.endings.end());
  return out;
}

const std::vector<std::string>& archiveEndings() {
  static const std::vector<std::string> kEndings = {"zip", "zae", "7z", "tar", "tgz",
                                                    "gz",  "bz2", "xz", "zst"};
  return kEndings;
}

geometry::Bounds boundsWithOthers(const ReadModel& read) {
  geometry::Bounds out = scene::boundsOf(read.model);
  if (read.other_boxes.empty()) return out;
  const auto world = scene::worldMatrices(read.model);
  for (const scene::NodeIndex i : scene::reachedNodes(read.model)) {
    const scene::MeshIndex mesh = read.model.node(i).mesh;
    const auto box = mesh.valid() ? read.other_boxes.find(mesh.value()) : read.other_boxes.end();
    if (box == read.other_boxes.end() || box->second.empty()) continue;
    for (const float x : {box->second.min.x, box->second.max.x})
      for (const float y : {box->second.min.y, box->second.max.y})
        for (const float z : {box->second.min.z, box->second.max.z})
          out.add(glm::vec3(world[i.value()] * glm::vec4(x, y, z, 1)));
  }
  return out;
}

}  // namespace rakugo::formats
