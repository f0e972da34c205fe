// What was built before, found again by what it was built from.
//
// Invariants:
//  1. A key names every input of an entry: its content, the game's rules that touch it, and kBuilder. Equal
//  keys
//     mean equal bytes; a change of the builder that changes bytes must change kBuilder.
//  2. What is read back is compared with its own SHA-256; a damaged or missing file is made again, never
//  used.
//  3. A build that is cancelled or killed leaves whole files only.
#pragma once

#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <string>

#include "bundle/stored_entry.h"
#include "formats/sounds.h"
#include "scene/model.h"

namespace rakugo::packing {

inline constexpr const char* kBuilder = "rakugo-builder-6";

/// May be used from several threads. One per mod folder and process; the files are shared by all.
class BuildCache {
 public:
  /// `folder` may not exist yet; empty: nothing is kept on disk.
  explicit BuildCache(std::filesystem::path folder) : folder_(std::move(folder)) {}

  /// The entry of that key, or null.
  std::shared_ptr<const bundle::StoredEntry> find(const std::string& key);
  /// Keeps an entry. What cannot be written is kept in memory only: a cache is no promise.
  void put(const std::string& key, std::shared_ptr<const bundle::StoredEntry> entry);

  /// SHA-256 over all that a mesh holds, in hex; remembered as long as the mesh lives.
  std::string digestOf(const std::shared_ptr<const scene::Mesh>& mesh);
  /// The same for an encoded picture.
  std::string digestOf(const std::shared_ptr<const base::Bytes>& bytes);
  /// The same over all samples of a sound.
  std::string digestOf(const std::shared_ptr<const formats::Sound>& sound);

  /// Called before a build and after it: entries the build did not use leave the memory, and the oldest of
  /// them the disk when the folder is larger than `most_bytes`.
  void beginBuild();
  void endBuild(uint64_t most_bytes = 1ull << 30);
  /// Of the build that runs or ran last.
  [[nodiscard]] size_t hits() const { return hits_; }
  [[nodiscard]] size_t misses() const { return misses_; }

 private:
  struct Known {
    std::weak_ptr<const void> owner;
    std::string digest;
  };
  template <class T, class Digest>
  std::string remembered(const std::shared_ptr<const T>& what, const Digest& digest);
  [[nodiscard]] std::filesystem::path fileOf(const std::string& key) const;

  std::filesystem::path folder_;
  std::mutex lock_;
  std::map<std::string, std::pair<std::shared_ptr<const bundle::StoredEntry>, bool>>
      entries_;  // used by the build?
  std::map<const void*, Known> digests_;
  size_t hits_ = 0, misses_ = 0;
};

/// A key of the cache: the SHA-256 of the parts, none of which can run into the next.
std::string cacheKey(std::initializer_list<std::string_view> parts);

}  // namespace rakugo::packing
