#include "newcomer.h"

#include <algorithm>
#include <cmath>

#include "demo_mod.h"
#include "figure.h"
#include "formats/gltf/gltf.h"
#include "kit.h"

namespace rakugo::demo {
namespace {

namespace fs = std::filesystem;
using base::Json;
using scene::NodeIndex;

// As a maker from elsewhere calls them; one bone fewer to the head than the game wants.
rulebook::Skeleton withoutNeck(rulebook::Skeleton skeleton) {
  std::erase_if(skeleton.bones, [](const rulebook::Bone& bone) { return bone.id == "neck"; });
  for (rulebook::Bone& bone : skeleton.bones)
    if (bone.parent == "neck") bone.parent = "chest";
  return skeleton;
}

std::string foreignName(const rulebook::Bone& bone) {
  static const std::map<std::string, std::string> kWords = {
      {"stand", "Wurzel"}, {"ballast", "Becken"},   {"waist", "Wirbel1"},      {"chest", "Brustkorb"},
      {"head", "Kopf"},    {"collar", "Schulter"},  {"arm", "Oberarm"},        {"elbow", "Unterarm"},
      {"hand", "Hand"},    {"leg", "Oberschenkel"}, {"knee", "Unterschenkel"}, {"foot", "Fuss"}};
  const size_t dot = bone.id.find('.');
  const std::string own = "Figur_" + kWords.at(bone.id.substr(0, dot));
  return dot == std::string::npos ? own : own + (bone.side == rulebook::Side::left ? "_links" : "_rechts");
}

struct Bones {
  scene::Skin& skin;
  std::vector<glm::vec3> heads;  // by joint, in the model's space
};

Bones bonesOf(scene::Model& model) {
  Bones out{model.skins[0], {}};
  const auto world = scene::worldMatrices(model);
  for (const NodeIndex joint : out.skin.joints) out.heads.emplace_back(world[joint.value()][3]);
  return out;
}

// A bone at the end of each chain, as exporters add them; nothing follows it.
void addEnds(scene::Model& model) {
  Bones bones = bonesOf(model);
  const size_t count = bones.skin.joints.size();
  for (size_t j = 0; j < count; ++j) {
    const NodeIndex joint = bones.skin.joints[j];
    if (!model.node(joint).children.empty()) continue;
    const NodeIndex end = addNode(model, model.node(joint).name + "_Ende", joint);
    const glm::vec3 way = bones.heads[j];
    model.node(end).local.position = way.y > 1.5F   ? glm::vec3(0, 0.125F, 0)
                                     : way.y < 0.2F ? glm::vec3(0, -0.03125F, 0.125F)
                                                    : glm::vec3(way.x > 0 ? 0.09375F : -0.09375F, 0, 0);
    bones.skin.joints.push_back(end);
    bones.skin.inverse_bind.emplace_back(1);
  }
}

// All bones a quarter turn off, as where the first one was exported with another axis up. The mesh stays.
void quarterTurn(scene::Model& model) {
  const Bones bones = bonesOf(model);
  const auto back = [](glm::vec3 v) { return glm::vec3(v.x, -v.z, v.y); };
  for (size_t j = 0; j < bones.skin.joints.size(); ++j) {
    scene::Node& node = model.node(bones.skin.joints[j]);
    const auto parent = std::find(bones.skin.joints.begin(), bones.skin.joints.end(), node.parent);
    if (parent == bones.skin.joints.end())
      node.local.turn = glm::quat(0.70710678F, -0.70710678F, 0, 0);
    else
      node.local.position =
          back(bones.heads[j] - bones.heads[static_cast<size_t>(parent - bones.skin.joints.begin())]);
    glm::mat4 inverse(0);
    inverse[0] = {1, 0, 0, 0};
    inverse[1] = {0, 0, 1, 0};
    inverse[2] = {0, -1, 0, 0};
    inverse[3] = glm::vec4(back(-bones.heads[j]), 1);
    bones.skin.inverse_bind[j] = inverse;
  }
}

// Every vertex follows the six nearest bones, two more than the game reads.
void crowdWeights(scene::Model& model) {
  const Bones bones = bonesOf(model);
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(m)).primitives) {
      p.more_joints.clear();
      p.more_weights.clear();
      for (size_t v = 0; v < p.positions.size(); ++v) {
        std::vector<std::pair<float, uint16_t>> near;
        for (size_t b = 1; b < bones.heads.size(); ++b)
          if (!model.node(bones.skin.joints[b]).children.empty())
            near.emplace_back(glm::distance(p.positions[v], bones.heads[b]), static_cast<uint16_t>(b));
        std::sort(near.begin(), near.end());
        // What the two nearest by the line along the bone had stays the most of it.
        glm::u16vec4 joints = p.joints[v], more(0);
        glm::vec4 weights = p.weights[v] * 0.875F, more_weights(0);
        int at = 2;
        for (const auto& [away, joint] : near) {
          if (joint == joints[0] || joint == joints[1]) continue;
          (at < 4 ? joints : more)[at % 4] = joint;
          (at < 4 ? weights : more_weights)[at % 4] = 0.03125F;
          if (++at == 6) break;
        }
        p.joints[v] = joints;
        p.weights[v] = weights;
        p.more_joints.push_back(more);
        p.more_weights.push_back(more_weights);
      }
    }
}

}  // namespace

void writeNewcomer(const fs::path& mods, const rulebook::Rulebook& book) {
  DemoMod mod(mods / "newcomer", "newcomer-7p3dzk", "Newcomer",
              "A boatswain from elsewhere, as he stepped ashore.", "2026-11-29");
  scene::Model boatswain = inGltfAxes(keeper(withoutNeck(book.skeletons[0]), foreignName));
  addEnds(boatswain);
  crowdWeights(boatswain);
  quarterTurn(boatswain);
  mod.take("boatswain", {{"boatswain.glb", formats::writeGlb(boatswain)}}, "boatswain.glb", "Imke Harsveldt",
           "CC-BY-4.0");
  mod::ModelDoc& model = mod.make("boatswain", "keeper", "Boatswain",
                                  Json{{"nickname", "Knots"}, {"temper", "sunny"}, {"wage", 16}});
  DemoMod::step(model, "turn", Json{{"forward", "+Z"}, {"up", "+Y"}});
  mod.save();
}

}  // namespace rakugo::demo
