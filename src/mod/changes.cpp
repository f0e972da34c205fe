#include "mod/changes.h"

#include <algorithm>
#include <set>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

using base::Json;

std::string brief(const Json& value) { return base::presentable(base::jsonLine(value), 60); }

// Walks two values side by side without recursion on their depth.
void compare(const std::string& document, const Json& ours, const Json& theirs, size_t most,
             std::vector<Difference>& out) {
  struct Pair {
    std::string pointer;
    const Json* a;
    const Json* b;
  };
  std::vector<Pair> open = {{"", &ours, &theirs}};
  while (!open.empty() && out.size() < most) {
    const Pair now = std::move(open.back());
    open.pop_back();
    if (now.a != nullptr && now.b != nullptr && *now.a == *now.b) continue;
    const bool objects = now.a != nullptr && now.b != nullptr && now.a->is_object() && now.b->is_object();
    const bool lists = now.a != nullptr && now.b != nullptr && now.a->is_array() && now.b->is_array();
    std::vector<Pair> below;
    if (objects) {
      std::vector<std::string> keys;
      std::set<std::string> known;
      for (const Json* side : {now.a, now.b})
        for (const auto& [key, value] : side->items())
          if (known.insert(key).second) keys.push_back(key);
      for (const std::string& key : keys) {
        const auto a = now.a->find(key), b = now.b->find(key);
        below.push_back(
            {now.pointer + "/" + key, a == now.a->end() ? nullptr : &*a, b == now.b->end() ? nullptr : &*b});
      }
    } else if (lists) {
      for (size_t i = 0; i < std::max(now.a->size(), now.b->size()); ++i)
        below.push_back({now.pointer + "/" + std::to_string(i), i < now.a->size() ? &(*now.a)[i] : nullptr,
                         i < now.b->size() ? &(*now.b)[i] : nullptr});
    } else {
      out.push_back({document, now.pointer, now.a != nullptr ? brief(*now.a) : std::string(),
                     now.b != nullptr ? brief(*now.b) : std::string()});
    }
    // The stack gives back the last first.
    for (auto at = below.rbegin(); at != below.rend(); ++at) open.push_back(std::move(*at));
  }
}

}  // namespace

std::string Difference::text(std::string_view other_side) const {
  const std::string place = document + (pointer.empty() ? "" : ", " + pointer);
  const std::string other(other_side);
  if (ours.empty() && theirs.empty()) return base::phrase("{0}: differs", place);
  if (ours.empty()) return base::phrase("{0}: {1} {2}, not here", place, other, theirs);
  if (theirs.empty()) return base::phrase("{0}: {1}, not {2}", place, ours, other);
  return place + ": " + ours + ", " + other + " " + theirs;
}

std::vector<Difference> differences(const ModState& ours, const ModState& theirs,
                                    const std::vector<std::string>& paths, size_t most) {
  std::vector<Difference> out;
  for (const std::string& path : paths) {
    if (out.size() >= most) break;
    const auto a = documentContent(ours, path), b = documentContent(theirs, path);
    if (a == b) continue;
    if (documentPath(path).sort == DocumentSort::icon || !a || !b) {
      const auto said = [](const auto& one) { return one ? base::sizeText(one->size()) : std::string(); };
      out.push_back({path, "", said(a), said(b)});
      continue;
    }
    const auto x = base::parseJson(base::asText(*a), path), y = base::parseJson(base::asText(*b), path);
    if (x && y) compare(path, *x, *y, most, out);
  }
  return out;
}

std::vector<DiskChange> diskChanges(const fs::path& folder, const Footprint& footprint) {
  std::vector<DiskChange> out;
  const std::vector<std::string> there = documentFiles(folder);
  for (const std::string& path : there) {
    const auto known = footprint.find(path);
    auto bytes = base::readFile(folder / path, base::Limits{}.json_bytes);
    if (bytes && known != footprint.end() && base::hex(base::sha256(*bytes)) == known->second) continue;
    DiskChange change;
    change.path = path;
    change.sort = known == footprint.end() ? DiskChange::Sort::added : DiskChange::Sort::changed;
    if (bytes) {
      change.content = std::make_shared<const base::Bytes>(std::move(bytes).value());
      ModState tried;
      if (const auto put = putDocument(tried, path, change.content.get()); !put) {
        change.unreadable = true;
        change.error = put.error();
      }
    } else {
      // Removed between the listing and the reading: the next look will say so.
      if (bytes.error().code == "file.missing") continue;
      change.unreadable = true;
      change.error = bytes.error();
    }
    out.push_back(std::move(change));
  }
  for (const auto& [path, sha] : footprint)
    if (!std::binary_search(there.begin(), there.end(), path)) {
      DiskChange change;
      change.path = path;
      change.sort = DiskChange::Sort::removed;
      out.push_back(std::move(change));
    }
  std::sort(out.begin(), out.end(), [](const DiskChange& a, const DiskChange& b) { return a.path < b.path; });
  return out;
}

base::Status takeChanges(ModState& state, const std::vector<DiskChange>& changes) {
  ModState next = state;
  for (const DiskChange& change : changes) {
    if (change.unreadable) return change.error;
    RAKUGO_TRY(putDocument(next, change.path, change.content.get()));
  }
  state = std::move(next);
  return {};
}

void acknowledge(Footprint& footprint, const std::vector<DiskChange>& changes) {
  for (const DiskChange& change : changes) {
    if (change.content)
      footprint[change.path] = base::hex(base::sha256(*change.content));
    else if (change.sort == DiskChange::Sort::removed)
      footprint.erase(change.path);
  }
}

}  // namespace rakugo::mod
