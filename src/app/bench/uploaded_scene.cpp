#include "app/bench/uploaded_scene.h"

namespace rakugo::app {

bool bringPictures(render::Gl* gl, UploadedScene& shown, GpuPictures& known, size_t most_bytes) {
  size_t brought = 0;
  while (!shown.waiting.empty() && brought < most_bytes) {
    const UploadedScene::Waiting next = std::move(shown.waiting.front());
    shown.waiting.pop_front();
    auto& held = known[next.picture];
    std::shared_ptr<render::GpuPicture> gpu = held.lock();
    if (!gpu) {
      gpu = std::make_shared<render::GpuPicture>(gl, *next.picture);
      held = gpu;
      for (const base::Bytes& level : next.picture->levels) brought += level.size();
    }
    next.material->pictures[next.slot] = std::move(gpu);
  }
  return shown.waiting.empty();
}

UploadedScene uploadScene(render::Gl* gl, const BenchScene& scene, const GpuPictures& known) {
  UploadedScene out;
  std::vector<std::shared_ptr<render::DrawMaterial>> materials;
  for (const BenchMaterial& m : scene.materials) {
    auto made = std::make_shared<render::DrawMaterial>();
    made->record = m.record;
    if (m.tint) out.toned.emplace_back(made, *m.tint);
    made->glows = m.glows;
    out.changing.push_back(m.own ? made : nullptr);
    for (size_t i = 0; i < m.pictures.size(); ++i) {
      if (!m.pictures[i]) continue;
      // What the card holds from the scene before is there at once.
      const auto held = known.find(m.pictures[i]);
      if (held != known.end()) made->pictures[i] = held->second.lock();
      if (!made->pictures[i]) out.waiting.push_back({made, i, m.pictures[i]});
    }
    materials.push_back(std::move(made));
  }
  const auto add = [&](const std::vector<BenchPart>& parts, std::vector<render::DrawItem>& items) {
    for (const BenchPart& part : parts) {
      render::DrawItem item;
      if (part.coarse.empty()) {
        item.mesh = std::make_shared<render::GpuMesh>(gl, part.mesh);
      } else {
        // Both in one buffer, the fine ones first.
        bundle::MeshPayload both = part.mesh;
        both.indices.insert(both.indices.end(), part.coarse.begin(), part.coarse.end());
        item.mesh = std::make_shared<render::GpuMesh>(gl, both);
      }
      item.submeshes = part.mesh.submeshes;
      for (const size_t m : part.materials) item.materials.push_back(materials[m]);
      item.matrix = part.world;
      items.push_back(std::move(item));
    }
  };
  add(scene.parts, out.items);
  add(scene.ghost, out.ghost);
  for (const BenchPieceModel& of : scene.piece_models) add(of.parts, out.pieces.emplace_back());
  for (size_t i = 0; i < scene.parts.size(); ++i) {
    const BenchPart& part = scene.parts[i];
    out.keys.push_back(part.key);
    out.quick.push_back(out.items[i]);
    if (part.coarse.empty()) continue;
    out.quick[i].submeshes = part.coarse_submeshes;
    for (bundle::Submesh& s : out.quick[i].submeshes)
      s.first_index += static_cast<uint32_t>(part.mesh.indices.size());
  }
  return out;
}

void dressPlain(UploadedScene& shown) {
  for (const auto& [material, own] : shown.toned) material->tint = own;
  for (const auto& material : shown.changing)
    if (material) material->effect = render::LookEffect();
}

}  // namespace rakugo::app
