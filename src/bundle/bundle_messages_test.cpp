// Whatever is said of damaged packages can be said in another language.
#include <gtest/gtest.h>

#include <filesystem>
#include <random>
#include <set>

#include "base/files.h"
#include "bundle/animation_payload.h"
#include "bundle/bundle_reader.h"
#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"
#include "support/marked_language.h"

namespace rakugo::bundle {
namespace {

TEST(BundleMessages, CanBeTranslated) {
  const test::MarkedLanguage language;
  std::set<std::string> heard, told;
  const auto hear = [&](const base::Error& error) {
    heard.insert(error.code);
    const std::string left = test::unmarked(error);
    if (!left.empty() && told.insert(error.code + left).second)
      ADD_FAILURE() << error.code << ": " << error.text() << "\n  in English always: " << left;
  };
  const auto read = [&](const base::Bytes& bytes) {
    const auto tell = [&](const auto& result) {
      if (!result) hear(result.error());
    };
    const auto whole = Bundle::parse(bytes, "x.rkb");
    tell(whole);
    if (whole)
      for (const base::Error& fault : whole->verify()) hear(fault);
    tell(decodeMesh(bytes, "x"));
    tell(decodeKtx2(bytes, "x"));
    tell(decodeObject(bytes, "x"));
    tell(decodeMaterial(bytes, "x"));
    tell(decodeAnimation(bytes, "x"));
    tell(decodeSkeleton(bytes, "x"));
    tell(decodeManifest(bytes, "x"));
  };
  std::mt19937 random(7);
  for (const auto& entry : std::filesystem::directory_iterator(std::filesystem::path(RAKUGO_SOURCE_DIR) /
                                                               "tests/fuzz/corpus/bundle")) {
    const base::Bytes whole = std::move(base::readFile(entry.path())).value();
    read(whole);
    for (size_t i = 0; i < 40; ++i)
      read(base::Bytes(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(whole.size() * i / 40)));
    for (int i = 0; i < 300; ++i) {
      base::Bytes other = whole;
      other[random() % other.size()] = static_cast<std::byte>(random() % 256);
      read(other);
    }
  }
  EXPECT_GT(heard.size(), 10U);
}

}  // namespace
}  // namespace rakugo::bundle
