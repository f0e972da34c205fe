// What every command of rakugo-tool begins and ends with.
#pragma once

#include <fmt/core.h>

#include <CLI/CLI.hpp>
#include <functional>
#include <string>
#include <vector>

#include "base/json_fwd.h"
#include "base/result.h"

namespace rakugo::tool {

enum Exit : int { kGood = 0, kStops = 1, kUnusable = 2, kOurFault = 3 };

/// What every command takes.
struct Common {
  bool json = false;
};

/// The command line as it is put together: each file of commands adds its own to it.
class Tool {
 public:
  Tool();
  /// A command with `--json`; inside of `group` where one is given.
  CLI::App* command(const char* name, const char* help, CLI::App* group = nullptr);
  /// A command that only holds others: "rulebook check".
  CLI::App* group(const char* name, const char* help);
  /// What the command does. `work` returns the exit code; it keeps the options that were bound to it.
  void runs(CLI::App* command, std::function<int(const Common&)> work);
  [[nodiscard]] CLI::App& app() { return app_; }
  /// Reads the arguments, runs one command, and returns its exit code. Never throws.
  int run(int argc, const char* const* argv);

 private:
  CLI::App app_;
  Common common_;
  std::function<int(const Common&)> chosen_;
};

/// Adds every command there is.
void addAllCommands(Tool& tool);

/// Says faults of a file, each with its place, and returns the exit code that fits.
int sayFaults(const Common& common, const std::string& file, const std::vector<base::Error>& faults);
/// Says an error (to people on stderr, or as JSON on stdout) and returns the exit code that fits it.
int failed(const Common& common, const base::Error& error);
/// {"code", "message", "where", "file", "path", "offset", "line", "cure"} without what is empty.
base::Json errorJson(const base::Error& error);
/// Writes to stdout, and to stderr; nothing that a mod, a rulebook or a package says reaches a terminal with
/// control codes. All output of the tool goes through these two.
void sayText(const std::string& text);
void complainText(const std::string& text);
template <class... Values>
void say(fmt::format_string<Values...> format, Values&&... values) {
  sayText(fmt::format(format, std::forward<Values>(values)...));
}
template <class... Values>
void complain(fmt::format_string<Values...> format, Values&&... values) {
  complainText(fmt::format(format, std::forward<Values>(values)...));
}
/// Prints the JSON where it is asked for, else the text.
int said(const Common& common, const base::Json& json, const std::string& text);

}  // namespace rakugo::tool
