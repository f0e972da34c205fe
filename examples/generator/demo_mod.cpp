#include "demo_mod.h"

#include <cstdio>
#include <cstdlib>

#include "base/files.h"
#include "base/sha256.h"
#include "mod/store.h"

namespace rakugo::demo {
namespace fs = std::filesystem;
namespace {

void must(const base::Status& status) {
  if (status) return;
  std::fprintf(stderr, "make-demo: %s\n", status.error().text().c_str());
  std::exit(1);
}

}  // namespace

void put(const fs::path& path, const base::Bytes& bytes) {
  must(base::makeFolder(path.parent_path()));
  must(base::writeFileAtomic(path, bytes));
}

mod::ModState beginMod(const std::string& id, const std::string& title, const std::string& description) {
  mod::ModState state;
  state.card.id = id;
  state.card.title = title;
  state.card.author = "Harbour Workshop";
  state.card.version = "1.0.0";
  state.card.description = description;
  state.card.rulebook = "kelpwick";
  state.card.rulebook_version = "1.2";
  return state;
}

DemoMod::DemoMod(fs::path folder, const char* id, const char* title, const char* description,
                 const char* added)
    : folder_(std::move(folder)), added_(added), state_(beginMod(id, title, description)) {}

void DemoMod::take(const std::string& name, const std::map<std::string, base::Bytes>& files,
                   const std::string& file, const char* author, const char* licence) {
  mod::SourceDoc& source = state_.sources[name];
  source.file = file;
  source.author = author;
  source.licence = licence;
  source.address = "https://models.example/" + name;
  source.added = added_;
  for (const auto& [path, bytes] : files) {
    put(folder_ / "sources" / name / path, bytes);
    source.files.push_back({path, base::hex(base::sha256(bytes))});
  }
}

mod::ModelDoc& DemoMod::make(const std::string& name, const char* kind, const char* title, base::Json card) {
  mod::ObjectDoc& object = state_.objects[name];
  object.kind = kind;
  object.title = title;
  object.pieces.push_back({name, name, {0, 0, 0}, {0, 0, 0, 1}});
  object.card = std::move(card);
  mod::ModelDoc& model = state_.models[name];
  model.source = name;
  return model;
}

mod::ModelDoc& DemoMod::add(const std::string& name, const std::map<std::string, base::Bytes>& files,
                            const std::string& file, const char* author, const char* licence,
                            const char* kind, const char* title, base::Json card) {
  take(name, files, file, author, licence);
  return make(name, kind, title, std::move(card));
}

void DemoMod::step(mod::ModelDoc& model, const char* kind, base::Json values) {
  model.steps.push_back({mod::freshStepId(model), kind, true, std::move(values)});
}

void DemoMod::save() { must(mod::saveMod(folder_, state_, state_)); }

}  // namespace rakugo::demo
