#include "packing/install.h"

#include <algorithm>
#include <map>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"
#include "packing/ledger.h"
#include "packing/packager.h"

namespace rakugo::packing {
namespace fs = std::filesystem;
namespace {

std::string shaOf(const fs::path& path) {
  const auto bytes = base::readFile(path);
  return bytes ? base::hex(base::sha256(*bytes)) : std::string();
}

bool isOurs(const LedgerEntry& entry, const std::string& sha) {
  return !sha.empty() && (sha == entry.sha256 || sha == entry.before);
}

}  // namespace

base::Result<Installed> installPackage(const fs::path& path, const fs::path& game, base::Progress* progress) {
  const auto cancelled = [&] { return progress != nullptr && progress->cancelled(); };
  if (progress != nullptr) progress->say(base::phrase("Reading {0}", path.filename().string()), 0.2);
  RAKUGO_ASSIGN(const Package read, lookInto(path));
  if (const auto faults = verifyPackage(path, progress); cancelled())
    return base::cancelledError();
  else if (!faults.empty())
    return base::Error{
        "build.verify",
        base::phrase("The package does not hold what it promises: {0}", faults.front().message),
        faults.front().place, faults.front().cure};
  if (cancelled()) return base::cancelledError();
  const fs::path mods = game / "mods";
  RAKUGO_TRY(base::makeFolder(mods));
  base::removeLeftovers(mods);
  const std::string file = base::slug(read.manifest.mod_id) + findPackager(read.packaging)->suffix;
  Installed out;
  out.path = mods / file;
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(path));
  RAKUGO_ASSIGN(Ledger ledger, readLedger(mods));
  if (cancelled()) return base::cancelledError();
  if (progress != nullptr) progress->say(base::phrase("Installing {0}", file), 0.8);
  const std::string now = shaOf(out.path), next = base::hex(base::sha256(bytes));
  LedgerEntry entry{read.manifest.mod_id, next, {}, {}};
  const auto known = ledger.find(file);
  if (known != ledger.end()) entry.kept = known->second.kept;
  if (known != ledger.end() && isOurs(known->second, now)) {
    entry.before = now;
  } else if (!now.empty() && now != next) {
    // Another's file, also one that took the place of ours: kept beside it, never written over.
    RAKUGO_ASSIGN(const base::Bytes others, base::readFile(out.path));
    entry.kept = now.substr(0, 12) + "-" + file;
    RAKUGO_TRY(base::makeFolder(oursIn(mods) / "kept"));
    RAKUGO_TRY(base::writeFileAtomic(oursIn(mods) / "kept" / entry.kept, others));
  }
  ledger[file] = entry;
  RAKUGO_TRY(writeLedger(mods, ledger));
  RAKUGO_TRY(base::writeFileAtomic(out.path, bytes));
  ledger[file].before.clear();
  RAKUGO_TRY(writeLedger(mods, ledger));
  if (!entry.kept.empty()) out.kept = oursIn(mods) / "kept" / entry.kept;
  return out;
}

base::Result<fs::path> uninstallMod(const std::string& mod_id, const fs::path& game) {
  const fs::path mods = game / "mods";
  RAKUGO_ASSIGN(Ledger ledger, readLedger(mods));
  const auto found =
      std::find_if(ledger.begin(), ledger.end(), [&](const auto& one) { return one.second.mod == mod_id; });
  if (found == ledger.end())
    return base::Error{"install.unknown",
                       base::phrase("Rakugo has not installed \"{0}\" there.", base::presentable(mod_id, 60)),
                       base::Place{mods.string()},
                       base::phrase("rakugo-tool list --game shows what is installed.")};
  const fs::path path = mods / found->first;
  const std::string now = shaOf(path);
  const fs::path kept = found->second.kept.empty() ? fs::path() : oursIn(mods) / "kept" / found->second.kept;
  const std::string kept_sha = kept.empty() ? std::string() : shaOf(kept);
  // The kept one may lie in place already, when an earlier try was stopped half way.
  if (!now.empty() && !isOurs(found->second, now) && (kept_sha.empty() || now != kept_sha))
    return base::Error{"install.changed",
                       base::phrase("Another program has replaced this file; it is not removed."),
                       base::Place{path.string()}, base::phrase("Remove it by hand when it is not wanted.")};
  if (!kept_sha.empty() && now != kept_sha) {
    RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(kept));
    RAKUGO_TRY(base::writeFileAtomic(path, bytes));
  } else if (kept_sha.empty()) {
    RAKUGO_TRY(base::removeFile(path));
  }
  ledger.erase(found);
  RAKUGO_TRY(writeLedger(mods, ledger));
  if (!kept.empty()) RAKUGO_TRY(base::removeFile(kept));
  return kept_sha.empty() ? fs::path() : path;
}

std::vector<InstalledPackage> listInstalled(const fs::path& game) {
  const fs::path mods = game / "mods";
  const auto ledger = readLedger(mods);
  std::vector<InstalledPackage> out;
  std::error_code error;
  for (const auto& entry : fs::directory_iterator(mods, error)) {
    const std::string suffix = entry.path().extension().string();
    std::error_code ignored;
    const bool package = std::any_of(packagers().begin(), packagers().end(),
                                     [&](const Packager& one) { return suffix == one.suffix; });
    if (!package || !entry.is_regular_file(ignored)) continue;
    InstalledPackage one;
    one.path = entry.path();
    one.bytes = entry.file_size(ignored);
    if (auto read = lookInto(entry.path()))
      one.manifest = read->manifest;
    else
      one.problem = read.error().message;
    if (ledger)
      if (const auto known = ledger->find(entry.path().filename().string()); known != ledger->end())
        one.ours = isOurs(known->second, shaOf(entry.path()));
    out.push_back(std::move(one));
  }
  std::sort(out.begin(), out.end(),
            [](const InstalledPackage& a, const InstalledPackage& b) { return a.path < b.path; });
  return out;
}

std::vector<check::InstalledMod> installedMods(const fs::path& game) {
  std::vector<check::InstalledMod> out;
  for (const InstalledPackage& one : listInstalled(game)) {
    if (!one.problem.empty()) continue;
    check::InstalledMod mod{
        one.path.filename().string(), one.manifest.mod_id, one.manifest.title, one.manifest.author, {}};
    for (const std::string& object : one.manifest.objects)
      mod.objects.push_back(object.substr(object.find('/') == std::string::npos ? 0 : object.find('/') + 1));
    out.push_back(std::move(mod));
  }
  return out;
}

std::vector<Contest> contests(const std::vector<InstalledPackage>& installed) {
  std::map<std::string, std::vector<std::string>> all;
  for (const InstalledPackage& one : installed)
    for (const std::string& object : one.manifest.objects) all[object].push_back(one.manifest.mod_id);
  std::vector<Contest> out;
  for (const auto& [object, mods] : all)
    if (mods.size() > 1) out.push_back({object, mods});
  return out;
}

}  // namespace rakugo::packing
