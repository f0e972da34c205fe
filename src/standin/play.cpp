#include "standin/play.h"

#include <algorithm>
#include <cmath>
#include <map>

#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/quaternion.hpp>

#include "base/text.h"
#include "standin/harbour_rules.h"
#include "standin/harbour_shapes.h"

namespace rakugo::standin {
namespace {

constexpr const char* kSecondGrip = "second-grip";

// The shortest turn from one direction to another; neither is zero.
glm::quat turnOnto(glm::vec3 from, glm::vec3 to) {
  from = glm::normalize(from);
  to = glm::normalize(to);
  const float along = glm::dot(from, to);
  if (along < -0.9999F) return glm::angleAxis(3.14159265F, glm::vec3(0, 0, 1));
  return glm::normalize(glm::quat(1 + along, glm::cross(from, to)));
}

constexpr float kPace_mps = 1.4F, kWalkTurn_radps = 1.9F, kStride_m = 0.72F, kKnot_mps = 0.514444F;

struct Box {
  glm::vec2 min, max;
  [[nodiscard]] bool holds(glm::vec2 p) const {
    return p.x >= min.x && p.x <= max.x && p.y >= min.y && p.y <= max.y;
  }
  [[nodiscard]] bool meets(glm::vec2 low, glm::vec2 high) const {
    return low.x <= max.x && high.x >= min.x && low.y <= max.y && high.y >= min.y;
  }
};
// As harbour_shapes.cpp builds them.
constexpr Box kQuay{{-13.5F, -31.5F}, {kQuayEdge_m - 0.35F, 31.5F}};
constexpr Box kJetty{{kQuayEdge_m - 0.5F, -15.2F}, {11.9F, -12.8F}};
constexpr float kJettyTop_m = -0.26F;
constexpr Box kInTheWay[] = {
    {{-9.9F, -7.4F}, {-4.3F, 4.9F}}, {{-4.1F, -6.0F}, {-2.7F, -3.6F}}, {{-4.1F, 2.6F}, {-2.4F, 4.3F}}};
constexpr Box kShores[] = {{{-400, -400}, {kQuayEdge_m + 0.1F, 400}},
                           {{kQuayEdge_m, -15.6F}, {12.4F, -12.4F}},
                           {{63, 31}, {93, 61}}};
constexpr float kHarbour_m = 92;

glm::mat4 placed(const glm::vec3& at, float turn_rad) {
  return glm::rotate(glm::translate(glm::mat4(1), at), turn_rad, {0, 0, 1});
}

}  // namespace

std::optional<float> groundAt(glm::vec2 at) {
  for (const Box& box : kInTheWay)
    if (box.holds(at)) return std::nullopt;
  if (kQuay.holds(at)) return 0.0F;
  if (kJetty.holds(at)) return kJettyTop_m;
  return std::nullopt;
}

bool afloatAt(glm::vec2 at, glm::vec2 half) {
  if (glm::length(at) > kHarbour_m) return false;
  return std::none_of(std::begin(kShores), std::end(kShores),
                      [&](const Box& shore) { return shore.meets(at - half, at + half); });
}

Play::Play(Game& game, Game::Say say) : game_(game), say_(std::move(say)) {}

void Play::say(const char* level, const char* event, const std::string& object, const char* field,
               const std::string& message) const {
  const size_t slash = object.find('/');
  say_({level, event, "", object.substr(0, slash),
        slash == std::string::npos ? std::string() : object.substr(slash + 1), field, message});
}

const LoadedThing* Play::find(const std::string& name) const {
  const auto found = game_.objects().find(name);
  return found == game_.objects().end() ? nullptr : &found->second;
}

glm::mat4 Play::pointOf(const std::string& object, const char* point, const glm::mat4& otherwise) const {
  const LoadedThing* thing = find(object);
  if (thing == nullptr) return otherwise;
  for (const bundle::ObjectPoint& p : thing->record.points)
    if (p.name == point)
      return glm::translate(glm::mat4(1), {p.position[0], p.position[1], p.position[2]}) *
             glm::mat4_cast(glm::quat(p.turn[3], p.turn[0], p.turn[1], p.turn[2]));
  return otherwise;
}

bool Play::use(const std::string& name) {
  const LoadedThing* thing = find(name);
  if (thing == nullptr) return say("error", "unknown", name, "", "There is no object " + name + "."), false;
  const bundle::ObjectRecord& r = thing->record;
  const auto begin = [&] {
    if (doing_ == Doing::looking) doing_ = Doing::walking;
  };
  if (r.kind == "craft") return takeHelm(name, *thing);
  if (r.kind == "keeper") {
    keeper_ = name;
    begin();
    judgeBones(name, *thing);
    say("info", "walks", name, "", r.name + " walks the quay.");
    if (const std::string greeting = base::textOf(r.card, "greeting_text"); !greeting.empty())
      say("info", "says", name, "greeting_text", r.name + ": " + textOf(name, greeting));
  } else if (r.kind == "coat") {
    coat_ = name;
    judgeBones(name, *thing);
    say("info", "wears", name, "", r.name + " is put on.");
  } else if (r.kind == "gear") {
    if (gear_ != name && !gear_.empty()) {
      belt_ = gear_;
      say("info", "hangs", belt_, "belt", find(belt_)->record.name + " is hung at the belt.");
    }
    if (belt_ == name) belt_.clear();
    gear_ = name;
    const bool both = std::any_of(r.points.begin(), r.points.end(),
                                  [](const auto& point) { return point.name == kSecondGrip; });
    say("info", "carries", name, "",
        r.name + (both ? " is taken in both hands." : " is taken in the right hand."));
    happens(name, "touched");
  } else {
    const auto at = placeBefore(r);
    if (!at)
      return say("warning", "no_room", name, "", "There is no ground before the figure to set it on."), false;
    game_.add(name, *at, figure_heading_ + 3.14159265F);
    say("info", "placed", name, "", r.name + " is set down.");
    happens(name, "touched");
  }
  return true;
}

std::optional<glm::vec3> Play::placeBefore(const bundle::ObjectRecord& r) const {
  const glm::vec3 ahead(std::cos(figure_heading_), std::sin(figure_heading_), 0);
  const glm::vec3 at = figure_ + ahead * (0.8F + std::max(r.bounds_max[0] - r.bounds_min[0], 0.0F) / 2);
  const auto ground = groundAt({at.x, at.y});
  if (!ground) return std::nullopt;
  return glm::vec3(at.x, at.y, *ground);
}

bool Play::take(const std::string& name) {
  const LoadedThing* thing = find(name);
  if (thing == nullptr) return say("error", "unknown", name, "", "There is no object " + name + "."), false;
  const bundle::ObjectRecord& r = thing->record;
  if (r.kind != "fitting" && r.kind != "pier-block") return use(name);
  const bool carried = std::any_of(r.pieces.begin(), r.pieces.end(), [](const bundle::ObjectPiece& piece) {
    return piece.apart && piece.as == kCarried;
  });
  if (!carried)
    return say("warning", "fixed", name, "carried",
               r.name + " stays where it stands: it brings no carried version."),
           false;
  if (!in_arms_.empty() && !setDown()) return false;
  in_arms_ = name;
  if (doing_ == Doing::looking) doing_ = Doing::walking;
  say("info", "takes_up", name, "", r.name + " is taken up in the arms.");
  happens(name, "touched");
  return true;
}

// Where it stood before, that place is left; a further one is set down where none stands.
bool Play::setDown() {
  const LoadedThing* thing = find(in_arms_);
  const auto at = thing != nullptr ? placeBefore(thing->record) : std::nullopt;
  if (thing != nullptr && !at)
    return say("warning", "no_room", in_arms_, "", "There is no ground before the figure to set it on."),
           false;
  const std::string name = std::exchange(in_arms_, {});
  if (thing == nullptr) return true;
  const auto stood = std::find_if(game_.placed().begin(), game_.placed().end(),
                                  [&](const Placed& p) { return p.mod + "/" + p.object == name; });
  const float heading = figure_heading_ + 3.14159265F;
  if (stood != game_.placed().end())
    game_.moveTo(static_cast<size_t>(stood - game_.placed().begin()), *at, heading);
  else
    game_.add(name, *at, heading);
  say("info", "placed", name, "", thing->record.name + " is set down.");
  happens(name, "touched");
  return true;
}

bool Play::takeHelm(const std::string& name, const LoadedThing& craft) {
  const auto lies = std::find_if(game_.placed().begin(), game_.placed().end(),
                                 [&](const Placed& p) { return p.mod + "/" + p.object == name; });
  if (lies == game_.placed().end())
    return say("warning", "no_room", name, "", craft.record.name + " does not lie in the harbour."), false;
  craft_ = name;
  boat_ = lies->position;
  boat_heading_ = lies->turn_rad;
  speed_ = rudder_ = 0;
  doing_ = Doing::sailing;
  const bool helm = std::any_of(craft.record.points.begin(), craft.record.points.end(),
                                [](const auto& p) { return p.name == "helm"; });
  if (!helm)
    say("warning", "no_helm", name, "helm",
        craft.record.name + " has no helm; the view is from above its middle.");
  say("info", "sails", name, "", craft.record.name + " casts off.");
  if (const std::string engine = base::textOf(craft.record.card, "engine_text"); !engine.empty())
    say("info", "says", name, "engine_text", craft.record.name + ": " + textOf(name, engine));
  happens(name, "leaving");
  return true;
}

bool Play::leave() {
  ahead_ = turn_ = 0;
  if (doing_ == Doing::sailing) {
    const auto mooring = std::find_if(game_.placed().begin(), game_.placed().end(),
                                      [&](const Placed& p) { return p.mod + "/" + p.object == craft_; });
    if (mooring != game_.placed().end())
      game_.moveTo(static_cast<size_t>(mooring - game_.placed().begin()), boat_, boat_heading_);
    craft_.clear();
    speed_ = rudder_ = 0;
    doing_ = Doing::walking;
    return true;
  }
  if (!in_arms_.empty()) return setDown();
  for (std::string* held : {&gear_, &belt_, &coat_, &keeper_})
    if (!held->empty()) return held->clear(), true;
  return std::exchange(doing_, Doing::looking) != Doing::looking;
}

void Play::move(float ahead, float turn) {
  ahead_ = std::clamp(ahead, -1.0F, 1.0F);
  turn_ = std::clamp(turn, -1.0F, 1.0F);
  if (doing_ == Doing::looking && (ahead_ != 0 || turn_ != 0)) doing_ = Doing::walking;
}

void Play::lookThroughEyes(bool on) {
  eyes_ = on;
  if (on && doing_ == Doing::looking) doing_ = Doing::walking;
}

void Play::pass(float seconds) {
  while (seconds > 0) {
    const float step = std::min(seconds, 1.0F / 30);
    seconds -= step;
    time_s_ += step;
    act_s_ += step;
    if (doing_ == Doing::walking) walk(step);
    if (doing_ == Doing::sailing) sail(step);
    moveParts(step);
    fall(step);
    for (SetOff& off : set_off_) off.ago_s += step;
    constexpr float kLongest_s = 60;
    std::erase_if(set_off_, [](const SetOff& off) { return off.ago_s > kLongest_s; });
    emit(step);
  }
}

std::string Play::textOf(const std::string& object, const std::string& id) const {
  return game_.text(object.substr(0, object.find('/')), id, language_);
}

float Play::moment(const std::string& object, const std::string& word) const {
  if (word == "always") return 1;
  if (word == "night") return night_;
  return word == "under-way" && doing_ == Doing::sailing && object == craft_ ? 1.0F : 0.0F;
}

bool Play::drop(const std::string& name, std::optional<glm::vec2> at, float height_m) {
  const LoadedThing* thing = find(name);
  if (thing == nullptr) return say("error", "unknown", name, "", "There is no object " + name + "."), false;
  if (!bodies_) {
    Bodies::Ground ground;
    const auto lay = [&](const Box& box, float low, float high) {
      ground.boxes.push_back({{box.min.x, box.min.y, low}, {box.max.x, box.max.y, high}});
    };
    lay({kQuay.min - 20.0F, {kQuayEdge_m, kQuay.max.y + 20}}, -8, 0);
    lay(kJetty, kJettyTop_m - 0.4F, kJettyTop_m);
    constexpr float kHigh_m = 3;
    for (const Box& box : kInTheWay) lay(box, 0, kHigh_m);
    ground.water_m = kWaterLevel_m;
    bodies_ = std::make_unique<Bodies>(ground);
  }
  const glm::vec2 ahead(std::cos(figure_heading_), std::sin(figure_heading_));
  const glm::vec2 where = at.value_or(glm::vec2(figure_) + ahead * 1.5F);
  const float ground = groundAt(where).value_or(where.x < kQuayEdge_m ? 0.0F : kWaterLevel_m);
  const glm::vec3 from(where, ground + std::clamp(height_m, 0.0F, 50.0F));
  // What stands about now is in the way; the boat that is steered is not.
  for (const size_t body : standing_) bodies_->remove(body);
  standing_.clear();
  for (const Shown& one : shown()) {
    const LoadedThing* stands = find(one.object);
    const bool falls =
        std::any_of(fallen_.begin(), fallen_.end(), [&](const Fallen& f) { return f.object == one.object; });
    if (stands != nullptr && !one.steered && !falls && one.object != gear_ && one.object != belt_ &&
        one.object != coat_)
      standing_.push_back(bodies_->addFixed(stands->record, one.matrix));
  }
  fallen_.push_back({name, bodies_->add(thing->record, placed(from, figure_heading_)), 0, false});
  constexpr size_t kMost = 60;
  if (fallen_.size() > kMost) {
    bodies_->remove(fallen_.front().body);
    fallen_.erase(fallen_.begin());
  }
  say("info", "falls", name, "", thing->record.name + " is let go of.");
  return true;
}

void Play::fall(float seconds) {
  if (fallen_.empty()) return;
  bodies_->pass(seconds);
  for (Fallen& one : fallen_) {
    const Bodies::Struck struck = bodies_->struck(one.body);
    if (struck.times > one.struck) happens(one.object, "touched");
    one.struck = struck.times;
    const Settled now = bodies_->settled(one.body);
    if (now == Settled::moving || one.told) continue;
    one.told = true;
    const LoadedThing* thing = find(one.object);
    const std::string name = thing != nullptr ? thing->record.name : one.object;
    if (now == Settled::floats) {
      const double lean = glm::degrees(std::acos(std::clamp(bodies_->place(one.body)[2].z, -1.0F, 1.0F)));
      say("info", "floats", one.object, "",
          name + " floats " + base::numberText(static_cast<double>(bodies_->depth(one.body)), 2) +
              " m deep, " +
              (lean < 3 ? "upright." : "leaning by " + base::numberText(std::round(lean), 0) + " degrees."));
    }
    if (now == Settled::sunk) say("info", "sinks", one.object, "", name + " lies on the harbour's bed.");
    if (now == Settled::lies)
      say("info", "lies", one.object, "",
          name + " has come to rest; it struck " + std::to_string(one.struck) +
              (one.struck == 1 ? " time." : " times."));
  }
}

void Play::happens(const std::string& object, const std::string& moment) {
  const LoadedThing* thing = find(object);
  if (thing == nullptr) return;
  for (size_t i = 0; i < thing->record.sounds.size(); ++i) {
    const bundle::ObjectSound& sound = thing->record.sounds[i];
    if (sound.plays != moment || sound.sounds.empty()) continue;
    // Another variant each time.
    const size_t number = set_off_count_++;
    set_off_.push_back({object, i, number % sound.sounds.size(), number, 0});
  }
}

Heard Play::heardOf(const LoadedThing& thing, const bundle::ObjectSound& sound, size_t variant,
                    const glm::mat4& place) const {
  Heard out;
  const std::string& id = sound.sounds[variant % sound.sounds.size()];
  const auto own = thing.sounds.find(id);
  out.sound = own != thing.sounds.end() ? own->second : harbourSound(id);
  out.at = glm::vec3(place * glm::vec4(sound.position[0], sound.position[1], sound.position[2], 1));
  out.gain = sound.gain;
  out.near = sound.near;
  out.far = sound.far;
  out.loop = sound.loop;
  return out;
}

std::vector<Heard> Play::heard() const {
  std::vector<Heard> out;
  std::map<std::string, int> seen;
  for (const Shown& shown : this->shown()) {
    const LoadedThing* thing = find(shown.object);
    if (thing == nullptr || thing->record.sounds.empty() || !shown.apart.empty()) continue;
    const std::string key = shown.object + "#" + std::to_string(seen[shown.object]++) + "#";
    // How fast it goes, of the fastest: engines follow it.
    const float pace =
        shown.steered && fastest_ > 0 ? std::clamp(std::abs(speed_) / fastest_, 0.0F, 1.0F) : 0.0F;
    for (size_t i = 0; i < thing->record.sounds.size(); ++i) {
      const bundle::ObjectSound& sound = thing->record.sounds[i];
      if (sound.sounds.empty()) continue;
      if (const float strength = moment(shown, sound.plays); strength > 0) {
        Heard one = heardOf(*thing, sound, 0, shown.matrix);
        one.key = key + std::to_string(i);
        one.gain *= strength;
        one.pitch = sound.pitch[0] + (sound.pitch[1] - sound.pitch[0]) * pace;
        out.push_back(std::move(one));
      }
      for (const SetOff& off : set_off_) {
        if (off.object != shown.object || off.sound != i || seen[shown.object] > 1) continue;
        Heard one = heardOf(*thing, sound, off.variant, shown.matrix);
        one.key = key + std::to_string(i) + "!" + std::to_string(off.number);
        one.loop = false;
        out.push_back(std::move(one));
      }
    }
  }
  return out;
}

glm::vec3 Play::ear(glm::vec3 otherwise) const {
  const auto at = sight();
  return at ? at->eye : otherwise;
}

void Play::emit(float seconds) {
  std::vector<render::RunningEmitter> running;
  std::map<std::string, int> seen;  // of one object several may stand
  for (const Shown& shown : this->shown()) {
    const LoadedThing* thing = find(shown.object);
    if (thing == nullptr || thing->record.emitters.empty() || !shown.apart.empty()) continue;
    const std::string key = shown.object + "#" + std::to_string(seen[shown.object]++) + "#";
    for (size_t i = 0; i < thing->record.emitters.size(); ++i) {
      const bundle::ObjectEmitter& emitter = thing->record.emitters[i];
      running.push_back(
          {key + std::to_string(i), emitter,
           shown.matrix * movedTo(thing->record, shown.motion_rad, &bundle::ObjectMotion::emitters, i),
           moment(shown, emitter.runs)});
    }
  }
  particles_.pass(running, {0, 0, 1}, seconds);
}

bool Play::moving() const {
  return !act_.empty() ||
         std::any_of(fallen_.begin(), fallen_.end(), [](const Fallen& one) { return !one.told; }) ||
         (doing_ != Doing::looking && (ahead_ != 0 || turn_ != 0 || std::abs(speed_) > 0.05F));
}

void Play::refresh() {
  if (doing_ == Doing::sailing && find(craft_) == nullptr) {
    craft_.clear();
    speed_ = rudder_ = 0;
    doing_ = Doing::walking;
  }
  std::erase_if(fallen_, [&](const Fallen& one) {
    if (find(one.object) != nullptr) return false;
    bodies_->remove(one.body);
    return true;
  });
  for (std::string* held : {&gear_, &belt_, &coat_, &keeper_, &in_arms_})
    if (find(*held) == nullptr) held->clear();
}

void Play::walk(float seconds) {
  figure_heading_ += turn_ * kWalkTurn_radps * seconds;
  const float way = ahead_ * kPace_mps * seconds;
  if (way == 0) return;
  const glm::vec2 to =
      glm::vec2(figure_) + glm::vec2(std::cos(figure_heading_), std::sin(figure_heading_)) * way;
  // Along a wall, whichever half of the step is free.
  for (const glm::vec2 tried : {to, glm::vec2(to.x, figure_.y), glm::vec2(figure_.x, to.y)}) {
    const auto ground = groundAt(tried);
    if (!ground) continue;
    figure_ = glm::vec3(tried, *ground);
    walked_m_ += std::abs(way);
    return;
  }
}

void Play::sail(float seconds) {
  const LoadedThing* craft = find(craft_);
  if (craft == nullptr) return;
  const bundle::ObjectRecord& r = craft->record;
  const double knots =
      r.card.contains("knots") && r.card["knots"].is_number() ? r.card["knots"].get<double>() : 4.0;
  const float fastest = std::clamp(static_cast<float>(knots), 1.0F, 40.0F) * kKnot_mps;
  fastest_ = fastest;
  // A turn for each metre and a half of way: what a screw of middling pitch does.
  screw_rad_ = std::fmod(screw_rad_ + speed_ * seconds / 1.5F * 6.2831853F, 6.2831853F);
  const float wanted = (ahead_ >= 0 ? ahead_ : ahead_ * 0.4F) * fastest;
  speed_ += (wanted - speed_) * std::min(1.0F, 0.7F * seconds);
  rudder_ += (turn_ - rudder_) * std::min(1.0F, 3.0F * seconds);
  const glm::vec2 low(r.bounds_min[0], r.bounds_min[1]), high(r.bounds_max[0], r.bounds_max[1]);
  const glm::vec2 size = glm::max((high - low) * 0.5F, glm::vec2(0.1F)), middle = (low + high) * 0.5F;
  // A rudder works by the water that runs past it.
  const float heading = boat_heading_ + rudder_ * 0.6F * std::clamp(speed_ / fastest, -0.5F, 1.0F) * seconds;
  const glm::vec2 ahead(std::cos(heading), std::sin(heading)), reach = glm::abs(ahead);
  const glm::vec2 half(reach.x * size.x + reach.y * size.y, reach.y * size.x + reach.x * size.y);
  const glm::vec2 off = ahead * middle.x + glm::vec2(-ahead.y, ahead.x) * middle.y;
  // Fended off by a hand's breadth where the stern would swing into the quay.
  constexpr float kFend_m = 0.06F;
  for (const glm::vec2 fend :
       {glm::vec2(0, 0), glm::vec2(1, 0), glm::vec2(0, 1), glm::vec2(0, -1), glm::vec2(-1, 0)}) {
    const glm::vec2 to = glm::vec2(boat_) + ahead * speed_ * seconds + fend * kFend_m;
    if (!afloatAt(to + off, half)) continue;
    boat_ = glm::vec3(to, boat_.z);
    boat_heading_ = heading;
    return;
  }
  if (std::abs(speed_) > 0.4F)
    say("info", "bumped", craft_, "", r.name + " bumps against the shore."), happens(craft_, "touched");
  speed_ *= -0.2F;
}

bool Play::act(const std::string& movement) {
  if (!movement.empty() && Movements::keepers().find(movement) == nullptr) {
    std::string known;
    for (const std::string& name : Movements::keepers().names()) known += (known.empty() ? "" : ", ") + name;
    say("error", "unknown", "", "", "Keepers do not know how to " + movement + "; they know " + known + ".");
    return false;
  }
  act_ = movement;
  act_s_ = 0;
  return true;
}

void Play::setBuild(float build) { build_ = std::clamp(build, 0.0F, 1.0F); }

// What the game finds of the bones it moves.
void Play::judgeBones(const std::string& name, const LoadedThing& thing) const {
  const bundle::ObjectRecord& r = thing.record;
  size_t found = 0;
  std::vector<std::string> missing;
  for (const bundle::ObjectRig& rig : r.rigs) {
    const bundle::SkeletonRecord& skeleton = thing.skeletons.at(rig.skeleton);
    const std::vector<std::string> lacks = Movements::keepers().missingIn(skeleton);
    const size_t has = Movements::keepers().skeleton().bones.size() - lacks.size();
    if (has >= found) found = has, missing = lacks;
  }
  if (found == 0)
    return say("warning", "stiff", name, "",
               r.name + " has none of the bones that the harbour moves; it stands stiff.");
  if (missing.empty()) return;
  std::string list;
  for (size_t i = 0; i < std::min<size_t>(missing.size(), 4); ++i) list += (i > 0 ? ", " : "") + missing[i];
  if (missing.size() > 4) list += " and " + std::to_string(missing.size() - 4) + " more";
  say("warning", "limps", name, "", r.name + " lacks bones that the harbour moves: " + list + ".");
}

std::vector<Moving> Play::figureMoves() const {
  // A cycle of the walk is two strides, however fast one goes; backwards it runs backwards.
  if (doing_ == Doing::walking && ahead_ != 0) {
    const bundle::AnimationPayload* walk = Movements::keepers().find("walk");
    const float cycles = walked_m_ / (2 * kStride_m), length = walk != nullptr ? walk->length_s : 1;
    const float share = cycles - std::floor(cycles);
    std::vector<Moving> out = {{"walk", (ahead_ > 0 ? share : 1 - share) * length, {}}};
    if (!gear_.empty() || !in_arms_.empty())
      out.push_back({"hold", 0, {"arm.starboard", "elbow.starboard", "hand.starboard"}});
    return out;
  }
  if (!act_.empty()) return {{act_, act_s_, {}}};
  return {{gear_.empty() && in_arms_.empty() ? "idle" : "hold", time_s_, {}}};
}

glm::mat4 Play::carried(const Shown& shown, const std::string& bone) const {
  const LoadedThing* thing = find(shown.object);
  if (shown.object.empty()) {
    // The harbour's own keeper.
    const auto& bones = Movements::keepers().skeleton().bones;
    const auto at =
        std::find_if(bones.begin(), bones.end(), [&](const auto& one) { return one.name == bone; });
    return at != bones.end() ? ownBones()[static_cast<size_t>(at - bones.begin())] : glm::mat4(1);
  }
  if (thing == nullptr) return glm::mat4(1);
  for (const bundle::ObjectRig& rig : thing->record.rigs) {
    const bundle::SkeletonRecord& skeleton = thing->skeletons.at(rig.skeleton);
    for (size_t i = 0; i < skeleton.bones.size(); ++i)
      if (skeleton.bones[i].name == bone) {
        const glm::mat4 at = rigPlace(rig);
        return at * bentBy(skeleton, poseOf(*thing, rig, shown))[i] * glm::inverse(at);
      }
  }
  return glm::mat4(1);
}

BonePose poseOf(const LoadedThing& thing, const bundle::ObjectRig& rig, const Shown& shown) {
  const bundle::SkeletonRecord& skeleton = thing.skeletons.at(rig.skeleton);
  BonePose pose = restPose(skeleton);
  // Its own first, the harbour's over it.
  if (!rig.animations.empty()) {
    const bundle::AnimationPayload& own = thing.animations.at(rig.animations.front().second);
    play(own, looped(shown.at_s, own), skeleton, nullptr, pose);
  }
  const Movements& keepers = Movements::keepers();
  for (const Moving& moving : shown.moving)
    if (const bundle::AnimationPayload* movement = keepers.find(moving.movement))
      play(*movement, looped(moving.at_s, *movement), skeleton, &keepers.skeleton(), pose, moving.only);
  return pose;
}

std::vector<float> morphsOf(const LoadedThing& thing, const Shown& shown, int rig, const std::string& piece) {
  if (rig < 0 || thing.record.rigs[static_cast<size_t>(rig)].animations.empty()) return {};
  const bundle::AnimationPayload& own =
      thing.animations.at(thing.record.rigs[static_cast<size_t>(rig)].animations.front().second);
  for (const bundle::Track& track : own.tracks)
    if (track.path == bundle::TrackPath::weights && track.bone == piece)
      return bundle::valueAt(track, looped(shown.at_s, own));
  return {};
}

glm::mat4 rigPlace(const bundle::ObjectRig& rig) {
  return glm::translate(glm::mat4(1), {rig.position[0], rig.position[1], rig.position[2]}) *
         glm::mat4_cast(glm::quat(rig.turn[3], rig.turn[0], rig.turn[1], rig.turn[2])) *
         glm::scale(glm::mat4(1), glm::vec3(rig.scale));
}

glm::mat4 Play::figureMatrix() const {
  // Steps of what has no bones: the body rises twice a stride and leans to the standing leg.
  const LoadedThing* keeper = find(keeper_);
  if (keeper == nullptr || !keeper->record.rigs.empty()) return placed(figure_, figure_heading_);
  const float phase = walked_m_ / kStride_m * 3.14159265F;
  const bool moving = doing_ == Doing::walking && ahead_ != 0;
  const float rise = moving ? 0.022F * std::abs(std::sin(phase)) : 0,
              lean = moving ? 0.03F * std::cos(phase) : 0;
  return glm::rotate(placed(figure_ + glm::vec3(0, 0, rise), figure_heading_), lean, {1, 0, 0});
}

glm::mat4 Play::boatMatrix() const {
  const glm::vec3 at = boat_ + glm::vec3(0, 0, 0.025F * std::sin(1.3F * time_s_));
  const glm::mat4 level = placed(at, boat_heading_);
  const float roll = 0.02F * std::sin(0.9F * time_s_) - 0.05F * rudder_ * std::min(speed_ / 3, 1.0F);
  return glm::rotate(glm::rotate(level, roll, {1, 0, 0}), 0.012F * std::sin(1.1F * time_s_ + 1), {0, 1, 0});
}

bool Play::figureSeen() const { return doing_ != Doing::sailing && !(doing_ == Doing::walking && eyes_); }

std::vector<Shown> Play::shown() const {
  std::vector<Shown> out = seen();
  for (Shown& one : out) one.motion_rad = motionsOf(one);
  return out;
}

std::vector<Shown> Play::seen() const {
  std::vector<Shown> out;
  bool keeper_taken = keeper_.empty(), boat_taken = craft_.empty(), arms_taken = in_arms_.empty();
  for (const Placed& p : game_.placed()) {
    const std::string name = p.mod + "/" + p.object;
    // What the player uses is not seen twice: the first of that name has gone with them.
    if (!keeper_taken && name == keeper_) {
      keeper_taken = true;
    } else if (!arms_taken && name == in_arms_) {
      arms_taken = true;
    } else if (!boat_taken && name == craft_) {
      boat_taken = true;
      out.push_back({name, boatMatrix(), {}, {}, time_s_, 0, screw_rad_, true});
    } else if (name == coat_ || name == gear_ || name == belt_) {
      continue;
    } else {
      Shown standing{name, placed(p.position, p.turn_rad), {}, {}, time_s_, 0, 0};
      // Who stands about does so in their own time.
      const LoadedThing* thing = find(name);
      if (thing != nullptr && (thing->record.kind == "keeper" || thing->record.kind == "coat"))
        standing.moving = {{"idle", time_s_ + 1.3F * static_cast<float>(out.size()), {}}};
      out.push_back(std::move(standing));
    }
  }
  for (const Fallen& one : fallen_)
    out.push_back({one.object, bodies_->place(one.body), {}, {}, time_s_, 0, 0});
  // A hand is seen before one's own eyes, the rest of the figure is not.
  if (doing_ == Doing::sailing) return out;
  std::vector<std::string> covered;
  if (const LoadedThing* coat = find(coat_))
    for (const bundle::ObjectPiece& piece : coat->record.pieces)
      if (!piece.region.empty()) covered.push_back(piece.region);
  const glm::mat4 figure = figureMatrix();
  if (figureSeen()) {
    if (!keeper_.empty()) out.push_back({keeper_, figure, covered, figureMoves(), time_s_, build_, 0});
    if (!coat_.empty()) out.push_back({coat_, figure, {}, figureMoves(), time_s_, build_, 0});
  }
  // What hangs at a bone is where that is, and upright whichever way it is turned.
  const auto hang = [&](const std::string& what, const char* point, const char* bone,
                        const glm::vec3& otherwise) {
    if (what.empty()) return;
    const Shown carrier{keeper_, figure, {}, figureMoves(), time_s_, build_, 0};
    glm::mat4 at = pointOf(keeper_, point, glm::translate(glm::mat4(1), otherwise));
    at[3] = carried(carrier, bone) * at[3];
    const glm::mat4 grip = pointOf(what, "grip", glm::mat4(1));
    glm::mat4 held = at * glm::inverse(grip);
    // What takes two hands lies across both: it is turned about the one towards the other.
    const LoadedThing* thing = find(what);
    const bool two = thing != nullptr && what == gear_ &&
                     std::any_of(thing->record.points.begin(), thing->record.points.end(),
                                 [](const auto& one) { return one.name == kSecondGrip; });
    if (two) {
      const glm::mat4 left = pointOf(keeper_, "grip-left",
                                     glm::translate(glm::mat4(1), {otherwise.x, -otherwise.y, otherwise.z}));
      const glm::vec3 hand(carried(carrier, "hand.port") * left[3]), from(at[3]);
      const glm::vec3 second(held * pointOf(what, kSecondGrip, grip)[3]);
      if (glm::distance(hand, from) > 0.01F && glm::distance(second, from) > 0.01F)
        held = glm::translate(glm::mat4(1), from) * glm::mat4_cast(turnOnto(second - from, hand - from)) *
               glm::translate(glm::mat4(1), -from) * held;
    }
    out.push_back({what, figure * held, {}, {}, time_s_, 0, 0});
  };
  hang(gear_, "grip-right", "hand.starboard", {0.02F, -0.27F, 0.74F});
  if (figureSeen()) hang(belt_, "belt", "waist", {0, -0.24F, 0.95F});
  if (!in_arms_.empty()) {
    // Its foot lies on the forearms.
    Shown carried{in_arms_, figure * glm::translate(glm::mat4(1), {0.38F, 0, 0.86F}), {}, {}, time_s_, 0, 0};
    carried.apart = kCarried;
    out.push_back(std::move(carried));
  }
  return out;
}

std::optional<glm::mat4> Play::ownKeeper() const {
  if (!figureSeen() || !keeper_.empty()) return std::nullopt;
  return figureMatrix();
}

BonePose Play::ownBind() {
  const Movements& keepers = Movements::keepers();
  BonePose out = restPose(keepers.skeleton());
  if (const bundle::AnimationPayload* idle = keepers.find("idle"))
    play(*idle, 0, keepers.skeleton(), nullptr, out);
  return out;
}

std::vector<glm::mat4> Play::ownBones() const {
  const Movements& keepers = Movements::keepers();
  BonePose pose = restPose(keepers.skeleton());
  for (const Moving& moving : figureMoves())
    if (const bundle::AnimationPayload* movement = keepers.find(moving.movement))
      play(*movement, looped(moving.at_s, *movement), keepers.skeleton(), nullptr, pose, moving.only);
  return bentFrom(keepers.skeleton(), ownBind(), pose);
}

std::optional<Sight> Play::sight() const {
  if (doing_ == Doing::looking) return std::nullopt;
  if (doing_ == Doing::sailing) {
    const LoadedThing* craft = find(craft_);
    const float top = craft != nullptr ? craft->record.bounds_max[2] : 1;
    const glm::mat4 helm =
        boatMatrix() * pointOf(craft_, "helm", glm::translate(glm::mat4(1), {0, 0, top + 0.6F}));
    const glm::vec3 ahead(helm[0]);
    return Sight{glm::vec3(helm[3]), std::atan2(ahead.y, ahead.x), true};
  }
  const glm::mat4 figure = figureMatrix();
  if (!eyes_) return Sight{glm::vec3(figure * glm::vec4(0, 0, 1.05F, 1)), figure_heading_, false};
  const glm::mat4 eyes = figure * pointOf(keeper_, "eyes", glm::translate(glm::mat4(1), {0.12F, 0, 1.6F}));
  const glm::vec3 ahead(eyes[0]);
  return Sight{glm::vec3(eyes[3]), std::atan2(ahead.y, ahead.x), true};
}

}  // namespace rakugo::standin
