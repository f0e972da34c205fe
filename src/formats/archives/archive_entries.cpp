#include "formats/archives/archive_entries.h"

#include <archive_entry.h>

#include <algorithm>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::formats {
namespace {

constexpr size_t kMostFiles = 10'000;
constexpr uint64_t kFreeBytes = 16ull << 20;

}  // namespace

base::Error damagedArchive(const std::string& codes, const std::string& name, const char* why) {
  return {codes + ".damaged",
          why != nullptr ? base::phrase("The archive is damaged: {0}.", why)
                         : base::phrase("The archive is damaged."),
          base::Place{name}, base::phrase("Fetch it again.")};
}

base::Result<std::map<std::string, base::Bytes>> readEntries(archive* a, uint64_t packed_bytes,
                                                             const std::string& name,
                                                             const base::Limits& limits,
                                                             const EntryRules& rules) {
  const uint64_t most = kFreeBytes + limits.memory_per_byte * packed_bytes;
  uint64_t total = 0;
  std::map<std::string, base::Bytes> out;
  archive_entry* entry = nullptr;
  for (;;) {
    const int next = archive_read_next_header(a, &entry);
    if (next == ARCHIVE_EOF) break;
    // A warning says that a name cannot be had in the program's locale; its bytes can.
    if (next != ARCHIVE_OK && next != ARCHIVE_WARN)
      return damagedArchive(rules.codes, name, archive_error_string(a));
    const char* raw_path = archive_entry_pathname(entry);
    std::string path = raw_path != nullptr ? raw_path : "";
    if (rules.any_slashes) std::replace(path.begin(), path.end(), '\\', '/');
    while (rules.any_slashes && path.rfind("./", 0) == 0) path.erase(0, 2);
    if (archive_entry_filetype(entry) == AE_IFDIR) continue;
    const base::Place place{name, base::presentable(path, 120)};
    if (archive_entry_is_encrypted(entry) != 0)
      return base::Error{rules.codes + ".damaged", base::phrase("The archive is encrypted."), place,
                         base::phrase("Unpack it with its password first.")};
    if (archive_entry_filetype(entry) != AE_IFREG || archive_entry_hardlink(entry) != nullptr ||
        !base::isInnerPath(path))
      return base::Error{rules.codes + ".path",
                         base::phrase("The archive holds a link, or a path that leaves it."), place,
                         base::phrase("Do not trust this archive.")};
    if (out.size() >= kMostFiles)
      return base::Error{rules.codes + ".too_large",
                         base::phrase("The archive holds more than 10,000 files."), place,
                         base::phrase("Unpack it, and take only what is needed.")};
    base::Bytes content;
    for (;;) {
      const void* block = nullptr;
      size_t size = 0;
      la_int64_t offset = 0;
      const int read = archive_read_data_block(a, &block, &size, &offset);
      if (read == ARCHIVE_EOF) break;
      if (read != ARCHIVE_OK) return damagedArchive(rules.codes, name, archive_error_string(a));
      total += size;
      if (total > most || offset != static_cast<la_int64_t>(content.size()))
        return base::Error{rules.codes + ".too_large",
                           base::phrase("The archive unpacks to far more than it should."), place,
                           base::phrase("Do not trust this archive.")};
      const base::ByteSpan part(static_cast<const std::byte*>(block), size);
      content.insert(content.end(), part.begin(), part.end());
    }
    if (!out.emplace(path, std::move(content)).second)
      return base::Error{rules.codes + ".repeated",
                         base::phrase("Two files of the archive have the same path."), place,
                         base::phrase("Unpack it, and take only what is needed.")};
  }
  return out;
}

}  // namespace rakugo::formats
