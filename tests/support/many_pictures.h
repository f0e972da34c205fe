// A model of many materials with large pictures.
#pragma once

#include <string>

#include "formats/pictures/pictures.h"
#include "support/large_model.h"

namespace rakugo::test {

/// `materials` boxes, each with a material of its own: a picture for its colour and one for metal and
/// roughness, `side` pixels each, no two alike.
inline scene::Model manyPictures(int materials, uint32_t side) {
  scene::Model model;
  const auto picture = [&](int number) {
    formats::Picture out{side, side, base::Bytes(size_t{side} * side * 4, std::byte{255})};
    for (uint32_t y = 0; y < side; ++y)
      for (uint32_t x = 0; x < side; ++x) {
        std::byte* pixel = out.pixels.data() + (size_t{y} * side + x) * 4;
        pixel[0] = static_cast<std::byte>(number * 2);
        pixel[1] = static_cast<std::byte>((x / 64 + y / 64) % 2 * 90 + 60);
        pixel[2] = static_cast<std::byte>(x / 8);
      }
    model.images.push_back({"picture_" + std::to_string(number), "", "image/png",
                            std::make_shared<const base::Bytes>(formats::encodePng(out))});
    return scene::ImageIndex(model.images.size() - 1);
  };
  for (int i = 0; i < materials; ++i) {
    scene::Material material;
    material.name = "cloth_" + std::to_string(i);
    material.base_color_texture.image = picture(2 * i);
    material.metallic_roughness_texture.image = picture(2 * i + 1);
    model.materials.push_back(std::move(material));
    scene::Primitive box = boxOf(0.3F);
    for (const glm::vec3& p : box.positions) {
      box.normals.push_back(glm::normalize(p));
      box.uvs[0].emplace_back(p.x + 0.5F + p.z * 0.3F, p.y + 0.5F);
    }
    box.material = scene::MaterialIndex(static_cast<size_t>(i));
    scene::Mesh mesh;
    mesh.primitives.push_back(std::move(box));
    model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
    scene::Node node;
    node.name = "bale_" + std::to_string(i);
    node.mesh = scene::MeshIndex(static_cast<size_t>(i));
    node.local.position = {0.4F * static_cast<float>(i % 8), 0, 0.4F * static_cast<float>(i / 8)};
    model.roots.emplace_back(model.nodes.size());
    model.nodes.push_back(std::move(node));
  }
  scene::assignKeys(model);
  return model;
}

}  // namespace rakugo::test
