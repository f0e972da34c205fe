// A frame of the bench with a million triangles: whole, and as it is drawn while the picture moves. Needs a
// display with OpenGL 3.3 (xvfb-run does).
#include <benchmark/benchmark.h>

#include <QGuiApplication>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <chrono>
#include <cmath>
#include <cstdio>

#include "app/bench/bench_scene.h"
#include "base/bytes.h"
#include "render/detail.h"
#include "render/renderer.h"

namespace {

using namespace rakugo;
constexpr int kWidth = 790, kHeight = 420;  // the bench's own size in a window of 1280 x 800

// A bumpy ball of 2 x rings x segments triangles.
app::BenchPart ball(uint32_t rings, uint32_t segments) {
  app::BenchPart part;
  bundle::MeshPayload& mesh = part.mesh;
  mesh.stride = 24;
  mesh.attributes = {{bundle::Semantic::position, bundle::AttributeFormat::f32x3, 0},
                     {bundle::Semantic::normal, bundle::AttributeFormat::f32x3, 12}};
  base::ByteWriter out;
  for (uint32_t r = 0; r <= rings; ++r)
    for (uint32_t s = 0; s <= segments; ++s) {
      const float a = static_cast<float>(r) / static_cast<float>(rings) * 3.14159265F,
                  b = static_cast<float>(s) / static_cast<float>(segments) * 6.2831853F;
      const glm::vec3 n(std::sin(a) * std::cos(b), std::sin(a) * std::sin(b), std::cos(a));
      const glm::vec3 p = n * (1.0F + 0.04F * std::sin(17 * a) * std::cos(13 * b));
      for (const glm::vec3& v : {p, n})
        for (int i = 0; i < 3; ++i) out.write<float>(v[i]);
    }
  mesh.vertices = out.take();
  mesh.vertex_count = (rings + 1) * (segments + 1);
  for (uint32_t r = 0; r < rings; ++r)
    for (uint32_t s = 0; s < segments; ++s) {
      const uint32_t i = r * (segments + 1) + s, j = i + segments + 1;
      mesh.indices.insert(mesh.indices.end(), {i, j, j + 1, i, j + 1, i + 1});
    }
  mesh.submeshes = {{0, static_cast<uint32_t>(mesh.indices.size()), 0}};
  mesh.materials = {"m"};
  return part;
}

struct Stage {
  QOffscreenSurface surface;
  QOpenGLContext context;
  std::unique_ptr<QOpenGLFramebufferObject> frame, small;
  std::unique_ptr<render::Renderer> renderer;
  std::vector<render::DrawItem> whole, quick;
  render::Camera camera;

  bool open() {
    context.setFormat(render::surfaceFormat());
    surface.setFormat(context.format());
    surface.create();
    if (!context.create() || !context.makeCurrent(&surface)) return false;
    render::Gl* gl = render::currentGl();
    if (gl == nullptr) return false;
    frame = std::make_unique<QOpenGLFramebufferObject>(kWidth, kHeight, QOpenGLFramebufferObject::Depth);
    renderer = std::make_unique<render::Renderer>(gl);
    std::vector<app::BenchPart> parts;
    parts.push_back(ball(707, 708));  // 1,001,112 triangles
    app::addCoarse(parts, app::kHeavyTriangles);
    bundle::MeshPayload both = parts[0].mesh;
    both.indices.insert(both.indices.end(), parts[0].coarse.begin(), parts[0].coarse.end());
    render::DrawItem item;
    item.mesh = std::make_shared<render::GpuMesh>(gl, both);
    item.materials = {std::make_shared<render::DrawMaterial>()};
    item.submeshes = parts[0].mesh.submeshes;
    whole = {item};
    item.submeshes = parts[0].coarse_submeshes;
    for (auto& s : item.submeshes) s.first_index += static_cast<uint32_t>(parts[0].mesh.indices.size());
    quick = {item};
    camera.fit({-1, -1, -1}, {1, 1, 1}, static_cast<float>(kWidth) / kHeight);
    return true;
  }
  // One frame in the drawing look, in a share of the pixels, and how long it took.
  double draw(const std::vector<render::DrawItem>& items, float share = 1) {
    const auto begin = std::chrono::steady_clock::now();
    camera.yaw_rad += 0.05F;
    const int w = static_cast<int>(kWidth * share), h = static_cast<int>(kHeight * share);
    QOpenGLFramebufferObject& into = share < 1 ? *small : *frame;
    render::Gl* gl = renderer->gl();
    gl->glBindFramebuffer(GL_FRAMEBUFFER, into.handle());
    gl->glViewport(0, 0, w, h);
    gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    renderer->drawing(items, {}, camera, into.handle(), w, h, {}, share);
    if (share < 1) {
      gl->glBindFramebuffer(GL_FRAMEBUFFER, frame->handle());
      gl->glViewport(0, 0, kWidth, kHeight);
      renderer->stretch(into.texture());
    }
    gl->glFinish();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin).count();
  }
};

Stage* stage = nullptr;

// As the bench does it: in as many pixels as the frames before allow.
void BM_FrameWhileMoving(benchmark::State& state) {
  render::Detail detail;
  const auto moving = [&] {
    const float share = detail.share();
    if (share < 1)
      stage->small = std::make_unique<QOpenGLFramebufferObject>(static_cast<int>(kWidth * share),
                                                                static_cast<int>(kHeight * share),
                                                                QOpenGLFramebufferObject::Depth);
    const double took = stage->draw(stage->quick, share);
    detail.frameTook(took);
    return took;
  };
  for (int i = 0; i < 12; ++i) moving();
  double quick = 0, whole = 0, empty = 0;
  for (auto _ : state) {
    empty += stage->draw({});
    whole += stage->draw(stage->whole);
    const double took = moving();
    quick += took;
    state.SetIterationTime(took / 1000);
  }
  const auto n = static_cast<double>(state.iterations());
  state.counters["of_whole"] = quick / whole;
  state.counters["of_empty"] = quick / empty;
  state.counters["of_50ms"] = quick / n / 50;
  state.counters["whole_ms"] = whole / n;
  state.counters["pixels"] = static_cast<double>(detail.share());
  state.counters["triangles"] = static_cast<double>(stage->quick[0].submeshes[0].index_count / 3);
}
BENCHMARK(BM_FrameWhileMoving)->UseManualTime()->Unit(benchmark::kMillisecond);

}  // namespace

int main(int argc, char** argv) {
  QGuiApplication program(argc, argv);
  Stage own;
  if (!own.open()) {
    std::fprintf(stderr, "rakugo-frame-bench: there is no OpenGL 3.3 here; try it under xvfb-run.\n");
    return 2;
  }
  stage = &own;
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  own.whole.clear();
  own.quick.clear();
  own.renderer.reset();
  own.small.reset();
  own.frame.reset();
  return 0;
}
