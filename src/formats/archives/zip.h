// Zip archives (ISO/IEC 21320-1: stored or deflated, no encryption), through libarchive.
#pragma once

#include <map>
#include <string>

#include "base/bytes.h"
#include "base/limits.h"
#include "base/result.h"

namespace rakugo::formats {

/// True when the bytes begin as a zip archive does.
bool isZip(base::ByteSpan bytes);

/// An archive of those files by path, sorted, deflated, all with the time 1980-01-01: equal files give equal
/// bytes. Errors: zip.path (a path that leaves the archive), zip.failed.
base::Result<base::Bytes> writeZip(const std::map<std::string, base::Bytes>& files);

/// Every regular file of an archive by path. Folders are passed over. Refused: paths that leave the archive
/// or stand twice, links, encryption, more than 10,000 files, more than `limits.memory_per_byte` raw bytes
/// for one byte of the archive (with 16 MB free). Errors: zip.damaged, zip.path, zip.repeated, zip.too_large,
/// with the file's name.
base::Result<std::map<std::string, base::Bytes>> readZip(base::ByteSpan bytes, const std::string& name,
                                                         const base::Limits& limits = {});

}  // namespace rakugo::formats
