#include "mod/following.h"

#include <algorithm>
#include <deque>
#include <map>
#include <optional>
#include <set>
#include <string_view>

#include "base/json_pointer.h"
#include "base/phrase.h"
#include "base/text.h"
#include "mod/document_entries.h"

namespace rakugo::mod {
namespace {

using base::Json;

// The pieces of an object, or the points of a model, by name; of two that are called the same the second is
// "name#2". Names are views of those in the document, which outlives this.
template <class Entry>
struct Entries {
  using Named = std::pair<std::string_view, const Entry*>;
  std::vector<Named> order, by_name;  // as they stand, and sorted
  std::deque<std::string> made;       // names that are not in the document

  // `near`: where it stands if nothing was put in or taken out.
  [[nodiscard]] const Entry* find(std::string_view name, size_t near = SIZE_MAX) const {
    if (near < order.size() && order[near].first == name) return order[near].second;
    const auto found =
        std::lower_bound(by_name.begin(), by_name.end(), name,
                         [](const Named& one, std::string_view key) { return one.first < key; });
    return found != by_name.end() && found->first == name ? found->second : nullptr;
  }
};

const std::string& nameOf(const PieceDoc& piece) { return piece.name; }
const std::string& nameOf(const PointDoc& point) { return point.id; }
const char* listKey(const PieceDoc*) { return "pieces"; }
const char* listKey(const PointDoc*) { return "points"; }

template <class Entry>
Entries<Entry> entriesOf(const std::vector<Entry>& list) {
  Entries<Entry> out;
  out.order.reserve(list.size());
  for (const Entry& one : list) out.order.emplace_back(nameOf(one), &one);
  const auto sort = [&] {
    out.by_name = out.order;
    std::sort(out.by_name.begin(), out.by_name.end());
    return std::adjacent_find(out.by_name.begin(), out.by_name.end(), [](const auto& a, const auto& b) {
             return a.first == b.first;
           }) != out.by_name.end();
  };
  if (!sort()) return out;
  std::set<std::string_view> taken;
  for (auto& [name, entry] : out.order)
    for (int n = 2; !taken.insert(name).second; ++n)
      name = out.made.emplace_back(nameOf(*entry) + "#" + std::to_string(n));
  sort();
  return out;
}

// An entry of the design as it is followed: what hangs on the document itself is scaled, what is carried goes
// along.
PieceDoc scaled(PieceDoc piece, double scale) {
  if (scale == 1 || !piece.parent.empty()) return piece;
  for (double& x : piece.position_m) x *= scale;
  piece.scale *= scale;
  return piece;
}
PointDoc scaled(PointDoc point, double scale) {
  for (double& x : point.position_m) x *= scale;
  return point;
}

// Whether an entry is that of the design as it is followed; without a copy where nothing is scaled.
template <class Entry>
bool isAs(const Entry& own, const Entry& design, double scale) {
  return scale == 1 ? own == design : own == scaled(design, scale);
}

// What a document is beside its entries, with places in lists by the list.
Json restOf(const Json& seen, DocumentSort sort, Json own) {
  const std::vector<std::string>& known = knownKeys(sort);
  for (const auto& [key, value] : seen.items())
    if (std::find(known.begin(), known.end(), key) == known.end()) own[key] = value;
  return own;
}
Json restOf(const ObjectDoc& doc) {
  Json out{{"kind", doc.kind}, {"title", doc.title}, {"card", doc.card}};
  for (const ListEntry& one : doc.lists) {
    std::string name = one.list;
    for (int n = 2; out.contains("lists") && out["lists"].contains(name); ++n)
      name = one.list + "#" + std::to_string(n);
    out["lists"][name] = toJson(one);
  }
  return restOf(doc.seen, DocumentSort::object, std::move(out));
}
Json restOf(const ModelDoc& doc) {
  Json out{{"source", doc.source}};
  for (const auto& [variant, source] : doc.variants) out["variants"][variant] = source;
  return restOf(doc.seen, DocumentSort::model, std::move(out));
}

const std::vector<PieceDoc>& listOf(const ObjectDoc& doc) { return doc.pieces; }
const std::vector<PointDoc>& listOf(const ModelDoc& doc) { return doc.points; }
std::vector<PieceDoc>& listOf(ObjectDoc& doc) { return doc.pieces; }
std::vector<PointDoc>& listOf(ModelDoc& doc) { return doc.points; }

// A document as it is compared. `scale`: of the design, as it is followed.
template <class Doc>
struct Compared {
  using Entry = typename std::decay_t<decltype(listOf(std::declval<const Doc&>()))>::value_type;
  Json rest;
  Entries<Entry> entries;
  double scale = 1;

  explicit Compared(const Doc& doc, double factor = 1)
      : rest(restOf(doc)), entries(entriesOf(listOf(doc))), scale(factor) {}
  [[nodiscard]] Json entry(const Entry& one) const { return toJson(scaled(one, scale)); }
};

const Json* at(const Json& json, const std::vector<std::string>& tokens) {
  const Json* now = &json;
  for (const std::string& token : tokens) {
    if (!now->is_object()) return nullptr;
    const auto next = now->find(token);
    if (next == now->end()) return nullptr;
    now = &*next;
  }
  return now;
}

// Puts a value where the object that holds it is there; null: takes it out.
void put(Json& json, const std::vector<std::string>& tokens, const Json* value) {
  Json* now = &json;
  for (size_t i = 0; i + 1 < tokens.size(); ++i) {
    const auto next = now->is_object() ? now->find(tokens[i]) : now->end();
    if (next == now->end()) {
      // A card or a list that the other does not have yet begins here; a piece of it does not.
      if (value == nullptr || i > 0 || !now->is_object()) return;
      (*now)[tokens[i]] = Json::object();
      now = &(*now)[tokens[i]];
      continue;
    }
    now = &*next;
  }
  if (!now->is_object() || tokens.empty()) return;
  if (value != nullptr)
    (*now)[tokens.back()] = *value;
  else
    now->erase(tokens.back());
}

void compare(const Json& one, const Json& other, const std::string& pointer, std::vector<std::string>& out) {
  for (const auto& [key, value] : one.items()) {
    const std::string here = pointer + "/" + base::pointerToken(key);
    const auto there = other.find(key);
    if (there == other.end())
      out.push_back(here);
    else if (value.is_object() && there->is_object())
      compare(value, *there, here, out);
    else if (value != *there)
      out.push_back(here);
  }
  for (const auto& [key, value] : other.items())
    if (!one.contains(key)) out.push_back(pointer + "/" + base::pointerToken(key));
}

template <class Doc>
std::vector<std::string> differences(const Compared<Doc>& design, const Compared<Doc>& own) {
  using Entry = typename Compared<Doc>::Entry;
  std::vector<std::string> out;
  compare(design.rest, own.rest, "", out);
  const std::string list = std::string("/") + listKey(static_cast<const Entry*>(nullptr)) + "/";
  for (size_t i = 0; i < design.entries.order.size(); ++i) {
    const auto& [name, entry] = design.entries.order[i];
    const Entry* here = own.entries.find(name, i);
    if (here == nullptr)
      out.push_back(list + base::pointerToken(std::string(name)));
    else if (!isAs(*here, *entry, design.scale))
      compare(design.entry(*entry), own.entry(*here), list + base::pointerToken(std::string(name)), out);
  }
  for (size_t i = 0; i < own.entries.order.size(); ++i)
    if (const std::string_view name = own.entries.order[i].first; design.entries.find(name, i) == nullptr)
      out.push_back(list + base::pointerToken(std::string(name)));
  std::sort(out.begin(), out.end());
  return out;
}

// What stands at a pointer.
template <class Doc>
std::optional<Json> valueAt(const Compared<Doc>& doc, const std::vector<std::string>& tokens) {
  using Entry = typename Compared<Doc>::Entry;
  if (tokens.size() < 2 || tokens[0] != listKey(static_cast<const Entry*>(nullptr))) {
    const Json* found = at(doc.rest, tokens);
    return found != nullptr ? std::optional(*found) : std::nullopt;
  }
  const Entry* entry = doc.entries.find(tokens[1]);
  if (entry == nullptr) return std::nullopt;
  const Json json = doc.entry(*entry);
  const Json* found = at(json, {tokens.begin() + 2, tokens.end()});
  return found != nullptr ? std::optional(*found) : std::nullopt;
}

// Whether `pointer` is one of those, or lies within one.
bool covered(const std::vector<std::string>& by, const std::string& pointer) {
  return std::any_of(by.begin(), by.end(), [&](const std::string& own) {
    return pointer == own || (pointer.starts_with(own) && pointer[own.size()] == '/');
  });
}

// The same of a document of which nothing else is looked at.
template <class Doc>
std::optional<Json> valueIn(const Doc& doc, double scale, const std::vector<std::string>& tokens) {
  using Entry = typename Compared<Doc>::Entry;
  const bool of_entry = tokens.size() >= 2 && tokens[0] == listKey(static_cast<const Entry*>(nullptr));
  if (of_entry && tokens[1].find('#') != std::string::npos) return valueAt(Compared<Doc>(doc, scale), tokens);
  const std::vector<Entry>& list = listOf(doc);
  const auto entry = std::find_if(list.begin(), list.end(),
                                  [&](const Entry& one) { return of_entry && nameOf(one) == tokens[1]; });
  if (of_entry && entry == list.end()) return std::nullopt;
  const Json json = of_entry ? toJson(scaled(*entry, scale)) : restOf(doc);
  const Json* found = at(json, {tokens.begin() + (of_entry ? 2 : 0), tokens.end()});
  return found != nullptr ? std::optional(*found) : std::nullopt;
}

const ObjectDoc* followed(const ModState& state, const ObjectDoc& doc) {
  const auto found = doc.follows.name.empty() ? state.objects.end() : state.objects.find(doc.follows.name);
  return found != state.objects.end() ? &found->second : nullptr;
}

// Keys of a document that this version does not know stay with it, or come along.
void keepUnknown(const Json& from, DocumentSort sort, Json& seen) {
  const std::vector<std::string>& known = knownKeys(sort);
  const auto isKnown = [&](const std::string& key) {
    return std::find(known.begin(), known.end(), key) != known.end();
  };
  std::vector<std::string> gone;
  for (const auto& [key, value] : seen.items())
    if (!isKnown(key) && !from.contains(key)) gone.push_back(key);
  for (const std::string& key : gone) seen.erase(key);
  for (const auto& [key, value] : from.items())
    if (!isKnown(key)) seen[key] = value;
}

void takeRest(const Json& rest, ObjectDoc& doc) {
  doc.kind = base::textOf(rest, "kind");
  doc.title = base::textOf(rest, "title");
  doc.card = rest.value("card", Json::object());
  doc.lists.clear();
  std::vector<base::Error> complaints;
  if (const Json* lists = base::memberOf(rest, "lists"))
    for (const auto& [name, one] : lists->items()) {
      base::JsonFields in(one, {}, "", complaints);
      doc.lists.push_back(listEntryFrom(in));
    }
  keepUnknown(rest, DocumentSort::object, doc.seen);
}
void takeRest(const Json& rest, ModelDoc& doc) {
  doc.source = base::textOf(rest, "source");
  doc.variants.clear();
  if (const Json* variants = base::memberOf(rest, "variants"))
    for (const auto& [variant, source] : variants->items())
      if (source.is_string()) doc.variants[variant] = source.get<std::string>();
  keepUnknown(rest, DocumentSort::model, doc.seen);
}

PieceDoc entryFrom(base::JsonFields& in, const PieceDoc*) { return pieceFrom(in); }
PointDoc entryFrom(base::JsonFields& in, const PointDoc*) { return pointFrom(in); }

// The document with the other's values wherever `keep` does not hold its own. `here`: of that document; it
// is not to be used afterwards.
template <class Doc>
void takeAllBut(const std::vector<std::string>& keep, const Compared<Doc>& there, const Compared<Doc>& here,
                Doc& doc) {
  using Entry = typename Compared<Doc>::Entry;
  Json rest = there.rest;
  std::map<std::string, std::vector<std::vector<std::string>>, std::less<>> kept;  // of each entry
  for (const std::string& pointer : keep) {
    std::vector<std::string> tokens = base::pointerKeys(pointer);
    if (tokens.size() >= 2 && tokens[0] == listKey(static_cast<const Entry*>(nullptr))) {
      kept[tokens[1]].push_back({tokens.begin() + 2, tokens.end()});
    } else {
      const Json* value = at(here.rest, tokens);
      put(rest, tokens, value);
    }
  }
  std::vector<Entry> entries;
  std::vector<base::Error> complaints;
  entries.reserve(there.entries.order.size());
  std::vector<Entry>& list = listOf(doc);
  const auto add = [&](std::string_view name, const Entry* theirs, size_t near) {
    const Entry* ours = here.entries.find(name, near);
    const auto own = kept.empty() ? kept.end() : kept.find(name);
    if (own == kept.end()) {
      if (theirs == nullptr) return;
      // What is the same already need not be copied: most of it is.
      if (ours != nullptr && isAs(*ours, *theirs, there.scale))
        entries.push_back(std::move(list[static_cast<size_t>(ours - list.data())]));
      else
        entries.push_back(scaled(*theirs, there.scale));
      return;
    }
    const bool whole = std::any_of(own->second.begin(), own->second.end(),
                                   [](const auto& tokens) { return tokens.empty(); });
    if (whole || theirs == nullptr) {
      if (ours != nullptr) entries.push_back(*ours);
      return;
    }
    Json json = there.entry(*theirs);
    const Json now = ours != nullptr ? here.entry(*ours) : Json::object();
    for (const std::vector<std::string>& tokens : own->second) put(json, tokens, at(now, tokens));
    base::JsonFields in(json, {}, "", complaints);
    entries.push_back(entryFrom(in, static_cast<const Entry*>(nullptr)));
  };
  // Found first: entries are moved from the document, and their names with them.
  std::vector<std::string> ours_alone;
  for (size_t i = 0; i < here.entries.order.size(); ++i)
    if (there.entries.find(here.entries.order[i].first, i) == nullptr)
      ours_alone.emplace_back(here.entries.order[i].first);
  for (const std::string& name : ours_alone) add(name, nullptr, SIZE_MAX);
  std::vector<Entry> last = std::exchange(entries, {});
  for (size_t i = 0; i < there.entries.order.size(); ++i)
    add(there.entries.order[i].first, there.entries.order[i].second, i);
  std::move(last.begin(), last.end(), std::back_inserter(entries));
  const bool same_rest = rest == here.rest;
  listOf(doc) = std::move(entries);
  if (!same_rest) takeRest(rest, doc);
}

// Pieces of the design that have got another name, by their old one.
std::map<std::string, std::string> renamedPieces(const ObjectDoc& then, const ObjectDoc& now) {
  const auto has = [](const ObjectDoc& doc, const std::string& name) {
    return std::any_of(doc.pieces.begin(), doc.pieces.end(),
                       [&](const PieceDoc& piece) { return piece.name == name; });
  };
  std::map<std::string, std::string> out;
  for (size_t i = 0; i < std::min(then.pieces.size(), now.pieces.size()); ++i) {
    PieceDoc one = then.pieces[i], other = now.pieces[i];
    if (one.name == other.name || has(now, one.name) || has(then, other.name)) continue;
    if (one.sort == other.sort && one.as == other.as && one.position_m == other.position_m &&
        one.turn == other.turn && one.values == other.values)
      out[one.name] = other.name;
  }
  return out;
}
std::map<std::string, std::string> renamedPieces(const ModelDoc&, const ModelDoc&) { return {}; }

void renamePieces(const std::map<std::string, std::string>& names, ObjectDoc& doc) {
  if (names.empty()) return;
  const auto now = [&](std::string& name) {
    if (const auto found = names.find(name); found != names.end()) name = found->second;
  };
  std::set<std::string> there;
  for (const PieceDoc& piece : doc.pieces) there.insert(piece.name);
  for (PieceDoc& piece : doc.pieces)
    for (std::string* one : {&piece.name, &piece.parent, &piece.pair})
      if (const auto found = names.find(*one); found != names.end() && there.count(found->second) == 0)
        now(*one);
  for (std::string& own : doc.follows.own) {
    std::vector<std::string> tokens = base::pointerKeys(own);
    if (tokens.size() < 2 || tokens[0] != "pieces") continue;
    now(tokens[1]);
    own.clear();
    for (const std::string& token : tokens) own += "/" + base::pointerToken(token);
  }
  std::sort(doc.follows.own.begin(), doc.follows.own.end());
}
void renamePieces(const std::map<std::string, std::string>&, ModelDoc&) {}

// Whether two values at a pointer differ in nothing but what is own.
bool isExplained(const std::optional<Json>& design, const std::optional<Json>& here,
                 const std::string& pointer, const std::vector<std::string>& own) {
  if (design == here) return true;
  if (!design || !here || !design->is_object() || !here->is_object()) return false;
  std::vector<std::string> differ;
  compare(*design, *here, pointer, differ);
  return std::all_of(differ.begin(), differ.end(), [&](const std::string& one) { return covered(own, one); });
}

// One document after an edit; null where it, or the other, was not there before.
template <class Doc>
void follow(const Doc& design, const Doc* design_before, const Doc* before, Doc& doc) {
  if (design_before != nullptr) renamePieces(renamedPieces(*design_before, design), doc);
  const Compared<Doc> there(design, doc.follows.scale), now(doc);
  std::vector<std::string> own, keep;
  for (std::string& pointer : differences(there, now)) {
    const std::vector<std::string> tokens = base::pointerKeys(pointer);
    const std::optional<Json> was = before != nullptr ? valueIn(*before, 1, tokens) : std::nullopt;
    const bool touched = before == nullptr || valueAt(now, tokens) != was;
    if (touched || covered(doc.follows.own, pointer))
      own.push_back(pointer);
    else if (design_before != nullptr &&
             isExplained(valueIn(*design_before, doc.follows.scale, tokens), was, pointer, doc.follows.own))
      continue;  // it comes along
    keep.push_back(std::move(pointer));
  }
  doc.follows.own = std::move(own);
  takeAllBut(keep, there, now, doc);
}

// All documents of a sort, those first that are followed; those in a circle not at all.
template <class Doc>
void followAll(base::SharedMap<Doc>& now, const base::SharedMap<Doc>& before) {
  const base::SharedMap<Doc>& read = now;
  const auto designOf = [&](const std::string& name) {
    const auto found = read.find(name);
    return found != read.end() ? found->second.follows.name : std::string();
  };
  std::vector<std::string> names;
  for (const auto& [name, doc] : read)
    if (!doc.follows.name.empty()) names.push_back(name);
  std::set<std::string> done;
  for (const std::string& first : names) {
    // From it up to what follows nothing, or was looked at already.
    std::vector<std::string> chain;
    std::set<std::string> met;
    std::string name = first;
    for (; done.count(name) == 0 && !designOf(name).empty() && met.insert(name).second; name = designOf(name))
      chain.push_back(name);
    if (met.count(name) != 0)  // it came back: from there on it is a circle
      while (!chain.empty()) {
        const std::string last = chain.back();
        chain.pop_back();
        done.insert(last);
        if (last == name) break;
      }
    for (auto one = chain.rbegin(); one != chain.rend(); ++one) {
      done.insert(*one);
      const std::string design = designOf(*one);
      const auto other = read.find(design);
      if (other == read.end() || (now.same(before, *one) && now.same(before, design))) continue;
      const auto was = before.find(*one), was_design = before.find(design);
      Doc next = read.at(*one);
      follow(other->second, was_design != before.end() ? &was_design->second : nullptr,
             was != before.end() ? &was->second : nullptr, next);
      if (!(next == read.at(*one))) now[*one] = std::move(next);
    }
  }
}

base::Error noObject(const std::string& name) {
  return {"mod.no_object", base::phrase("The mod has no object {0}.", base::presentable(name, 60)), {}, {}};
}

}  // namespace

std::vector<std::string> differencesFromFollowed(const ModState& state, const ObjectDoc& doc) {
  const ObjectDoc* design = followed(state, doc);
  if (design == nullptr) return {};
  return differences(Compared<ObjectDoc>(*design, doc.follows.scale), Compared<ObjectDoc>(doc));
}

OwnValue valuesAt(const ModState& state, const ObjectDoc& doc, const std::string& pointer) {
  const std::vector<std::string> tokens = base::pointerKeys(pointer);
  OwnValue out;
  out.here = valueIn(doc, 1, tokens).value_or(Json());
  if (const ObjectDoc* design = followed(state, doc))
    out.there = valueIn(*design, doc.follows.scale, tokens).value_or(Json());
  return out;
}

void followDesigns(ModState& state, const ModState& before) {
  followAll(state.models, before.models);
  followAll(state.objects, before.objects);
}

base::Status followObject(ModState& state, const std::string& object, const std::string& design,
                          double scale) {
  for (const std::string& name : {object, design})
    if (!state.objects.contains(name)) return noObject(name);
  if (!(scale > 0) || scale > kMostFollowedScale)
    return base::Error{
        "mod.scale",
        base::phrase("A scale is above 0, and at most {0}.", base::groupedText(kMostFollowedScale)),
        {},
        {}};
  std::set<std::string> met = {object};
  for (std::string other = design; !other.empty();) {
    if (!met.insert(other).second)
      return base::Error{"mod.follows_round",
                         base::phrase("{0} would follow itself: {1} follows it already.", object, design),
                         {},
                         base::phrase("Let that stand alone first.")};
    const auto next = std::as_const(state.objects).find(other);
    other = next != std::as_const(state.objects).end() ? next->second.follows.name : std::string();
  }
  ObjectDoc& doc = state.objects[object];
  doc.follows = {design, scale, {}, base::Json::object()};
  doc.follows.own = differencesFromFollowed(state, doc);
  return {};
}

base::Status likeDesign(ModState& state, const std::string& object, const std::string& pointer) {
  if (!state.objects.contains(object)) return noObject(object);
  ObjectDoc doc = std::as_const(state.objects).at(object);
  const ObjectDoc* design = followed(state, doc);
  const std::vector<std::string> differ = differencesFromFollowed(state, doc);
  std::vector<std::string> keep;
  for (const std::string& one : differ)
    if (!covered({pointer}, one) && !pointer.empty()) keep.push_back(one);
  if (design == nullptr || keep.size() == differ.size())
    return base::Error{"mod.not_own",
                       base::phrase("{0} has nothing of its own at \"{1}\".", object, pointer),
                       {},
                       differ.empty() ? base::phrase("It is as what it follows in all.")
                                      : base::phrase("Of its own are {0}.", base::listText(differ, 12))};
  takeAllBut(keep, Compared<ObjectDoc>(*design, doc.follows.scale), Compared<ObjectDoc>(doc), doc);
  std::erase_if(doc.follows.own, [&](const std::string& own) {
    return std::find(keep.begin(), keep.end(), own) == keep.end();
  });
  state.objects[object] = std::move(doc);
  return {};
}

base::Status keepDifferences(ModState& state, const std::string& object) {
  if (!state.objects.contains(object)) return noObject(object);
  ObjectDoc& doc = state.objects[object];
  doc.follows.own = differencesFromFollowed(state, doc);
  return {};
}

base::Status standAlone(ModState& state, const std::string& object) {
  if (!state.objects.contains(object)) return noObject(object);
  state.objects[object].follows = {};
  return {};
}

std::vector<std::string> variantsOf(const ModState& state, const std::string& object) {
  std::vector<std::string> out;
  for (const auto& [name, doc] : state.objects)
    if (doc.follows.name == object) out.push_back(name);
  return out;
}

}  // namespace rakugo::mod
