// Random JSON values and documents, for tests of what must survive writing and reading.
#pragma once

#include <random>

#include "mod/documents.h"

namespace rakugo::test {

inline std::string randomText(std::mt19937& random) {
  static const char* const kPieces[] = {"kind",         "id",     "values", "enabled", "coat",      "a b",
                                        "\u00fc\u4e2d", "\"\\\n", "/",      "7",       "Lamp/Post", "|"};
  std::string out;
  for (unsigned n = random() % 4; n > 0; --n) out += kPieces[random() % std::size(kPieces)];
  return out;
}

inline double randomNumber(std::mt19937& random) {
  switch (random() % 5) {
    case 0:
      return static_cast<double>(random() % 200) - 100;
    case 1:
      return (static_cast<double>(random()) - 2147483648.0) / 7.0;
    case 2:
      return 1e-9 * static_cast<double>(random());
    case 3:
      return -0.0;
    default:
      return static_cast<double>(random() % 1000) / 10.0;
  }
}

/// An object of random members, some called like the fields of documents and steps.
inline base::Json randomObject(std::mt19937& random, int depth = 2) {
  base::Json out = base::Json::object();
  static const char* const kKeys[] = {"kind",   "id", "enabled", "values", "part",
                                      "format", "x",  "\u00e9",  "name"};
  for (unsigned n = random() % 4; n > 0; --n) {
    base::Json& value = out[kKeys[random() % std::size(kKeys)]];
    switch (random() % (depth > 0 ? 6 : 4)) {
      case 0:
        value = randomText(random);
        break;
      case 1:
        value = randomNumber(random);
        break;
      case 2:
        value = random() % 2 == 0;
        break;
      case 3:
        value = nullptr;
        break;
      case 4:
        value = base::Json::array({randomText(random), randomNumber(random)});
        break;
      default:
        value = randomObject(random, depth - 1);
    }
  }
  return out;
}

/// A random value of the type of `like`.
inline base::Json randomLike(const base::Json& like, std::mt19937& random) {
  if (like.is_string()) return randomText(random);
  if (like.is_number()) return randomNumber(random);
  if (like.is_boolean()) return random() % 2 == 0;
  if (like.is_object()) return randomObject(random);
  base::Json out = base::Json::array();
  if (like.empty())
    for (unsigned n = random() % 4; n > 0; --n) out.push_back(randomText(random));
  for (const base::Json& one : like) out.push_back(randomLike(one, random));
  return out;
}

/// Keys that no document has, as a later version may write them.
inline base::Json laterKeys(std::mt19937& random) {
  base::Json out = base::Json::object();
  if (random() % 2 == 0) out["later_" + std::to_string(random() % 3)] = randomObject(random);
  return out;
}

inline std::array<double, 3> randomPlace(std::mt19937& random) {
  return {randomNumber(random), randomNumber(random), randomNumber(random)};
}

/// A mod with every field of every document set at random.
inline mod::ModState randomMod(std::mt19937& random) {
  const auto text = [&] { return randomText(random); };
  const auto some = [&] { return "n" + randomText(random); };  // where a text may not be empty
  mod::ModState state;
  state.card = {some(), text(), text(), text(), text(), some(), text(), {}, laterKeys(random)};
  for (unsigned n = random() % 3; n > 0; --n)
    state.card.set_aside.push_back({some(), text(), text(), laterKeys(random)});
  for (unsigned s = random() % 3; s > 0; --s) {
    mod::SourceDoc doc;
    const auto files = [&] {
      std::vector<mod::SourceFile> out;
      for (unsigned n = random() % 3; n > 0; --n) out.push_back({some(), text(), laterKeys(random)});
      return out;
    };
    doc.file = "model" + std::to_string(random() % 9) + ".glb";
    doc.files = files();
    doc.author = text(), doc.licence = text(), doc.address = text(), doc.note = text(), doc.added = text();
    for (unsigned n = random() % 4; n > 0; --n)
      doc.older.push_back({"old" + std::to_string(n) + ".glb", files(), text(), laterKeys(random)});
    doc.seen = laterKeys(random);
    state.sources["source-" + std::to_string(s)] = doc;
  }
  for (unsigned m = random() % 3; m > 0; --m) {
    mod::ModelDoc doc;
    doc.source = some();
    for (unsigned n = random() % 5; n > 0; --n)
      doc.steps.push_back(
          {"s" + std::to_string(n), text(), random() % 2 == 0, randomObject(random), laterKeys(random)});
    for (unsigned n = random() % 3; n > 0; --n)
      doc.points.push_back({some(), randomPlace(random), {0, 0, randomNumber(random), 1}, laterKeys(random)});
    for (unsigned n = random() % 3; n > 0; --n) doc.variants["size-" + std::to_string(n)] = some();
    doc.seen = laterKeys(random);
    state.models["model-" + std::to_string(m)] = doc;
  }
  for (unsigned o = random() % 3; o > 0; --o) {
    mod::ObjectDoc doc;
    doc.kind = some(), doc.title = text();
    for (unsigned n = random() % 3; n > 0; --n)
      doc.pieces.push_back({text(),
                            some(),
                            randomPlace(random),
                            {0, 0, 0, randomNumber(random)},
                            random() % 2 == 0 ? "" : some(),
                            random() % 2 == 0 ? "" : text(),
                            laterKeys(random)});
    doc.card = randomObject(random);
    doc.icon = random() % 2 == 0 ? "" : "icons/i.png";
    doc.seen = laterKeys(random);
    state.objects["object-" + std::to_string(o)] = doc;
  }
  state.icons["icons/i.png"] = std::make_shared<const base::Bytes>(base::Bytes(random() % 9, std::byte{3}));
  return state;
}

}  // namespace rakugo::test
