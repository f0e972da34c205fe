#include "packing/build_package.h"

#include <algorithm>
#include <atomic>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "packing/packager.h"

namespace rakugo::packing {
namespace fs = std::filesystem;
namespace {

base::Error refusal(const check::Examination& examination) {
  std::vector<std::string> reasons;
  for (const check::Finding& f : examination.findings)
    if (f.severity == check::Severity::stops) reasons.push_back(f.sentence);
  std::string message = base::phrase("The build is refused: {0} the game.",
                                     base::countText(reasons.size(), "finding stops", "findings stop"));
  for (size_t i = 0; i < std::min<size_t>(reasons.size(), 5); ++i) message += " " + reasons[i];
  return {"build.refused", message, base::Place{examination.folder.string()},
          base::phrase("Mend these first.")};
}

using Stored = std::shared_ptr<const bundle::StoredEntry>;

base::Result<Stored> makeEntry(const PlannedEntry& entry, bool compress, BuildCache* cache) {
  std::string key;
  if (cache != nullptr) {
    key = entry.key(*cache);
    if (!key.empty())
      if (Stored known = cache->find(key)) return known;
  }
  RAKUGO_ASSIGN(base::Bytes raw, entry.make());
  auto stored = bundle::storeEntry(std::move(raw), compress);
  if (!stored) {
    base::Error e = stored.error();
    e.place.path = entry.id;
    return e;
  }
  Stored made = std::make_shared<const bundle::StoredEntry>(std::move(stored).value());
  if (cache != nullptr && !key.empty()) cache->put(key, made);
  return made;
}

// Makes every entry on all cores; what was made before under the same key is taken from the cache.
base::Result<std::vector<MadeEntry>> makeEntries(const std::vector<PlannedEntry>& plan,
                                                 const Packager& packager, const BuildOptions& options) {
  const auto cancelled = [&] { return options.progress != nullptr && options.progress->cancelled(); };
  std::vector<base::Result<Stored>> made(plan.size(), base::cancelledError());
  std::atomic<size_t> done{0};
  std::atomic<bool> failed{false};
  base::parallelFor(plan.size(), [&](size_t i) {
    if (failed || cancelled()) return;
    made[i] = makeEntry(plan[i], packager.compresses_entries && plan[i].compress, options.cache);
    if (!made[i]) failed = true;
    if (options.progress != nullptr)
      options.progress->say(base::phrase("Building {0}", plan[i].id),
                            0.9 * static_cast<double>(++done) / static_cast<double>(plan.size()));
  });
  if (cancelled()) return base::cancelledError();
  // The first in the plan's order that really failed; others may only have been left undone because of it.
  for (const auto& one : made)
    if (!one && one.error().code != "job.cancelled") return one.error();
  std::vector<MadeEntry> out;
  for (size_t i = 0; i < plan.size(); ++i) out.push_back({&plan[i], *made[i]});
  return out;
}

}  // namespace

base::Result<base::Bytes> buildPackage(const check::Examination& examination, const BuildOptions& options) {
  if (!options.despite_findings && examination.count(check::Severity::stops) > 0) return refusal(examination);
  RAKUGO_ASSIGN(const Packager* packager, packagerFor(*examination.book));
  RAKUGO_ASSIGN(const rulebook::Target target, targetFor(*examination.book, options.target));
  if (options.cache != nullptr) options.cache->beginBuild();
  RAKUGO_ASSIGN(const std::vector<PlannedEntry> plan,
                packager->plan(examination, {target, options.quick_pictures}, options.progress));
  RAKUGO_ASSIGN(const std::vector<MadeEntry> made, makeEntries(plan, *packager, options));
  auto out = packager->write(made);
  if (out && options.cache != nullptr) options.cache->endBuild();
  return out;
}

fs::path defaultOutput(const check::Examination& examination, const std::string& target) {
  const Packager* packager = findPackager(examination.book->packaging);
  const bool usual = target.empty() || target == examination.book->allTargets().front().id;
  return examination.folder / "build" /
         (base::slug(examination.mod->card.id) + (usual ? std::string() : "-" + base::slug(target)) +
          (packager != nullptr ? packager->suffix : ".package"));
}

fs::path cacheFolder(const fs::path& mod) { return mod / "build/cache"; }

base::Result<Built> buildToFile(const check::Examination& examination, const fs::path& output,
                                const BuildOptions& options) {
  RAKUGO_ASSIGN(const base::Bytes bytes, buildPackage(examination, options));
  if (options.progress != nullptr) options.progress->say("Verifying", 0.95);
  RAKUGO_ASSIGN(const Package read, lookInto(bytes, output.filename().string()));
  if (read.manifest.mod_id != examination.mod->card.id)
    return base::Error{"build.verify", base::phrase("The package is not what was to be built."),
                       base::Place{output.string()}, ""};
  if (options.progress != nullptr && options.progress->cancelled()) return base::cancelledError();
  if (output.has_parent_path()) RAKUGO_TRY(base::makeFolder(output.parent_path()));
  RAKUGO_TRY(base::writeFileAtomic(output, bytes));
  Built built;
  built.entries = read.entries.size();
  built.reused = options.cache != nullptr ? options.cache->hits() : 0;
  built.bytes = bytes.size();
  return built;
}

}  // namespace rakugo::packing
