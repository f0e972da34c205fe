// A list of like things in an instrument: a picture, a name, an amount, and signs for what can be done there.
// Rows are painted, so that thousands cost no more than those in sight.
#pragma once

#include <QAbstractListModel>
#include <QImage>
#include <QListView>
#include <functional>
#include <vector>

#include "app/widgets/panels.h"

namespace rakugo::app {

/// Something that can be done with a row.
struct RowSign {
  Sign sign = Sign::remove;
  QString id;    ///< unique in the list: "drop-lamp/post"
  QString name;  ///< what it does, as its tip and for who hears the window
  bool operator==(const RowSign&) const = default;
};

struct ListRow {
  QString id;  ///< unique in the list: "part-lamp/post"
  QString name;
  QString amount;  ///< at the right, in quiet ink
  QString said;    ///< more of it, for who hears the window; may be empty
  int indent = 0;  ///< steps of the tree that it lies under
  bool chosen = false;
  bool faint = false;  ///< is not seen in the bench
  bool good = false;   ///< the amount is good news
  std::vector<RowSign> signs;
  bool operator==(const ListRow&) const = default;
};

/// Rows in their order. Holds what is shown of them only: whoever fills it has the things.
class RowListModel : public QAbstractListModel {
  Q_OBJECT
 public:
  enum Role { id_role = Qt::UserRole };
  explicit RowListModel(QObject* parent = nullptr) : QAbstractListModel(parent) {}
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  /// Qt::DecorationRole is the picture, asked for when it is painted.
  [[nodiscard]] QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;
  /// Brings the rows to `rows`: those of an id that is still there stay, and say that they changed where they
  /// did. Cost: linear; ids that only swap places are taken out and put in again.
  void setRows(std::vector<ListRow> rows);
  [[nodiscard]] const std::vector<ListRow>& rows() const { return rows_; }
  [[nodiscard]] QModelIndex indexOf(const QString& id) const;
  /// Gives a row's picture by its id; rows have none until this is set.
  void setPictures(std::function<QImage(const QString&)> picture_of) { picture_of_ = std::move(picture_of); }
  [[nodiscard]] bool hasPictures() const { return static_cast<bool>(picture_of_); }

 private:
  std::vector<ListRow> rows_;
  std::function<QImage(const QString&)> picture_of_;
};

/// As tall as its rows, in whatever scrolls around it. A click, Enter or the space bar chooses a row, up and
/// down go on; left and right go to its signs and back, where Enter does what the sign says.
class RowList : public QListView {
  Q_OBJECT
 public:
  RowList(const QString& id, const QString& accessible_name, QWidget* parent);
  void setRows(std::vector<ListRow> rows);
  [[nodiscard]] RowListModel& rows() { return rows_; }
  /// Brings a row into sight, in the area that scrolls around the list; nothing happens in a folded chapter.
  void revealRow(const QString& id);
  /// Where a row or a sign of that id is, in the viewport; empty when there is none.
  [[nodiscard]] QRect placeOf(const QString& id) const;
  /// Where a row's sign stands; `row` is the place of its row.
  [[nodiscard]] static QRect signPlace(const QRect& row, size_t sign, size_t count);
  /// The sign that the keyboard is at, of the current row; -1: the row itself.
  [[nodiscard]] int currentSign() const { return sign_; }
  /// The sign under the pointer, of the row under it; -1: none.
  [[nodiscard]] int pointedSign() const { return pointed_sign_; }

 Q_SIGNALS:
  void chosen(const QString& row);
  void signAsked(const QString& row, const QString& sign);
  /// The pointer is over that row; empty: over none.
  void pointedAt(const QString& row);

 protected:
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool viewportEvent(QEvent* event) override;
  void currentChanged(const QModelIndex& current, const QModelIndex& previous) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  [[nodiscard]] int signAt(const QModelIndex& index, QPoint at) const;
  RowListModel rows_;
  QString pointed_;
  int sign_ = -1, pointed_sign_ = -1;
};

}  // namespace rakugo::app
