// The game's lists that an object enters: shops, recipes, a start kit.
#pragma once

#include <QWidget>

#include "app/shell/session.h"

class QVBoxLayout;

namespace rakugo::app {

class FieldForm;

class ListsPanel : public QWidget {
  Q_OBJECT
 public:
  ListsPanel(Session& session, QWidget* parent);
  /// Brings it to the chosen object. Made anew only where other lists or entries are shown.
  void refresh();
  /// "Chandler's shop, Workbench"; empty where the object stands in no list.
  [[nodiscard]] QString state() const;
  /// Whether the game has lists that take such an object, or the object stands in one.
  [[nodiscard]] bool any() const;
  /// Brings the first entry in a list into sight.
  void showList(const std::string& list);

 private:
  [[nodiscard]] const mod::ObjectDoc* object() const;
  void rebuild(const mod::ObjectDoc& doc);
  void addEntry(const mod::ObjectDoc& doc, size_t at);
  void addOffer(const mod::ObjectDoc& doc, const rulebook::GameList& list);
  void edit(const QString& what, const std::function<void(mod::ObjectDoc&)>& change,
            const QString& joins = {});
  Session& session_;
  QVBoxLayout* column_;
  std::string built_for_;
  std::vector<FieldForm*> forms_;
  std::map<std::string, QWidget*> heads_;
};

}  // namespace rakugo::app
