// The bundle as a packager: docs/bundle-format.md.
#include <algorithm>

#include "base/sha256.h"
#include "bundle/bundle_reader.h"
#include "bundle/bundle_writer.h"
#include "bundle/layout.h"
#include "packing/packager.h"

namespace rakugo::packing {
namespace {

bool beginsAsBundle(base::ByteSpan bytes) {
  return bytes.size() >= bundle::kMagic.size() &&
         std::equal(bundle::kMagic.begin(), bundle::kMagic.end(), bytes.begin(),
                    [](unsigned char a, std::byte b) { return std::byte{a} == b; });
}

base::Result<base::Bytes> writeBundle(const std::vector<MadeEntry>& entries) {
  bundle::BundleWriter writer;
  for (const MadeEntry& entry : entries)
    RAKUGO_TRY(writer.addStored(entry.planned->kind, entry.planned->id, entry.content, entry.planned->minor));
  return writer.finish();
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

std::vector<base::Error> verifyBundle(base::ByteSpan bytes, const std::string& name,
                                      const base::Progress* progress) {
  const auto read = bundle::Bundle::parse(bytes, name);
  if (!read) return {read.error()};
  return read->verify(progress);
}

}  // namespace

const Packager& bundlePackager() {
  static const Packager kRow{"bundle", ".rkb",      beginsAsBundle, planBundle,
                             true,     writeBundle, lookIntoBundle, verifyBundle};
  return kRow;
}

}  // namespace rakugo::packing
