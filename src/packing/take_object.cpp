// From an object of a bundle to sources and documents of a mod.
#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/export.h"
#include "formats/read_model.h"
#include "mod/icon_subject.h"
#include "mod/renaming.h"
#include "mod/store.h"
#include "mod/take_source.h"
#include "mod/things.h"
#include "packing/unpack_object.h"
#include "prepare/objects/text_ids.h"
#include "prepare/step.h"

namespace rakugo::packing {
namespace {

// The steps that lead from the file, which stands as glTF has it, to the game's axes, with the roles that the
// materials had.
std::vector<mod::StepDoc> stepsOf(const UnpackedModel& model, const rulebook::Kind* rules) {
  mod::ModelDoc doc;
  const auto add = [&](const char* kind, base::Json values) {
    prepare::insertByRank(doc, prepare::makeStep(doc, kind, std::move(values)));
  };
  add("turn", base::Json{{"forward", "+Z"}, {"up", "+Y"}});
  if (rules != nullptr && rules->baked) add("bake", base::Json::object());
  for (const auto& [material, role] : model.roles)
    add("role", base::Json{{"material", material}, {"role", role}});
  return doc.steps;
}

// What moves is a part of the file that was written, in which parts are called by another path.
void renameMovedParts(mod::ObjectDoc& object, const UnpackedModel& model, const std::string& file,
                      const base::Bytes& glb) {
  for (mod::PieceDoc& piece : object.pieces) {
    const std::string part = base::textOf(piece.values, "part");
    const scene::NodeIndex moved =
        piece.sort == mod::kMovingSort ? scene::findPart(model.model, part) : scene::NodeIndex();
    if (!moved.valid()) continue;
    const auto written = formats::readModel(glb, file, [](const std::string&) -> base::Result<base::Bytes> {
      return base::Error{"file.missing", {}, {}, {}};
    });
    if (!written) continue;
    for (const scene::Node& node : written->model.nodes)
      if (node.mesh.valid() && node.name == model.model.node(moved).name) piece.values["part"] = node.key;
  }
}

void addCredits(const bundle::Bundle& bundle, mod::SourceDoc& doc) {
  std::vector<std::string> authors, licences, addresses;
  const auto note = [](std::vector<std::string>& list, const std::string& one) {
    if (!one.empty() && std::find(list.begin(), list.end(), one) == list.end()) list.push_back(one);
  };
  for (const bundle::Credit& credit : bundle.manifest().credits) {
    note(authors, credit.author);
    note(licences, credit.licence);
    note(addresses, credit.address);
  }
  if (authors.empty()) note(authors, bundle.manifest().author);
  doc.author = base::listText(authors, 12);
  doc.licence = base::listText(licences, 12);
  doc.address = addresses.empty() ? std::string() : addresses.front();
  doc.note = base::phrase("Taken from the bundle of {0}.", bundle.manifest().title);
}

}  // namespace

base::Result<TakenObject> takeObject(const std::filesystem::path& folder, mod::ModState& state,
                                     const rulebook::Rulebook& book, const bundle::Bundle& bundle,
                                     const std::string& id, const std::string& name,
                                     const std::string& title) {
  RAKUGO_ASSIGN(UnpackedObject made, unpackObject(bundle, id, book));
  mod::ModState next = state;
  RAKUGO_TRY(mod::newObject(next, name, made.object.kind, {}));
  TakenObject out{name, made.lost};
  const rulebook::Kind* kind = book.findKind(made.object.kind);
  std::map<std::string, std::string> models, sounds;  // new names by those in the object
  for (UnpackedModel& one : made.models) {
    const std::string wanted = one.name == "main" ? name : name + "-" + one.name;
    const std::string model = mod::freeName(next.models, wanted);
    RAKUGO_ASSIGN(formats::Exported files, formats::exportModel(one.model, wanted + ".glb"));
    const auto glb = files.files.find(wanted + ".glb");
    if (glb == files.files.end())
      return base::Error{"export.failed", base::phrase("{0} cannot be written.", wanted), {}, {}};
    const base::Bytes bytes = std::move(glb->second);
    files.files.erase(glb);
    RAKUGO_ASSIGN(const std::string source,
                  mod::takeSource(folder, next, wanted + ".glb", bytes, files.files));
    addCredits(bundle, next.sources[source]);
    const auto piece = std::find_if(made.object.pieces.begin(), made.object.pieces.end(),
                                    [&](const mod::PieceDoc& p) { return p.model == one.name; });
    const rulebook::KindModel* rule =
        kind != nullptr && piece != made.object.pieces.end() ? kind->findModel(piece->as) : nullptr;
    mod::ModelDoc& doc = next.models[model];
    doc.source = source;
    doc.steps = stepsOf(one, rule != nullptr ? &rule->kind() : kind);
    doc.points = std::move(one.points);
    models[one.name] = model;
    renameMovedParts(made.object, one, wanted + ".glb", bytes);
  }
  for (const auto& [sound, bytes] : made.sounds) {
    const std::string file = name + "-" + sound +
                             (base::asText(bytes).starts_with("OggS")   ? ".ogg"
                              : base::asText(bytes).starts_with("fLaC") ? ".flac"
                                                                        : ".wav");
    RAKUGO_ASSIGN(sounds[sound], mod::takeSource(folder, next, file, bytes, {}));
    addCredits(bundle, next.sources[sounds[sound]]);
  }
  mod::ObjectDoc object = std::move(made.object);
  for (mod::PieceDoc& piece : object.pieces)
    if (const auto known = models.find(piece.model); known != models.end()) {
      if (piece.name == piece.model) piece.name = known->second;
      piece.model = known->second;
    }
  mod::replaceReferences(object, [&](const mod::NamedThing& named) -> std::optional<std::string> {
    const auto known = sounds.find(named.name);
    return mod::referenceTo(
        named.thing, named.thing == mod::Thing::source && known != sounds.end() ? known->second : named.name);
  });
  const mod::Names names{{id, name}};
  prepare::renameTexts(book, object, [&](const std::string& text) {
    return book.findShared(text) != nullptr ? text : mod::renamedInside(text, names);
  });
  for (const auto& [language, texts] : made.texts)
    for (const auto& [text, says] : texts)
      prepare::setText(next, language, mod::renamedInside(text, names), says);
  if (!title.empty()) object.title = title;
  if (!made.icon_png.empty()) {
    object.icon = "icons/" + name + ".png";
    next.icons[object.icon] = std::make_shared<const base::Bytes>(std::move(made.icon_png));
  }
  next.objects[name] = std::move(object);
  if (!std::as_const(next.objects).at(name).icon.empty())
    next.objects[name].icon_of = mod::iconSubject(next, name, book);
  state = std::move(next);
  return out;
}

}  // namespace rakugo::packing
