// The format-neutral model. Lengths are metres, angles radians; the axes are those of `frame`.
#pragma once

#include <array>
#include <cstdint>
#include <glm/glm.hpp>
#include <glm/gtc/quaternion.hpp>
#include <memory>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/index.h"
#include "base/limits.h"
#include "base/result.h"
#include "geometry/axes.h"
#include "geometry/bounds.h"

namespace rakugo::scene {

using NodeIndex = base::Index<struct NodeTag>;
using MeshIndex = base::Index<struct MeshTag>;
using MaterialIndex = base::Index<struct MaterialTag>;
using ImageIndex = base::Index<struct ImageTag>;
using SkinIndex = base::Index<struct SkinTag>;
using CameraIndex = base::Index<struct CameraTag>;
using LightIndex = base::Index<struct LightTag>;

/// Position, turn (unit quaternion) and scale of a node in its parent's space; applied scale first.
struct Placement {
  glm::vec3 position{0};
  glm::quat turn{1, 0, 0, 0};
  glm::vec3 scale{1};
  [[nodiscard]] glm::mat4 matrix() const;
  /// Nothing moved, turned or scaled (within 1e-5, and 1e-6 m for the position).
  [[nodiscard]] bool atRest() const;
  bool operator==(const Placement&) const = default;
};

/// The placement nearest to `matrix`; `exact` becomes false when the matrix shears.
Placement placementOf(const glm::mat4& matrix, bool& exact);

/// A LOD: a mesh drawn in place of the part's own from a distance on.
struct LighterMesh {
  MeshIndex mesh;
  float from_m = 0;  ///< the distance from which it is drawn, to that of the next one
  bool operator==(const LighterMesh&) const = default;
};

/// A part: a node of the tree. `key` names it for ever (path of source names, made unique); `name` can be
/// changed by a step.
struct Node {
  std::string key;
  std::string name;
  NodeIndex parent;
  std::vector<NodeIndex> children;
  Placement local;
  MeshIndex mesh;
  std::vector<LighterMesh> lighter;  ///< by distance, ascending; worn by the same skin
  SkinIndex skin;
  std::string region;  ///< given by a step; a region of the rulebook
  CameraIndex camera;
  LightIndex light;
  std::vector<float> morph_weights;  ///< in place of the mesh's, when there are any
  std::string kept;                  ///< see `Model::kept`
};

/// Offsets of the vertices of a primitive at a morph weight of 1. Each list is empty or has one value a
/// vertex.
struct MorphTarget {
  std::vector<glm::vec3> positions;
  std::vector<glm::vec3> normals;
  std::vector<glm::vec3> tangents;
  bool operator==(const MorphTarget&) const = default;
};

/// Triangles with one material. Each attribute is empty or has one value a vertex. Indices are 3 x triangles,
/// all in range.
struct Primitive {
  std::vector<glm::vec3> positions;
  std::vector<glm::vec3> normals;
  std::vector<glm::vec4> tangents;            ///< w is the side of the bitangent
  std::array<std::vector<glm::vec2>, 2> uvs;  ///< origin at the picture's top left (glTF)
  std::vector<glm::vec4> colors;              ///< linear RGBA
  std::vector<glm::u16vec4> joints;           ///< positions in the skin's joint list
  std::vector<glm::vec4> weights;
  std::vector<glm::u16vec4> more_joints;  ///< the fifth to eighth bone; empty where four are enough
  std::vector<glm::vec4> more_weights;
  std::vector<MorphTarget> morphs;  ///< one for each of the mesh's, or none
  std::vector<uint32_t> indices;
  MaterialIndex material;
  std::string kept;  ///< see `Model::kept`
};

struct Mesh {
  std::string name;
  std::vector<Primitive> primitives;
  std::vector<std::string> morph_names;  ///< one a morph target
  std::vector<float> morph_weights;      ///< the same; how much of each is worn at rest
  std::string kept;                      ///< see `Model::kept`
};

enum class Filter : unsigned char { linear, nearest };
enum class Wrap : unsigned char { repeat, clamp, mirror };

/// One use of a picture by a material.
struct TextureUse {
  ImageIndex image;
  uint32_t uv_set = 0;
  Filter filter = Filter::linear;
  Wrap wrap_u = Wrap::repeat, wrap_v = Wrap::repeat;
  /// Texture coordinates are scaled, turned counter-clockwise about the origin as seen on the picture, then
  /// moved, before they are looked up (KHR_texture_transform).
  glm::vec2 offset{0};
  float turn_rad = 0;
  glm::vec2 scale{1};
  bool operator==(const TextureUse&) const = default;
  /// Whether the coordinates are looked up as they stand.
  [[nodiscard]] bool plain() const {
    return offset == glm::vec2(0) && turn_rad == 0 && scale == glm::vec2(1);
  }
  /// Where a coordinate is looked up.
  [[nodiscard]] glm::vec2 lookedUp(glm::vec2 uv) const;
};

enum class AlphaMode : unsigned char { opaque, mask, blend };

/// Metallic-roughness material, glTF 2.0 section 3.9.
struct Material {
  std::string key;  ///< its name in the source, made unique
  std::string name;
  std::string role;  ///< given by a step; a role of the rulebook
  glm::vec4 base_color{1};
  float metallic = 1, roughness = 1;
  glm::vec3 emissive{0};
  float normal_scale = 1, occlusion_strength = 1;
  TextureUse base_color_texture, metallic_roughness_texture, normal_texture, occlusion_texture,
      emissive_texture;
  AlphaMode alpha = AlphaMode::opaque;
  float alpha_cutoff = 0.5F;
  bool double_sided = false;
  bool unlit = false;           ///< drawn as it is, whatever the light
  float emissive_strength = 1;  ///< times `emissive`; may be above 1
  std::string kept;             ///< see `Model::kept`
};

/// The picture slots of a material by name: "base colour", "metal and roughness", "normal", "occlusion",
/// "glow".
struct TextureSlot {
  const char* name;
  TextureUse Material::*use;
  bool color;  ///< colour (sRGB) or data (linear)
};
extern const std::array<TextureSlot, 5> kTextureSlots;

/// A picture as it stands in the source: still encoded.
struct Image {
  std::string name;
  std::string uri;                           ///< as written in the source; empty when embedded
  std::string mime;                          ///< "image/png", "image/jpeg"... or empty
  std::shared_ptr<const base::Bytes> bytes;  ///< null when not found
  /// Of a sheet that several models have their parts of: its name, and which rectangle is this model's (x, y,
  /// width, height in pixels). Empty: the picture is the model's alone.
  std::string shared;
  std::array<uint32_t, 4> part{};
};

struct Skin {
  std::string name;
  std::vector<NodeIndex> joints;
  std::vector<glm::mat4> inverse_bind;  ///< one a joint; from the mesh as stored
  std::string kept;                     ///< see `Model::kept`
};

/// A point of view; it looks along its node's -Z, up is +Y.
struct Camera {
  std::string name;
  bool perspective = true;
  float fov_y_rad = 0.8F;          ///< perspective: the angle from the lower to the upper edge
  float size_y = 1;                ///< orthographic: half of what is seen upwards
  float aspect = 0;                ///< width by height; 0: the window's
  float near_m = 0.1F, far_m = 0;  ///< far 0: endless
  bool operator==(const Camera&) const = default;
};

/// A lamp; it shines along its node's -Z (KHR_lights_punctual).
struct Light {
  enum class Kind : unsigned char { point, spot, directional };
  std::string name;
  Kind kind = Kind::point;
  glm::vec3 color{1};
  float intensity = 1;                          ///< candela, for directional ones lux
  float range_m = 0;                            ///< 0: endless
  float inner_rad = 0, outer_rad = 0.7853982F;  ///< spot: half angles of the cone
  bool operator==(const Light&) const = default;
};

enum class AnimatedPath : unsigned char { position, turn, scale, weights };
enum class Interpolation : unsigned char { step, linear, cubic };

/// Keys of one node's property. `values` has 3 (position, scale), 4 (turn) or m (weights) numbers a key,
/// times 3 when cubic.
struct Channel {
  NodeIndex node;
  AnimatedPath path = AnimatedPath::position;
  Interpolation interpolation = Interpolation::linear;
  std::vector<float> times_s;
  std::vector<float> values;
};

struct Animation {
  std::string name;
  std::vector<Channel> channels;
  std::string kept;  ///< see `Model::kept`
};

/// How the model's space lies.
struct Frame {
  geometry::Axis up = geometry::Axis::plus_y;
  geometry::Axis forward = geometry::Axis::plus_z;
  double read_unit_m = 1;  ///< the length that one unit of the source was read as
  bool turned = false;     ///< a step has turned the model to the game's axes
  bool operator==(const Frame&) const = default;
};

/// A whole model. Copying shares meshes and images.
struct Model {
  std::vector<Node> nodes;
  std::vector<NodeIndex> roots;
  std::vector<std::shared_ptr<const Mesh>> meshes;
  std::vector<Material> materials;
  std::vector<Image> images;
  std::vector<Skin> skins;
  std::vector<Animation> animations;
  std::vector<Camera> cameras;
  std::vector<Light> lights;
  Frame frame;
  /// What the source's format says beyond all this, by free extension: JSON of an object with the members
  /// "extensions" and "extras", or empty. Steps leave it alone; a writer of the same format gives it back.
  std::string kept;

  [[nodiscard]] const Node& node(NodeIndex i) const { return nodes[i.value()]; }
  [[nodiscard]] Node& node(NodeIndex i) { return nodes[i.value()]; }
  [[nodiscard]] const Mesh& mesh(MeshIndex i) const { return *meshes[i.value()]; }
  /// A copy of the mesh that may be changed, put in the model's list in place of the old one.
  Mesh& editMesh(MeshIndex i);
};

/// The part of that key, or an invalid index.
NodeIndex findPart(const Model& model, const std::string& key);
/// The material of that key, or an invalid index.
MaterialIndex findMaterial(const Model& model, const std::string& key);

/// Matrices from each node's space to the model's (node count x 4x4). Nodes that no root reaches get the
/// identity.
std::vector<glm::mat4> worldMatrices(const Model& model);
/// Nodes reached from the roots, parents before children.
std::vector<NodeIndex> reachedNodes(const Model& model);
/// The box of all reached parts in the model's space. Skinned parts are taken where their bones put them at
/// rest. Positions that are not finite count for nothing. Cost: linear in stored vertices and parts, where
/// most parts lie between others.
geometry::Bounds boundsOf(const Model& model);
/// The box of one part (its own mesh only) in the model's space.
geometry::Bounds partBounds(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world);
/// The box of all reached parts by their nodes alone, as if no bone bent them.
geometry::Bounds unbentBounds(const Model& model);

struct Counts {
  uint64_t parts = 0, triangles = 0, vertices = 0, bones = 0;
};
/// What the reached parts draw; a mesh used twice counts twice. `parts` counts nodes with a mesh.
Counts countsOf(const Model& model);

/// Good when what the model draws in all is within the limits. Errors: model.too_large, with the counts.
base::Status drawnWithin(const Model& model, const base::Limits& limits);

/// Materials that reached parts really wear, in the model's order.
std::vector<MaterialIndex> usedMaterials(const Model& model);
/// Nodes that reached parts follow as bones, in the model's order.
std::vector<NodeIndex> usedJoints(const Model& model);

/// Fills every node's and material's `key` from the names: the path from the root, made unique with "#2",
/// "#3".
void assignKeys(Model& model);

}  // namespace rakugo::scene
