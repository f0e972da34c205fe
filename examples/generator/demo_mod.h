// A mod of the demo, as it is put together and written.
#pragma once

#include <filesystem>
#include <map>

#include "mod/documents.h"

namespace rakugo::demo {

/// Writes a file and the folders above it; the program ends when that fails.
void put(const std::filesystem::path& path, const base::Bytes& bytes);

/// The card of a mod of the demo: for the first game, by the Harbour Workshop.
mod::ModState beginMod(const std::string& id, const std::string& title, const std::string& description);

class DemoMod {
 public:
  /// For the first game, by the Harbour Workshop. `added` is the day its sources are said to have come.
  DemoMod(std::filesystem::path folder, const char* id, const char* title, const char* description,
          const char* added);
  /// A source of those files, by path; `file` is the one that is the model.
  void take(const std::string& name, const std::map<std::string, base::Bytes>& files, const std::string& file,
            const char* author, const char* licence);
  /// A model of the source of that name, and an object made of it alone.
  mod::ModelDoc& make(const std::string& name, const char* kind, const char* title, base::Json card);
  /// Both at once.
  mod::ModelDoc& add(const std::string& name, const std::map<std::string, base::Bytes>& files,
                     const std::string& file, const char* author, const char* licence, const char* kind,
                     const char* title, base::Json card);
  static void step(mod::ModelDoc& model, const char* kind, base::Json values);
  void save();

 private:
  std::filesystem::path folder_;
  std::string added_;
  mod::ModState state_;
};

}  // namespace rakugo::demo
