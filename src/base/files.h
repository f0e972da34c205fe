// Files: whole reads with a cap, atomic writes, memory maps, sorted listings.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "base/bytes.h"
#include "base/limits.h"
#include "base/result.h"

namespace rakugo::base {

/// All bytes of `path`. Errors: file.missing, file.unreadable, file.too_large.
Result<Bytes> readFile(const std::filesystem::path& path, uint64_t most_bytes = Limits{}.file_bytes);

/// Writes `bytes` so that at any moment, a crash included, `path` holds the old or the new content whole:
/// temporary file in the same folder, fsync, rename, fsync of the folder. Errors: file.unwritable.
Status writeFileAtomic(const std::filesystem::path& path, ByteSpan bytes);
/// The same for text.
Status writeFileAtomic(const std::filesystem::path& path, std::string_view text);

/// True for the name of a temporary file that `writeFileAtomic` makes on its way.
bool isTemporaryName(std::string_view name);
/// Removes temporary files below `root` whose program has ended: what a crash or a kill left behind. Folders
/// in `skip` are left alone. Never fails; what cannot be removed stays.
void removeLeftovers(const std::filesystem::path& root, const std::vector<std::string>& skip = {});

/// Renames a finished temporary file into place and makes the rename durable. Errors: file.unwritable.
Status moveIntoPlace(const std::filesystem::path& from, const std::filesystem::path& to);

/// Removes a file and makes that durable; one that is not there is no error. Errors: file.unwritable.
Status removeFile(const std::filesystem::path& path);

/// Makes the folder and its parents. Errors: file.unwritable.
Status makeFolder(const std::filesystem::path& path);

/// Regular files below `root` as paths relative to it with '/' between, sorted bytewise. Links are not
/// followed. Folders whose relative path is in `skip` are left out. A missing root gives an empty list.
std::vector<std::string> listFiles(const std::filesystem::path& root,
                                   const std::vector<std::string>& skip = {});

/// A read-only view of a whole file. The file must not be truncated while it is mapped; Rakugo replaces files
/// by rename.
class MappedFile {
 public:
  MappedFile() = default;
  MappedFile(MappedFile&& other) noexcept;
  MappedFile& operator=(MappedFile&& other) noexcept;
  ~MappedFile();
  /// Errors: file.missing, file.unreadable, file.too_large.
  static Result<MappedFile> open(const std::filesystem::path& path,
                                 uint64_t most_bytes = Limits{}.file_bytes);
  [[nodiscard]] ByteSpan bytes() const { return {data_, size_}; }

 private:
  const std::byte* data_ = nullptr;
  size_t size_ = 0;
};

/// True when `relative` stays inside its folder: not absolute, no "..", no backslash, no empty or control
/// characters.
bool isInnerPath(std::string_view relative);

}  // namespace rakugo::base
