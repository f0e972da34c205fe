// The commands of rakugo-tool. Each returns the process's exit code.
#pragma once

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

int inspect(const Common& common, const std::string& file);
/// `format` is text, json, sarif or junit; with `game`, the mods installed there are looked at too.
int check(const Common& common, const std::string& mod, const std::string& format, const std::string& game);
int plan(const Common& common, const std::string& mod);
/// `afresh` makes everything anew, whatever was built before.
int buildMod(const Common& common, const std::string& mod, const std::string& output, bool afresh);
int list(const Common& common, const std::string& package);
int listGame(const Common& common, const std::string& game);
int compare(const Common& common, const std::string& a, const std::string& b);
int verify(const Common& common, const std::string& package);
int install(const Common& common, const std::string& package, const std::string& game);
int uninstall(const Common& common, const std::string& mod, const std::string& game);
int newMod(const Common& common, const std::string& folder, const std::string& book_id,
           const std::string& title, const std::string& sample);
int copyMod(const Common& common, const std::string& from, const std::string& folder,
            const std::string& title, bool only_show);
int compareMods(const Common& common, const std::string& a, const std::string& b);
int rulebooks(const Common& common);
int rulebookCheck(const Common& common, const std::string& folder);
/// Writes a prepared model of a mod to a file; the format is that of its ending.
int exportPrepared(const Common& common, const std::string& mod, const std::string& model,
                   const std::string& file);
/// What taking `file` in place of a source would change, and which steps would no longer fit. Changes
/// nothing. Without a file, the one that the source came from. With `take`, it is taken and every proposal
/// followed.
int newer(const Common& common, const std::string& mod, const std::string& source, const std::string& file,
          bool take);
/// Takes files, folders and archives in; with `all`, every model that is found in them, in every format.
int add(const Common& common, const std::string& mod, const std::vector<std::string>& files, bool all);
/// Size and structure of a model file, or of a mod's prepared models ("MOD" or "MOD:MODEL"); of one part only
/// when `part` names it.
int measure(const Common& common, const std::string& subject, const std::string& part);
/// Two models side by side, named as for `measure`; or two packages, where the first is one.
int compareEither(const Common& common, const std::string& a, const std::string& b);
/// Whether two size variants have the same vertices in the same order.
int variants(const Common& common, const std::string& a, const std::string& b);
/// Gaps between the borders of an outfit and of a body.
int seam(const Common& common, const std::string& outfit, const std::string& body);
/// Which bones of a model, named as for `measure`, are those that a kind of a rulebook asks for. kStops where
/// a required one has none.
int match(const Common& common, const std::string& subject, const std::string& book_id,
          const std::string& kind_id);
/// What the vertices of a model follow; `limit`: how many bones each may, 0: any number. kStops where
/// something is wrong with the weights.
int weights(const Common& common, const std::string& subject, int limit);
/// A prepared model of a mod in a movement of the game at so many seconds: where each bone is once the
/// movement is carried over to it, and how far off the game itself will have it.
int pose(const Common& common, const std::string& mod, const std::string& model, const std::string& movement,
         double at_s);
int checks(const Common& common, bool markdown);

/// Says faults of a file, each with its place, and returns the exit code that fits.
int sayFaults(const Common& common, const std::string& file, const std::vector<base::Error>& faults);
/// Says an error (to people on stderr, or as JSON on stdout) and returns the exit code that fits it.
int failed(const Common& common, const base::Error& error);
/// {"code", "message", "where", "file", "path", "offset", "line", "cure"} without what is empty.
base::Json errorJson(const base::Error& error);

}  // namespace rakugo::tool
