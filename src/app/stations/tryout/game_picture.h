// The last picture of the game, as large as there is room for; what it cannot show yet it says in words.
#pragma once

#include <QImage>
#include <QWidget>

namespace rakugo::app {

class GamePicture : public QWidget {
  Q_OBJECT
 public:
  explicit GamePicture(QWidget* parent = nullptr);
  /// Null: there is none, and `words` say why.
  void show(const QImage& picture, const QString& words);
  [[nodiscard]] const QImage& picture() const { return picture_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QImage picture_;
  QString words_;
};

}  // namespace rakugo::app
