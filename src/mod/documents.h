// The documents of a mod as values. docs/mod-folder.md is the specification of their files.
//
// Keys that this version does not know survive a save: each document keeps the JSON it was read from
// (`seen`), and each entry of its lists the keys beside its own (`more`).
#pragma once

#include <array>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/json.h"
#include "base/shared_map.h"

namespace rakugo::mod {

inline constexpr int kFormat = 1;       ///< of every document but those of models; a newer one is refused
inline constexpr int kModelFormat = 2;  ///< of model documents; format 1 is read too (step_documents.h)

/// A finding that the person has looked at and lives with, and why.
struct SetAside {
  std::string check;  ///< id of the check
  std::string place;  ///< of the finding (set_aside_place.h)
  std::string reason;
  base::Json more = base::Json::object();
  bool operator==(const SetAside&) const = default;
};

/// mod.json
struct ModCard {
  std::string id, title, author, version = "1.0.0", description;
  std::string rulebook, rulebook_version;
  std::vector<SetAside> set_aside;
  base::Json seen = base::Json::object();
  bool operator==(const ModCard&) const = default;
};

/// One copied file of a source.
struct SourceFile {
  std::string path;  ///< below the source's folder
  std::string sha256;
  base::Json more = base::Json::object();
  bool operator==(const SourceFile&) const = default;
};

/// A version of a source that a newer export of it replaced.
struct SourceVersion {
  std::string file;
  std::vector<SourceFile> files;
  std::string added;
  base::Json more = base::Json::object();
  bool operator==(const SourceVersion&) const = default;
};
inline constexpr size_t kKeptVersions = 3;  ///< older ones of each source

/// sources/<name>/source.json
struct SourceDoc {
  std::string file;  ///< the model, picture or sound, below the source's folder
  std::vector<SourceFile> files;
  std::string author, licence, address, note, added;
  std::vector<SourceVersion> older;  ///< the newest first, at most kKeptVersions
  base::Json seen = base::Json::object();
  bool operator==(const SourceDoc&) const = default;
};

/// The folder of a source in which its present version lies and which the names in it are relative to, with a
/// slash behind: "sources/lamp/" or "sources/lamp/v2/".
std::string versionFolder(const std::string& source, const SourceDoc& doc);

/// One step of a preparation: what it is called and its values. `prepare` knows what they mean.
struct StepDoc {
  std::string id;  ///< unique in its preparation, stable
  std::string kind;
  bool enabled = true;
  base::Json values = base::Json::object();
  base::Json more = base::Json::object();
  std::string note;  ///< the author's own words on it; nothing comes of them
  bool operator==(const StepDoc&) const = default;
};

/// An attachment point, in the prepared model's space; metres.
struct PointDoc {
  std::string id;
  std::array<double, 3> position_m{0, 0, 0};
  std::array<double, 4> turn{0, 0, 0, 1};
  base::Json more = base::Json::object();
  std::string pair;  ///< id of the model's point that stays its mirror image, and names it; may be empty
  bool operator==(const PointDoc&) const = default;
};

/// What an object takes from another object, or a model from another model: all that is not its own
/// (following.h).
struct Follows {
  std::string name;  ///< of the other; empty: it follows none
  /// Of an object's pieces and a model's points: how far from the origin they stand, and how large pieces
  /// are, for each that is 1 there. Above 0.
  double scale = 1;
  std::vector<std::string> own;  ///< what is its own: JSON pointers, with pieces and lists by name; sorted
  base::Json more = base::Json::object();
  bool operator==(const Follows&) const = default;
};

/// models/<name>.model.json
struct ModelDoc {
  std::string source;  ///< name of a source
  std::vector<StepDoc> steps;
  std::vector<PointDoc> points;
  /// Other sizes of the same thing: source names by the id of a variant of the kind. Each goes through the
  /// same steps.
  std::map<std::string, std::string> variants;
  Follows follows;
  base::Json seen = base::Json::object();
  bool operator==(const ModelDoc&) const = default;
};

/// A piece of an object: a model, a lamp, an emitter, or a group of other pieces.
struct PieceDoc {
  std::string name;
  std::string model;  ///< name of a model; of pieces that are one
  std::array<double, 3> position_m{0, 0, 0};
  std::array<double, 4> turn{0, 0, 0, 1};
  std::string as;    ///< which of the kind's models or pieces it is (rulebook); empty: the main model
  std::string pair;  ///< name of the piece that stays its mirror image, and names it; may be empty
  base::Json more = base::Json::object();
  /// Empty: a model; else "lamp", "emitter", "shape", "sound", "moving", "group", or what a newer version
  /// knows.
  std::string sort;
  std::string parent;                        ///< name of the piece that carries it; empty: the object itself
  double scale = 1;                          ///< of all it carries too, the same along all axes
  base::Json values = base::Json::object();  ///< of a lamp or emitter, by the ids of its fields (rulebook)
  bool operator==(const PieceDoc&) const = default;
  [[nodiscard]] bool isModel() const { return sort.empty(); }
  /// Whether other pieces can hang on it.
  [[nodiscard]] bool carries() const;
};
/// The `sort` of a piece that carries others and is nothing itself, and of one that moves what it carries.
inline constexpr const char* kGroupSort = "group";
inline constexpr const char* kMovingSort = "moving";
inline bool PieceDoc::carries() const { return isModel() || sort == kGroupSort || sort == kMovingSort; }

/// Whether the model, or another size of it, is made from that source.
bool usesSource(const ModelDoc& doc, const std::string& source);
/// The sources that a model is made from: its own, and those of its other sizes.
std::vector<std::string> sourcesOf(const ModelDoc& doc);

/// An object's entry in a list of the game's: a shop, a recipe (rulebook).
struct ListEntry {
  std::string list;                          ///< id of the list
  base::Json values = base::Json::object();  ///< by the ids of its fields
  base::Json more = base::Json::object();
  bool operator==(const ListEntry&) const = default;
};

struct ObjectDoc;
/// The first piece that is a model, or null.
const PieceDoc* firstModelPiece(const ObjectDoc& object);

/// objects/<name>.object.json
struct ObjectDoc {
  std::string kind, title;
  std::vector<PieceDoc> pieces;
  base::Json card = base::Json::object();
  std::vector<ListEntry> lists;
  std::string icon;     ///< path inside the mod, or empty
  std::string icon_of;  ///< what the icon was taken of (icon_subject.h); empty: not known
  /// Id of the game's own thing in whose place it stands; empty: it stands beside them.
  std::string replaces;
  Follows follows;
  base::Json seen = base::Json::object();
  bool operator==(const ObjectDoc&) const = default;
};

/// texts/<language>.json: what the game shows where a value names a text by its id.
struct TextsDoc {
  std::map<std::string, std::string> texts;  ///< by id
  base::Json seen = base::Json::object();
  bool operator==(const TextsDoc&) const = default;
};

/// A whole mod at one moment. Copies share documents, until one of them is changed, and the bytes of icons.
struct ModState {
  ModCard card;
  base::SharedMap<SourceDoc> sources;
  base::SharedMap<ModelDoc> models;
  base::SharedMap<ObjectDoc> objects;
  base::SharedMap<TextsDoc> texts;  ///< by language
  /// Files under icons/, by path. Edits replace them here; a save writes them.
  std::map<std::string, std::shared_ptr<const base::Bytes>> icons;
};

base::Json toJson(const ModCard& doc);
base::Json toJson(const SourceDoc& doc);
base::Json toJson(const ModelDoc& doc);
base::Json toJson(const ObjectDoc& doc);
base::Json toJson(const TextsDoc& doc);

/// Reading. Complaints carry file and JSON pointer; a newer format is the complaint mod.newer_format.
ModCard modCardFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);
SourceDoc sourceFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);
ModelDoc modelFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);
ObjectDoc objectFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);
TextsDoc textsFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);

enum class DocumentSort : unsigned char { none, card, source, model, object, icon, texts };

/// A key of a document that this version does not know.
struct UnknownKey {
  std::string document;  ///< path in the mod
  std::string pointer;   ///< JSON pointer of the key
  std::string key;
  std::string near_miss;  ///< the known key that is probably meant, or empty
};
/// Which documents are looked into.
enum class KeysOf : unsigned char { all, card_and_sources, models_and_objects };
/// All such keys: of the card, the models, the objects, the sources, each sorted by name. Keys inside
/// objects' cards and inside steps' values are not among them: what they may be is known to rulebook and
/// steps.
std::vector<UnknownKey> unknownKeys(const ModState& state, KeysOf documents = KeysOf::all);
/// The keys that Rakugo writes at the top of a document of that sort; empty for `none` and `icon`.
const std::vector<std::string>& knownKeys(DocumentSort sort);

/// What a path inside a mod folder is: nothing else is ever read into a ModState or written from one.
struct DocumentPath {
  DocumentSort sort = DocumentSort::none;
  std::string name;  ///< of the source, model or object, or the language; empty for the others
};
DocumentPath documentPath(const std::string& path);

/// Puts one file's content into `state`, or takes it out when `content` is null. Paths that are no documents
/// are refused. Errors: mod.path, json.*, mod.newer_format, with file and place; `state` is then as it was.
base::Status putDocument(ModState& state, const std::string& path, const base::Bytes* content);

/// Paths of every document and icon of `state`, sorted: what a save writes.
std::vector<std::string> contentPaths(const ModState& state);
/// Paths whose documents or icons differ between two states, sorted.
std::vector<std::string> changedPaths(const ModState& a, const ModState& b);

/// A step id that no step of `doc` has: "s1", "s2", ...
std::string freshStepId(const ModelDoc& doc);

/// Every text file of the mod with its content, by path.
std::map<std::string, std::string> documentTexts(const ModState& state);
/// The paths alone.
std::set<std::string> documentPaths(const ModState& state);
/// The content of one document or icon as a save writes it; nothing when `state` has no such path.
std::optional<base::Bytes> documentContent(const ModState& state, const std::string& path);

}  // namespace rakugo::mod
