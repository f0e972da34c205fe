// Things of a mod called otherwise: every reference to them follows.
#pragma once

#include <functional>
#include <map>
#include <string>

#include "mod/documents.h"
#include "mod/references.h"

namespace rakugo::mod {

/// Which values name things of the mod, rather than speak to people or name parts of a source. Rulebook and
/// steps know that; this library does not.
struct NamingValues {
  /// Texts in an object's card, by the object's kind and the field's id.
  std::function<bool(const std::string& kind, const std::string& field)> in_card;
  /// Values of a step, by the step's kind and the value's key. None: no step names anything.
  std::function<bool(const std::string& step, const std::string& key)> in_step;
};

/// New names by old ones.
using Names = std::map<std::string, std::string>;

struct NewNames {
  Names sources, models, objects;
  /// Names that are replaced wherever they stand as whole words inside identifiers: in paths of icons, in
  /// cards and steps where `NamingValues` says so, and under unknown keys. Example: "quay-lamp" in
  /// "text/quay-lamp/blurb".
  Names words;
  /// Whether files of the mod that are called so are moved as well. Where they are not, unknown keys and
  /// paths of sounds, pictures and sources stay as they are.
  bool files_move = true;
};

/// Replaces the names that stand as whole words inside an identifier: "text/quay-lamp/blurb". What is no
/// identifier (it holds spaces, or other marks than those that join names) stays as it is.
std::string renamedInside(const std::string& text, const Names& names);

/// Renames in one state of a mod. Things that are not among the new names keep theirs.
class Renaming {
 public:
  /// `from` and `naming` must outlive this.
  Renaming(const ModState& from, NewNames names, const NamingValues& naming);

  /// The state with every name and reference replaced: models' sources and sizes, steps' values, pieces,
  /// icons, cards, findings set aside, and what stands under keys that no one knows.
  ModState state();
  /// Where a file of the mod's folder lies then. What lies inside of a source keeps its name: the model file
  /// refers to its pictures by it.
  std::string newPath(const std::string& path) const;
  /// How often `state` replaced that name.
  [[nodiscard]] size_t places(const std::string& name) const;

 private:
  using Json = base::Json;
  std::string renamed(const Names& names, const std::string& name);
  bool isThing(const std::string& text) const;
  /// `things`: whether texts that name a source or an object whole are followed too.
  void replaceInside(Json& json, bool things = true);
  std::string followed(const NamedThing& named);
  void putOthers(Json& seen, DocumentSort sort);
  void rename(SetAside& aside);
  void rename(StepDoc& step);
  SourceDoc renamed(const SourceDoc& doc);
  ModelDoc renamed(const ModelDoc& doc);
  ObjectDoc renamed(const ObjectDoc& doc);
  TextsDoc renamed(const TextsDoc& doc);
  const ModState& from_;
  NewNames names_;
  const NamingValues& naming_;
  std::map<std::string, size_t> counts_;
};

}  // namespace rakugo::mod
