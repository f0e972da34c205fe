// Fields of a rulebook as a form: names, editors with units, and what each is for.
#pragma once

#include <QWidget>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "app/stations/objects/field_editors.h"
#include "base/json.h"
#include "rulebook/rulebook.h"

class QGridLayout;
class QLabel;
class QPushButton;

namespace rakugo::app {

/// Holds no values: it asks for them when it is refreshed, and hands on what is typed. Short fields stand
/// side by side, two in a row.
class FieldForm : public QWidget {
  Q_OBJECT
 public:
  using Get = std::function<base::Json(const std::string& field)>;
  using Set = std::function<void(const std::string& field, const base::Json& value)>;
  /// Editors are called "<prefix>field-<id>".
  FieldForm(QString prefix, Get get, Set set, ThingsFor things, QWidget* parent);
  /// Makes the editors; what is typed into present ones and not handed on yet is lost.
  void setFields(const std::vector<rulebook::Field>& fields);
  /// Brings the values up to date; what has the keyboard's focus stays as it is typed.
  void refresh();
  /// Null where there is no such field.
  [[nodiscard]] QWidget* editorOf(const std::string& field) const;

 private:
  QLabel* makeName(const rulebook::Field& field, QWidget* box);
  QWidget* makeField(const rulebook::Field& field);
  QString prefix_;
  Get get_;
  Set set_;
  ThingsFor things_;
  QWidget* inside_ = nullptr;
  std::map<std::string, QWidget*> editors_;
  std::vector<std::function<void()>> refreshers_;
};

}  // namespace rakugo::app
