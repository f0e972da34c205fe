#include "prepare/newer/incoming.h"

#include <algorithm>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"
#include "formats/archives/archive.h"
#include "formats/pictures/pictures.h"
#include "formats/sounds.h"
#include "mod/take_source.h"

namespace rakugo::prepare {
namespace fs = std::filesystem;
namespace {

constexpr int kDepth = 3;            // of folders
constexpr size_t kMostFiles = 5000;  // looked at in one folder given

std::string endingOf(const std::string& name) {
  const std::string leaf = fs::path(name).filename().string();
  const size_t dot = leaf.rfind('.');
  // What some systems leave beside a file's name is not the file.
  if (dot == std::string::npos || leaf.rfind("._", 0) == 0) return {};
  return base::lowerAscii(leaf.substr(dot + 1));
}

bool among(const std::vector<std::string>& endings, const std::string& ending) {
  return std::find(endings.begin(), endings.end(), ending) != endings.end();
}

base::Error nothing(const fs::path& path, const char* where) {
  return {"file.nothing_to_take",
          std::string("There is no model in this ") + where +
              " that Rakugo reads, and no picture or sound either.",
          base::Place{path.filename().string()},
          "Look for models as glTF 2.0 (.glb, .gltf), COLLADA, OBJ, PLY or STL, for pictures or for sounds."};
}

// Models where there are any, else the rest.
std::vector<Given> chosen(std::vector<std::pair<SourceSort, Given>> all) {
  const bool models =
      std::any_of(all.begin(), all.end(), [](const auto& one) { return one.first == SourceSort::model; });
  std::vector<Given> out;
  for (auto& [sort, given] : all)
    if ((sort == SourceSort::model) == models) out.push_back(std::move(given));
  return out;
}

base::Result<std::vector<Given>> inArchive(const fs::path& path, const base::Bytes& bytes) {
  RAKUGO_ASSIGN(const auto files, formats::readArchive(bytes, path.filename().string()));
  std::vector<Given> out;
  for (const std::string& model : formats::archivedModels(files)) out.push_back({path, model});
  if (out.empty())
    for (const auto& [name, content] : files)
      if (sourceSortOf(name)) out.push_back({path, name});
  if (out.empty()) return nothing(path, "archive");
  return out;
}

base::Result<std::vector<Given>> inFolder(const fs::path& path) {
  std::vector<std::pair<SourceSort, Given>> all;
  std::error_code error;
  size_t seen = 0;
  for (auto at = fs::recursive_directory_iterator(path, fs::directory_options::skip_permission_denied, error);
       at != fs::recursive_directory_iterator(); at.increment(error)) {
    if (error || ++seen > kMostFiles) break;
    if (at.depth() >= kDepth) at.disable_recursion_pending();
    if (!fs::is_regular_file(at->symlink_status(error))) continue;
    if (const auto sort = sourceSortOf(at->path().filename().string()))
      all.push_back({*sort, {at->path(), {}}});
  }
  if (all.empty()) return nothing(path, "folder");
  std::sort(all.begin(), all.end(),
            [](const auto& a, const auto& b) { return a.second.file < b.second.file; });
  return chosen(std::move(all));
}

// Of an archive: the file at `inside`, which is no model.
base::Status readInside(Incoming& out, const base::Bytes& archive) {
  const std::string shown = out.given.file.filename().string();
  RAKUGO_ASSIGN(auto files, formats::readArchive(archive, shown));
  const auto found = files.find(out.given.inside);
  if (found == files.end())
    return base::Error{"file.missing", base::phrase("The archive does not hold this file."),
                       base::Place{out.given.inside}, base::phrase("Choose it anew.")};
  out.name = fs::path(out.given.inside).filename().string();
  out.bytes = std::move(found->second);
  return {};
}

}  // namespace

std::optional<SourceSort> sourceSortOf(const std::string& file) {
  const std::string ending = endingOf(file);
  if (ending.empty()) return std::nullopt;
  if (among(formats::modelEndings(), ending)) return SourceSort::model;
  if (among(formats::pictureEndings(), ending)) return SourceSort::picture;
  if (among(formats::soundEndings(), ending)) return SourceSort::sound;
  return std::nullopt;
}

std::string Given::shown() const {
  return inside.empty() ? file.filename().string() : file.filename().string() + ": " + inside;
}

base::Result<std::vector<Given>> listGiven(const fs::path& path, base::Progress* progress) {
  if (progress != nullptr) progress->say(base::phrase("Looking into {0}", path.filename().string()), 0.05);
  std::error_code error;
  if (fs::is_directory(path, error)) return inFolder(path);
  // A model of its own is not read here for its name alone.
  if (sourceSortOf(path.filename().string())) return std::vector<Given>{{path, {}}};
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(path));
  if (formats::isArchive(bytes)) return inArchive(path, bytes);
  return std::vector<Given>{{path, {}}};
}

std::vector<bool> likelyChoice(const std::vector<Given>& given) {
  const auto rank = [](const std::string& path) {
    const std::vector<std::string> endings = formats::modelEndings();
    return std::find(endings.begin(), endings.end(), endingOf(path)) - endings.begin();
  };
  const auto path = [](const Given& g) {
    return g.inside.empty() ? g.file.string() : g.file.string() + "/" + g.inside;
  };
  std::map<std::string, size_t> best;
  for (size_t i = 0; i < given.size(); ++i) {
    const std::string whole = path(given[i]), key = base::lowerAscii(whole.substr(0, whole.rfind('.')));
    const auto [known, fresh] = best.emplace(key, i);
    if (!fresh && rank(whole) < rank(path(given[known->second]))) known->second = i;
  }
  std::vector<bool> out(given.size(), false);
  for (const auto& [key, i] : best) out[i] = true;
  return out;
}

base::Result<std::string> digestOf(const Given& given, std::vector<std::string> names) {
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(given.file));
  std::string all = base::hex(base::sha256(bytes));
  if (!given.inside.empty()) return all;
  std::sort(names.begin(), names.end());
  RAKUGO_ASSIGN(const auto files, mod::filesBeside(given.file, names));
  for (const std::string& name : names) {
    const auto found = files.find(name);
    all += "\n" + name + " " + (found != files.end() ? base::hex(base::sha256(found->second)) : "");
  }
  return names.empty() ? all : base::hex(base::sha256(base::asBytes(all)));
}

std::string stampOf(const Given& given, std::vector<std::string> names) {
  if (!given.inside.empty()) names.clear();
  std::sort(names.begin(), names.end());
  std::string out;
  const auto add = [&](const fs::path& one) {
    std::error_code error;
    const auto size = fs::file_size(one, error);
    const auto time = error ? fs::file_time_type() : fs::last_write_time(one, error);
    out += error ? "- " : std::to_string(size) + " " + std::to_string(time.time_since_epoch().count()) + " ";
  };
  add(given.file);
  for (const std::string& name : names)
    if (base::isInnerPath(name)) add(given.file.parent_path() / name);
  return out;
}

base::Result<Incoming> readIncoming(const Given& given, base::Progress* progress) {
  Incoming out;
  out.given = given;
  if (progress != nullptr) progress->say(base::phrase("Reading {0}", given.shown()), 0.2);
  RAKUGO_ASSIGN(base::Bytes bytes, base::readFile(given.file));
  const std::string shown = given.file.filename().string();
  formats::ReadOptions options;
  options.progress = progress;
  const bool archive = formats::isArchive(bytes);
  const auto sort = sourceSortOf(given.inside.empty() ? shown : given.inside);
  if (!archive && !given.inside.empty())
    return base::Error{"archive.damaged", base::phrase("This is no archive any more."), base::Place{shown},
                       base::phrase("Choose it anew.")};
  if (archive && (given.inside.empty() || sort == SourceSort::model)) {
    RAKUGO_ASSIGN(formats::ArchivedModel found,
                  formats::readArchivedModel(bytes, shown, options, given.inside));
    out.given.inside = found.path;
    out.name = fs::path(found.path).filename().string();
    out.bytes = std::move(found.bytes);
    out.files = std::move(found.files);
    out.others = std::move(found.others);
    out.read = std::make_shared<const formats::ReadModel>(std::move(found.read));
    out.digest = base::hex(base::sha256(bytes));
    out.stamp = stampOf(out.given, {});
    return out;
  }
  if (archive) {
    RAKUGO_TRY(readInside(out, bytes));
    out.digest = base::hex(base::sha256(bytes));
    out.stamp = stampOf(given, {});
  } else {
    out.name = shown;
    out.bytes = std::move(bytes);
  }
  // By its content; an ending may be wrong or missing.
  if (formats::isSound(out.bytes)) {
    RAKUGO_TRY(formats::decodeSound(out.bytes, out.name));
    out.sort = SourceSort::sound;
  } else if (sort == SourceSort::picture) {
    RAKUGO_TRY(formats::pictureInfo(out.bytes, out.name));
    out.sort = SourceSort::picture;
  } else {
    RAKUGO_ASSIGN(
        formats::ReadModel read,
        formats::readModel(out.bytes, out.name, formats::fetchBeside(given.file, options.limits), options));
    RAKUGO_ASSIGN(out.files, mod::filesBeside(given.file, read.named_files));
    out.read = std::make_shared<const formats::ReadModel>(std::move(read));
  }
  if (!archive) {
    std::vector<std::string> names;
    for (const auto& [name, content] : out.files) names.push_back(name);
    RAKUGO_ASSIGN(out.digest, digestOf(given, names));
    out.stamp = stampOf(given, names);
  }
  return out;
}

}  // namespace rakugo::prepare
