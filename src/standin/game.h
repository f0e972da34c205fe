// What the game has loaded, what it refused and why, and what stands on the quay. No window and no OpenGL
// here.
#pragma once

#include <filesystem>
#include <functional>
#include <glm/glm.hpp>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "bundle/animation_payload.h"
#include "bundle/bundle_reader.h"
#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"
#include "standin/hearing.h"

namespace rakugo::standin {

/// One line of the game's log.
struct LogLine {
  std::string level;  ///< "info", "warning", "error"
  std::string event;  ///< "loaded", "refused", "placed", "scan", ...
  std::string file, mod, object, field;
  std::string message;
  [[nodiscard]] base::Json json() const;
};

/// An object of a mod with all it needs, decoded.
struct LoadedThing {
  std::string mod, title;
  bundle::ObjectRecord record;
  std::map<std::string, bundle::MeshPayload> meshes;
  std::map<std::string, bundle::MaterialRecord> materials;
  std::map<std::string, bundle::Ktx2Picture> pictures;
  std::map<std::string, bundle::SkeletonRecord> skeletons;
  std::map<std::string, bundle::AnimationPayload> animations;
  std::map<std::string, std::shared_ptr<const PlayedSound>> sounds;  ///< those that can be played
  uint64_t generation = 0;  ///< grows with every load, so that a view knows what is new
};

/// A placed object.
struct Placed {
  std::string mod, object;
  glm::vec3 position{0};
  float turn_rad = 0;
  bool added = false;  ///< set down by the player; stays when the harbour is put in order anew
};

/// Loads all bundles of a folder and keeps them up to date. A bundle that is damaged, lies, or breaks the
/// game's rules is refused with a line in the log; nothing a bundle holds can make this fail.
class Game {
 public:
  using Say = std::function<void(const LogLine&)>;
  Game(std::filesystem::path mods, Say say);

  /// Takes the harbour's own things out of a bundle: each that has a place in the harbour stands there,
  /// unless a mod's stands in its place. They are among `objects`, of the mod "harbour". Before the first
  /// scan.
  void takeOwnThings(base::ByteSpan bundle);
  /// Whether a thing ("mod/object") is the harbour's own.
  [[nodiscard]] static bool isOwn(const std::string& name) { return name.starts_with("harbour/"); }
  /// Looks at the folder; loads what is new or changed, forgets what is gone. True when anything changed.
  bool scan();
  [[nodiscard]] const std::map<std::string, LoadedThing>& objects() const { return objects_; }
  [[nodiscard]] const std::vector<Placed>& placed() const { return placed_; }
  /// What a text of a mod says in a language; in the first that the harbour speaks where it has none there;
  /// else its id.
  [[nodiscard]] std::string text(const std::string& mod, const std::string& id,
                                 const std::string& language) const;
  /// The first is what everyone here understands.
  static const std::vector<std::string>& languages();
  /// Puts an object somewhere; false with a line in the log when there is none of that name ("mod/object").
  bool place(const std::string& name, glm::vec3 position, float turn_rad);
  void clearPlaced() { placed_.clear(), placed_by_hand_ = true; }
  /// One more of an object that is there, beside what the harbour puts out by itself.
  void add(const std::string& name, glm::vec3 position, float turn_rad);
  /// Files that are installed and of which nothing was loaded, with the reason, in the mods' order.
  [[nodiscard]] std::vector<std::pair<std::string, std::string>> refused() const;
  /// Moves what stands at that place of `placed`.
  void moveTo(size_t which, glm::vec3 position, float turn_rad);

 private:
  struct KnownFile {
    std::filesystem::file_time_type time;
    uint64_t bytes = 0;
    std::string mod;
    std::string refused;  ///< why nothing of it was loaded; empty when something was
  };
  void load(const std::filesystem::path& path, KnownFile& known);
  bool loadObject(const bundle::Bundle& bundle, const std::string& entry);
  bool accepted(const bundle::Bundle& bundle, const LoadedThing& object);
  void standOnQuay();
  /// Puts out the harbour's own things, or what stands in their place; names those of the mods' objects.
  std::set<std::string> standInPlaces(const std::map<std::string, std::string>& winner);

  std::filesystem::path mods_;
  Say say_;
  std::map<std::string, KnownFile> files_;
  std::map<std::string, LoadedThing> objects_;  // "mod/object"
  /// By mod, language and id.
  std::map<std::string, std::map<std::string, std::map<std::string, std::string>>> texts_;
  void loadTexts(const bundle::Bundle& bundle);
  std::vector<Placed> placed_;
  std::string last_refusal_;  ///< of an object of the file that is being loaded
  bool placed_by_hand_ = false;
  uint64_t generation_ = 0;
};

}  // namespace rakugo::standin
