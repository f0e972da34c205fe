// What lies in a game's tree: where a file of a name, or with the same bytes, is kept, so that a delivery can
// put its own wherever the game has one.
#pragma once

#include <cstdint>
#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/jobs.h"
#include "base/result.h"

namespace rakugo::packing {

/// A list of a tree's files, as it was when it was made. Links are neither listed nor followed.
class GameIndex {
 public:
  /// Reads the tree's folders, not its files. Empty for a folder that is not there. Errors: job.cancelled.
  static base::Result<GameIndex> of(const std::filesystem::path& root,
                                    const base::Progress* progress = nullptr);

  /// Paths below the root with `/` between names, in bytewise order.
  [[nodiscard]] const std::vector<std::string>& files() const { return files_; }
  /// Those whose last name is this one, whatever the case of its letters (a to z).
  [[nodiscard]] std::vector<std::string> named(const std::string& name) const;
  /// Those that hold the same bytes. Reads the files of that size. Files that cannot be read are passed over.
  /// Errors: job.cancelled.
  [[nodiscard]] base::Result<std::vector<std::string>> like(base::ByteSpan content,
                                                            const base::Progress* progress = nullptr) const;

 private:
  std::filesystem::path root_;
  std::vector<std::string> files_;
  std::map<std::string, std::vector<size_t>> by_name_;  // lower-case last name -> files_
};

}  // namespace rakugo::packing
