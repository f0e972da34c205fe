#include "movements.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

#include "bundle/bundle_writer.h"
#include "bundle/manifest.h"
#include "geometry/limb.h"
#include "kit.h"
#include "packing/rig.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

using scene::NodeIndex;

glm::quat about(glm::vec3 axis, float degrees) { return glm::angleAxis(degrees * kPi / 180, axis); }
constexpr glm::vec3 kForward{1, 0, 0}, kLeft{0, 1, 0}, kUp{0, 0, 1};

// A smooth way from 0 to 1 while t goes from a to b.
float eased(float t, float a, float b) {
  const float x = std::clamp((t - a) / (b - a), 0.0F, 1.0F);
  return x * x * (3 - 2 * x);
}

// There and back: 1 in the middle third.
float thereAndBack(float t, float length_s) {
  return eased(t, 0, length_s / 3) * (1 - eased(t, length_s * 2 / 3, length_s));
}

// One moment of the figure: turns in the harbour's axes, parents before children.
class Figure {
 public:
  explicit Figure(const rulebook::Skeleton& skeleton) : skeleton_(skeleton) {
    for (const rulebook::Bone& bone : skeleton.bones)
      at_[bone.id] = {static_cast<float>(bone.at_m[0]), static_cast<float>(bone.at_m[1]),
                      static_cast<float>(bone.at_m[2])};
  }

  glm::vec3 hips{0};  ///< moved from where they are at rest

  void turn(const std::string& bone, glm::quat turn) { own_[bone] = turn * own(bone); }

  // An arm hanging down: `out` degrees away from the body, then swung forward, the elbow bent.
  void arm(bool left, float out, float swing, float bend) {
    const float side = left ? 1.0F : -1.0F;
    const glm::quat whole = about(kLeft, -swing) * about(kForward, side * (out - 90));
    const glm::vec3 rest = kLeft * side, upper = whole * rest, fore = whole * about(kUp, -side * bend) * rest;
    // Where both bones point, reached without turning them about their own length.
    const glm::quat arm = geometry::turnFromTo(rest, upper);
    turn(name("arm", left), arm);
    turn(name("elbow", left), glm::conjugate(arm) * geometry::turnFromTo(upper, fore) * arm);
  }

  // Bends the leg so that the foot stands `moved` from where it is at rest, pitched by so many degrees.
  void stand(bool left, glm::vec3 moved, float pitch = 0) {
    const std::string leg = name("leg", left), knee = name("knee", left), foot = name("foot", left);
    const glm::quat hips_turn = world("ballast");
    const glm::vec3 from = at_.at("ballast") + hips + hips_turn * (at_.at(leg) - at_.at("ballast"));
    const glm::vec3 middle = from + hips_turn * (at_.at(knee) - at_.at(leg));
    const glm::vec3 end = middle + hips_turn * (at_.at(foot) - at_.at(knee));
    const geometry::LimbTurns turns =
        geometry::reachWithLimb(from, middle, end, at_.at(foot) + moved, kForward);
    own_[leg] = glm::conjugate(hips_turn) * turns.first * hips_turn;
    const glm::quat thigh = world(leg);
    own_[knee] = glm::conjugate(thigh) * turns.second * thigh;
    own_[foot] = glm::conjugate(world(knee)) * about(kLeft, pitch);
  }

  [[nodiscard]] glm::quat own(const std::string& bone) const {
    const auto found = own_.find(bone);
    return found != own_.end() ? found->second : glm::quat(1, 0, 0, 0);
  }

 private:
  static std::string name(const char* stem, bool left) {
    return std::string(stem) + (left ? ".port" : ".starboard");
  }
  [[nodiscard]] glm::quat world(const std::string& bone) const {
    const rulebook::Bone* found = skeleton_.findBone(bone);
    return found->parent.empty() ? own(bone) : world(found->parent) * own(bone);
  }
  const rulebook::Skeleton& skeleton_;
  std::map<std::string, glm::vec3> at_;
  std::map<std::string, glm::quat> own_;
};

using Pose = std::function<void(Figure&, float)>;

// Standing, arms down, both feet where they are.
void standing(Figure& figure, float breath) {
  figure.turn("chest", about(kLeft, 1.5F * breath));
  figure.arm(true, 9, 2, 12);
  figure.arm(false, 9, 2, 12);
  figure.hips.z = -0.012F - 0.004F * breath;
  figure.stand(true, {0, 0, 0});
  figure.stand(false, {0, 0, 0});
}

void idle(Figure& figure, float t) {
  const float wave = std::sin(t / 4 * 2 * kPi);
  figure.hips.y = 0.012F * wave;
  figure.turn("head", about(kUp, 5 * wave));
  standing(figure, std::sin(t / 4 * 4 * kPi) * 0.5F + 0.5F);
}

constexpr float kWalk_s = 1, kWalk_mps = 1.4F;

// On the spot: the ground goes by. A foot stands for six tenths of a step and is carried forward in the rest.
void walk(Figure& figure, float t) {
  const float phase = t / kWalk_s;
  const auto foot = [&](bool left) {
    const float own = phase + (left ? 0.0F : 0.5F) - std::floor(phase + (left ? 0.0F : 0.5F));
    constexpr float kStand = 0.6F;
    const float half = kWalk_mps * kWalk_s * kStand / 2;
    if (own < kStand) {
      figure.stand(left, {half - 2 * half * own / kStand, 0, 0}, 0);
      return;
    }
    const float carried = (own - kStand) / (1 - kStand), forward = eased(carried, 0, 1);
    figure.stand(left, {-half + 2 * half * forward, 0, 0.09F * std::sin(kPi * carried)},
                 18 * std::sin(2 * kPi * carried));
  };
  const float swing = std::cos(2 * kPi * phase);
  figure.hips = {0, 0.015F * std::sin(2 * kPi * phase), -0.055F - 0.015F * std::cos(4 * kPi * phase)};
  figure.turn("ballast", about(kUp, -4 * swing));
  figure.turn("waist", about(kLeft, 3));
  figure.turn("chest", about(kUp, 8 * swing));
  figure.turn("head", about(kUp, -4 * swing));
  figure.arm(true, 8, -26 * swing, 18);
  figure.arm(false, 8, 26 * swing, 18);
  foot(true);
  foot(false);
}

void reach(Figure& figure, float t) {
  const float up = thereAndBack(t, 2.4F);
  figure.turn("waist", about(kLeft, 4 * up));
  figure.turn("chest", about(kUp, 10 * up));
  figure.turn("head", about(kLeft, -18 * up));
  figure.arm(true, 9, 2, 12);
  figure.arm(false, 9, 2 + 140 * up, 12 + 20 * (1 - up));
  figure.hips.z = -0.012F;
  figure.stand(true, {0, 0, 0});
  figure.stand(false, {0, 0, 0});
}

void crouch(Figure& figure, float t) {
  const float down = thereAndBack(t, 2.4F);
  figure.hips = {-0.1F * down, 0, -0.012F - 0.36F * down};
  figure.turn("ballast", about(kLeft, 22 * down));
  figure.turn("chest", about(kLeft, 16 * down));
  figure.turn("head", about(kLeft, -26 * down));
  figure.arm(true, 12, 2 + 58 * down, 12 + 30 * down);
  figure.arm(false, 12, 2 + 58 * down, 12 + 30 * down);
  figure.stand(true, {0, 0.02F * down, 0});
  figure.stand(false, {0, -0.02F * down, 0});
}

void sit(Figure& figure, float t) {
  const float down = eased(t, 0, 1.5F);
  figure.hips = {-0.32F * down, 0, -0.012F - 0.42F * down};
  figure.turn("ballast", about(kLeft, 14 * std::sin(kPi * down) - 4 * down));
  figure.turn("head", about(kLeft, 4 * down));
  figure.arm(true, 8, 2 + 34 * down, 12 + 46 * down);
  figure.arm(false, 8, 2 + 34 * down, 12 + 46 * down);
  figure.stand(true, {0, 0, 0});
  figure.stand(false, {0, 0, 0});
}

void look(Figure& figure, float t) {
  const float side = std::sin(t / 4 * 2 * kPi);
  figure.turn("chest", about(kUp, 14 * side));
  figure.turn("neck", about(kUp, 16 * side));
  figure.turn("head", about(kUp, 30 * side) * about(kLeft, 6 * std::cos(t / 4 * 4 * kPi)));
  standing(figure, 0);
}

void hold(Figure& figure, float t) {
  const float wave = std::sin(t / 3 * 2 * kPi);
  figure.turn("head", about(kUp, -6));
  figure.arm(true, 9, 2, 12);
  figure.arm(false, 14, 12 + 2 * wave, 84);
  figure.hips.z = -0.012F - 0.003F * wave;
  figure.stand(true, {0, 0, 0});
  figure.stand(false, {0, 0, 0});
}

void bothHands(Figure& figure, float t) {
  const float wave = std::sin(t / 2 * 2 * kPi);
  figure.turn("waist", about(kLeft, 6));
  figure.turn("head", about(kLeft, 12));
  figure.arm(true, 16, 34 + 6 * wave, 62);
  figure.arm(false, 16, 34 + 6 * wave, 62);
  figure.hips.z = -0.02F;
  figure.stand(true, {0.06F, 0, 0});
  figure.stand(false, {-0.06F, 0, 0});
}

void armsUp(Figure& figure, float) {
  figure.turn("arm.port", about(kForward, 72));
  figure.turn("arm.starboard", about(kForward, -72));
}

void armsForward(Figure& figure, float) {
  figure.turn("arm.port", about(kUp, -84));
  figure.turn("arm.starboard", about(kUp, 84));
}

struct Made {
  const char* id;
  float length_s;
  Pose pose;
};

// Numbers that come out the same whatever library of mathematics made them.
void key(scene::Channel& channel, float at_s, std::initializer_list<float> values) {
  channel.times_s.push_back(at_s);
  for (const float v : values) channel.values.push_back(rounded(v));
}

// One key says all of what does not change.
void thin(scene::Channel& channel) {
  const size_t width = channel.values.size() / channel.times_s.size();
  for (size_t i = width; i < channel.values.size(); ++i)
    if (channel.values[i] != channel.values[i % width]) return;
  channel.times_s.resize(1);
  channel.values.resize(width);
}

}  // namespace

scene::Model keeperMovements(const rulebook::Skeleton& skeleton) {
  scene::Model model;
  std::map<std::string, NodeIndex> nodes;
  for (const rulebook::Bone& bone : skeleton.bones) {
    const rulebook::Bone* parent = bone.parent.empty() ? nullptr : skeleton.findBone(bone.parent);
    nodes[bone.id] = addNode(model, bone.id, parent != nullptr ? nodes.at(parent->id) : NodeIndex());
    for (int c = 0; c < 3; ++c) {
      const auto i = static_cast<size_t>(c);
      model.node(nodes[bone.id]).local.position[c] =
          static_cast<float>(bone.at_m[i] - (parent != nullptr ? parent->at_m[i] : 0));
    }
  }
  const Made kMade[] = {{"idle", 4, idle},         {"walk", kWalk_s, walk},
                        {"reach-up", 2.4F, reach}, {"crouch", 2.4F, crouch},
                        {"sit", 2, sit},           {"look", 4, look},
                        {"hold", 3, hold},         {"both-hands", 2, bothHands},
                        {"arms-up", 0, armsUp},    {"arms-forward", 0, armsForward}};
  for (const Made& made : kMade) {
    scene::Animation animation;
    animation.name = made.id;
    scene::Channel hips{
        nodes.at("ballast"), scene::AnimatedPath::position, scene::Interpolation::linear, {}, {}};
    std::vector<scene::Channel> turns;
    for (const rulebook::Bone& bone : skeleton.bones)
      turns.push_back({nodes.at(bone.id), scene::AnimatedPath::turn, scene::Interpolation::linear, {}, {}});
    const int keys = static_cast<int>(std::lround(made.length_s * 20));
    for (int k = 0; k <= keys; ++k) {
      const float at_s = static_cast<float>(k) / 20;
      Figure figure(skeleton);
      made.pose(figure, at_s);
      const glm::vec3 rest = model.node(nodes.at("ballast")).local.position;
      key(hips, at_s, {rest.x + figure.hips.x, rest.y + figure.hips.y, rest.z + figure.hips.z});
      for (size_t b = 0; b < turns.size(); ++b) {
        glm::quat turn = figure.own(skeleton.bones[b].id);
        if (turn.w < 0) turn = -turn;
        key(turns[b], at_s, {turn.x, turn.y, turn.z, turn.w});
      }
    }
    thin(hips);
    animation.channels.push_back(std::move(hips));
    for (scene::Channel& channel : turns) {
      thin(channel);
      animation.channels.push_back(std::move(channel));
    }
    model.animations.push_back(std::move(animation));
  }
  return model;
}

base::Bytes movementsBundle(const scene::Model& movements) {
  const packing::Rig rig = packing::rigOf(movements);
  const packing::GameSpace space;
  bundle::BundleWriter writer;
  const auto must = [](const base::Status& status) {
    if (!status) base::brokenPromise("the movements do not fit a bundle", status.error().text());
  };
  bundle::Manifest manifest;
  manifest.mod_id = "kelpwick";
  manifest.title = "What keepers do";
  manifest.rulebook_id = "kelpwick";
  must(writer.add(bundle::EntryKind::manifest, bundle::kManifestId, bundle::encodeManifest(manifest), false));
  must(writer.add(bundle::EntryKind::skeleton, "skeleton/keeper",
                  bundle::encodeSkeleton(packing::skeletonRecord(movements, rig, space)), false));
  for (const scene::Animation& animation : movements.animations)
    must(writer.add(bundle::EntryKind::animation, "animation/" + animation.name,
                    bundle::encodeAnimation(packing::runtimeAnimation(movements, animation, rig, space)),
                    false));
  auto out = writer.finish();
  if (!out) must(out.error());
  return std::move(out).value();
}

}  // namespace rakugo::demo
