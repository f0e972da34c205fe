// The sources of the mod as a list: each with its picture, what is inside, and what waits.
#pragma once

#include <QAbstractListModel>
#include <QListView>
#include <QTimer>

#include "app/stations/sources/source_pictures.h"
#include "app/stations/sources/source_work.h"

namespace rakugo::app {

/// Holds no data but the names in their order: everything is asked of the session when it is shown.
class SourceRows : public QAbstractListModel {
  Q_OBJECT
 public:
  SourceRows(Session& session, SourceWork& work, SourcePictures& pictures, QObject* parent);
  enum Role { name_role = Qt::UserRole, what_role, mark_role, pictures_role };
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  /// Brings the rows to the present state.
  void refresh();
  [[nodiscard]] QModelIndex indexOf(const std::string& source) const;
  [[nodiscard]] std::string nameAt(const QModelIndex& index) const;

 private:
  [[nodiscard]] QString whatIsInside(const std::string& source) const;
  [[nodiscard]] int markOf(const std::string& source) const;
  Session& session_;
  SourceWork& work_;
  SourcePictures& pictures_;
  std::vector<std::string> names_;
};

/// Shows the rows, as high as they are up to some; a model turns under the pointer.
class SourceList : public QListView {
  Q_OBJECT
 public:
  SourceList(SourceRows& rows, SourcePictures& pictures, QWidget* parent);
  /// As high as its rows, up to five.
  void fitHeight();
  [[nodiscard]] int turned(const QModelIndex& index) const;

 Q_SIGNALS:
  void chosen(const QString& source);

 protected:
  void currentChanged(const QModelIndex& current, const QModelIndex& previous) override;
  void leaveEvent(QEvent* event) override;

 private:
  SourceRows& rows_;
  SourcePictures& pictures_;
  QTimer turn_;
  QPersistentModelIndex turning_;
  int shown_ = 0;
};

}  // namespace rakugo::app
