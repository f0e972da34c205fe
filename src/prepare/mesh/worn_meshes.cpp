#include "prepare/mesh/worn_meshes.h"

#include <algorithm>
#include <map>

namespace rakugo::prepare {

void eachWorn(scene::Model& model, scene::SkinIndex skin,
              const std::function<bool(scene::Mesh& mesh, scene::NodeIndex part)>& edit) {
  std::map<uint32_t, scene::MeshIndex> done;  // by the mesh as it was
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    scene::Node& node = model.node(i);
    if (!node.mesh.valid() || node.skin != skin) continue;
    const uint32_t mesh = node.mesh.value();
    if (const auto known = done.find(mesh); known != done.end()) {
      node.mesh = known->second;
      continue;
    }
    const bool shared = std::any_of(model.nodes.begin(), model.nodes.end(), [&](const scene::Node& other) {
      return other.mesh == node.mesh && other.skin != skin;
    });
    scene::Mesh copy = *model.meshes[mesh];
    if (edit(copy, i)) {
      if (shared) {
        node.mesh = scene::MeshIndex(model.meshes.size());
        model.meshes.emplace_back();
      }
      model.meshes[node.mesh.value()] = std::make_shared<const scene::Mesh>(std::move(copy));
    }
    done[mesh] = node.mesh;
  }
}

}  // namespace rakugo::prepare
