#include "packing/packager.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::packing {
namespace {

std::vector<Packager>& rows() {
  static std::vector<Packager> all = {bundlePackager(), zipPackager()};
  return all;
}

}  // namespace

const std::vector<Packager>& packagers() { return rows(); }

void addPackager(const Packager& packager) {
  std::erase_if(rows(), [&](const Packager& one) { return std::string(one.name) == packager.name; });
  rows().push_back(packager);
}

const Packager* findPackager(const std::string& name) {
  for (const Packager& one : rows())
    if (name == one.name) return &one;
  return nullptr;
}

const Packager& packagerOf(base::ByteSpan bytes) {
  for (const Packager& one : rows())
    if (one.recognises(bytes)) return one;
  return rows().front();
}

base::Result<const Packager*> packagerFor(const rulebook::Rulebook& book) {
  if (const Packager* found = findPackager(book.packaging)) return found;
  std::vector<std::string> names;
  for (const Packager& one : rows()) names.emplace_back(one.name);
  return base::Error{
      "build.packager",
      base::phrase("The rulebook {0} asks for packages of the sort \"{1}\", which this Rakugo cannot make.",
                   book.title, base::presentable(book.packaging, 60)),
      base::Place{(book.folder / "rulebook.json").string(), "/packaging"},
      base::phrase("It makes {0}.", base::listText(names))};
}

base::Result<rulebook::Target> targetFor(const rulebook::Rulebook& book, const std::string& id) {
  if (const auto found = book.targetNamed(id)) return *found;
  std::vector<std::string> ids;
  for (const rulebook::Target& one : book.allTargets()) ids.push_back(one.id);
  return base::Error{"build.target",
                     base::phrase("{0} has no target \"{1}\".", book.title, base::presentable(id, 60)),
                     base::Place{(book.folder / "rulebook.json").string(), "/targets"},
                     base::phrase("It has {0}.", base::listText(ids))};
}

base::Result<std::vector<PlannedEntry>> planPackage(const check::Examination& examination,
                                                    const std::string& target,
                                                    const base::Progress* progress) {
  RAKUGO_ASSIGN(const Packager* packager, packagerFor(*examination.book));
  RAKUGO_ASSIGN(const rulebook::Target built_for, targetFor(*examination.book, target));
  return packager->plan(examination, {built_for}, progress);
}

}  // namespace rakugo::packing
