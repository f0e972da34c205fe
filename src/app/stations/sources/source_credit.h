// Where a source comes from: whom it is owed to, under which licence, from which file, and its older
// versions.
#pragma once

#include <QWidget>
#include <map>

#include "app/shell/session.h"
#include "app/stations/sources/source_work.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class SourceCredit : public QWidget {
  Q_OBJECT
 public:
  SourceCredit(Session& session, SourceWork& work, QWidget* parent);
  /// Shows a source of the mod; what the person is typing stays.
  void show(const std::string& source);
  /// Puts the keyboard into a field: "author", "licence", "address" or "note".
  void focusField(const std::string& id);

 private:
  void addField(const char* id, const QString& title, std::string mod::SourceDoc::*member, QLineEdit* line);
  void set(std::string mod::SourceDoc::*member, const QString& title, const QString& text);
  void askNewer();
  Session& session_;
  SourceWork& work_;
  std::string source_;
  QVBoxLayout* column_;
  std::map<std::string, QLineEdit*> fields_;
  QComboBox* licence_;
  QLabel* demand_;
  QLabel* origin_;
  QPushButton* compare_;
  QVBoxLayout* older_;
};

}  // namespace rakugo::app
