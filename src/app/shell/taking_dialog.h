// An object of the game's own, or of any bundle, to begin from: chosen by its picture, taken as the mod's
// own.
#pragma once

#include <QDialog>
#include <QImage>
#include <filesystem>
#include <memory>
#include <vector>

#include "app/shell/background.h"
#include "mod/documents.h"
#include "packing/unpack_object.h"

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace rakugo::app {

class TakingDialog : public QDialog {
  Q_OBJECT
 public:
  /// What was taken: the mod with it, which is to become an edit.
  struct Taken {
    mod::ModState state;
    packing::TakenObject object;
  };
  /// `book`: of the mod in `folder`, which is `state` now. Begins with what the rulebook ships of the game.
  TakingDialog(std::shared_ptr<const rulebook::Rulebook> book, std::filesystem::path folder,
               std::shared_ptr<const mod::ModState> state, QWidget* parent);
  /// Of an accepted dialog.
  [[nodiscard]] const std::shared_ptr<Taken>& taken() const { return taken_; }
  /// Shows what a bundle holds.
  void look(const std::filesystem::path& bundle);

 private:
  void askBundle();
  void chosen();
  void take();
  void say(const QString& text);
  Background background_;
  std::shared_ptr<const rulebook::Rulebook> book_;
  std::filesystem::path folder_, bundle_;
  std::shared_ptr<const mod::ModState> state_;
  std::shared_ptr<Taken> taken_;
  std::vector<packing::ObjectInBundle> things_;
  bool own_title_ = false;
  QLabel* from_;
  QListWidget* list_;
  QLineEdit* title_;
  QLabel* said_;
  QPushButton* take_;
};

}  // namespace rakugo::app
