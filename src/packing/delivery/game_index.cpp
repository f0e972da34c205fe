#include "packing/delivery/game_index.h"

#include <algorithm>

#include "base/files.h"
#include "base/text.h"

namespace rakugo::packing {
namespace fs = std::filesystem;

base::Result<GameIndex> GameIndex::of(const fs::path& root, const base::Progress* progress) {
  GameIndex out;
  out.root_ = root;
  if (progress != nullptr && progress->cancelled()) return base::cancelledError();
  out.files_ = base::listFiles(root);
  for (size_t i = 0; i < out.files_.size(); ++i) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    const std::string& path = out.files_[i];
    const size_t slash = path.rfind('/');
    out.by_name_[base::lowerAscii(slash == std::string::npos ? path : path.substr(slash + 1))].push_back(i);
  }
  return out;
}

std::vector<std::string> GameIndex::named(const std::string& name) const {
  std::vector<std::string> out;
  if (const auto found = by_name_.find(base::lowerAscii(name)); found != by_name_.end())
    for (const size_t i : found->second) out.push_back(files_[i]);
  return out;
}

base::Result<std::vector<std::string>> GameIndex::like(base::ByteSpan content,
                                                       const base::Progress* progress) const {
  std::vector<std::string> out;
  for (const std::string& path : files_) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    std::error_code fault;
    const fs::path file = root_ / path;
    if (fs::file_size(file, fault) != content.size() || fault) continue;
    const auto bytes = base::readFile(file);
    if (bytes && std::equal(bytes->begin(), bytes->end(), content.begin(), content.end()))
      out.push_back(path);
  }
  return out;
}

}  // namespace rakugo::packing
