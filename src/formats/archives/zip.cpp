#include "formats/archives/zip.h"

#include <archive.h>
#include <archive_entry.h>

#include <cstring>
#include <memory>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "formats/archives/archive_entries.h"

namespace rakugo::formats {
namespace {

constexpr time_t kTime = 315532800;  // 1980-01-01T00:00:00Z, the first day a zip can tell

la_ssize_t append(archive*, void* out, const void* data, size_t size) {
  const base::ByteSpan bytes(static_cast<const std::byte*>(data), size);
  static_cast<base::Bytes*>(out)->insert(static_cast<base::Bytes*>(out)->end(), bytes.begin(), bytes.end());
  return static_cast<la_ssize_t>(size);
}

}  // namespace

bool isZip(base::ByteSpan bytes) {
  static constexpr unsigned char kFile[] = {'P', 'K', 3, 4}, kEmpty[] = {'P', 'K', 5, 6};
  return bytes.size() >= 4 &&
         (std::memcmp(bytes.data(), kFile, 4) == 0 || std::memcmp(bytes.data(), kEmpty, 4) == 0);
}

base::Result<base::Bytes> writeZip(const std::map<std::string, base::Bytes>& files) {
  base::Bytes out;
  const ArchiveHandle a(archive_write_new());
  const auto failed = [&] {
    const char* why = archive_error_string(a.get());
    return base::Error{
        "zip.failed", base::phrase("The archive cannot be made: {0}", why != nullptr ? why : "?"), {}, ""};
  };
  // Times are written as the zone's own; without a zone they are the same everywhere.
  if (archive_write_set_format_zip(a.get()) != ARCHIVE_OK ||
      archive_write_set_options(a.get(), "zip:compression=deflate,zip:!experimental") < ARCHIVE_WARN ||
      archive_write_set_bytes_in_last_block(a.get(), 1) != ARCHIVE_OK ||
      archive_write_open(a.get(), &out, nullptr, append, nullptr) != ARCHIVE_OK)
    return failed();
  for (const auto& [path, bytes] : files) {
    if (!base::isInnerPath(path))
      return base::Error{"zip.path",
                         base::phrase("The path \"{0}\" leaves the archive.", base::presentable(path, 60)),
                         {},
                         ""};
    const std::unique_ptr<archive_entry, decltype(&archive_entry_free)> entry(archive_entry_new(),
                                                                              archive_entry_free);
    archive_entry_set_pathname(entry.get(), path.c_str());
    archive_entry_set_size(entry.get(), static_cast<la_int64_t>(bytes.size()));
    archive_entry_set_filetype(entry.get(), AE_IFREG);
    archive_entry_set_perm(entry.get(), 0644);
    archive_entry_set_mtime(entry.get(), kTime, 0);
    if (archive_write_header(a.get(), entry.get()) != ARCHIVE_OK) return failed();
    if (!bytes.empty() &&
        archive_write_data(a.get(), bytes.data(), bytes.size()) != static_cast<la_ssize_t>(bytes.size()))
      return failed();
  }
  if (archive_write_close(a.get()) != ARCHIVE_OK) return failed();
  return out;
}

base::Result<std::map<std::string, base::Bytes>> readZip(base::ByteSpan bytes, const std::string& name,
                                                         const base::Limits& limits) {
  if (!isZip(bytes)) return damagedArchive("zip", name, base::phrase("it does not begin as a zip").c_str());
  if (bytes[2] == std::byte{5}) return std::map<std::string, base::Bytes>();  // an archive without files
  const ArchiveHandle a(archive_read_new());
  if (archive_read_support_format_zip_seekable(a.get()) != ARCHIVE_OK ||
      archive_read_open_memory(a.get(), bytes.data(), bytes.size()) != ARCHIVE_OK)
    return damagedArchive("zip", name, archive_error_string(a.get()));
  return readEntries(a.get(), bytes.size(), name, limits, {"zip"});
}

}  // namespace rakugo::formats
