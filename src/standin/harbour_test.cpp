// The harbour's own shapes must be what the game asks of any bundle.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <set>

#include "base/sha256.h"
#include "standin/game.h"
#include "standin/harbour_shapes.h"

namespace rakugo::standin {
namespace {

TEST(Harbour, EveryPartIsAMeshThatTheReaderAccepts) {
  std::vector<HarbourPart> parts = buildHarbour();
  for (const bool own_coat : {true, false})
    for (HarbourPart& part : buildPerson(own_coat)) parts.push_back(std::move(part));
  EXPECT_GT(parts.size(), 8u);
  for (const HarbourPart& part : parts) {
    const auto read = bundle::decodeMesh(bundle::encodeMesh(part.mesh), part.surface);
    ASSERT_TRUE(read) << read.error().text();
    EXPECT_FALSE(read->indices.empty()) << part.surface;
    for (uint32_t v = 0; v < read->vertex_count; ++v) {
      const auto n = base::loadAt<glm::vec3>(read->vertices, size_t{v} * read->stride + 12);
      ASSERT_TRUE(std::isfinite(n.x) && std::isfinite(n.y) && std::isfinite(n.z)) << part.surface;
    }
  }
}

TEST(Harbour, APersonIsAsTallAsAPerson) {
  float top = 0;
  for (const HarbourPart& part : buildPerson(true))
    for (uint32_t v = 0; v < part.mesh.vertex_count; ++v)
      top = std::max(top, base::loadAt<glm::vec3>(part.mesh.vertices, size_t{v} * part.mesh.stride).z);
  EXPECT_NEAR(top, 1.72F, 0.01F);
}

TEST(Harbour, SurfacesAreWholePicturesAndDiffer) {
  std::set<std::string> seen;
  for (const char* surface : {"stone", "wall", "boards", "planks", "roof", "iron"}) {
    const auto picture = drawSurface(surface);
    ASSERT_TRUE(bundle::decodeKtx2(bundle::encodeKtx2(picture), surface)) << surface;
    EXPECT_EQ(picture.levels.size(), 9u);
    seen.insert(base::hex(base::sha256(picture.levels[0])));
  }
  EXPECT_EQ(seen.size(), 6u);
  EXPECT_EQ(drawSurface("air").width, 0u);
}

TEST(LogLine, SaysWhatItHasAndNothingMore) {
  EXPECT_EQ(
      base::jsonLine(LogLine{"error", "refused", "a.rkb", "", "lamp", "price", "Too dear."}.json()),
      R"({"level":"error","event":"refused","file":"a.rkb","object":"lamp","field":"price","message":"Too dear."})");
}

TEST(Game, AFolderThatIsNotThereIsAnEmptyHarbour) {
  std::vector<LogLine> log;
  Game game("/no/such/folder", [&](const LogLine& line) { log.push_back(line); });
  EXPECT_FALSE(game.scan());
  EXPECT_TRUE(game.objects().empty());
  EXPECT_FALSE(game.place("a/b", {0, 0, 0}, 0));
  EXPECT_EQ(log.at(0).event, "unknown");
}

}  // namespace
}  // namespace rakugo::standin
