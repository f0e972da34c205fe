// What the bench draws, made off the window's thread: runtime meshes and pictures of one prepared model.
#pragma once

#include <array>
#include <map>
#include <memory>
#include <set>
#include <tuple>

#include "bundle/records.h"
#include "check/examiner.h"
#include "geometry/bvh.h"
#include "packing/runtime.h"
#include "prepare/objects/hanging.h"
#include "prepare/objects/object_body.h"
#include "prepare/objects/piece_values.h"
#include "prepare/objects/seen_box.h"
#include "prepare/objects/sound_pieces.h"
#include "scene/named_places.h"

namespace rakugo::app {

/// A picture of the card, shared between scenes of the same image.
using BenchPicture = std::shared_ptr<const bundle::Ktx2Picture>;
/// By the picture's bytes, what they mean (the same file can be colour and data), and the longest side that
/// it was made for.
using PictureCache =
    std::map<std::tuple<std::shared_ptr<const base::Bytes>, formats::PictureUse, uint32_t>, BenchPicture>;

struct BenchMaterial {
  std::string key;
  bundle::MaterialRecord record;
  std::array<BenchPicture, 5> pictures;  ///< in the order of `MaterialRecord::pictures`
  std::optional<glm::vec3> tint;         ///< sRGB: a tone of its role, in place of its own colour
  bool glows = false;
  glm::vec3 swatch{0.5F};  ///< sRGB, of its role
  bool own = true;         ///< of the model, not of the ghost: what is going on changes it
};

struct BenchPart {
  std::string key, name;
  bundle::MeshPayload mesh;
  std::vector<size_t> materials;  ///< by submesh material, into BenchScene::materials
  /// Of a heavy model: fewer triangles over the same vertices, drawn while the picture moves; else empty.
  std::vector<uint32_t> coarse;
  std::vector<bundle::Submesh> coarse_submeshes;
  glm::mat4 world{1};
  int bone = -1;         ///< of the scene's rig, where the whole part goes with one
  bool changed = false;  ///< holds what a step has changed, and that alone; of makeStepScene
  /// Of a part that can be pointed at: its vertices, and a tree of its triangles, in its own space.
  std::vector<glm::vec3> places;
  geometry::Bvh tree;
  /// In its own space.
  [[nodiscard]] geometry::Bounds box() const {
    const auto& low = mesh.bounds_min;
    const auto& high = mesh.bounds_max;
    return {{low[0], low[1], low[2]}, {high[0], high[1], high[2]}};
  }
};

struct BenchPoint {
  std::string id, title;
  glm::vec3 position_m{0};
  bool lamp = false;  ///< belongs to a role that glows: the bench puts a light there by night
  glm::quat turn{1, 0, 0, 0};
  std::string bone;  ///< name of the bone that it goes with as the figure moves; may be empty
  bool operator==(const BenchPoint&) const = default;
};

struct BenchBone {
  std::string key, name;
  glm::vec3 head_m{0};
  std::vector<glm::vec3> tails_m;  ///< heads of its children; empty for a bone at an end
  bool required = false;           ///< the game looks for a bone of this name
  int number = -1;                 ///< in the scene's rig
  std::vector<int> tail_numbers;   ///< the same, of its children
};

/// Another model of the object that is shown, once for all pieces that are it.
struct BenchPieceModel {
  std::shared_ptr<const scene::Model> made_from;
  const rulebook::Kind* made_for = nullptr;
  std::vector<BenchPart> parts;
  std::set<std::string> glowing;  ///< its roles that glow, as the object's card says
  bool operator==(const BenchPieceModel& other) const {
    return made_from == other.made_from && made_for == other.made_for && glowing == other.glowing;
  }
};
/// A piece of the object that is a model.
struct BenchPiece {
  std::string name;
  size_t model = 0;    ///< in BenchScene::piece_models; beyond: the scene's own model
  glm::mat4 place{1};  ///< from the piece's model to that of the scene
  bool operator==(const BenchPiece&) const = default;
};

/// A thing that the game would hang at an attachment point, or hang the model on: shown with it, no part of
/// it.
struct BenchHung {
  size_t model = 0;    ///< in BenchScene::piece_models
  glm::mat4 place{1};  ///< from that model to the scene's
  std::string bone;    ///< of the point; may be empty
  bool operator==(const BenchHung&) const = default;
};

/// A collision shape, in its piece's space.
struct BenchShape {
  prepare::ShapeMesh mesh;
  std::vector<std::array<uint32_t, 2>> edges;  ///< of the mesh, where it is bent
  prepare::ShapeOff off;
  prepare::ShapeValues says;
  /// What it was made of, and where that lay.
  std::vector<std::pair<std::shared_ptr<const scene::Model>, glm::mat4>> under;
};

/// The object's body, and what it was reckoned from.
struct BenchBody {
  prepare::ObjectBody body;
  std::vector<mod::PieceDoc> pieces;
  std::vector<std::shared_ptr<const scene::Model>> models;  ///< by piece
  std::optional<double> mass_kg;
};

/// What a moving part does, and what it moves.
struct BenchMoving {
  prepare::MovingValues says;
  std::map<std::string, std::set<std::string>> parts;  ///< by piece that is a model: keys of its parts
  std::set<std::string> pieces;                        ///< names of those that move whole
  bool operator==(const BenchMoving&) const = default;
};

/// A lamp, emitter, collision shape, sound or moving part of the object.
struct BenchLamp {
  std::string name;
  glm::mat4 place{1};  ///< from the piece's space to that of the scene's model
  std::optional<prepare::LampValues> lamp;
  std::optional<prepare::EmitterValues> emitter;
  std::shared_ptr<const BenchShape> shape;
  std::optional<prepare::SoundValues> sound;
  std::optional<BenchMoving> moving;
  bool operator==(const BenchLamp&) const = default;
};

/// Whose silhouette is shown behind the model.
struct GhostChoice {
  enum class Sort : unsigned char { own_kind, kind, body, model, file };
  Sort sort = Sort::own_kind;  ///< the example of the model's own kind
  std::string name;            ///< id of a kind, name of a model of the mod, or path of a file
  bool operator==(const GhostChoice&) const = default;
};

/// What is seen with the model.
struct SceneAround {
  GhostChoice ghost;
  std::string object;                               ///< whose pieces stand round it; may be empty
  std::map<std::string, prepare::HangChoice> hung;  ///< by id of the model's point
};

/// Where bones stand other than at rest: for each of a scene's rig, what carries it there from its rest, in
/// the model's space.
struct BenchPose {
  std::vector<glm::mat4> bones, ghost_bones;
  /// Ends of limbs that can be pulled: where they are, and a name.
  std::vector<std::pair<glm::vec3, std::string>> ends;
};

/// Immutable once made.
struct BenchScene {
  std::string model;
  std::vector<BenchPart> parts;
  std::vector<BenchMaterial> materials;
  std::vector<BenchPart> ghost;
  std::string ghost_title;
  std::string ghost_problem;                            ///< why the ghost that was chosen is not there
  std::shared_ptr<const scene::Model> ghost_model;      ///< null when there is no ghost
  std::vector<scene::NamedPlace> ghost_points;          ///< its attachment points; a file's empties
  std::optional<glm::vec3> ghost_extents_m;             ///< along the game's forward, side and up
  std::optional<double> ghost_reach_m, ghost_volume_l;  ///< the volume only where it has closed shells
  std::vector<BenchPoint> points;
  std::string object;  ///< whose pieces stand round the model; may be empty
  std::vector<BenchPieceModel> piece_models;
  std::vector<BenchPiece> pieces;  ///< all of the object's, the one that the scene is about too
  std::vector<BenchHung> hung;
  std::vector<BenchLamp> lamps;           ///< and emitters and shapes of the object
  glm::mat4 from_object{1};               ///< from the object's space to the model's
  geometry::Bounds seen_m;                ///< what nothing of the object leaves, in the object's space
  std::shared_ptr<const BenchBody> body;  ///< of the object; null where it holds no volume
  std::vector<BenchBone> bones;
  packing::Rig rig, ghost_rig;  ///< how parts and bones number what moves them
  geometry::Bounds bounds_m;
  glm::vec3 up{0, 0, 1}, forward{1, 0, 0};  ///< of the game
  /// What the model calls up and forward: the game's once it is turned. Its height and length are along them.
  glm::vec3 own_up{0, 0, 1}, own_forward{1, 0, 0};
  scene::Frame frame;  ///< of the prepared model
  /// What it was made from: equal ones need no new scene.
  std::shared_ptr<const scene::Model> made_from;
  const rulebook::Kind* made_for = nullptr;
  std::set<std::string> glowing;               ///< roles that glow, as the cards of its objects say
  std::vector<rulebook::LookSwitch> switches;  ///< of the game
};

/// Pictures that no scene shows any more leave `pictures`.
/// The scene of a model of the examination; null when it has none of that name or its source could not be
/// read. `known` is handed back when it shows just that already (most edits of a card change nothing in the
/// bench); may be null. The other pieces of the object stand round the model as they do in it.
std::shared_ptr<const BenchScene> makeBenchScene(const check::Examination& examination,
                                                 const std::string& model, PictureCache& pictures,
                                                 const std::shared_ptr<const BenchScene>& known = nullptr,
                                                 const SceneAround& around = {});

/// The scene of a size between the model (0) and one of its variants (1); null when the two do not go
/// together.
std::shared_ptr<const BenchScene> makeBlendedScene(const check::Examination& examination,
                                                   const std::string& model, const std::string& variant,
                                                   float share, PictureCache& pictures,
                                                   const GhostChoice& ghost = {});

/// The scene of any state of a model of the examination, without ghost and attachment points; not null.
std::shared_ptr<BenchScene> makePlainScene(const check::Examination& examination, const std::string& model,
                                           std::shared_ptr<const scene::Model> prepared,
                                           PictureCache& pictures);

/// Gives the parts their coarse triangles where all together have more than `most`.
void addCoarse(std::vector<BenchPart>& parts, size_t most);
inline constexpr size_t kHeavyTriangles = 150'000;

/// Gives the parts what rays are held against.
void addTrees(std::vector<BenchPart>& parts);

}  // namespace rakugo::app
