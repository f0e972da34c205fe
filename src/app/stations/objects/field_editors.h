// Editors of values that a rulebook's fields describe: a line, a choice, a colour, rows.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "base/json.h"
#include "prepare/objects/thing_names.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {

/// A value that is edited: it is asked for when it is shown, and what is typed is handed on.
struct EditedValue {
  std::function<base::Json()> get;
  std::function<void(const base::Json& value)> set;
};
/// What a reference may name, asked for whenever it is shown.
using ThingsFor = std::function<std::vector<prepare::ThingName>(const rulebook::Field& field)>;

/// What edits of a value join to one undo: those of the same text or number. Of rows the place of the cell;
/// one that adds or takes out a row stands alone, and gives an empty text.
QString joinedEdits(const QString& value, const base::Json& before, const base::Json& after);

/// An editor, and what brings it up to date. What has the keyboard's focus stays as it is typed.
struct FieldEditor {
  QWidget* widget = nullptr;
  std::function<void()> refresh;
};
/// The editor of a field; `things` for references, and cells that are one. `name` is the object's name; the
/// cells of rows have names that begin with it.
FieldEditor makeFieldEditor(const rulebook::Field& field, const EditedValue& value, const ThingsFor& things,
                            const QString& name, QWidget* parent);

}  // namespace rakugo::app
