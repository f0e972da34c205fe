#include "mod/take_source.h"

#include <algorithm>
#include <ctime>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"
#include "mod/origins.h"
#include "mod/store.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

using Files = std::map<std::string, base::Bytes>;

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  gmtime_r(&now, &parts);
  char text[16];
  std::strftime(text, sizeof text, "%Y-%m-%d", &parts);
  return text;
}

// The real file for a name in a folder: itself, or the one that differs in letter case only.
fs::path findAnyCase(const fs::path& path) {
  std::error_code error;
  if (fs::is_regular_file(path, error)) return path;
  for (const auto& entry : fs::directory_iterator(path.parent_path(), error))
    if (base::lowerAscii(entry.path().filename().string()) == base::lowerAscii(path.filename().string()) &&
        entry.is_regular_file(error))
      return entry.path();
  return {};
}

// Writes files below sources/<name>/ and notes each in `into`, by its path there.
base::Status put(const fs::path& folder, const std::string& name, const std::string& below,
                 const Files& files, std::vector<SourceFile>& into,
                 const base::Progress* progress = nullptr) {
  std::vector<std::string> made;
  for (const auto& [relative, content] : files) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    const fs::path target = folder / "sources" / name / (below + relative);
    RAKUGO_TRY(base::makeFolder(target.parent_path()));
    RAKUGO_TRY(base::writeFileAtomic(target, content));
    into.push_back({below + relative, base::hex(base::sha256(content))});
    made.push_back("sources/" + name + "/" + below + relative);
  }
  return rememberMade(folder, made);
}

// A model with the files it names; the model first, whatever the others are called.
base::Status putModel(const fs::path& folder, const std::string& name, const std::string& below,
                      const std::string& file, const base::Bytes& bytes, const Files& named,
                      std::vector<SourceFile>& into, const base::Progress* progress = nullptr) {
  RAKUGO_TRY(put(folder, name, below, {{file, bytes}}, into, progress));
  Files inner;
  for (const auto& [relative, content] : named)
    if (base::isInnerPath(relative) && relative != file) inner[relative] = content;
  return put(folder, name, below, inner, into, progress);
}

}  // namespace

base::Result<std::string> takeSource(const fs::path& folder, ModState& state, const std::string& file,
                                     const base::Bytes& bytes, const Files& named) {
  // A folder that is there without a record holds what was undone, or another's files: they stay as they are.
  const std::string wanted = base::slug(fs::path(file).stem().string());
  std::string name = freeName(state.sources, wanted);
  std::error_code error;
  for (int n = 2; state.sources.count(name) != 0 || fs::exists(folder / "sources" / name, error); ++n)
    name = wanted + "-" + std::to_string(n);
  SourceDoc doc;
  doc.file = file;
  doc.added = today();
  RAKUGO_TRY(putModel(folder, name, "", file, bytes, named, doc.files));
  state.sources[name] = std::move(doc);
  return name;
}

base::Result<Files> filesBeside(const fs::path& file, const std::vector<std::string>& named) {
  Files files;
  for (const std::string& relative : named) {
    if (!base::isInnerPath(relative)) continue;
    const fs::path real = findAnyCase(file.parent_path() / relative);
    if (real.empty()) continue;
    const std::string as = (fs::path(relative).parent_path() / real.filename()).generic_string();
    if (files.count(as) != 0) continue;
    RAKUGO_ASSIGN(files[as], base::readFile(real));
  }
  return files;
}

base::Result<std::string> takeSource(const fs::path& folder, ModState& state, const fs::path& file,
                                     const std::vector<std::string>& named) {
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(file));
  RAKUGO_ASSIGN(const Files files, filesBeside(file, named));
  return takeSource(folder, state, file.filename().string(), bytes, files);
}

base::Result<SourceDoc> takeVersion(const fs::path& folder, const std::string& name, const SourceDoc& doc,
                                    const std::string& file, const base::Bytes& bytes, const Files& named,
                                    const std::vector<std::string>& keep, const base::Progress* progress) {
  std::string below;
  std::error_code error;
  for (int n = 2; below.empty(); ++n) {
    const std::string version = "v" + std::to_string(n);
    if (!fs::exists(folder / "sources" / name / version, error)) below = version + "/";
  }
  Files all = named;
  for (const std::string& relative : keep) {
    if (all.count(relative) != 0 || relative == file || !base::isInnerPath(relative)) continue;
    auto content = base::readFile(folder / (versionFolder(name, doc) + relative));
    if (content) all[relative] = std::move(content).value();
  }
  SourceDoc out = doc;
  out.file = below + file;
  out.files.clear();
  out.added = today();
  if (const base::Status put = putModel(folder, name, below, file, bytes, all, out.files, progress); !put) {
    fs::remove_all(folder / "sources" / name / below, error);  // made here, just now
    return put.error();
  }
  out.older.insert(out.older.begin(), SourceVersion{doc.file, doc.files, doc.added});
  if (out.older.size() > kKeptVersions) out.older.resize(kKeptVersions);
  return out;
}

std::pair<std::string, std::string> addModelOf(ModState& state, const std::string& source,
                                               const std::string& kind) {
  const std::string model = freeName(state.models, source), object = freeName(state.objects, model);
  state.models[model].source = source;
  ObjectDoc& made = state.objects[object];
  made.kind = kind;
  made.pieces.push_back({model, model, {0, 0, 0}, {0, 0, 0, 1}});
  return {model, object};
}

SourceDoc withOlder(const SourceDoc& doc, size_t older) {
  SourceDoc out = doc;
  const SourceVersion chosen = doc.older.at(older);
  out.older.erase(out.older.begin() + static_cast<std::ptrdiff_t>(older));
  out.older.insert(out.older.begin(), SourceVersion{doc.file, doc.files, doc.added});
  out.file = chosen.file;
  out.files = chosen.files;
  out.added = chosen.added;
  return out;
}

std::vector<std::string> filesOf(const std::string& name, const SourceDoc& doc) {
  std::vector<std::string> out;
  const auto add = [&](const std::vector<SourceFile>& files) {
    for (const SourceFile& f : files) out.push_back("sources/" + name + "/" + f.path);
  };
  add(doc.files);
  for (const SourceVersion& older : doc.older) add(older.files);
  std::sort(out.begin(), out.end());
  out.erase(std::unique(out.begin(), out.end()), out.end());
  return out;
}

base::Status copySourceFiles(const fs::path& folder, const std::string& name, const SourceDoc& doc,
                             const std::string& to, base::Progress* progress) {
  if (to != base::slug(to))
    return base::Error{"mod.name",
                       base::phrase("\"{0}\" cannot be a name.", base::presentable(to, 60)),
                       {},
                       base::phrase("Write \"{0}\".", base::slug(to))};
  std::vector<std::string> made = filesOf(name, doc);
  const size_t count = made.size(), begin = ("sources/" + name + "/").size();
  for (size_t i = 0; i < count; ++i) {
    if (progress != nullptr) {
      if (progress->cancelled()) return base::cancelledError();
      progress->say(base::phrase("Copying {0}", made[i].substr(begin)),
                    static_cast<double>(i) / static_cast<double>(count));
    }
    const std::string path = "sources/" + to + "/" + made[i].substr(begin);
    std::error_code error;
    if (!fs::is_regular_file(folder / made[i], error)) continue;
    RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(folder / made[i]));
    if (fs::exists(folder / path, error)) {
      const auto there = base::readFile(folder / path);
      if (!there || *there != bytes)
        return base::Error{"mod.taken",
                           base::phrase("Another file lies in the folder of that name: {0}.", path),
                           base::Place{(folder / path).string()}, base::phrase("Choose another name.")};
    } else {
      RAKUGO_TRY(base::makeFolder((folder / path).parent_path()));
      RAKUGO_TRY(base::writeFileAtomic(folder / path, bytes));
    }
    made.push_back(path);
  }
  return rememberMade(folder, made);
}

base::Result<std::string> addFile(const fs::path& folder, const std::string& name, SourceDoc& doc,
                                  const std::string& file, const base::Bytes& bytes) {
  const std::string own = versionFolder(name, doc), below = own.substr(("sources/" + name + "/").size());
  const fs::path leaf = fs::path(file).filename();
  std::string relative = "found/" + leaf.string();
  std::error_code error;
  for (int n = 2; fs::exists(folder / (own + relative), error); ++n) {
    const auto there = base::readFile(folder / (own + relative));
    if (there && *there == bytes) break;  // the very same file: taken before
    relative = "found/" + leaf.stem().string() + "-" + std::to_string(n) + leaf.extension().string();
  }
  std::erase_if(doc.files, [&](const SourceFile& f) { return f.path == below + relative; });
  RAKUGO_TRY(put(folder, name, below, {{relative, bytes}}, doc.files));
  return relative;
}

}  // namespace rakugo::mod
