// Rulebooks as folders: where they lie, and that the files they name are there.
#include <algorithm>
#include <cstdlib>
#include <set>

#include "base/files.h"
#include "base/text.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {
namespace fs = std::filesystem;

base::Result<Rulebook> loadRulebook(const fs::path& folder, std::vector<base::Error>* mistakes) {
  std::vector<base::Error> own;
  std::vector<base::Error>& list = mistakes != nullptr ? *mistakes : own;
  const fs::path path = folder / "rulebook.json";
  auto bytes = base::readFile(path, base::Limits{}.json_bytes);
  if (!bytes) {
    list.push_back(bytes.error());
    return bytes.error();
  }
  auto book = parseRulebook(base::asText(*bytes), path.string(), &list);
  if (!book) return book.error();
  for (size_t i = 0; i < book->kinds.size(); ++i)
    for (const auto& [what, file] :
         {std::pair("ghost", book->kinds[i].ghost), std::pair("body", book->kinds[i].body)})
      if (!file.empty() && !fs::is_regular_file(folder / file))
        list.push_back({std::string("rulebook.") + what,
                        "The " + std::string(what) + " \"" + file + "\" is not there.",
                        base::Place{path.string(), "/kinds/" + std::to_string(i) + "/" + what + "/file"},
                        "Put the file there, or leave the " + std::string(what) + " out."});
  for (size_t i = 0; i < book->skeletons.size(); ++i)
    if (const std::string& file = book->skeletons[i].movements_file;
        !file.empty() && !fs::is_regular_file(folder / file))
      list.push_back({"rulebook.movements", "The movements \"" + file + "\" are not there.",
                      base::Place{path.string(), "/skeletons/" + std::to_string(i) + "/movements/file"},
                      "Put the file there, or leave the movements out."});
  for (size_t i = 0; i < book->samples.size(); ++i)
    if (!fs::is_regular_file(folder / book->samples[i].folder / "mod.json"))
      list.push_back({"rulebook.sample", "The sample \"" + book->samples[i].folder + "\" is no mod.",
                      base::Place{path.string(), "/samples/" + std::to_string(i) + "/folder"},
                      "Put the mod's folder there, or leave the sample out."});
  if (!list.empty()) return list.front();
  book->folder = folder;
  return book;
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
  std::error_code error;
  const fs::path program = fs::read_symlink("/proc/self/exe", error);
  if (!error) {
    out.push_back(program.parent_path().parent_path() / "share/rakugo/rulebooks");
    // Inside a build tree: some folder above the program is the source tree.
    for (fs::path up = program.parent_path(); up.has_relative_path(); up = up.parent_path())
      if (fs::is_regular_file(up / "rulebooks/README.md", error)) {
        out.push_back(up / "rulebooks");
        break;
      }
  }
  return out;
}

std::vector<std::string> rulebookIds() {
  std::set<std::string> ids;
  for (const fs::path& folder : rulebookFolders()) {
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder, error))
      if (fs::is_regular_file(entry.path() / "rulebook.json", error))
        ids.insert(entry.path().filename().string());
  }
  return {ids.begin(), ids.end()};
}

base::Result<Rulebook> findRulebook(const std::string& id) {
  if (!base::isInnerPath(id) || id.find('/') != std::string::npos)
    return base::Error{
        "rulebook.unknown", "\"" + base::presentable(id, 60) + "\" is no id of a rulebook.", {}, ""};
  for (const fs::path& folder : rulebookFolders()) {
    std::error_code error;
    if (fs::is_regular_file(folder / id / "rulebook.json", error)) return loadRulebook(folder / id);
  }
  const auto ids = rulebookIds();
  return base::Error{"rulebook.unknown",
                     "There is no rulebook \"" + base::presentable(id, 60) + "\" here.",
                     {},
                     ids.empty()
                         ? "No rulebook was found; set RAKUGO_RULEBOOKS to the folder that holds them."
                         : "Known are: " + base::listText(ids, 20) + "."};
}

}  // namespace rakugo::rulebook
