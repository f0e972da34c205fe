// `rakugo-tool watch`: checks and builds a mod each time something in it changes, one line each.
#include <fmt/chrono.h>
#include <fmt/core.h>

#include <chrono>
#include <cstdio>
#include <thread>

#include "base/json.h"
#include "base/text.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "packing/install.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

namespace fs = std::filesystem;
using base::Json;
using Clock = std::chrono::steady_clock;
using rakugo::check::Severity;

constexpr auto kPoll = std::chrono::milliseconds(200);

struct WatchOptions {
  std::string mod, output, game, target;
  int rounds = 0;
};

// What the mod's files are at a moment: paths, sizes and times. Build output is not among them.
std::string stampOf(const std::string& folder) {
  std::string out;
  for (const std::string& path : mod::modFiles(folder)) {
    std::error_code error;
    const fs::path file = fs::path(folder) / path;
    out += path + " " + std::to_string(fs::file_size(file, error)) + " " +
           std::to_string(fs::last_write_time(file, error).time_since_epoch().count()) + "\n";
  }
  return out;
}

class Watcher {
 public:
  Watcher(const Common& common, const WatchOptions& o) : common_(common), o_(o) {}

  int run() {
    int exit = kGood;
    std::string seen;
    for (int round = 0; o_.rounds == 0 || round < o_.rounds; ++round) {
      seen = nextChange(seen);
      exit = look();
    }
    return exit;
  }

 private:
  // Waits until the files differ from `seen` and have been still for a moment: an exporter writes several.
  std::string nextChange(const std::string& seen) {
    for (;;) {
      std::string now = stampOf(o_.mod);
      if (now != seen) {
        std::this_thread::sleep_for(kPoll / 2);
        if (stampOf(o_.mod) == now) return now;
      } else {
        std::this_thread::sleep_for(kPoll);
      }
    }
  }

  int look() {
    const auto begin = Clock::now();
    const auto open = openMod(o_.mod);
    if (!open) return tell(Json{{"error", errorJson(open.error())}}, open.error().text(), kUnusable);
    if (!examiner_ || open->book->version != book_version_) {
      examiner_ = std::make_unique<rakugo::check::Examiner>(o_.mod, open->book);
      book_version_ = open->book->version;
    }
    const auto x = examiner_->examine(std::make_shared<const mod::ModState>(open->state));
    if (!x) return tell(Json{{"error", errorJson(x.error())}}, x.error().text(), kUnusable);
    const size_t stops = (*x)->count(Severity::stops), shows = (*x)->count(Severity::shows),
                 tidy = (*x)->count(Severity::tidy);
    Json line{{"stops", stops}, {"shows", shows}, {"tidy", tidy}};
    std::string text = fmt::format("{} stop, {} show, {} tidy", stops, shows, tidy);
    if (stops > 0) {
      for (const auto& f : (*x)->findings)
        if (f.severity == Severity::stops && !f.set_aside) {
          text += "; first: " + f.sentence;
          line["first"] = f.sentence;
          break;
        }
      return tell(std::move(line), text, kStops);
    }
    const base::Status done = build(**x, line, text);
    if (!done) return tell(Json{{"error", errorJson(done.error())}}, done.error().text(), kUnusable);
    const double took_s = std::chrono::duration<double>(Clock::now() - begin).count();
    line["seconds"] = took_s;
    return tell(std::move(line), text + fmt::format(", {:.2f} s", took_s), kGood);
  }

  base::Status build(const rakugo::check::Examination& x, Json& line, std::string& text) {
    const fs::path target = o_.output.empty() ? packing::defaultOutput(x, o_.target) : fs::path(o_.output);
    packing::BuildCache cache(packing::cacheFolder(o_.mod));
    packing::BuildOptions options;
    options.cache = &cache;
    options.target = o_.target;
    RAKUGO_ASSIGN(const packing::Built built, packing::buildToFile(x, target, options));
    line["bundle"] = target.string();
    line["bytes"] = built.bytes;
    text += fmt::format("; built {}, {}", base::countText(built.entries, "entry", "entries"),
                        base::sizeText(built.bytes));
    if (built.reused > 0) text += fmt::format(", {} as they were", built.reused);
    if (o_.game.empty()) return {};
    RAKUGO_TRY(packing::installPackage(target, o_.game));
    text += ", installed";
    return {};
  }

  int tell(Json line, const std::string& text, int exit) {
    const auto now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    line["at"] = fmt::format("{:%H:%M:%S}", fmt::localtime(now));
    if (common_.json)
      say("{}\n", base::jsonLine(line));
    else
      say("{}  {}\n", line["at"].get<std::string>(), text);
    std::fflush(stdout);
    return exit;
  }

  const Common& common_;
  const WatchOptions& o_;
  std::unique_ptr<rakugo::check::Examiner> examiner_;
  std::string book_version_;
};

}  // namespace

void addWatchCommands(Tool& tool) {
  const auto o = std::make_shared<WatchOptions>();
  CLI::App* sub =
      tool.command("watch", "Check and build a mod each time something in it changes, one line each");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("-o,--output", o->output, "The file to write (default: MOD/build/ID.rkb or .zip)");
  sub->add_option("--target", o->target, "One of the game's targets (default: its first)");
  sub->add_option("--game", o->game, "A game's folder: install there what was built");
  sub->add_option("--rounds", o->rounds, "End after so many lines (default: never)")
      ->check(CLI::Range(1, 1000000));
  tool.runs(sub, [o](const Common& common) { return Watcher(common, *o).run(); });
}

}  // namespace rakugo::tool
