#include "prepare/habits.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto json = base::parseJson({reinterpret_cast<const char*>(data), size}, "fuzz");
  if (!json) return 0;
  const auto habit = prepare::habitFrom(*json, "fuzz");
  if (!habit) return 0;
  mod::ModState state;
  (void)prepare::addSteps(state.models["m"], prepare::portableSteps(habit->steps));
  (void)mod::documentTexts(state);
  return 0;
}
