#include "build/build_bundle.h"

#include <algorithm>
#include <map>
#include <set>

#include "base/files.h"
#include "base/text.h"
#include "build/runtime.h"
#include "bundle/bundle_reader.h"
#include "bundle/bundle_writer.h"
#include "bundle/records.h"

namespace rakugo::build {
namespace fs = std::filesystem;
namespace {

using bundle::EntryKind;

class Builder {
 public:
  Builder(const check::Examination& examination, base::Progress* progress)
      : x_(examination), progress_(progress) {}

  base::Result<base::Bytes> run() {
    size_t done = 0;
    for (const auto& [name, doc] : x_.mod->objects) {
      if (progress_ != nullptr) {
        if (progress_->cancelled()) return base::cancelledError();
        progress_->say("Building " + name,
                       static_cast<double>(done++) / static_cast<double>(x_.mod->objects.size() + 1));
      }
      RAKUGO_TRY(addObject(name, doc));
    }
    RAKUGO_TRY(writer_.add(EntryKind::manifest, bundle::kManifestId, bundle::encodeManifest(manifest())));
    return writer_.finish();
  }

 private:
  // What a model became: its pieces, to be placed by each object that uses it.
  struct BuiltModel {
    std::vector<bundle::ObjectPiece> pieces;
    geometry::Bounds bounds_m;
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
    out.target = x_.book->target;
    for (const auto& [name, doc] : x_.mod->objects) out.objects.push_back("object/" + base::slug(name));
    std::set<std::string> used;
    for (const auto& [name, doc] : x_.mod->models)
      if (models_.count(name) != 0) used.insert(doc.source);
    for (const std::string& name : used) {
      const mod::SourceDoc& source = x_.mod->sources.at(name);
      if (!source.author.empty() || !source.licence.empty() || !source.address.empty())
        out.credits.push_back({source.file, source.author, source.licence, source.address});
    }
    return out;
  }

  glm::mat4 pieceMatrix(const mod::PieceDoc& piece) const {
    scene::Placement p;
    for (int i = 0; i < 3; ++i) p.position[i] = static_cast<float>(piece.position_m[static_cast<size_t>(i)]);
    p.turn = glm::normalize(glm::quat(static_cast<float>(piece.turn[3]), static_cast<float>(piece.turn[0]),
                                      static_cast<float>(piece.turn[1]), static_cast<float>(piece.turn[2])));
    return p.matrix();
  }

  template <size_t N, class V>
  static std::array<float, N> numbers(const V& v) {
    std::array<float, N> out;
    for (size_t i = 0; i < N; ++i) out[i] = v[static_cast<int>(i)];
    return out;
  }

  base::Status addObject(const std::string& name, const mod::ObjectDoc& doc) {
    const auto unit = static_cast<float>(x_.book->unit_m);
    bundle::ObjectRecord record;
    record.id = base::slug(name);
    record.kind = doc.kind;
    record.name = doc.title;
    record.card = doc.card;
    geometry::Bounds box;
    for (const mod::PieceDoc& piece : doc.pieces) {
      RAKUGO_TRY(addModel(piece.model));
      const glm::mat4 place = pieceMatrix(piece);
      const BuiltModel& built = models_.at(piece.model);
      for (const bundle::ObjectPiece& part : built.pieces) {
        scene::Placement own;
        own.position = {part.position[0], part.position[1], part.position[2]};
        own.turn = glm::quat(part.turn[3], part.turn[0], part.turn[1], part.turn[2]);
        own.scale = {part.scale[0], part.scale[1], part.scale[2]};
        bool exact = true;
        const scene::Placement whole = scene::placementOf(place * own.matrix(), exact);
        bundle::ObjectPiece out = part;
        out.position = numbers<3>(whole.position / unit);
        out.turn = {whole.turn.x, whole.turn.y, whole.turn.z, whole.turn.w};
        out.scale = numbers<3>(whole.scale);
        record.pieces.push_back(out);
      }
      for (const mod::PointDoc& point : x_.mod->models.at(piece.model).points) {
        const glm::vec4 at = place * glm::vec4(static_cast<float>(point.position_m[0]),
                                               static_cast<float>(point.position_m[1]),
                                               static_cast<float>(point.position_m[2]), 1);
        const glm::quat turn =
            glm::normalize(glm::quat_cast(glm::mat3(place)) *
                           glm::quat(static_cast<float>(point.turn[3]), static_cast<float>(point.turn[0]),
                                     static_cast<float>(point.turn[1]), static_cast<float>(point.turn[2])));
        record.points.push_back(
            {point.id, numbers<3>(glm::vec3(at) / unit), {turn.x, turn.y, turn.z, turn.w}});
      }
      for (const float x : {built.bounds_m.min.x, built.bounds_m.max.x})
        for (const float y : {built.bounds_m.min.y, built.bounds_m.max.y})
          for (const float z : {built.bounds_m.min.z, built.bounds_m.max.z})
            box.add(glm::vec3(place * glm::vec4(x, y, z, 1)));
    }
    record.bounds_min = numbers<3>(box.empty() ? glm::vec3(0) : box.min / unit);
    record.bounds_max = numbers<3>(box.empty() ? glm::vec3(0) : box.max / unit);
    if (const auto icon = x_.mod->icons.find(doc.icon); icon != x_.mod->icons.end()) {
      record.icon = "icon/" + base::slug(name);
      RAKUGO_TRY(writer_.add(EntryKind::icon, record.icon, *icon->second, false));
    }
    return writer_.add(EntryKind::object, "object/" + record.id, bundle::encodeObject(record));
  }

  base::Status addModel(const std::string& name) {
    if (models_.count(name) != 0) return {};
    BuiltModel& built = models_[name];
    const scene::Model& model = *x_.context.models.at(name).prepared.model;
    built.bounds_m = scene::boundsOf(model);
    const std::string stem = base::slug(name);
    int number = 0;
    for (RuntimePart& part : runtimeParts(model, x_.book->unit_m)) {
      for (const scene::MaterialIndex material : part.materials) {
        RAKUGO_ASSIGN(std::string id, addMaterial(stem, model, material));
        part.mesh.materials.push_back(std::move(id));
      }
      bundle::ObjectPiece piece;
      piece.name = part.name;
      piece.mesh = "mesh/" + stem + "/" + std::to_string(number++) + "-" + base::slug(part.name);
      bool exact = true;
      const scene::Placement place = scene::placementOf(part.world, exact);
      if (!place.atRest()) {
        piece.position = numbers<3>(place.position);
        piece.turn = {place.turn.x, place.turn.y, place.turn.z, place.turn.w};
        piece.scale = numbers<3>(place.scale);
      }
      RAKUGO_TRY(writer_.add(EntryKind::mesh, piece.mesh, bundle::encodeMesh(part.mesh)));
      built.pieces.push_back(std::move(piece));
    }
    return {};
  }

  base::Result<std::string> addMaterial(const std::string& stem, const scene::Model& model,
                                        scene::MaterialIndex index) {
    const std::string id =
        "material/" + stem + "/" +
        (index.valid() ? std::to_string(index.value()) + "-" + base::slug(model.materials[index.value()].name)
                       : "plain");
    if (!added_.insert(id).second) return id;
    bundle::MaterialRecord record;
    if (index.valid()) {
      const scene::Material& m = model.materials[index.value()];
      record.name = m.name;
      record.role = m.role;
      record.base_color = numbers<4>(m.base_color);
      record.metallic = m.metallic;
      record.roughness = m.roughness;
      record.emissive = numbers<3>(m.emissive);
      record.normal_scale = m.normal_scale;
      record.occlusion_strength = m.occlusion_strength;
      record.alpha = m.alpha == scene::AlphaMode::mask    ? "mask"
                     : m.alpha == scene::AlphaMode::blend ? "blend"
                                                          : "opaque";
      record.alpha_cutoff = m.alpha_cutoff;
      record.double_sided = m.double_sided;
      record.filter = m.base_color_texture.filter == scene::Filter::nearest ? "nearest" : "linear";
      const std::array<std::string*, 5> slots = {&record.base_color_picture,
                                                 &record.metallic_roughness_picture, &record.normal_picture,
                                                 &record.occlusion_picture, &record.emissive_picture};
      for (size_t i = 0; i < slots.size(); ++i) {
        const scene::TextureUse& use = m.*scene::kTextureSlots[i].use;
        if (!use.image.valid()) continue;
        RAKUGO_ASSIGN(*slots[i], addPicture(stem, model, use.image, scene::kTextureSlots[i].color));
      }
    } else {
      record.name = "plain";
      record.metallic = 0;
    }
    RAKUGO_TRY(writer_.add(EntryKind::material, id, bundle::encodeMaterial(record)));
    return id;
  }

  // The id of the picture's entry; empty for a picture that is not there (a finding has said so).
  base::Result<std::string> addPicture(const std::string& stem, const scene::Model& model,
                                       scene::ImageIndex index, bool color) {
    const scene::Image& image = model.images[index.value()];
    if (!image.bytes) return std::string();
    const std::string name = image.uri.empty() ? image.name : image.uri;
    const std::string id = "picture/" + stem + "/" + std::to_string(index.value()) + "-" +
                           base::slug(fs::path(name).stem().string()) + (color ? "" : "-data");
    if (!added_.insert(id).second) return id;
    auto picture = formats::decodePicture(*image.bytes, name);
    if (!picture) return std::string();
    const auto runtime =
        runtimePicture(*picture, color, x_.book->picture_max_side, x_.book->picture_power_of_two);
    RAKUGO_TRY(writer_.add(EntryKind::picture, id, bundle::encodeKtx2(runtime)));
    return id;
  }

  const check::Examination& x_;
  base::Progress* progress_;
  bundle::BundleWriter writer_;
  std::map<std::string, BuiltModel> models_;
  std::set<std::string> added_;
};

base::Error refusal(const check::Examination& examination) {
  std::vector<std::string> reasons;
  for (const check::Finding& f : examination.findings)
    if (f.severity == check::Severity::stops) reasons.push_back(f.sentence);
  std::string message =
      "The build is refused: " + base::countText(reasons.size(), "finding stops", "findings stop") +
      " the game.";
  for (size_t i = 0; i < std::min<size_t>(reasons.size(), 5); ++i) message += " " + reasons[i];
  return {"build.refused", message, base::Place{examination.folder.string()}, "Mend these first."};
}

base::Status verified(const bundle::Bundle& bundle) {
  const auto faults = bundle.verify();
  if (faults.empty()) return {};
  return base::Error{"build.verify", "The bundle does not hold what it promises: " + faults.front().message,
                     faults.front().place, faults.front().cure};
}

}  // namespace

base::Result<base::Bytes> buildBundle(const check::Examination& examination, base::Progress* progress) {
  if (examination.count(check::Severity::stops) > 0) return refusal(examination);
  return Builder(examination, progress).run();
}

fs::path defaultOutput(const check::Examination& examination) {
  return examination.folder / "build" / (base::slug(examination.mod->card.id) + ".rkb");
}

base::Status buildToFile(const check::Examination& examination, const fs::path& output,
                         base::Progress* progress) {
  RAKUGO_ASSIGN(const base::Bytes bytes, buildBundle(examination, progress));
  if (progress != nullptr) progress->say("Verifying", 0.95);
  RAKUGO_ASSIGN(const bundle::Bundle read, bundle::Bundle::parse(bytes, output.filename().string()));
  RAKUGO_TRY(verified(read));
  if (progress != nullptr && progress->cancelled()) return base::cancelledError();
  if (output.has_parent_path()) RAKUGO_TRY(base::makeFolder(output.parent_path()));
  return base::writeFileAtomic(output, bytes);
}

base::Result<Installed> installBundle(const fs::path& path, const fs::path& game) {
  RAKUGO_ASSIGN(const bundle::Bundle read, bundle::Bundle::open(path));
  RAKUGO_TRY(verified(read));
  RAKUGO_TRY(base::makeFolder(game / "mods"));
  Installed out;
  out.path = game / "mods" / (base::slug(read.manifest().mod_id) + ".rkb");
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(path));
  if (const auto old = base::readFile(out.path); old && *old != bytes) {
    out.previous = out.path.string() + ".previous";
    RAKUGO_TRY(base::writeFileAtomic(out.previous, *old));
  }
  RAKUGO_TRY(base::writeFileAtomic(out.path, bytes));
  return out;
}

}  // namespace rakugo::build
