// Reads JSON objects by their rows of keys. Goes on behind a mistake, and says one thing at one place.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "base/json_scan.h"
#include "base/result.h"
#include "rulebook/key.h"

namespace rakugo::rulebook {

/// Mistakes of one file, each place once.
class Mistakes {
 public:
  /// At most this many are kept: who has more begins with these.
  static constexpr size_t kMost = 200;

  Mistakes(std::string file, const base::JsonScan& scan, std::vector<base::Error>& out)
      : file_(std::move(file)), scan_(&scan), out_(&out) {}
  /// Adds one, with the line of what `pointer` leads to. A place that was complained of, or that lies above
  /// or below such a one, says nothing new and is passed over.
  void add(const std::string& code, const std::string& pointer, const std::string& message,
           const std::string& cure = {});
  [[nodiscard]] bool related(const std::string& pointer) const;
  /// True when something at or below the place was complained of.
  [[nodiscard]] bool inside(const std::string& pointer) const;
  [[nodiscard]] bool full() const { return places_.size() >= kMost; }
  [[nodiscard]] const base::JsonScan& scan() const { return *scan_; }

 private:
  std::string file_;
  const base::JsonScan* scan_;
  std::vector<base::Error>* out_;
  std::vector<std::string> places_;
};

/// Puts the values of `json` that are right into `owner`, whose type is that of the table's rows, and
/// complains of the others, of keys that are missing, not known or stand in the wrong object, of ids that
/// stand twice and of references to nothing.
void readByKeys(const KeyTable& table, const base::Json& json, void* owner, Mistakes& mistakes);

}  // namespace rakugo::rulebook
