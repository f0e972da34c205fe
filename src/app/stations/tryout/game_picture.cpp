#include "app/stations/tryout/game_picture.h"

#include <QPainter>

#include "app/widgets/theme.h"

namespace rakugo::app {

GamePicture::GamePicture(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("game-picture"));
  setMinimumHeight(120);
  setAccessibleName(tr("What the game shows"));
}

void GamePicture::show(const QImage& picture, const QString& words) {
  picture_ = picture;
  words_ = words;
  setAccessibleDescription(words);
  update();
}

void GamePicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), theme().wash);
  if (picture_.isNull()) {
    p.setFont(typeface(13));
    p.setPen(theme().quiet);
    p.drawText(rect().adjusted(32, 16, -32, -16), Qt::AlignCenter | Qt::TextWordWrap, words_);
    return;
  }
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  const QSize size = picture_.size().scaled(this->size(), Qt::KeepAspectRatio);
  p.drawImage(QRect(QPoint((width() - size.width()) / 2, (height() - size.height()) / 2), size), picture_);
}

}  // namespace rakugo::app
