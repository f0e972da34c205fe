#include "standin/game.h"

#include <algorithm>
#include <set>

#include "standin/harbour_points.h"
#include "standin/harbour_rules.h"
#include "standin/harbour_shapes.h"

namespace rakugo::standin {
namespace fs = std::filesystem;

base::Json LogLine::json() const {
  base::Json out{{"level", level}, {"event", event}};
  const auto add = [&](const char* key, const std::string& value) {
    if (!value.empty()) out[key] = value;
  };
  add("file", file);
  add("mod", mod);
  add("object", object);
  add("field", field);
  out["message"] = message;
  return out;
}

Game::Game(fs::path mods, Say say) : mods_(std::move(mods)), say_(std::move(say)) {}

namespace {

constexpr const char* kOwn = "harbour";
// Where the harbour's own things stand.
struct OwnPlace {
  const char* name;
  glm::vec3 at;
  float turn_rad;
};
constexpr OwnPlace kOwnPlaces[] = {{"harbour/market-stall", {-1.5F, 8.2F, 0}, -0.3F}};

}  // namespace

void Game::takeOwnThings(base::ByteSpan bytes) {
  const auto bundle = bundle::Bundle::parse(bytes, "harbour.rkb");
  if (!bundle) return say_({"error", "own_things", "", kOwn, "", "", bundle.error().message});
  for (const std::string& entry : bundle->manifest().objects) loadObject(*bundle, entry);
  loadTexts(*bundle);
  standOnQuay();
}

bool Game::scan() {
  std::map<std::string, fs::path> present;
  std::error_code error;
  for (const auto& entry : fs::directory_iterator(mods_, error))
    if (entry.path().extension() == ".rkb" && entry.is_regular_file(error))
      present[entry.path().filename().string()] = entry.path();
  bool changed = false;
  const auto forget = [&](const std::string& mod) {
    std::erase_if(objects_, [&](const auto& one) { return one.second.mod == mod; });
    texts_.erase(mod);
    changed = true;
  };
  for (auto known = files_.begin(); known != files_.end();) {
    if (present.count(known->first) != 0) {
      ++known;
      continue;
    }
    say_({"info", "gone", known->first, known->second.mod, "", "", known->first + " is gone."});
    forget(known->second.mod);
    known = files_.erase(known);
  }
  for (const auto& [name, path] : present) {
    const auto time = fs::last_write_time(path, error);
    const uint64_t bytes = fs::file_size(path, error);
    auto known = files_.find(name);
    if (known != files_.end() && known->second.time == time && known->second.bytes == bytes) continue;
    if (known != files_.end()) forget(known->second.mod);
    KnownFile file{time, bytes, {}, {}};
    load(path, file);
    files_[name] = file;
    changed = true;
  }
  if (changed) standOnQuay();
  return changed;
}

void Game::load(const fs::path& path, KnownFile& known) {
  const std::string file = path.filename().string();
  last_refusal_.clear();
  const auto refuse = [&](const std::string& why, const std::string& mod = {}) {
    // What an object was refused for says more than that none could be loaded.
    known.refused = last_refusal_.empty() ? why : last_refusal_;
    say_({"error", "refused", file, mod, "", "", file + " is refused: " + why});
  };
  const auto bundle = bundle::Bundle::open(path);
  if (!bundle) return refuse(bundle.error().message);
  const bundle::Manifest& manifest = bundle->manifest();
  if (manifest.rulebook_id != "kelpwick")
    return refuse("it was made for \"" + manifest.rulebook_id + "\".", manifest.mod_id);
  if (manifest.mod_id == kOwn) return refuse("its id is that of the harbour's own things.", kOwn);
  known.mod = manifest.mod_id;
  for (const auto& [name, other] : files_)
    if (name != file && other.mod == manifest.mod_id)
      return refuse("another bundle has the same mod id " + manifest.mod_id + ".", manifest.mod_id);
  size_t loaded = 0;
  for (const std::string& entry : manifest.objects) loaded += loadObject(*bundle, entry) ? 1 : 0;
  if (loaded == 0) return refuse("none of its objects could be loaded.", manifest.mod_id);
  loadTexts(*bundle);
  say_({"info", "loaded", file, manifest.mod_id, "", "",
        "Loaded " + manifest.title + " " + manifest.version + " by " + manifest.author + ": " +
            std::to_string(loaded) + (loaded == 1 ? " object." : " objects.")});
}

const std::vector<std::string>& Game::languages() {
  static const std::vector<std::string> kLanguages = {"en", "de", "nb"};
  return kLanguages;
}

void Game::loadTexts(const bundle::Bundle& bundle) {
  const std::string& mod = bundle.manifest().mod_id;
  for (const bundle::Entry& entry : bundle.entries()) {
    if (entry.kind != bundle::EntryKind::texts) continue;
    const auto bytes = bundle.read(entry);
    auto record = bytes ? bundle::decodeTexts(*bytes, entry.id) : bytes.error();
    if (!record) {
      say_({"warning", "no_texts", "", mod, "", "", record.error().message});
    } else if (std::find(languages().begin(), languages().end(), record->language) == languages().end()) {
      say_({"warning", "odd_language", "", mod, "", record->language,
            "Nobody here speaks \"" + record->language + "\"; these texts are left out."});
    } else {
      texts_[mod][record->language] = std::move(record->texts);
    }
  }
}

std::string Game::text(const std::string& mod, const std::string& id, const std::string& language) const {
  const auto of_mod = texts_.find(mod);
  if (of_mod == texts_.end()) return id;
  for (const std::string& one : {language, languages().front()})
    if (const auto texts = of_mod->second.find(one); texts != of_mod->second.end())
      if (const auto text = texts->second.find(id); text != texts->second.end()) return text->second;
  return id;
}

namespace {

// An object with all that it needs, out of one bundle.
class ObjectReader {
 public:
  explicit ObjectReader(const bundle::Bundle& bundle) : bundle_(bundle) {}
  base::Status read(const std::string& entry);
  LoadedThing out;

 private:
  // The raw bytes of an entry of that kind.
  [[nodiscard]] base::Result<base::Bytes> raw(const std::string& id, bundle::EntryKind kind) const {
    const bundle::Entry* found = bundle_.find(id);
    if (found == nullptr || found->kind != kind)
      return refusal(std::string("it needs the ") + bundle::kindName(kind) + " " + id +
                     ", which is not there.");
    return bundle_.read(*found);
  }
  static base::Error refusal(const std::string& why) { return {"game.refused", why, {}, ""}; }
  base::Status readMesh(const std::string& id);
  base::Status readMaterial(const std::string& id);
  base::Status readRig(const bundle::ObjectRig& rig);
  [[nodiscard]] base::Status bonesAreThere() const;
  const bundle::Bundle& bundle_;
};

base::Status ObjectReader::read(const std::string& entry) {
  RAKUGO_ASSIGN(const base::Bytes bytes, raw(entry, bundle::EntryKind::object));
  RAKUGO_ASSIGN(out.record, bundle::decodeObject(bytes, entry));
  for (const bundle::ObjectPiece& piece : out.record.pieces) {
    if (!piece.mesh.empty()) RAKUGO_TRY(readMesh(piece.mesh));
    for (const auto& [mesh, from] : piece.lighter) RAKUGO_TRY(readMesh(mesh));
  }
  for (const bundle::ObjectRig& rig : out.record.rigs) RAKUGO_TRY(readRig(rig));
  // What cannot be played is silent; the game takes the thing all the same, and says so.
  for (const bundle::ObjectSound& sound : out.record.sounds)
    for (const std::string& id : sound.sounds) {
      if (out.sounds.count(id) != 0) continue;
      const auto file = raw(id, bundle::EntryKind::sound);
      auto played = file ? decodePlayed(*file, id) : base::Result<PlayedSound>(file.error());
      if (played) out.sounds[id] = std::make_shared<const PlayedSound>(std::move(played).value());
    }
  return bonesAreThere();
}

base::Status ObjectReader::readMesh(const std::string& id) {
  if (out.meshes.count(id) != 0) return {};
  RAKUGO_ASSIGN(const base::Bytes bytes, raw(id, bundle::EntryKind::mesh));
  RAKUGO_ASSIGN(bundle::MeshPayload mesh, bundle::decodeMesh(bytes, id));
  for (const std::string& material : mesh.materials) RAKUGO_TRY(readMaterial(material));
  out.meshes.emplace(id, std::move(mesh));
  return {};
}

base::Status ObjectReader::readMaterial(const std::string& id) {
  if (out.materials.count(id) != 0) return {};
  RAKUGO_ASSIGN(const base::Bytes bytes, raw(id, bundle::EntryKind::material));
  RAKUGO_ASSIGN(auto material, bundle::decodeMaterial(bytes, id));
  for (const std::string& picture : material.pictures()) {
    if (picture.empty() || out.pictures.count(picture) != 0) continue;
    RAKUGO_ASSIGN(const base::Bytes pixels, raw(picture, bundle::EntryKind::picture));
    RAKUGO_ASSIGN(auto decoded, bundle::decodeKtx2(pixels, picture));
    out.pictures.emplace(picture, std::move(decoded));
  }
  out.materials.emplace(id, std::move(material));
  return {};
}

base::Status ObjectReader::readRig(const bundle::ObjectRig& rig) {
  RAKUGO_ASSIGN(const base::Bytes bytes, raw(rig.skeleton, bundle::EntryKind::skeleton));
  RAKUGO_ASSIGN(auto skeleton, bundle::decodeSkeleton(bytes, rig.skeleton));
  out.skeletons.insert_or_assign(rig.skeleton, std::move(skeleton));
  for (const auto& [name, id] : rig.animations) {
    RAKUGO_ASSIGN(const base::Bytes tracks, raw(id, bundle::EntryKind::animation));
    RAKUGO_ASSIGN(auto animation, bundle::decodeAnimation(tracks, id));
    out.animations.insert_or_assign(id, std::move(animation));
  }
  return {};
}

// What follows a bone that is not there would be drawn from nowhere.
base::Status ObjectReader::bonesAreThere() const {
  for (const bundle::ObjectPiece& piece : out.record.pieces) {
    if (piece.rig < 0) continue;
    const size_t bones =
        out.skeletons.at(out.record.rigs[static_cast<size_t>(piece.rig)].skeleton).bones.size();
    bool good = piece.bone < static_cast<int>(bones);
    for (const auto& [id, mesh] : out.meshes) good = good && (id != piece.mesh || mesh.jointCount() <= bones);
    for (const auto& [far, from] : piece.lighter) good = good && out.meshes.at(far).jointCount() <= bones;
    if (!good) return refusal("its piece " + piece.name + " follows bones that it does not have.");
  }
  return {};
}

}  // namespace

bool Game::loadObject(const bundle::Bundle& bundle, const std::string& entry) {
  ObjectReader reader(bundle);
  const base::Status read = reader.read(entry);
  LoadedThing& out = reader.out;
  out.mod = bundle.manifest().mod_id;
  out.title = bundle.manifest().title;
  out.generation = ++generation_;
  if (!read) {
    last_refusal_ = read.error().message;
    say_({"error", "refused", bundle.name(), out.mod, out.record.id.empty() ? entry : out.record.id, "",
          "The object " + entry + " is refused: " + read.error().message});
    return false;
  }
  if (!accepted(bundle, out)) return false;
  hangAtPoints(out.record);
  const std::string key = out.mod + "/" + out.record.id;
  objects_.insert_or_assign(key, std::move(out));
  return true;
}

bool Game::accepted(const bundle::Bundle& bundle, const LoadedThing& object) {
  bool out = true;
  for (const Complaint& c : complaintsOf(object)) {
    if (c.refused) {
      last_refusal_ = c.message;
      out = false;
    }
    say_({c.refused ? "error" : "warning", c.event, bundle.name(), object.mod, object.record.id, c.field,
          c.message});
  }
  return out;
}

bool Game::place(const std::string& name, glm::vec3 position, float turn_rad) {
  const auto found = objects_.find(name);
  if (found == objects_.end()) {
    say_({"error", "unknown", "", "", name, "", "There is no object " + name + " to place."});
    return false;
  }
  placed_by_hand_ = true;
  placed_.push_back({found->second.mod, found->second.record.id, position, turn_rad});
  return true;
}

void Game::add(const std::string& name, glm::vec3 position, float turn_rad) {
  if (const auto found = objects_.find(name); found != objects_.end())
    placed_.push_back({found->second.mod, found->second.record.id, position, turn_rad, true});
}

std::vector<std::pair<std::string, std::string>> Game::refused() const {
  std::vector<std::pair<std::string, std::string>> out;
  for (const auto& [file, known] : files_)
    if (!known.refused.empty()) out.emplace_back(file, known.refused);
  return out;
}

void Game::moveTo(size_t which, glm::vec3 position, float turn_rad) {
  placed_.at(which).position = position;
  placed_.at(which).turn_rad = turn_rad;
}

std::set<std::string> Game::standInPlaces(const std::map<std::string, std::string>& winner) {
  std::set<std::string> out;
  for (const OwnPlace& place : kOwnPlaces) {
    const auto own = objects_.find(place.name);
    if (own == objects_.end()) continue;
    const LoadedThing* stands = &own->second;
    for (const auto& [name, object] : objects_) {
      if (object.record.replaces != place.name || winner.at(object.record.id) != name) continue;
      if (stands->mod != kOwn)
        say_({"warning", "replaced", "", stands->mod, stands->record.id, "",
              stands->record.id + " is replaced by that of " + object.mod + "."});
      stands = &object;
      out.insert(name);
    }
    placed_.push_back({stands->mod, stands->record.id, place.at, place.turn_rad});
    if (stands->mod != kOwn)
      say_({"info", "placed", "", stands->mod, stands->record.id, "",
            stands->record.name + " stands in place of the harbour's " + own->second.record.name + "."});
  }
  for (const auto& [name, object] : objects_)
    if (!object.record.replaces.empty() && object.mod != kOwn && out.count(name) == 0)
      say_({"warning", "replaces_nothing", "", object.mod, object.record.id, "replaces",
            object.record.id + " wants the place of " + object.record.replaces +
                ", which the harbour does not have."});
  return out;
}

void Game::standOnQuay() {
  std::erase_if(placed_, [&](const Placed& p) { return objects_.count(p.mod + "/" + p.object) == 0; });
  if (placed_by_hand_) return;
  std::vector<Placed> added;
  std::copy_if(placed_.begin(), placed_.end(), std::back_inserter(added),
               [](const Placed& p) { return p.added; });
  placed_.clear();
  // Of things of one name the last in the mods' order is the one that is seen.
  std::map<std::string, std::string> winner;
  for (const auto& [name, object] : objects_)
    if (object.mod != kOwn) winner[object.record.id] = name;
  const std::set<std::string> stands = standInPlaces(winner);
  int on_quay = 0, afloat = 0;
  for (const auto& [name, object] : objects_) {
    const bundle::ObjectRecord& r = object.record;
    if (object.mod == kOwn || stands.count(name) != 0) continue;
    if (winner[r.id] != name) {
      const std::string& other = objects_.at(winner[r.id]).mod;
      say_(
          {"warning", "replaced", "", object.mod, r.id, "", r.id + " is replaced by that of " + other + "."});
      continue;
    }
    const bool floats = r.kind == "craft";
    int& spot = floats ? afloat : on_quay;
    // Alternating to both sides: along the quay's edge, or moored a little way off it.
    const float apart = floats ? 3.4F : 2.4F;
    const float y = static_cast<float>((spot + 1) / 2) * apart * (spot % 2 == 0 ? 1.0F : -1.0F);
    glm::vec3 at(1.55F, y, 0);
    if (floats) {
      float draught = 0;
      for (const bundle::ObjectPoint& p : r.points)
        if (p.name == "water-line") draught = p.position[2];
      const float beam = std::max(r.bounds_max[1] - r.bounds_min[1], 0.5F);
      at = {kQuayEdge_m + 0.8F + beam, y, kWaterLevel_m - draught};
    }
    // A boat lies along the quay, its bow to the harbour's mouth.
    placed_.push_back({object.mod, r.id, at, floats ? 1.5707963F : 0.0F});
    say_({"info", "placed", "", object.mod, r.id, "",
          r.name + (floats ? " lies at the quay." : " stands on the quay.")});
    ++spot;
  }
  placed_.insert(placed_.end(), added.begin(), added.end());
}

}  // namespace rakugo::standin
