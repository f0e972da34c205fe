// What the player does in the harbour: who walks, in what coat, with what in the hand, at which boat's helm.
// No window and no OpenGL here.
#pragma once

#include <memory>
#include <optional>

#include "render/particles.h"
#include "standin/bodies.h"
#include "standin/game.h"
#include "standin/motion.h"

namespace rakugo::standin {

/// A movement in one moment.
struct Moving {
  std::string movement;
  float at_s = 0;
  std::vector<std::string> only;  ///< bones that it moves; empty: all
};

/// An object as it is seen in this moment. Pieces that cover a region named in `covered` are under a coat and
/// not drawn.
struct Shown {
  std::string object;  ///< "mod/object"
  glm::mat4 matrix{1};
  std::vector<std::string> covered;
  /// Movements of the harbour's keepers on its bones, one over the other; empty: its own, if it has any.
  std::vector<Moving> moving;
  float at_s = 0;        ///< for its own movements
  float build = 0;       ///< from slim, 0, to broad, 1
  float screw_rad = 0;   ///< how far its screws have turned about their own +X
  bool steered = false;  ///< it is the boat that the player steers
  /// Which of its models that are shown apart is seen; empty: the object itself.
  std::string apart;
  std::vector<float> motion_rad;  ///< how far each of its moving parts has gone
};

/// Where the player looks from, and which way: the angle about up, 0 looking along +X.
struct Sight {
  glm::vec3 eye{0};
  float heading_rad = 0;
  bool own_eyes = false;  ///< false: the figure is looked at from behind, `eye` is its shoulders
};

/// Moves one figure and one boat through the harbour. Metres, seconds, radians; +X of a figure and of a boat
/// is ahead. Holds names only: what the game no longer has is let go of by `refresh`.
class Play {
 public:
  enum class Doing { looking, walking, sailing };

  /// Both outlive this.
  Play(Game& game, Game::Say say);

  /// Does with an object what its kind is for: walks as a keeper, wears a coat, carries gear, takes the helm
  /// of a craft, sets one more of a fitting or pier block down before the figure. False, with a line in the
  /// log, when there is none of that name.
  bool use(const std::string& object);
  /// Takes up what stands about, a fitting or a pier block, in its carried version; what else it is, is used.
  /// False, with a line in the log, when there is none of that name, or it brings no such version.
  bool take(const std::string& object);
  /// Steps ashore, else sets down what is in the arms, else lets go of what is carried, else takes the coat
  /// off, else is the harbour's own keeper again, else stands still. False when there was nothing to leave.
  bool leave();
  /// Walks, or works throttle and rudder, until told otherwise; each from -1 (astern, to the right) to 1.
  void move(float ahead, float turn);
  /// Whether the figure's own eyes are looked through while walking; who only looks round begins to walk.
  void lookThroughEyes(bool on);
  [[nodiscard]] bool throughEyes() const { return eyes_; }
  /// What the figure does while it stands, over and over; empty: it stands about. False, with a line in the
  /// log, when the harbour's keepers have no such movement.
  bool act(const std::string& movement);
  /// How broad the figure is, and its coat: 0 slim to 1 broad, where they come in sizes.
  void setBuild(float build);
  [[nodiscard]] const std::string& acting() const { return act_; }
  [[nodiscard]] float build() const { return build_; }
  /// From day, 0, to night, 1: what is lit at night, and runs at night, does.
  void setNight(float night) { night_ = night; }
  /// How much of what is lit or runs in such a moment does so on an object: "always", "night", "under-way"
  /// (the boat that the player steers); 0 for a word that the harbour does not know.
  [[nodiscard]] float moment(const std::string& object, const std::string& word) const;
  /// The same of one that is seen: of several of that name only the boat that is steered is under way.
  [[nodiscard]] float moment(const Shown& shown, const std::string& word) const {
    return word == "under-way" && !shown.steered ? 0.0F : moment(shown.object, word);
  }
  /// Lets one more of an object fall, its origin `height_m` above the ground or the water at `at`, or before
  /// the figure; the log says what becomes of it. False, with a line in the log, when there is none of that
  /// name.
  bool drop(const std::string& object, std::optional<glm::vec2> at, float height_m);
  /// How many things were let fall and are still there.
  [[nodiscard]] size_t fallen() const { return fallen_.size(); }
  /// What is heard in this moment, where the thing is: sounds that go on, and those that something has just
  /// set off.
  [[nodiscard]] std::vector<Heard> heard() const;
  /// Where one hears: at the figure's or the helmsman's ears, else at `otherwise`.
  [[nodiscard]] glm::vec3 ear(glm::vec3 otherwise) const;
  /// What a mod's text says in the game's language; in its first where it has none; else its id.
  [[nodiscard]] std::string textOf(const std::string& object, const std::string& id) const;
  /// The language that the game speaks from now on; one that it does not know is its first.
  void setLanguage(const std::string& language) { language_ = language; }
  /// Something is set off on an object: "touched", "leaving". Sounds that play then are heard once.
  void happens(const std::string& object, const std::string& moment);
  /// What the emitters of all that is seen have sent out.
  [[nodiscard]] const render::ParticleCloud& particles() const { return particles_; }
  /// Lets `seconds` pass, in steps of at most a thirtieth.
  void pass(float seconds);
  /// After the game has scanned: lets go of what is gone.
  void refresh();

  [[nodiscard]] Doing doing() const { return doing_; }
  [[nodiscard]] const std::string& keeper() const { return keeper_; }
  [[nodiscard]] const std::string& coat() const { return coat_; }
  [[nodiscard]] const std::string& gear() const { return gear_; }
  /// What was in the hand before: it hangs at the belt.
  [[nodiscard]] const std::string& belt() const { return belt_; }
  /// What is in the arms, on its way to another place.
  [[nodiscard]] const std::string& inArms() const { return in_arms_; }
  [[nodiscard]] const std::string& craft() const { return craft_; }
  [[nodiscard]] glm::vec3 figureAt() const { return figure_; }
  [[nodiscard]] float speed_mps() const { return speed_; }
  [[nodiscard]] glm::vec3 boatAt() const { return boat_; }

  /// Whether the figure or the boat is under way, or does what it was told to.
  [[nodiscard]] bool moving() const;

  /// All objects of mods that are seen, the player's included.
  [[nodiscard]] std::vector<Shown> shown() const;
  /// Where the harbour's own keeper stands; nothing while another's figure is walked as, or at the helm.
  [[nodiscard]] std::optional<glm::mat4> ownKeeper() const;
  /// How a bone of an object has carried what goes with it since its rest, in the object's space; the same
  /// for what has no such bone.
  [[nodiscard]] glm::mat4 carried(const Shown& shown, const std::string& bone) const;
  /// How its bones are moved from how it is built, `ownBind`; one a bone of the harbour's keepers.
  [[nodiscard]] std::vector<glm::mat4> ownBones() const;
  static BonePose ownBind();
  /// Where the player looks from; nothing while only looking round.
  [[nodiscard]] std::optional<Sight> sight() const;

 private:
  [[nodiscard]] const LoadedThing* find(const std::string& name) const;
  [[nodiscard]] glm::mat4 pointOf(const std::string& object, const char* point,
                                  const glm::mat4& otherwise) const;
  [[nodiscard]] std::vector<Shown> seen() const;  // without how parts have moved
  [[nodiscard]] glm::mat4 figureMatrix() const;
  [[nodiscard]] glm::mat4 boatMatrix() const;
  [[nodiscard]] bool figureSeen() const;
  [[nodiscard]] std::vector<Moving> figureMoves() const;
  void emit(float seconds);
  void judgeBones(const std::string& name, const LoadedThing& thing) const;
  void walk(float seconds);
  void sail(float seconds);
  bool takeHelm(const std::string& name, const LoadedThing& craft);
  /// Before the figure, for a thing of that record; nothing where there is no ground.
  [[nodiscard]] std::optional<glm::vec3> placeBefore(const bundle::ObjectRecord& r) const;
  bool setDown();
  void say(const char* level, const char* event, const std::string& object, const char* field,
           const std::string& message) const;

  Game& game_;
  Game::Say say_;
  Doing doing_ = Doing::looking;
  std::string keeper_, coat_, gear_, belt_, craft_, in_arms_;
  glm::vec3 figure_{0.1F, 1.9F, 0}, boat_{0};
  float figure_heading_ = -0.5F, boat_heading_ = 0, speed_ = 0, rudder_ = 0;
  float ahead_ = 0, turn_ = 0, walked_m_ = 0, time_s_ = 0;
  bool eyes_ = false;
  std::string act_;
  float act_s_ = 0, build_ = 0, night_ = 0;
  // Something that was let fall.
  struct Fallen {
    std::string object;
    size_t body;
    int struck = 0;
    bool told = false;
  };
  std::unique_ptr<Bodies> bodies_;  // made when the first thing falls
  std::vector<Fallen> fallen_;
  std::vector<size_t> standing_;  // bodies of what stood about when something was last let go of
  void fall(float seconds);
  float screw_rad_ = 0, fastest_ = 0;  // m/s, of the boat that is steered
  render::ParticleCloud particles_;
  // A sound that was set off, and how long ago.
  struct SetOff {
    std::string object;
    size_t sound;    // of the object's
    size_t variant;  // of those that it names
    size_t number;
    float ago_s;
  };
  std::vector<SetOff> set_off_;
  size_t set_off_count_ = 0;
  std::string language_;
  // How often the moving parts of an object have gone round or to and fro: where it stands, where it is
  // steered.
  struct Turns {
    std::vector<float> standing, steered;
  };
  std::map<std::string, Turns> turns_;
  void moveParts(float seconds);
  [[nodiscard]] std::vector<float> motionsOf(const Shown& shown) const;
  [[nodiscard]] Heard heardOf(const LoadedThing& thing, const bundle::ObjectSound& sound, size_t variant,
                              const glm::mat4& place) const;
};

/// How the bones of one rig of an object stand: at rest, moved by its own first animation, then by the
/// harbour's.
BonePose poseOf(const LoadedThing& thing, const bundle::ObjectRig& rig, const Shown& shown);
/// How much the morph targets of a piece count by the first animation of its rig; empty where that says
/// nothing of them.
std::vector<float> morphsOf(const LoadedThing& thing, const Shown& shown, int rig, const std::string& piece);
/// Where what moves as the motions say has gone, in the object's space: `list` is one of the lists of a
/// motion
/// (`&ObjectMotion::pieces`), `place` a place in it. The identity for what nothing moves.
glm::mat4 movedTo(const bundle::ObjectRecord& record, const std::vector<float>& motion_rad,
                  std::vector<uint32_t> bundle::ObjectMotion::*list, size_t place);
/// Whether the box that nothing of the object leaves may be in view: `view` takes it to clip space.
bool mayBeSeen(const bundle::ObjectRecord& record, const glm::mat4& view);
/// Where a rig's skeleton lies in its object.
glm::mat4 rigPlace(const bundle::ObjectRig& rig);

/// Where a person can stand: on the quay and the jetty, not in the shed or the crates. The height of the
/// ground there, or nothing.
std::optional<float> groundAt(glm::vec2 at);
/// Whether a boat whose bounding box reaches `half` metres to each side can lie at `at`.
bool afloatAt(glm::vec2 at, glm::vec2 half);

}  // namespace rakugo::standin
