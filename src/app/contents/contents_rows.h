// What a mod holds as rows: objects, models, sources, each under its heading.
#pragma once

#include <QAbstractListModel>
#include <QImage>
#include <QVector>
#include <map>
#include <optional>

#include "app/shell/session.h"
#include "mod/things.h"

namespace rakugo::app {

/// Which rows are shown.
struct ContentsFilter {
  QString words;           ///< in the name or the title; empty: any
  bool only_open = false;  ///< only what has findings that are not set aside
  bool operator==(const ContentsFilter&) const = default;
};

/// Holds the names in their order, and the gravest finding of each; all else is asked of the session when it
/// is shown.
class ContentsRows : public QAbstractListModel {
  Q_OBJECT
 public:
  enum Role { what_role = Qt::UserRole, mark_role, pictures_role, chosen_role, heading_role, key_role };
  ContentsRows(Session& session, QObject* parent);
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  /// mark_role: -1 not known yet, 0 to 2 the gravest severity, 3 none. key_role: "model-quay-lamp".
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  /// Models can be dragged, onto objects.
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  [[nodiscard]] QStringList mimeTypes() const override;
  [[nodiscard]] QMimeData* mimeData(const QModelIndexList& indexes) const override;
  [[nodiscard]] Qt::DropActions supportedDragActions() const override { return Qt::CopyAction; }
  [[nodiscard]] Qt::DropActions supportedDropActions() const override { return Qt::CopyAction; }
  [[nodiscard]] bool canDropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                                     const QModelIndex& parent) const override;
  bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                    const QModelIndex& parent) override;
  /// Brings the rows to the present state.
  void refresh(const ContentsFilter& filter);
  /// What a row is; nothing for a heading.
  struct What {
    mod::Thing thing;
    std::string name;
    bool operator==(const What&) const = default;
  };
  [[nodiscard]] std::optional<What> at(const QModelIndex& index) const;
  [[nodiscard]] QModelIndex indexOf(const What& what) const;
  /// Pictures from all round, the usual angle first.
  void setPictures(const What& what, QVector<QImage> round);
  void forgetPictures();
  [[nodiscard]] const std::map<std::string, QVector<QImage>>& modelPictures() const {
    return model_pictures_;
  }

 Q_SIGNALS:
  /// Models were dropped onto an object.
  void modelsDropped(const QStringList& models, const QString& object);

 private:
  struct Row {
    std::optional<What> what;  ///< nothing: the heading of what follows
    mod::Thing under;
    bool operator==(const Row&) const = default;
  };
  [[nodiscard]] bool wanted(const What& what, const ContentsFilter& filter) const;
  [[nodiscard]] QString titleOf(const What& what) const;
  [[nodiscard]] QString describe(const What& what) const;
  [[nodiscard]] QVector<QImage> picturesOf(const What& what) const;
  [[nodiscard]] int markOf(const What& what) const;
  void findMarks();
  Session& session_;
  std::vector<Row> rows_;
  std::map<std::string, int> marks_;  ///< by "model/name": the gravest severity
  bool known_ = false;                ///< whether the mod was examined
  std::vector<std::string> unsaved_;  ///< paths that a save would write
  std::map<std::string, QVector<QImage>> model_pictures_, source_pictures_;
};

}  // namespace rakugo::app
