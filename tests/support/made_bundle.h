// Small bundles made by hand, for tests of the stand-in game.
#pragma once

#include <algorithm>
#include <glm/glm.hpp>
#include <string>
#include <vector>

#include "bundle/bundle_writer.h"
#include "bundle/manifest.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"

namespace rakugo::test {

/// One triangle lying flat.
inline bundle::MeshPayload triangle() {
  bundle::MeshPayload mesh;
  mesh.vertex_count = 3;
  mesh.stride = 12;
  mesh.attributes = {{bundle::Semantic::position, bundle::AttributeFormat::f32x3, 0}};
  base::ByteWriter out;
  for (const glm::vec3 p : {glm::vec3(0), glm::vec3(1, 0, 0), glm::vec3(0, 1, 0)})
    for (int i = 0; i < 3; ++i) out.write<float>(p[i]);
  mesh.vertices = out.take();
  mesh.indices = {0, 1, 2};
  mesh.submeshes = {{0, 3, 0}};
  mesh.materials = {"material/plain"};
  mesh.bounds_max = {1, 1, 0};
  return mesh;
}

/// A thing that the harbour takes, of any kind.
inline bundle::ObjectRecord thing(const std::string& id, const std::string& kind) {
  bundle::ObjectRecord r;
  r.id = id;
  r.kind = kind;
  r.name = id;
  r.card = base::Json{{"price", 5}, {"wage", 5}, {"cost", 5}, {"knots", 6}};
  r.icon = "icon/x";
  r.pieces.push_back({"body", "mesh/one"});
  r.bounds_min = {-2, -0.7F, 0};
  r.bounds_max = {2, 0.7F, 1};
  return r;
}

/// One of each kind; the wreck has no helm.
inline std::vector<bundle::ObjectRecord> harbourThings() {
  auto boat = thing("boat", "craft");
  boat.points = {{"water-line", {0, 0, 0.3F}}, {"helm", {-1, 0, 1.5F}}};
  auto keeper = thing("mate", "keeper");
  keeper.points = {{"grip-right", {0.1F, -0.3F, 0.8F}}, {"eyes", {0.1F, 0, 1.5F}}};
  keeper.pieces.push_back({"chest", "mesh/one"});
  keeper.pieces.back().region = "trunk";
  auto coat = thing("coat", "coat");
  // What moves has bones, if only the one it stands on.
  for (auto* one : {&keeper, &coat}) one->rigs.push_back({"skeleton/one"});
  coat.pieces[0].region = "trunk";
  auto lantern = thing("lantern", "gear");
  lantern.points = {{"grip", {0, 0, 0.25F}}};
  return {boat, keeper, coat, lantern, thing("block", "pier-block"), thing("wreck", "craft")};
}

/// The mod "m" with these things and texts, as the bytes of a bundle.
inline base::Bytes madeBundle(const std::vector<bundle::ObjectRecord>& things,
                              const std::vector<bundle::TextsRecord>& texts = {}) {
  bundle::BundleWriter out;
  bundle::Manifest manifest{.mod_id = "m", .title = "M", .rulebook_id = "kelpwick"};
  const auto add = [&](bundle::EntryKind kind, const std::string& id, base::Bytes bytes, uint16_t minor = 0) {
    if (const auto added = out.add(kind, id, std::move(bytes), true, minor); !added)
      base::brokenPromise("a made bundle", added.error().text());
  };
  for (const auto& r : things) {
    manifest.objects.push_back("object/" + r.id);
    add(bundle::EntryKind::object, "object/" + r.id, bundle::encodeObject(r));
  }
  add(bundle::EntryKind::manifest, bundle::kManifestId, bundle::encodeManifest(manifest));
  add(bundle::EntryKind::mesh, "mesh/one", bundle::encodeMesh(triangle()));
  if (std::any_of(things.begin(), things.end(), [](const auto& r) { return !r.rigs.empty(); }))
    add(bundle::EntryKind::skeleton, "skeleton/one", bundle::encodeSkeleton({{{"stand"}}}));
  for (const bundle::TextsRecord& one : texts)
    add(bundle::EntryKind::texts, "text/" + one.language, bundle::encodeTexts(one), bundle::kMinorOfLamps);
  add(bundle::EntryKind::icon, "icon/x", base::Bytes(8, std::byte{1}));
  add(bundle::EntryKind::material, "material/plain",
      bundle::encodeMaterial(bundle::MaterialRecord{.name = "plain"}));
  return std::move(out.finish()).value();
}

}  // namespace rakugo::test
