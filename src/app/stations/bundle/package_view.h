// A package looked into: its card, its entries with their sizes as bars, and what differs from another one.
#pragma once

#include <QWidget>

#include "packing/package.h"

class QVBoxLayout;

namespace rakugo::app {

/// Adds rows to `column`: each entry with its stored size as a bar beside the largest, and why it is in there
/// where `why` knows it.
void addEntries(QVBoxLayout* column, const packing::Package& package,
                const std::map<std::string, std::string>& why, QWidget* parent);

/// Everything about a package that was dropped on the window or chosen: who made it, whether it is whole, its
/// entries, and how it differs from `mine` when there is one.
struct LookedInto {
  QString file;
  base::Result<packing::Package> package;
  std::vector<base::Error> faults;
};
/// Reads and verifies a package; for a job.
LookedInto lookInto(const QString& file, const base::Progress* progress = nullptr);
void addLook(QVBoxLayout* column, const LookedInto& looked, const packing::Package* mine, QWidget* parent);

}  // namespace rakugo::app
