// Variants of one design: what follows the object, or what the object follows and has of its own.
#pragma once

#include <QWidget>

#include "app/shell/session.h"

class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace rakugo::app {

class RowList;

class VariantsPanel : public QWidget {
  Q_OBJECT
 public:
  VariantsPanel(Session& session, QWidget* parent);
  void refresh();
  /// One line on how things stand; empty where nothing follows anything.
  [[nodiscard]] QString state() const;

 Q_SIGNALS:
  void tell(const QString& problem);

 private:
  [[nodiscard]] const mod::ObjectDoc* object() const;
  void makeFollower();
  void makeAdding();
  void listOwn(const mod::ObjectDoc& doc);
  void listVariants();
  void addOne();
  void offerModels();
  void edit(const QString& what, const std::function<base::Status(mod::ModState&)>& change);
  Session& session_;
  QWidget* follower_;
  QLabel* follows_;
  RowList* own_;
  QPushButton* own_model_;
  QLabel* said_;
  RowList* variants_;
  QLineEdit* title_;
  QDoubleSpinBox* size_;
  QPushButton* add_;
};

}  // namespace rakugo::app
