// The commands of rakugo-tool. Each returns the process's exit code.
#pragma once

#include <string>

#include "base/json.h"
#include "base/result.h"

namespace rakugo::tool {

enum Exit : int { kGood = 0, kStops = 1, kUnusable = 2, kOurFault = 3 };

/// What every command takes.
struct Common {
  bool json = false;
};

int inspect(const Common& common, const std::string& file);
int check(const Common& common, const std::string& mod);
int buildMod(const Common& common, const std::string& mod, const std::string& output);
int list(const Common& common, const std::string& bundle);
int verify(const Common& common, const std::string& bundle);
int install(const Common& common, const std::string& bundle, const std::string& game);
int newMod(const Common& common, const std::string& folder, const std::string& rulebook,
           const std::string& title);
int rulebookCheck(const Common& common, const std::string& folder);
int checks(const Common& common, bool markdown);

/// Says an error (to people on stderr, or as JSON on stdout) and returns the exit code that fits it.
int failed(const Common& common, const base::Error& error);
/// {"code", "message", "file", "path", "offset", "line", "cure"} without what is empty.
base::Json errorJson(const base::Error& error);

}  // namespace rakugo::tool
