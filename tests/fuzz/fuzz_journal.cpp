#include "mod/journal.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto journal = mod::parseJournal(std::as_bytes(std::span(data, size)), "fuzz");
  if (!journal) return 0;
  mod::History history{mod::ModState()};
  (void)mod::recover(history, *journal);
  (void)mod::documentTexts(*history.current());
  return 0;
}
