// Packagers: what a mod is built into. Each is a row; building, looking into packages, verifying and
// installing go by the rows alone.
#pragma once

#include <string>
#include <vector>

#include "packing/package.h"
#include "packing/package_plan.h"

namespace rakugo::packing {

/// An entry with its content.
struct MadeEntry {
  const PlannedEntry* planned = nullptr;
  std::shared_ptr<const bundle::StoredEntry> content;  ///< as stored, with the SHA-256 of what it was made of
};

/// One sort of package.
struct Packager {
  const char* name;    ///< as a rulebook asks for it: "bundle"
  const char* suffix;  ///< ".rkb"
  /// Whether a file that begins so is such a package.
  bool (*recognises)(base::ByteSpan bytes);
  base::Result<std::vector<PlannedEntry>> (*plan)(const check::Examination& examination, const PlanFor& what,
                                                  const base::Progress* progress);
  /// Whether content is kept compressed entry by entry (`PlannedEntry::compress`), or as it is.
  bool compresses_entries;
  /// The file's bytes, from all entries of the plan in its order. Equal entries give equal bytes.
  base::Result<base::Bytes> (*write)(const std::vector<MadeEntry>& entries);
  /// What it holds. Errors with place; hostile bytes are refused.
  base::Result<Package> (*look)(base::ByteSpan bytes, const std::string& name);
  /// All faults, read to the last byte. Cancelled: job.cancelled among them.
  std::vector<base::Error> (*verify)(base::ByteSpan bytes, const std::string& name,
                                     const base::Progress* progress);
};

/// Those that come with Rakugo, and what was added.
const std::vector<Packager>& packagers();
/// Adds a row for the rest of the program; replaces one of that name. Call it before the first thread is
/// started.
void addPackager(const Packager& packager);
/// The row of that name, or null.
const Packager* findPackager(const std::string& name);
/// The row that takes a file beginning so; the bundle's where none does, which then says what is wrong with
/// it.
const Packager& packagerOf(base::ByteSpan bytes);
/// What the game of an examined mod takes. Errors: build.packager, with the names there are.
base::Result<const Packager*> packagerFor(const rulebook::Rulebook& book);
/// The target of that id, or the usual one. Errors: build.target, with the ids there are.
base::Result<rulebook::Target> targetFor(const rulebook::Rulebook& book, const std::string& id);

const Packager& bundlePackager();
const Packager& zipPackager();

}  // namespace rakugo::packing
