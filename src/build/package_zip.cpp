#include "build/package_zip.h"

#include <fmt/format.h>

#include <atomic>
#include <functional>
#include <map>
#include <set>

#include "base/files.h"
#include "base/sha256.h"
#include "base/text.h"
#include "build/build_plan.h"
#include "build/runtime.h"
#include "bundle/manifest.h"
#include "bundle/records.h"
#include "formats/gltf.h"
#include "formats/zip.h"
#include "scene/variants.h"
#include "scene/written_model.h"

namespace rakugo::build {
namespace fs = std::filesystem;
namespace {

using base::Json;

// The turn from the game's axes to those of glTF (+Y up, +Z forward); both right-handed, so it is a rotation.
glm::mat3 toGltfAxes(const rulebook::Rulebook& book) {
  const glm::vec3 forward = geometry::axisVector(book.forward), up = geometry::axisVector(book.up);
  const glm::mat3 from(forward, glm::cross(up, forward), up);  // forward, left, up
  const glm::mat3 to(glm::vec3(0, 0, 1), glm::vec3(1, 0, 0), glm::vec3(0, 1, 0));
  return to * glm::transpose(from);
}

// A file of the archive that costs something to make.
struct FileJob {
  std::string path;
  std::function<std::string(BuildCache& cache)> key;
  std::function<base::Result<base::Bytes>()> make;
};

class ZipBuilder {
 public:
  ZipBuilder(const check::Examination& x, const BuildOptions& options)
      : x_(x), options_(options), unreadable_(unreadablePictures(x)) {}

  base::Result<base::Bytes> run() {
    // The plan knows the manifest and the objects' records; meshes, materials and pictures become files of
    // their own.
    RAKUGO_ASSIGN(const std::vector<PlannedEntry> plan, planBundle(x_, options_.progress));
    for (const auto& [name, doc] : x_.mod->objects)
      for (const mod::PieceDoc& piece : doc.pieces) {
        if (cancelled()) return base::cancelledError();
        addModel(piece.model);
      }
    for (const PlannedEntry& entry : plan) RAKUGO_TRY(addEntry(entry));
    RAKUGO_TRY(runJobs());
    return formats::writeZip(files_);
  }

 private:
  [[nodiscard]] bool cancelled() const {
    return options_.progress != nullptr && options_.progress->cancelled();
  }

  // On all cores; what was made before under the same key is taken from the cache.
  base::Status runJobs() {
    std::vector<base::Result<base::Bytes>> made(jobs_.size(), base::cancelledError());
    std::atomic<size_t> done{0};
    base::parallelFor(jobs_.size(), [&](size_t i) {
      if (cancelled()) return;
      made[i] = makeFile(jobs_[i]);
      if (options_.progress != nullptr)
        options_.progress->say("Building " + jobs_[i].path,
                               0.9 * static_cast<double>(++done) / static_cast<double>(jobs_.size()));
    });
    if (cancelled()) return base::cancelledError();
    for (size_t i = 0; i < jobs_.size(); ++i) {
      if (!made[i]) return made[i].error();
      files_[jobs_[i].path] = std::move(*made[i]);
    }
    return {};
  }

  base::Result<base::Bytes> makeFile(const FileJob& job) const {
    if (options_.cache == nullptr) return job.make();
    const std::string key = job.key(*options_.cache);
    if (const auto known = options_.cache->find(key)) return known->bytes;
    RAKUGO_ASSIGN(base::Bytes bytes, job.make());
    RAKUGO_ASSIGN(bundle::StoredEntry stored, bundle::storeEntry(bytes, false));
    options_.cache->put(key, std::make_shared<const bundle::StoredEntry>(std::move(stored)));
    return bytes;
  }

  base::Status addEntry(const PlannedEntry& entry) {
    if (entry.kind == bundle::EntryKind::manifest || entry.kind == bundle::EntryKind::object ||
        entry.kind == bundle::EntryKind::icon) {
      RAKUGO_ASSIGN(base::Bytes raw, entry.make());
      if (entry.kind == bundle::EntryKind::manifest) files_[kZipManifest] = std::move(raw);
      if (entry.kind == bundle::EntryKind::icon)
        files_["icons/" + entry.id.substr(5) + ".png"] = std::move(raw);
      if (entry.kind == bundle::EntryKind::object) RAKUGO_TRY(addObject(entry.id, raw));
    }
    return {};
  }

  // An object's record with the paths of this archive in place of a bundle's ids.
  base::Status addObject(const std::string& id, base::ByteSpan raw) {
    RAKUGO_ASSIGN(Json json, base::parseJson(base::asText(raw), id));
    json.erase("rigs");  // bones and movements lie in the models' own files
    const std::string name = id.substr(std::string("object/").size());
    if (json.value("icon", std::string()).size() > 5)
      json["icon"] = "icons/" + json["icon"].get<std::string>().substr(5) + ".png";
    Json pieces = Json::array(), roles = Json::object();
    for (const auto& [object, doc] : x_.mod->objects) {
      if (base::slug(object) != name) continue;
      pieces = placements(doc);
      for (const mod::PieceDoc& piece : doc.pieces)
        for (const auto& [material, role] : roles_[piece.model]) roles[material] = role;
    }
    json["pieces"] = std::move(pieces);
    json["roles"] = std::move(roles);
    shortenNumbers(json);
    const std::string text = base::jsonText(json);
    const auto bytes = base::asBytes(text);
    files_["objects/" + name + ".json"] = base::Bytes(bytes.begin(), bytes.end());
    return {};
  }

  Json placements(const mod::ObjectDoc& doc) const {
    const GameSpace space(*x_.book);
    Json out = Json::array();
    for (const mod::PieceDoc& piece : doc.pieces) {
      const glm::vec3 at =
          space.position({static_cast<float>(piece.position_m[0]), static_cast<float>(piece.position_m[1]),
                          static_cast<float>(piece.position_m[2])});
      const glm::quat turn = space.turn(
          glm::normalize(glm::quat(static_cast<float>(piece.turn[3]), static_cast<float>(piece.turn[0]),
                                   static_cast<float>(piece.turn[1]), static_cast<float>(piece.turn[2]))));
      out.push_back(Json{{"name", piece.name},
                         {"model", "models/" + stems_.at(piece.model) + ".glb"},
                         {"position", {at.x, at.y, at.z}},
                         {"turn", {turn.x, turn.y, turn.z, turn.w}}});
    }
    return out;
  }

  void addModel(const std::string& name) {
    if (stems_.count(name) != 0) return;
    std::string stem = base::slug(name);
    // Two names can differ only by what a name in the archive cannot hold.
    while (!taken_.insert(stem).second) stem += "-2";
    stems_[name] = stem;
    const check::ModelState& state = x_.context.models.at(name);
    scene::Model whole = *state.prepared.model;
    // What cannot be decoded: a finding has said so, and the rest of the model is built.
    for (size_t i = 0; i < whole.images.size(); ++i)
      if (unreadable_.count(whole.images[i].bytes.get()) != 0) dropPicture(whole, scene::ImageIndex(i));
    addSizes(whole, state);
    auto model = std::make_shared<scene::Model>(scene::writtenModel(whole));
    for (const scene::Material& m : model->materials)
      if (!m.role.empty()) roles_[name][m.name] = m.role;
    for (size_t i = 0; i < model->images.size(); ++i) {
      scene::Image& image = model->images[i];
      if (!image.bytes) continue;
      const std::string called = image.uri.empty() ? image.name : image.uri;
      const std::string file = "pictures/" + stem + "-" + std::to_string(i) + "-" +
                               base::slug(fs::path(called).stem().string()) + ".png";
      addPicture(file, called, image.bytes, isColor(*model, scene::ImageIndex(i)));
      image.uri = "../" + file;
      image.bytes = nullptr;
    }
    turnToGltf(*model);
    const std::shared_ptr<const scene::Model> ready = std::move(model);
    jobs_.push_back({"models/" + stem + ".glb",
                     [ready](BuildCache& cache) {
                       return cacheKey({kBuilder, "glb", digestOf(*ready, cache)});
                     },
                     [ready]() -> base::Result<base::Bytes> { return formats::writeGlb(*ready); }});
  }

  void addPicture(const std::string& file, const std::string& called,
                  const std::shared_ptr<const base::Bytes>& bytes, bool color) {
    const uint32_t side = x_.book->picture_max_side;
    const bool power = x_.book->picture_power_of_two;
    jobs_.push_back({file,
                     [=](BuildCache& cache) {
                       return cacheKey({kBuilder, "png", cache.digestOf(bytes), color ? "colour" : "data",
                                        std::to_string(side), power ? "powers" : "any"});
                     },
                     [=]() -> base::Result<base::Bytes> {
                       RAKUGO_ASSIGN(const formats::Picture picture, formats::decodePicture(*bytes, called));
                       const auto runtime = runtimePicture(picture, color, side, power);
                       return formats::encodePng({runtime.width, runtime.height, runtime.levels[0]});
                     }});
  }

  // Other sizes of the model as morph targets of its meshes, as in a bundle.
  static void addSizes(scene::Model& model, const check::ModelState& state) {
    for (const auto& [variant, other] : state.variants) {
      if (!other.report || !other.report->same || !other.prepared.model) continue;
      const scene::Model size = scene::blendedVariants(*state.prepared.model, *other.prepared.model, 1);
      for (const scene::NodeIndex i : scene::reachedNodes(*state.prepared.model)) {
        if (!model.node(i).mesh.valid()) continue;
        // A mesh of its own: the other size may differ where the first shares one.
        scene::Mesh mesh = model.mesh(model.node(i).mesh);
        addSize(mesh, size.mesh(size.node(i).mesh), variant);
        model.node(i).mesh = scene::MeshIndex(model.meshes.size());
        model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
      }
    }
  }

  // Everything a model file is made of: its meshes by their own digests, all else as it would be written.
  static std::string digestOf(const scene::Model& model, BuildCache& cache) {
    scene::Model rest = model;
    std::string out;
    for (std::shared_ptr<const scene::Mesh>& mesh : rest.meshes) {
      out += cache.digestOf(mesh);
      auto bare = std::make_shared<scene::Mesh>();
      bare->name = mesh->name;
      bare->kept = mesh->kept;
      for (const scene::Primitive& p : mesh->primitives) {
        out += " " + std::to_string(p.material.valid() ? p.material.value() : UINT32_MAX) + " " + p.kept;
        scene::Primitive one;
        one.positions.assign(3, glm::vec3(0));
        one.indices = {0, 1, 2};
        one.material = p.material;
        bare->primitives.push_back(std::move(one));
      }
      out += "\n";
      mesh = std::move(bare);
    }
    return out + base::hex(base::sha256(formats::writeGlb(rest)));
  }

  // Whether any material shows the picture as a colour; a picture that is data alone is made smaller as
  // numbers are.
  static bool isColor(const scene::Model& model, scene::ImageIndex image) {
    bool used = false;
    for (const scene::Material& m : model.materials)
      for (const scene::TextureSlot& slot : scene::kTextureSlots)
        if ((m.*slot.use).image == image) {
          if (slot.color) return true;
          used = true;
        }
    return !used;
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
  void turnToGltf(scene::Model& model) const {
    const glm::quat turn = glm::quat_cast(toGltfAxes(*x_.book));
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
  const BuildOptions& options_;
  const std::set<const base::Bytes*> unreadable_;
  std::vector<FileJob> jobs_;
  std::map<std::string, base::Bytes> files_;
  std::map<std::string, std::string> stems_;  // by model
  std::set<std::string> taken_;
  std::map<std::string, std::map<std::string, std::string>> roles_;  // model -> material -> role
};

}  // namespace

base::Result<base::Bytes> buildZip(const check::Examination& examination, const BuildOptions& options) {
  return ZipBuilder(examination, options).run();
}

std::string zipKind(const std::string& path) {
  if (path == kZipManifest) return "manifest";
  if (path.starts_with("objects/")) return "object";
  if (path.starts_with("models/")) return "mesh";
  if (path.starts_with("pictures/")) return "picture";
  if (path.starts_with("icons/")) return "icon";
  return "other";
}

std::vector<base::Error> verifyZip(base::ByteSpan bytes, const std::string& name,
                                   const base::Progress* progress) {
  const auto files = formats::readZip(bytes, name);
  if (!files) return {files.error()};
  std::vector<base::Error> faults;
  const auto fault = [&](const std::string& path, const std::string& why) {
    faults.push_back({"package.damaged", why, base::Place{name, path}, "Build the package again."});
  };
  const auto need = [&](const std::string& from, const std::string& path) {
    if (files->count(path) == 0) fault(from, from + " refers to " + path + ", which is not in the archive.");
  };
  if (files->count(kZipManifest) == 0) fault(kZipManifest, "There is no manifest.json.");
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
        if (found == files->end()) return base::Error{"file.missing", "It is not in the archive.", {}, ""};
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
        fault(path, "The object's record cannot be read.");
        continue;
      }
      std::vector<base::Error> complaints;
      base::JsonFields in(*json, path, "", complaints);
      for (base::JsonFields& piece : in.objects("pieces")) need(path, piece.text("model"));
      if (const std::string icon = in.text("icon"); !icon.empty()) need(path, icon);
      faults.insert(faults.end(), complaints.begin(), complaints.end());
    }
  }
  return faults;
}

}  // namespace rakugo::build
