// rakugo-icon: takes icons of a mod's objects without a window and without a display.
#include <CLI/CLI.hpp>
#include <iostream>

#include "app/bench/headless_icons.h"
#include "base/json.h"
#include "base/text.h"
#include "mod/store.h"

namespace rakugo::app {
namespace {

constexpr int kGood = 0, kMissed = 1, kUnusable = 2;

struct Wanted {
  std::string folder;
  std::vector<std::string> objects;
  bool all = false, json = false;
};

int failed(const Wanted& wanted, const base::Error& error) {
  if (wanted.json)
    std::cout << base::jsonLine(base::Json{{"error", error.text()}, {"code", error.code}}) << "\n";
  else
    std::cerr << "rakugo-icon: " << base::printable(error.text()) << "\n";
  return kUnusable;
}

base::Result<std::vector<std::string>> objectsOf(const Wanted& wanted, const check::Examination& x) {
  std::vector<std::string> known;
  for (const auto& [name, doc] : x.mod->objects) known.push_back(name);
  if (wanted.all) return known;
  if (wanted.objects.empty()) return iconsWanted(x);
  for (const std::string& name : wanted.objects)
    if (x.mod->objects.count(name) == 0)
      return base::Error{"mod.no_object", "The mod has no object " + base::presentable(name, 60) + ".",
                         base::Place{wanted.folder},
                         known.empty() ? "It has none." : "It has " + base::listText(known, 12) + "."};
  return wanted.objects;
}

int run(const Wanted& wanted) {
  mod::Footprint footprint;
  auto loaded = mod::loadMod(wanted.folder, &footprint);
  if (!loaded) return failed(wanted, loaded.error());
  const auto before = std::make_shared<const mod::ModState>(std::move(loaded).value());
  auto book = rulebook::findRulebook(before->card.rulebook);
  if (!book) return failed(wanted, book.error());
  const auto x =
      check::Examiner(wanted.folder, std::make_shared<const rulebook::Rulebook>(std::move(book).value()))
          .examine(before);
  if (!x) return failed(wanted, x.error());
  const auto objects = objectsOf(wanted, **x);
  if (!objects) return failed(wanted, objects.error());
  mod::ModState state = *before;
  const auto taken = takeIcons(**x, state, *objects);
  if (!taken) return failed(wanted, taken.error());
  if (const base::Status saved = mod::saveMod(wanted.folder, state, *before, &footprint); !saved)
    return failed(wanted, saved.error());
  bool all = true;
  base::Json list = base::Json::array();
  for (const TakenIcon& one : *taken) {
    const bool good = one.problem.empty();
    all = all && good;
    const std::string icon = good ? std::as_const(state.objects).at(one.object).icon : std::string();
    list.push_back(good ? base::Json{{"object", one.object}, {"icon", icon}}
                        : base::Json{{"object", one.object}, {"problem", one.problem}});
    if (!wanted.json)
      std::cout << base::printable(one.object) << ": " << base::printable(good ? icon : one.problem) << "\n";
  }
  if (wanted.json) std::cout << base::jsonText(list);
  if (!wanted.json && taken->empty()) std::cout << "Every icon is there and as it should be.\n";
  return all ? kGood : kMissed;
}

}  // namespace
}  // namespace rakugo::app

int main(int argc, char** argv) {
  CLI::App cli{
      "Takes the icons of a mod's objects, without a window and without a display: from the angle that the "
      "rulebook names, as the window does.",
      "rakugo-icon"};
  cli.set_version_flag("--version", std::string("rakugo-icon ") + RAKUGO_VERSION);
  rakugo::app::Wanted wanted;
  cli.add_option("MOD", wanted.folder, "The mod's folder")->required();
  CLI::Option* objects = cli.add_option(
      "OBJECT", wanted.objects, "Which; left out: those whose icon is missing, of another size, or old");
  cli.add_flag("--all", wanted.all, "All objects")->excludes(objects);
  cli.add_flag("--json", wanted.json, "One JSON list on stdout");
  try {
    cli.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    return cli.exit(e) == 0 ? rakugo::app::kGood : rakugo::app::kUnusable;
  }
  return rakugo::app::run(wanted);
}
