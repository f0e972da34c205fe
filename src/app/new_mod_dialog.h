// A new mod: blank, from a sample of a rulebook, or as a copy of another one with every name inside renamed.
#pragma once

#include <QDialog>
#include <optional>

#include "mod/copy.h"
#include "rulebook/rulebook.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace rakugo::app {

class NewModDialog : public QDialog {
  Q_OBJECT
 public:
  /// `installed`: ids that are taken in the game. `copy_of`: the mod to begin from; empty for a blank one.
  NewModDialog(std::set<std::string> installed, const QString& copy_of, QWidget* parent);
  /// Where the mod was made; of an accepted dialog.
  [[nodiscard]] QString folder() const;
  void setTitle(const QString& title);

 private:
  void chooseCopy(const QString& folder);
  void replan();
  void make();
  void say(const QString& problem);
  std::set<std::string> taken_;
  QComboBox* from_;
  QComboBox* book_;
  QLabel* book_label_;
  QLineEdit* title_;
  QLineEdit* folder_;
  QLabel* names_label_;
  QTableWidget* names_;
  QLabel* why_;
  QPushButton* make_;
  bool own_folder_ = false, filling_ = false;
  std::string id_;
  // Of the mod that is copied; empty for a blank one.
  std::filesystem::path copied_folder_;
  std::optional<mod::ModState> copied_;
  std::shared_ptr<const rulebook::Rulebook> copied_book_;
  std::map<std::string, std::string> chosen_;
  std::optional<mod::CopyPlan> plan_;
};

}  // namespace rakugo::app
