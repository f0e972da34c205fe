#include "app/stations/surface/sheet_canvas.h"

#include <QKeyEvent>
#include <QNativeGestureEvent>
#include <QPainter>
#include <cmath>

#include "app/widgets/theme.h"

namespace rakugo::app {
namespace {

constexpr double kLeast_px = 40, kMost_px = 200'000;
// More triangles than that are drawn on another thread, which takes a moment.
constexpr size_t kDrawnAtOnce = 4000;

// Squares with a mark in one corner: a drawn-out surface shows them as rectangles, a mirrored one the mark on
// the other side.
QImage checkerImage() {
  constexpr int kSide = 512, kSquares = 8, kOne = kSide / kSquares;
  QImage out(kSide, kSide, QImage::Format_RGBA8888);
  QPainter p(&out);
  for (int y = 0; y < kSquares; ++y)
    for (int x = 0; x < kSquares; ++x) {
      const QRect square(x * kOne, y * kOne, kOne, kOne);
      p.fillRect(square, (x + y) % 2 == 0 ? paperTheme().paper : paperTheme().hair);
      p.fillRect(QRect(square.topLeft() + QPoint(4, 4), QSize(10, 10)), paperTheme().click);
    }
  return out;
}

}  // namespace

SheetCanvas::SheetCanvas(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("sheet-canvas"));
  setAccessibleName(tr("Picture sheet"));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(160, 160);
}

void SheetCanvas::setPicture(BenchPicture picture) {
  if (picture == picture_) return;
  const bool fresh =
      !picture_ || !picture ||
      uint64_t{picture_->width} * picture->height != uint64_t{picture->width} * picture_->height;
  picture_ = std::move(picture);
  if (picture_ && level_ >= picture_->levels.size()) level_ = 0;
  makeImage();
  if (fresh) fit();
  update();
}

void SheetCanvas::setMap(std::shared_ptr<const SheetMap> map) {
  map_ = std::move(map);
  if (chosen_ && (!map_ || *chosen_ >= map_->triangles.size())) chosen_.reset();
  update();
}

void SheetCanvas::setChannel(SheetChannel channel) {
  channel_ = channel;
  makeImage();
  update();
}

void SheetCanvas::setLevel(size_t level) {
  level_ = picture_ && !picture_->levels.empty() ? std::min(level, picture_->levels.size() - 1) : 0;
  makeImage();
  update();
}

void SheetCanvas::setChecker(bool on) {
  checker_ = on;
  makeImage();
  update();
}

void SheetCanvas::setOutlines(bool on) {
  outlines_ = on;
  update();
}

void SheetCanvas::setFaults(bool on) {
  faults_ = on;
  update();
}

void SheetCanvas::setChosen(std::optional<size_t> triangle) {
  chosen_ = triangle;
  // What is chosen elsewhere is brought into sight.
  if (chosen_ && map_ && *chosen_ < map_->triangles.size()) {
    const auto& c = map_->triangles[*chosen_].uv;
    const QPointF at = shownAt((c[0] + c[1] + c[2]) / 3.0F);
    if (!QRectF(rect()).contains(at)) corner_ += QPointF(rect().center()) - at;
  }
  update();
}

void SheetCanvas::setPlaceholder(const QString& text) {
  placeholder_ = text;
  update();
}

void SheetCanvas::setStored(BenchPicture stored, double divider) {
  const bool other = stored != stored_;
  stored_ = std::move(stored);
  divider_ = divider;
  if (other) makeImage();
  update();
}

void SheetCanvas::setMark(const QRectF& place) {
  mark_ = place;
  if (!mark_.isEmpty()) {
    // Near enough for single pixels to be seen.
    scale_ = std::clamp(std::min(width(), height()) / 4.0 / std::max(mark_.width(), mark_.height()), scale_,
                        kMost_px);
    corner_ = QPointF(rect().center()) - mark_.center() * scale_;
    fitted_ = false;
  }
  update();
}

void SheetCanvas::makeImage() {
  image_ = checker_ ? checkerImage() : imageOf(picture_);
  stored_image_ = checker_ ? QImage() : imageOf(stored_);
}

// The chosen level and channel of a picture.
QImage SheetCanvas::imageOf(const BenchPicture& picture) const {
  if (!picture || level_ >= picture->levels.size()) return {};
  const int w = static_cast<int>(std::max(1U, picture->width >> level_)),
            h = static_cast<int>(std::max(1U, picture->height >> level_));
  const base::Bytes& pixels = picture->levels[level_];
  if (pixels.size() < static_cast<size_t>(w) * static_cast<size_t>(h) * 4) return {};
  const QImage all(reinterpret_cast<const uchar*>(pixels.data()), w, h, static_cast<qsizetype>(w) * 4,
                   QImage::Format_RGBA8888);
  if (channel_ == SheetChannel::all) return all.copy();
  const auto channel = static_cast<size_t>(channel_) - 1;
  QImage out(w, h, QImage::Format_Grayscale8);
  for (int y = 0; y < h; ++y) {
    const uchar* from = all.constScanLine(y);
    uchar* to = out.scanLine(y);
    for (int x = 0; x < w; ++x) to[x] = from[static_cast<size_t>(x) * 4 + channel];
  }
  return out;
}

QPointF SheetCanvas::shownAt(glm::vec2 uv) const {
  return corner_ + QPointF(static_cast<double>(uv.x), static_cast<double>(uv.y)) * scale_;
}

glm::vec2 SheetCanvas::placeAt(QPointF at) const {
  const QPointF p = (at - corner_) / scale_;
  return {static_cast<float>(p.x()), static_cast<float>(p.y())};
}

std::optional<QColor> SheetCanvas::valueAt(glm::vec2 uv) const {
  if (!picture_ || uv.x < 0 || uv.y < 0 || uv.x >= 1 || uv.y >= 1 || level_ >= picture_->levels.size())
    return std::nullopt;
  const uint32_t w = std::max(1U, picture_->width >> level_), h = std::max(1U, picture_->height >> level_);
  const size_t x = std::min(w - 1, static_cast<uint32_t>(uv.x * static_cast<float>(w))),
               y = std::min(h - 1, static_cast<uint32_t>(uv.y * static_cast<float>(h)));
  const base::Bytes& pixels = picture_->levels[level_];
  const size_t at = (y * w + x) * 4;
  if (at + 3 >= pixels.size()) return std::nullopt;
  const auto of = [&](size_t c) { return std::to_integer<int>(pixels[at + c]); };
  return QColor(of(0), of(1), of(2), of(3));
}

void SheetCanvas::fit() {
  scale_ = std::max(kLeast_px, std::min(width(), height()) - 24.0);
  corner_ = QPointF(width() - scale_, height() - scale_) / 2;
  fitted_ = true;
  update();
}

void SheetCanvas::zoom(double factor, QPointF about) {
  const double to = std::clamp(scale_ * factor, kLeast_px, kMost_px);
  corner_ = about + (corner_ - about) * (to / scale_);
  scale_ = to;
  fitted_ = false;
  update();
}

void SheetCanvas::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Theme& t = theme();
  p.fillRect(rect(), t.wash);
  const QRectF sheet(corner_, QSizeF(scale_, scale_));
  // Under what is transparent: two tones that no picture has by chance.
  p.fillRect(sheet, t.sheet);
  if (!image_.isNull()) {
    p.fillRect(sheet, QBrush(t.hair, Qt::Dense6Pattern));
    p.setRenderHint(QPainter::SmoothPixmapTransform, scale_ < image_.width());
    p.drawImage(sheet, image_);
  }
  if (!stored_image_.isNull() && divider_ < 1) {
    QRectF right = sheet;
    right.setLeft(sheet.left() + sheet.width() * divider_);
    p.save();
    p.setClipRect(right);
    p.fillRect(right, t.sheet);
    p.fillRect(right, QBrush(t.hair, Qt::Dense6Pattern));
    p.drawImage(sheet, stored_image_);
    p.restore();
    p.setPen(QPen(t.click, 2));
    p.drawLine(right.topLeft(), right.bottomLeft());
  }
  p.setPen(t.quiet);
  p.setBrush(Qt::NoBrush);
  p.drawRect(sheet);
  if (map_) paintMap(p);
  if (!mark_.isEmpty()) {
    p.setPen(QPen(t.stops, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(corner_ + mark_.topLeft() * scale_, mark_.size() * scale_).adjusted(-2, -2, 2, 2));
  }
  if (hasFocus()) {
    p.setPen(QPen(t.click, 2));
    p.drawRect(rect().adjusted(1, 1, -2, -2));
    // Where Enter picks.
    const QPoint middle = rect().center();
    p.drawLine(middle - QPoint(6, 0), middle + QPoint(6, 0));
    p.drawLine(middle - QPoint(0, 6), middle + QPoint(0, 6));
  }
  if (!placeholder_.isEmpty()) {
    p.setPen(t.ink);
    p.setFont(typeface(13));
    p.drawText(rect().adjusted(16, 16, -16, -16), Qt::AlignCenter | Qt::TextWordWrap, placeholder_);
  }
}

SheetView SheetCanvas::view() const {
  // Faults would hide what is compared.
  return {size(), corner_, scale_, outlines_, faults_ && !stored_, isNight(), devicePixelRatioF()};
}

bool SheetCanvas::drawn() const {
  return !map_ || map_->triangles.size() <= kDrawnAtOnce || (drawn_of_ == map_ && drawn_view_ == view());
}

// Large maps are drawn beside the window's work; what was drawn last goes with the picture until then.
void SheetCanvas::paintMap(QPainter& p) {
  const Theme& t = theme();
  if (map_->triangles.size() <= kDrawnAtOnce) {
    drawSheetMap(p, *map_, view(), t);
  } else {
    if (!drawn_.isNull() && drawn_of_ == map_) {
      const double grown = scale_ / drawn_view_.scale;
      p.drawImage(QRectF(corner_ - drawn_view_.corner * grown, QSizeF(drawn_view_.size) * grown), drawn_);
    }
    if (!drawn() && !background_.busy()) drawBeside();
  }
  if (chosen_ && *chosen_ < map_->triangles.size()) {
    p.setRenderHint(QPainter::Antialiasing);
    const auto& uv = map_->triangles[*chosen_].uv;
    const QPolygonF area({shownAt(uv[0]), shownAt(uv[1]), shownAt(uv[2])});
    p.setPen(QPen(t.paper, 5));
    p.drawPolygon(area);
    p.setPen(QPen(t.stops, 2.5));
    p.drawPolygon(area);
    // However small it is, it is found.
    p.drawEllipse(area.boundingRect().center(), 9, 9);
    p.setRenderHint(QPainter::Antialiasing, false);
  }
}

void SheetCanvas::drawBeside() {
  background_.post(
      [this, map = map_, wanted = view(), &t = theme()](base::Progress& progress) -> Background::Finish {
        QImage image(wanted.size * wanted.ratio, QImage::Format_ARGB32_Premultiplied);
        image.setDevicePixelRatio(wanted.ratio);
        image.fill(Qt::transparent);
        QPainter painter(&image);
        drawSheetMap(painter, *map, wanted, t, &progress);
        painter.end();
        return [this, map, wanted, image = std::move(image)] {
          drawn_ = image;
          drawn_of_ = map;
          drawn_view_ = wanted;
          update();  // and drawn anew, where the view has gone on
        };
      });
}

void SheetCanvas::wheelEvent(QWheelEvent* event) {
  if (event->source() != Qt::MouseEventNotSynthesized && event->device() != nullptr &&
      event->device()->type() == QInputDevice::DeviceType::TouchPad) {
    corner_ += event->pixelDelta().isNull() ? QPointF(event->angleDelta()) / 4 : QPointF(event->pixelDelta());
    fitted_ = false;
    update();
  } else {
    zoom(std::pow(1.0015, event->angleDelta().y()), event->position());
  }
  event->accept();
}

bool SheetCanvas::event(QEvent* event) {
  if (event->type() == QEvent::NativeGesture) {
    const auto* gesture = dynamic_cast<QNativeGestureEvent*>(event);
    if (gesture->gestureType() == Qt::ZoomNativeGesture) {
      zoom(1 + gesture->value(), gesture->position());
      return true;
    }
  }
  return QWidget::event(event);
}

void SheetCanvas::mousePressEvent(QMouseEvent* event) {
  pressed_ = dragged_ = event->position();
  moved_ = false;
}

void SheetCanvas::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() != Qt::NoButton) {
    moved_ = moved_ || (event->position() - pressed_).manhattanLength() > 4;
    if (moved_) {
      corner_ += event->position() - dragged_;
      fitted_ = false;
      update();
    }
    dragged_ = event->position();
  }
  Q_EMIT pointed(placeAt(event->position()));
}

void SheetCanvas::mouseReleaseEvent(QMouseEvent* event) {
  if (moved_ || event->button() != Qt::LeftButton || !map_) return;
  setChosen(triangleAt(*map_, placeAt(event->position())));
  Q_EMIT picked(chosen_);
}

void SheetCanvas::leaveEvent(QEvent*) { Q_EMIT pointed(std::nullopt); }

void SheetCanvas::keyPressEvent(QKeyEvent* event) {
  constexpr double kStep_px = 40;
  const QPointF middle = QPointF(rect().center());
  switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      return zoom(1.25, middle);
    case Qt::Key_Minus:
      return zoom(0.8, middle);
    case Qt::Key_0:
      return fit();
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
      corner_ += QPointF(event->key() == Qt::Key_Left    ? kStep_px
                         : event->key() == Qt::Key_Right ? -kStep_px
                                                         : 0,
                         event->key() == Qt::Key_Up     ? kStep_px
                         : event->key() == Qt::Key_Down ? -kStep_px
                                                        : 0);
      fitted_ = false;
      update();
      return Q_EMIT pointed(placeAt(middle));
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (map_) {
        setChosen(triangleAt(*map_, placeAt(middle)));
        Q_EMIT picked(chosen_);
      }
      return;
    default:
      QWidget::keyPressEvent(event);
  }
}

void SheetCanvas::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (fitted_) return fit();
  corner_ += QPointF(event->size().width() - event->oldSize().width(),
                     event->size().height() - event->oldSize().height()) /
             2;
}

}  // namespace rakugo::app
