// What one game accepts. Everything the stations and checks know about a game comes from here.
#pragma once

#include <array>
#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "base/json.h"
#include "base/result.h"
#include "geometry/axes.h"
#include "rulebook/looks.h"
#include "rulebook/packed.h"
#include "rulebook/targets.h"

namespace rakugo::rulebook {

/// A closed range.
struct Band {
  double min = 0, max = 0;
  [[nodiscard]] bool holds(double value) const { return value >= min && value <= max; }
  bool operator==(const Band&) const = default;
};

/// What the game does where a rule is broken.
enum class Outcome : unsigned char {
  refuses_mod,     ///< loads nothing of the mod, or crashes
  refuses_object,  ///< does not load the object; others load
  shows_wrong,     ///< loads it, and players see that something is wrong
  shows_blank,     ///< shows nothing, or a blank, where something should be
  takes_default,   ///< takes a value of its own instead
  ignores,         ///< nothing that a player sees
  meant            ///< things of this game are made so: the check reports nothing
};
/// As rulebooks write it: "refuses_mod".
const char* outcomeName(Outcome outcome);
/// All of them, in their order.
std::vector<std::string> outcomeNames();
std::optional<Outcome> outcomeFromName(std::string_view name);

/// A rule that holds only when a card field has a value. No field: it always holds.
struct Condition {
  std::string field;
  base::Json is;
  [[nodiscard]] bool holds(const base::Json& card) const;
};

/// text_id: a name by which the game looks a text up; it is no prose, and is renamed with the things it
/// names. color: red, green, blue, each 0 to 1, sRGB. range: the lower and the upper number. reference: an
/// object or a sound of the mod, or something that the game shares (reference.h). list: rows of `columns`.
/// curve: points of two numbers, the first of which ascends; `columns` are the two.
enum class FieldType : unsigned char {
  text,
  long_text,
  number,
  integer,
  choice,
  flag,
  text_id,
  color,
  range,
  reference,
  list,
  curve
};

/// One typed field of a kind's card.
struct Field {
  std::string id, title, help, unit;
  std::string word;  ///< what the game reads in place of the id; empty: the id
  FieldType type = FieldType::text;
  bool required = false;
  Condition when;                    ///< narrows `required`
  std::optional<double> min, max;    ///< of a number and both numbers of a range; of lists: how many rows
  int64_t max_length = 0;            ///< of a text, in characters; 0 = no limit
  std::vector<std::string> choices;  ///< of a choice
  /// Of a reference: ids of kinds, words that things of the game's own are sorted by (`SharedAsset::sort`),
  /// and `kSoundSort` for sounds. Empty: anything.
  std::vector<std::string> to;
  /// Of a list and a curve; none of them is a list or a curve. A row is an object, by the columns' ids; of a
  /// list with one column, the value alone.
  std::vector<Field> columns;
  base::Json default_value;  ///< null when there is none
  /// What the game does when it is empty though it is required, and when it is outside its limits.
  std::optional<Outcome> when_empty, when_outside;
  [[nodiscard]] const Field* findColumn(const std::string& column) const;
};
/// Among the words of `Field::to`: sounds of the mod, and those that the game shares.
inline constexpr const char* kSoundSort = "sound";

/// What the game does with a material.
struct Role {
  std::string id, title, help;
  std::string word;                               ///< what the game reads in place of the id; empty: the id
  bool required = false;                          ///< a model of the kind needs a material with this role
  Condition when;                                 ///< narrows `required`
  std::array<float, 3> swatch{0.5F, 0.5F, 0.5F};  ///< sRGB, for the role's card
  std::string effect;              ///< "tint" (takes a chosen colour), "glow" (shines by night) or ""
  std::vector<Tone> tones;         ///< of a tinted role: what players choose from; the swatch until they do
  std::vector<std::string> hints;  ///< words in material names that suggest the role
};

/// What the game hangs at a point: things of a kind, by a point of their own.
struct Hanging {
  std::string kind;  ///< id of a kind
  std::string by;    ///< id of a point of that kind, which comes to lie on this one; empty: its origin
};

/// A named place the game hangs something at.
struct Point {
  std::string id, title, help;
  bool required = false;
  Condition when;
  std::string word;          ///< what the game reads in place of the id; empty: the id
  int64_t most = 1;          ///< of such points: above 1 they are called "<id>-1", "<id>-2" and so on
  std::string pair;          ///< the point on the other side, placed as this one's mirror image; may be empty
  std::string propose_role;  ///< a proposal is the centre of the materials with this role
  std::string propose_at;    ///< or "top" | "centre" | "floor_centre"
  std::string bone;  ///< of the kind's skeleton: the point goes with it as the figure moves; may be empty
  std::vector<Hanging> hangs;
};

enum class Side : unsigned char { centre, left, right };

/// A bone of the game's own skeleton.
struct Bone {
  std::string id;  ///< the exact name the game looks for
  std::string title, parent;
  Side side = Side::centre;
  bool required = true;
  std::array<double, 3> at_m{0, 0,
                             0};   ///< of its head in the rest pose: along forward, to the left, up; metres
  std::vector<std::string> hints;  ///< words in other programs' bone names that mean this one
  /// Of its own axes at rest, in the game's: a unit quaternion x y z w.
  std::array<double, 4> turn{0, 0, 0, 1};
  double most_deg = 0;  ///< how far it may turn off from rest against the one it hangs on; 0: any angle
};

/// Bones that follow one another, with how many the game asks for.
struct Chain {
  std::string id, title;
  std::vector<std::string> bones;
  bool plants = false;  ///< its last bone stands on the ground, and must not slide there
};

/// Something the game does with a figure of its own.
struct Movement {
  std::string id;  ///< the name of the animation in the skeleton's file of movements
  std::string title;
  bool loops = false;
  std::vector<double> moments_s;  ///< at these a model is held against the game's own figure; seconds
};

struct Skeleton {
  std::string id, title;
  std::vector<Bone> bones;  ///< parents before children
  std::vector<Chain> chains;
  /// Path of a GLB inside the rulebook, in the game's axes, metres: the skeleton with its movements. Empty:
  /// the game's movements are not known.
  std::string movements_file;
  std::vector<Movement> movements;
  [[nodiscard]] const Bone* findBone(const std::string& bone) const;
  [[nodiscard]] const Movement* findMovement(const std::string& movement) const;
};

/// A part that the game looks for by its exact name.
struct NamedPart {
  std::string id, title, help;  ///< `id` is the name
  bool required = true;
  std::vector<std::string> hints;  ///< words in other names that mean it
};

/// A region of a body that an outfit covers: the game hides what lies under it.
struct Region {
  std::string id, title, help;
  bool required = true;
  std::string word;  ///< what the game reads in place of the id; empty: the id
};

/// A size an outfit comes in; all have the same vertices in the same order.
struct Variant {
  std::string id, title;
};

/// A block that fills cells of the game's grid.
struct Grid {
  double cell_m = 0;                  ///< 0: the kind knows no grid
  std::array<int, 3> cells{1, 1, 1};  ///< how many cells at most, along forward, side and up
  /// Nothing but flat faces along the cells: no vertex without a shape, no edge off the box's axes.
  bool linear = false;
};

/// What a kind asks for models that are heavy: lighter versions of their parts for the distance.
struct LighterRule {
  int64_t over_triangles = 0;  ///< of the whole model; 0: the kind asks for none
  int64_t levels = 2;
  double from_m = 12;  ///< the first is drawn from here, each next one from twice as far
};

enum class OriginRule : unsigned char { any, floor_centre, centre };

struct Kind;

/// One of the models that an object of a kind is made of, beside the kind's own: a boat's screw. It has rules
/// of its own; those of the kind do not hold for it.
struct KindModel {
  std::string id, title, help;
  int64_t least = 0, most = 64;  ///< how many pieces of an object are one
  Condition when;                ///< narrows `least`
  /// Id of the model that this one is made from by steps, or `kMainModel`; empty: it is made by itself.
  std::string made_from;
  /// The game shows it by itself, in place of the object: it counts neither for its size nor its budgets.
  bool apart = false;
  /// One entry: what holds for it. Its id is "<kind>/<model>", its title and outcomes are filled in when the
  /// rulebook is read.
  std::vector<Kind> rules;
  [[nodiscard]] const Kind& kind() const;
};
/// In place of the id of one of a kind's models: the one that the kind's own rules hold for.
inline constexpr const char* kMainModel = "main";

/// What a piece of an object is, where it is no model.
enum class PieceSort : unsigned char { lamp, emitter, shape, sound, moving };

/// A sort of lamp, emitter, collision shape, sound or moving part that the game takes in objects of a kind: a
/// boat's side light, its funnel's smoke, what one bumps into, its engine, its rudder.
struct PieceRule {
  std::string id, title, help;
  std::string word;  ///< what the game reads in place of the id; empty: the id
  PieceSort sort = PieceSort::lamp;
  int64_t least = 0, most = 16;  ///< how many pieces of an object are one
  Condition when;                ///< narrows `least`
  /// What such a piece says. Once the rulebook is read: first the values that every piece of the sort has
  /// (piece_sorts.h), as this rule narrows them, then the game's own.
  std::vector<Field> fields;
  [[nodiscard]] const Field* findField(const std::string& field) const;
  /// What the game reads for the id of one of its values.
  [[nodiscard]] std::string fieldWord(const std::string& field) const;
};

/// Another size that the game takes an icon in; pixels.
struct IconSize {
  uint32_t width = 0, height = 0;
};

/// A sort of thing the game places.
struct Kind {
  std::string id, title, help;
  /// Extents along the game's forward, side and up axes, in metres.
  std::optional<Band> length_m, width_m, height_m;
  /// How far the farthest vertex may be from the origin, in metres; what its closed shells may hold, in
  /// litres.
  std::optional<Band> reach_m, volume_l;
  OriginRule origin = OriginRule::any;
  double origin_tolerance_m = 0.02;
  bool baked = false;                           ///< every part must be at rest: placement in the mesh
  int64_t max_triangles = 0, max_vertices = 0;  ///< 0 = no limit
  int64_t max_part_triangles = 0;               ///< of any one part; 0 = no limit
  int64_t max_parts = 0, max_materials = 0;     ///< 0 = no limit
  std::string skeleton;                         ///< id of a skeleton, or empty: the kind needs none
  int64_t max_bones = 0, max_influences = 0;    ///< of a skinned model; 0 = no limit
  std::vector<NamedPart> parts;
  /// Pixels of a picture to a metre of the surface.
  std::optional<Band> texels_per_m;
  std::vector<Region> regions;
  /// Path of a GLB inside the rulebook, in the game's axes, metres: the body that an outfit of this kind is
  /// worn on. Its parts are called as the regions they belong to. May be empty.
  std::string body, body_title;
  double seam_mm = 1;  ///< the widest gap between an outfit's border and the body's that is not seen
  std::vector<Variant> variants;
  LighterRule lighter;
  Grid grid;
  std::vector<Role> roles;
  std::vector<Point> points;
  std::vector<Field> fields;
  std::string ghost;  ///< path of a GLB inside the rulebook, in the game's axes, metres; may be empty
  std::string ghost_title;
  uint32_t icon_width = 0, icon_height = 0;  ///< 0 = no icon wanted
  /// From where the icon is taken: turned from the thing's front to its left, and raised; degrees.
  double icon_turn_deg = 43, icon_rise_deg = 13;
  double icon_margin = 0;                                   ///< left free at each side, as a share of it
  std::array<float, 3> icon_ground{0.937F, 0.91F, 0.855F};  ///< sRGB
  std::optional<std::array<float, 3>> icon_ground_below;    ///< at its lower edge, even in between; sRGB
  bool icon_clear = false, icon_by_night = false;           ///< without a ground; as it glows by night
  double icon_outline_px = 0;                               ///< width of the line round the thing; 0: none
  std::array<float, 3> icon_outline{0.12F, 0.1F, 0.09F};    ///< colour of that line; sRGB
  std::vector<IconSize> icon_sizes;                         ///< smaller ones, made of the icon by the build
  /// What the game does with a thing of this kind where a rule is broken, by check id; before those of the
  /// rulebook.
  std::map<std::string, Outcome> outcomes;
  /// An object of this kind may stand in place of one of the game's own: a shared asset of this sort.
  bool replaces = false;
  base::Json further;  ///< values of keys that were added to the table "kind" (key.h), by key; or null
  std::vector<KindModel> models;  ///< what else an object of this kind is made of
  std::vector<PieceRule>
      pieces;  ///< lamps, emitters and shapes that the game takes in an object of this kind

  [[nodiscard]] const KindModel* findModel(const std::string& model) const;
  [[nodiscard]] const PieceRule* findPiece(const std::string& piece) const;
  /// What the game reads for the id of one of the models or pieces of this kind.
  [[nodiscard]] std::string pieceWord(const std::string& as) const;
  [[nodiscard]] const Role* findRole(const std::string& role) const;
  [[nodiscard]] const Field* findField(const std::string& field) const;
  /// Also by the id of one of several: "lamp-3".
  [[nodiscard]] const Point* findPoint(const std::string& point) const;
  /// What the game reads for an id of this kind; the id itself where the kind does not know it, or has no
  /// other word. In a point's word "{n}" stands for its number among several; without it the number follows.
  [[nodiscard]] std::string roleWord(const std::string& role) const;
  [[nodiscard]] std::string regionWord(const std::string& region) const;
  [[nodiscard]] std::string fieldWord(const std::string& field) const;
  [[nodiscard]] std::string pointWord(const std::string& point) const;
  [[nodiscard]] const Region* findRegion(const std::string& region) const;
};

/// Something of the game's own that mods may refer to.
struct SharedAsset {
  std::string id, title;
  std::string sort;  ///< id of a kind, or another word that fields refer by: "sound", "good"; may be empty
};

/// A list of the game's that things of a mod enter: a shop, the recipes, a start kit.
struct GameList {
  std::string id, title, help;
  std::string word;             ///< what the game reads in place of the id; empty: the id
  std::vector<std::string> of;  ///< ids of the kinds whose objects may enter; empty: all
  int64_t least = 0, most = 1;  ///< how often one object stands in it
  std::vector<Field> fields;    ///< what each entry says
  [[nodiscard]] bool takes(const std::string& kind) const;
  [[nodiscard]] const Field* findField(const std::string& field) const;
};

/// How the game takes sounds.
struct SoundRule {
  std::string format = "wav";           ///< "wav", "ogg" or "flac"
  uint32_t rate_hz = 0;                 ///< 0: as it comes
  bool mono = false;                    ///< every sound has one channel
  std::optional<double> loudness_lufs;  ///< integrated loudness by EBU R 128; none: as it comes
  double most_s = 0;                    ///< the longest that the game takes; 0: any
  bool operator==(const SoundRule&) const = default;
};

/// A language that the game speaks.
struct Language {
  std::string id;     ///< as the game names it: "en", "nb-NO"
  std::string title;  ///< what it is called in the window
};

/// A mod to begin from: a folder inside the rulebook.
struct Sample {
  std::string folder, title, help;
};

struct Rulebook {
  std::filesystem::path folder;
  std::string id, version, title, description;
  double unit_m = 1;  ///< the length of one unit of the game
  geometry::Axis up = geometry::Axis::plus_z;
  geometry::Axis forward = geometry::Axis::plus_x;
  bool right_handed = true;
  double person_height_m = 1.7;
  std::vector<Kind> kinds;
  std::vector<Skeleton> skeletons;
  std::vector<Sample> samples;
  std::string packaging = "bundle";  ///< the name of a packager: "bundle", "zip"
  uint32_t index_bits = 32;          ///< 16: no more than 65,536 vertices are drawn at once
  uint32_t picture_max_side = 0;     ///< 0 = no limit
  bool picture_power_of_two = false;
  std::vector<SharedAsset> shared_assets;
  /// A bundle inside the rulebook with objects of the game's own, to begin from; may be empty.
  std::string own_things;
  std::vector<GameList> lists;
  SoundRule sounds;
  /// The first is shown where a text is missing in another. Empty: mods bring no texts.
  std::vector<Language> languages;
  std::vector<Target> targets;     ///< as it lists them; `allTargets` are never none
  std::string target = "desktop";  ///< id of the only target where it lists none
  std::vector<PackedPicture> packed_pictures;
  std::vector<LookSwitch> switches;
  /// What the game does where a rule is broken, by check id. Where it says nothing, the check's own severity
  /// holds.
  std::map<std::string, Outcome> outcomes;
  /// Why a rule matters in this game, by check id; used in place of the check's own reason.
  std::vector<std::pair<std::string, std::string>> reasons;
  std::vector<std::string> meant;  ///< JSON pointers of what `rulebookDoubts` doubts and is meant so
  base::Json further;  ///< values of keys that were added to the table "rulebook" (key.h), by key; or null
  /// Folders of rulebooks of the same id that this one was found before.
  std::vector<std::filesystem::path> hides;

  /// Also "<kind>/<model>": what holds for one of the models that its objects are made of.
  [[nodiscard]] const Kind* findKind(const std::string& kind) const;
  /// All that models are held against: each kind, followed by those of its further models.
  [[nodiscard]] std::vector<const Kind*> modelKinds() const;
  [[nodiscard]] const Skeleton* findSkeleton(const std::string& skeleton) const;
  [[nodiscard]] const GameList* findList(const std::string& list) const;
  [[nodiscard]] const SharedAsset* findShared(const std::string& asset) const;
  /// What mods are built for, the usual one first. Where the rulebook lists none: one that stores all
  /// pictures as RGBA8.
  [[nodiscard]] std::vector<Target> allTargets() const;
  /// The target of that id, of an empty id the usual one; nothing where there is none of that name.
  [[nodiscard]] std::optional<Target> targetNamed(const std::string& id) const;
  /// The longest side of a picture that is built for a target; 0: any.
  [[nodiscard]] uint32_t pictureSide(const Target& target) const;
  /// True for a field of that kind that names things, and for one that the kind does not know.
  [[nodiscard]] bool namesThings(const std::string& kind, const std::string& field) const;
  /// The side axis: up x forward, so that (forward, side, up) is right-handed; +Y for forward +X, up +Z.
  [[nodiscard]] glm::vec3 side() const;
};

/// What the game does where a check finds something: the field's own word for `field.empty` and
/// `field.limits`, then the kind's, then the rulebook's; nothing where none says it. `kind` and `field` may
/// be null.
std::optional<Outcome> outcomeOf(const Rulebook& book, const Kind* kind, const Field* field,
                                 const std::string& check);

/// Loads and validates `folder`/rulebook.json. On failure all mistakes, each with file, line and JSON
/// pointer, are in `mistakes` (which may be null) and the first one is the error. What may be meant and is
/// likely a mistake is in `doubts` (which may be null); it keeps no rulebook from being loaded. Errors:
/// file.*, json.*, rulebook.id, .value, .reference, .repeated, .contradiction, .no_effect, .path, .file,
/// .folder.
base::Result<Rulebook> loadRulebook(const std::filesystem::path& folder,
                                    std::vector<base::Error>* mistakes = nullptr,
                                    std::vector<base::Error>* doubts = nullptr);
/// The same over text; paths named inside are not looked for. For tests and fuzzing.
base::Result<Rulebook> parseRulebook(std::string_view text, const std::string& file,
                                     std::vector<base::Error>* mistakes = nullptr,
                                     std::vector<base::Error>* doubts = nullptr);
/// Gives mistakes in `folder`/rulebook.json that have a JSON pointer and no line their line.
void addLines(const std::filesystem::path& folder, std::vector<base::Error>& mistakes);

/// Folders that may hold rulebooks, or be one, in order of preference: $RAKUGO_RULEBOOKS (colon separated),
/// the person's own ($XDG_DATA_HOME/rakugo/rulebooks), the share folder beside the running program, the
/// source tree this was built from.
std::vector<std::filesystem::path> rulebookFolders();
/// The person's own folder of rulebooks; it need not be there.
std::filesystem::path ownRulebookFolder();
/// The rulebook of that id, the first one of the folders above; it names those that it `hides`. Errors:
/// rulebook.unknown (names those that are there), and all of `loadRulebook`.
base::Result<Rulebook> findRulebook(const std::string& id);
/// Ids of all rulebooks that can be found, sorted.
std::vector<std::string> rulebookIds();
/// Folders of all rulebooks of that id, the one that is used first.
std::vector<std::filesystem::path> rulebooksOf(const std::string& id);

}  // namespace rakugo::rulebook
