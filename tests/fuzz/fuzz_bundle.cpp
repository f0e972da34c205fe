#include "bundle/animation_payload.h"
#include "bundle/bundle_reader.h"
#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  if (const auto bundle = bundle::Bundle::parse(bytes, "fuzz.rkb")) (void)bundle->verify();
  // The hashes keep a fuzzer from reaching the payloads through the container; they are fed directly too.
  (void)bundle::decodeMesh(bytes, "fuzz");
  (void)bundle::decodeKtx2(bytes, "fuzz");
  (void)bundle::decodeObject(bytes, "fuzz");
  (void)bundle::decodeMaterial(bytes, "fuzz");
  if (const auto moves = bundle::decodeAnimation(bytes, "fuzz"))
    for (const bundle::Track& track : moves->tracks) (void)bundle::valueAt(track, 0.3F);
  (void)bundle::decodeSkeleton(bytes, "fuzz");
  (void)bundle::decodeManifest(bytes, "fuzz");
  return 0;
}
