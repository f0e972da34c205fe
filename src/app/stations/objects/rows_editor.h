// The rows of a list: one line each, with a cell for each column.
#pragma once

#include <QWidget>

#include "app/stations/objects/field_editors.h"

class QGridLayout;

namespace rakugo::app {

/// A curve is drawn below its rows.
class RowsEditor : public QWidget {
  Q_OBJECT
 public:
  /// Cells are called "<name>-<row>-<column>"; rows count from 0.
  RowsEditor(const rulebook::Field& field, EditedValue value, ThingsFor things, QString name,
             QWidget* parent);
  /// Makes the rows anew where their number has changed; else their values alone.
  void refresh();

 private:
  class Curve;
  void makeRows(size_t count);
  void add();
  void remove(size_t row);
  /// The rows as they are; an empty list where the value is none.
  [[nodiscard]] base::Json rows() const;
  [[nodiscard]] base::Json inOrder(const base::Json& row) const;
  [[nodiscard]] EditedValue cell(size_t row, const rulebook::Field& column) const;
  const rulebook::Field field_;
  EditedValue value_;
  ThingsFor things_;
  QString name_;
  QWidget* inside_ = nullptr;
  Curve* curve_ = nullptr;
  size_t count_ = SIZE_MAX;
  std::vector<std::function<void()>> refreshers_;
};

}  // namespace rakugo::app
