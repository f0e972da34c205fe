// The rows of the contents, painted: a small picture, a name, what it is, and a mark of its state.
#pragma once

#include <QListView>
#include <QStyledItemDelegate>
#include <QTimer>

#include "app/contents/contents_rows.h"

namespace rakugo::app {

/// A list in which a model turns under the pointer. A click, Enter or the space bar chooses a row.
class ContentsView : public QListView {
  Q_OBJECT
 public:
  ContentsView(ContentsRows& rows, QWidget* parent);
  /// Which of a row's pictures is shown.
  [[nodiscard]] qsizetype turned(const QModelIndex& index) const;
  /// Rows that are marked, headings left out.
  [[nodiscard]] std::vector<ContentsRows::What> marked() const;

 Q_SIGNALS:
  void chosen(const QModelIndex& index);

 protected:
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  ContentsRows& rows_;
  QTimer turn_;
  QPersistentModelIndex turning_;
  qsizetype shown_ = 0;
};

}  // namespace rakugo::app
