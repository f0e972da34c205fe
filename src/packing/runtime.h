// From a prepared model to what a game draws. The bench draws the same, so that it shows what will be built.
#pragma once

#include <string>
#include <vector>

#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"
#include "formats/pictures/resample.h"
#include "packing/game_space.h"
#include "packing/rig.h"
#include "prepare/surface/picture_needs.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::packing {

/// A part that draws something.
struct RuntimePart {
  scene::NodeIndex node;
  std::string name;
  bundle::MeshPayload mesh;  ///< materials hold positions in `materials`, as texts, until they are named
  std::vector<scene::MaterialIndex> materials;  ///< one a submesh material; invalid = the plain one
  glm::mat4 world{1};                           ///< from the mesh's space to the model's; metres
  int bone = -1;  ///< of the model's `Rig`: the part goes with it; -1: none, or the mesh names its bones
};

/// All drawing parts, their bones numbered as `rigOf` does, in the order of the tree. Vertices are
/// interleaved (position, normal, then tangent, uv0, uv1 and colour where any primitive has them), ordered
/// for the vertex cache; vertices that no triangle uses are left out. Metres. Normals that are missing become
/// (0, 0, 1).
std::vector<RuntimePart> runtimeParts(const scene::Model& model);

/// Parts that draw something, in the order of the tree, with the materials of their submeshes. Cheap: no
/// vertex is looked at.
struct DrawnPart {
  scene::NodeIndex node;
  std::vector<scene::MaterialIndex> materials;
};
std::vector<DrawnPart> drawnParts(const scene::Model& model);
/// The materials of a mesh's submeshes, in order.
std::vector<scene::MaterialIndex> drawnMaterials(const scene::Mesh& mesh);
/// One mesh as `runtimeParts` makes it, in the game's units and handedness; its `materials` are left empty.
/// `bones`: for each joint of the skin that wears the mesh, the number of its bone in the runtime skeleton;
/// vertices then carry their four largest weights, which sum to one. None: the mesh follows no bones. Morph
/// targets of the mesh come along.
bundle::MeshPayload runtimeMesh(const scene::Mesh& mesh, const GameSpace& space,
                                const std::vector<uint16_t>& bones = {});
/// The mesh that a part draws: where its bones put it at rest, with texture coordinates as its materials look
/// them up. Its own mesh, shared, where neither changes anything. Where pictures of a material look the same
/// coordinates up in different ways, those stay as they are, and `materialRecord` says how.
std::shared_ptr<const scene::Mesh> drawnMesh(const scene::Model& model, scene::NodeIndex part,
                                             const std::vector<glm::mat4>& world);
/// Where a part's mesh stands in the model's space; skinned parts are placed by their bones alone.
glm::mat4 partWorld(const scene::Model& model, const std::vector<glm::mat4>& world, scene::NodeIndex node);

/// Adds another size of a mesh as a morph target of that name, not worn at rest: how far each vertex and
/// normal goes. `other` has the same primitives with as many vertices.
void addSize(scene::Mesh& mesh, const scene::Mesh& other, const std::string& name);

/// A material as a game draws it, its pictures left empty: factors, role, and how each picture is looked up
/// on the coordinates of `drawnMesh`.
bundle::MaterialRecord materialRecord(const scene::Material& material);

/// A picture for the graphics card: sides brought to `max_side` and powers of two where asked, all mip levels
/// down to 1 x 1 (formats/pictures/resample.h).
bundle::Ktx2Picture runtimePicture(const formats::Picture& picture, formats::PictureUse use,
                                   uint32_t max_side, bool power_of_two);

/// How a target stores one picture.
struct PictureStoring {
  formats::PictureUse use = formats::PictureUse::color;
  uint32_t max_side = 0;
  bool power_of_two = false, mip_levels = true;
  bool pixels = false;          ///< made smaller pixel by pixel
  std::optional<float> cutoff;  ///< mip levels keep the share that is drawn
  bundle::PixelFormat format = bundle::PixelFormat::rgba8;
  bool supercompressed = false;
  bool quick = false;  ///< blocks are found many times quicker, and a little worse
  /// All of it, for keys of a cache.
  [[nodiscard]] std::string text() const;
};
PictureStoring storingOf(const rulebook::Rulebook& book, const rulebook::Target& target,
                         formats::PictureUse use, const prepare::PictureNeed& need);
/// The levels that are stored, still as RGBA8.
bundle::Ktx2Picture plainLevels(const formats::Picture& picture, const PictureStoring& how);
/// The picture as a bundle holds it.
bundle::Ktx2Picture storedPicture(const formats::Picture& picture, const PictureStoring& how);

}  // namespace rakugo::packing
