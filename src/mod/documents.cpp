#include "mod/documents.h"

#include <algorithm>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "mod/document_entries.h"
#include "mod/step_documents.h"

namespace rakugo::mod {
namespace {

using base::Json;
using base::JsonFields;

// The document as it was seen, so that unknown keys and the order of keys survive.
Json begin(const Json& seen, int format = kFormat) {
  Json out = seen.is_object() ? seen : Json::object();
  out["format"] = format;
  return out;
}

// The format that the document says, which is at most `newest`.
int64_t checkFormat(JsonFields& in, int newest = kFormat) {
  const int64_t format = in.integer("format", 0);
  if (format > newest)
    in.complain(
        "mod.newer_format",
        base::phrase("This file has format {0} and was written by a newer Rakugo; this one knows format {1}.",
                     format, newest),
        "format", base::phrase("Open it with the newer Rakugo. Nothing was changed."));
  else if (format < 1)
    in.complain("mod.format", base::phrase("The file does not say its format."), "format",
                base::phrase("Add \"format\": {0}.", newest));
  return format;
}

// A field that is written only where it says something.
void setOrDrop(Json& out, const char* key, Json value) {
  if (!value.is_null())
    out[key] = std::move(value);
  else
    out.erase(key);
}

Json filesJson(const std::vector<SourceFile>& files) {
  Json out = Json::array();
  for (const SourceFile& f : files) out.push_back(entry({{"path", f.path}, {"sha256", f.sha256}}, f.more));
  return out;
}

std::vector<SourceFile> filesFrom(JsonFields& in) {
  std::vector<SourceFile> out;
  for (JsonFields& one : in.objects("files"))
    out.push_back({one.requiredText("path"), one.text("sha256"), one.others({"path", "sha256"})});
  return out;
}

}  // namespace

Json toJson(const ModCard& doc) {
  Json out = begin(doc.seen);
  out["id"] = doc.id;
  out["title"] = doc.title;
  out["author"] = doc.author;
  out["version"] = doc.version;
  out["description"] = doc.description;
  if (!out.contains("rulebook") || !out["rulebook"].is_object()) out["rulebook"] = Json::object();
  out["rulebook"]["id"] = doc.rulebook;
  out["rulebook"]["version"] = doc.rulebook_version;
  Json aside = Json::array();
  for (const SetAside& a : doc.set_aside)
    aside.push_back(entry({{"check", a.check}, {"place", a.place}, {"reason", a.reason}}, a.more));
  if (!aside.empty() || out.contains("set_aside")) out["set_aside"] = std::move(aside);
  return out;
}

ModCard modCardFrom(const Json& json, const std::string& file, std::vector<base::Error>& complaints) {
  JsonFields in(json, file, "", complaints);
  checkFormat(in);
  ModCard out;
  out.id = in.requiredText("id");
  out.title = in.text("title");
  out.author = in.text("author");
  out.version = in.text("version", "1.0.0");
  out.description = in.text("description");
  if (auto book = in.object("rulebook")) {
    out.rulebook = book->requiredText("id");
    out.rulebook_version = book->text("version");
  } else {
    in.complain("json.missing", base::phrase("The mod does not say which rulebook it follows."), "rulebook");
  }
  for (JsonFields& one : in.objects("set_aside"))
    out.set_aside.push_back({one.requiredText("check"), one.text("place"), one.text("reason"),
                             one.others({"check", "place", "reason"})});
  out.seen = json;
  return out;
}

std::string versionFolder(const std::string& source, const SourceDoc& doc) {
  const size_t slash = doc.file.rfind('/');
  return "sources/" + source + "/" + (slash == std::string::npos ? "" : doc.file.substr(0, slash + 1));
}

Json toJson(const SourceDoc& doc) {
  Json out = begin(doc.seen);
  out["file"] = doc.file;
  out["files"] = filesJson(doc.files);
  out["author"] = doc.author;
  out["licence"] = doc.licence;
  out["address"] = doc.address;
  setOrDrop(out, "note", doc.note.empty() ? Json() : Json(doc.note));
  out["added"] = doc.added;
  Json older = Json::array();
  for (const SourceVersion& v : doc.older)
    older.push_back(entry({{"file", v.file}, {"files", filesJson(v.files)}, {"added", v.added}}, v.more));
  setOrDrop(out, "older", older.empty() ? Json() : std::move(older));
  return out;
}

SourceDoc sourceFrom(const Json& json, const std::string& file, std::vector<base::Error>& complaints) {
  JsonFields in(json, file, "", complaints);
  checkFormat(in);
  SourceDoc out;
  out.file = in.requiredText("file");
  if (!base::isInnerPath(out.file))
    in.complain("mod.path", base::phrase("The path must lie inside the source's folder."), "file");
  out.files = filesFrom(in);
  out.author = in.text("author");
  out.licence = in.text("licence");
  out.address = in.text("address");
  out.note = in.text("note");
  out.added = in.text("added");
  for (JsonFields& one : in.objects("older")) {
    SourceVersion version;
    version.file = one.requiredText("file");
    if (!base::isInnerPath(version.file))
      one.complain("mod.path", base::phrase("The path must lie inside the source's folder."), "file");
    version.files = filesFrom(one);
    version.added = one.text("added");
    version.more = one.others({"file", "files", "added"});
    out.older.push_back(std::move(version));
  }
  if (out.older.size() > kKeptVersions) out.older.resize(kKeptVersions);
  out.seen = json;
  return out;
}

Json toJson(const ModelDoc& doc) {
  Json out = begin(doc.seen, kModelFormat);
  out["source"] = doc.source;
  out["steps"] = stepsJson(doc.steps);
  Json points = Json::array();
  for (const PointDoc& p : doc.points) points.push_back(toJson(p));
  out["points"] = std::move(points);
  out.erase("variants");
  for (const auto& [variant, source] : doc.variants) out["variants"][variant] = source;
  putFollows(doc.follows, "model", out);
  return out;
}

ModelDoc modelFrom(const Json& json, const std::string& file, std::vector<base::Error>& complaints) {
  JsonFields in(json, file, "", complaints);
  const int64_t format = checkFormat(in, kModelFormat);
  ModelDoc out;
  out.source = in.requiredText("source");
  out.steps = stepsFrom(in, format);
  for (JsonFields& one : in.objects("points")) out.points.push_back(pointFrom(one));
  if (json.is_object() && json.contains("variants")) {
    if (!json["variants"].is_object())
      in.complain("json.type", base::phrase("\"variants\" is an object of source names."), "variants");
    else
      for (const auto& [variant, source] : json["variants"].items()) {
        if (source.is_string() && !source.get<std::string>().empty())
          out.variants[variant] = source.get<std::string>();
        else
          in.complain("json.type", base::phrase("A variant names its source."), "variants/" + variant);
      }
  }
  out.follows = followsFrom(in, "model");
  out.seen = json;
  return out;
}

Json toJson(const ObjectDoc& doc) {
  Json out = begin(doc.seen);
  out["kind"] = doc.kind;
  out["title"] = doc.title;
  Json pieces = Json::array();
  for (const PieceDoc& p : doc.pieces) pieces.push_back(toJson(p));
  out["pieces"] = std::move(pieces);
  out["card"] = doc.card;
  out.erase("lists");
  for (const ListEntry& one : doc.lists) out["lists"].push_back(toJson(one));
  out["icon"] = doc.icon;
  out.erase("icon_of");
  if (!doc.icon_of.empty()) out["icon_of"] = doc.icon_of;
  out.erase("replaces");
  if (!doc.replaces.empty()) out["replaces"] = doc.replaces;
  putFollows(doc.follows, "object", out);
  return out;
}

const PieceDoc* firstModelPiece(const ObjectDoc& object) {
  const auto found = std::find_if(object.pieces.begin(), object.pieces.end(),
                                  [](const PieceDoc& piece) { return piece.isModel(); });
  return found != object.pieces.end() ? &*found : nullptr;
}

ObjectDoc objectFrom(const Json& json, const std::string& file, std::vector<base::Error>& complaints) {
  JsonFields in(json, file, "", complaints);
  checkFormat(in);
  ObjectDoc out;
  out.kind = in.requiredText("kind");
  out.title = in.text("title");
  for (JsonFields& one : in.objects("pieces")) out.pieces.push_back(pieceFrom(one));
  if (auto card = in.object("card"); card && card->json().is_object()) out.card = card->json();
  for (JsonFields& one : in.objects("lists")) out.lists.push_back(listEntryFrom(one));
  out.icon = in.text("icon");
  out.icon_of = in.text("icon_of");
  out.replaces = in.text("replaces");
  out.follows = followsFrom(in, "object");
  if (!out.icon.empty() && !base::isInnerPath(out.icon))
    in.complain("mod.path", base::phrase("The path must lie inside the mod."), "icon");
  out.seen = json;
  return out;
}

Json toJson(const TextsDoc& doc) {
  Json out = begin(doc.seen);
  out["texts"] = Json::object();
  for (const auto& [id, text] : doc.texts) out["texts"].emplace(id, text);
  return out;
}

TextsDoc textsFrom(const Json& json, const std::string& file, std::vector<base::Error>& complaints) {
  JsonFields in(json, file, "", complaints);
  checkFormat(in);
  TextsDoc out;
  if (const Json* texts = base::memberOf(json, "texts"); texts == nullptr || !texts->is_object()) {
    in.complain("json.type", base::phrase("\"texts\" is an object of texts by their ids."), "texts");
  } else {
    for (const auto& [id, text] : texts->items()) {
      if (!id.empty() && text.is_string())
        out.texts[id] = text.get<std::string>();
      else
        in.complain("json.type", base::phrase("A text has an id, and is a text."), "texts/" + id);
    }
  }
  out.seen = json;
  return out;
}

const std::vector<std::string>& knownKeys(DocumentSort sort) {
  static const std::vector<std::string> kNone,
      kCard = {"format", "id", "title", "author", "version", "description", "rulebook", "set_aside"},
      kSource = {"format", "file", "files", "author", "licence", "address", "note", "added", "older"},
      kModel = {"format", "source", "steps", "points", "variants", "follows"},
      kObject = {"format", "kind", "title",   "pieces",   "card",
                 "lists",  "icon", "icon_of", "replaces", "follows"},
      kTexts = {"format", "texts"};
  switch (sort) {
    case DocumentSort::card:
      return kCard;
    case DocumentSort::source:
      return kSource;
    case DocumentSort::model:
      return kModel;
    case DocumentSort::object:
      return kObject;
    case DocumentSort::texts:
      return kTexts;
    default:
      return kNone;
  }
}

namespace {

// Keys of one document that are not among those that are known.
struct KeyFinder {
  std::string document;
  std::vector<UnknownKey>& out;

  void look(const Json& json, const std::string& pointer, const std::vector<std::string>& known) {
    if (!json.is_object()) return;
    for (const auto& [key, value] : json.items())
      if (std::find(known.begin(), known.end(), key) == known.end())
        out.push_back({document, pointer + "/" + key, key, base::nearMiss(key, known)});
  }
  // What each of a list has besides its own fields.
  template <class List>
  void lookEach(const List& list, const std::string& pointer, const std::vector<std::string>& known) {
    for (size_t i = 0; i < list.size(); ++i) look(list[i].more, pointer + "/" + std::to_string(i), known);
  }
};

void lookIntoCard(const ModCard& card, std::vector<UnknownKey>& out) {
  KeyFinder in{"mod.json", out};
  in.look(card.seen, "", knownKeys(DocumentSort::card));
  if (const Json* book = base::memberOf(card.seen, "rulebook"))
    in.look(*book, "/rulebook", {"id", "version"});
  in.lookEach(card.set_aside, "/set_aside", {"check", "place", "reason"});
}

void lookIntoSource(const std::string& name, const SourceDoc& doc, std::vector<UnknownKey>& out) {
  KeyFinder in{"sources/" + name + "/source.json", out};
  in.look(doc.seen, "", knownKeys(DocumentSort::source));
  in.lookEach(doc.files, "/files", {"path", "sha256"});
  for (size_t i = 0; i < doc.older.size(); ++i) {
    const std::string at = "/older/" + std::to_string(i);
    in.look(doc.older[i].more, at, {"file", "files", "added"});
    in.lookEach(doc.older[i].files, at + "/files", {"path", "sha256"});
  }
}

}  // namespace

std::vector<UnknownKey> unknownKeys(const ModState& state, KeysOf documents) {
  std::vector<UnknownKey> out;
  if (documents != KeysOf::models_and_objects) lookIntoCard(state.card, out);
  if (documents != KeysOf::card_and_sources) {
    for (const auto& [name, doc] : state.models) {
      KeyFinder in{"models/" + name + ".model.json", out};
      in.look(doc.seen, "", knownKeys(DocumentSort::model));
      in.lookEach(doc.steps, "/steps", {"id", "kind", "enabled", "note", "values", kRecoveredKey});
      in.lookEach(doc.points, "/points", {"id", "pair", "position_m", "turn"});
    }
    for (const auto& [name, doc] : state.objects) {
      KeyFinder in{"objects/" + name + ".object.json", out};
      in.look(doc.seen, "", knownKeys(DocumentSort::object));
      in.lookEach(doc.pieces, "/pieces", {kPieceKeys.begin(), kPieceKeys.end()});
      in.lookEach(doc.lists, "/lists", {"list", "values"});
    }
  }
  if (documents != KeysOf::models_and_objects) {
    for (const auto& [name, doc] : state.sources) lookIntoSource(name, doc, out);
    for (const auto& [language, doc] : state.texts)
      KeyFinder{"texts/" + language + ".json", out}.look(doc.seen, "", knownKeys(DocumentSort::texts));
  }
  return out;
}

DocumentPath documentPath(const std::string& path) {
  if (!base::isInnerPath(path)) return {};
  if (path == "mod.json") return {DocumentSort::card, {}};
  if (path.starts_with("icons/")) return {DocumentSort::icon, {}};
  const auto between = [&](std::string_view before, std::string_view after) -> std::string {
    if (!path.starts_with(before) || !path.ends_with(after) || path.size() <= before.size() + after.size())
      return {};
    std::string name = path.substr(before.size(), path.size() - before.size() - after.size());
    return name.find('/') == std::string::npos ? name : std::string();
  };
  static constexpr struct {
    std::string_view before, after;
    DocumentSort sort;
  } kPlaces[] = {{"sources/", "/source.json", DocumentSort::source},
                 {"models/", ".model.json", DocumentSort::model},
                 {"objects/", ".object.json", DocumentSort::object},
                 {"texts/", ".json", DocumentSort::texts}};
  for (const auto& place : kPlaces)
    if (std::string name = between(place.before, place.after); !name.empty())
      return {place.sort, std::move(name)};
  return {};
}

base::Status putDocument(ModState& state, const std::string& path, const base::Bytes* content) {
  const DocumentPath what = documentPath(path);
  if (what.sort == DocumentSort::none)
    return base::Error{"mod.path", base::phrase("This is no document of a mod."), base::Place{path}, {}};
  if (what.sort == DocumentSort::card && content == nullptr)
    return base::Error{"mod.path", base::phrase("A mod cannot be without its mod.json."), base::Place{path},
                       base::phrase("Put it back, or keep what is open here.")};
  if (content == nullptr) {
    if (what.sort == DocumentSort::source) state.sources.erase(what.name);
    if (what.sort == DocumentSort::model) state.models.erase(what.name);
    if (what.sort == DocumentSort::object) state.objects.erase(what.name);
    if (what.sort == DocumentSort::texts) state.texts.erase(what.name);
    if (what.sort == DocumentSort::icon) state.icons.erase(path);
    return {};
  }
  if (what.sort == DocumentSort::icon) {
    state.icons[path] = std::make_shared<const base::Bytes>(*content);
    return {};
  }
  RAKUGO_ASSIGN(const Json json, base::parseJson(base::asText(*content), path));
  std::vector<base::Error> complaints;
  const auto read = [&](const auto& from, auto& into) -> base::Status {
    auto doc = from(json, path, complaints);
    // A newer format explains whatever else looks odd, so it is said first.
    for (const base::Error& c : complaints)
      if (c.code == "mod.newer_format") return c;
    if (!complaints.empty()) return complaints.front();
    into = std::move(doc);
    return {};
  };
  // Into a copy first: a document that is refused must not leave an empty one behind.
  switch (what.sort) {
    case DocumentSort::source: {
      SourceDoc doc;
      RAKUGO_TRY(read(sourceFrom, doc));
      state.sources[what.name] = std::move(doc);
      return {};
    }
    case DocumentSort::model: {
      ModelDoc doc;
      RAKUGO_TRY(read(modelFrom, doc));
      state.models[what.name] = std::move(doc);
      return {};
    }
    case DocumentSort::object: {
      ObjectDoc doc;
      RAKUGO_TRY(read(objectFrom, doc));
      state.objects[what.name] = std::move(doc);
      return {};
    }
    case DocumentSort::texts: {
      TextsDoc doc;
      RAKUGO_TRY(read(textsFrom, doc));
      state.texts[what.name] = std::move(doc);
      return {};
    }
    default:
      return read(modCardFrom, state.card);
  }
}

std::vector<std::string> contentPaths(const ModState& state) {
  std::vector<std::string> out = {"mod.json"};
  for (const auto& [name, doc] : state.sources) out.push_back("sources/" + name + "/source.json");
  for (const auto& [name, doc] : state.models) out.push_back("models/" + name + ".model.json");
  for (const auto& [name, doc] : state.objects) out.push_back("objects/" + name + ".object.json");
  for (const auto& [language, doc] : state.texts) out.push_back("texts/" + language + ".json");
  for (const auto& [path, bytes] : state.icons) out.push_back(path);
  std::sort(out.begin(), out.end());
  return out;
}

std::vector<std::string> changedPaths(const ModState& a, const ModState& b) {
  std::vector<std::string> out;
  // `same` is asked for names that both have.
  const auto compare = [&](const auto& one, const auto& other, const auto& path, const auto& same) {
    for (const auto& [name, value] : one)
      if (!other.contains(name) || !same(name)) out.push_back(path(name));
    for (const auto& [name, value] : other)
      if (!one.contains(name)) out.push_back(path(name));
  };
  // What a save would write decides: two documents can be equal there and remember other files they were read
  // from.
  const auto compareDocuments = [&](const auto& one, const auto& other, const auto& path) {
    compare(one, other, path, [&](const std::string& name) {
      return one.same(other, name) || toJson(one.at(name)) == toJson(other.at(name));
    });
  };
  if (!(a.card == b.card) && toJson(a.card) != toJson(b.card)) out.emplace_back("mod.json");
  compareDocuments(a.sources, b.sources,
                   [](const std::string& n) { return "sources/" + n + "/source.json"; });
  compareDocuments(a.models, b.models, [](const std::string& n) { return "models/" + n + ".model.json"; });
  compareDocuments(a.objects, b.objects,
                   [](const std::string& n) { return "objects/" + n + ".object.json"; });
  compareDocuments(a.texts, b.texts, [](const std::string& n) { return "texts/" + n + ".json"; });
  compare(
      a.icons, b.icons, [](const std::string& n) { return n; },
      [&](const std::string& n) {
        return a.icons.at(n) == b.icons.at(n) || *a.icons.at(n) == *b.icons.at(n);
      });
  std::sort(out.begin(), out.end());
  return out;
}

bool usesSource(const ModelDoc& doc, const std::string& source) {
  return doc.source == source || std::any_of(doc.variants.begin(), doc.variants.end(),
                                             [&](const auto& size) { return size.second == source; });
}

std::vector<std::string> sourcesOf(const ModelDoc& doc) {
  std::vector<std::string> out{doc.source};
  for (const auto& [variant, source] : doc.variants) out.push_back(source);
  return out;
}

std::string freshStepId(const ModelDoc& doc) {
  for (int n = 1;; ++n) {
    std::string id = "s" + std::to_string(n);
    bool taken = false;
    for (const StepDoc& s : doc.steps) taken = taken || s.id == id;
    if (!taken) return id;
  }
}

namespace {

// Calls visit(path, document) for all documents but icons.
template <class Visit>
void eachDocument(const ModState& state, const Visit& visit) {
  visit("mod.json", state.card);
  for (const auto& [name, doc] : state.sources) visit("sources/" + name + "/source.json", doc);
  for (const auto& [name, doc] : state.models) visit("models/" + name + ".model.json", doc);
  for (const auto& [name, doc] : state.objects) visit("objects/" + name + ".object.json", doc);
  for (const auto& [language, doc] : state.texts) visit("texts/" + language + ".json", doc);
}

}  // namespace

std::map<std::string, std::string> documentTexts(const ModState& state) {
  std::map<std::string, std::string> out;
  eachDocument(state,
               [&](const std::string& path, const auto& doc) { out[path] = base::jsonText(toJson(doc)); });
  return out;
}

std::set<std::string> documentPaths(const ModState& state) {
  std::set<std::string> out;
  eachDocument(state, [&](const std::string& path, const auto&) { out.insert(path); });
  return out;
}

std::optional<base::Bytes> documentContent(const ModState& state, const std::string& path) {
  const DocumentPath what = documentPath(path);
  std::optional<Json> json;
  const auto from = [&](const auto& docs) {
    if (const auto found = docs.find(what.name); found != docs.end()) json = toJson(found->second);
  };
  switch (what.sort) {
    case DocumentSort::none:
      break;
    case DocumentSort::icon:
      if (const auto found = state.icons.find(path); found != state.icons.end()) return *found->second;
      break;
    case DocumentSort::card:
      json = toJson(state.card);
      break;
    case DocumentSort::source:
      from(state.sources);
      break;
    case DocumentSort::model:
      from(state.models);
      break;
    case DocumentSort::object:
      from(state.objects);
      break;
    case DocumentSort::texts:
      from(state.texts);
      break;
  }
  if (!json) return std::nullopt;
  const std::string text = base::jsonText(*json);
  const base::ByteSpan bytes = base::asBytes(text);
  return base::Bytes(bytes.begin(), bytes.end());
}

}  // namespace rakugo::mod
