// What is written over the bench's picture: numbers on the floor's rule, dimension lines, marks, points, the
// tool at work.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/bench/bench.h"
#include "app/bench/tools/bench_tool.h"
#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {

void Bench::label(QPainter& painter, QPointF at, const QString& text, const QColor& color, bool strong) {
  painter.setFont(typeface(strong ? 13 : 12, strong));
  const QRectF box = QRectF(painter.fontMetrics().boundingRect(text)).adjusted(-5, -2, 5, 2);
  QRectF place(at.x() - box.width() / 2, at.y() - box.height() / 2, box.width(), box.height());
  const QPointF wanted = place.topLeft();
  const auto moveTo = [&](QPointF to) {
    place.moveLeft(std::clamp(to.x(), 4.0, std::max(4.0, width() - place.width() - 4)));
    place.moveTop(std::clamp(to.y(), 4.0, std::max(4.0, height() - place.height() - 4)));
    return std::none_of(labels_.begin(), labels_.end(), [&](const QRectF& l) { return l.intersects(place); });
  };
  // Below, above, and beside, in growing rings; where the picture is full the first place is as good as any.
  bool free = moveTo(wanted);
  for (int ring = 1; ring <= 5 && !free; ++ring)
    for (const QPointF& step : {QPointF(0, 1), QPointF(0, -1), QPointF(1, 0), QPointF(-1, 0)}) {
      const QPointF by(step.x() * (place.width() + 3) * ring, step.y() * (place.height() + 2) * ring);
      free = moveTo(wanted + by);
      if (free) break;
    }
  if (!free) moveTo(wanted);
  labels_.push_back(place);
  QColor ground = theme().paper;
  ground.setAlpha(225);
  painter.setPen(Qt::NoPen);
  painter.setBrush(ground);
  painter.drawRoundedRect(place, 2, 2);
  painter.setPen(color);
  painter.drawText(place, Qt::AlignCenter, text);
}

void Bench::paintOverlay(QPainter& painter) {
  labels_.clear();
  if (peek_) {
    paintCompass(painter);
    if (!peek_->bounds_m.empty()) paintDimensions(painter);
    return paintPeek(painter);
  }
  if (scene_ && !scene_->bounds_m.empty()) {
    paintCompass(painter);
    if (fall_) return paintFloorNumbers(painter);  // all else is of where it stands
    // Lengths are those of the rest pose.
    if (look_ == Look::drawing && !pose_) paintDimensions(painter);
    paintBones(painter);
    paintWeightsLegend(painter);
    paintLines(painter);
    paintPicked(painter);
    paintPoints(painter);
    paintPieces(painter);
    paintLamps(painter);
    paintSeenBox(painter);
    paintMarks(painter);
    paintTool(painter);
    paintFloorNumbers(painter);
    paintCrosshair(painter);
  }
  if (!scene_ && !waiting_says_.isEmpty()) return paintWaiting(painter);
  const QString text = !message_.isEmpty() ? message_
                       : !scene_           ? tr("Nothing to show yet. Add a model in Sources.")
                                           : QString();
  if (!text.isEmpty()) {
    painter.setFont(typeface(14));
    painter.setPen(theme().quiet);
    painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, text);
  }
}

void Bench::paintFloorNumbers(QPainter& painter) {
  const float step = floorStep();
  const glm::vec3 forward = seen().forward, side = glm::cross(seen().up, seen().forward);
  painter.setFont(typeface(11));
  painter.setPen(look_ == Look::in_game && night_ ? QColor(200, 200, 205) : theme().quiet);
  const auto write = [&](glm::vec3 at, const QString& text) {
    const auto p = project(at);
    if (!p || !QRectF(rect()).adjusted(12, 12, -12, -12).contains(*p)) return;
    // What is said of the model comes first; a number of the rule gives way.
    const QRectF place = QRectF(painter.fontMetrics().boundingRect(text)).translated(*p - QPointF(0, -4));
    const QRectF centred = place.translated(-place.width() / 2, 0);
    for (const QRectF& taken : labels_)
      if (taken.intersects(centred)) return;
    labels_.push_back(centred);
    painter.drawText(QRectF(p->x() - 40, p->y() - 8, 80, 16), Qt::AlignCenter, text);
  };
  write(forward * (arrowStart() + step * 1.5F), tr("forward"));
  // Numbers would lie on each other when the floor is seen from far or from its edge.
  const auto a = project(forward * step * 5.0F + side * step),
             b = project(forward * step * 5.0F + side * step * 2.0F);
  const bool crowded = a && b && std::hypot(a->x() - b->x(), a->y() - b->y()) < 44;
  for (int i = -5; i <= 5; ++i) {
    if (crowded && i % 5 != 0) continue;
    const QString text = q(base::lengthText(static_cast<double>(i) * step));
    write(side * (step * static_cast<float>(i)) + forward * (step * 5.3F), text);
    if (i != 0) write(forward * (step * static_cast<float>(i)) + side * (step * 5.3F), text);
  }
}

void Bench::paintDimension(QPainter& painter, glm::vec3 a, glm::vec3 b, glm::vec3 away, const QString& text) {
  const auto pa = project(a + away), pb = project(b + away), fa = project(a), fb = project(b);
  if (!pa || !pb || !fa || !fb) return;
  const QPointF d = *pb - *pa;
  const double length = std::hypot(d.x(), d.y());
  if (length < 26) return;
  painter.setPen(QPen(theme().ink, 1));
  // Extension lines from the model to just beyond the dimension line.
  painter.drawLine(*fa + (*pa - *fa) * 0.25, *fa + (*pa - *fa) * 1.12);
  painter.drawLine(*fb + (*pb - *fb) * 0.25, *fb + (*pb - *fb) * 1.12);
  painter.drawLine(*pa, *pb);
  // Slanting strokes at the ends, as on a technical drawing.
  const QPointF u = d / length, s(u.x() * 4 - u.y() * 4, u.y() * 4 + u.x() * 4);
  painter.setPen(QPen(theme().ink, 1.8));
  painter.drawLine(*pa - s, *pa + s);
  painter.drawLine(*pb - s, *pb + s);
  label(painter, (*pa + *pb) / 2, text, theme().ink, true);
}

void Bench::paintDimensions(QPainter& painter) {
  const geometry::Bounds& box = seen().bounds_m;
  // Along what the model itself calls up and forward: the gauges give the same numbers. Where that is not the
  // game's yet, each says which it is.
  const glm::vec3 forward = glm::abs(seen().own_forward), up = glm::abs(seen().own_up),
                  side = glm::abs(glm::cross(seen().own_up, seen().own_forward));
  const bool turned = seen().frame.turned;
  const auto said = [&](const QString& named, float length) {
    const QString text = q(base::lengthText(length));
    return turned ? text : named.arg(text);
  };
  const glm::vec3 size = box.size();
  // The lines stand on the side of the box that is nearest to the eye; the height at the outermost edge in
  // the picture.
  const glm::vec3 eye = camera_.position() - box.center();
  const float near_forward = glm::dot(eye, forward) >= 0 ? 1.0F : -1.0F,
              near_side = glm::dot(eye, side) >= 0 ? 1.0F : -1.0F;
  const auto corner = [&](float f, float s, float u) {
    return box.center() + size * 0.5F * (forward * f + side * s + up * u);
  };
  const float gap = glm::length(size) * 0.09F;
  paintDimension(painter, corner(-1, near_side, -1), corner(1, near_side, -1), side * near_side * gap,
                 said(tr("%1 long"), glm::dot(size, forward)));
  paintDimension(painter, corner(near_forward, -1, -1), corner(near_forward, 1, -1),
                 forward * near_forward * gap, said(tr("%1 wide"), glm::dot(size, side)));
  float best_x = -1e9F;
  glm::vec2 best(1, 1);
  for (const float f : {-1.0F, 1.0F})
    for (const float s : {-1.0F, 1.0F})
      if (const auto p = project(corner(f, s, 0)); p && p->x() > best_x)
        best_x = static_cast<float>(p->x()), best = {f, s};
  glm::vec3 away = forward * best.x + side * best.y;
  away = glm::normalize(away) * gap;
  paintDimension(painter, corner(best.x, best.y, -1), corner(best.x, best.y, 1), away,
                 said(tr("%1 high"), glm::dot(size, up)));
}

// In the lower left corner: which way the game's up and forward are from where one looks.
void Bench::paintCompass(QPainter& painter) {
  const glm::mat3 turn(camera_.view());
  const QPointF from(82, height() - 46);
  constexpr double kLong = 26;
  const QColor ground = look_ == Look::in_game && night_ ? QColor(235, 235, 240) : theme().ink;
  const std::tuple<glm::vec3, QString, int> ways[] = {
      {scene_->up, tr("up"), static_cast<int>(geometry::nearestAxis(scene_->up)) / 2},
      {scene_->forward, tr("forward"), static_cast<int>(geometry::nearestAxis(scene_->forward)) / 2}};
  painter.setFont(typeface(11, true));
  labels_.push_back(QRectF(from - QPointF(40, 40), QSizeF(80, 80)));  // numbers of the floor keep out of it
  for (const auto& [way, name, axis] : ways) {
    const glm::vec3 seen = turn * way;
    const QPointF to = from + QPointF(static_cast<double>(seen.x), -static_cast<double>(seen.y)) * kLong;
    const QColor color = look_ == Look::in_game && night_ ? ground : theme().axes[axis];
    painter.setPen(QPen(color, 2));
    painter.drawLine(from, to);
    painter.setBrush(color);
    // Towards whoever looks it is a ring, away a dot.
    painter.drawEllipse(to, 3, 3);
    const QPointF d = to - from;
    const double length = std::hypot(d.x(), d.y());
    const QRectF box = QRectF(painter.fontMetrics().boundingRect(name)).adjusted(-3, -1, 3, 1);
    const QPointF u = length > 6 ? d / length : QPointF(0, 1);
    // So far on that the name stands clear of the arrow.
    const QPointF beyond =
        to + u * (6 + std::abs(u.x()) * box.width() / 2 + std::abs(u.y()) * box.height() / 2);
    QRectF place(QPointF(beyond.x() - box.width() / 2, beyond.y() - box.height() / 2), box.size());
    if (place.left() < 4) place.moveLeft(4);
    if (place.bottom() > height() - 2) place.moveBottom(height() - 2);
    labels_.push_back(place);
    painter.drawText(place, Qt::AlignCenter, name);
  }
  painter.setPen(Qt::NoPen);
  painter.setBrush(ground);
  painter.drawEllipse(from, 2.5, 2.5);
}

void Bench::paintPeek(QPainter& painter) {
  label(painter, {width() / 2.0, 22}, peek_says_, theme().click, true);
}

// A source that is being read: its box as far as it is known, standing as it will in the middle of the bench.
void Bench::paintWaiting(QPainter& painter) {
  QRectF room = QRectF(rect()).adjusted(60, 60, -60, -90);
  if (waiting_m_ && !waiting_m_->empty() && room.width() > 0 && room.height() > 0) {
    render::Camera camera = camera_;
    camera.parallel = false;
    camera.fit(waiting_m_->min, waiting_m_->max,
               static_cast<float>(width()) / static_cast<float>(std::max(height(), 1)));
    camera.distance_m *= 1.3F;
    const auto corner = [&](int i) {
      const glm::vec3 at((i & 1) != 0 ? waiting_m_->max.x : waiting_m_->min.x,
                         (i & 2) != 0 ? waiting_m_->max.y : waiting_m_->min.y,
                         (i & 4) != 0 ? waiting_m_->max.z : waiting_m_->min.z);
      const auto seen = camera.project(at, viewSize());
      return seen ? std::optional(QPointF(seen->x, seen->y)) : std::nullopt;
    };
    painter.setPen(QPen(theme().quiet, 1.2, Qt::DashLine));
    for (int i = 0; i < 8; ++i)
      for (const int bit : {1, 2, 4})
        if ((i & bit) == 0)
          if (const auto a = corner(i), b = corner(i | bit); a && b) painter.drawLine(*a, *b);
  }
  painter.setFont(typeface(14));
  painter.setPen(theme().quiet);
  painter.drawText(rect().adjusted(40, 0, -40, -30), Qt::AlignHCenter | Qt::AlignBottom | Qt::TextWordWrap,
                   waiting_says_);
}

void Bench::paintPoints(QPainter& painter) {
  for (const BenchPoint& point : scene_->points) {
    const glm::mat4 place = placeOf(point);
    const glm::vec3 at(place[3]);
    const auto p = project(at);
    if (!p) continue;
    const bool chosen = point.id == chosen_point_;
    // The way that the point faces, so that a turn is seen: as long as a tenth of what is looked at.
    const float arm = camera_.distance_m * 0.05F;
    if (const auto tip = project(at + glm::normalize(glm::vec3(place * glm::vec4(scene_->forward, 0))) * arm);
        tip && chosen) {
      painter.setPen(QPen(theme().click, 2));
      painter.drawLine(*p, *tip);
      painter.setBrush(theme().click);
      painter.drawEllipse(*tip, 3, 3);
    }
    painter.setPen(QPen(theme().click, chosen ? 2.4 : 1.6));
    painter.setBrush(QColor(255, 255, 255, 200));
    painter.drawEllipse(*p, chosen ? 6.5 : 5, chosen ? 6.5 : 5);
    painter.drawLine(*p - QPointF(9, 0), *p + QPointF(9, 0));
    painter.drawLine(*p - QPointF(0, 9), *p + QPointF(0, 9));
    label(painter, *p + QPointF(0, -20), q(point.title), theme().click, chosen);
  }
}

void Bench::paintMarks(QPainter& painter) {
  painter.setBrush(Qt::NoBrush);
  for (size_t i = 0; i < marks_.size(); ++i) {
    const auto p = project(marks_[i]);
    if (!p) continue;
    // While one is looked at the others are small, so that it is found among many.
    if (chosen_mark_ && *chosen_mark_ != i) {
      painter.setPen(QPen(theme().stops, 1));
      painter.drawEllipse(*p, 3, 3);
      continue;
    }
    painter.setPen(QPen(theme().stops, 2));
    painter.drawEllipse(*p, 9, 9);
    painter.drawLine(*p + QPointF(6.5, -6.5), *p + QPointF(16, -16));
  }
}

void Bench::paintLines(QPainter& painter) {
  painter.setBrush(Qt::NoBrush);
  for (const Line& line : lines_) {
    QPolygonF drawn;
    for (const glm::vec3& p : line.places)
      if (const auto at = project(p)) drawn << *at;
    if (line.closed && !drawn.isEmpty()) drawn << drawn.front();
    // What is good is a thin whole line, what is not a heavy broken one.
    QPen pen(line.good ? theme().good : theme().stops, line.good ? 1.6 : 2.4);
    if (!line.good) pen.setDashPattern({4, 2});
    painter.setPen(pen);
    painter.drawPolyline(drawn);
  }
  for (const Note& note : notes_) {
    QPolygonF drawn;
    for (const glm::vec3& p : note.places)
      if (const auto at = project(p)) drawn << *at;
    painter.setPen(QPen(theme().click, 1.8));
    painter.drawPolyline(drawn);
    painter.setBrush(theme().sheet);
    for (const QPointF& p : drawn) painter.drawEllipse(p, 4, 4);
    painter.setBrush(Qt::NoBrush);
    if (drawn.size() < 2) continue;
    const QPointF at = drawn.size() == 3 ? drawn[1] + QPointF(0, 18) : (drawn[0] + drawn[1]) / 2;
    label(painter, at, note.text, theme().click, true);
  }
  for (const auto& [place, name] : names_)
    if (const auto at = project(place)) label(painter, *at, name, theme().click, true);
}

void Bench::paintPicked(QPainter& painter) {
  painter.setPen(QPen(theme().sheet, 1));
  painter.setBrush(theme().click);
  for (const glm::vec3& p : picked_)
    if (const auto at = project(p)) painter.drawRect(QRectF(at->x() - 2.5, at->y() - 2.5, 5, 5));
}

void Bench::paintTool(QPainter& painter) {
  at_work_->paint(painter);
  if (const QString asked = at_work_->prompt(); !asked.isEmpty())
    label(painter, {width() / 2.0, height() - 22.0}, asked, theme().click, true);
}

}  // namespace rakugo::app
