// The list of what Rakugo put into a game's mods folder: mods/.rakugo/ledger.json.
#pragma once

#include <filesystem>
#include <map>
#include <string>

#include "base/result.h"

namespace rakugo::packing {

/// One line: a file that we put there, or are about to.
struct LedgerEntry {
  std::string mod, sha256;
  std::string kept;    ///< name below .rakugo/kept of another's file that was there before; empty: none was
  std::string before;  ///< SHA-256 of our own file that it replaces; until the new one is in place, either
                       ///< may lie there
  bool operator==(const LedgerEntry&) const = default;
};
using Ledger = std::map<std::string, LedgerEntry>;  ///< by file name

/// Never throws. Errors: json.*, install.ledger with the place; names that lead out of their folder are
/// refused.
base::Result<Ledger> parseLedger(std::string_view text, const std::string& file);
std::string ledgerText(const Ledger& ledger);

/// Reads the ledger of a mods folder; empty where there is none. Errors: file.*, install.ledger.
base::Result<Ledger> readLedger(const std::filesystem::path& mods);
/// Errors: file.unwritable.
base::Status writeLedger(const std::filesystem::path& mods, const Ledger& ledger);

/// The folder beside the game's mods where Rakugo keeps what is its own.
std::filesystem::path oursIn(const std::filesystem::path& mods);

}  // namespace rakugo::packing
