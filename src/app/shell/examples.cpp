#include "app/shell/examples.h"

#include <QDir>

#include "app/widgets/theme.h"
#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "mod/copy.h"
#include "mod/store.h"
#include "prepare/naming.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {
namespace {

namespace fs = std::filesystem;

constexpr const char* kList = "examples.json";

// Beside the rulebooks: share/rakugo/examples when installed, examples/mods in the source tree.
fs::path examplesFolder() {
  for (const fs::path& books : rulebook::rulebookFolders())
    for (const char* place : {"examples", "examples/mods"}) {
      std::error_code error;
      const fs::path folder = books.parent_path() / place;
      if (fs::is_regular_file(folder / kList, error)) return folder;
    }
  return "examples/mods";
}

}  // namespace

QImage ExampleMod::picture() const {
  const fs::path file = folder.parent_path() / "pictures" / (folder.filename().string() + ".png");
  return QImage(q(file.string()));
}

fs::path exampleFolder(const std::string& name) { return examplesFolder() / name; }

std::vector<ExampleMod> exampleMods() {
  const fs::path folder = examplesFolder();
  std::vector<ExampleMod> out;
  const auto bytes = base::readFile(folder / kList);
  if (!bytes) return out;
  const auto json = base::parseJson(base::asText(*bytes), kList);
  const base::Json* list = json ? base::memberOf(*json, "examples") : nullptr;
  if (list == nullptr || !list->is_array()) return out;
  for (const base::Json& one : *list) {
    const std::string name = base::textOf(one, "folder");
    std::error_code error;
    if (name.empty() || !fs::is_regular_file(folder / name / "mod.json", error)) continue;
    out.push_back({folder / name, q(base::textOf(one, "title")), q(base::textOf(one, "teaches"))});
  }
  return out;
}

base::Result<QString> copyExample(const fs::path& from, const std::string& title, const QString& home,
                                  const base::Progress* progress) {
  RAKUGO_ASSIGN(const mod::ModState state, mod::loadMod(from, nullptr, progress));
  const QDir mods(home);
  const QString slug = q(base::slug(title));
  QString name = slug;
  for (int n = 2; mods.exists(name); ++n) name = QStringLiteral("%1-%2").arg(slug).arg(n);
  const mod::CopyPlan plan = mod::planCopy(from, state, title, mod::freshModId(title, {state.card.id}),
                                           {nullptr, prepare::namesModel});
  RAKUGO_TRY(mod::makeCopy(from, s(mods.filePath(name)), plan, progress));
  return mods.filePath(name);
}

}  // namespace rakugo::app
