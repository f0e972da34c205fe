// A packager that is added as a proof, in this file alone: a line for each entry, then their contents.
#pragma once

#include "base/sha256.h"
#include "packing/packager.h"

namespace rakugo::proof {

constexpr std::string_view kParcelMark = "parcel 1\n";

inline base::Result<std::vector<std::pair<packing::PackageEntry, base::ByteSpan>>> parcelEntries(
    base::ByteSpan bytes, const std::string& name) {
  const auto damaged = [&] {
    return base::Error{"parcel.damaged", "The parcel is damaged.", base::Place{name}, "Build it again."};
  };
  const std::string_view text = base::asText(bytes);
  const size_t end = text.find("\n\n");
  if (text.substr(0, kParcelMark.size()) != kParcelMark || end == std::string_view::npos) return damaged();
  const auto list = base::parseJson(text.substr(kParcelMark.size(), end - kParcelMark.size()), name);
  if (!list || !list->is_array()) return damaged();
  std::vector<std::pair<packing::PackageEntry, base::ByteSpan>> out;
  size_t at = end + 2;
  for (const base::Json& one : *list) {
    const base::Json* size = base::memberOf(one, "bytes");
    if (size == nullptr || !size->is_number_unsigned() || size->get<uint64_t>() > bytes.size() - at)
      return damaged();
    const base::ByteSpan content = bytes.subspan(at, size->get<uint64_t>());
    at += content.size();
    out.push_back({{base::textOf(one, "id"), base::textOf(one, "kind"), content.size(), content.size(),
                    base::textOf(one, "sha256")},
                   content});
  }
  return out;
}

inline packing::Packager parcelPackager() {
  using namespace packing;
  return {
      "parcel",
      ".parcel",
      [](base::ByteSpan bytes) { return base::asText(bytes).substr(0, kParcelMark.size()) == kParcelMark; },
      planBundle,
      false,
      [](const std::vector<MadeEntry>& entries) -> base::Result<base::Bytes> {
        base::Json list = base::Json::array();
        std::string content;
        for (const MadeEntry& e : entries) {
          list.push_back({{"id", e.planned->id},
                          {"kind", bundle::kindName(e.planned->kind)},
                          {"bytes", e.content->bytes.size()},
                          {"sha256", base::hex(e.content->raw_sha256)}});
          content += base::asText(e.content->bytes);
        }
        const std::string whole = std::string(kParcelMark) + list.dump() + "\n\n" + content;
        const auto bytes = base::asBytes(whole);
        return base::Bytes(bytes.begin(), bytes.end());
      },
      [](base::ByteSpan bytes, const std::string& name) -> base::Result<Package> {
        RAKUGO_ASSIGN(const auto entries, parcelEntries(bytes, name));
        Package out;
        out.file_bytes = bytes.size();
        for (const auto& [entry, content] : entries) {
          out.entries.push_back(entry);
          if (entry.kind == "manifest") {
            RAKUGO_ASSIGN(out.manifest, bundle::decodeManifest(content, name));
          }
        }
        return out;
      },
      [](base::ByteSpan bytes, const std::string& name, const base::Progress*) {
        std::vector<base::Error> faults;
        const auto entries = parcelEntries(bytes, name);
        if (!entries) return std::vector<base::Error>{entries.error()};
        for (const auto& [entry, content] : *entries)
          if (base::hex(base::sha256(content)) != entry.sha256)
            faults.push_back(
                {"parcel.damaged", entry.id + " is not what was packed.", base::Place{name}, ""});
        return faults;
      }};
}

}  // namespace rakugo::proof
