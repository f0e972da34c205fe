// Skeletons, animations, and meshes that follow bones or have morph targets.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "bundle/animation_payload.h"
#include "bundle/bundle_reader.h"
#include "bundle/bundle_writer.h"
#include "support/made_bundle.h"

namespace rakugo::bundle {
namespace {

using base::Bytes;

SkeletonRecord skeleton() {
  SkeletonRecord out;
  out.bones = {{"root", -1, {0, 0, 1}, {0, 0, 0, 1}, {1, 1, 1}},
               {"arm", 0, {0, 0.5F, 0}, {0, 0, std::sqrt(0.5F), std::sqrt(0.5F)}, {1, 2, 1}},
               {"leg", 0, {0, -0.5F, 0}, {0, 0, 0, 1}, {1, 1, 1}}};
  return out;
}

AnimationPayload animation() {
  AnimationPayload out;
  out.length_s = 2;
  const float h = std::sqrt(0.5F);
  out.tracks.push_back(
      {"arm", TrackPath::turn, TrackBlend::linear, 4, {0, 1, 2}, {0, 0, 0, 1, 0, 0, h, h, 0, 0, 0, -1}});
  out.tracks.push_back({"root", TrackPath::position, TrackBlend::step, 3, {0, 1}, {0, 0, 1, 0, 0, 2}});
  std::vector<float> cubic(18, 0.0F);
  cubic[12] = 1;
  out.tracks.push_back({"leg", TrackPath::scale, TrackBlend::cubic, 3, {0, 2}, cubic});
  out.tracks.push_back({"leg", TrackPath::weights, TrackBlend::linear, 2, {0.5F, 1.5F}, {0, 1, 1, 0}});
  return out;
}

// A triangle whose corners follow the arm, both bones, and the leg, with one morph target.
MeshPayload bentTriangle() {
  MeshPayload mesh = test::triangle();
  mesh.stride = 40;
  mesh.attributes = {{Semantic::position, AttributeFormat::f32x3, 0},
                     {Semantic::normal, AttributeFormat::f32x3, 12},
                     {Semantic::joints, AttributeFormat::u16x4, 24},
                     {Semantic::weights, AttributeFormat::unorm16x4, 32}};
  base::ByteWriter out;
  const uint16_t shares[3][2] = {{65535, 0}, {32768, 32767}, {0, 65535}};
  for (size_t v = 0; v < 3; ++v) {
    for (const float c : {static_cast<float>(v), 0.0F, 0.0F, 0.0F, 0.0F, 1.0F}) out.write<float>(c);
    for (const uint16_t bone : {1, 2, 900, 0}) out.write<uint16_t>(bone);
    for (const uint16_t share : {shares[v][0], shares[v][1], uint16_t{0}, uint16_t{0}})
      out.write<uint16_t>(share);
  }
  mesh.vertices = out.take();
  mesh.morphs = {{"broad", 0.25F, {{0, 0, 1}, {0, 0, 2}, {0, 0, 0}}, {{1, 0, 0}, {0, 0, 0}, {0, 0, 0}}}};
  return mesh;
}

Bytes movingBundle(int bone_of_piece = -1, uint32_t bones = 3) {
  BundleWriter out;
  ObjectRecord object = test::thing("mate", "keeper");
  object.pieces[0].rig = 0;
  object.pieces[0].bone = bone_of_piece;
  object.rigs.push_back({"skeleton/mate", {0, 0, 0}, {0, 0, 0, 1}, {{"wave", "animation/mate/wave"}}});
  SkeletonRecord own = skeleton();
  own.bones.resize(bones);
  const Manifest manifest{.mod_id = "m", .rulebook_id = "kelpwick", .objects = {"object/mate"}};
  EXPECT_TRUE(out.add(EntryKind::manifest, kManifestId, encodeManifest(manifest)));
  EXPECT_TRUE(out.add(EntryKind::object, "object/mate", encodeObject(object)));
  EXPECT_TRUE(out.add(EntryKind::mesh, "mesh/one", encodeMesh(bentTriangle())));
  EXPECT_TRUE(out.add(EntryKind::skeleton, "skeleton/mate", encodeSkeleton(own)));
  EXPECT_TRUE(out.add(EntryKind::animation, "animation/mate/wave", encodeAnimation(animation())));
  EXPECT_TRUE(out.add(EntryKind::icon, "icon/x", Bytes(8, std::byte{1})));
  EXPECT_TRUE(out.add(EntryKind::material, "material/plain", encodeMaterial({})));
  return std::move(out.finish()).value();
}

TEST(MovingBundle, IsReadBackWhole) {
  const Bytes bytes = movingBundle();
  const auto bundle = Bundle::parse(bytes, "m.rkb");
  ASSERT_TRUE(bundle) << bundle.error().text();
  EXPECT_TRUE(bundle->verify().empty());
  EXPECT_EQ(base::loadAt<uint16_t>(bytes, 10), 1) << "skeletons need 1.1";
  const auto object = decodeObject(*bundle->read(*bundle->find("object/mate")), "o");
  ASSERT_EQ(object->rigs.size(), 1u);
  EXPECT_EQ(object->rigs[0].animations[0].second, "animation/mate/wave");
  EXPECT_EQ(object->pieces[0].rig, 0);
  const auto bones = decodeSkeleton(*bundle->read(*bundle->find("skeleton/mate")), "s");
  ASSERT_EQ(bones->bones.size(), 3u);
  EXPECT_EQ(bones->bones[1].name, "arm");
  EXPECT_EQ(bones->bones[1].parent, 0);
  EXPECT_EQ(bones->bones[1].scale[1], 2);
  const auto wave = decodeAnimation(*bundle->read(*bundle->find("animation/mate/wave")), "a");
  ASSERT_EQ(wave->tracks.size(), 4u);
  EXPECT_EQ(wave->tracks[2].values, animation().tracks[2].values);
  const auto mesh = decodeMesh(*bundle->read(*bundle->find("mesh/one")), "m");
  EXPECT_EQ(mesh->jointCount(), 3u) << "a bone without a weight does not count";
  EXPECT_EQ(mesh->morphs[0].name, "broad");
  EXPECT_EQ(mesh->morphs[0].positions[1][2], 2);
}

TEST(MovingBundle, WhatDoesNotMoveIsAsBefore) {
  const Bytes bytes = test::madeBundle({test::thing("a", "fitting")});
  EXPECT_EQ(base::loadAt<uint16_t>(bytes, 10), 0) << "a reader of 1.0 reads it";
  EXPECT_EQ(base::loadAt<uint32_t>(encodeMesh(test::triangle()), 4), 1u);
  EXPECT_EQ(base::loadAt<uint32_t>(encodeMesh(bentTriangle()), 4), 2u);
}

TEST(MovingBundle, BonesThatAreNotThereAreFound) {
  const auto fault = [](const Bytes& bytes) {
    const auto bundle = Bundle::parse(bytes, "m.rkb");
    return bundle ? bundle->verify() : std::vector<base::Error>{bundle.error()};
  };
  EXPECT_TRUE(fault(movingBundle(2)).empty());
  ASSERT_EQ(fault(movingBundle(3)).size(), 1u);
  EXPECT_EQ(fault(movingBundle(3))[0].code, "bundle.dangling");
  ASSERT_EQ(fault(movingBundle(-1, 2)).size(), 1u) << "the mesh names the third";
}

TEST(Skeleton, ParentsStandBeforeTheirChildren) {
  SkeletonRecord wrong = skeleton();
  wrong.bones[0].parent = 2;
  EXPECT_EQ(decodeSkeleton(encodeSkeleton(wrong), "s").error().code, "bundle.record");
  EXPECT_EQ(decodeSkeleton(encodeSkeleton(wrong), "s").error().place.path, "/bones/0/parent");
  EXPECT_FALSE(decodeSkeleton(encodeSkeleton({}), "s"));
  wrong = skeleton();
  wrong.bones[1].turn = {1, 1, 1, 1};
  EXPECT_FALSE(decodeSkeleton(encodeSkeleton(wrong), "s"));
  ObjectRecord object = test::thing("a", "keeper");
  object.pieces[0].rig = 0;
  EXPECT_EQ(decodeObject(encodeObject(object), "o").error().place.path, "/pieces/0/rig");
}

TEST(AnimationValues, FollowTheKeys) {
  const AnimationPayload a = animation();
  // Half way of a quarter turn is an eighth, and the shorter arc is taken to the last key.
  const std::vector<float> half = valueAt(a.tracks[0], 0.5F), late = valueAt(a.tracks[0], 1.5F);
  EXPECT_NEAR(half[2], std::sin(3.14159265 / 8), 1e-5);
  EXPECT_NEAR(half[3], std::cos(3.14159265 / 8), 1e-5);
  EXPECT_NEAR(std::abs(late[3]), std::cos(3.14159265 / 8), 1e-5);
  EXPECT_EQ(valueAt(a.tracks[1], 0.999F)[2], 1);
  EXPECT_EQ(valueAt(a.tracks[1], 1)[2], 2);
  EXPECT_NEAR(valueAt(a.tracks[2], 1)[0], 0.5, 1e-6);
  EXPECT_NEAR(valueAt(a.tracks[2], 0.5F)[0], 5.0 / 32, 1e-6);
  EXPECT_EQ(valueAt(a.tracks[3], 0), (std::vector<float>{0, 1}));
  EXPECT_EQ(valueAt(a.tracks[3], 1), (std::vector<float>{0.5F, 0.5F}));
  EXPECT_EQ(valueAt(a.tracks[3], 9), (std::vector<float>{1, 0}));
}

TEST(Morphed, AddsSharesOfTheTargets) {
  const MeshPayload mesh = bentTriangle();
  const auto z = [&](const Bytes& vertices, size_t v) { return base::loadAt<float>(vertices, v * 40 + 8); };
  EXPECT_EQ(z(morphed(mesh, {}), 1), 0.5F) << "its own weight";
  EXPECT_EQ(z(morphed(mesh, {1}), 1), 2);
  EXPECT_EQ(morphed(mesh, {0}), mesh.vertices);
  const Bytes whole = morphed(mesh, {1});
  EXPECT_NEAR(base::loadAt<float>(whole, 12), std::sqrt(0.5F), 1e-6) << "normals are unit again";
}

// Whatever is cut off or changed: an error or a payload that holds what it promises; never more.
TEST(MovingPayloads, CutOffAnywhereAreRefused) {
  const Bytes mesh = encodeMesh(bentTriangle()), moves = encodeAnimation(animation());
  for (size_t n = 0; n < mesh.size(); ++n) EXPECT_FALSE(decodeMesh(base::ByteSpan(mesh).first(n), "m")) << n;
  for (size_t n = 0; n < moves.size(); ++n) {
    const auto read = decodeAnimation(base::ByteSpan(moves).first(n), "a");
    ASSERT_FALSE(read) << n;
    EXPECT_EQ(read.error().code, "bundle.animation");
    EXPECT_LE(read.error().place.offset, static_cast<int64_t>(n));
  }
}

TEST(MovingPayloads, FlippedBytesNeverBreakAPromise) {
  std::mt19937 random(17);
  const Bytes mesh = encodeMesh(bentTriangle()), moves = encodeAnimation(animation());
  for (int i = 0; i < 4000; ++i) {
    Bytes a = mesh, b = moves;
    for (int k = 0; k < 3; ++k) {
      a[random() % a.size()] = static_cast<std::byte>(random());
      b[random() % b.size()] = static_cast<std::byte>(random());
    }
    if (const auto read = decodeMesh(a, "m")) {
      for (const MorphPayload& morph : read->morphs) EXPECT_EQ(morph.positions.size(), read->vertex_count);
      (void)read->jointCount();
      (void)morphed(*read, {0.5F});
    }
    if (const auto read = decodeAnimation(b, "a"))
      for (const Track& track : read->tracks) {
        EXPECT_FALSE(track.times_s.empty());
        EXPECT_EQ(valueAt(track, 0.7F).size(), track.width);
      }
  }
}

TEST(MovingPayloads, WhatTheyMayNotHoldIsNamed) {
  const auto code = [](const AnimationPayload& a) {
    const auto read = decodeAnimation(encodeAnimation(a), "a");
    return read ? std::string() : read.error().message;
  };
  AnimationPayload a = animation();
  a.tracks[0].times_s = {0, 1, 1};
  EXPECT_THAT(code(a), testing::HasSubstr("do not ascend"));
  a = animation();
  a.tracks[0].values[0] = NAN;
  EXPECT_THAT(code(a), testing::HasSubstr("not a number"));
  a = animation();
  a.tracks[0].width = 3;
  EXPECT_THAT(code(a), testing::HasSubstr("size of a track"));
  MeshPayload mesh = bentTriangle();
  mesh.attributes.pop_back();
  EXPECT_THAT(decodeMesh(encodeMesh(mesh), "m").error().message, testing::HasSubstr("bones without weights"));
  mesh = bentTriangle();
  mesh.morphs[0].positions[0][0] = INFINITY;
  EXPECT_THAT(decodeMesh(encodeMesh(mesh), "m").error().message, testing::HasSubstr("not a number"));
}

}  // namespace
}  // namespace rakugo::bundle
