// A mod of many models, as a hobbyist's has after some years: the demo's first lamp over and over, each a
// source of its own with nothing prepared, so that each has all its findings.
#pragma once

#include <filesystem>

#include "base/files.h"
#include "mod/store.h"

namespace rakugo::test {

/// Writes the mod to `folder`, which is made; models and objects are called "lamp-0" and so on. False where
/// something could not be written.
inline bool writeLargeMod(const std::filesystem::path& source_dir, const std::filesystem::path& folder,
                          int models) {
  namespace fs = std::filesystem;
  const fs::path demo = source_dir / "examples/mods/first-lamp";
  auto state = mod::loadMod(demo);
  if (!state) return false;
  mod::ModState many = *state;
  const mod::SourceDoc source = many.sources.at("quay-lamp");
  const mod::ModelDoc model = many.models.at("quay-lamp");
  const mod::ObjectDoc object = many.objects.at("quay-lamp");
  many.sources.erase("quay-lamp");
  many.models.erase("quay-lamp");
  many.objects.erase("quay-lamp");
  std::error_code error;
  for (int i = 0; i < models; ++i) {
    const std::string name = "lamp-" + std::to_string(i);
    many.sources[name] = source;
    many.models[name] = model;
    many.models[name].source = name;
    many.objects[name] = object;
    for (mod::PieceDoc& piece : many.objects[name].pieces) piece.model = name;
    fs::create_directories(folder / "sources", error);
    fs::copy(demo / "sources/quay-lamp", folder / "sources" / name, fs::copy_options::recursive, error);
    if (error) return false;
  }
  fs::copy(demo / "mod.json", folder / "mod.json", error);
  return !error && mod::saveMod(folder, many, *state).ok();
}

}  // namespace rakugo::test
