#include "mod/store.h"

#include <algorithm>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"
#include "mod/copy.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

using base::Json;

constexpr uint64_t kMostIconBytes = 64ull << 20;

// True when a file is not what we last knew it to be: changed, gone, or there although we never knew it.
bool changedSince(const fs::path& folder, const std::string& path, const Footprint& footprint) {
  const auto bytes = base::readFile(folder / path);
  const auto known = footprint.find(path);
  if (!bytes) return bytes.error().code != "file.missing" || known != footprint.end();
  return known == footprint.end() || base::hex(base::sha256(*bytes)) != known->second;
}

base::Error changedError(const std::string& path) {
  return {"mod.changed_on_disk",
          base::phrase("Another program changed this file since it was read; nothing was written."),
          base::Place{path}, base::phrase("Look at what differs, then take the change or keep yours.")};
}

}  // namespace

std::vector<std::string> documentFiles(const fs::path& folder) {
  std::vector<std::string> out = modFiles(folder);
  std::erase_if(out, [](const std::string& path) {
    return documentPath(path).sort == DocumentSort::none || base::isTemporaryName(path);
  });
  return out;
}

base::Result<ModState> loadMod(const fs::path& folder, Footprint* footprint, const base::Progress* progress) {
  std::error_code error;
  if (!fs::is_regular_file(folder / "mod.json", error))
    return base::Error{"mod.not_a_mod", base::phrase("This folder is not a mod: it has no mod.json."),
                       base::Place{folder.string()},
                       base::phrase("Choose the folder that holds mod.json, or start a new mod.")};
  ModState state;
  Footprint seen;
  for (const std::string& path : documentFiles(folder)) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    const bool icon = documentPath(path).sort == DocumentSort::icon;
    auto bytes = base::readFile(folder / path, icon ? kMostIconBytes : base::Limits{}.json_bytes);
    if (!bytes) {
      base::Error e = bytes.error();
      e.place.file = path;
      return e;
    }
    RAKUGO_TRY(putDocument(state, path, &*bytes));
    seen[path] = base::hex(base::sha256(*bytes));
  }
  if (footprint != nullptr) *footprint = std::move(seen);
  return state;
}

base::Status saveMod(const fs::path& folder, const ModState& state, const ModState& before,
                     Footprint* footprint) {
  std::map<std::string, base::Bytes> write;
  std::vector<std::string> remove;
  for (const std::string& path : contentPaths(state)) {
    base::Bytes content = documentContent(state, path).value();
    const auto there = base::readFile(folder / path);
    if (there && *there == content) {
      if (footprint != nullptr) (*footprint)[path] = base::hex(base::sha256(content));
    } else {
      write[path] = std::move(content);
    }
  }
  for (const std::string& path : contentPaths(before))
    if (!documentContent(state, path)) remove.push_back(path);
  if (footprint != nullptr) {
    // Looked at as a whole before the first write, so that a refusal leaves the folder as it was.
    for (const auto& [path, content] : write)
      if (changedSince(folder, path, *footprint)) return changedError(path);
    std::error_code gone;  // what is gone already need not be removed, and nothing is lost by it
    for (const std::string& path : remove)
      if (fs::exists(folder / path, gone) && changedSince(folder, path, *footprint))
        return changedError(path);
  }
  base::removeLeftovers(folder, {"build", ".git"});
  for (const auto& [path, content] : write) {
    RAKUGO_TRY(base::makeFolder((folder / path).parent_path()));
    RAKUGO_TRY(base::writeFileAtomic(folder / path, content));
    if (footprint != nullptr) (*footprint)[path] = base::hex(base::sha256(content));
  }
  for (const std::string& path : remove) {
    RAKUGO_TRY(base::removeFile(folder / path));
    if (footprint != nullptr) footprint->erase(path);
  }
  return {};
}

base::Result<ModState> newMod(const fs::path& folder, const std::string& title, const std::string& rulebook,
                              const std::string& rulebook_version, const std::set<std::string>& taken) {
  std::error_code error;
  if (fs::exists(folder, error) && !fs::is_empty(folder, error))
    return base::Error{"mod.exists", base::phrase("The folder is not empty."), base::Place{folder.string()},
                       base::phrase("Choose a new folder.")};
  RAKUGO_TRY(base::makeFolder(folder));
  ModState state;
  state.card.id = freshModId(title, taken);
  state.card.title = title;
  state.card.rulebook = rulebook;
  state.card.rulebook_version = rulebook_version;
  RAKUGO_TRY(saveMod(folder, state, state));
  RAKUGO_TRY(base::writeFileAtomic(folder / ".gitignore", std::string_view("/build/\n")));
  return state;
}

std::vector<std::string> modFiles(const fs::path& folder) {
  return base::listFiles(folder, {"build", ".git"});
}

}  // namespace rakugo::mod
