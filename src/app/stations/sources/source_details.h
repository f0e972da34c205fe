// What is to be said and done about one source: a newer version, what is inside, missing pictures, proposals.
#pragma once

#include <QWidget>
#include <set>

#include "app/shell/session.h"
#include "app/stations/sources/source_work.h"

class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class SourceDetails : public QWidget {
  Q_OBJECT
 public:
  SourceDetails(Session& session, SourceWork& work, QWidget* parent);
  /// Shows a source of the mod; an empty name shows nothing.
  void show(const std::string& source);

 private:
  void fill(const std::string& source);
  [[nodiscard]] std::string mediaOf(const std::string& source) const;
  void showWaiting(const WaitingVersion& waiting);
  void showMisfits(const prepare::NewerVersion& newer);
  void showModel(const formats::ReadModel& read, const check::ModelState* prepared);
  void showSpace(const formats::ReadModel& read, const check::ModelState* prepared);
  void showMaterials(const scene::Model& model);
  void showMissing(const scene::Model& model);
  void showNotes(const formats::ReadModel& read);
  void fact(const QString& what, const QString& value);
  QPushButton* button(const QString& name, const QString& text, const std::function<void()>& act);
  /// A proposal with its reasons, and the button that takes it.
  void propose(const char* id, const QString& what, const std::optional<check::Proposal>& proposal);
  void askPicture(const std::string& wanted);

  Session& session_;
  SourceWork& work_;
  QVBoxLayout* column_;
  std::string source_;
  std::string media_;  ///< the sound or picture that is shown: an edit elsewhere leaves it playing
  /// Proposals that the person does not want followed: model, step, missing name.
  std::set<std::string> refused_;
};

}  // namespace rakugo::app
