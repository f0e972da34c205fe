#include "packing/package.h"

#include <map>

#include "base/files.h"
#include "packing/packager.h"

namespace rakugo::packing {
base::Result<Package> lookInto(base::ByteSpan bytes, const std::string& name) {
  const Packager& packager = packagerOf(bytes);
  RAKUGO_ASSIGN(Package out, packager.look(bytes, name));
  out.packaging = packager.name;
  return out;
}

base::Result<Package> lookInto(const std::filesystem::path& path) {
  RAKUGO_ASSIGN(const base::MappedFile file, base::MappedFile::open(path));
  return lookInto(file.bytes(), path.string());
}

std::vector<base::Error> verifyPackage(const std::filesystem::path& path, const base::Progress* progress) {
  const auto file = base::MappedFile::open(path);
  if (!file) return {file.error()};
  return packagerOf(file->bytes()).verify(file->bytes(), path.string(), progress);
}

std::vector<EntryDifference> comparePackages(const Package& a, const Package& b) {
  std::map<std::string, EntryDifference> all;
  for (const PackageEntry& e : a.entries) all[e.id].a = &e;
  for (const PackageEntry& e : b.entries) all[e.id].b = &e;
  std::vector<EntryDifference> out;
  for (const auto& [id, d] : all)
    if (d.a == nullptr || d.b == nullptr || d.a->sha256 != d.b->sha256 || d.a->kind != d.b->kind)
      out.push_back(d);
  return out;
}

}  // namespace rakugo::packing
