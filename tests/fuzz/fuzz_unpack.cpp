// An object of a bundle taken apart: its record is the fuzzer's, its meshes and materials are made here.
#include "bundle/bundle_writer.h"
#include "packing/unpack_object.h"
#include "support/made_bundle.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  auto record = bundle::decodeObject(bytes, "fuzz");
  if (!record) return 0;
  record->id = "fuzz";
  const base::Bytes made = test::madeBundle({*record});
  const auto bundle = bundle::Bundle::parse(made, "fuzz.rkb");
  if (!bundle) return 0;
  static const rulebook::Rulebook kBook = [] {
    rulebook::Rulebook book;
    book.right_handed = false;
    rulebook::Kind kind;
    kind.id = "craft";
    rulebook::KindModel carried;
    carried.id = "carried";
    carried.rules.emplace_back();
    kind.models = {carried};
    book.kinds = {kind};
    return book;
  }();
  for (const packing::ObjectInBundle& one : packing::objectsIn(*bundle)) {
    (void)packing::unpackObject(*bundle, one.id, kBook);
    (void)packing::iconIn(*bundle, one.id);
  }
  return 0;
}
