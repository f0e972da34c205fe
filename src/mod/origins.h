// Where sources were copied from on this machine, and which copies were made: remembered beside what is
// built, for it concerns nobody else.
#pragma once

#include <filesystem>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "base/result.h"
#include "mod/documents.h"

namespace rakugo::mod {

/// The file that was given, a model or an archive, and what it held when it was last taken or declined.
struct Origin {
  std::filesystem::path file;
  std::string inside;  ///< the model's path in an archive; empty for a file of its own
  std::string digest;  ///< of the file and those it names; `prepare` makes and compares it
  std::string stamp;   ///< their times and sizes: while these are the same nothing needs reading
  bool operator==(const Origin&) const = default;
};

/// build/origins.json. Invariant: whoever writes it reads it first, on the worker that does the mod's long
/// work.
struct Origins {
  std::map<std::string, Origin> sources;  ///< by name of the source
  std::set<std::string> made;             ///< paths in the mod of files that were copied in here
};

/// From the record's text. Never throws; what is not well formed is left out.
Origins parseOrigins(std::string_view text);
/// Empty when nothing is known. What cannot be read is as unknown as what is not there.
Origins loadOrigins(const std::filesystem::path& mod_folder);
/// Remembers where a source is from. Errors: file.unwritable.
base::Status rememberOrigin(const std::filesystem::path& mod_folder, const std::string& source,
                            const Origin& origin);
/// What is remembered of a source goes with it to another name; where `to` is empty, it is forgotten. Errors:
/// file.unwritable.
base::Status moveOrigin(const std::filesystem::path& mod_folder, const std::string& from,
                        const std::string& to);
/// Remembers files that were copied in. Errors: file.unwritable.
base::Status rememberMade(const std::filesystem::path& mod_folder, const std::vector<std::string>& files);

/// Those of the files that were copied in here that no source of `state` lists.
std::set<std::string> leftOver(const Origins& origins, const ModState& state);

/// Moves files that were copied in here, and that no source of `state` lists any more, to build/left-over/:
/// what was taken and undone, and versions older than those that are kept. Called when nothing can be undone
/// any more. Files that we did not make stay. The result is what was moved.
std::vector<std::string> clearLeftOver(const std::filesystem::path& mod_folder, const ModState& state);

}  // namespace rakugo::mod
