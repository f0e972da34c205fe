// A scene as the graphics card holds it. All of it needs a current context.
#pragma once

#include <deque>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "app/bench/bench_scene.h"
#include "render/renderer.h"

namespace rakugo::app {

/// Pictures that the card holds, shared by all that is uploaded.
using GpuPictures = std::map<BenchPicture, std::weak_ptr<render::GpuPicture>>;

struct UploadedScene {
  std::vector<render::DrawItem> items, ghost;
  std::vector<std::vector<render::DrawItem>> pieces;  ///< of each model that pieces are, in its own space
  std::vector<render::DrawItem> quick;                ///< the items with fewer triangles where they are heavy
  std::vector<std::string> keys;
  /// Materials whose role takes a tone, and the tone that the rulebook gives.
  std::vector<std::pair<std::shared_ptr<render::DrawMaterial>, glm::vec3>> toned;
  /// Pictures that the card does not hold yet.
  struct Waiting {
    std::shared_ptr<render::DrawMaterial> material;
    size_t slot = 0;
    BenchPicture picture;
  };
  std::deque<Waiting> waiting;
  /// Materials that change with what is going on, in the order of the scene's, null for the others.
  std::vector<std::shared_ptr<render::DrawMaterial>> changing;
};

/// Uploads the meshes of a scene; pictures that `known` holds are there at once, the others wait. Materials
/// have no tone and nothing is going on: see `dressPlain`.
UploadedScene uploadScene(render::Gl* gl, const BenchScene& scene, const GpuPictures& known);
/// Brings pictures that wait to the card, about so many bytes of them; true when none waits any more.
bool bringPictures(render::Gl* gl, UploadedScene& shown, GpuPictures& known, size_t most_bytes);
/// Gives materials the rulebook's own tones, with nothing going on: the mod as it is, not as it is tried.
void dressPlain(UploadedScene& shown);

}  // namespace rakugo::app
