// How the game and the bench draw what a material says of its pictures: pixels of a square before the eye.
#include <QFloat16>

#include <QColor>
#include <QImage>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>

#include <gtest/gtest.h>

#include "render/renderer.h"

namespace rakugo::render {
namespace {

using bundle::PictureLookup;
using Wrap = PictureLookup::Wrap;

class DrawnMaterial : public testing::Test {
 protected:
  void SetUp() override {
    context_.setFormat(surfaceFormat());
    ASSERT_TRUE(context_.create());
    surface_.setFormat(context_.format());
    surface_.create();
    ASSERT_TRUE(context_.makeCurrent(&surface_));
    gl_ = currentGl();
    ASSERT_NE(gl_, nullptr);
    renderer_ = std::make_unique<Renderer>(gl_);
  }
  void TearDown() override {
    renderer_.reset();
    context_.doneCurrent();
  }
  // Red on the left, green on the right.
  std::shared_ptr<GpuPicture> halves(bool srgb = true) {
    bundle::Ktx2Picture p{2, 1, srgb, {}};
    for (const unsigned char c : {255, 0, 0, 255, 0, 255, 0, 255}) {
      if (p.levels.empty()) p.levels.emplace_back();
      p.levels[0].push_back(std::byte{c});
    }
    return std::make_shared<GpuPicture>(gl_, p);
  }
  // The middle of a square that looks towards the eye; every corner has the same coordinates.
  QColor middle(const DrawMaterial& material, glm::vec2 uv0, glm::vec2 uv1 = {0, 0}, float night = 0) {
    bundle::MeshPayload mesh;
    using bundle::AttributeFormat;
    using bundle::Semantic;
    mesh.stride = 40;
    mesh.attributes = {{Semantic::position, AttributeFormat::f32x3, 0},
                       {Semantic::normal, AttributeFormat::f32x3, 12},
                       {Semantic::uv0, AttributeFormat::f32x2, 24},
                       {Semantic::uv1, AttributeFormat::f32x2, 32}};
    base::ByteWriter out;
    for (const auto& [y, z] : {std::pair(-1.0F, -1.0F), {1.0F, -1.0F}, {1.0F, 1.0F}, {-1.0F, 1.0F}})
      for (const float v : {0.0F, y, z, 1.0F, 0.0F, 0.0F, uv0.x, uv0.y, uv1.x, uv1.y}) out.write<float>(v);
    mesh.vertices = out.take();
    mesh.vertex_count = 4;
    mesh.indices = {0, 1, 2, 0, 2, 3};
    mesh.submeshes = {{0, 6, 0}};
    DrawItem item;
    item.mesh = std::make_shared<GpuMesh>(gl_, mesh);
    item.submeshes = mesh.submeshes;
    item.materials = {std::make_shared<DrawMaterial>(material)};
    Camera camera;
    camera.yaw_rad = camera.pitch_rad = 0;
    camera.distance_m = 3;
    QOpenGLFramebufferObject target(QSize(32, 32), QOpenGLFramebufferObject::Depth);
    target.bind();
    gl_->glViewport(0, 0, 32, 32);
    gl_->glClearColor(0, 0, 1, 1);
    gl_->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    renderer_->lit({item}, camera, 1, Ambience::at(night));
    return target.toImage().pixelColor(16, 16);
  }
  DrawMaterial unlit() {
    DrawMaterial out;
    out.record.unlit = true;
    out.record.filter = "nearest";
    out.pictures[0] = halves();
    return out;
  }
  static bool red(QColor c) { return c.red() > 200 && c.green() < 50; }
  static bool green(QColor c) { return c.green() > 200 && c.red() < 50; }

  QOpenGLContext context_;
  QOffscreenSurface surface_;
  Gl* gl_ = nullptr;
  std::unique_ptr<Renderer> renderer_;
};

TEST_F(DrawnMaterial, PicturesAreRepeatedClampedOrMirrored) {
  DrawMaterial m = unlit();
  PictureLookup& lookup = m.record.lookups[0];
  EXPECT_TRUE(red(middle(m, {0.1F, 0.5F})));
  EXPECT_TRUE(green(middle(m, {0.9F, 0.5F})));
  EXPECT_TRUE(red(middle(m, {1.1F, 0.5F}))) << "repeated";
  lookup.wrap = {Wrap::clamp, Wrap::repeat};
  EXPECT_TRUE(green(middle(m, {1.1F, 0.5F}))) << "its last column";
  EXPECT_TRUE(red(middle(m, {-0.4F, 0.5F}))) << "its first";
  lookup.wrap = {Wrap::mirror, Wrap::repeat};
  EXPECT_TRUE(green(middle(m, {1.1F, 0.5F}))) << "backwards";
  EXPECT_TRUE(red(middle(m, {1.9F, 0.5F})));
}

TEST_F(DrawnMaterial, PicturesLieOnTheSecondCoordinatesWhereTheMaterialSaysSo) {
  DrawMaterial m = unlit();
  EXPECT_TRUE(red(middle(m, {0.1F, 0.5F}, {0.9F, 0.5F})));
  m.record.lookups[0].uv = 1;
  EXPECT_TRUE(green(middle(m, {0.1F, 0.5F}, {0.9F, 0.5F})));
}

TEST_F(DrawnMaterial, PicturesAreMovedScaledAndTurnedEachByItself) {
  DrawMaterial m = unlit();
  m.record.lookups[0].offset = {0.5F, 0};
  EXPECT_TRUE(green(middle(m, {0.1F, 0.5F})));
  m.record.lookups[0] = {};
  m.record.lookups[0].scale = {-1, 1};
  EXPECT_TRUE(green(middle(m, {0.1F, 0.5F}))) << "from the other side";
  // By a quarter counter-clockwise: what was up is left. (u, v) becomes (v, -u).
  m.record.lookups[0] = {};
  m.record.lookups[0].turn = 1.57079633F;
  EXPECT_TRUE(green(middle(m, {0.1F, 0.9F})));
  EXPECT_TRUE(red(middle(m, {0.9F, 0.1F})));
}

TEST_F(DrawnMaterial, WhatIsUnlitIsTheSameByDayAndNight) {
  const DrawMaterial m = unlit();
  EXPECT_EQ(middle(m, {0.1F, 0.5F}, {}, 0), middle(m, {0.1F, 0.5F}, {}, 1));
  DrawMaterial lit = m;
  lit.record.unlit = false;
  EXPECT_NE(middle(lit, {0.1F, 0.5F}, {}, 0), middle(lit, {0.1F, 0.5F}, {}, 1));
}

TEST_F(DrawnMaterial, OcclusionKeepsLightFromAllRoundOff) {
  DrawMaterial m;
  m.record.metallic = 0;
  m.record.filter = "nearest";
  // The red of a picture counts: all of it on the left, none on the right.
  m.pictures[3] = halves(false);
  const int open = qGray(middle(m, {0.1F, 0.5F}).rgb()), closed = qGray(middle(m, {0.9F, 0.5F}).rgb());
  EXPECT_GT(open, closed + 15);
  m.record.occlusion_strength = 0.5F;
  const int half = qGray(middle(m, {0.9F, 0.5F}).rgb());
  EXPECT_GT(half, closed + 5);
  EXPECT_LT(half, open);
  m.record.lookups[3].uv = 1;
  EXPECT_EQ(qGray(middle(m, {0.9F, 0.5F}, {0.1F, 0.5F}).rgb()), open);
}

TEST_F(DrawnMaterial, ATintTakesThePlaceOfTheOwnColour) {
  DrawMaterial m;
  m.record.unlit = true;
  m.record.base_color = {1, 0, 0, 1};
  EXPECT_TRUE(red(middle(m, {0, 0})));
  m.tint = glm::vec3(0.82F, 0.63F, 0.5F);
  const QColor skin = middle(m, {0, 0});
  EXPECT_NEAR(skin.redF(), 0.82F, 0.02F);
  EXPECT_NEAR(skin.greenF(), 0.63F, 0.02F);
  EXPECT_NEAR(skin.blueF(), 0.5F, 0.02F);
}

}  // namespace
}  // namespace rakugo::render
