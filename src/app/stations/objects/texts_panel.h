// What the game shows where a value of the object names a text by its id, in each of its languages.
#pragma once

#include <QWidget>

#include "app/shell/session.h"

class QComboBox;
class QLabel;

namespace rakugo::app {

class FieldForm;

class TextsPanel : public QWidget {
  Q_OBJECT
 public:
  TextsPanel(Session& session, QWidget* parent);
  void refresh();
  /// Whether the game takes texts, and the object has a value that can name one.
  [[nodiscard]] bool any() const;
  /// One line on how things stand.
  [[nodiscard]] QString state() const;

 private:
  [[nodiscard]] const mod::ObjectDoc* object() const;
  [[nodiscard]] std::string language() const;
  /// Ids that the object names, each once, with the titles of the fields.
  [[nodiscard]] std::vector<std::pair<std::string, std::string>> named() const;
  Session& session_;
  QLabel* none_;
  QComboBox* languages_;
  FieldForm* form_;
  std::string form_for_;
};

}  // namespace rakugo::app
