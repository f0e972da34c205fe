// The keys of everything in the menus: listed, searched, changed, kept in the settings.
#pragma once

#include <QAbstractTableModel>
#include <QAction>
#include <QDialog>
#include <QStyledItemDelegate>

class QSortFilterProxyModel;

namespace rakugo::app {

/// Knows the actions whose keys can be changed. Each has an object name that is stable over versions; what is
/// kept in the settings is only what differs from the first keys.
class Shortcuts : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { kWhat, kKeys, kColumns };
  using QAbstractTableModel::QAbstractTableModel;

  /// Takes an action in with the keys it has now as its first ones, and gives it those of the settings. The
  /// action must outlive this.
  void add(QAction* action, const QString& menu);
  /// Gives the action of that row other keys; none when empty. An action that had them loses them.
  void change(int row, const QKeySequence& keys);
  /// All first keys again.
  void reset();
  [[nodiscard]] QString firstKeys(int row) const;
  /// The action that has these keys; -1 when none has.
  [[nodiscard]] int rowOf(const QKeySequence& keys) const;

  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  struct Known {
    QAction* action;
    QString what;
    QKeySequence first;
  };
  void keep(const Known& known) const;
  void given(int row, const QKeySequence& keys);
  QVector<Known> known_;
};

/// Lists them with a search; a double click or Enter on a row takes new keys. Says too what the bench and the
/// lists understand.
class ShortcutsDialog : public QDialog {
  Q_OBJECT
 public:
  ShortcutsDialog(Shortcuts& shortcuts, QWidget* parent);

 private:
  QSortFilterProxyModel* shown_;
};

}  // namespace rakugo::app
