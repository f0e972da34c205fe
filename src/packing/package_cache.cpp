#include "packing/package_cache.h"

#include <unistd.h>

#include <algorithm>
#include <fstream>
#include <vector>

#include "base/files.h"
#include "base/sha256.h"

namespace rakugo::packing {
namespace fs = std::filesystem;
namespace {

template <class T>
void add(base::ByteWriter& out, const std::vector<T>& values) {
  out.write<uint64_t>(values.size());
  out.bytes(std::as_bytes(std::span(values)));
}

}  // namespace

std::string cacheKey(std::initializer_list<std::string_view> parts) {
  base::ByteWriter out;
  for (const std::string_view part : parts) {
    out.write<uint64_t>(part.size());
    out.bytes(base::asBytes(part));
  }
  return base::hex(base::sha256(out.view()));
}

fs::path BuildCache::fileOf(const std::string& key) const { return folder_ / key.substr(0, 2) / key; }

std::shared_ptr<const bundle::StoredEntry> BuildCache::find(const std::string& key) {
  {
    const std::lock_guard guard(lock_);
    if (const auto known = entries_.find(key); known != entries_.end()) {
      known->second.second = true;
      ++hits_;
      return known->second.first;
    }
  }
  std::shared_ptr<const bundle::StoredEntry> found;
  if (!folder_.empty())
    if (const auto bytes = base::readFile(fileOf(key)))
      if (auto entry = bundle::decodeStoredEntry(*bytes))
        found = std::make_shared<const bundle::StoredEntry>(std::move(entry).value());
  const std::lock_guard guard(lock_);
  ++(found ? hits_ : misses_);
  if (found) entries_[key] = {found, true};
  return found;
}

void BuildCache::put(const std::string& key, std::shared_ptr<const bundle::StoredEntry> entry) {
  if (!folder_.empty()) {
    // Renamed into place, but not synced: what a power cut leaves half written is known by its SHA-256.
    std::error_code error;
    const fs::path file = fileOf(key);
    fs::create_directories(file.parent_path(), error);
    const fs::path temporary = file.string() + ".tmp-" + std::to_string(::getpid());
    const base::Bytes bytes = bundle::encodeStoredEntry(*entry);
    std::ofstream out(temporary, std::ios::binary);
    out.write(reinterpret_cast<const char*>(bytes.data()), static_cast<std::streamsize>(bytes.size()));
    out.close();
    if (out)
      fs::rename(temporary, file, error);
    else
      fs::remove(temporary, error);
  }
  const std::lock_guard guard(lock_);
  entries_[key] = {std::move(entry), true};
}

template <class T, class Digest>
std::string BuildCache::remembered(const std::shared_ptr<const T>& what, const Digest& digest) {
  {
    const std::lock_guard guard(lock_);
    const auto known = digests_.find(what.get());
    // A dead owner's address may have been given to another mesh.
    if (known != digests_.end() && !known->second.owner.expired()) return known->second.digest;
  }
  std::string made = digest(*what);
  const std::lock_guard guard(lock_);
  digests_[what.get()] = {std::weak_ptr<const void>(std::static_pointer_cast<const void>(what)), made};
  return made;
}

std::string BuildCache::digestOf(const std::shared_ptr<const scene::Mesh>& mesh) {
  return remembered(mesh, [](const scene::Mesh& m) {
    base::ByteWriter out;
    for (const scene::Primitive& p : m.primitives) {
      add(out, p.positions);
      add(out, p.normals);
      add(out, p.tangents);
      for (const auto& uv : p.uvs) add(out, uv);
      add(out, p.colors);
      add(out, p.joints);
      add(out, p.weights);
      add(out, p.more_joints);
      add(out, p.more_weights);
      for (const scene::MorphTarget& morph : p.morphs) {
        add(out, morph.positions);
        add(out, morph.normals);
      }
      add(out, p.indices);
    }
    for (const std::string& name : m.morph_names) out.bytes(base::asBytes(name + "\n"));
    add(out, m.morph_weights);
    return base::hex(base::sha256(out.view()));
  });
}

std::string BuildCache::digestOf(const std::shared_ptr<const base::Bytes>& bytes) {
  return remembered(bytes, [](const base::Bytes& b) { return base::hex(base::sha256(b)); });
}

std::string BuildCache::digestOf(const std::shared_ptr<const formats::Sound>& sound) {
  return remembered(sound, [](const formats::Sound& s) {
    return base::hex(base::sha256(std::as_bytes(std::span(s.samples)))) + " " +
           std::to_string(s.info.rate_hz) + " " + std::to_string(s.info.channels);
  });
}

void BuildCache::beginBuild() {
  const std::lock_guard guard(lock_);
  hits_ = misses_ = 0;
  for (auto& [key, entry] : entries_) entry.second = false;
  std::erase_if(digests_, [](const auto& one) { return one.second.owner.expired(); });
}

void BuildCache::endBuild(uint64_t most_bytes) {
  std::vector<std::string> used;
  {
    const std::lock_guard guard(lock_);
    std::erase_if(entries_, [](const auto& one) { return !one.second.second; });
    for (const auto& [key, entry] : entries_) used.push_back(key);
  }
  if (folder_.empty()) return;
  struct File {
    fs::file_time_type time;
    uint64_t bytes;
    fs::path path;
  };
  std::vector<File> others;
  uint64_t total = 0;
  std::error_code error;
  for (fs::recursive_directory_iterator walk(folder_, error), end; !error && walk != end;
       walk.increment(error)) {
    std::error_code ignored;
    if (!walk->is_regular_file(ignored)) continue;
    const uint64_t bytes = walk->file_size(ignored);
    total += bytes;
    if (!std::binary_search(used.begin(), used.end(), walk->path().filename().string()))
      others.push_back({walk->last_write_time(ignored), bytes, walk->path()});
  }
  std::sort(others.begin(), others.end(), [](const File& a, const File& b) { return a.time < b.time; });
  for (const File& file : others) {
    if (total <= most_bytes) break;
    fs::remove(file.path, error);
    total -= file.bytes;
  }
}

}  // namespace rakugo::packing
