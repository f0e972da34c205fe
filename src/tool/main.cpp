#include <fmt/core.h>

#include <CLI/CLI.hpp>

#include "commands.h"
#include "manual.h"

namespace {

int run(int argc, char** argv) {
  using namespace rakugo::tool;
  CLI::App app{"Rakugo's command line: inspect, check, build, list, verify and install without a window.",
               "rakugo-tool"};
  app.set_version_flag("--version", "rakugo-tool " RAKUGO_VERSION);
  app.require_subcommand(1);
  Common common;
  int exit = kGood;
  std::string file, other, output, game, book, title, format = "text";
  int limit = 0;
  double at_s = 0;
  bool flag = false;
  std::vector<std::string> files;
  const auto command = [&](const char* name, const char* help) {
    CLI::App* sub = app.add_subcommand(name, help);
    sub->add_flag("--json", common.json, "One JSON object on stdout");
    return sub;
  };
  CLI::App* sub = command("inspect", "Say what is inside a model file");
  sub->add_option("FILE", file)->required();
  sub->callback([&] { exit = inspect(common, file); });
  sub = command("check", "Hold a mod against its rulebook");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("--format", format, "text, json, sarif (2.1.0) or junit")
      ->check(CLI::IsMember({"text", "json", "sarif", "junit"}));
  sub->add_option("--game", game, "A game's folder: look at the mods installed there too");
  sub->callback([&] { exit = check(common, file, format, game); });
  sub = command("plan", "Say what a build would hold, and why");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->callback([&] { exit = plan(common, file); });
  sub = command("build", "Build a mod into what its game takes: a bundle, or a zip");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("-o,--output", output, "The file to write (default: MOD/build/ID.rkb or .zip)");
  sub->add_flag("--afresh", flag, "Make everything anew, whatever was built before");
  sub->callback([&] { exit = buildMod(common, file, output, flag); });
  sub = command("export", "Write a prepared model to a glTF, COLLADA, OBJ, PLY or STL file");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("MODEL", other, "The model's name in the mod")->required();
  sub->add_option("FILE", output, "The file to write; its ending says the format")->required();
  sub->callback([&] { exit = exportPrepared(common, file, other, output); });
  sub = command("newer",
                "Say what a newer export of a source would change, and which steps would no longer fit");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("SOURCE", other, "The source's name in the mod")->required();
  sub->add_option("FILE", output, "The newer file; without it, the one that the source came from");
  sub->add_flag("--take", flag, "Take it in, follow every proposal, and save the mod");
  sub->callback([&] { exit = newer(common, file, other, output, flag); });
  sub = command("add", "Take models, pictures and sounds into a mod: files, folders or archives");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("FILE", files, "What to take in; it is copied and never written to")->required();
  sub->add_flag("--all", flag, "Every model that is found, in every format");
  sub->callback([&] { exit = add(common, file, files, flag); });
  sub = command("list", "List what a bundle or zip holds, or what is installed in a game");
  CLI::Option* listed = sub->add_option("PACKAGE", file);
  CLI::Option* in_game = sub->add_option("--game", game, "The game's folder");
  listed->excludes(in_game);
  sub->callback([&] {
    if (file.empty() && game.empty()) throw CLI::RequiredError("PACKAGE or --game");
    exit = game.empty() ? list(common, file) : listGame(common, game);
  });
  sub = command("prepare", "Replay a model's preparation and write the result");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("MODEL", other, "The model's name in the mod")->required();
  sub->add_option("-o,--output", output, "The file to write; its ending says the format")->required();
  sub->callback([&] { exit = exportPrepared(common, file, other, output); });
  sub = command("measure", "Measure a model: size, area, volume, borders, and every fault of its structure");
  sub->add_option("MODEL", file, "A model file, a mod's folder, or MOD:MODEL")->required();
  sub->add_option("--part", other, "Only the part of that name");
  sub->callback([&] { exit = measure(common, file, other); });
  sub = command("compare", "Compare two models side by side, or two bundles or zips entry by entry");
  sub->add_option("A", file, "A model file, a mod's folder, MOD:MODEL, a bundle or a zip")->required();
  sub->add_option("B", other)->required();
  sub->callback([&] { exit = compareEither(common, file, other); });
  sub = command("variants", "Say whether two size variants have the same vertices in the same order");
  sub->add_option("A", file, "A model file, a mod's folder, or MOD:MODEL")->required();
  sub->add_option("B", other)->required();
  sub->callback([&] { exit = variants(common, file, other); });
  sub = command("seam", "Measure the gaps where an outfit's borders meet a body's");
  sub->add_option("OUTFIT", file, "A model file, a mod's folder, or MOD:MODEL")->required();
  sub->add_option("BODY", other)->required();
  sub->callback([&] { exit = seam(common, file, other); });
  sub = command("match", "Say which bones of a model are the game's, how surely and why");
  sub->add_option("MODEL", file, "A model file, a mod's folder, or MOD:MODEL")->required();
  sub->add_option("--rulebook", book, "The rulebook's id")->required();
  sub->add_option("--kind", other, "The kind it is to be")->required();
  sub->callback([&] { exit = match(common, file, book, other); });
  sub = command("weights", "Count what is wrong with the weights of a model's vertices");
  sub->add_option("MODEL", file, "A model file, a mod's folder, or MOD:MODEL")->required();
  sub->add_option("--limit", limit, "How many bones a vertex may follow")->check(CLI::Range(0, 64));
  sub->callback([&] { exit = weights(common, file, limit); });
  sub = command("pose", "Say where a model's bones are in one of the game's movements, and how far off");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("MODEL", other, "The model's name in the mod")->required();
  sub->add_option("--movement", book, "The movement's id in the rulebook")->required();
  sub->add_option("--at", at_s, "Seconds from its beginning")->check(CLI::Range(0.0, 600.0));
  sub->callback([&] { exit = pose(common, file, other, book, at_s); });
  sub = command("verify", "Compare every byte of a bundle or zip with what it promises");
  sub->add_option("PACKAGE", file)->required();
  sub->callback([&] { exit = verify(common, file); });
  sub = command("install", "Put a bundle or zip into a game's mods folder; what was there is kept");
  sub->add_option("PACKAGE", file)->required();
  sub->add_option("--game", game, "The game's folder")->required();
  sub->callback([&] { exit = install(common, file, game); });
  sub = command("uninstall", "Take an installed mod out and put back what was there before");
  sub->add_option("ID", file, "The mod's id")->required();
  sub->add_option("--game", game, "The game's folder")->required();
  sub->callback([&] { exit = uninstall(common, file, game); });
  sub = command("new", "Start a mod, blank or from a sample of the rulebook");
  sub->add_option("DIR", file, "A new folder")->required();
  sub->add_option("--rulebook", book, "Id of the rulebook")->required();
  sub->add_option("--title", title, "Title of the mod")->required();
  sub->add_option("--sample", other, "Name of one of the rulebook's samples");
  sub->callback([&] { exit = newMod(common, file, book, title, other); });
  sub = command("copy", "Make a mod from another one, every name and reference inside renamed");
  sub->add_option("MOD", file, "The mod to copy")->required();
  sub->add_option("DIR", output, "A new folder")->required();
  sub->add_option("--title", title, "Title of the copy")->required();
  sub->add_flag("--show", flag, "Only say what would be renamed");
  sub->callback([&] { exit = copyMod(common, file, output, title, flag); });
  sub = command("differences", "Compare two mods value by value");
  sub->add_option("A", file)->required();
  sub->add_option("B", other)->required();
  sub->callback([&] { exit = compareMods(common, file, other); });
  CLI::App* books = app.add_subcommand("rulebook", "Rulebooks: what each game accepts");
  books->require_subcommand(1);
  sub = books->add_subcommand("check", "Validate a rulebook's folder; every mistake with its place");
  sub->add_flag("--json", common.json, "One JSON object on stdout");
  sub->add_option("DIR", file)->required();
  sub->callback([&] { exit = rulebookCheck(common, file); });
  sub = books->add_subcommand("list", "List the rulebooks that can be found");
  sub->add_flag("--json", common.json, "One JSON object on stdout");
  sub->callback([&] { exit = rulebooks(common); });
  sub = command("checks", "List all checks");
  sub->add_flag("--markdown", flag, "As docs/checks.md");
  sub->callback([&] { exit = checks(common, flag); });
  sub = app.add_subcommand("manual", "Print the manual page, or completion for a shell");
  sub->add_flag("--bash", flag, "Completion for bash");
  sub->callback([&] { fmt::print("{}", flag ? bashCompletion(app) : manualPage(app)); });
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    return app.exit(e) == 0 ? kGood : kUnusable;
  }
  return exit;
}

}  // namespace

int main(int argc, char** argv) {
  try {
    return run(argc, argv);
  } catch (const std::exception& e) {
    fmt::print(stderr, "rakugo-tool: a fault of ours: {}\n", e.what());
    return rakugo::tool::kOurFault;
  }
}
