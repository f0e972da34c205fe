// A package looked into: who made it, whether it is whole, and what differs from another one.
#pragma once

#include <QWidget>
#include <string>
#include <vector>

#include "app/stations/bundle/entry_list.h"

class QVBoxLayout;

namespace rakugo::app {

/// A package that was dropped on the window or chosen, and its faults.
struct LookedInto {
  QString file;
  base::Result<packing::Package> package;
  std::vector<base::Error> faults;
};
/// Reads and verifies a package; for a job.
LookedInto lookInto(const QString& file, const base::Progress* progress = nullptr);
/// Adds to `column` who made the package, whether it is whole, and in a line how it differs from `mine` when
/// there is one.
void addLook(QVBoxLayout* column, const LookedInto& looked, const packing::Package* mine, QWidget* parent);
/// The rows of a package by itself.
std::vector<EntryRow> rowsOf(const packing::Package& package);

}  // namespace rakugo::app
