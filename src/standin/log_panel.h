// The game's log inside its window: every line, or the complaints alone, to be read and copied.
#pragma once

#include <QAbstractListModel>
#include <QFrame>
#include <QSortFilterProxyModel>
#include <deque>

#include "standin/game.h"

class QListView;

namespace rakugo::standin {

/// The last lines of the log, newest last.
class LogModel : public QAbstractListModel {
  Q_OBJECT
 public:
  enum Role { kLevel = Qt::UserRole + 1 };
  static constexpr int kMost = 2000;  ///< older lines go
  using QAbstractListModel::QAbstractListModel;
  void add(const LogLine& line);
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;

 private:
  std::deque<LogLine> lines_;
};

class LogPanel : public QFrame {
  Q_OBJECT
 public:
  explicit LogPanel(QWidget* parent);
  LogModel& lines() { return lines_; }

 private:
  void copy();
  LogModel lines_;
  QSortFilterProxyModel shown_;
  QListView* list_;
};

}  // namespace rakugo::standin
