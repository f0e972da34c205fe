// Findings as rows of a list: narrowed, in their order, under headings.
#pragma once

#include <QAbstractListModel>
#include <array>
#include <memory>

#include "check/examiner.h"

namespace rakugo::app {

/// Which findings are shown, and what comes first.
struct FindingsFilter {
  std::array<bool, 4> sorts{true, true, true, false};  ///< stops, shows, tidy, set aside
  QString words;                                       ///< in the sentence or the place; empty: any
  bool by_thing = false;                               ///< under the object, model or source they are of
  check::Station station = check::Station::shape;      ///< where one stands
  std::string model, object;                           ///< what is chosen
};

/// Holds an examination and which of its findings stand in which row; copies none. Findings that are mended
/// where one stands, of what is chosen, come first. Those that a cause stands for are left out with it shown.
class FindingsRows : public QAbstractListModel {
  Q_OBJECT
 public:
  enum Role {
    severity_role = Qt::UserRole,  ///< check::Severity as a number
    heading_role,                  ///< bool
    check_role,                    ///< id of the check
    mend_role,                     ///< the label of the first mend; empty: there is none
    aside_role,                    ///< bool: it was set aside
    folded_role                    ///< how many go with it
  };
  explicit FindingsRows(QObject* parent = nullptr) : QAbstractListModel(parent) {}
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  /// Brings the rows to an examination, which may be null; rows that are the same stay.
  void show(std::shared_ptr<const check::Examination> examination, const FindingsFilter& filter);
  /// The finding of a row; null for a heading.
  [[nodiscard]] const check::Finding* at(const QModelIndex& index) const;
  [[nodiscard]] const std::shared_ptr<const check::Examination>& examination() const { return examination_; }

 private:
  struct Row {
    const check::Finding* finding = nullptr;  ///< of `examination_`; null: a heading
    QString heading;
  };
  static bool isSame(const Row& a, const Row& b);
  static bool isWanted(const check::Examination& x, const check::Finding& finding,
                       const FindingsFilter& filter);
  static bool isHere(const check::Finding& finding, const FindingsFilter& filter);
  static std::vector<Row> rowsOf(const check::Examination& x, const FindingsFilter& filter);
  std::vector<Row> rows_;
  std::shared_ptr<const check::Examination> examination_;
};

}  // namespace rakugo::app
