// Rulebooks as folders: where they lie, which one is taken, and that the files they name are there.
#include <algorithm>
#include <array>
#include <cstdlib>
#include <fstream>
#include <set>

#include "base/files.h"
#include "base/json_scan.h"
#include "base/phrase.h"
#include "base/text.h"
#include "bundle/bundle_reader.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {
namespace fs = std::filesystem;
namespace {

// The files of one rulebook. What they hold is read by who uses them.
class FileRules {
 public:
  FileRules(const fs::path& folder, std::string_view text, std::vector<base::Error>& out)
      : folder_(folder), scan_(text), out_(out) {}

  void book(const Rulebook& book) {
    file(book.own_things, "/own_things", "bundle");
    for (size_t i = 0; i < book.kinds.size(); ++i) {
      const std::string at = "/kinds/" + std::to_string(i);
      file(book.kinds[i].ghost, at + "/ghost/file", "ghost");
      file(book.kinds[i].body, at + "/body/file", "body");
      for (size_t m = 0; m < book.kinds[i].models.size(); ++m) {
        const Kind& rules = book.kinds[i].models[m].kind();
        const std::string place = at + "/models/" + std::to_string(m);
        file(rules.ghost, place + "/ghost/file", "ghost");
        file(rules.body, place + "/body/file", "body");
      }
    }
    for (size_t i = 0; i < book.skeletons.size(); ++i)
      file(book.skeletons[i].movements_file, "/skeletons/" + std::to_string(i) + "/movements/file",
           "movements");
    for (size_t i = 0; i < book.samples.size(); ++i)
      if (!fs::is_regular_file(folder_ / book.samples[i].folder / "mod.json"))
        say("rulebook.sample", "/samples/" + std::to_string(i) + "/folder",
            base::phrase("The sample \"{0}\" is no mod.", book.samples[i].folder),
            base::phrase("Put the mod's folder there, or leave the sample out."));
    const std::string name = fs::weakly_canonical(folder_).filename().string();
    if (name != book.id)
      say("rulebook.folder", "/id",
          base::phrase("The id is \"{0}\", and the folder is called \"{1}\": mods would not find it.",
                       book.id, base::presentable(name, 60)),
          base::phrase("Call both the same."));
  }

 private:
  void file(const std::string& inner, const std::string& at, const std::string& what) {
    if (inner.empty()) return;
    std::error_code error;
    // A link may lead out of the rulebook, to anything that the person can read.
    fs::path step = folder_;
    for (const fs::path& one : fs::path(inner)) {
      step /= one;
      if (fs::is_symlink(step, error))
        return say("rulebook.file", at,
                   base::phrase("The file of the {0}, \"{1}\", is a link or lies behind one.", what, inner),
                   base::phrase("Put the file itself there."));
    }
    if (!fs::is_regular_file(step, error))
      return say("rulebook.file", at,
                 base::phrase("The file of the {0}, \"{1}\", is not there.", what, inner),
                 base::phrase("Put the file there, or leave the {0} out.", what));
    if (what == "bundle") {
      if (const auto bundle = bundle::Bundle::open(step); !bundle)
        say("rulebook.file", at,
            base::phrase("The file \"{0}\" is no bundle: {1}", inner, bundle.error().message),
            base::phrase("Build it with Rakugo, or leave it out."));
      return;
    }
    std::array<char, 4> head{};
    std::ifstream(step, std::ios::binary).read(head.data(), head.size());
    if (std::string_view(head.data(), head.size()) != "glTF")
      say("rulebook.file", at, base::phrase("The file of the {0}, \"{1}\", is no GLB.", what, inner),
          base::phrase("Export it as binary glTF 2.0, in the game's axes, metres."));
  }

  void say(const std::string& code, const std::string& at, const std::string& message,
           const std::string& cure) {
    base::Error error{code, message, base::Place{(folder_ / "rulebook.json").string(), at}, cure};
    error.place.line = scan_.lineOf(at);
    out_.push_back(std::move(error));
  }

  const fs::path& folder_;
  base::JsonScan scan_;
  std::vector<base::Error>& out_;
};

bool isRulebook(const fs::path& folder) {
  std::error_code error;
  return fs::is_regular_file(folder / "rulebook.json", error);
}

// The program's own share folder, and the source tree around a build.
std::vector<fs::path> shippedFolders() {
  std::vector<fs::path> out;
  std::error_code error;
  const fs::path program = fs::read_symlink("/proc/self/exe", error);
  if (error) return out;
  out.push_back(program.parent_path().parent_path() / "share/rakugo/rulebooks");
  for (fs::path up = program.parent_path(); up.has_relative_path(); up = up.parent_path())
    if (fs::is_regular_file(up / "rulebooks/README.md", error)) {
      out.push_back(up / "rulebooks");
      break;
    }
  return out;
}

}  // namespace

base::Result<Rulebook> loadRulebook(const fs::path& folder, std::vector<base::Error>* mistakes,
                                    std::vector<base::Error>* doubts) {
  std::vector<base::Error> own;
  std::vector<base::Error>& list = mistakes != nullptr ? *mistakes : own;
  const fs::path path = folder / "rulebook.json";
  auto bytes = base::readFile(path, base::Limits{}.rulebook_bytes);
  if (!bytes) {
    list.push_back(bytes.error());
    return bytes.error();
  }
  auto book = parseRulebook(base::asText(*bytes), path.string(), &list, doubts);
  if (!book) return book.error();
  FileRules(folder, base::asText(*bytes), list).book(*book);
  if (!list.empty()) return list.front();
  book->folder = folder;
  return book;
}

void addLines(const fs::path& folder, std::vector<base::Error>& mistakes) {
  const fs::path path = folder / "rulebook.json";
  const auto bytes = base::readFile(path, base::Limits{}.rulebook_bytes);
  if (!bytes) return;
  const base::JsonScan scan(base::asText(*bytes));
  for (base::Error& one : mistakes)
    if (one.place.line == 0 && !one.place.path.empty() && one.place.file == path.string())
      one.place.line = scan.lineOf(one.place.path);
}

fs::path ownRulebookFolder() {
  if (const char* data = std::getenv("XDG_DATA_HOME"); data != nullptr && fs::path(data).is_absolute())
    return fs::path(data) / "rakugo/rulebooks";
  const char* home = std::getenv("HOME");
  return home != nullptr ? fs::path(home) / ".local/share/rakugo/rulebooks" : fs::path();
}

std::vector<fs::path> rulebookFolders() {
  std::vector<fs::path> out;
  if (const char* listed = std::getenv("RAKUGO_RULEBOOKS"); listed != nullptr) {
    const std::string all = listed;
    size_t at = 0;
    while (at <= all.size()) {
      const size_t end = std::min(all.find(':', at), all.size());
      if (end > at) out.emplace_back(all.substr(at, end - at));
      at = end + 1;
    }
  }
  if (const fs::path own = ownRulebookFolder(); !own.empty()) out.push_back(own);
  for (const fs::path& one : shippedFolders()) out.push_back(one);
  return out;
}

std::vector<std::string> rulebookIds() {
  std::set<std::string> ids;
  for (const fs::path& folder : rulebookFolders()) {
    std::error_code error;
    if (isRulebook(folder)) ids.insert(fs::weakly_canonical(folder).filename().string());
    for (const auto& entry : fs::directory_iterator(folder, error))
      if (isRulebook(entry.path())) ids.insert(entry.path().filename().string());
  }
  return {ids.begin(), ids.end()};
}

std::vector<fs::path> rulebooksOf(const std::string& id) {
  std::vector<fs::path> out;
  std::set<fs::path> seen;  // a folder may be listed twice, and be the program's own besides
  const auto take = [&](const fs::path& folder) {
    if (isRulebook(folder) && seen.insert(fs::weakly_canonical(folder)).second) out.push_back(folder);
  };
  for (const fs::path& folder : rulebookFolders()) {
    if (fs::weakly_canonical(folder).filename().string() == id) take(folder);
    take(folder / id);
  }
  return out;
}

base::Result<Rulebook> findRulebook(const std::string& id) {
  if (!base::isInnerPath(id) || id.find('/') != std::string::npos)
    return base::Error{"rulebook.unknown",
                       base::phrase("\"{0}\" is no id of a rulebook.", base::presentable(id, 60)),
                       {},
                       ""};
  if (const auto folders = rulebooksOf(id); !folders.empty()) {
    RAKUGO_ASSIGN(Rulebook book, loadRulebook(folders.front()));
    book.hides.assign(folders.begin() + 1, folders.end());
    return book;
  }
  const auto ids = rulebookIds();
  return base::Error{
      "rulebook.unknown",
      base::phrase("There is no rulebook \"{0}\" here.", base::presentable(id, 60)),
      {},
      ids.empty() ? base::phrase("No rulebook was found; set RAKUGO_RULEBOOKS to the folder that holds them.")
                  : base::phrase("Known are: {0}.", base::listText(ids, 20))};
}

}  // namespace rakugo::rulebook
