// The zip as a packager: plain open files, for games that take them so. docs/zip-package.md is the
// specification.
#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"
#include "bundle/manifest.h"
#include "bundle/records.h"
#include "formats/archives/zip.h"
#include "formats/gltf/gltf.h"
#include "packing/lazy.h"
#include "packing/packager.h"
#include "packing/runtime.h"
#include "prepare/objects/moving_parts.h"
#include "prepare/parts/pieces.h"
#include "prepare/surface/packed_picture.h"
#include "rulebook/piece_sorts.h"
#include "scene/variants.h"
#include "scene/written_model.h"

namespace rakugo::packing {
namespace fs = std::filesystem;
namespace {

using base::Json;
using bundle::EntryKind;

// The turn from the game's axes to those of glTF (+Y up, +Z forward); both right-handed, so it is a rotation.
glm::mat3 toGltfAxes(const rulebook::Rulebook& book) {
  const glm::vec3 forward = geometry::axisVector(book.forward), up = geometry::axisVector(book.up);
  const glm::mat3 from(forward, glm::cross(up, forward), up);  // forward, left, up
  const glm::mat3 to(glm::vec3(0, 0, 1), glm::vec3(1, 0, 0), glm::vec3(0, 1, 0));
  return to * glm::transpose(from);
}

constexpr const char* kZipManifest = "manifest.json";

// The word for what lies at a path of the archive: "mesh", "object", ...
std::string zipKind(const std::string& path) {
  if (path == kZipManifest) return "manifest";
  if (path.starts_with("objects/")) return "object";
  if (path.starts_with("models/")) return "mesh";
  if (path.starts_with("pictures/")) return "picture";
  if (path.starts_with("icons/")) return "icon";
  if (path.starts_with("sounds/")) return "sound";
  if (path.starts_with("texts/")) return "texts";
  return "other";
}

// Ids of a bundle's sounds and objects, wherever a record names them, become paths of the archive.
struct PathNames {
  std::set<std::string> sounds, objects;
  std::string ending;

  [[nodiscard]] std::string soundFile(const std::string& id) const {
    return "sounds/" + id.substr(std::string_view("sound/").size()) + "." + ending;
  }
  void operator()(Json& json) const {
    std::vector<Json*> open = {&json};
    while (!open.empty()) {
      Json& one = *open.back();
      open.pop_back();
      if (one.is_string()) {
        const std::string text = one.get<std::string>();
        if (sounds.count(text) != 0) one = soundFile(text);
        if (objects.count(text) != 0)
          one = "objects/" + text.substr(std::string_view("object/").size()) + ".json";
      }
      if (one.is_structured())
        for (Json& inside : one) open.push_back(&inside);
    }
  }
};

class ZipPlanner {
 public:
  ZipPlanner(const check::Examination& x, const PlanFor& what, const base::Progress* progress)
      : x_(x), what_(what), progress_(progress), unreadable_(unreadablePictures(x)) {}

  base::Result<std::vector<PlannedEntry>> run() {
    // The bundle's plan knows the manifest and the objects' records; models and pictures become files of
    // their own.
    RAKUGO_ASSIGN(std::vector<PlannedEntry> plan, planBundle(x_, what_, progress_));
    for (const PlannedEntry& entry : plan) {
      if (entry.kind == EntryKind::sound) sounds_.insert(entry.id);
      if (entry.kind == EntryKind::object) objects_.insert(entry.id);
    }
    for (const auto& [name, doc] : x_.mod->objects)
      for (const mod::PieceDoc& piece : doc.pieces) {
        if (progress_ != nullptr && progress_->cancelled()) return base::cancelledError();
        if (piece.isModel()) addModel(piece.model, name);
      }
    for (PlannedEntry& entry : plan) {
      if (entry.kind == EntryKind::object) addObject(entry);
      if (entry.kind == EntryKind::icon) entry.id = "icons/" + entry.id.substr(5) + ".png";
      if (entry.kind == EntryKind::manifest) entry.id = kZipManifest;
      if (entry.kind == EntryKind::sound) {
        entry.id = soundFile(entry.id);
        entry.compress = false;
        entry.minor = 0;
      }
      if (entry.kind == EntryKind::texts) {
        entry.id = "texts/" + entry.id.substr(std::string_view("text/").size()) + ".json";
        entry.minor = 0;
      }
      if (entry.kind == EntryKind::icon || entry.kind == EntryKind::manifest ||
          entry.kind == EntryKind::sound || entry.kind == EntryKind::texts)
        entries_.push_back(std::move(entry));
    }
    return std::move(entries_);
  }

 private:
  using Sizes = std::map<std::string, std::shared_ptr<const scene::Model>>;

  [[nodiscard]] std::string soundFile(const std::string& id) const {
    return PathNames{sounds_, objects_, x_.book->sounds.format}.soundFile(id);
  }

  // An object's record with the paths of this archive in place of a bundle's ids.
  void addObject(const PlannedEntry& record) {
    const std::string name = record.id.substr(std::string("object/").size());
    Json pieces = Json::array(), roles = Json::object(), packed = Json::object(), moved = Json::object();
    for (const auto& [object, doc] : x_.mod->objects) {
      if (base::slug(object) != name) continue;
      pieces = placements(doc);
      moved = movedPieces(doc);
      for (const mod::PieceDoc& piece : doc.pieces)
        for (const auto& [material, role] : roles_[piece.model]) roles[material] = role;
      for (const mod::PieceDoc& piece : doc.pieces)
        for (const auto& [material, files] : packed_[piece.model]) packed[material] = files;
    }
    entries_.push_back(smallEntry(
        EntryKind::object, "objects/" + name + ".json", record.why,
        [make = record.make, id = record.id, pieces, roles, packed, moved,
         name_paths = PathNames{sounds_, objects_, x_.book->sounds.format}]() -> base::Result<base::Bytes> {
          RAKUGO_ASSIGN(const base::Bytes raw, make());
          RAKUGO_ASSIGN(Json json, base::parseJson(base::asText(raw), id));
          json.erase("rigs");  // bones and movements lie in the models' own files
          if (const std::string icon = base::textOf(json, "icon"); icon.size() > 5)
            json["icon"] = "icons/" + icon.substr(5) + ".png";
          if (const auto icons = json.find("icons"); icons != json.end())
            for (Json& one : *icons) one["icon"] = "icons/" + base::textOf(one, "icon").substr(5) + ".png";
          // The record's pieces are parts of models; here a piece is a model.
          if (const auto motions = json.find("motions"); motions != json.end())
            for (Json& one : *motions) {
              one.erase("pieces");
              if (const Json* own = base::memberOf(moved, base::textOf(one, "name").c_str()))
                one["pieces"] = *own;
            }
          for (const char* key : {"card", "lists", "sounds", "lamps", "emitters", "shapes", "motions"})
            if (const auto part = json.find(key); part != json.end()) name_paths(*part);
          json["pieces"] = pieces;
          json["roles"] = roles;
          if (!packed.empty()) json["packed"] = packed;
          shortenNumbers(json);
          const std::string text = base::jsonText(json);
          const auto bytes = base::asBytes(text);
          return base::Bytes(bytes.begin(), bytes.end());
        }));
  }

  // What each moving part moves: whole pieces, and parts of pieces by the names of their nodes.
  Json movedPieces(const mod::ObjectDoc& doc) const {
    const prepare::ModelOf models = [this](const std::string& name) -> const scene::Model* {
      const auto found = x_.context.models.find(name);
      return found != x_.context.models.end() ? found->second.prepared.model.get() : nullptr;
    };
    Json out = Json::object();
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (rulebook::pieceSortFrom(piece.sort) != rulebook::PieceSort::moving) continue;
      const prepare::Moved moved = prepare::movedBy(doc, piece, models);
      Json& list = out[piece.name] = Json::array();
      for (const auto& [i, nodes] : moved.parts) {
        const scene::Model& model = *models(doc.pieces[i].model);
        list.push_back(
            Json{{"piece", doc.pieces[i].name},
                 {"part", model.node(scene::findPart(model, base::textOf(piece.values, "part"))).name}});
      }
      for (const size_t i : moved.pieces)
        if (doc.pieces[i].isModel()) list.push_back(Json{{"piece", doc.pieces[i].name}});
    }
    return out;
  }

  Json placements(const mod::ObjectDoc& doc) const {
    const GameSpace space(*x_.book);
    const rulebook::Kind* kind = x_.book->findKind(doc.kind);
    Json out = Json::array();
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (!piece.isModel()) continue;
      bool exact = true;
      const mod::PieceDoc* apart = prepare::apartRoot(*x_.book, doc, piece);
      const scene::Placement place =
          scene::placementOf(prepare::placeWhereShown(*x_.book, doc, piece), exact);
      const glm::vec3 at = space.position(place.position);
      const glm::quat turn = space.turn(place.turn);
      Json one{{"name", piece.name},
               {"model", "models/" + stems_.at(piece.model) + ".glb"},
               {"position", {at.x, at.y, at.z}},
               {"turn", {turn.x, turn.y, turn.z, turn.w}}};
      if (!piece.as.empty()) one["as"] = kind != nullptr ? kind->pieceWord(piece.as) : piece.as;
      if (apart != nullptr) {
        one["as"] = kind != nullptr ? kind->pieceWord(apart->as) : apart->as;
        one["apart"] = true;
      }
      if (const double scale = prepare::scaleInObject(doc, piece); scale != 1) one["scale"] = scale;
      out.push_back(std::move(one));
    }
    return out;
  }

  void addModel(const std::string& name, const std::string& object) {
    if (stems_.count(name) != 0) return;
    std::string stem = base::slug(name);
    // Two names can differ only by what a name in the archive cannot hold.
    while (!taken_.insert(stem).second) stem += "-2";
    stems_[name] = stem;
    const std::string why = base::phrase("{0}, model {1}", object, name);
    const check::ModelState& state = x_.context.models.at(name);
    const std::shared_ptr<const scene::Model> prepared = state.prepared.model;
    // Which pictures and materials are written depends on what parts wear, not on vertices.
    auto whole = std::make_shared<scene::Model>(withoutVertices(*prepared));
    dropUnreadable(*whole, unreadable_);
    scene::Model bare = *whole;
    dropPacked(bare, *x_.book);
    const scene::Model worn = scene::writtenModel(bare);
    for (size_t i = 0; i < worn.materials.size(); ++i) {
      const scene::Material& m = worn.materials[i];
      if (!m.role.empty())
        roles_[name][m.name] = state.kind != nullptr ? state.kind->roleWord(m.role) : m.role;
      for (const rulebook::PackedPicture* packed : prepare::packedPictures(*x_.book, m)) {
        const std::string file = "pictures/" + stem + "-" + std::to_string(i) + "-" + base::slug(m.name) +
                                 "-" + packed->id + ".png";
        packed_[name][m.name][packed->id] = file;
        addPacked(file, whole, m.key, *packed, why);
      }
    }
    for (size_t i = 0; i < worn.images.size(); ++i)
      if (worn.images[i].bytes)
        addPicture(pictureFile(stem, i, worn.images[i]), worn.images[i], useIn(worn, scene::ImageIndex(i)),
                   why);
    const Lazy<std::shared_ptr<const scene::Model>> ready(
        [prepared, stem, unreadable = unreadable_, book = x_.book, sizes = sizesOf(state)] {
          return written(*prepared, stem, unreadable, *book, sizes);
        });
    PlannedEntry entry{EntryKind::mesh, "models/" + stem + ".glb", why, false, 0, {}, {}};
    entry.key = [ready](BuildCache& cache) {
      return cacheKey({kBuilder, "glb", digestOf(*ready.get(), cache)});
    };
    entry.make = [ready]() -> base::Result<base::Bytes> { return formats::writeGlb(*ready.get()); };
    entries_.push_back(std::move(entry));
  }

  // The model as its file holds it: other sizes as morph targets, pictures beside it, in glTF's axes.
  static std::shared_ptr<const scene::Model> written(const scene::Model& prepared, const std::string& stem,
                                                     const std::set<const base::Bytes*>& unreadable,
                                                     const rulebook::Rulebook& book, const Sizes& sizes) {
    scene::Model whole = prepared;
    // What cannot be decoded: a finding has said so, and the rest of the model is built.
    dropUnreadable(whole, unreadable);
    dropPacked(whole, book);
    addSizes(whole, prepared, sizes);
    auto model = std::make_shared<scene::Model>(scene::writtenModel(whole));
    for (size_t i = 0; i < model->images.size(); ++i) {
      scene::Image& image = model->images[i];
      if (!image.bytes) continue;
      image.uri = "../" + pictureFile(stem, i, image);
      image.bytes = nullptr;
    }
    turnToGltf(*model, toGltfAxes(book));
    return model;
  }

  // A picture with several things in its channels, made of a material's slots.
  void addPacked(const std::string& file, const std::shared_ptr<const scene::Model>& model,
                 const std::string& material, const rulebook::PackedPicture& packed, const std::string& why) {
    const uint32_t side = x_.book->pictureSide(what_.target);
    const bool power = x_.book->picture_power_of_two;
    PlannedEntry entry{EntryKind::picture, file, why, false, 0, {}, {}};
    const auto find = [model, material]() -> const scene::Material& {
      return *std::find_if(model->materials.begin(), model->materials.end(),
                           [&](const scene::Material& m) { return m.key == material; });
    };
    entry.key = [model, find, packed, side, power](BuildCache& cache) {
      const scene::Material& m = find();
      std::string from = std::string(base::asText(bundle::encodeMaterial(materialRecord(m))));
      for (const scene::TextureSlot& slot : scene::kTextureSlots)
        if (const scene::ImageIndex image = (m.*slot.use).image;
            image.valid() && model->images[image.value()].bytes)
          from += std::string(slot.name) + cache.digestOf(model->images[image.value()].bytes);
      for (size_t c = 0; c < 4; ++c)
        from += " " + std::to_string(static_cast<int>(packed.channels()[c])) + " " +
                base::numberText(packed.without[c], 6);
      return cacheKey({kBuilder, "packed", from, std::to_string(side), power ? "powers" : "any"});
    };
    entry.make = [model, find, packed, side, power]() -> base::Result<base::Bytes> {
      RAKUGO_ASSIGN(const formats::Picture picture, prepare::packPicture(*model, find(), packed));
      const auto runtime = runtimePicture(picture, prepare::useOf(packed), side, power);
      return formats::encodePng({runtime.width, runtime.height, runtime.levels[0]});
    };
    entries_.push_back(std::move(entry));
  }

  // What goes into packed pictures has no picture of its own any more.
  static void dropPacked(scene::Model& model, const rulebook::Rulebook& book) {
    for (scene::Material& m : model.materials) {
      const std::array<bool, 5> whole = prepare::packedWhole(prepare::packedPictures(book, m));
      for (size_t slot = 0; slot < whole.size(); ++slot)
        if (whole[slot]) m.*scene::kTextureSlots[slot].use = {};
    }
  }

  static std::string pictureFile(const std::string& stem, size_t number, const scene::Image& image) {
    const std::string called = image.uri.empty() ? image.name : image.uri;
    return "pictures/" + stem + "-" + std::to_string(number) + "-" +
           base::slug(fs::path(called).stem().string()) + ".png";
  }

  void addPicture(const std::string& file, const scene::Image& image, formats::PictureUse use,
                  const std::string& why) {
    const uint32_t side = x_.book->pictureSide(what_.target);
    const bool power = x_.book->picture_power_of_two;
    PlannedEntry entry{EntryKind::picture, file, why, false, 0, {}, {}};
    entry.key = [bytes = image.bytes, use, side, power](BuildCache& cache) {
      return cacheKey({kBuilder, "png", cache.digestOf(bytes), std::to_string(static_cast<int>(use)),
                       std::to_string(side), power ? "powers" : "any"});
    };
    entry.make = [bytes = image.bytes, called = image.uri.empty() ? image.name : image.uri, use, side,
                  power]() -> base::Result<base::Bytes> {
      RAKUGO_ASSIGN(const formats::Picture picture, formats::decodePicture(*bytes, called));
      const auto runtime = runtimePicture(picture, use, side, power);
      return formats::encodePng({runtime.width, runtime.height, runtime.levels[0]});
    };
    entries_.push_back(std::move(entry));
  }

  // The sizes that go in, by name.
  static Sizes sizesOf(const check::ModelState& state) {
    Sizes out;
    for (const auto& [variant, other] : state.variants)
      if (other.report && other.report->same && other.prepared.model) out[variant] = other.prepared.model;
    return out;
  }

  // Other sizes of the model as morph targets of its meshes, as in a bundle.
  static void addSizes(scene::Model& model, const scene::Model& first, const Sizes& sizes) {
    for (const auto& [variant, other] : sizes) {
      const scene::Model size = scene::blendedVariants(first, *other, 1);
      for (const scene::NodeIndex i : scene::reachedNodes(first)) {
        if (!model.node(i).mesh.valid()) continue;
        // A mesh of its own: the other size may differ where the first shares one.
        scene::Mesh mesh = model.mesh(model.node(i).mesh);
        addSize(mesh, size.mesh(size.node(i).mesh), variant);
        model.node(i).mesh = scene::MeshIndex(model.meshes.size());
        model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
      }
    }
  }

  // The same model with a single triangle in place of each primitive's: what is worn by what stays.
  static scene::Model withoutVertices(const scene::Model& model) {
    scene::Model out = model;
    for (std::shared_ptr<const scene::Mesh>& mesh : out.meshes) {
      auto bare = std::make_shared<scene::Mesh>();
      bare->name = mesh->name;
      bare->kept = mesh->kept;
      for (const scene::Primitive& p : mesh->primitives) {
        scene::Primitive one;
        one.kept = p.kept;
        one.material = p.material;
        if (!p.indices.empty()) {
          one.positions.assign(3, glm::vec3(0));
          one.indices = {0, 1, 2};
        }
        bare->primitives.push_back(std::move(one));
      }
      mesh = std::move(bare);
    }
    return out;
  }

  // Everything a model file is made of: its meshes by their own digests, all else as it would be written.
  static std::string digestOf(const scene::Model& model, BuildCache& cache) {
    std::string out;
    for (const std::shared_ptr<const scene::Mesh>& mesh : model.meshes) {
      out += cache.digestOf(mesh);
      for (const scene::Primitive& p : mesh->primitives)
        out += " " + std::to_string(p.material.valid() ? p.material.value() : UINT32_MAX) + " " + p.kept;
      out += "\n";
    }
    const scene::Model rest = withoutVertices(model);
    return out + base::hex(base::sha256(formats::writeGlb(rest)));
  }

  // Whether any material shows the picture as a colour; a picture that is data alone is made smaller as
  // numbers are.
  // A picture stands once in the package: as colour where any slot takes it so, or nothing shows it.
  static formats::PictureUse useIn(const scene::Model& model, scene::ImageIndex image) {
    std::optional<formats::PictureUse> out;
    for (const scene::Material& m : model.materials)
      for (const scene::TextureSlot& slot : scene::kTextureSlots)
        if ((m.*slot.use).image == image && (!out || slot.color)) out = formats::useOf(slot);
    return out.value_or(formats::PictureUse::color);
  }
  static void dropUnreadable(scene::Model& model, const std::set<const base::Bytes*>& unreadable) {
    for (size_t i = 0; i < model.images.size(); ++i)
      if (unreadable.count(model.images[i].bytes.get()) != 0) dropPicture(model, scene::ImageIndex(i));
  }
  static void dropPicture(scene::Model& model, scene::ImageIndex image) {
    for (scene::Material& m : model.materials)
      for (const scene::TextureSlot& slot : scene::kTextureSlots)
        if ((m.*slot.use).image == image) m.*slot.use = {};
    model.images[image.value()].bytes = nullptr;
    model.images[image.value()].uri.clear();
  }
  // Numbers of single precision as the shortest text that means them, and no zero with a sign.
  static void shortenNumbers(Json& json) {
    std::vector<Json*> open = {&json};
    while (!open.empty()) {
      Json* now = open.back();
      open.pop_back();
      if (now->is_structured()) {
        for (auto& [key, value] : now->items()) open.push_back(&value);
      } else if (now->is_number_float()) {
        const auto whole = now->get<double>();
        const auto single = static_cast<float>(whole);
        if (static_cast<double>(single) == whole)
          *now = whole == 0 ? 0.0 : std::stod(fmt::format("{}", single));
      }
    }
  }

  // A root of its own carries the turn, so that no mesh and no skin has to be touched.
  static void turnToGltf(scene::Model& model, const glm::mat3& axes) {
    const glm::quat turn = glm::quat_cast(axes);
    if (std::abs(turn.w) > 0.99999F) return;
    scene::Node node;
    node.name = "axes";
    node.local.turn = turn;
    node.children = model.roots;
    model.nodes.push_back(node);
    const scene::NodeIndex at(model.nodes.size() - 1);
    for (const scene::NodeIndex root : model.roots) model.node(root).parent = at;
    model.roots = {at};
  }

  const check::Examination& x_;
  const PlanFor what_;
  const base::Progress* progress_;
  const std::set<const base::Bytes*> unreadable_;
  std::vector<PlannedEntry> entries_;
  std::map<std::string, std::string> stems_;  // by model
  std::set<std::string> taken_;
  std::set<std::string> sounds_, objects_;                           // ids of the bundle's plan
  std::map<std::string, std::map<std::string, std::string>> roles_;  // model -> material -> role
  // model -> material -> id of a packed picture -> file
  std::map<std::string, std::map<std::string, std::map<std::string, std::string>>> packed_;
};

bool beginsAsZip(base::ByteSpan bytes) { return formats::isZip(bytes); }

base::Result<base::Bytes> writeFiles(const std::vector<MadeEntry>& entries) {
  std::map<std::string, base::Bytes> files;
  for (const MadeEntry& entry : entries) files[entry.planned->id] = entry.content->bytes;
  return formats::writeZip(files);
}

base::Result<Package> lookIntoZip(base::ByteSpan bytes, const std::string& name) {
  RAKUGO_ASSIGN(const auto files, formats::readZip(bytes, name));
  const auto manifest = files.find(kZipManifest);
  if (manifest == files.end())
    return base::Error{"package.manifest", base::phrase("The archive is no mod: it has no manifest.json."),
                       base::Place{name}, base::phrase("Choose a package that a build made.")};
  Package out;
  RAKUGO_ASSIGN(out.manifest, bundle::decodeManifest(manifest->second, name));
  out.file_bytes = bytes.size();
  for (const auto& [path, content] : files)
    out.entries.push_back(
        {path, zipKind(path), content.size(), content.size(), base::hex(base::sha256(content))});
  return out;
}

std::vector<base::Error> verifyZip(base::ByteSpan bytes, const std::string& name,
                                   const base::Progress* progress) {
  const auto files = formats::readZip(bytes, name);
  if (!files) return {files.error()};
  std::vector<base::Error> faults;
  const auto fault = [&](const std::string& path, const std::string& why) {
    faults.push_back(
        {"package.damaged", why, base::Place{name, path}, base::phrase("Build the package again.")});
  };
  const auto need = [&](const std::string& from, const std::string& path) {
    if (files->count(path) == 0)
      fault(from, base::phrase("{0} refers to {1}, which is not in the archive.", from, path));
  };
  if (files->count(kZipManifest) == 0) fault(kZipManifest, base::phrase("There is no manifest.json."));
  for (const auto& [path, content] : *files) {
    if (progress != nullptr && progress->cancelled()) return {base::cancelledError()};
    const std::string kind = zipKind(path);
    if (kind == "manifest") {
      if (const auto manifest = bundle::decodeManifest(content, path); !manifest)
        faults.push_back(manifest.error());
      else
        for (const std::string& object : manifest->objects)
          need(path, "objects/" + object.substr(7) + ".json");
    } else if (kind == "picture" || kind == "icon") {
      if (const auto picture = formats::decodePicture(content, path); !picture)
        faults.push_back(picture.error());
    } else if (kind == "mesh") {
      const auto fetch =
          [&, folder = fs::path(path).parent_path()](const std::string& uri) -> base::Result<base::Bytes> {
        const auto found = files->find((folder / uri).lexically_normal().generic_string());
        if (found == files->end())
          return base::Error{"file.missing", base::phrase("It is not in the archive."), {}, ""};
        return found->second;
      };
      const auto model = formats::readModel(content, path, fetch, {});
      if (!model) {
        faults.push_back(model.error());
        continue;
      }
      for (const scene::Image& image : model->model.images)
        if (!image.uri.empty())
          need(path, (fs::path(path).parent_path() / image.uri).lexically_normal().generic_string());
    } else if (kind == "object") {
      const auto json = base::parseJson(base::asText(content), path);
      if (!json || !json->is_object()) {
        fault(path, base::phrase("The object's record cannot be read."));
        continue;
      }
      std::vector<base::Error> complaints;
      base::JsonFields in(*json, path, "", complaints);
      for (base::JsonFields& piece : in.objects("pieces")) need(path, piece.text("model"));
      if (const std::string icon = in.text("icon"); !icon.empty()) need(path, icon);
      if (const auto packed = json->find("packed"); packed != json->end() && packed->is_object())
        for (const Json& pictures : *packed)
          for (const Json& file : pictures)
            if (file.is_string()) need(path, file.get<std::string>());
      faults.insert(faults.end(), complaints.begin(), complaints.end());
    }
  }
  return faults;
}

}  // namespace

base::Result<std::vector<PlannedEntry>> planZip(const check::Examination& examination, const PlanFor& what,
                                                const base::Progress* progress) {
  return ZipPlanner(examination, what, progress).run();
}

const Packager& zipPackager() {
  static const Packager kRow{"zip", ".zip", beginsAsZip, planZip, false, writeFiles, lookIntoZip, verifyZip};
  return kRow;
}

}  // namespace rakugo::packing
