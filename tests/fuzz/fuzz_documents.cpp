#include "mod/documents.h"
#include "mod/piece_tree.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto json = base::parseJson({reinterpret_cast<const char*>(data), size}, "fuzz");
  if (!json) return 0;
  std::vector<base::Error> complaints;
  mod::ModState state;
  state.card = mod::modCardFrom(*json, "mod.json", complaints);
  state.sources["s"] = mod::sourceFrom(*json, "s", complaints);
  state.models["m"] = mod::modelFrom(*json, "m", complaints);
  state.objects["o"] = mod::objectFrom(*json, "o", complaints);
  state.texts["t"] = mod::textsFrom(*json, "t", complaints);
  (void)mod::documentTexts(state);
  mod::ObjectDoc& object = state.objects["o"];
  for (const mod::PieceDoc& piece : object.pieces) (void)mod::carriersOf(object, piece);
  mod::removePieces(object, [](const mod::PieceDoc& piece) { return piece.name.size() % 2 == 0; });
  return 0;
}
