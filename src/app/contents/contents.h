// The contents: what the mod holds; here things are found, made, renamed, copied and removed.
#pragma once

#include <QWidget>
#include <set>

#include "app/contents/contents_rows.h"
#include "app/stations/sources/source_work.h"

class QLineEdit;
class QMenu;
class QPushButton;

namespace rakugo::app {

class ContentsView;

class Contents : public QWidget {
  Q_OBJECT
 public:
  Contents(Session& session, SourceWork& work, QWidget* parent = nullptr);
  /// Pictures of a model from all round, the usual angle first; a row turns through them under the pointer.
  void setPictures(const std::string& model, QVector<QImage> round);
  /// The same of a source; the models made of it show it until they have pictures of their own.
  void setSourcePictures(const std::string& source, QVector<QImage> round);
  [[nodiscard]] bool hasPicture(const std::string& model) const { return pictureCount(model) != 0; }
  [[nodiscard]] qsizetype pictureCount(const std::string& model) const;
  void refresh();
  [[nodiscard]] ContentsRows& rows() { return *rows_; }
  [[nodiscard]] ContentsView& view() { return *view_; }

 Q_SIGNALS:
  void sourceChosen(const QString& name);
  void modelChosen();
  void objectChosen();
  /// All mends with no choice in them are asked for, of what was marked: models and objects by name.
  void mendAsked(const std::set<std::string>& models, const std::set<std::string>& objects);
  void tell(const QString& text, bool good);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  using What = ContentsRows::What;
  [[nodiscard]] mod::NamingValues naming() const;
  void choose(const QModelIndex& index);
  void openMenu(QPoint at);
  void fillMenu(QMenu& menu);
  void offerForMarked(QMenu& menu);
  /// The row that the keyboard is at, if it is a thing.
  [[nodiscard]] std::optional<What> present() const;
  void askName(const QString& hint, const QString& text, const std::function<void(const std::string&)>& done);
  void rename();
  void copy();
  void remove();
  void newModel(const std::string& source);
  void newObject(const std::string& model, const std::string& kind);
  void addPieces(const QStringList& models, const std::string& object);
  /// Asks for a field, and sets it in all those objects at once.
  void setField(const std::vector<std::string>& objects);
  /// What is marked, or the row that the keyboard is at.
  [[nodiscard]] std::vector<What> meant() const;
  /// One edit that is made, or told why it is not.
  bool edit(const QString& label, const std::function<base::Status(mod::ModState&)>& change);
  Session& session_;
  SourceWork& work_;
  ContentsRows* rows_;
  ContentsView* view_;
  QLineEdit* words_;
  QPushButton *only_open_, *more_;
};

}  // namespace rakugo::app
