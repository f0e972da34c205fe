// Sources on their way into a mod: copied in, never written to again; newer versions beside the older ones.
#pragma once

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

#include "base/jobs.h"
#include "base/result.h"
#include "mod/documents.h"

namespace rakugo::mod {

/// Copies `file` and the files it names (paths relative to it, as `named`) into sources/<name>/ and describes
/// them. A named file that is missing, or has another letter case, is left out or copied under its own name;
/// the reader says so. The state's documents are not saved. The result is the source's name. Errors: file.*.
base::Result<std::string> takeSource(const std::filesystem::path& folder, ModState& state,
                                     const std::filesystem::path& file,
                                     const std::vector<std::string>& named);

/// The same for a model whose files are at hand and not on disk: `file` is its name, `named` the files it
/// names, by the names it has for them; those that lead out of the source are left out.
base::Result<std::string> takeSource(const std::filesystem::path& folder, ModState& state,
                                     const std::string& file, const base::Bytes& bytes,
                                     const std::map<std::string, base::Bytes>& named);

/// The files beside `file` that it names: what is there, by the names `takeSource` takes them under.
/// Errors: file.*.
base::Result<std::map<std::string, base::Bytes>> filesBeside(const std::filesystem::path& file,
                                                             const std::vector<std::string>& named);

/// Copies a newer version of the source `name` into a folder of its own below the source's, v2, v3 and so on,
/// and gives the record that has it in place of `doc`, with `doc`'s version first among the older ones. Files
/// of the present version that `keep` lists (relative to its folder) and that the newer one does not bring
/// are copied along. Nothing that is there is written over. Errors: file.*, job.cancelled; what was copied
/// until then is taken away again.
base::Result<SourceDoc> takeVersion(const std::filesystem::path& folder, const std::string& name,
                                    const SourceDoc& doc, const std::string& file, const base::Bytes& bytes,
                                    const std::map<std::string, base::Bytes>& named,
                                    const std::vector<std::string>& keep,
                                    const base::Progress* progress = nullptr);

/// Makes a model of a source, and an object of that kind which is placed with it, each under a name that is
/// free. The result is the two names.
std::pair<std::string, std::string> addModelOf(ModState& state, const std::string& source,
                                               const std::string& kind);

/// The record with an older version in the present one's place, which becomes the first of the older ones.
SourceDoc withOlder(const SourceDoc& doc, size_t older);

/// The files of a source, of its present version and of the older ones that are kept, by their paths in the
/// mod.
std::vector<std::string> filesOf(const std::string& name, const SourceDoc& doc);

/// Copies the files of the source `name` into the folder of another name, where nothing may lie but the very
/// same files, and remembers both as copied in here: whichever of the two is no source when the mod is opened
/// the next time is moved aside (`clearLeftOver`). So a source can be renamed or copied, and that undone and
/// done again, with no file written over or lost. A file of the source that is missing is left out. Errors:
/// file.*, mod.name, mod.taken, job.cancelled.
base::Status copySourceFiles(const std::filesystem::path& folder, const std::string& name,
                             const SourceDoc& doc, const std::string& to,
                             base::Progress* progress = nullptr);

/// Copies one more file into the folder of a source's present version, under a name that is free, and notes
/// it in `doc`. The result is its path relative to that folder: found/<name>. Errors: file.*.
base::Result<std::string> addFile(const std::filesystem::path& folder, const std::string& name,
                                  SourceDoc& doc, const std::string& file, const base::Bytes& bytes);

}  // namespace rakugo::mod
