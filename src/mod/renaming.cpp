#include "mod/renaming.h"

#include <algorithm>

#include "mod/references.h"
#include "mod/set_aside_place.h"

namespace rakugo::mod {
namespace {

using base::Json;

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
std::string replaceNames(std::string_view text, const Names& names, std::map<std::string, size_t>* counts) {
  std::string out;
  size_t at = 0;
  while (at < text.size()) {
    size_t end = at;
    while (end < text.size() && nameLetter(text[end])) ++end;
    const std::string word(text.substr(at, end - at));
    if (const auto found = names.find(word); found != names.end()) {
      out += found->second;
      if (counts != nullptr) ++(*counts)[word];
    } else {
      out += word;
    }
    if (end < text.size()) out += text[end++];
    at = end;
  }
  return out;
}

bool isPathOfFile(std::string_view text) {
  return text.starts_with("sounds/") || text.starts_with("pictures/") || text.starts_with("sources/");
}

const std::string& newName(const Names& names, const std::string& name) {
  const auto found = names.find(name);
  return found != names.end() ? found->second : name;
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

}  // namespace

std::string renamedInside(const std::string& text, const Names& names) {
  return identifierLike(text) ? replaceNames(text, names, nullptr) : text;
}

Renaming::Renaming(const ModState& from, NewNames names, const NamingValues& naming)
    : from_(from), names_(std::move(names)), naming_(naming) {}

size_t Renaming::places(const std::string& name) const {
  const auto found = counts_.find(name);
  return found != counts_.end() ? found->second : 0;
}

std::string Renaming::newPath(const std::string& path) const {
  const DocumentPath what = documentPath(path);
  if (what.sort == DocumentSort::model) return "models/" + newName(names_.models, what.name) + ".model.json";
  if (what.sort == DocumentSort::object)
    return "objects/" + newName(names_.objects, what.name) + ".object.json";
  if (what.sort == DocumentSort::texts) return path;  // called by its language, whatever else is called so
  if (path.starts_with("sources/")) {
    const size_t end = path.find('/', 8);
    return end == std::string::npos
               ? path
               : "sources/" + newName(names_.sources, path.substr(8, end - 8)) + path.substr(end);
  }
  return identifierLike(path) ? replaceNames(path, names_.words, nullptr) : path;
}

ModState Renaming::state() {
  ModState out;
  out.card = from_.card;
  putOthers(out.card.seen, DocumentSort::card);
  for (SetAside& aside : out.card.set_aside) {
    rename(aside);
    replaceInside(aside.more);
  }
  for (const auto& [name, doc] : from_.sources) out.sources[newName(names_.sources, name)] = renamed(doc);
  for (const auto& [name, doc] : from_.models) out.models[newName(names_.models, name)] = renamed(doc);
  for (const auto& [path, bytes] : from_.icons) out.icons[newPath(path)] = bytes;
  for (const auto& [name, doc] : from_.objects) out.objects[newName(names_.objects, name)] = renamed(doc);
  for (const auto& [language, doc] : from_.texts) out.texts[language] = renamed(doc);
  return out;
}

std::string Renaming::renamed(const Names& names, const std::string& name) {
  const auto found = names.find(name);
  if (found == names.end()) return name;
  ++counts_[name];
  return found->second;
}

std::string Renaming::followed(const NamedThing& named) {
  return referenceTo(named.thing,
                     renamed(named.thing == Thing::source ? names_.sources : names_.objects, named.name));
}

bool Renaming::isThing(const std::string& text) const {
  const auto named = namedThing(text);
  return named && (named->thing == Thing::source ? from_.sources.count(named->name) != 0
                                                 : from_.objects.count(named->name) != 0);
}

// In every text of a JSON value, keys included.
void Renaming::replaceInside(Json& json, bool things) {
  const auto stays = [&](const std::string& text) { return !names_.files_move && isPathOfFile(text); };
  std::vector<Json*> open = {&json};
  while (!open.empty()) {
    Json* now = open.back();
    open.pop_back();
    if (now->is_string()) {
      const std::string text = now->get<std::string>();
      if (isThing(text)) {
        if (things) *now = followed(*namedThing(text));
      } else if (identifierLike(text) && !stays(text)) {
        *now = replaceNames(text, names_.words, &counts_);
      }
    } else if (now->is_object()) {
      Json next = Json::object();
      for (const auto& [key, value] : now->items())
        next[identifierLike(key) ? replaceNames(key, names_.words, &counts_) : key] = value;
      *now = std::move(next);
      for (auto& [key, value] : now->items()) open.push_back(&value);
    } else if (now->is_array()) {
      for (Json& value : *now) open.push_back(&value);
    }
  }
}

// What a document's `seen` holds beyond its own keys, with the names inside replaced.
void Renaming::putOthers(Json& seen, DocumentSort sort) {
  if (!names_.files_move) return;
  Json others = othersOf(seen, sort);
  for (const auto& [key, value] : others.items()) seen.erase(key);
  replaceInside(others);
  for (const auto& [key, value] : others.items()) seen[key] = value;
}

// A finding stays set aside: its place names the same things by their new names.
void Renaming::rename(SetAside& aside) {
  SetAsidePlace place = placeFrom(aside.place);
  if (placeText(place) != aside.place) return;  // written by hand; it fits no finding
  place.document = newPath(place.document);
  place.model = renamed(names_.models, place.model);
  place.object = renamed(names_.objects, place.object);
  place.source = renamed(names_.sources, place.source);
  aside.place = placeText(place);
}

void Renaming::rename(StepDoc& step) {
  for (auto& [key, value] : step.values.items()) {
    if (!naming_.in_step || !naming_.in_step(step.kind, key)) continue;
    // A model's own name first: a name that a model and an object share may change differently for each.
    if (value.is_string() && names_.models.count(value.get<std::string>()) != 0)
      value = renamed(names_.models, value.get<std::string>());
    else
      replaceInside(value);
  }
  replaceInside(step.more);
}

SourceDoc Renaming::renamed(const SourceDoc& doc) {
  SourceDoc next = doc;
  putOthers(next.seen, DocumentSort::source);
  // What lies inside a source keeps its name, so only keys that no one knows are looked at.
  const auto others = [&](std::vector<SourceFile>& files) {
    for (SourceFile& file : files) replaceInside(file.more);
  };
  others(next.files);
  for (SourceVersion& version : next.older) {
    others(version.files);
    replaceInside(version.more);
  }
  return next;
}

ModelDoc Renaming::renamed(const ModelDoc& doc) {
  ModelDoc next = doc;
  next.source = renamed(names_.sources, doc.source);
  for (auto& [variant, source] : next.variants) source = renamed(names_.sources, source);
  for (StepDoc& step : next.steps) rename(step);
  for (PointDoc& point : next.points) replaceInside(point.more);
  next.follows.name = renamed(names_.models, next.follows.name);
  replaceInside(next.follows.more);
  putOthers(next.seen, DocumentSort::model);
  return next;
}

// Their ids are named by values of objects, where the same words are replaced.
TextsDoc Renaming::renamed(const TextsDoc& doc) {
  TextsDoc next = doc;
  next.texts.clear();
  for (const auto& [id, text] : doc.texts)
    next.texts[identifierLike(id) ? replaceNames(id, names_.words, &counts_) : id] = text;
  putOthers(next.seen, DocumentSort::texts);
  return next;
}

ObjectDoc Renaming::renamed(const ObjectDoc& doc) {
  ObjectDoc next = doc;
  Names called;  // pieces that are called as their model
  for (PieceDoc& piece : next.pieces) {
    if (piece.isModel() && piece.name == piece.model) {
      const std::string name = newName(names_.models, piece.name);
      if (name != piece.name) called[piece.name] = name;
      piece.name = name;
    }
    piece.model = renamed(names_.models, piece.model);
    replaceInside(piece.more);
  }
  for (PieceDoc& piece : next.pieces)
    for (std::string* named : {&piece.pair, &piece.parent})
      if (const auto now = called.find(*named); now != called.end()) *named = now->second;
  next.follows.name = renamed(names_.objects, next.follows.name);
  replaceInside(next.follows.more);
  for (std::string& own : next.follows.own)
    for (const auto& [old, now] : called)
      if (own == "/pieces/" + old || own.starts_with("/pieces/" + old + "/"))
        own.replace(std::string("/pieces/").size(), old.size(), now);
  if (!next.icon.empty()) next.icon = newPath(next.icon);
  for (auto& [field, value] : next.card.items())
    if (!value.is_string() || (naming_.in_card && naming_.in_card(doc.kind, field)))
      replaceInside(value, false);
  for (ListEntry& one : next.lists) replaceInside(one.more);
  replaceReferences(next,
                    [&](const NamedThing& named) -> std::optional<std::string> { return followed(named); });
  putOthers(next.seen, DocumentSort::object);
  return next;
}

}  // namespace rakugo::mod
