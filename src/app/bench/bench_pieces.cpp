// The other pieces of the object that is shown, round the model.
#include <QPainter>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "app/bench/bench.h"
#include "app/widgets/theme.h"
#include "geometry/moved_box.h"

namespace rakugo::app {

void Bench::setPiecesShown(bool shown, const std::string& chosen) {
  pieces_shown_ = shown;
  chosen_piece_ = shown ? chosen : std::string();
  if (!shown) piece_places_.clear();
  update();
}

void Bench::setPiecePlaces(std::map<std::string, glm::mat4> places) {
  if (places.empty() && piece_places_.empty()) return;
  piece_places_ = std::move(places);
  rest_.start();
  update();
}

glm::mat4 Bench::placeOf(const BenchPiece& piece) const {
  const auto moved = piece_places_.find(piece.name);
  return moved != piece_places_.end() ? moved->second : piece.place;
}

std::vector<render::DrawItem> Bench::withPieces(
    const std::vector<render::DrawItem>& items,
    const std::vector<std::vector<render::DrawItem>>& models) const {
  std::vector<render::DrawItem> out = items;
  if (!pieces_shown_ || !scene_) return out;
  glm::mat4 move(1);
  const BenchLamp* moving = movedNow(move);
  const auto moves = [&](const std::string& piece, const std::string& part) {
    if (moving == nullptr) return false;
    if (moving->moving->pieces.count(piece) != 0) return true;
    const auto parts = moving->moving->parts.find(piece);
    return parts != moving->moving->parts.end() && parts->second.count(part) != 0;
  };
  for (const BenchPiece& piece : scene_->pieces)
    if (piece.model >= models.size())
      for (size_t i = 0; i < out.size() && i < scene_->parts.size(); ++i)
        if (moves(piece.name, scene_->parts[i].key)) out[i].matrix = move * out[i].matrix;
  for (const BenchPiece& piece : scene_->pieces) {
    if (piece.model >= models.size()) continue;
    const glm::mat4 place = placeOf(piece);
    const std::vector<BenchPart>& parts = scene_->piece_models[piece.model].parts;
    for (size_t i = 0; i < models[piece.model].size(); ++i) {
      render::DrawItem item = models[piece.model][i];
      item.matrix = place * item.matrix;
      if (i < parts.size() && moves(piece.name, parts[i].key)) item.matrix = move * item.matrix;
      item.selected = piece.name == chosen_piece_;
      out.push_back(std::move(item));
    }
  }
  return out;
}

std::vector<render::DrawItem> Bench::withHung(
    std::vector<render::DrawItem> items, const std::vector<std::vector<render::DrawItem>>& models) const {
  // The object falls by itself.
  if (!scene_ || fall_ || (!pieces_shown_ && !pose_)) return items;
  for (const BenchHung& hung : scene_->hung) {
    if (hung.model >= models.size()) continue;
    const glm::mat4 place = boneMove(hung.bone) * hung.place;
    for (render::DrawItem item : models[hung.model]) {
      item.matrix = place * item.matrix;
      items.push_back(std::move(item));
    }
  }
  return items;
}

void Bench::addPieceBounds(geometry::Bounds& box) const {
  if (!pieces_shown_ || !scene_) return;
  for (const BenchPiece& piece : scene_->pieces) {
    if (piece.model >= scene_->piece_models.size()) continue;
    for (const BenchPart& part : scene_->piece_models[piece.model].parts)
      box.add(geometry::movedBox(part.box(), placeOf(piece) * part.world));
  }
}

void Bench::setFall(std::optional<glm::mat4> move) {
  if (!move && !fall_) return;
  fall_ = move;
  // Drawn as while the view moves, and whole again when it lies.
  rest_.start();
  update();
}

void Bench::setMoved(const std::string& piece, float angle_rad) {
  if (piece == moved_piece_ && angle_rad == moved_rad_) return;
  moved_piece_ = piece;
  moved_rad_ = piece.empty() ? 0 : angle_rad;
  rest_.start();
  update();
}

void Bench::setSeenBoxShown(bool shown) {
  seen_box_ = shown;
  update();
}

void Bench::paintSeenBox(QPainter& painter) {
  if (!seen_box_ || !scene_ || scene_->seen_m.empty()) return;
  const auto corner = [&](int i) {
    const geometry::Bounds& box = scene_->seen_m;
    const glm::vec4 at((i & 1) != 0 ? box.max.x : box.min.x, (i & 2) != 0 ? box.max.y : box.min.y,
                       (i & 4) != 0 ? box.max.z : box.min.z, 1);
    return project(glm::vec3(scene_->from_object * at));
  };
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme().click, 1.2, Qt::DashDotLine));
  for (int i = 0; i < 8; ++i)
    for (const int side : {1, 2, 4}) {
      if ((i & side) != 0) continue;
      const auto a = corner(i), b = corner(i | side);
      if (a && b) painter.drawLine(*a, *b);
    }
}

const BenchLamp* Bench::movedNow(glm::mat4& move) const {
  if (moved_piece_.empty() || !scene_) return nullptr;
  for (const BenchLamp& one : scene_->lamps) {
    if (one.name != moved_piece_ || !one.moving) continue;
    const auto placed = piece_places_.find(one.name);
    const glm::mat4& place = placed != piece_places_.end() ? placed->second : one.place;
    move = glm::rotate(place, moved_rad_, scene_->forward) * glm::inverse(place);
    return &one;
  }
  return nullptr;
}

void Bench::setChosenPoint(const std::string& point, std::map<std::string, glm::mat4> places) {
  if (point == chosen_point_ && places.empty() && point_places_.empty()) return;
  chosen_point_ = point;
  if (!places.empty()) rest_.start();
  point_places_ = std::move(places);
  update();
}

glm::mat4 Bench::placeOf(const BenchPoint& point) const {
  const auto moved = point_places_.find(point.id);
  return boneMove(point.bone) *
         (moved != point_places_.end()
              ? moved->second
              : glm::translate(glm::mat4(1), point.position_m) * glm::mat4_cast(point.turn));
}

std::string Bench::pointUnder(QPointF at) const {
  constexpr double kReached_px = 9;
  if (!pieces_shown_ || !scene_ || peek_) return {};
  std::string out;
  double nearest = kReached_px;
  for (const BenchPoint& point : scene_->points)
    if (const auto p = project(glm::vec3(placeOf(point)[3])))
      if (const double apart = std::hypot(p->x() - at.x(), p->y() - at.y()); apart < nearest)
        nearest = apart, out = point.id;
  return out;
}

std::string Bench::pieceUnder(QPointF at) const {
  if (!pieces_shown_ || !scene_ || pose_ || peek_) return {};
  if (std::string lamp = lampUnder(at); !lamp.empty()) return lamp;
  glm::vec3 origin, direction;
  rayAt(at, origin, direction);
  std::string out;
  float nearest = std::numeric_limits<float>::infinity();
  if (const auto own = hit(*scene_, origin, direction, hitOptions())) {
    nearest = glm::distance(own->position, origin);
    for (const BenchPiece& piece : scene_->pieces)
      if (piece.model >= scene_->piece_models.size() && out.empty()) out = piece.name;
  }
  for (const BenchPiece& piece : scene_->pieces) {
    if (piece.model >= scene_->piece_models.size()) continue;
    const glm::mat4 back = glm::inverse(placeOf(piece));
    const glm::vec3 from(back * glm::vec4(origin, 1)), toward(back * glm::vec4(direction, 0));
    const auto found = hit(scene_->piece_models[piece.model].parts, from, glm::normalize(toward), {});
    if (!found) continue;
    const float away = glm::distance(glm::vec3(placeOf(piece) * glm::vec4(found->position, 1)), origin);
    if (away >= nearest) continue;
    nearest = away;
    out = piece.name;
  }
  return out;
}

// A cross at the origin of each piece; the chosen one is named.
void Bench::paintPieces(QPainter& painter) {
  if (!pieces_shown_ || scene_->pieces.size() + scene_->lamps.size() < 2) return;
  for (const BenchPiece& piece : scene_->pieces) {
    const auto at = project(glm::vec3(placeOf(piece)[3]));
    if (!at) continue;
    const bool chosen = piece.name == chosen_piece_;
    painter.setPen(QPen(chosen ? theme().click : theme().quiet, chosen ? 2 : 1.2));
    const qreal arm = chosen ? 8 : 5;
    painter.drawLine(*at - QPointF(arm, arm), *at + QPointF(arm, arm));
    painter.drawLine(*at - QPointF(arm, -arm), *at + QPointF(arm, -arm));
    if (chosen) label(painter, *at + QPointF(0, 20), q(piece.name), theme().click, true);
  }
}

}  // namespace rakugo::app
