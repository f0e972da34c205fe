#include "mod/copy.h"

#include <unistd.h>

#include <algorithm>
#include <random>

#include "base/files.h"
#include "base/text.h"
#include "mod/set_aside_place.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

using base::Json;
using Names = std::map<std::string, std::string>;

bool nameLetter(char c) {
  return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
}

// A text that may name things: no spaces, nothing but letters, digits and the marks that join names.
bool identifierLike(std::string_view text) {
  return !text.empty() && std::all_of(text.begin(), text.end(), [](char c) {
    return nameLetter(c) || c == '.' || c == '/' || c == ':' || c == '#';
  });
}

// Replaces whole names inside an identifier: "text/quay-lamp/blurb".
std::string replaceNames(std::string_view text, const Names& names, std::map<std::string, size_t>& counts) {
  std::string out;
  size_t at = 0;
  while (at < text.size()) {
    size_t end = at;
    while (end < text.size() && nameLetter(text[end])) ++end;
    const std::string word(text.substr(at, end - at));
    if (const auto found = names.find(word); found != names.end()) {
      out += found->second;
      ++counts[word];
    } else {
      out += word;
    }
    if (end < text.size()) out += text[end++];
    at = end;
  }
  return out;
}

// The same in every text of a JSON value, keys included.
void replaceInside(Json& json, const Names& names, std::map<std::string, size_t>& counts) {
  std::vector<Json*> open = {&json};
  while (!open.empty()) {
    Json* now = open.back();
    open.pop_back();
    if (now->is_string()) {
      const std::string text = now->get<std::string>();
      if (identifierLike(text)) *now = replaceNames(text, names, counts);
    } else if (now->is_object()) {
      Json next = Json::object();
      for (const auto& [key, value] : now->items())
        next[identifierLike(key) ? replaceNames(key, names, counts) : key] = value;
      *now = std::move(next);
      for (auto& [key, value] : now->items()) open.push_back(&value);
    } else if (now->is_array()) {
      for (Json& value : *now) open.push_back(&value);
    }
  }
}

// Replaces `stem` where it stands as whole words between dashes; empty when it does not.
std::string withStem(const std::string& name, const std::string& stem, const std::string& next) {
  if (stem.empty()) return {};
  const std::string padded = "-" + name + "-";
  const size_t at = padded.find("-" + stem + "-");
  if (at == std::string::npos) return {};
  return padded.substr(1, at) + next +
         padded.substr(at + 1 + stem.size(), padded.size() - at - stem.size() - 2);
}

// Keys of a document that are not its own fields; they are searched for names.
Json othersOf(const Json& seen, DocumentSort sort) {
  const std::vector<std::string>& known = knownKeys(sort);
  Json out = Json::object();
  if (seen.is_object())
    for (const auto& [key, value] : seen.items())
      if (std::find(known.begin(), known.end(), key) == known.end()) out[key] = value;
  return out;
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
          plan_.mistakes.push_back({"mod.name", "\"" + base::presentable(to, 60) + "\" cannot be a name.",
                                    base::Place{from}, "Write \"" + base::slug(to) + "\"."});
        if (!used.insert(to).second)
          plan_.mistakes.push_back({"mod.name",
                                    "Two things would be called \"" + base::presentable(to, 60) + "\".",
                                    base::Place{from}, "Give each a name of its own."});
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

  std::string newPath(const std::string& path) {
    const DocumentPath what = documentPath(path);
    if (what.sort == DocumentSort::model) return "models/" + plan_.models.at(what.name) + ".model.json";
    if (what.sort == DocumentSort::object) return "objects/" + plan_.objects.at(what.name) + ".object.json";
    if (path.starts_with("sources/")) {
      // What lies inside a source keeps its name: the model file refers to its pictures by it.
      const size_t end = path.find('/', 8);
      const std::string name = path.substr(8, end - 8);
      const auto source = plan_.sources.find(name);
      return source == plan_.sources.end() ? path : "sources/" + source->second + path.substr(end);
    }
    std::map<std::string, size_t> ignored;
    return identifierLike(path) ? replaceNames(path, names_, ignored) : path;
  }

  void rewrite() {
    names_ = everyName();
    plan_.state.card = from_.card;
    plan_.state.card.title = plan_.title;
    plan_.state.card.id = plan_.id;
    counts_[from_.card.id] = 1;
    putOthers(plan_.state.card.seen, DocumentSort::card);
    for (SetAside& aside : plan_.state.card.set_aside) {
      rename(aside);
      replaceInside(aside.more, names_, counts_);
    }
    for (const auto& [name, doc] : from_.sources) {
      SourceDoc next = doc;
      putOthers(next.seen, DocumentSort::source);
      // What lies inside a source keeps its name, so only keys that no one knows are looked at.
      const auto others = [&](std::vector<SourceFile>& files) {
        for (SourceFile& file : files) replaceInside(file.more, names_, counts_);
      };
      others(next.files);
      for (SourceVersion& version : next.older) {
        others(version.files);
        replaceInside(version.more, names_, counts_);
      }
      plan_.state.sources[plan_.sources.at(name)] = std::move(next);
    }
    for (const auto& [name, doc] : from_.models) {
      ModelDoc next = doc;
      if (const auto source = plan_.sources.find(doc.source); source != plan_.sources.end()) {
        next.source = source->second;
        ++counts_[doc.source];
      }
      for (auto& [variant, source] : next.variants)
        if (const auto found = plan_.sources.find(source); found != plan_.sources.end()) {
          ++counts_[source];
          source = found->second;
        }
      for (StepDoc& step : next.steps) rename(step);
      for (PointDoc& point : next.points) replaceInside(point.more, names_, counts_);
      putOthers(next.seen, DocumentSort::model);
      plan_.state.models[plan_.models.at(name)] = std::move(next);
    }
    for (const auto& [path, bytes] : from_.icons) plan_.state.icons[newPath(path)] = bytes;
    for (const auto& [name, doc] : from_.objects)
      plan_.state.objects[plan_.objects.at(name)] = renamed(name, doc);
    for (const std::string& path : modFiles(folder_))
      if (!base::isTemporaryName(path)) plan_.files[path] = newPath(path);
  }

  // What a document's `seen` holds beyond its own keys, with the names inside replaced.
  void putOthers(Json& seen, DocumentSort sort) {
    Json others = othersOf(seen, sort);
    for (const auto& [key, value] : others.items()) seen.erase(key);
    replaceInside(others, names_, counts_);
    for (const auto& [key, value] : others.items()) seen[key] = value;
  }

  // The name that something of the mod has in the copy.
  std::string renamed(const Names& names, const std::string& name) {
    const auto found = names.find(name);
    if (found == names.end()) return name;
    ++counts_[name];
    return found->second;
  }

  // A finding stays set aside: its place names the same things by their new names.
  void rename(SetAside& aside) {
    SetAsidePlace place = placeFrom(aside.place);
    if (placeText(place) != aside.place) return;  // written by hand; it fits no finding
    const DocumentPath what = documentPath(place.document);
    if ((what.sort == DocumentSort::model && plan_.models.count(what.name) != 0) ||
        (what.sort == DocumentSort::object && plan_.objects.count(what.name) != 0) ||
        (what.sort != DocumentSort::model && what.sort != DocumentSort::object))
      place.document = newPath(place.document);
    place.model = renamed(plan_.models, place.model);
    place.object = renamed(plan_.objects, place.object);
    place.source = renamed(plan_.sources, place.source);
    aside.place = placeText(place);
  }

  void rename(StepDoc& step) {
    for (auto& [key, value] : step.values.items()) {
      if (!naming_.in_step || !naming_.in_step(step.kind, key)) continue;
      // A model's own name first: a name that a model and an object share may change differently for each.
      if (value.is_string() && plan_.models.count(value.get<std::string>()) != 0)
        value = renamed(plan_.models, value.get<std::string>());
      else
        replaceInside(value, names_, counts_);
    }
    replaceInside(step.more, names_, counts_);
  }

  ObjectDoc renamed(const std::string& name, const ObjectDoc& doc) {
    ObjectDoc next = doc;
    for (PieceDoc& piece : next.pieces) {
      if (piece.name == piece.model)
        piece.name = plan_.models.count(piece.model) ? plan_.models.at(piece.model) : piece.name;
      if (const auto model = plan_.models.find(piece.model); model != plan_.models.end()) {
        ++counts_[piece.model];
        piece.model = model->second;
      }
      replaceInside(piece.more, names_, counts_);
    }
    if (!next.icon.empty()) next.icon = newPath(next.icon);
    for (auto& [field, value] : next.card.items())
      if (!value.is_string() || (naming_.in_card && naming_.in_card(doc.kind, field)))
        replaceInside(value, names_, counts_);
    // The title people see: the mod's own title inside it, or the name it was made of.
    if (const size_t at = doc.title.find(from_.card.title);
        at != std::string::npos && !from_.card.title.empty())
      next.title.replace(at, from_.card.title.size(), plan_.title);
    else if (base::slug(doc.title) == name && plan_.objects.at(name) == base::slug(plan_.title))
      next.title = plan_.title;
    putOthers(next.seen, DocumentSort::object);
    return next;
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
  Names names_;
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
    return base::Error{"mod.exists", "The folder is not empty.", base::Place{to.string()},
                       "Choose a new folder."};
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
