#include "app/bench/icon_painter.h"

#include <QPainter>
#include <cmath>

#include "formats/pictures/outline.h"
#include "formats/pictures/pictures.h"
#include "geometry/moved_box.h"
#include "mod/icon_subject.h"

namespace rakugo::app {

namespace {

QImage withOutline(const QImage& picture, double width_px, const IconLook& look) {
  const QImage straight = picture.convertToFormat(QImage::Format_RGBA8888);
  formats::Picture seen{
      static_cast<uint32_t>(straight.width()), static_cast<uint32_t>(straight.height()), {}};
  for (int y = 0; y < straight.height(); ++y) {
    const auto* row = reinterpret_cast<const std::byte*>(straight.constScanLine(y));
    seen.pixels.insert(seen.pixels.end(), row, row + static_cast<ptrdiff_t>(straight.width()) * 4);
  }
  const formats::Picture lined =
      formats::outlined(seen, width_px,
                        {static_cast<uint8_t>(look.outline.red()), static_cast<uint8_t>(look.outline.green()),
                         static_cast<uint8_t>(look.outline.blue())});
  return QImage(reinterpret_cast<const uchar*>(lined.pixels.data()), straight.width(), straight.height(),
                straight.width() * 4, QImage::Format_RGBA8888)
      .copy();
}

// What is seen, before its ground: plain, or from one colour above to another below.
QImage overGround(const QImage& picture, const IconLook& look) {
  QImage out(picture.size(), QImage::Format_ARGB32_Premultiplied);
  out.fill(look.ground);
  QPainter painter(&out);
  if (look.ground_below.isValid()) {
    QLinearGradient ground(0, 0, 0, picture.height());
    ground.setColorAt(0, look.ground);
    ground.setColorAt(1, look.ground_below);
    painter.fillRect(out.rect(), ground);
  }
  painter.drawImage(0, 0, picture);
  return out;
}

}  // namespace

IconLook iconLookOf(const rulebook::Kind& kind) {
  IconLook out;
  out.size = QSize(static_cast<int>(kind.icon_width), static_cast<int>(kind.icon_height));
  out.ground = kind.icon_clear
                   ? QColor(0, 0, 0, 0)
                   : QColor::fromRgbF(kind.icon_ground[0], kind.icon_ground[1], kind.icon_ground[2]);
  if (kind.icon_ground_below && !kind.icon_clear)
    out.ground_below = QColor::fromRgbF((*kind.icon_ground_below)[0], (*kind.icon_ground_below)[1],
                                        (*kind.icon_ground_below)[2]);
  out.yaw_rad = static_cast<float>(glm::radians(kind.icon_turn_deg));
  out.pitch_rad = static_cast<float>(glm::radians(kind.icon_rise_deg));
  out.margin = static_cast<float>(kind.icon_margin);
  out.by_night = kind.icon_by_night;
  out.outline_px = kind.icon_outline_px;
  out.outline = QColor::fromRgbF(kind.icon_outline[0], kind.icon_outline[1], kind.icon_outline[2]);
  return out;
}

QImage smallPicture(render::Renderer& renderer, std::vector<render::DrawItem> items,
                    const geometry::Bounds& box, glm::vec3 up, render::Camera camera, const IconLook& look) {
  const QSize size = look.size;
  render::Gl* gl = renderer.gl();
  constexpr int kOver = 4;  // drawn larger and averaged: the smoothest edges a small picture can have
  GLint before = 0;
  gl->glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
  render::Target frame(gl);
  frame.resize(size.width() * kOver, size.height() * kOver, {GL_RGBA8});
  camera.parallel = false;
  const float aspect = static_cast<float>(size.width()) / static_cast<float>(size.height());
  camera.fit(box.min, box.max, aspect);
  camera.distance_m *= 0.94F / (1 - 2 * look.margin);
  render::Ambience air = render::Ambience::at(look.by_night ? 1.0F : 0.0F);
  air.up = up;
  for (render::DrawItem& item : items) {
    item.selected = item.pointed = false;
    item.presence = render::Presence::whole;
  }
  renderer.cutAway({});
  renderer.shadows(items, air, box.center(), glm::length(box.size()) * 0.75F + 0.1F);
  frame.bind();
  // A line goes round what is seen, and a ground of two colours is none of OpenGL's: it comes behind
  // afterwards.
  const bool line = look.outline_px > 0, later = line || look.ground_below.isValid();
  const QColor ground = later ? QColor(0, 0, 0, 0) : look.ground;
  gl->glClearColor(static_cast<float>(ground.redF()), static_cast<float>(ground.greenF()),
                   static_cast<float>(ground.blueF()), static_cast<float>(ground.alphaF()));
  gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  renderer.lit(items, camera, aspect, air);
  gl->glBindVertexArray(0);
  // Rows come from the bottom up.
  QImage large(size * kOver, QImage::Format_RGBA8888_Premultiplied);
  gl->glReadPixels(0, 0, large.width(), large.height(), GL_RGBA, GL_UNSIGNED_BYTE, large.bits());
  large = large.mirrored(false, true).convertToFormat(QImage::Format_ARGB32_Premultiplied);
  gl->glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
  if (line) large = withOutline(large, look.outline_px * kOver, look);
  if (later) large = overGround(large, look);
  return large.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
      .convertToFormat(QImage::Format_RGBA8888);
}

QImage paintIcon(render::Renderer& renderer, UploadedScene& shown, const BenchScene& scene,
                 render::Camera camera, const IconLook& look) {
  if (scene.bounds_m.empty()) return {};
  dressPlain(shown);
  std::vector<render::DrawItem> items = shown.items;
  geometry::Bounds box = scene.bounds_m;
  for (const BenchPiece& piece : scene.pieces) {
    if (piece.model >= shown.pieces.size()) continue;
    for (render::DrawItem item : shown.pieces[piece.model]) {
      item.matrix = piece.place * item.matrix;
      items.push_back(std::move(item));
    }
    for (const BenchPart& part : scene.piece_models[piece.model].parts)
      box.add(geometry::movedBox(part.box(), piece.place * part.world));
  }
  camera.up = scene.up;
  camera.forward = scene.forward;
  camera.yaw_rad = look.yaw_rad;
  camera.pitch_rad = look.pitch_rad;
  return smallPicture(renderer, std::move(items), box, scene.up, camera, look);
}

void putIcon(mod::ModState& state, const std::string& name, const QImage& picture, const mod::ModState& seen,
             const rulebook::Rulebook& book) {
  formats::Picture raw{static_cast<uint32_t>(picture.width()), static_cast<uint32_t>(picture.height()), {}};
  raw.pixels.reserve(size_t{raw.width} * raw.height * 4);
  for (int y = 0; y < picture.height(); ++y) {
    const auto* line = reinterpret_cast<const std::byte*>(picture.constScanLine(y));
    raw.pixels.insert(raw.pixels.end(), line, line + size_t{raw.width} * 4);
  }
  auto bytes = std::make_shared<const base::Bytes>(formats::encodePng(raw));
  const std::string path = "icons/" + name + ".png";
  state.icons[path] = bytes;
  mod::ObjectDoc& object = state.objects[name];
  object.icon = path;
  object.icon_of = mod::iconSubject(seen, name, book);
}

}  // namespace rakugo::app
