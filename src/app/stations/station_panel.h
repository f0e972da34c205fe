// The instrument at the right, whatever its station.
#pragma once

#include <QWidget>
#include <map>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "app/bench/bench.h"
#include "app/shell/session.h"

class QScrollArea;
class QVBoxLayout;

namespace rakugo::app {

class Chapter;

/// What every station has: a column of chapters, and a refresh that keeps whatever the person is typing in.
class StationPanel : public QWidget {
  Q_OBJECT
 public:
  StationPanel(Session& session, Bench& bench, QWidget* parent);
  /// Brings all that is shown to the present state. Called after every edit and examination.
  virtual void refresh() = 0;
  /// Brings a place into sight: a field, a part.
  virtual void showPlace(const check::FindingPlace& place) { (void)place; }
  /// What stands in the middle of the window at this station; null: the bench.
  [[nodiscard]] virtual QWidget* middle() { return nullptr; }
  /// What can stand beside the bench at this station, hidden while it is not wanted there; null: nothing.
  [[nodiscard]] virtual QWidget* beside() { return nullptr; }
  [[nodiscard]] virtual bool besideWanted() const { return false; }
  /// Unfolds the chapter where findings of that check are mended.
  void openChapterOf(const std::string& check);
  [[nodiscard]] const std::vector<Chapter*>& chapters() const { return chapters_; }
  /// The chapter that findings of that check are about, or null.
  [[nodiscard]] Chapter* chapterOf(std::string_view check) const;
  /// Gives the keyboard to the head of the next chapter, or of one before, and shows it.
  void stepChapter(int by);

 Q_SIGNALS:
  void addModelAsked();
  void buildAsked();
  /// A page of the help is asked for.
  void helpAsked(const QString& page);
  void tell(const QString& text, bool good);
  void goTo(const QString& object, const QString& field);

 protected:
  /// A new chapter below the others. `checks`: ids of the checks that it is about; one that ends with a dot
  /// stands for all that begin so. A check belongs to the first chapter that names it whole, else to the
  /// first whose beginning fits.
  Chapter* addChapter(const char* id, const QString& title, std::vector<std::string_view> checks);
  /// The gravest open finding of the chosen model and object, or of the mod itself, that a chapter is about.
  [[nodiscard]] const check::Finding* gravestOf(const Chapter* chapter);
  /// Says a chapter's state with the mark that its findings give it. `good` where it has none and was held
  /// against a rule.
  void say(Chapter* chapter, const QString& state, bool good = false);
  /// Called at the end of refresh: chapters fold and unfold when another thing is shown. `first` is open
  /// where none needs attention.
  void settleChapters(Chapter* first);

  Session& session_;
  Bench& bench_;
  QVBoxLayout* column_;
  QScrollArea* area_;

 private:
  struct About {
    Chapter* chapter;
    std::vector<std::string_view> checks;
  };
  std::vector<Chapter*> chapters_;
  std::vector<About> about_;
  std::map<const Chapter*, const check::Finding*> gravest_;
  std::shared_ptr<const check::Examination> gravest_in_;  ///< whose findings those are
  std::pair<std::string, std::string> gravest_for_;       ///< the model and the object that were chosen
  std::string shown_;  ///< the mod, model and object that the chapters were settled for
};

}  // namespace rakugo::app
