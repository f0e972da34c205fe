#include "app/bench/bench_scene.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <set>
#include <tuple>

#include "app/bench/bench_shapes.h"
#include "base/jobs.h"
#include "formats/read_model.h"
#include "geometry/cluster.h"
#include "prepare/edit_steps.h"
#include "prepare/outfit/body.h"
#include "prepare/parts/pieces.h"
#include "prepare/space/space_ops.h"
#include "rulebook/piece_sorts.h"
#include "scene/structure.h"

namespace rakugo::app {
namespace {

// What all pictures of a scene may take, on the card and off it.
constexpr uint64_t kPictureBytes = 256ULL << 20;

using PictureKey = PictureCache::key_type;

// The pictures of a model that can be shown, each once. `side` is left open.
std::vector<PictureKey> picturesOf(const scene::Model& model) {
  std::set<PictureKey> out;
  for (const scene::MaterialIndex m : scene::usedMaterials(model))
    for (const scene::TextureSlot& slot : scene::kTextureSlots)
      if (const scene::ImageIndex image = (model.materials[m.value()].*slot.use).image; image.valid())
        if (const auto& bytes = model.images[image.value()].bytes)
          out.emplace(bytes, formats::useOf(slot), 0U);
  return {out.begin(), out.end()};
}

// The longest side at which so many pictures keep within their share of memory.
uint32_t sideFor(size_t pictures) {
  uint32_t side = 1024;
  while (side > 128 &&
         pictures * bundle::pictureBytes(bundle::PixelFormat::rgba8, side, side) > kPictureBytes)
    side /= 2;
  return side;
}

// Decodes what is not known yet, on all cores.
void decodeAll(const std::vector<PictureKey>& pictures, uint32_t side, PictureCache& cache) {
  std::vector<PictureKey> missing;
  for (PictureKey key : pictures) {
    std::get<2>(key) = side;
    if (cache.count(key) == 0) missing.push_back(key);
  }
  std::vector<BenchPicture> made(missing.size());
  base::parallelFor(missing.size(), [&](size_t i) {
    const auto& [bytes, meant, limit] = missing[i];
    if (const auto decoded = formats::decodePicture(*bytes, "picture"))
      made[i] =
          std::make_shared<const bundle::Ktx2Picture>(packing::runtimePicture(*decoded, meant, limit, false));
  });
  for (size_t i = 0; i < missing.size(); ++i) cache.emplace(missing[i], made[i]);
}

BenchPicture picture(const scene::Model& model, const scene::TextureUse& use, formats::PictureUse meant,
                     uint32_t side, const PictureCache& cache) {
  if (!use.image.valid()) return nullptr;
  const auto known = cache.find({model.images[use.image.value()].bytes, meant, side});
  return known != cache.end() ? known->second : nullptr;
}

// Roles that glow in the game: where the card of an object says so.
std::set<std::string> glowingRoles(const check::ModelState& state, const mod::ModState& mod) {
  std::set<std::string> out;
  if (state.kind == nullptr) return out;
  for (const rulebook::Role& role : state.kind->roles)
    if (role.effect == "glow" &&
        std::any_of(state.objects.begin(), state.objects.end(),
                    [&](const std::string& object) { return role.when.holds(mod.objects.at(object).card); }))
      out.insert(role.id);
  return out;
}

BenchMaterial material(const scene::Model& model, scene::MaterialIndex index, const rulebook::Kind* kind,
                       const std::set<std::string>& glowing, uint32_t side, const PictureCache& cache) {
  BenchMaterial out;
  if (!index.valid()) {
    out.record.metallic = 0;
    return out;
  }
  const scene::Material& m = model.materials[index.value()];
  out.key = m.key;
  out.record = packing::materialRecord(m);
  for (size_t i = 0; i < out.pictures.size(); ++i)
    out.pictures[i] =
        picture(model, m.*scene::kTextureSlots[i].use, formats::useOf(scene::kTextureSlots[i]), side, cache);
  const rulebook::Role* role = kind != nullptr ? kind->findRole(m.role) : nullptr;
  out.own = kind != nullptr;
  if (role == nullptr) return out;
  out.swatch = glm::vec3(role->swatch[0], role->swatch[1], role->swatch[2]);
  if (role->effect == "tint") out.tint = glm::vec3(role->swatch[0], role->swatch[1], role->swatch[2]);
  out.glows = glowing.count(role->id) != 0;
  return out;
}

void addParts(const scene::Model& model, std::vector<BenchPart>& out, std::vector<BenchMaterial>& materials,
              const rulebook::Kind* kind, const std::set<std::string>& glowing, PictureCache& cache) {
  const std::vector<PictureKey> pictures = picturesOf(model);
  const uint32_t side = sideFor(pictures.size());
  decodeAll(pictures, side, cache);
  std::map<uint32_t, size_t> known;
  for (packing::RuntimePart& part : packing::runtimeParts(model)) {
    BenchPart made;
    made.key = model.node(part.node).key;
    made.name = part.name.empty() ? made.key : part.name;
    made.world = part.world;
    made.bone = part.bone;
    for (const scene::MaterialIndex m : part.materials) {
      const auto [at, fresh] = known.emplace(m.value(), materials.size());
      if (fresh) materials.push_back(material(model, m, kind, glowing, side, cache));
      made.materials.push_back(at->second);
    }
    made.mesh = std::move(part.mesh);
    out.push_back(std::move(made));
  }
}

std::vector<BenchPoint> benchPoints(const mod::ModelDoc& doc, const rulebook::Kind* kind) {
  std::vector<BenchPoint> out;
  for (const mod::PointDoc& point : doc.points) {
    const rulebook::Point* known = kind != nullptr ? kind->findPoint(point.id) : nullptr;
    const rulebook::Role* role = known != nullptr ? kind->findRole(known->propose_role) : nullptr;
    BenchPoint made;
    made.id = point.id;
    made.title = known != nullptr ? known->title : point.id;
    for (int i = 0; i < 3; ++i)
      made.position_m[i] = static_cast<float>(point.position_m[static_cast<size_t>(i)]);
    made.lamp = role != nullptr && role->effect == "glow";
    made.turn =
        glm::quat(glm::normalize(glm::dquat(point.turn[3], point.turn[0], point.turn[1], point.turn[2])));
    if (known != nullptr) made.bone = known->bone;
    out.push_back(made);
  }
  return out;
}

std::vector<BenchBone> benchBones(const scene::Model& model, const packing::Rig& rig,
                                  const rulebook::Skeleton* skeleton) {
  const std::vector<scene::NodeIndex> used = scene::usedJoints(model);
  const std::set<scene::NodeIndex> joints(used.begin(), used.end());
  const auto world = scene::worldMatrices(model);
  std::vector<BenchBone> out;
  for (const scene::NodeIndex joint : used) {
    const scene::Node& node = model.node(joint);
    BenchBone bone;
    bone.key = node.key;
    bone.name = node.name;
    bone.head_m = glm::vec3(world[joint.value()][3]);
    for (const auto child : node.children)
      if (joints.count(child) != 0) {
        bone.tails_m.emplace_back(world[child.value()][3]);
        bone.tail_numbers.push_back(rig.number[child.value()]);
      }
    bone.number = rig.number[joint.value()];
    bone.required = skeleton != nullptr && skeleton->findBone(node.name) != nullptr;
    out.push_back(std::move(bone));
  }
  return out;
}

}  // namespace

namespace {

// A file that was chosen as a ghost, turned to the game's axes; read again when it has changed.
base::Result<std::shared_ptr<const scene::Model>> ghostFile(const std::string& path,
                                                            const rulebook::Rulebook& book) {
  struct Kept {
    std::filesystem::file_time_type time;
    std::shared_ptr<const scene::Model> model;
  };
  static std::mutex lock;
  static std::map<std::string, Kept> kept;
  std::error_code error;
  const auto time = std::filesystem::last_write_time(path, error);
  const std::string key = path + "\n" + book.id;
  const std::lock_guard guard(lock);
  if (const auto known = kept.find(key); known != kept.end() && known->second.time == time)
    return known->second.model;
  RAKUGO_ASSIGN(formats::ReadModel read, formats::readModelFile(path));
  scene::Model& model = read.model;
  prepare::transformAll(model,
                        geometry::quarterTurn(model.frame.forward, model.frame.up, book.forward, book.up), 1);
  model.frame.turned = true;
  // A person looks at few files by turns.
  if (kept.size() >= 8) kept.clear();
  return (kept[key] = {time, std::make_shared<const scene::Model>(std::move(model))}).model;
}

// What the closed shells of a ghost hold. A heavy one (any file may be chosen) is not worth the wait; the
// last one is remembered, for the ghost stays while the model before it changes.
std::optional<double> litresOf(const std::shared_ptr<const scene::Model>& model) {
  constexpr uint64_t kHeavy = 200'000;
  static std::mutex lock;
  static std::weak_ptr<const scene::Model> last;
  static std::optional<double> litres;
  const std::lock_guard guard(lock);
  if (last.lock() == model) return litres;
  litres.reset();
  last = model;
  if (scene::countsOf(*model).triangles > kHeavy) return litres;
  scene::StructureOptions options;
  options.thorough = false;
  if (const auto parts = scene::structureOf(*model, 1, options))
    if (const auto held = scene::heldVolume_m3(*parts)) litres = *held * 1000;
  return litres;
}

struct Ghost {
  std::shared_ptr<const scene::Model> model;  // null when there is none
  std::vector<scene::NamedPlace> points;
  std::string title, problem;
};

// A thing that is no model of the mod: its empties are what it says of points.
Ghost found(std::shared_ptr<const scene::Model> model, const std::string& title) {
  auto points = model ? scene::emptiesOf(*model) : std::vector<scene::NamedPlace>();
  return {std::move(model), std::move(points), title, {}};
}

Ghost ghostOf(const check::Examination& x, const rulebook::Kind* kind, const GhostChoice& choice) {
  using Sort = GhostChoice::Sort;
  switch (choice.sort) {
    case Sort::own_kind:
    case Sort::kind: {
      const rulebook::Kind* of = choice.sort == Sort::kind ? x.book->findKind(choice.name) : kind;
      if (of == nullptr) return {};
      const auto ghost = x.context.ghosts.find(of->id);
      return found(ghost != x.context.ghosts.end() ? ghost->second.model : nullptr, of->ghost_title);
    }
    case Sort::body: {
      const rulebook::Kind* of = x.book->findKind(choice.name);
      if (of == nullptr) return {};
      const auto body = prepare::gameBody(*x.book, choice.name);
      if (!body) return {nullptr, {}, of->body_title, body.error().text()};
      return found(*body, of->body_title);
    }
    case Sort::model: {
      const auto other = x.context.models.find(choice.name);
      if (other == x.context.models.end()) return {nullptr, {}, choice.name, {}};
      return {
          other->second.prepared.model, prepare::pointsOf(x.mod->models.at(choice.name)), choice.name, {}};
    }
    case Sort::file: {
      const std::string title = std::filesystem::path(choice.name).filename().string();
      const auto read = ghostFile(choice.name, *x.book);
      if (!read) return {nullptr, {}, title, read.error().text()};
      return found(*read, title);
    }
  }
  return {};
}

std::shared_ptr<BenchScene> sceneOf(const check::Examination& x, const std::string& name,
                                    std::shared_ptr<const scene::Model> prepared, PictureCache& pictures,
                                    const GhostChoice& choice, Ghost ghost) {
  const check::ModelState& state = x.context.models.at(name);
  const scene::Model& model = *prepared;
  const rulebook::Kind* kind = state.kind;
  auto out = std::make_shared<BenchScene>();
  out->model = name;
  out->made_for = kind;
  out->points = benchPoints(x.mod->models.at(name), kind);
  out->up = geometry::axisVector(x.book->up);
  out->forward = geometry::axisVector(x.book->forward);
  out->frame = model.frame;
  const prepare::GameAxes own = prepare::gameAxes(model.frame, *x.book);
  out->own_up = own.up;
  out->own_forward = own.forward;
  out->bounds_m = scene::boundsOf(model);
  out->glowing = glowingRoles(state, *x.mod);
  out->switches = x.book->switches;
  addParts(model, out->parts, out->materials, kind, out->glowing, pictures);
  addCoarse(out->parts, kHeavyTriangles);
  addTrees(out->parts);
  out->rig = packing::rigOf(model);
  out->bones = benchBones(model, out->rig, kind != nullptr ? x.book->findSkeleton(kind->skeleton) : nullptr);
  out->made_from = std::move(prepared);
  out->ghost_title = std::move(ghost.title);
  out->ghost_problem = std::move(ghost.problem);
  out->ghost_model = std::move(ghost.model);
  out->ghost_points = std::move(ghost.points);
  if (out->ghost_model) {
    addParts(*out->ghost_model, out->ghost, out->materials, nullptr, {}, pictures);
    out->ghost_rig = packing::rigOf(*out->ghost_model);
    scene::Frame frame = out->ghost_model->frame;
    // What the rulebook ships lies in the game's axes as it is.
    using Sort = GhostChoice::Sort;
    frame.turned = frame.turned || (choice.sort != Sort::file && choice.sort != Sort::model);
    out->ghost_reach_m = prepare::reachOf(*out->ghost_model);
    out->ghost_volume_l = litresOf(out->ghost_model);
    out->ghost_extents_m = prepare::gameExtents(scene::boundsOf(*out->ghost_model), frame, *x.book);
  }
  // What only the cache still holds is shown nowhere.
  std::erase_if(pictures, [](const auto& one) { return one.second.use_count() <= 1; });
  return out;
}

}  // namespace

namespace {

std::set<std::string> glowingIn(const rulebook::Kind* kind, const base::Json& card) {
  std::set<std::string> out;
  if (kind != nullptr)
    for (const rulebook::Role& role : kind->roles)
      if (role.effect == "glow" && role.when.holds(card)) out.insert(role.id);
  return out;
}

// The place of a model among those that are drawn besides the scene's own.
size_t pieceModel(BenchScene& out, const std::shared_ptr<const scene::Model>& model,
                  const rulebook::Kind* kind, std::set<std::string> glowing) {
  const BenchPieceModel of{model, kind, {}, std::move(glowing)};
  const auto at = std::find(out.piece_models.begin(), out.piece_models.end(), of);
  const auto place = static_cast<size_t>(at - out.piece_models.begin());
  if (at == out.piece_models.end()) out.piece_models.push_back(of);
  return place;
}

BenchMoving benchMoving(const check::Examination& x, const mod::ObjectDoc& object, const mod::PieceDoc& piece,
                        const std::vector<rulebook::Field>& fields) {
  const prepare::ModelOf models = [&](const std::string& name) -> const scene::Model* {
    const auto state = x.context.models.find(name);
    return state != x.context.models.end() ? state->second.prepared.model.get() : nullptr;
  };
  BenchMoving out{prepare::movingValues(piece, fields), {}, {}};
  const prepare::Moved moved = prepare::movedBy(object, piece, models);
  for (const auto& [i, nodes] : moved.parts)
    for (const scene::NodeIndex node : nodes)
      out.parts[object.pieces[i].name].insert(models(object.pieces[i].model)->node(node).key);
  for (const size_t i : moved.pieces) out.pieces.insert(object.pieces[i].name);
  return out;
}

// The pieces of an object seen from the first that is the model, with a place for each model that they are;
// parts are made afterwards.
void findPieces(const check::Examination& x, const std::string& object, const BenchScene* known,
                BenchScene& out) {
  const auto found = x.mod->objects.find(object);
  if (found == x.mod->objects.end()) return;
  const std::vector<mod::PieceDoc>& pieces = found->second.pieces;
  const auto own = std::find_if(pieces.begin(), pieces.end(), [&](const mod::PieceDoc& piece) {
    return piece.isModel() && piece.model == out.model;
  });
  if (own == pieces.end()) return;
  out.object = object;
  out.body = benchBody(x, found->second, known != nullptr && known->object == object ? known->body : nullptr);
  out.from_object = glm::inverse(prepare::placeInObject(found->second, *own));
  const auto state_of = [&](const std::string& name) -> const check::ModelState* {
    const auto state = x.context.models.find(name);
    return state != x.context.models.end() ? &state->second : nullptr;
  };
  out.seen_m = prepare::seenBox(
      *x.book, found->second,
      [&](const std::string& name) {
        const check::ModelState* state = state_of(name);
        return state != nullptr ? state->prepared.model.get() : nullptr;
      },
      [&](const std::string& name) {
        std::vector<const scene::Model*> sizes;
        if (const check::ModelState* state = state_of(name))
          for (const auto& [variant, other] : state->variants)
            if (other.report && other.report->same && other.prepared.model)
              sizes.push_back(other.prepared.model.get());
        return sizes;
      });
  // What the game shows by itself is not seen with the object, nor the object with it.
  const mod::PieceDoc* by_itself = prepare::apartRoot(*x.book, found->second, *own);
  for (const mod::PieceDoc& piece : pieces) {
    if (prepare::apartRoot(*x.book, found->second, piece) != by_itself) continue;
    const glm::mat4 place = out.from_object * prepare::placeInObject(found->second, piece);
    if (const auto sort = rulebook::pieceSortFrom(piece.sort)) {
      const auto fields = prepare::fieldsOfPiece(*x.book, found->second, piece);
      BenchLamp lamp{piece.name, place, {}, {}, {}, {}, {}};
      if (*sort == rulebook::PieceSort::lamp) lamp.lamp = prepare::lampValues(piece, fields);
      if (*sort == rulebook::PieceSort::emitter) lamp.emitter = prepare::emitterValues(piece, fields);
      if (*sort == rulebook::PieceSort::sound) lamp.sound = prepare::soundValues(piece, fields);
      if (*sort == rulebook::PieceSort::moving) lamp.moving = benchMoving(x, found->second, piece, fields);
      if (*sort == rulebook::PieceSort::shape) {
        std::shared_ptr<const BenchShape> before;
        if (known != nullptr && known->object == object)
          for (const BenchLamp& one : known->lamps)
            if (one.name == piece.name) before = one.shape;
        lamp.shape = benchShape(x, found->second, piece, before);
      }
      out.lamps.push_back(std::move(lamp));
    }
    if (!piece.isModel()) continue;
    BenchPiece made{piece.name, SIZE_MAX, place};
    const auto state = x.context.models.find(piece.model);
    if (&piece != &*own && state != x.context.models.end() && state->second.prepared.model) {
      const rulebook::Kind* kind = prepare::kindOfPiece(*x.book, found->second, piece);
      made.model = pieceModel(out, state->second.prepared.model, kind, glowingIn(kind, found->second.card));
    }
    out.pieces.push_back(std::move(made));
  }
}

scene::NamedPlace namedPlace(const BenchPoint& point) { return {point.id, point.position_m, point.turn}; }

// An object of the mod with its pieces, hung by a point of its main model.
void hangObject(const check::Examination& x, const mod::ObjectDoc& object, const BenchPoint& point,
                const std::string& by, BenchScene& out) {
  const mod::PieceDoc* main = mod::firstModelPiece(object);
  if (main == nullptr) return;
  const auto doc = x.mod->models.find(main->model);
  if (doc == x.mod->models.end()) return;
  const glm::mat4 to_object = prepare::placeInObject(object, *main);
  const glm::mat4 hang =
      prepare::hangMatrix(namedPlace(point), prepare::hangPlace(prepare::pointsOf(doc->second), by));
  for (const mod::PieceDoc& piece : object.pieces) {
    const auto state = x.context.models.find(piece.model);
    if (!piece.isModel() || state == x.context.models.end() || !state->second.prepared.model) continue;
    if (prepare::apartRoot(*x.book, object, piece) != nullptr) continue;
    const rulebook::Kind* kind = prepare::kindOfPiece(*x.book, object, piece);
    out.hung.push_back({pieceModel(out, state->second.prepared.model, kind, glowingIn(kind, object.card)),
                        hang * glm::inverse(to_object) * prepare::placeInObject(object, piece), point.bone});
  }
}

void findHung(const check::Examination& x, const std::vector<BenchPoint>& points,
              const std::map<std::string, prepare::HangChoice>& hung, BenchScene& out) {
  for (const BenchPoint& point : points) {
    const auto chosen = hung.find(point.id);
    if (chosen == hung.end()) continue;
    const prepare::HangChoice& what = chosen->second;
    if (!what.object.empty()) {
      if (const auto object = x.mod->objects.find(what.object); object != x.mod->objects.end())
        hangObject(x, object->second, point, what.point, out);
      continue;
    }
    const auto ghost = x.context.ghosts.find(what.kind);
    if (ghost == x.context.ghosts.end() || !ghost->second.model) continue;
    out.hung.push_back(
        {pieceModel(out, ghost->second.model, x.book->findKind(what.kind), {}),
         prepare::hangMatrix(namedPlace(point),
                             prepare::hangPlace(scene::emptiesOf(*ghost->second.model), what.point)),
         point.bone});
  }
}

void makePieceParts(BenchScene& scene, PictureCache& pictures) {
  for (BenchPieceModel& of : scene.piece_models) {
    addParts(*of.made_from, of.parts, scene.materials, of.made_for, of.glowing, pictures);
    addTrees(of.parts);
  }
}

}  // namespace

std::shared_ptr<const BenchScene> makeBenchScene(const check::Examination& x, const std::string& name,
                                                 PictureCache& pictures,
                                                 const std::shared_ptr<const BenchScene>& known,
                                                 const SceneAround& around) {
  const auto state = x.context.models.find(name);
  if (state == x.context.models.end() || !state->second.prepared.model) return nullptr;
  Ghost ghost = ghostOf(x, state->second.kind, around.ghost);
  const std::vector<BenchPoint> points = benchPoints(x.mod->models.at(name), state->second.kind);
  if (known && known->model == name && known->made_from == state->second.prepared.model &&
      known->made_for == state->second.kind && known->ghost_model == ghost.model &&
      known->ghost_problem == ghost.problem && known->glowing == glowingRoles(state->second, *x.mod)) {
    BenchScene now;
    now.model = name;
    findPieces(x, around.object, known.get(), now);
    findHung(x, points, around.hung, now);
    if (known->object == now.object && known->piece_models == now.piece_models) {
      if (known->pieces == now.pieces && known->lamps == now.lamps && known->body == now.body &&
          known->hung == now.hung && known->points == points)
        return known;
      // Pieces or points were moved, added or taken out; what they look like is known.
      auto moved = std::make_shared<BenchScene>(*known);
      moved->points = points;
      moved->hung = std::move(now.hung);
      moved->pieces = std::move(now.pieces);
      moved->lamps = std::move(now.lamps);
      moved->body = std::move(now.body);
      moved->from_object = now.from_object;
      return moved;
    }
  }
  auto out = sceneOf(x, name, state->second.prepared.model, pictures, around.ghost, std::move(ghost));
  findPieces(x, around.object, known.get(), *out);
  findHung(x, points, around.hung, *out);
  makePieceParts(*out, pictures);
  return out;
}

std::shared_ptr<const BenchScene> makeBlendedScene(const check::Examination& x, const std::string& name,
                                                   const std::string& variant, float share,
                                                   PictureCache& pictures, const GhostChoice& choice) {
  const auto state = x.context.models.find(name);
  if (state == x.context.models.end() || !state->second.prepared.model) return nullptr;
  const auto other = state->second.variants.find(variant);
  if (other == state->second.variants.end() || !other->second.report->same) return nullptr;
  return sceneOf(x, name,
                 std::make_shared<const scene::Model>(scene::blendedVariants(
                     *state->second.prepared.model, *other->second.prepared.model, share)),
                 pictures, choice, ghostOf(x, state->second.kind, choice));
}

std::shared_ptr<BenchScene> makePlainScene(const check::Examination& x, const std::string& name,
                                           std::shared_ptr<const scene::Model> prepared,
                                           PictureCache& pictures) {
  auto out = sceneOf(x, name, std::move(prepared), pictures, {}, {});
  out->points.clear();
  return out;
}

void addCoarse(std::vector<BenchPart>& parts, size_t most) {
  size_t triangles = 0;
  for (const BenchPart& part : parts) triangles += part.mesh.indices.size() / 3;
  if (triangles <= most) return;
  constexpr size_t kSmall = 2000;  // a part of so few is not worth it
  base::parallelFor(parts.size(), [&](size_t p) {
    BenchPart& part = parts[p];
    if (part.mesh.indices.size() / 3 <= kSmall) return;
    std::vector<glm::vec3> positions(part.mesh.vertex_count);
    for (size_t v = 0; v < positions.size(); ++v)
      positions[v] = base::loadAt<glm::vec3>(part.mesh.vertices, v * part.mesh.stride);
    // A third of its share: a closed surface meets about nine triangles a square of cells.
    const double share = static_cast<double>(most) * static_cast<double>(part.mesh.indices.size() / 3) /
                         static_cast<double>(triangles);
    const auto stands = geometry::clusterVertices(
        positions, static_cast<uint32_t>(std::clamp(std::sqrt(share / 27), 8.0, 256.0)));
    for (const bundle::Submesh& s : part.mesh.submeshes) {
      const auto fewer = geometry::coarseTriangles(
          std::span(part.mesh.indices).subspan(s.first_index, s.index_count), stands);
      part.coarse_submeshes.push_back(
          {static_cast<uint32_t>(part.coarse.size()), static_cast<uint32_t>(fewer.size()), s.material});
      part.coarse.insert(part.coarse.end(), fewer.begin(), fewer.end());
    }
  });
}

void addTrees(std::vector<BenchPart>& parts) {
  base::parallelFor(parts.size(), [&](size_t p) {
    BenchPart& part = parts[p];
    part.places.resize(part.mesh.vertex_count);
    for (uint32_t v = 0; v < part.mesh.vertex_count; ++v)
      part.places[v] = base::loadAt<glm::vec3>(part.mesh.vertices, size_t{v} * part.mesh.stride);
    part.tree = geometry::Bvh(geometry::triangleBoxes(part.places, part.mesh.indices));
  });
}

}  // namespace rakugo::app
