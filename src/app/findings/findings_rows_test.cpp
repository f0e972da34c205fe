// Findings as rows: any chain of examinations and filters leaves the model whole and its rows right.
#include "app/findings/findings_rows.h"

#include <gtest/gtest.h>

#include <QAbstractItemModelTester>
#include <QPersistentModelIndex>
#include <random>

#include "app/shell/route.h"

namespace rakugo::app {
namespace {

check::Finding finding(const std::string& check, const std::string& model, check::Severity severity) {
  check::Finding f;
  f.check = check;
  f.severity = severity;
  f.sentence = model + " has " + check + ".";
  f.place.model = model;
  return f;
}

std::shared_ptr<const check::Examination> examined(std::vector<check::Finding> findings) {
  auto x = std::make_shared<check::Examination>();
  x->findings = std::move(findings);
  return x;
}

QStringList rowsOf(const FindingsRows& rows) {
  QStringList out;
  for (int i = 0; i < rows.rowCount(); ++i) out << rows.index(i).data().toString();
  return out;
}

using check::Severity;

TEST(FindingsRows, WhatIsMendedWhereOneStandsComesFirstUnderNoHeading) {
  FindingsRows rows;
  FindingsFilter filter;
  filter.station = stationOf("size.unit");
  filter.model = "lamp";
  rows.show(
      examined({finding("role.missing", "lamp", Severity::stops),
                finding("size.unit", "tug", Severity::shows), finding("size.unit", "lamp", Severity::shows)}),
      filter);
  ASSERT_EQ(rows.rowCount(), 4);
  EXPECT_EQ(rows.at(rows.index(0))->place.model, "lamp");
  EXPECT_EQ(rows.at(rows.index(1)), nullptr);
  EXPECT_TRUE(rows.index(1).data(FindingsRows::heading_role).toBool());
  EXPECT_EQ(rows.at(rows.index(2))->check, "role.missing");
}

TEST(FindingsRows, ARowThatIsTheSameStaysWhenOthersComeAndGo) {
  FindingsRows rows;
  const FindingsFilter filter;
  rows.show(examined({finding("a", "one", Severity::shows), finding("b", "one", Severity::shows),
                      finding("c", "one", Severity::shows)}),
            filter);
  const int last = rows.rowCount() - 1;
  const QPersistentModelIndex kept = rows.index(last);
  check::Finding changed = finding("c", "one", Severity::shows);
  changed.sentence = "one has 3 of c.";
  rows.show(examined({finding("a", "one", Severity::shows), changed}), filter);
  ASSERT_TRUE(kept.isValid());
  EXPECT_EQ(kept.row(), last - 1);
  EXPECT_EQ(kept.data().toString(), QStringLiteral("one has 3 of c."));
}

TEST(FindingsRows, AnyChainOfExaminationsAndFiltersLeavesTheModelWhole) {
  FindingsRows rows;
  const QAbstractItemModelTester tester(&rows, QAbstractItemModelTester::FailureReportingMode::Fatal);
  std::mt19937 random(11);
  const auto below = [&](int n) { return std::uniform_int_distribution<int>(0, n - 1)(random); };
  for (int round = 0; round < 300; ++round) {
    std::vector<check::Finding> findings;
    for (int i = below(12); i > 0; --i) {
      findings.push_back(finding(below(2) == 0 ? "size.unit" : "role.missing",
                                 "model-" + std::to_string(below(4)), static_cast<Severity>(below(3))));
      findings.back().set_aside = below(6) == 0;
    }
    for (size_t i = 1; i < findings.size(); ++i)
      if (below(5) == 0) findings[i].caused_by = 0, ++findings[0].causes;
    FindingsFilter filter;
    for (bool& sort : filter.sorts) sort = below(4) != 0;
    filter.by_thing = below(3) == 0;
    if (below(4) == 0) filter.words = QStringLiteral("model-1");
    filter.model = "model-0";
    const auto x = below(10) == 0 ? nullptr : examined(findings);
    rows.show(x, filter);
    FindingsRows fresh;
    fresh.show(x, filter);
    ASSERT_EQ(rowsOf(rows), rowsOf(fresh)) << round;
    for (int i = 0; x && i < rows.rowCount(); ++i)
      if (const check::Finding* f = rows.at(rows.index(i)); f != nullptr) {
        ASSERT_TRUE(f >= x->findings.data() && f < x->findings.data() + x->findings.size())
            << "of the present one";
      }
  }
}

}  // namespace
}  // namespace rakugo::app
