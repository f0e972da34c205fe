// What a package holds, as a list: its entries with their sizes as bars, under heads; of one package, or of
// two side by side. Rows are painted, so that thousands cost no more than those in sight.
#pragma once

#include <QAbstractListModel>
#include <QImage>
#include <QListView>
#include <optional>
#include <string>
#include <vector>

#include "packing/package.h"

namespace rakugo::app {

/// An entry that is in a package, or will be.
struct EntryLine {
  std::string id;
  std::string why;                       ///< what pulls it in, or empty
  std::optional<uint64_t> stored_bytes;  ///< nothing while it is not built
};

/// A row: a head, or an entry with its sizes.
struct EntryRow {
  bool head = false;
  QString id;     ///< of the entry; of a head: "goes-in-quay-lamp"
  QString title;  ///< a head's words, or the entry's id
  QString said;   ///< a head's sum, or what pulls the entry in
  QImage icon;
  std::optional<uint64_t> sizes[2];  ///< of the first package and of the second
  bool operator==(const EntryRow&) const = default;
};

/// The rows of one package: entries of each group, the largest first, under the group's head.
struct EntryGroup {
  EntryRow head;
  std::vector<EntryLine> entries;
};
std::vector<EntryRow> rowsOf(std::vector<EntryGroup> groups);
/// The rows of two, side by side: what differs, what only one has, what both have alike. `here` and `there`:
/// what the packages are called.
std::vector<EntryRow> rowsBeside(const packing::Package& a, const packing::Package& b, const QString& here,
                                 const QString& there);

class EntryRows : public QAbstractListModel {
  Q_OBJECT
 public:
  explicit EntryRows(QObject* parent = nullptr) : QAbstractListModel(parent) {}
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  /// `two`: the rows are of two packages.
  void setRows(std::vector<EntryRow> rows, bool two);
  [[nodiscard]] const std::vector<EntryRow>& rows() const { return rows_; }
  [[nodiscard]] bool two() const { return two_; }
  [[nodiscard]] uint64_t most() const { return most_; }  ///< the largest size of all

 private:
  std::vector<EntryRow> rows_;
  bool two_ = false;
  uint64_t most_ = 1;
};

class EntryList : public QListView {
  Q_OBJECT
 public:
  EntryList(const QString& accessible_name, QWidget* parent);
  void setRows(std::vector<EntryRow> rows, bool two = false) { rows_.setRows(std::move(rows), two); }
  [[nodiscard]] EntryRows& rows() { return rows_; }
  /// Where the row of that id is, in the viewport; empty when there is none.
  [[nodiscard]] QRect placeOf(const QString& id) const;

 private:
  EntryRows rows_;
};

}  // namespace rakugo::app
