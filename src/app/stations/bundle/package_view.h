// A package looked into: its card, its entries with their sizes as bars, and what differs from another one.
#pragma once

#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "packing/package.h"

class QVBoxLayout;

namespace rakugo::app {

/// An entry that is in a package, or will be.
struct EntryLine {
  std::string id;
  std::string why;                       ///< what pulls it in, or empty
  std::optional<uint64_t> stored_bytes;  ///< nothing while it is not built
};
/// Adds rows to `column`: each entry with its stored size as a bar beside the largest of `most_bytes`, and
/// why it is in there.
void addEntries(QVBoxLayout* column, std::vector<EntryLine> lines, uint64_t most_bytes, QWidget* parent);
void addEntries(QVBoxLayout* column, const packing::Package& package, QWidget* parent);

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
