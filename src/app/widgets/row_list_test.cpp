// Rows of a list: any chain of lists leaves the model whole, and what stays is the same row.
#include "app/widgets/row_list.h"

#include <gtest/gtest.h>

#include <QAbstractItemModelTester>
#include <QPersistentModelIndex>
#include <QSignalSpy>
#include <random>

namespace rakugo::app {
namespace {

std::vector<ListRow> named(std::initializer_list<const char*> ids) {
  std::vector<ListRow> out;
  for (const char* id : ids) {
    ListRow row;
    row.id = row.name = QString::fromLatin1(id);
    out.push_back(std::move(row));
  }
  return out;
}

QString idsOf(const RowListModel& rows) {
  QString out;
  for (const ListRow& row : rows.rows()) out += row.id;
  return out;
}

TEST(RowListModel, ARowStaysWhenOthersComeGoAndChangePlaces) {
  RowListModel rows;
  rows.setRows(named({"a", "b", "c", "d"}));
  const QPersistentModelIndex kept = rows.indexOf(QStringLiteral("b"));
  rows.setRows(named({"x", "b", "y", "d"}));
  ASSERT_TRUE(kept.isValid());
  EXPECT_EQ(kept.row(), 1);
  EXPECT_EQ(idsOf(rows), QStringLiteral("xbyd"));
  rows.setRows(named({"d", "y", "x"}));
  EXPECT_EQ(idsOf(rows), QStringLiteral("dyx"));
  EXPECT_FALSE(kept.isValid());
}

TEST(RowListModel, OnlyWhatChangedSaysSo) {
  RowListModel rows;
  rows.setRows(named({"a", "b", "c"}));
  QSignalSpy changed(&rows, &QAbstractItemModel::dataChanged);
  auto next = named({"a", "b", "c"});
  next[1].amount = QStringLiteral("12");
  rows.setRows(next);
  ASSERT_EQ(changed.size(), 1);
  EXPECT_EQ(changed.front().front().toModelIndex().row(), 1);
  rows.setRows(next);
  EXPECT_EQ(changed.size(), 1);
}

TEST(RowListModel, IsHeardWithItsAmountAndWhetherItIsChosen) {
  RowListModel rows;
  auto one = named({"post"});
  one[0].amount = QStringLiteral("1 204");
  one[0].said = QStringLiteral("1 204 triangles");
  one[0].chosen = true;
  one[0].signs.push_back({Sign::remove, QStringLiteral("drop-post"), QStringLiteral("Drop post")});
  rows.setRows(one);
  const QString heard = rows.index(0).data(Qt::AccessibleTextRole).toString();
  EXPECT_TRUE(heard.contains(QStringLiteral("1 204 triangles")));
  EXPECT_TRUE(heard.endsWith(QStringLiteral("chosen")));
  EXPECT_TRUE(
      rows.index(0).data(Qt::AccessibleDescriptionRole).toString().contains(QStringLiteral("Drop post")));
}

TEST(RowListModel, AnyChainOfListsLeavesTheModelWhole) {
  RowListModel rows;
  QAbstractItemModelTester tester(&rows, QAbstractItemModelTester::FailureReportingMode::Fatal);
  std::mt19937 random(7);
  for (int round = 0; round < 300; ++round) {
    std::vector<ListRow> next;
    for (int i = 0; i < 12; ++i) {
      if (random() % 3 == 0) continue;
      ListRow row;
      row.id = QString::number(i);
      row.name = QString::number(random() % 4);
      next.push_back(std::move(row));
    }
    std::shuffle(next.begin(), next.end(), random);
    rows.setRows(next);
    ASSERT_EQ(rows.rows(), next) << "round " << round;
  }
}

}  // namespace
}  // namespace rakugo::app
