// Opens a mod, makes edits that touch several documents, journals them and saves: the program that the fault
// tests break at every system call.
//
//   save_victim MOD JOURNALS COUNT       COUNT: how many things the second edit adds. Exit 0 saved, 3 refused
//   (the error's code on stdout)
#include <cstdio>
#include <cstdlib>

#include "mod/journal.h"

int main(int argc, char** argv) {
  using namespace rakugo;
  if (argc != 4) return 2;
  const std::filesystem::path folder = argv[1];
  const auto refused = [](const base::Error& e) {
    std::printf("%s %s\n", e.code.c_str(), e.text().c_str());
    return 3;
  };
  mod::Footprint footprint;
  auto state = mod::loadMod(folder, &footprint);
  if (!state) return refused(state.error());
  const mod::ModState before = *state;
  // As in the window: a journal that cannot be written is said, and does not stop the work.
  auto journal = mod::Journal::begin(mod::journalPath(argv[2], folder), folder, before, footprint);
  state->card.description = "After the edit, by the fault test.";
  if (journal) (void)journal->record("Describe", *state);
  auto& model = state->models.front();
  model.steps.push_back({mod::freshStepId(model), "scale", true, base::Json{{"factor", 2}}});
  for (int i = 0; i < std::atoi(argv[3]); ++i) {
    const std::string name = "more-" + std::to_string(i);
    state->objects[name] = state->objects.begin()->second;
    state->icons["icons/" + name + ".png"] =
        std::make_shared<const base::Bytes>(base::Bytes(5000, std::byte{1}));
  }
  if (journal) (void)journal->record("More objects", *state);
  if (const auto saved = mod::saveMod(folder, *state, before, &footprint); !saved)
    return refused(saved.error());
  if (journal) journal->remove();
  return 0;
}
