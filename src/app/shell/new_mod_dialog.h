// A new mod: blank, from a sample of a rulebook, or as a copy of another one with every name inside renamed.
#pragma once

#include <QDialog>
#include <optional>

#include "app/shell/background.h"
#include "mod/copy.h"
#include "rulebook/rulebook.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace rakugo::app {

/// What the dialog offers and must not give again, read from disk before it opens.
struct NewModChoices {
  std::vector<rulebook::Rulebook> books;
  std::vector<base::Error> unusable;  ///< why other rulebooks that were found cannot be loaded
  std::set<std::string> taken;        ///< ids of mods that are installed in the game
  /// Reads both; for a job.
  static NewModChoices read(const std::filesystem::path& game);
};

class NewModDialog : public QDialog {
  Q_OBJECT
 public:
  /// `copy_of`: the mod to begin from; empty for a blank one. It is read in the background.
  NewModDialog(NewModChoices choices, const QString& copy_of, QWidget* parent);
  /// Where the mod was made; of an accepted dialog.
  [[nodiscard]] QString folder() const;
  void setTitle(const QString& title);

 private:
  struct Copied;
  QLabel* addLabelled(const QString& title, QWidget* widget, const char* id);
  /// Offers the games and their samples; returns what is to be said of where rulebooks come from.
  QString listBooks(const NewModChoices& choices);
  void addNames();
  void listen();
  void beginFrom(const QString& copy_of);
  void chooseCopy(const QString& folder);
  void takeCopy(std::shared_ptr<const Copied> copied);
  void showRows();
  void replan();
  void make();
  void say(const QString& problem);
  Background background_;
  QString reading_;  ///< the folder that is being read, or empty
  std::set<std::string> taken_;
  QComboBox* from_;
  QComboBox* book_;
  QLabel* origin_ = nullptr;  ///< which rulebooks hide others, and which cannot be used
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
  std::shared_ptr<const Copied> copied_;
  std::map<std::string, std::string> chosen_;
  std::optional<mod::CopyPlan> plan_;
};

}  // namespace rakugo::app
