// Reads a bundle whose every byte may be hostile.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "base/files.h"
#include "base/jobs.h"
#include "bundle/layout.h"
#include "bundle/manifest.h"

namespace rakugo::bundle {

/// An opened bundle: header and table of contents are checked, entries are read on demand.
/// Entries are views into a memory map (or into bytes the caller owns) that lives as long as this object.
class Bundle {
 public:
  /// Maps `path` and checks header, table and manifest. Errors: file.*, bundle.* with the byte offset.
  static base::Result<Bundle> open(const std::filesystem::path& path);
  /// The same over bytes that outlive the result; `name` is used in messages.
  static base::Result<Bundle> parse(base::ByteSpan bytes, const std::string& name);

  [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }
  [[nodiscard]] const Manifest& manifest() const { return manifest_; }
  [[nodiscard]] const std::string& name() const { return name_; }
  [[nodiscard]] uint64_t fileBytes() const { return bytes_.size(); }
  /// The entry of that id, or null. Cost: log n.
  [[nodiscard]] const Entry* find(const std::string& id) const;
  /// The raw bytes, unpacked and compared with their SHA-256. Errors: bundle.entry_damaged, bundle.bomb.
  [[nodiscard]] base::Result<base::Bytes> read(const Entry& entry) const;
  /// The bytes as stored in the file, unchecked.
  [[nodiscard]] base::ByteSpan stored(const Entry& entry) const;

  /// Compares every byte of the file, padding included, with what the header promises, then reads every entry
  /// and decodes meshes, pictures, objects, materials, skeletons
  /// and animations. Returns all faults, empty when the bundle is whole.
  [[nodiscard]] std::vector<base::Error> verify(const base::Progress* progress = nullptr) const;

 private:
  base::Status readHeader();
  base::Status readTable(uint64_t toc_bytes, uint32_t count);
  [[nodiscard]] base::Error damaged(const char* code, const std::string& message, uint64_t offset) const;
  void verifyReferences(std::vector<base::Error>& faults) const;

  base::MappedFile map_;
  base::ByteSpan bytes_;
  std::string name_;
  std::vector<Entry> entries_;
  Manifest manifest_;
  base::Digest body_hash_{};
  uint16_t minor_ = 0;
};

}  // namespace rakugo::bundle
