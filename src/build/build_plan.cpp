#include "build/build_plan.h"

#include <map>
#include <optional>
#include <set>

#include "base/sha256.h"
#include "base/text.h"
#include "build/runtime.h"
#include "bundle/manifest.h"
#include "bundle/records.h"
#include "prepare/pieces.h"

namespace rakugo::build {
namespace fs = std::filesystem;
namespace {

using bundle::EntryKind;

class Planner {
 public:
  Planner(const check::Examination& examination, const base::Progress* progress)
      : x_(examination),
        progress_(progress),
        space_(*examination.book),
        unreadable_(unreadablePictures(examination)) {}

  base::Result<std::vector<PlannedEntry>> run() {
    for (const auto& [name, doc] : x_.mod->objects) {
      if (progress_ != nullptr && progress_->cancelled()) return base::cancelledError();
      RAKUGO_TRY(addObject(name, doc));
    }
    add(EntryKind::manifest, bundle::kManifestId, "every bundle", bundle::encodeManifest(manifest()));
    return std::move(entries_);
  }

 private:
  // What a model became: its pieces, to be placed by each object that uses it.
  struct BuiltModel {
    std::vector<bundle::ObjectPiece> pieces;
    std::optional<bundle::ObjectRig> rig;
    geometry::Bounds bounds_m;
    std::set<std::string> sizes;  ///< other sizes that went in
  };
  // A size of a model besides the one that is built, as a morph target of its meshes.
  struct Size {
    std::string name;
    scene::Model model;
  };

  // A small entry whose bytes are made already.
  void add(EntryKind kind, std::string id, std::string why, base::Bytes bytes, bool compress = true) {
    auto shared = std::make_shared<const base::Bytes>(std::move(bytes));
    PlannedEntry entry{kind, std::move(id), std::move(why), compress, 0, {}, {}};
    entry.key = [shared, compress](BuildCache&) {
      return cacheKey({kBuilder, compress ? "packed" : "plain", base::asText(*shared)});
    };
    entry.make = [shared]() -> base::Result<base::Bytes> { return *shared; };
    entries_.push_back(std::move(entry));
  }

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
    out.target = x_.book->target;
    for (const auto& [name, doc] : x_.mod->objects) out.objects.push_back("object/" + base::slug(name));
    std::set<std::string> used;
    for (const auto& [name, doc] : x_.mod->models)
      if (const auto built = models_.find(name); built != models_.end()) {
        used.insert(doc.source);
        // Of the other sizes, those that went in.
        for (const auto& [variant, source] : doc.variants)
          if (built->second.sizes.count(variant) != 0) used.insert(source);
      }
    for (const std::string& name : used) {
      const mod::SourceDoc& source = x_.mod->sources.at(name);
      if (!source.author.empty() || !source.licence.empty() || !source.address.empty())
        out.credits.push_back({std::filesystem::path(source.file).filename().string(), source.author,
                               source.licence, source.address});
    }
    return out;
  }

  template <size_t N, class V>
  static std::array<float, N> numbers(const V& v) {
    std::array<float, N> out;
    for (size_t i = 0; i < N; ++i) out[i] = v[static_cast<int>(i)];
    return out;
  }

  base::Status addObject(const std::string& name, const mod::ObjectDoc& doc) {
    bundle::ObjectRecord record;
    record.id = base::slug(name);
    record.kind = doc.kind;
    record.name = doc.title;
    record.card = doc.card;
    geometry::Bounds box;
    for (const mod::PieceDoc& piece : doc.pieces) {
      RAKUGO_TRY(addModel(piece.model, name));
      const glm::mat4 place = prepare::pieceMatrix(piece);
      const BuiltModel& built = models_.at(piece.model);
      const int rig = built.rig ? static_cast<int>(record.rigs.size()) : -1;
      if (built.rig) {
        bool exact = true;
        const scene::Placement at = scene::placementOf(place, exact);
        const glm::quat turn = space_.turn(at.turn);
        record.rigs.push_back(*built.rig);
        record.rigs.back().position = numbers<3>(space_.position(at.position));
        record.rigs.back().turn = {turn.x, turn.y, turn.z, turn.w};
      }
      for (const bundle::ObjectPiece& part : built.pieces) {
        scene::Placement own;
        own.position = {part.position[0], part.position[1], part.position[2]};
        own.turn = glm::quat(part.turn[3], part.turn[0], part.turn[1], part.turn[2]);
        own.scale = {part.scale[0], part.scale[1], part.scale[2]};
        bool exact = true;
        const scene::Placement whole = scene::placementOf(place * own.matrix(), exact);
        bundle::ObjectPiece out = part;
        const glm::quat turn = space_.turn(whole.turn);
        out.position = numbers<3>(space_.position(whole.position));
        out.turn = {turn.x, turn.y, turn.z, turn.w};
        out.scale = numbers<3>(whole.scale);
        if (part.rig >= 0) out.rig = rig;
        record.pieces.push_back(out);
      }
      for (const mod::PointDoc& point : x_.mod->models.at(piece.model).points) {
        const glm::vec4 at = place * glm::vec4(static_cast<float>(point.position_m[0]),
                                               static_cast<float>(point.position_m[1]),
                                               static_cast<float>(point.position_m[2]), 1);
        const glm::quat turn = space_.turn(
            glm::normalize(glm::quat_cast(glm::mat3(place)) *
                           glm::quat(static_cast<float>(point.turn[3]), static_cast<float>(point.turn[0]),
                                     static_cast<float>(point.turn[1]), static_cast<float>(point.turn[2]))));
        record.points.push_back(
            {point.id, numbers<3>(space_.position(glm::vec3(at))), {turn.x, turn.y, turn.z, turn.w}});
      }
      for (const float x : {built.bounds_m.min.x, built.bounds_m.max.x})
        for (const float y : {built.bounds_m.min.y, built.bounds_m.max.y})
          for (const float z : {built.bounds_m.min.z, built.bounds_m.max.z})
            box.add(space_.position(glm::vec3(place * glm::vec4(x, y, z, 1))));
    }
    record.bounds_min = numbers<3>(box.empty() ? glm::vec3(0) : box.min);
    record.bounds_max = numbers<3>(box.empty() ? glm::vec3(0) : box.max);
    if (const auto icon = x_.mod->icons.find(doc.icon); icon != x_.mod->icons.end()) {
      record.icon = "icon/" + base::slug(name);
      add(EntryKind::icon, record.icon, name + ", its icon", *icon->second, false);
    }
    add(EntryKind::object, "object/" + record.id, name + ", its card", bundle::encodeObject(record));
    return {};
  }

  base::Status addModel(const std::string& name, const std::string& object) {
    if (models_.count(name) != 0) return {};
    const auto state = x_.context.models.find(name);
    if (state == x_.context.models.end() || !state->second.prepared.model)
      return base::Error{"build.model",
                         "The model \"" + base::presentable(name, 60) + "\" could not be prepared.",
                         base::Place{"objects/" + object + ".object.json"}, "Look at the findings about it."};
    BuiltModel& built = models_[name];
    const auto shared = state->second.prepared.model;
    const scene::Model& model = *shared;
    built.bounds_m = scene::boundsOf(model);
    std::string stem = base::slug(name);
    // Two names can differ only by what a name in the game cannot hold.
    while (!stems_.insert(stem).second) stem += "-2";
    const std::string why = object + ", model " + name;
    const auto world = scene::worldMatrices(model);
    const Rig rig = rigOf(model);
    if (!rig.empty()) built.rig = addRig(stem, model, rig, why);
    std::vector<Size> sizes;
    for (const auto& [variant, other] : x_.context.models.at(name).variants)
      if (other.report && other.report->same && other.prepared.model)
        sizes.push_back({variant, scene::blendedVariants(model, *other.prepared.model, 1)});
    for (const Size& size : sizes) built.sizes.insert(size.name);
    int number = 0;
    for (const DrawnPart& part : drawnParts(model)) {
      const scene::Node& node = model.node(part.node);
      bundle::ObjectPiece piece;
      piece.name = node.name;
      piece.region = node.region;
      piece.mesh = "mesh/" + stem + "/" + std::to_string(number++) + "-" + base::slug(node.name);
      bool exact = true;
      const scene::Placement place = scene::placementOf(partWorld(model, world, part.node), exact);
      if (!place.atRest()) {
        piece.position = numbers<3>(place.position);
        piece.turn = {place.turn.x, place.turn.y, place.turn.z, place.turn.w};
        piece.scale = numbers<3>(place.scale);
      }
      if (node.skin.valid()) {
        piece.rig = 0;
      } else if (piece.bone = rig.carrierOf(model, part.node); piece.bone >= 0) {
        piece.rig = 0;
      }
      RAKUGO_TRY(addMesh(stem, piece.mesh, shared, part, {&world, &rig, &sizes}, why));
      for (const scene::LighterMesh& far : node.lighter) {
        // As the part itself, wearing the other mesh.
        auto lighter = std::make_shared<scene::Model>(model);
        lighter->node(part.node).mesh = far.mesh;
        const std::string id = piece.mesh + "-" + std::to_string(piece.lighter.size() + 1);
        RAKUGO_TRY(addMesh(stem, id, lighter, {part.node, drawnMaterials(*lighter, part.node)},
                           {&world, &rig, nullptr}, why));
        piece.lighter.emplace_back(id, static_cast<float>(static_cast<double>(far.from_m) / space_.unit_m));
      }
      built.pieces.push_back(std::move(piece));
    }
    return {};
  }

  // The skeleton of a model and its own animations.
  bundle::ObjectRig addRig(const std::string& stem, const scene::Model& model, const Rig& rig,
                           const std::string& why) {
    bundle::ObjectRig out;
    out.skeleton = "skeleton/" + stem;
    add(EntryKind::skeleton, out.skeleton, why, bundle::encodeSkeleton(skeletonRecord(model, rig, space_)));
    for (size_t i = 0; i < model.animations.size(); ++i) {
      const scene::Animation& animation = model.animations[i];
      const bundle::AnimationPayload payload = runtimeAnimation(model, animation, rig, space_);
      if (payload.tracks.empty()) continue;
      const std::string id = "animation/" + stem + "/" + std::to_string(i) + "-" + base::slug(animation.name);
      add(EntryKind::animation, id, why, bundle::encodeAnimation(payload));
      out.animations.emplace_back(animation.name.empty() ? std::to_string(i) : animation.name, id);
    }
    return out;
  }

  // What a mesh is made with, beside its own part.
  struct Around {
    const std::vector<glm::mat4>* world;
    const Rig* rig;
    const std::vector<Size>* sizes;  // null: none
  };

  // The mesh that a part draws, with the model's other sizes as morph targets: how far each vertex goes.
  static std::shared_ptr<const scene::Mesh> meshWithSizes(const scene::Model& model, scene::NodeIndex part,
                                                          const Around& around) {
    std::shared_ptr<const scene::Mesh> mesh = drawnMesh(model, part, *around.world);
    if (around.sizes == nullptr || around.sizes->empty()) return mesh;
    auto out = std::make_shared<scene::Mesh>(*mesh);
    for (const Size& size : *around.sizes)
      addSize(*out, *drawnMesh(size.model, part, *around.world), size.name);
    return out;
  }

  base::Status addMesh(const std::string& stem, const std::string& mesh_id,
                       const std::shared_ptr<const scene::Model>& shared, const DrawnPart& part,
                       const Around& around, const std::string& why) {
    std::vector<std::string> materials;
    for (const scene::MaterialIndex material : part.materials) {
      RAKUGO_ASSIGN(std::string id, addMaterial(stem, shared, material, why));
      materials.push_back(std::move(id));
    }
    PlannedEntry entry{EntryKind::mesh, mesh_id, why, true, 0, {}, {}};
    const std::shared_ptr<const scene::Mesh> mesh = meshWithSizes(*shared, part.node, around);
    std::vector<uint16_t> bones;
    if (const scene::SkinIndex skin = shared->node(part.node).skin; skin.valid())
      bones = around.rig->numbersOf(shared->skins[skin.value()]);
    entry.key = [mesh, materials, bones, space = space_](BuildCache& cache) {
      std::string names;
      for (const std::string& id : materials) names += id + "\n";
      for (const uint16_t bone : bones) names += std::to_string(bone) + " ";
      return cacheKey({kBuilder, "mesh", cache.digestOf(mesh), names, base::numberText(space.unit_m, 9),
                       std::to_string(space.mirrored)});
    };
    entry.make = [mesh, materials, bones, space = space_]() -> base::Result<base::Bytes> {
      bundle::MeshPayload payload = runtimeMesh(*mesh, space, bones);
      payload.materials = materials;
      return bundle::encodeMesh(payload);
    };
    entries_.push_back(std::move(entry));
    return {};
  }

  base::Result<std::string> addMaterial(const std::string& stem,
                                        const std::shared_ptr<const scene::Model>& shared,
                                        scene::MaterialIndex index, const std::string& why) {
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
      const std::array<std::string*, 5> slots = {&record.base_color_picture,
                                                 &record.metallic_roughness_picture, &record.normal_picture,
                                                 &record.occlusion_picture, &record.emissive_picture};
      for (size_t i = 0; i < slots.size(); ++i) {
        const scene::TextureUse& use = m.*scene::kTextureSlots[i].use;
        if (!use.image.valid()) continue;
        RAKUGO_ASSIGN(*slots[i], addPicture(stem, shared, use.image, scene::kTextureSlots[i].color,
                                            why + ", material " + record.name));
      }
    } else {
      record.name = "plain";
      record.metallic = 0;
    }
    add(EntryKind::material, id, why, bundle::encodeMaterial(record));
    entries_.back().minor = bundle::minorOf(record);
    return id;
  }

  // The id of the picture's entry; empty for a picture that is not there or no picture (a finding has said
  // so).
  base::Result<std::string> addPicture(const std::string& stem,
                                       const std::shared_ptr<const scene::Model>& model,
                                       scene::ImageIndex index, bool color, const std::string& why) {
    const scene::Image& image = model->images[index.value()];
    if (!image.bytes) return std::string();
    const std::string name = image.uri.empty() ? image.name : image.uri;
    if (unreadable_.count(image.bytes.get()) != 0) return std::string();
    const std::string id = "picture/" + stem + "/" + std::to_string(index.value()) + "-" +
                           base::slug(fs::path(name).stem().string()) + (color ? "" : "-data");
    if (!added_.insert(id).second) return id;
    const uint32_t side = x_.book->picture_max_side;
    const bool power = x_.book->picture_power_of_two;
    PlannedEntry entry{EntryKind::picture, id, why, true, 0, {}, {}};
    entry.key = [bytes = image.bytes, color, side, power](BuildCache& cache) {
      return cacheKey({kBuilder, "picture", cache.digestOf(bytes), color ? "colour" : "data",
                       std::to_string(side), power ? "powers" : "any"});
    };
    entry.make = [bytes = image.bytes, name, color, side, power]() -> base::Result<base::Bytes> {
      RAKUGO_ASSIGN(const formats::Picture picture, formats::decodePicture(*bytes, name));
      return bundle::encodeKtx2(runtimePicture(picture, color, side, power));
    };
    entries_.push_back(std::move(entry));
    return id;
  }

  const check::Examination& x_;
  const base::Progress* progress_;
  const GameSpace space_;
  const std::set<const base::Bytes*> unreadable_;
  std::vector<PlannedEntry> entries_;
  std::map<std::string, BuiltModel> models_;
  std::set<std::string> added_, stems_;
};

}  // namespace

std::set<const base::Bytes*> unreadablePictures(const check::Examination& examination) {
  std::set<const base::Bytes*> out;
  for (const auto& [name, state] : examination.context.models)
    for (size_t i = 0; i < state.pictures.size(); ++i)
      if (state.pictures[i].error) out.insert(state.prepared.model->images[i].bytes.get());
  return out;
}

base::Result<std::vector<PlannedEntry>> planBundle(const check::Examination& examination,
                                                   const base::Progress* progress) {
  return Planner(examination, progress).run();
}

}  // namespace rakugo::build
