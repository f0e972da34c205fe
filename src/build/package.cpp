#include "build/package.h"

#include <map>

#include "base/files.h"
#include "base/sha256.h"
#include "build/package_zip.h"
#include "bundle/bundle_reader.h"
#include "formats/zip.h"

namespace rakugo::build {
namespace {

base::Result<Package> lookIntoZip(base::ByteSpan bytes, const std::string& name) {
  RAKUGO_ASSIGN(const auto files, formats::readZip(bytes, name));
  const auto manifest = files.find(kZipManifest);
  if (manifest == files.end())
    return base::Error{"package.manifest", "The archive is no mod: it has no manifest.json.",
                       base::Place{name}, "Choose a package that a build made."};
  Package out;
  out.packaging = rulebook::Packaging::zip;
  RAKUGO_ASSIGN(out.manifest, bundle::decodeManifest(manifest->second, name));
  out.file_bytes = bytes.size();
  for (const auto& [path, content] : files)
    out.entries.push_back(
        {path, zipKind(path), content.size(), content.size(), base::hex(base::sha256(content))});
  return out;
}

base::Result<Package> lookIntoBundle(base::ByteSpan bytes, const std::string& name) {
  RAKUGO_ASSIGN(const bundle::Bundle read, bundle::Bundle::parse(bytes, name));
  Package out;
  out.manifest = read.manifest();
  out.file_bytes = read.fileBytes();
  for (const bundle::Entry& e : read.entries())
    out.entries.push_back(
        {e.id, bundle::kindName(e.kind), e.stored_bytes, e.raw_bytes, base::hex(e.raw_sha256)});
  return out;
}

}  // namespace

const char* packageSuffix(rulebook::Packaging packaging) {
  return packaging == rulebook::Packaging::zip ? ".zip" : ".rkb";
}

base::Result<Package> lookInto(base::ByteSpan bytes, const std::string& name) {
  return formats::isZip(bytes) ? lookIntoZip(bytes, name) : lookIntoBundle(bytes, name);
}

base::Result<Package> lookInto(const std::filesystem::path& path) {
  RAKUGO_ASSIGN(const base::MappedFile file, base::MappedFile::open(path));
  return lookInto(file.bytes(), path.string());
}

std::vector<base::Error> verifyPackage(const std::filesystem::path& path, const base::Progress* progress) {
  const auto file = base::MappedFile::open(path);
  if (!file) return {file.error()};
  if (formats::isZip(file->bytes())) return verifyZip(file->bytes(), path.string(), progress);
  const auto read = bundle::Bundle::parse(file->bytes(), path.string());
  if (!read) return {read.error()};
  return read->verify(progress);
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

}  // namespace rakugo::build
