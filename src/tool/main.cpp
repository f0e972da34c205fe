#include <fmt/core.h>

#include <CLI/CLI.hpp>

#include "commands.h"

namespace {

int run(int argc, char** argv) {
  using namespace rakugo::tool;
  CLI::App app{"Rakugo's command line: inspect, check, build, list, verify and install without a window.",
               "rakugo-tool"};
  app.set_version_flag("--version", "rakugo-tool " RAKUGO_VERSION);
  app.require_subcommand(1);
  Common common;
  int exit = kGood;
  std::string file, output, game, book, title;
  bool markdown = false;
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
  sub->callback([&] { exit = check(common, file); });
  sub = command("build", "Build a mod into a bundle");
  sub->add_option("MOD", file, "The mod's folder")->required();
  sub->add_option("-o,--output", output, "The bundle to write (default: MOD/build/ID.rkb)");
  sub->callback([&] { exit = buildMod(common, file, output); });
  sub = command("list", "List the entries of a bundle");
  sub->add_option("BUNDLE", file)->required();
  sub->callback([&] { exit = list(common, file); });
  sub = command("verify", "Compare every byte of a bundle with what it promises");
  sub->add_option("BUNDLE", file)->required();
  sub->callback([&] { exit = verify(common, file); });
  sub = command("install", "Put a bundle into a game's mods folder");
  sub->add_option("BUNDLE", file)->required();
  sub->add_option("--game", game, "The game's folder")->required();
  sub->callback([&] { exit = install(common, file, game); });
  sub = command("new", "Start a mod");
  sub->add_option("DIR", file, "A new folder")->required();
  sub->add_option("--rulebook", book, "Id of the rulebook")->required();
  sub->add_option("--title", title, "Title of the mod")->required();
  sub->callback([&] { exit = newMod(common, file, book, title); });
  sub = command("rulebook", "Validate a rulebook's folder; every mistake with its place");
  sub->add_option("DIR", file)->required();
  sub->callback([&] { exit = rulebookCheck(common, file); });
  sub = command("checks", "List all checks");
  sub->add_flag("--markdown", markdown, "As docs/checks.md");
  sub->callback([&] { exit = checks(common, markdown); });
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
