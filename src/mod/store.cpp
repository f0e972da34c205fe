#include "mod/store.h"

#include <algorithm>
#include <ctime>
#include <random>

#include "base/files.h"
#include "base/sha256.h"
#include "base/text.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

using base::Json;

template <class Doc, class From>
base::Result<Doc> loadDocument(const fs::path& folder, const std::string& relative, const From& from) {
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(folder / relative, base::Limits{}.json_bytes));
  RAKUGO_ASSIGN(const Json json, base::parseJson(base::asText(bytes), relative));
  std::vector<base::Error> complaints;
  Doc doc = from(json, relative, complaints);
  // A newer format explains whatever else looks odd, so it is said first.
  for (const base::Error& c : complaints)
    if (c.code == "mod.newer_format") return c;
  if (!complaints.empty()) return complaints.front();
  return doc;
}

// Names of `<folder>/<sub>/<name><suffix>`, sorted.
std::vector<std::string> names(const fs::path& folder, const char* sub, const std::string& suffix) {
  std::vector<std::string> out;
  std::error_code error;
  for (const auto& entry : fs::directory_iterator(folder / sub, error)) {
    const std::string name = entry.path().filename().string();
    // A link could bring in any file of the machine.
    if (name.size() > suffix.size() && name.ends_with(suffix) && !entry.is_symlink(error) &&
        entry.is_regular_file(error))
      out.push_back(name.substr(0, name.size() - suffix.size()));
  }
  std::sort(out.begin(), out.end());
  return out;
}

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

}  // namespace

base::Result<ModState> loadMod(const fs::path& folder) {
  std::error_code error;
  if (!fs::is_regular_file(folder / "mod.json", error))
    return base::Error{"mod.not_a_mod", "This folder is not a mod: it has no mod.json.",
                       base::Place{folder.string()},
                       "Choose the folder that holds mod.json, or start a new mod."};
  ModState state;
  RAKUGO_ASSIGN(state.card, (loadDocument<ModCard>(folder, "mod.json", modCardFrom)));
  std::vector<std::string> sources;
  for (const auto& entry : fs::directory_iterator(folder / "sources", error))
    if (!entry.is_symlink(error) && fs::is_regular_file(entry.path() / "source.json", error))
      sources.push_back(entry.path().filename().string());
  for (const std::string& name : sources) {
    RAKUGO_ASSIGN(state.sources[name],
                  (loadDocument<SourceDoc>(folder, "sources/" + name + "/source.json", sourceFrom)));
  }
  for (const std::string& name : names(folder, "models", ".model.json")) {
    RAKUGO_ASSIGN(state.models[name],
                  (loadDocument<ModelDoc>(folder, "models/" + name + ".model.json", modelFrom)));
  }
  for (const std::string& name : names(folder, "objects", ".object.json")) {
    RAKUGO_ASSIGN(state.objects[name],
                  (loadDocument<ObjectDoc>(folder, "objects/" + name + ".object.json", objectFrom)));
  }
  for (const std::string& file : base::listFiles(folder / "icons")) {
    RAKUGO_ASSIGN(base::Bytes bytes, base::readFile(folder / "icons" / file, 64ull << 20));
    state.icons["icons/" + file] = std::make_shared<const base::Bytes>(std::move(bytes));
  }
  return state;
}

base::Status saveMod(const fs::path& folder, const ModState& state, const ModState& before) {
  const auto texts = documentTexts(state);
  for (const auto& [path, text] : texts) {
    const auto old = base::readFile(folder / path);
    if (old && base::asText(*old) == text) continue;
    RAKUGO_TRY(base::makeFolder((folder / path).parent_path()));
    RAKUGO_TRY(base::writeFileAtomic(folder / path, text));
  }
  for (const auto& [path, bytes] : state.icons) {
    const auto old = base::readFile(folder / path);
    if (old && *old == *bytes) continue;
    RAKUGO_TRY(base::makeFolder((folder / path).parent_path()));
    RAKUGO_TRY(base::writeFileAtomic(folder / path, *bytes));
  }
  std::error_code error;
  for (const auto& [path, text] : documentTexts(before))
    if (texts.count(path) == 0) fs::remove(folder / path, error);
  for (const auto& [path, bytes] : before.icons)
    if (state.icons.count(path) == 0) fs::remove(folder / path, error);
  return {};
}

base::Result<ModState> newMod(const fs::path& folder, const std::string& title, const std::string& rulebook,
                              const std::string& rulebook_version) {
  std::error_code error;
  if (fs::exists(folder, error) && !fs::is_empty(folder, error))
    return base::Error{"mod.exists", "The folder is not empty.", base::Place{folder.string()},
                       "Choose a new folder."};
  RAKUGO_TRY(base::makeFolder(folder));
  ModState state;
  static constexpr char kLetters[] = "abcdefghjkmnpqrstuvwxyz23456789";
  std::random_device random;
  std::string tail;
  for (int i = 0; i < 6; ++i) tail += kLetters[random() % (sizeof kLetters - 1)];
  state.card.id = base::slug(title) + "-" + tail;
  state.card.title = title;
  state.card.rulebook = rulebook;
  state.card.rulebook_version = rulebook_version;
  RAKUGO_TRY(saveMod(folder, state, state));
  RAKUGO_TRY(base::writeFileAtomic(folder / ".gitignore", std::string_view("/build/\n")));
  return state;
}

base::Result<std::string> takeSource(const fs::path& folder, ModState& state, const fs::path& file,
                                     const std::vector<std::string>& named) {
  const std::string name = freeName(state.sources, base::slug(file.stem().string()));
  const fs::path target = folder / "sources" / name;
  SourceDoc doc;
  doc.file = file.filename().string();
  doc.added = today();
  const auto copy = [&](const fs::path& from, const std::string& relative) -> base::Status {
    RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(from));
    RAKUGO_TRY(base::makeFolder((target / relative).parent_path()));
    RAKUGO_TRY(base::writeFileAtomic(target / relative, bytes));
    doc.files.push_back({relative, base::hex(base::sha256(bytes))});
    return {};
  };
  RAKUGO_TRY(copy(file, doc.file));
  for (const std::string& relative : named) {
    if (!base::isInnerPath(relative)) continue;
    const fs::path real = findAnyCase(file.parent_path() / relative);
    if (real.empty()) continue;
    const std::string as = (fs::path(relative).parent_path() / real.filename()).generic_string();
    const bool taken =
        std::any_of(doc.files.begin(), doc.files.end(), [&](const SourceFile& f) { return f.path == as; });
    if (!taken) RAKUGO_TRY(copy(real, as));
  }
  state.sources[name] = std::move(doc);
  return name;
}

std::vector<std::string> modFiles(const fs::path& folder) {
  return base::listFiles(folder, {"build", ".git"});
}

}  // namespace rakugo::mod
