#include "mod/copy.h"

#include <unistd.h>

#include <algorithm>
#include <random>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

// Replaces `stem` where it stands as whole words between dashes; empty when it does not.
std::string withStem(const std::string& name, const std::string& stem, const std::string& next) {
  if (stem.empty()) return {};
  const std::string padded = "-" + name + "-";
  const size_t at = padded.find("-" + stem + "-");
  if (at == std::string::npos) return {};
  return padded.substr(1, at) + next +
         padded.substr(at + 1 + stem.size(), padded.size() - at - stem.size() - 2);
}

class Planner {
 public:
  Planner(const fs::path& folder, const ModState& from, const NamingValues& naming, CopyPlan& plan)
      : folder_(folder), from_(from), naming_(naming), plan_(plan) {}

  void run(const Names& chosen) {
    chooseNames(chosen);
    checkNames();
    if (plan_.mistakes.empty()) rewrite();
    list();
  }

 private:
  std::string proposed(const std::string& name) const {
    const std::string next = base::slug(plan_.title), stem = base::slug(from_.card.title);
    if (std::string with = withStem(name, stem, next); !with.empty()) return with;
    if (from_.objects.size() == 1 && from_.objects.begin()->first == name) return next;
    return next + "-" + name;
  }

  void chooseNames(const Names& chosen) {
    for (const auto& [name, doc] : from_.objects) {
      const auto own = chosen.find(name);
      plan_.objects[name] = own != chosen.end() ? own->second : proposed(name);
    }
    // A model and a source that are called like an object follow it.
    const auto follow = [&](const auto& docs, Names& into) {
      for (const auto& [name, doc] : docs) {
        const auto object = plan_.objects.find(name);
        into[name] = object != plan_.objects.end() ? object->second : proposed(name);
      }
    };
    follow(from_.models, plan_.models);
    follow(from_.sources, plan_.sources);
  }

  void checkNames() {
    for (const Names* names : {&plan_.objects, &plan_.models, &plan_.sources}) {
      std::set<std::string> used;
      for (const auto& [from, to] : *names) {
        if (to != base::slug(to))
          plan_.mistakes.push_back({"mod.name",
                                    base::phrase("\"{0}\" cannot be a name.", base::presentable(to, 60)),
                                    base::Place{from}, base::phrase("Write \"{0}\".", base::slug(to))});
        if (!used.insert(to).second)
          plan_.mistakes.push_back(
              {"mod.name", base::phrase("Two things would be called \"{0}\".", base::presentable(to, 60)),
               base::Place{from}, base::phrase("Give each a name of its own.")});
      }
    }
  }

  // Every name in one table. A name that a model and an object share changes the same way for both, as above.
  Names everyName() const {
    Names all;
    for (const Names* names : {&plan_.sources, &plan_.models, &plan_.objects})
      for (const auto& [from, to] : *names) all[from] = to;
    all[from_.card.id] = plan_.id;
    return all;
  }

  void rewrite() {
    Renaming renaming(from_, {plan_.sources, plan_.models, plan_.objects, everyName()}, naming_);
    plan_.state = renaming.state();
    plan_.state.card.title = plan_.title;
    plan_.state.card.id = plan_.id;
    for (const auto& [name, doc] : from_.objects) retitle(name, doc);
    for (const std::string& path : modFiles(folder_))
      if (!base::isTemporaryName(path)) plan_.files[path] = renaming.newPath(path);
    for (const auto& [from, to] : everyName()) counts_[from] = renaming.places(from);
    ++counts_[from_.card.id];
  }

  // The title people see: the mod's own title inside it, or the name it was made of.
  void retitle(const std::string& name, const ObjectDoc& doc) {
    std::string& title = plan_.state.objects.at(plan_.objects.at(name)).title;
    if (const size_t at = doc.title.find(from_.card.title);
        at != std::string::npos && !from_.card.title.empty())
      title.replace(at, from_.card.title.size(), plan_.title);
    else if (base::slug(doc.title) == name && plan_.objects.at(name) == base::slug(plan_.title))
      title = plan_.title;
  }

  void list() {
    plan_.renames.push_back({Rename::Sort::title, from_.card.title, plan_.title, 1});
    plan_.renames.push_back({Rename::Sort::id, from_.card.id, plan_.id, counts_[from_.card.id]});
    const auto add = [&](Rename::Sort sort, const Names& names) {
      for (const auto& [from, to] : names) {
        size_t places = counts_[from];
        for (const auto& [old_path, new_path] : plan_.files)
          if (old_path != new_path && old_path.find("/" + from) != std::string::npos) ++places;
        plan_.renames.push_back({sort, from, to, places});
      }
    };
    add(Rename::Sort::object, plan_.objects);
    add(Rename::Sort::model, plan_.models);
    add(Rename::Sort::source, plan_.sources);
    for (const auto& [from, to] : plan_.files)
      if (from != to && documentPath(from).sort != DocumentSort::model &&
          documentPath(from).sort != DocumentSort::object && !from.starts_with("sources/"))
        plan_.renames.push_back({Rename::Sort::file, from, to, 1});
  }

  const fs::path& folder_;
  const ModState& from_;
  const NamingValues& naming_;
  CopyPlan& plan_;
  std::map<std::string, size_t> counts_;
};

}  // namespace

std::string freshModId(const std::string& title, const std::set<std::string>& taken) {
  static constexpr char kLetters[] = "abcdefghjkmnpqrstuvwxyz23456789";
  std::random_device random;
  for (;;) {
    std::string id = base::slug(title) + "-";
    for (int i = 0; i < 6; ++i) id += kLetters[random() % (sizeof kLetters - 1)];
    if (taken.count(id) == 0) return id;
  }
}

const char* renameSortName(Rename::Sort sort) {
  static constexpr const char* kNames[] = {"id", "title", "source", "model", "object", "file"};
  return kNames[static_cast<size_t>(sort)];
}

CopyPlan planCopy(const fs::path& folder, const ModState& from, const std::string& title,
                  const std::string& id, const NamingValues& naming, const Names& chosen) {
  CopyPlan plan;
  plan.title = title;
  plan.id = id;
  Planner(folder, from, naming, plan).run(chosen);
  return plan;
}

base::Status makeCopy(const fs::path& from, const fs::path& to, const CopyPlan& plan,
                      const base::Progress* progress) {
  if (!plan.mistakes.empty()) return plan.mistakes.front();
  std::error_code error;
  if (fs::exists(to, error) && !fs::is_empty(to, error))
    return base::Error{"mod.exists", base::phrase("The folder is not empty."), base::Place{to.string()},
                       base::phrase("Choose a new folder.")};
  // Made beside its place under another name, so that a half copied mod is never taken for one.
  const fs::path half = to.string() + ".half-" + std::to_string(::getpid());
  const auto make = [&]() -> base::Status {
    for (const auto& [old_path, new_path] : plan.files) {
      if (progress != nullptr && progress->cancelled()) return base::cancelledError();
      RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(from / old_path));
      RAKUGO_TRY(base::makeFolder((half / new_path).parent_path()));
      RAKUGO_TRY(base::writeFileAtomic(half / new_path, bytes));
    }
    RAKUGO_TRY(saveMod(half, plan.state, plan.state));
    fs::remove(to, error);  // an empty folder would be in the way of the rename
    return base::moveIntoPlace(half, to);
  };
  RAKUGO_TRY(base::makeFolder(half));
  const base::Status made = make();
  if (!made) fs::remove_all(half, error);
  return made;
}

}  // namespace rakugo::mod
