// The plan of a bundle.
#include "packing/package_plan.h"

#include <algorithm>

#include <map>
#include <optional>
#include <set>

#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"
#include "bundle/manifest.h"
#include "bundle/records.h"
#include "packing/lazy.h"
#include "packing/object_placing.h"
#include "packing/runtime.h"
#include "packing/sound_entries.h"
#include "prepare/objects/text_ids.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::packing {
namespace fs = std::filesystem;
namespace {

using bundle::EntryKind;

class Planner {
 public:
  Planner(const check::Examination& examination, const PlanFor& what, const base::Progress* progress)
      : x_(examination),
        target_(what.target),
        quick_(what.quick_pictures),
        progress_(progress),
        space_(*examination.book),
        unreadable_(unreadablePictures(examination)),
        sounds_(examination) {}

  base::Result<std::vector<PlannedEntry>> run() {
    for (const auto& [name, doc] : x_.mod->objects) {
      if (progress_ != nullptr && progress_->cancelled()) return base::cancelledError();
      RAKUGO_TRY(addObject(name, doc));
    }
    addSheets();
    addTexts();
    for (PlannedEntry& entry : sounds_.take()) entries_.push_back(std::move(entry));
    entries_.push_back(smallEntry(
        EntryKind::manifest, bundle::kManifestId, base::phrase("every package"),
        [manifest = manifest()]() -> base::Result<base::Bytes> { return bundle::encodeManifest(manifest); }));
    return std::move(entries_);
  }

 private:
  // A size of a model besides the one that is built, as a morph target of its meshes.
  struct Size {
    std::string name;
    Lazy<scene::Model> model;
  };
  // A model with what its meshes are made by.
  struct Making {
    std::shared_ptr<const scene::Model> model;
    const rulebook::Kind* kind = nullptr;  ///< whose words its materials and regions have; of the rulebook
    std::vector<glm::mat4> world;
    Rig rig;
    std::vector<Size> sizes;
  };
  // What a model became: its pieces, to be placed by each object that uses it.
  struct BuiltModel {
    std::vector<bundle::ObjectPiece> pieces;
    std::optional<bundle::ObjectRig> rig;
    std::set<std::string> sizes;  ///< other sizes that went in
    std::vector<mod::PointDoc> points;
    std::shared_ptr<const Making> making;
    bool moves = false;  ///< by bones, animations or morph targets
  };

  bundle::Manifest manifest() const {
    const mod::ModCard& card = x_.mod->card;
    bundle::Manifest out;
    out.mod_id = card.id;
    out.title = card.title;
    out.author = card.author;
    out.version = card.version;
    out.description = card.description;
    out.rulebook_id = x_.book->id;
    out.rulebook_version = x_.book->version;
    out.target = target_.id;
    for (const auto& [name, doc] : x_.mod->objects) out.objects.push_back("object/" + base::slug(name));
    out.shared_assets.assign(shared_.begin(), shared_.end());
    std::set<std::string> used = sounds_.sources();
    for (const auto& [name, doc] : x_.mod->models)
      if (const auto built = models_.find(name); built != models_.end()) {
        used.insert(doc.source);
        // Of the other sizes, those that went in.
        for (const auto& [variant, source] : doc.variants)
          if (built->second->sizes.count(variant) != 0) used.insert(source);
      }
    for (const std::string& name : used) {
      const mod::SourceDoc& source = x_.mod->sources.at(name);
      if (!source.author.empty() || !source.licence.empty() || !source.address.empty())
        out.credits.push_back({std::filesystem::path(source.file).filename().string(), source.author,
                               source.licence, source.address});
    }
    return out;
  }

  base::Status addObject(const std::string& name, const mod::ObjectDoc& doc) {
    std::vector<std::shared_ptr<const BuiltModel>> models;  // null for what is none
    for (const mod::PieceDoc& piece : doc.pieces) {
      models.emplace_back();
      if (!piece.isModel()) continue;
      RAKUGO_TRY(addModel(piece.model, name));
      models.back() = models_.at(piece.model);
    }
    bundle::ObjectRecord record;
    record.id = base::slug(name);
    record.kind = doc.kind;
    record.name = doc.title;
    const rulebook::Kind* kind = x_.book->findKind(doc.kind);
    const NameInPackage in_package = [this, name](const mod::NamedThing& named) {
      if (named.thing == mod::Thing::object)
        return x_.mod->objects.count(named.name) != 0 ? "object/" + base::slug(named.name) : std::string();
      return sounds_.addWhole(named.name, base::phrase("{0}, its card", name));
    };
    record.card =
        gameValues(kind != nullptr ? kind->fields : std::vector<rulebook::Field>(), doc.card, in_package);
    noteShared(doc.card);
    record.replaces = doc.replaces;
    if (!doc.replaces.empty()) noteShared(base::Json{doc.replaces});
    for (const mod::ListEntry& one : doc.lists) {
      const rulebook::GameList* list = x_.book->findList(one.list);
      if (list == nullptr) continue;  // a finding has said so
      record.lists.push_back(
          {list->word.empty() ? list->id : list->word, gameValues(list->fields, one.values, in_package)});
      noteShared(one.values);
    }
    // What the pieces name, found now: records are written on any thread.
    std::vector<std::vector<std::string>> heard;
    std::map<std::string, std::string> named_by_pieces;
    for (const mod::PieceDoc& piece : doc.pieces) {
      heard.push_back(soundsOf(doc, piece, name));
      noteShared(piece.values);
    }
    mod::eachReference(ownValuesOf(doc), [&](const mod::NamedThing& named, const std::string&) {
      named_by_pieces[mod::referenceTo(named.thing, named.name)] = in_package(named);
    });
    if (const auto icon = x_.mod->icons.find(doc.icon); icon != x_.mod->icons.end()) {
      record.icon = "icon/" + base::slug(name);
      addIcon(record.icon, doc.icon, icon->second, base::phrase("{0}, its icon", name), {});
      if (kind != nullptr)
        for (const rulebook::IconSize& size : kind->icon_sizes) {
          const std::string id =
              record.icon + "-" + std::to_string(size.width) + "x" + std::to_string(size.height);
          record.icons.push_back({size.width, size.height, id});
          addIcon(id, doc.icon, icon->second,
                  base::phrase("{0}, its icon of {1} × {2}", name, size.width, size.height), size);
        }
    }
    const bool more_icons = !record.icons.empty();
    const std::string id = "object/" + record.id;
    entries_.push_back(
        smallEntry(EntryKind::object, id, base::phrase("{0}, its card", name),
                   [record = std::move(record), doc, models = std::move(models), book = x_.book,
                    space = space_, heard = std::move(heard),
                    called = std::move(named_by_pieces)]() mutable -> base::Result<base::Bytes> {
                     const NameInPackage name_of = [&](const mod::NamedThing& named) {
                       const auto found = called.find(mod::referenceTo(named.thing, named.name));
                       return found != called.end() ? found->second : std::string();
                     };
                     ObjectPlacing placing(*book, space, doc, name_of, record);
                     const auto model_of = [&](const std::string& model) -> const scene::Model* {
                       for (size_t i = 0; i < doc.pieces.size(); ++i)
                         if (models[i] != nullptr && doc.pieces[i].model == model)
                           return models[i]->making->model.get();
                       return nullptr;
                     };
                     for (size_t i = 0; i < doc.pieces.size(); ++i) {
                       const mod::PieceDoc& piece = doc.pieces[i];
                       placing.addSound(piece, std::move(heard[i]));
                       if (models[i] == nullptr)
                         placing.addRuled(piece, model_of);
                       else
                         placing.addModel(piece, {models[i]->pieces, models[i]->rig, models[i]->points,
                                                  scene::boundsOf(*models[i]->making->model)});
                     }
                     placing.finish(model_of, [&](const std::string& model) {
                       std::vector<const scene::Model*> out;
                       for (size_t i = 0; i < doc.pieces.size() && out.empty(); ++i)
                         if (models[i] != nullptr && doc.pieces[i].model == model)
                           for (const auto& size : models[i]->making->sizes) out.push_back(&size.model.get());
                       return out;
                     });
                     return bundle::encodeObject(record);
                   }));
    entries_.back().minor =
        minorOfObject(doc, [&](const mod::PieceDoc& piece) { return models_.at(piece.model)->moves; });
    if (more_icons) entries_.back().minor = bundle::kMinorOfLamps;
    return {};
  }

  // The pieces of an object with nothing but the values that are the game's own.
  static mod::ObjectDoc ownValuesOf(const mod::ObjectDoc& doc) {
    mod::ObjectDoc out;
    out.pieces = doc.pieces;
    for (mod::PieceDoc& piece : out.pieces)
      if (const auto sort = rulebook::pieceSortFrom(piece.sort))
        for (const rulebook::Field& common : rulebook::pieceValues(*sort)) piece.values.erase(common.id);
    return out;
  }

  // The ids of what a piece that is a sound lets one hear: entries, and what the game shares.
  std::vector<std::string> soundsOf(const mod::ObjectDoc& doc, const mod::PieceDoc& piece,
                                    const std::string& object) {
    if (rulebook::pieceSortFrom(piece.sort) != rulebook::PieceSort::sound) return {};
    const prepare::SoundValues says =
        prepare::soundValues(piece, prepare::fieldsOfPiece(*x_.book, doc, piece));
    const prepare::SoundMaking how = prepare::soundMaking(says, x_.book->sounds);
    std::vector<std::string> out;
    for (const std::string& one : says.sounds) {
      const auto named = mod::namedThing(one);
      std::string id = one;
      if (named)
        id = named->thing == mod::Thing::source
                 ? sounds_.add(named->name, how, base::phrase("{0}, sound {1}", object, piece.name))
                 : std::string();
      else if (x_.book->findShared(one) == nullptr)
        continue;
      if (!id.empty()) out.push_back(std::move(id));
    }
    return out;
  }

  // The ids of what the game shares, wherever a value names one.
  void noteShared(const base::Json& values) {
    std::vector<const base::Json*> open = {&values};
    while (!open.empty()) {
      const base::Json& one = *open.back();
      open.pop_back();
      if (one.is_string() && x_.book->findShared(one.get_ref<const std::string&>()) != nullptr)
        shared_.insert(one.get<std::string>());
      if (one.is_structured())
        for (const base::Json& inside : one) open.push_back(&inside);
    }
  }

  // Texts that objects name, in the languages of the game.
  void addTexts() {
    const auto named = prepare::namedTexts(*x_.book, *x_.mod);
    for (const rulebook::Language& language : x_.book->languages) {
      const auto doc = x_.mod->texts.find(language.id);
      if (doc == x_.mod->texts.end()) continue;
      bundle::TextsRecord record{language.id, {}};
      for (const auto& [id, text] : doc->second.texts)
        if (named.count(id) != 0) record.texts[id] = text;
      if (record.texts.empty()) continue;
      entries_.push_back(
          smallEntry(EntryKind::texts, "text/" + language.id, base::phrase("texts, {0}", language.title),
                     [record]() -> base::Result<base::Bytes> { return bundle::encodeTexts(record); }));
      entries_.back().minor = bundle::kMinorOfLamps;
    }
  }

  // As it is, or in the target's format at its own size; a smaller one of a size is made of it. What is no
  // picture goes in as it is: a finding has said so, and the rest of the mod is built.
  void addIcon(const std::string& id, const std::string& file,
               const std::shared_ptr<const base::Bytes>& bytes, const std::string& why,
               std::optional<rulebook::IconSize> size) {
    if (!target_.icon && size) {
      PlannedEntry entry{EntryKind::icon, id, why, false, 0, {}, {}};
      entry.key = [bytes, size](BuildCache& cache) {
        return cacheKey({kBuilder, "icon", cache.digestOf(bytes), std::to_string(size->width),
                         std::to_string(size->height)});
      };
      entry.make = [bytes, file, size]() -> base::Result<base::Bytes> {
        const auto picture = iconPicture(*bytes, file, size);
        return picture ? formats::encodePng(*picture) : *bytes;
      };
      entries_.push_back(std::move(entry));
      return;
    }
    if (!target_.icon) {
      entries_.push_back(smallEntry(
          EntryKind::icon, id, why, [bytes]() -> base::Result<base::Bytes> { return *bytes; }, false));
      return;
    }
    PictureStoring how;
    how.mip_levels = false;
    how.format = *target_.icon;
    how.supercompressed = target_.supercompressed;
    how.quick = quick_ && how.format != bundle::PixelFormat::rgba8;
    PlannedEntry entry = pictureEntry(id, why, how);
    entry.kind = EntryKind::icon;
    entry.minor = bundle::kMinorOfTextures;
    entry.key = [bytes, how, size](BuildCache& cache) {
      return cacheKey({kBuilder, "icon", cache.digestOf(bytes), how.text(),
                       size ? std::to_string(size->width) + "x" + std::to_string(size->height) : ""});
    };
    entry.make = [bytes, file, how, size]() -> base::Result<base::Bytes> {
      const auto picture = iconPicture(*bytes, file, size);
      return picture ? bundle::encodeKtx2(storedPicture(*picture, how)) : *bytes;
    };
    entries_.push_back(std::move(entry));
  }

  static base::Result<formats::Picture> iconPicture(const base::Bytes& bytes, const std::string& file,
                                                    const std::optional<rulebook::IconSize>& size) {
    RAKUGO_ASSIGN(formats::Picture picture, formats::decodePicture(bytes, file));
    if (size) return formats::resized(picture, size->width, size->height, formats::PictureUse::color);
    return picture;
  }

  base::Status addModel(const std::string& name, const std::string& object) {
    if (models_.count(name) != 0) return {};
    const auto state = x_.context.models.find(name);
    if (state == x_.context.models.end() || !state->second.prepared.model)
      return base::Error{
          "build.model",
          base::phrase("The model \"{0}\" could not be prepared.", base::presentable(name, 60)),
          base::Place{"objects/" + object + ".object.json"}, base::phrase("Look at the findings about it.")};
    const auto making = std::make_shared<Making>();
    making->model = state->second.prepared.model;
    making->kind = state->second.kind;
    const scene::Model& model = *making->model;
    making->world = scene::worldMatrices(model);
    making->rig = rigOf(model);
    const auto made = std::make_shared<BuiltModel>();
    BuiltModel& built = *made;
    models_[name] = made;
    built.making = making;
    built.points = x_.mod->models.at(name).points;
    std::string stem = base::slug(name);
    // Two names can differ only by what a name in the game cannot hold.
    while (!stems_.insert(stem).second) stem += "-2";
    const std::string why = base::phrase("{0}, model {1}", object, name);
    const Rig& rig = making->rig;
    if (!rig.empty()) built.rig = addRig(stem, making, why);
    for (const auto& [variant, other] : state->second.variants)
      if (other.report && other.report->same && other.prepared.model) {
        built.sizes.insert(variant);
        making->sizes.push_back(
            {variant, Lazy<scene::Model>([first = making->model, other = other.prepared.model] {
               return scene::blendedVariants(*first, *other, 1);
             })});
      }
    built.moves = built.rig.has_value() || !built.sizes.empty();
    for (const scene::NodeIndex i : scene::reachedNodes(model))
      if (model.node(i).mesh.valid())
        for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives)
          built.moves = built.moves || !p.morphs.empty();
    int number = 0;
    for (const DrawnPart& part : drawnParts(model)) {
      const scene::Node& node = model.node(part.node);
      bundle::ObjectPiece piece;
      piece.name = node.name;
      piece.region =
          state->second.kind != nullptr ? state->second.kind->regionWord(node.region) : node.region;
      piece.mesh = "mesh/" + stem + "/" + std::to_string(number++) + "-" + base::slug(node.name);
      bool exact = true;
      const scene::Placement place = scene::placementOf(partWorld(model, making->world, part.node), exact);
      if (!place.atRest()) {
        piece.position = arrayOf<3>(place.position);
        piece.turn = {place.turn.x, place.turn.y, place.turn.z, place.turn.w};
        piece.scale = arrayOf<3>(place.scale);
      }
      if (node.skin.valid()) {
        piece.rig = 0;
      } else if (piece.bone = rig.carrierOf(model, part.node); piece.bone >= 0) {
        piece.rig = 0;
      }
      RAKUGO_TRY(addMesh(stem, piece.mesh, making, part, {}, why));
      for (const scene::LighterMesh& far : node.lighter) {
        const std::string id = piece.mesh + "-" + std::to_string(piece.lighter.size() + 1);
        const DrawnPart lighter{part.node, drawnMaterials(model.mesh(far.mesh))};
        RAKUGO_TRY(addMesh(stem, id, making, lighter, far.mesh, why));
        piece.lighter.emplace_back(id, static_cast<float>(static_cast<double>(far.from_m) / space_.unit_m));
      }
      built.pieces.push_back(std::move(piece));
    }
    return {};
  }

  // The skeleton of a model and its own animations.
  bundle::ObjectRig addRig(const std::string& stem, const std::shared_ptr<const Making>& making,
                           const std::string& why) {
    bundle::ObjectRig out;
    out.skeleton = "skeleton/" + stem;
    entries_.push_back(smallEntry(
        EntryKind::skeleton, out.skeleton, why, [making, space = space_]() -> base::Result<base::Bytes> {
          return bundle::encodeSkeleton(skeletonRecord(*making->model, making->rig, space));
        }));
    for (size_t i = 0; i < making->model->animations.size(); ++i) {
      const scene::Animation& animation = making->model->animations[i];
      if (!movesRig(animation, making->rig)) continue;
      const std::string id = "animation/" + stem + "/" + std::to_string(i) + "-" + base::slug(animation.name);
      entries_.push_back(smallEntry(
          EntryKind::animation, id, why, [making, i, space = space_]() -> base::Result<base::Bytes> {
            return bundle::encodeAnimation(
                runtimeAnimation(*making->model, making->model->animations[i], making->rig, space));
          }));
      out.animations.emplace_back(animation.name.empty() ? std::to_string(i) : animation.name, id);
    }
    return out;
  }

  // The mesh that a part draws, or another in its place; with the model's other sizes as morph targets: how
  // far each vertex goes.
  static std::shared_ptr<const scene::Mesh> meshOf(const Making& making, scene::NodeIndex part,
                                                   scene::MeshIndex instead) {
    if (instead.valid()) {
      scene::Model lighter = *making.model;
      lighter.node(part).mesh = instead;
      return drawnMesh(lighter, part, making.world);
    }
    std::shared_ptr<const scene::Mesh> mesh = drawnMesh(*making.model, part, making.world);
    if (making.sizes.empty()) return mesh;
    auto out = std::make_shared<scene::Mesh>(*mesh);
    for (const Size& size : making.sizes)
      addSize(*out, *drawnMesh(size.model.get(), part, making.world), size.name);
    return out;
  }

  base::Status addMesh(const std::string& stem, const std::string& mesh_id,
                       const std::shared_ptr<const Making>& making, const DrawnPart& part,
                       scene::MeshIndex instead, const std::string& why) {
    std::vector<std::string> materials;
    for (const scene::MaterialIndex material : part.materials) {
      RAKUGO_ASSIGN(std::string id, addMaterial(stem, making->model, material, making->kind, why));
      materials.push_back(std::move(id));
    }
    PlannedEntry entry{EntryKind::mesh, mesh_id, why, true, 0, {}, {}};
    const Lazy<std::shared_ptr<const scene::Mesh>> mesh(
        [making, node = part.node, instead] { return meshOf(*making, node, instead); });
    std::vector<uint16_t> bones;
    if (const scene::SkinIndex skin = making->model->node(part.node).skin; skin.valid())
      bones = making->rig.numbersOf(making->model->skins[skin.value()]);
    entry.key = [mesh, materials, bones, space = space_](BuildCache& cache) {
      std::string names;
      for (const std::string& id : materials) names += id + "\n";
      for (const uint16_t bone : bones) names += std::to_string(bone) + " ";
      return cacheKey({kBuilder, "mesh", cache.digestOf(mesh.get()), names, base::numberText(space.unit_m, 9),
                       std::to_string(space.mirrored)});
    };
    entry.make = [mesh, materials, bones, space = space_]() -> base::Result<base::Bytes> {
      bundle::MeshPayload payload = runtimeMesh(*mesh.get(), space, bones);
      payload.materials = materials;
      return bundle::encodeMesh(payload);
    };
    entries_.push_back(std::move(entry));
    return {};
  }

  base::Result<std::string> addMaterial(const std::string& stem,
                                        const std::shared_ptr<const scene::Model>& shared,
                                        scene::MaterialIndex index, const rulebook::Kind* kind,
                                        const std::string& why) {
    const scene::Model& model = *shared;
    const std::string id =
        "material/" + stem + "/" +
        (index.valid() ? std::to_string(index.value()) + "-" + base::slug(model.materials[index.value()].name)
                       : "plain");
    if (!added_.insert(id).second) return id;
    bundle::MaterialRecord record;
    if (index.valid()) {
      const scene::Material& m = model.materials[index.value()];
      record = materialRecord(m);
      if (kind != nullptr) record.role = kind->roleWord(record.role);
      const std::array<std::string*, 5> slots = {&record.base_color_picture,
                                                 &record.metallic_roughness_picture, &record.normal_picture,
                                                 &record.occlusion_picture, &record.emissive_picture};
      for (size_t i = 0; i < slots.size(); ++i) {
        const scene::TextureUse& use = m.*scene::kTextureSlots[i].use;
        if (!use.image.valid()) continue;
        RAKUGO_ASSIGN(*slots[i], addPicture(stem, shared, use.image, formats::useOf(scene::kTextureSlots[i]),
                                            base::phrase("{0}, material {1}", why, record.name)));
      }
    } else {
      record.name = "plain";
      record.metallic = 0;
    }
    const uint16_t minor = bundle::minorOf(record);
    entries_.push_back(
        smallEntry(EntryKind::material, id, why, [record = std::move(record)]() -> base::Result<base::Bytes> {
          return bundle::encodeMaterial(record);
        }));
    entries_.back().minor = minor;
    return id;
  }

  // Of the ids of pictures: the same one may be needed as colour and as data.
  static const char* endingOf(formats::PictureUse use) {
    return use == formats::PictureUse::color ? "" : use == formats::PictureUse::normal ? "-normal" : "-data";
  }
  // How its pictures are looked up, worked out once a model.
  const prepare::PictureNeed& needOf(const std::shared_ptr<const scene::Model>& model,
                                     scene::ImageIndex index, formats::PictureUse use) {
    const auto [at, fresh] = needs_.try_emplace(model.get());
    if (fresh) at->second = prepare::pictureNeeds(*model);
    return at->second.at({index, use});
  }
  static PlannedEntry pictureEntry(const std::string& id, const std::string& why, const PictureStoring& how) {
    // What is compressed inside gains nothing from being compressed again.
    PlannedEntry out{EntryKind::picture, id, why, !how.supercompressed, 0, {}, {}};
    if (how.supercompressed || how.format != bundle::PixelFormat::rgba8) out.minor = bundle::kMinorOfTextures;
    return out;
  }
  // A sheet that several models have their parts of.
  struct SharedSheet {
    PictureStoring how;
    std::string why;  // of the first
    std::vector<scene::Image> parts;
  };
  // The id of the sheet's entry, with this part among its own; empty for a picture that is the model's alone,
  // and where another part lies in the same place, or is stored in another way.
  std::string addToSheet(const scene::Image& image, const PictureStoring& how, formats::PictureUse use,
                         const std::string& why) {
    if (image.shared.empty()) return {};
    const std::string id =
        "picture/shared/" + base::slug(image.name) + "-" + std::to_string(2 * image.part[2]) + endingOf(use);
    const auto [at, fresh] = sheets_.try_emplace(id, SharedSheet{how, why, {}});
    SharedSheet& sheet = at->second;
    if (sheet.how.text() != how.text()) return {};
    for (const scene::Image& part : sheet.parts) {
      if (part.bytes == image.bytes) return id;
      if (part.part == image.part) return {};
    }
    sheet.parts.push_back(image);
    return id;
  }
  // All sheets, once all models have said which parts are theirs.
  void addSheets() {
    for (const auto& [id, sheet] : sheets_) {
      PlannedEntry entry = pictureEntry(id, sheet.why, sheet.how);
      entry.key = [of = sheet](BuildCache& cache) {
        std::string parts;
        for (const scene::Image& part : of.parts) {
          parts += cache.digestOf(part.bytes);
          for (const uint32_t v : part.part) parts += " " + std::to_string(v);
        }
        return cacheKey({kBuilder, "shared sheet", parts, of.how.text()});
      };
      entry.make = [of = sheet]() -> base::Result<base::Bytes> {
        formats::Picture whole;
        for (const scene::Image& part : of.parts) {
          RAKUGO_ASSIGN(formats::Picture one, formats::decodePicture(*part.bytes, part.name));
          if (whole.pixels.empty()) {
            whole = std::move(one);
            continue;
          }
          for (uint32_t y = part.part[1]; y < part.part[1] + part.part[3]; ++y) {
            const size_t from = (size_t{y} * whole.width + part.part[0]) * 4;
            std::copy_n(one.pixels.begin() + static_cast<std::ptrdiff_t>(from), size_t{part.part[2]} * 4,
                        whole.pixels.begin() + static_cast<std::ptrdiff_t>(from));
          }
        }
        return bundle::encodeKtx2(storedPicture(whole, of.how));
      };
      entries_.push_back(std::move(entry));
    }
  }
  // The id of the picture's entry; empty for a picture that is not there or no picture (a finding has said
  // so).
  base::Result<std::string> addPicture(const std::string& stem,
                                       const std::shared_ptr<const scene::Model>& model,
                                       scene::ImageIndex index, formats::PictureUse use,
                                       const std::string& why) {
    const scene::Image& image = model->images[index.value()];
    if (!image.bytes) return std::string();
    const std::string name = image.uri.empty() ? image.name : image.uri;
    if (unreadable_.count(image.bytes.get()) != 0) return std::string();
    PictureStoring how = storingOf(*x_.book, target_, use, needOf(model, index, use));
    how.quick = quick_ && how.format != bundle::PixelFormat::rgba8;
    if (const std::string shared = addToSheet(image, how, use, why); !shared.empty()) return shared;
    const std::string id = "picture/" + stem + "/" + std::to_string(index.value()) + "-" +
                           base::slug(fs::path(name).stem().string()) + endingOf(use);
    if (!added_.insert(id).second) return id;
    PlannedEntry entry = pictureEntry(id, why, how);
    entry.key = [bytes = image.bytes, how](BuildCache& cache) {
      return cacheKey({kBuilder, "picture", cache.digestOf(bytes), how.text()});
    };
    entry.make = [bytes = image.bytes, name, how]() -> base::Result<base::Bytes> {
      RAKUGO_ASSIGN(const formats::Picture picture, formats::decodePicture(*bytes, name));
      return bundle::encodeKtx2(storedPicture(picture, how));
    };
    entries_.push_back(std::move(entry));
    return id;
  }

  const check::Examination& x_;
  const rulebook::Target target_;
  const bool quick_;
  const base::Progress* progress_;
  const GameSpace space_;
  const std::set<const base::Bytes*> unreadable_;
  std::vector<PlannedEntry> entries_;
  std::map<std::string, std::shared_ptr<const BuiltModel>> models_;
  std::set<std::string> added_, stems_;
  std::map<const scene::Model*, decltype(prepare::pictureNeeds({}))> needs_;
  std::map<std::string, SharedSheet> sheets_;
  SoundEntries sounds_;
  std::set<std::string> shared_;  // ids of what the game shares and the mod names
};

}  // namespace

PlannedEntry smallEntry(EntryKind kind, std::string id, std::string why,
                        std::function<base::Result<base::Bytes>()> bytes, bool compress) {
  PlannedEntry entry{kind, std::move(id), std::move(why), compress, 0, {}, {}};
  const Lazy<base::Result<base::Bytes>> content(std::move(bytes));
  entry.key = [content, compress](BuildCache&) {
    // What cannot be made has no key that anything was kept under.
    return content.get() ? cacheKey({kBuilder, compress ? "packed" : "plain", base::asText(*content.get())})
                         : std::string();
  };
  entry.make = [content] { return content.get(); };
  return entry;
}

std::set<const base::Bytes*> unreadablePictures(const check::Examination& examination) {
  std::set<const base::Bytes*> out;
  for (const auto& [name, state] : examination.context.models)
    for (size_t i = 0; i < state.pictures.size(); ++i)
      if (state.pictures[i].error) out.insert(state.prepared.model->images[i].bytes.get());
  return out;
}

base::Result<std::vector<PlannedEntry>> planBundle(const check::Examination& examination, const PlanFor& what,
                                                   const base::Progress* progress) {
  return Planner(examination, what, progress).run();
}

}  // namespace rakugo::packing
