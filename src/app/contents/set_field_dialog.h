// One field of the game's record set in several objects at once.
#pragma once

#include <QDialog>
#include <vector>

#include "app/shell/session.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace rakugo::app {

/// Offers the fields that the kinds of all the objects have; what is typed is read as the field's type says.
class SetFieldDialog : public QDialog {
  Q_OBJECT
 public:
  SetFieldDialog(Session& session, const std::vector<std::string>& objects, QWidget* parent);
  [[nodiscard]] QString fieldTitle() const;
  /// Sets the field as it was typed; of an accepted dialog.
  void apply(mod::ObjectDoc& object) const;

 private:
  /// What the objects have in it now, and whether what is typed can be.
  void say();
  [[nodiscard]] const rulebook::Field* field() const;
  [[nodiscard]] QString typed() const;
  Session& session_;
  std::vector<std::string> objects_;
  std::vector<rulebook::Field> fields_;
  QComboBox *which_, *choice_;
  QLineEdit* value_;
  QLabel *now_, *why_;
  QPushButton* set_;
  base::Json taken_;
};

}  // namespace rakugo::app
