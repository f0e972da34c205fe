#include "formats/archives/archive.h"

#include <algorithm>
#include <cstring>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/archives/archive_entries.h"
#include "formats/collada/collada.h"

namespace rakugo::formats {
namespace {

using Files = std::map<std::string, base::Bytes>;

std::string fileName(const std::string& path) {
  const size_t slash = path.rfind('/');
  return path.substr(slash == std::string::npos ? 0 : slash + 1);
}

std::string folderOf(const std::string& path) { return path.substr(0, path.size() - fileName(path).size()); }

// The place of a path's ending in the list of endings; its size when it is none.
size_t rankOf(const std::string& path) {
  const std::vector<std::string> endings = modelEndings();
  const std::string name = base::lowerAscii(fileName(path));
  const size_t dot = name.rfind('.');
  // What some systems leave beside a file's name is no model.
  if (dot == std::string::npos || name.rfind("._", 0) == 0) return endings.size();
  return static_cast<size_t>(std::find(endings.begin(), endings.end(), name.substr(dot + 1)) -
                             endings.begin());
}

// "a/b/../c" and "./c" as they lie in the archive; empty when the path leaves it.
std::string normal(const std::string& path) {
  std::vector<std::string> steps;
  size_t at = 0;
  while (at <= path.size()) {
    const size_t end = std::min(path.find('/', at), path.size());
    const std::string step = path.substr(at, end - at);
    at = end + 1;
    if (step.empty() || step == ".") continue;
    if (step != "..") {
      steps.push_back(step);
    } else {
      if (steps.empty()) return {};
      steps.pop_back();
    }
  }
  std::string out;
  for (const std::string& step : steps) out += (out.empty() ? "" : "/") + step;
  return out;
}

// The file that a model means by a name, or the end.
Files::const_iterator findNamed(const Files& files, const std::string& model, const std::string& relative) {
  const std::string wanted = normal(folderOf(model) + relative);
  if (const auto exact = files.find(wanted); exact != files.end() && !wanted.empty()) return exact;
  const std::string low = base::lowerAscii(wanted), low_name = base::lowerAscii(fileName(relative));
  auto same_name = files.end();
  bool several = false;
  for (auto file = files.begin(); file != files.end(); ++file) {
    if (base::lowerAscii(file->first) == low) return file;
    if (base::lowerAscii(fileName(file->first)) != low_name) continue;
    several = several || same_name != files.end();
    same_name = file;
  }
  return several ? files.end() : same_name;
}

}  // namespace

bool isArchive(base::ByteSpan bytes) {
  const auto begins = [&](size_t at, std::initializer_list<unsigned char> mark) {
    return bytes.size() >= at + mark.size() && std::memcmp(bytes.data() + at, mark.begin(), mark.size()) == 0;
  };
  return begins(0, {'P', 'K', 3, 4}) || begins(0, {'P', 'K', 5, 6}) ||
         begins(0, {'7', 'z', 0xBC, 0xAF, 0x27, 0x1C}) || begins(0, {0x1F, 0x8B}) ||
         begins(0, {'B', 'Z', 'h'}) || begins(0, {0xFD, '7', 'z', 'X', 'Z', 0}) ||
         begins(0, {0x28, 0xB5, 0x2F, 0xFD}) || begins(257, {'u', 's', 't', 'a', 'r'});
}

base::Result<Files> readArchive(base::ByteSpan bytes, const std::string& name, const base::Limits& limits) {
  const ArchiveHandle a(archive_read_new());
  archive_read_support_filter_gzip(a.get());
  archive_read_support_filter_bzip2(a.get());
  archive_read_support_filter_xz(a.get());
  archive_read_support_filter_zstd(a.get());
  archive_read_support_format_zip_seekable(a.get());
  archive_read_support_format_7zip(a.get());
  archive_read_support_format_tar(a.get());
  if (archive_read_open_memory(a.get(), bytes.data(), bytes.size()) != ARCHIVE_OK)
    return damagedArchive("archive", name, archive_error_string(a.get()));
  return readEntries(a.get(), bytes.size(), name, limits, {"archive", true});
}

std::vector<std::string> archivedModels(const Files& files) {
  std::vector<std::string> models;
  for (const auto& [path, content] : files)
    if (rankOf(path) < modelEndings().size()) models.push_back(path);
  std::stable_sort(models.begin(), models.end(), [&](const std::string& a, const std::string& b) {
    const size_t ra = rankOf(a), rb = rankOf(b);
    // .glb and .gltf are one format.
    return std::max<size_t>(ra, 1) != std::max<size_t>(rb, 1) ? ra < rb
                                                              : files.at(a).size() > files.at(b).size();
  });
  // An archive of COLLADA says itself which document is meant.
  if (const auto manifest = files.find("manifest.xml"); manifest != files.end()) {
    const std::string root = normal(colladaRootOf(manifest->second));
    const auto named = std::find(models.begin(), models.end(), root);
    if (named != models.end()) std::rotate(models.begin(), named, named + 1);
  }
  return models;
}

base::Result<ArchivedModel> readArchivedModel(base::ByteSpan bytes, const std::string& name,
                                              const ReadOptions& options, const std::string& wanted) {
  if (options.progress != nullptr) options.progress->say(base::phrase("Looking into {0}", name), 0.1);
  RAKUGO_ASSIGN(Files files, readArchive(bytes, name, options.limits));
  std::vector<std::string> models = archivedModels(files);
  if (!wanted.empty()) {
    const auto chosen = std::find(models.begin(), models.end(), wanted);
    if (chosen == models.end())
      return base::Error{
          "archive.no_model",
          base::phrase("The archive does not hold {0} any more.", base::presentable(wanted, 120)),
          base::Place{name}, base::phrase("Choose the model anew.")};
    std::rotate(models.begin(), chosen, chosen + 1);
  }
  if (models.empty())
    return base::Error{
        "archive.no_model", base::phrase("There is no model in this archive that Rakugo reads."),
        base::Place{name},
        base::phrase("Look for a download as glTF 2.0 (.glb, .gltf), COLLADA, OBJ, PLY or STL.")};
  ArchivedModel out;
  out.path = models.front();
  out.others.assign(models.begin() + 1, models.end());
  std::vector<base::Note> moved;
  const Fetch fetch = [&](const std::string& relative) -> base::Result<base::Bytes> {
    const auto found = findNamed(files, out.path, relative);
    if (found == files.end() || found->first == out.path)
      return base::Error{"file.missing", base::phrase("The archive does not hold this file."),
                         base::Place{relative}, base::phrase("Look for it where the model was fetched.")};
    const bool fresh = out.files.emplace(relative, found->second).second;
    if (fresh && normal(folderOf(out.path) + relative) != found->first)
      moved.push_back({"archive.moved",
                       base::phrase("{0} was found as {1}.", base::presentable(relative, 80),
                                    base::presentable(found->first, 80)),
                       base::Place{name}});
    return found->second;
  };
  out.bytes = files.at(out.path);
  RAKUGO_ASSIGN(out.read, readModel(out.bytes, fileName(out.path), fetch, options));
  out.read.notes.insert(out.read.notes.end(), moved.begin(), moved.end());
  out.read.notes.push_back(
      {"archive.taken", base::phrase("The model is {0} of the archive.", base::presentable(out.path, 120)),
       base::Place{name}});
  if (!out.others.empty())
    out.read.notes.push_back(
        {"archive.others",
         base::phrase("The archive holds other models too: {0}.", base::listText(out.others, 6)),
         base::Place{name}});
  return out;
}

}  // namespace rakugo::formats
