// What is said is what the game does: the demo mods, changed at random in all that can go wrong, built
// although they are bad, and loaded by the game without a window. The game refuses if and only if a finding
// stops, and whatever it complains of has a finding of the same thing. First: the printers of gmock ask
// whether Qt's half float is complete.
#include <QFloat16>

#include <gtest/gtest.h>

#include <algorithm>
#include <iostream>
#include <random>
#include <set>

#include "base/files.h"
#include "base/text.h"
#include "packing/build_package.h"
#include "standin/game.h"
#include "support/examined.h"
#include "support/mutants.h"
#include "support/test_folder.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;
// Which checks speak of what the game complains of.
const std::map<std::string, std::set<std::string>>& counterparts() {
  static const std::map<std::string, std::set<std::string>> kMap = {
      {"dark/lit", {"role.missing"}},
      {"dark/light", {"point.missing"}},
      {"adrift/water-line", {"point.missing"}},
      {"slips/grip", {"point.missing"}},
      {"no_icon/icon", {"icon.missing", "file.missing"}},
      {"giant/", {"size.range", "size.unit", "axes.differ"}},
      {"refused/triangles", {"mesh.triangles", "mesh.no_triangles", "object.pieces"}},
      {"refused/vertices", {"mesh.vertices"}},
      {"refused/triangles to carry", {"mesh.triangles"}},
      {"refused/vertices to carry", {"mesh.vertices"}},
      {"replaces_nothing/replaces", {"object.replaces"}},
      {"refused/materials", {"materials.limit"}},
      {"refused/parts", {"parts.limit"}},
      {"refused/bones", {"bones.none", "bones.limit"}},
      {"refused/regions", {"region.surplus"}},
      {"refused/", {"object.kind", "object.pieces", "mesh.not_finite"}},
      {"refused/kind", {"object.kind"}},
      {"refused/price", {"field.empty", "field.limits"}},
      {"refused/wage", {"field.empty", "field.limits"}},
      {"refused/cost", {"field.empty", "field.limits"}},
      {"refused/mod", {"object.none"}},
  };
  return kMap;
}

bool speaksOf(const check::Examination& x, const check::Finding& f, std::string object) {
  // Of an object whose record cannot be read the game knows the entry alone.
  if (object.starts_with("object/")) object.erase(0, 7);
  for (const auto& [name, doc] : x.mod->objects) {
    if (base::slug(name) != object) continue;
    if (f.place.object == name) return true;
    for (const mod::PieceDoc& piece : doc.pieces)
      if (piece.model == f.place.model) return true;
  }
  return false;
}

// What the game says of a package: its complaints, and whether all of it was taken.
struct Verdict {
  bool refused = false;
  std::vector<standin::LogLine> lines;
};
Verdict played(const fs::path& mods, const base::Result<base::Bytes>& bytes) {
  Verdict out;
  if (!bytes) {
    out.refused = true;
    return out;
  }
  EXPECT_TRUE(base::makeFolder(mods));
  EXPECT_TRUE(base::writeFileAtomic(mods / "m.rkb", *bytes));
  standin::Game game(mods, [&](const standin::LogLine& line) { out.lines.push_back(line); });
  static const base::Bytes kOwn =
      *base::readFile(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick/own/harbour.rkb");
  game.takeOwnThings(kOwn);
  out.lines.clear();
  game.scan();
  for (const standin::LogLine& line : out.lines) out.refused = out.refused || line.event == "refused";
  return out;
}

TEST(Parity, TheGameRefusesIfAndOnlyIfAFindingStops) {
  const test::TestFolder own;
  const size_t wanted = test::mutantCount(700);
  size_t tried = 0, refused = 0, complaints = 0, disagreements = 0;
  std::mt19937 random(20261129);
  std::map<std::string, size_t> seen;
  const fs::path mods = fs::exists("/dev/shm")
                            ? fs::path("/dev/shm") / ("rakugo-parity-" + std::to_string(::getpid()))
                            : own.path() / "mods";
  for (const char* name : test::kKelpwickMods) {
    const fs::path folder = own.copyOfMod(name, std::string(name) + "-mod");
    const mod::ModState state = test::loadedDemoMod(folder);
    check::Examiner examiner(folder, test::shippedBook(state.card.rulebook));
    packing::BuildCache cache(own.path() / name);
    const auto whole = *examiner.examine(std::make_shared<const mod::ModState>(state));
    for (size_t i = 0; i < (wanted + std::size(test::kKelpwickMods) - 1) / std::size(test::kKelpwickMods);
         ++i) {
      mod::ModState mutant = state;
      const std::string what = std::string(name) + test::mutate(mutant, *whole, random, folder);
      const auto x = *examiner.examine(std::make_shared<const mod::ModState>(mutant));
      packing::BuildOptions options;
      options.cache = &cache;
      options.despite_findings = true;
      const auto bytes = packing::buildPackage(*x, options);
      const Verdict game = played(mods, bytes);
      const bool stops = x->count(check::Severity::stops) > 0;
      ++tried;
      refused += game.refused ? 1 : 0;
      std::string said;
      for (const check::Finding& f : x->findings)
        if (f.severity == check::Severity::stops) said += "\n  stops: " + f.check + ": " + f.sentence;
      for (const standin::LogLine& line : game.lines)
        if (line.level != "info") said += "\n  game: " + line.event + "/" + line.field + ": " + line.message;
      if (!bytes) said += "\n  build: " + bytes.error().text();
      if (game.refused != stops) {
        ++disagreements;
        ADD_FAILURE() << what
                      << (stops ? ": said to stop, and the game takes it"
                                : ": ready, and the game refuses it")
                      << said;
      }
      for (const standin::LogLine& line : game.lines) {
        if (line.level == "info" || line.event == "replaced") continue;
        const std::string key =
            line.object.empty() && line.event == "refused" ? "refused/mod" : line.event + "/" + line.field;
        ++complaints;
        ++seen[key];
        const auto checks = counterparts().find(key);
        if (key == "refused/mod" && stops) continue;
        const bool found = checks != counterparts().end() &&
                           std::any_of(x->findings.begin(), x->findings.end(), [&](const check::Finding& f) {
                             return checks->second.count(f.check) != 0 &&
                                    (line.object.empty() || speaksOf(*x, f, line.object));
                           });
        if (!found) {
          ++disagreements;
          ADD_FAILURE() << what << ": the game complains of " << key << " and no finding says so" << said;
        }
      }
      if (disagreements > 40) FAIL() << "too many";
    }
  }
  std::error_code ignored;
  fs::remove_all(mods, ignored);
  std::string counts;
  for (const auto& [key, count] : seen) counts += " " + key + " " + std::to_string(count);
  std::cout << tried << " mutants, " << refused << " refused, " << complaints << " complaints, "
            << disagreements << " disagreements;" << counts << "\n";
  EXPECT_GT(refused, tried / 10);
  EXPECT_LT(refused, tried * 9 / 10) << "the mutants prove little when nearly all are refused";
}

}  // namespace
}  // namespace rakugo
