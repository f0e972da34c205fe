// The JSON records a game reads beside meshes and pictures: objects, materials and skeletons.
// docs/bundle-format.md section 6.
#pragma once

#include <array>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "base/bytes.h"
#include "base/json.h"
#include "base/result.h"

namespace rakugo::bundle {

/// One piece of an object. Placement is in the game's space and units.
struct ObjectPiece {
  std::string name;
  std::string mesh;  ///< entry id, or empty for a bare node
  /// Entry ids of meshes drawn in place of it from so far away on, by distance, ascending; in the game's
  /// unit.
  std::vector<std::pair<std::string, float>> lighter;
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};  ///< unit quaternion x y z w
  std::array<float, 3> scale{1, 1, 1};
  std::string region;  ///< of the body that this piece covers, or empty
  int rig = -1;        ///< in the object's list: what moves the piece; -1: nothing
  int bone = -1;       ///< of the rig's skeleton: the piece goes with it; -1: the mesh names its bones itself
  /// Which of the kind's models it is a part of, as the game reads it; empty: the main one. From format 1.4.
  std::string as;
  /// The game shows the model that `as` names by itself, in place of the object: pieces stand in that model's
  /// own space, and count neither for the object's bounds nor its mass. From format 1.4.
  bool apart = false;
};

/// A lamp of an object. From format 1.4. It shines along the game's forward, turned by `turn`.
struct ObjectLamp {
  std::string name, as;  ///< `as`: which of the kind's lamps it is
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};
  std::array<float, 3> color{1, 1, 1};       ///< linear
  float strength = 0;                        ///< candela
  float reach = 0;                           ///< in the game's unit: nothing is lit beyond
  float cone = 0;                            ///< from side to side, radians, up to 2 pi: all round
  float soft = 0;                            ///< share of the cone in which the light fades, 0 to 1
  std::string lit;                           ///< when: "always", "night", or another word of the game's
  base::Json values = base::Json::object();  ///< what else it says, by the game's words
};

/// An emitter of particles in an object. From format 1.4. They leave along the game's up, turned by `turn`.
/// Pairs are: as they leave, at the end of their life; evenly from one to the other.
struct ObjectEmitter {
  std::string name, as;  ///< `as`: which of the kind's emitters it is
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};
  std::string look, runs;  ///< "smoke", "sparks", "flame", "spray"; "always", "night", or the game's words
  float rate = 0;          ///< particles a second, at most kMostParticleRate
  float life = 1;          ///< seconds, above 0, at most kMostParticleLife
  float speed = 0;         ///< the game's units a second
  float spread = 0;        ///< how far aside they may leave, radians
  float gravity = 0;       ///< 1 falls as a stone does
  std::array<float, 2> size{0, 0}, opacity{1, 0};  ///< the game's unit; 0 to 1
  std::array<std::array<float, 3>, 2> color{};     ///< linear
  base::Json values = base::Json::object();        ///< what else it says, by the game's words
};
/// What a game reckons collisions with. From format 1.4. Sizes are along the game's forward, side and up,
/// turned by `turn`.
struct ObjectShape {
  std::string name, as;  ///< `as`: which of the kind's shapes it is
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};
  std::string form;  ///< "box", "sphere", "capsule", "cylinder", "hull", "mesh"
  std::array<float, 3>
      size{};  ///< of a box; else across twice, and along up with round ends; in the game's unit
  float friction = 0, bounce = 0;             ///< bounce: restitution, 0 to 1
  std::vector<std::array<float, 3>> corners;  ///< of a hull or a mesh, at most kMostShapeCorners
  std::vector<std::array<uint32_t, 3>>
      triangles;  ///< over the corners, counter-clockwise from outside as in meshes
  base::Json values = base::Json::object();
};
/// A sound of an object. From format 1.4.
struct ObjectSound {
  std::string name, as;  ///< `as`: which of the kind's sounds it is
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};
  std::string plays;                ///< when: "always", "night", or another word of the game's
  std::vector<std::string> sounds;  ///< ids of entries, or of what the game shares; variants
  bool loop = false;
  float gain = 1;                    ///< factor of the amplitude, at most kMostGain
  std::array<float, 2> pitch{1, 1};  ///< factor of the rate, at rest and at full speed, above 0, at most 16
  float near = 1, far = 1;           ///< full within, silent beyond; in the game's unit; near <= far
  base::Json values = base::Json::object();
};
inline constexpr float kMostGain = 64;

/// What moves some of an object by itself. From format 1.4. It goes round the line through `position` along
/// the game's forward, turned by `turn`, by the right-hand rule in a right-handed game, by the left-hand rule
/// in the others. A motion that moves the pieces of another, too, stands before it, and acts after it.
struct ObjectMotion {
  std::string name, as;  ///< `as`: which of the kind's moving parts it is
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};
  bool swings = false;                            ///< to and fro through `span`; else round and round
  std::string runs;                               ///< when: "always", "night", or another word of the game's
  float rate = 0;                                 ///< turns or swings a second, at most kMostMotionRate
  std::array<float, 2> span{0, 0};                ///< of what swings, from and to; radians, up to pi
  std::vector<uint32_t> pieces, lamps, emitters;  ///< what moves: places in the object's lists
  base::Json values = base::Json::object();       ///< what else it says, by the game's words
};
inline constexpr float kMostMotionRate = 1000;

/// Another size of an object's icon. From format 1.4.
struct ObjectIcon {
  uint32_t width = 0, height = 0;
  std::string icon;  ///< entry id
};

/// An object's entry in a list of the game's. From format 1.4.
struct ObjectListEntry {
  std::string list;                          ///< as the game reads it
  base::Json values = base::Json::object();  ///< by the game's words
};
inline constexpr size_t kMostShapeCorners = 12'000, kMostShapeTriangles = 4'000;
inline constexpr float kMostParticleRate = 500, kMostParticleLife = 60;

/// A skeleton in an object. The placement of pieces is that of the rest pose.
struct ObjectRig {
  std::string skeleton;                    ///< entry id
  std::array<float, 3> position{0, 0, 0};  ///< of the skeleton's space in the object
  std::array<float, 4> turn{0, 0, 0, 1};
  std::vector<std::pair<std::string, std::string>> animations;  ///< name and entry id
  float scale = 1;  ///< of the skeleton's space; other than 1 from format 1.4
};

/// A bone: a node that moves. Placement is against its parent, in the game's units and space.
struct BoneRecord {
  std::string name;
  int parent = -1;  ///< stands before it in the list; -1: none
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};
  std::array<float, 3> scale{1, 1, 1};
};

/// Bones at rest, parents before children. Meshes stand where their bones put them at rest.
struct SkeletonRecord {
  std::vector<BoneRecord> bones;
};

/// A named place where the game hangs something.
struct ObjectPoint {
  std::string name;
  std::array<float, 3> position{0, 0, 0};
  std::array<float, 4> turn{0, 0, 0, 1};
  /// Of a model that is shown apart from the object (`ObjectPiece::apart`): what that is; else empty.
  std::string as;
};

/// A thing the game can place.
struct ObjectRecord {
  std::string id;    ///< unique in the mod
  std::string kind;  ///< a kind of the rulebook
  std::string name;
  base::Json card = base::Json::object();  ///< the kind's typed fields
  std::vector<ObjectPiece> pieces;
  std::vector<ObjectPoint> points;
  std::vector<ObjectRig> rigs;
  std::string icon;                                               ///< entry id or empty
  std::vector<ObjectIcon> icons;                                  ///< smaller ones
  std::array<float, 3> bounds_min{0, 0, 0}, bounds_max{0, 0, 0};  ///< at rest
  /// The box that nothing of it ever leaves, however it moves: its lower and its upper corner. Nothing: the
  /// one at rest. From format 1.4.
  std::optional<std::array<std::array<float, 3>, 2>> seen;
  std::vector<ObjectLamp> lamps;
  std::vector<ObjectEmitter> emitters;
  std::vector<ObjectShape> shapes;
  std::vector<ObjectSound> sounds;
  std::vector<ObjectMotion> motions;
  std::vector<ObjectListEntry> lists;
  /// Id of the game's own thing in whose place it stands; empty: beside them. From format 1.4.
  std::string replaces;
};

/// Texts of one language, by the ids under which the game looks them up. From format 1.4.
struct TextsRecord {
  std::string language;  ///< as the game names it
  std::map<std::string, std::string> texts;
};

/// How a material looks a picture up. From format 1.2 on where it is not as it stands here.
struct PictureLookup {
  enum class Wrap : unsigned char { repeat, clamp, mirror };
  uint32_t uv = 0;  ///< which texture coordinates: 0 or 1
  std::array<Wrap, 2> wrap{Wrap::repeat, Wrap::repeat};
  /// Coordinates are scaled, turned (counter-clockwise on the picture, in radians), then moved before they
  /// are looked up: KHR_texture_transform of glTF 2.0.
  std::array<float, 2> offset{0, 0}, scale{1, 1};
  float turn = 0;
  bool operator==(const PictureLookup&) const = default;
  /// u' = row[0].(u, v, 1), v' = row[1].(u, v, 1)
  [[nodiscard]] std::array<std::array<float, 3>, 2> rows() const;
};
/// As records write it: "repeat", "clamp", "mirror".
const char* wrapName(PictureLookup::Wrap wrap);

/// Metallic-roughness material (as in the glTF 2.0 specification, section 3.9), with the role the game acts
/// on.
struct MaterialRecord {
  std::string name;
  std::string role;  ///< a role of the rulebook, or empty
  std::array<float, 4> base_color{1, 1, 1, 1};
  float metallic = 1, roughness = 1;
  std::array<float, 3> emissive{0, 0, 0};
  float normal_scale = 1, occlusion_strength = 1;
  std::string alpha = "opaque";  ///< opaque | mask | blend
  float alpha_cutoff = 0.5F;
  bool double_sided = false;
  std::string filter = "linear";  ///< linear | nearest
  std::string base_color_picture, metallic_roughness_picture, normal_picture, occlusion_picture,
      emissive_picture;
  /// Of the pictures, in the order of `pictures()`.
  std::array<PictureLookup, 5> lookups{};
  bool unlit = false;  ///< drawn as it is, whatever the light; from format 1.2
  [[nodiscard]] std::array<std::string, 5> pictures() const {
    return {base_color_picture, metallic_roughness_picture, normal_picture, occlusion_picture,
            emissive_picture};
  }
};

base::Bytes encodeObject(const ObjectRecord& record);
/// The least minor version of a bundle that a reader of this object must know; 0 too for one with rigs, whose
/// entries say that themselves.
uint16_t minorOf(const ObjectRecord& record);
/// Errors: json.*, bundle.record with the JSON pointer; numbers are finite, turns are unit.
base::Result<ObjectRecord> decodeObject(base::ByteSpan bytes, const std::string& file);
base::Bytes encodeSkeleton(const SkeletonRecord& record);
/// Errors: as above; at most 65,535 bones, parents before their children.
base::Result<SkeletonRecord> decodeSkeleton(base::ByteSpan bytes, const std::string& file);
base::Bytes encodeTexts(const TextsRecord& record);
/// Errors: as above; a language and ids are not empty.
base::Result<TextsRecord> decodeTexts(base::ByteSpan bytes, const std::string& file);
base::Bytes encodeMaterial(const MaterialRecord& record);
/// The least minor version of a bundle that a reader of this material must know.
uint16_t minorOf(const MaterialRecord& record);
base::Result<MaterialRecord> decodeMaterial(base::ByteSpan bytes, const std::string& file);

}  // namespace rakugo::bundle
