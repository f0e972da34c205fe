// The lamps, emitters, shapes, sounds and moving parts of the object that is shown: their signs, their light,
// what they send out.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <glm/gtc/constants.hpp>
#include <glm/gtc/quaternion.hpp>

#include "app/bench/bench.h"
#include "app/widgets/theme.h"
#include "geometry/hull.h"
#include "packing/object_placing.h"
#include "render/lamps.h"
#include "render/particles.h"

namespace rakugo::app {
namespace {

constexpr double kSign_px = 7, kReached_px = 11;

// In metres, which the bench is in.
bundle::ObjectLamp recordOf(const prepare::LampValues& says) { return packing::lampRecord(says, 1); }

}  // namespace

glm::mat4 Bench::placeOf(const BenchLamp& lamp) const {
  const auto dragged = piece_places_.find(lamp.name);
  const glm::mat4& place = dragged != piece_places_.end() ? dragged->second : lamp.place;
  glm::mat4 move(1);
  const BenchLamp* moving = movedNow(move);
  return moving != nullptr && moving->moving->pieces.count(lamp.name) != 0 ? move * place : place;
}

void Bench::addLamps(render::Ambience& air) const {
  for (const BenchLamp& lamp : scene_->lamps) {
    if (!lamp.lamp) continue;
    // What is lit in another moment than always is seen by night.
    const float on = lamp.lamp->lit == "always" || night_ ? 1.0F : 0.0F;
    if (const auto light =
            render::lightOf(recordOf(*lamp.lamp), placeOf(lamp), scene_->forward, on, night_ ? 1.0F : 0.0F))
      air.lights.push_back(*light);
  }
}

// As many as there are once as many leave as go: a still picture.
std::vector<render::ParticleSprite> Bench::particles() const {
  std::vector<render::RunningEmitter> running;
  float longest_s = 0;
  for (const BenchLamp& one : scene_->lamps) {
    if (!one.emitter || (one.emitter->runs == "night" && !night_)) continue;
    running.push_back({one.name, packing::emitterRecord(*one.emitter, 1), placeOf(one), 1});
    longest_s = std::max(longest_s, one.emitter->life_s);
  }
  if (running.empty()) return {};
  render::ParticleCloud cloud;
  constexpr float kStep_s = 0.1F;
  for (float t = 0; t < longest_s; t += kStep_s) cloud.pass(running, scene_->up, kStep_s);
  return cloud.sprites();
}

std::string Bench::lampUnder(QPointF at) const {
  std::string out;
  double nearest = kReached_px;
  for (const BenchLamp& lamp : scene_->lamps) {
    const auto p = project(glm::vec3(placeOf(lamp)[3]));
    if (!p) continue;
    const QPointF d = *p - at;
    if (const double apart = std::hypot(d.x(), d.y()); apart < nearest) nearest = apart, out = lamp.name;
  }
  return out;
}

// A lamp is a diamond with a dot, and its beam where it has one; an emitter three dots that grow the way it
// sends. The chosen one is named.
void Bench::paintLamps(QPainter& painter) {
  if (!pieces_shown_ || !scene_) return;
  for (const BenchLamp& one : scene_->lamps) {
    const glm::mat4 place = placeOf(one);
    const glm::vec3 from(place[3]);
    const auto at = project(from);
    if (!at) continue;
    const bool chosen = one.name == chosen_piece_;
    const QColor ink = chosen ? theme().click : theme().ink;
    if (one.shape) paintShape(painter, *one.shape, place, chosen);
    painter.setPen(QPen(ink, chosen ? 2 : 1.4));
    painter.setBrush(theme().paper);
    if (one.lamp) {
      const double r = kSign_px;
      painter.drawPolygon(
          QPolygonF({*at + QPointF(0, -r), *at + QPointF(r, 0), *at + QPointF(0, r), *at + QPointF(-r, 0)}));
      painter.setBrush(ink);
      painter.drawEllipse(*at, 2, 2);
      if (one.lamp->cone_deg < 359.5F) paintBeam(painter, one, place, chosen);
    } else if (one.emitter) {
      const glm::vec3 way = glm::normalize(glm::mat3(place) * scene_->up);
      const auto tip = project(from + way * std::max(0.05F, glm::length(scene_->bounds_m.size()) * 0.06F));
      const QPointF step = tip ? *tip - *at : QPointF(0, -10);
      const double length = std::max(1.0, std::hypot(step.x(), step.y()));
      for (int i = 0; i < 3; ++i)
        painter.drawEllipse(*at + step / length * (i * 9.0), 2.0 + i * 1.5, 2.0 + i * 1.5);
    }
    if (one.moving) paintMoving(painter, place, *at, chosen);
    if (one.sound) paintHeard(painter, *one.sound, from, *at, chosen);
    if (one.shape) painter.drawRect(QRectF(*at - QPointF(4, 4), QSizeF(8, 8)));
    painter.setBrush(Qt::NoBrush);
    if (chosen) label(painter, *at + QPointF(0, 22), q(one.name), theme().click, true);
  }
}

// Three quarters of a ring with a tip. Of the chosen one, the line that it goes round.
void Bench::paintMoving(QPainter& painter, const glm::mat4& place, QPointF at, bool chosen) {
  const QRectF ring(at - QPointF(kSign_px, kSign_px), QSizeF(2 * kSign_px, 2 * kSign_px));
  painter.setBrush(Qt::NoBrush);
  painter.drawArc(ring, 60 * 16, 270 * 16);
  const QPointF tip = at + QPointF(kSign_px * 0.87, kSign_px * 0.5);
  painter.drawLine(tip, tip + QPointF(-5, 1));
  painter.drawLine(tip, tip + QPointF(2, 5));
  if (!chosen) return;
  const glm::vec3 from(place[3]), way = glm::normalize(glm::mat3(place) * scene_->forward);
  const float reach = std::max(0.05F, glm::length(scene_->bounds_m.size()) * 0.3F);
  const auto a = project(from - way * reach), b = project(from + way * reach);
  if (!a || !b) return;
  painter.setPen(QPen(theme().click, 1.2, Qt::DashDotLine));
  painter.drawLine(*a, *b);
  painter.setPen(QPen(theme().click, 2));
}

// A drum from the side with two waves. Of the chosen one, how far round it is at its full, and how far it is
// heard, where that is not far beyond the model.
void Bench::paintHeard(QPainter& painter, const prepare::SoundValues& sound, glm::vec3 from, QPointF at,
                       bool chosen) {
  painter.drawRect(QRectF(at - QPointF(7, 4), QSizeF(5, 8)));
  painter.setBrush(Qt::NoBrush);
  for (const double r : {4.0, 8.0})
    painter.drawArc(QRectF(at - QPointF(r, r), QSizeF(2 * r, 2 * r)), -50 * 16, 100 * 16);
  if (!chosen) return;
  const glm::vec3 across = glm::normalize(glm::cross(scene_->up, scene_->forward));
  const float most = 4 * glm::length(scene_->bounds_m.size());
  for (const double radius : {sound.near_m, sound.far_m}) {
    if (static_cast<float>(radius) > most) continue;
    QPolygonF circle;
    for (int i = 0; i <= 64; ++i) {
      const float a = static_cast<float>(i) / 64 * glm::two_pi<float>();
      if (const auto p = project(from + static_cast<float>(radius) *
                                            (std::cos(a) * scene_->forward + std::sin(a) * across)))
        circle << *p;
    }
    painter.setPen(QPen(theme().click, 1.2, radius == sound.near_m ? Qt::SolidLine : Qt::DotLine));
    painter.drawPolyline(circle);
  }
}

// Its edges, and, of the chosen one, what it covers hatched.
void Bench::paintShape(QPainter& painter, const BenchShape& shape, const glm::mat4& place, bool chosen) {
  std::vector<std::optional<QPointF>> corners;
  for (const glm::vec3& v : shape.mesh.corners)
    corners.push_back(project(glm::vec3(place * glm::vec4(v, 1))));
  const QColor ink = chosen ? theme().click : theme().quiet;
  const bool whole = std::all_of(corners.begin(), corners.end(), [](const auto& p) { return p.has_value(); });
  if (chosen && shape.says.form != "mesh" && whole) {
    // The outline of each convex body.
    QPainterPath outlines;
    outlines.setFillRule(Qt::WindingFill);
    size_t from = 0;
    for (size_t body = 0; body < std::max<size_t>(1, shape.mesh.ends.size()); ++body) {
      const size_t end = shape.mesh.ends.empty() ? corners.size() : shape.mesh.ends[body].corners;
      std::vector<glm::dvec2> seen;
      for (; from < end; ++from) seen.emplace_back(corners[from]->x(), corners[from]->y());
      QPolygonF outline;
      for (const glm::dvec2& p : geometry::convexOutline(std::move(seen))) outline << QPointF(p.x, p.y);
      outlines.addPolygon(outline);
    }
    QColor faint = ink;
    faint.setAlpha(110);
    painter.fillPath(outlines, QBrush(faint, Qt::FDiagPattern));
  }
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(ink, chosen ? 1.4 : 1, chosen ? Qt::SolidLine : Qt::DotLine));
  for (const auto& [a, b] : shape.edges)
    if (corners[a] && corners[b]) painter.drawLine(*corners[a], *corners[b]);
}

// Both sides of the cone, as far as the light reaches or the model is large.
void Bench::paintBeam(QPainter& painter, const BenchLamp& lamp, const glm::mat4& place, bool chosen) {
  const glm::vec3 from(place[3]), along = glm::normalize(glm::mat3(place) * scene_->forward);
  const float length =
      std::min(lamp.lamp->reach_m, glm::length(scene_->bounds_m.size()) * (chosen ? 0.5F : 0.18F));
  const float half = glm::radians(std::min(lamp.lamp->cone_deg, 340.0F)) / 2;
  // Across the beam, as level as it can be.
  glm::vec3 about = scene_->up - along * glm::dot(scene_->up, along);
  if (glm::length(about) < 1e-3F) about = scene_->forward - along * glm::dot(scene_->forward, along);
  about = glm::normalize(about);
  painter.setPen(QPen(chosen ? theme().click : theme().quiet, 1, Qt::DashLine));
  for (const float side : {-1.0F, 1.0F}) {
    const glm::vec3 turned = glm::angleAxis(half * side, about) * along;
    const auto a = project(from), b = project(from + turned * length);
    if (a && b) painter.drawLine(*a, *b);
  }
}

}  // namespace rakugo::app
