// The documents of a mod as values. docs/mod-folder.md is the specification of their files.
//
// Each document keeps the JSON it was read from (`seen`), so that keys this version does not know survive a
// save.
#pragma once

#include <array>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/json.h"

namespace rakugo::mod {

inline constexpr int kFormat = 1;  ///< of every document; a newer one is refused

/// mod.json
struct ModCard {
  std::string id, title, author, version = "1.0.0", description;
  std::string rulebook, rulebook_version;
  base::Json seen = base::Json::object();
};

/// One copied file of a source.
struct SourceFile {
  std::string path;  ///< below the source's folder
  std::string sha256;
};

/// sources/<name>/source.json
struct SourceDoc {
  std::string file;  ///< the model, below the source's folder
  std::vector<SourceFile> files;
  std::string author, licence, address, added;
  base::Json seen = base::Json::object();
};

/// One step of a preparation: what it is called and its values. `prepare` knows what they mean.
struct StepDoc {
  std::string id;  ///< unique in its preparation, stable
  std::string kind;
  bool enabled = true;
  base::Json values = base::Json::object();
  bool operator==(const StepDoc&) const = default;
};

/// An attachment point, in the prepared model's space; metres.
struct PointDoc {
  std::string id;
  std::array<double, 3> position_m{0, 0, 0};
  std::array<double, 4> turn{0, 0, 0, 1};
};

/// models/<name>.model.json
struct ModelDoc {
  std::string source;  ///< name of a source
  std::vector<StepDoc> steps;
  std::vector<PointDoc> points;
  base::Json seen = base::Json::object();
};

/// A piece of an object.
struct PieceDoc {
  std::string name;
  std::string model;  ///< name of a model
  std::array<double, 3> position_m{0, 0, 0};
  std::array<double, 4> turn{0, 0, 0, 1};
};

/// objects/<name>.object.json
struct ObjectDoc {
  std::string kind, title;
  std::vector<PieceDoc> pieces;
  base::Json card = base::Json::object();
  std::string icon;  ///< path inside the mod, or empty
  base::Json seen = base::Json::object();
};

/// A whole mod at one moment. Copies share the bytes of icons.
struct ModState {
  ModCard card;
  std::map<std::string, SourceDoc> sources;
  std::map<std::string, ModelDoc> models;
  std::map<std::string, ObjectDoc> objects;
  /// Files under icons/, by path. Edits replace them here; a save writes them.
  std::map<std::string, std::shared_ptr<const base::Bytes>> icons;
};

base::Json toJson(const ModCard& doc);
base::Json toJson(const SourceDoc& doc);
base::Json toJson(const ModelDoc& doc);
base::Json toJson(const ObjectDoc& doc);

/// Reading. Complaints carry file and JSON pointer; a newer format is the complaint mod.newer_format.
ModCard modCardFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);
SourceDoc sourceFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);
ModelDoc modelFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);
ObjectDoc objectFrom(const base::Json& json, const std::string& file, std::vector<base::Error>& complaints);

/// A step id that no step of `doc` has: "s1", "s2", ...
std::string freshStepId(const ModelDoc& doc);

/// Every text file of the mod with its content, by path. What a save writes.
std::map<std::string, std::string> documentTexts(const ModState& state);

}  // namespace rakugo::mod
