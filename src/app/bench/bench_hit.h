// What lies under the pointer: rays held against the parts of a scene, at rest or in a pose.
#pragma once

#include <optional>
#include <span>

#include "app/bench/bench_scene.h"
#include "base/jobs.h"
#include "render/presence.h"

namespace rakugo::app {

/// Where a pose has put the vertices of what bends, with a tree of its triangles there. Immutable once made.
struct PosedScene {
  struct Bent {
    std::vector<glm::vec3> places;  ///< in the model's space; empty for a part that does not bend
    geometry::Bvh tree;
  };
  std::shared_ptr<const BenchScene> scene;
  std::shared_ptr<const BenchPose> pose;
  std::vector<Bent> parts;  ///< one a part of the scene
};

/// Cost: n log n of the triangles that bend, so it is made off the window's thread. Null when it is
/// cancelled, or the pose is not of that scene.
std::shared_ptr<const PosedScene> posedScene(const std::shared_ptr<const BenchScene>& scene,
                                             const std::shared_ptr<const BenchPose>& pose,
                                             const base::Progress* progress = nullptr);

/// What of a scene a ray can meet.
struct HitOptions {
  const PosedScene* posed = nullptr;           ///< of that scene; null: at rest
  std::span<const render::Presence> presence;  ///< one a part; empty: all are whole. Others are not met
  std::optional<glm::vec4> cut;                ///< what is cut away (Renderer::cutAway) is not met
};

/// The first part that a ray meets, and where.
struct BenchHit {
  size_t part = 0;
  glm::vec3 position{0}, normal{0};
  std::array<glm::vec3, 3> corners{};  ///< of the triangle that was hit
  std::array<uint32_t, 3> vertices{};  ///< of the part's mesh, the same
  glm::vec3 share{1, 0, 0};            ///< of the corners, at the place
};
/// Nothing when it meets none. `direction` has a length of one. Cost: linear in parts, about log n of the
/// triangles.
std::optional<BenchHit> hit(std::span<const BenchPart> parts, glm::vec3 origin, glm::vec3 direction,
                            const HitOptions& options);
std::optional<BenchHit> hit(const BenchScene& scene, glm::vec3 origin, glm::vec3 direction,
                            const HitOptions& options = {});

/// What of a triangle lies nearest to a place.
enum class SnapTo : unsigned char { surface, vertex, edge_middle, face_centre };
struct Snap {
  SnapTo to = SnapTo::surface;
  glm::vec3 position{0};
};

/// How far a vertex of a part follows a bone of the scene's rig, 0 to 1; 0 for what names no bones.
float weightAt(const BenchPart& part, uint32_t vertex, int bone);

}  // namespace rakugo::app
