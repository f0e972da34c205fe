// Demo mods with faults of all sorts, saved, for tests of what is found in them and what steps do to them.
#pragma once

#include <gtest/gtest.h>

#include "base/files.h"
#include "formats/gltf/gltf.h"
#include "prepare/edit_steps.h"
#include "support/examined.h"
#include "support/game_rig.h"
#include "support/made_rig.h"
#include "support/test_folder.h"

namespace rakugo::test {

namespace fs = std::filesystem;
using base::Json;
using scene::NodeIndex;

// A demo mod's copy, to be broken and saved.
struct Broken {
  fs::path folder;
  mod::ModState state;
  std::shared_ptr<rulebook::Rulebook> book;
  std::vector<check::InstalledMod> installed;

  mod::ModelDoc& model() { return state.models.front(); }
  mod::ObjectDoc& object() { return state.objects.front(); }
  rulebook::Kind& kind() {
    return *std::find_if(book->kinds.begin(), book->kinds.end(),
                         [&](const rulebook::Kind& k) { return k.id == object().kind; });
  }
  void step(const char* kind, Json values) {
    prepare::insertByRank(model(), prepare::makeStep(model(), kind, std::move(values)));
  }
  void lastStep(const char* kind, Json values) {
    model().steps.push_back({mod::freshStepId(model()), kind, true, std::move(values)});
  }
  void without(const char* kind) {
    std::erase_if(model().steps, [&](const mod::StepDoc& s) { return s.kind == kind; });
  }
  // The source of the first model, changed and written again.
  void source(const std::function<void(scene::Model&)>& change) {
    const auto& doc = state.sources.at(model().source);
    const fs::path file = folder / "sources" / model().source / doc.file;
    auto read = formats::readModelFile(file);
    ASSERT_TRUE(read) << read.error().text();
    // Pictures beside it stay beside it.
    for (scene::Image& image : read->model.images)
      if (!image.uri.empty()) image.bytes = nullptr;
    change(read->model);
    ASSERT_TRUE(base::writeFileAtomic(file, formats::writeGlb(read->model)));
    forget();
  }
  // Another model in its place, which stands in the game's axes.
  void replaceSource(const scene::Model& other) {
    const auto& doc = state.sources.at(model().source);
    ASSERT_TRUE(
        base::writeFileAtomic(folder / "sources" / model().source / doc.file, formats::writeGlb(other)));
    forget();
    model().steps.clear();
    step("turn", Json{{"forward", "+X"}, {"up", "+Z"}});
  }
  // The digests of its files: that they changed is no news.
  void forget() {
    state.sources.changeEach([](const std::string&, mod::SourceDoc& doc) {
      for (mod::SourceFile& f : doc.files) f.sha256.clear();
    });
  }
  void text(const char* document, const std::string& from, const std::string& to) {
    std::string content(base::asText(*base::readFile(folder / document)));
    const size_t at = content.find(from);
    ASSERT_NE(at, std::string::npos) << content;
    content.replace(at, from.size(), to);
    ASSERT_TRUE(base::writeFileAtomic(folder / document, content));
  }
};

inline scene::Primitive& primitive(scene::Model& m, size_t mesh = 1) {
  return m.editMesh(scene::MeshIndex(mesh)).primitives[0];
}

// Gives bones of the game's names the axes that the game's have; they stay where they stand.
inline void turnAsTheGames(scene::Model& model, const rulebook::Skeleton& skeleton) {
  const auto before = scene::worldMatrices(model);
  std::vector<glm::mat4> wanted = before;
  for (size_t i = 0; i < model.nodes.size(); ++i)
    if (const rulebook::Bone* bone = skeleton.findBone(model.nodes[i].name)) {
      const glm::quat turn(static_cast<float>(bone->turn[3]), static_cast<float>(bone->turn[0]),
                           static_cast<float>(bone->turn[1]), static_cast<float>(bone->turn[2]));
      wanted[i] = glm::mat4_cast(turn);
      wanted[i][3] = before[i][3];
    }
  for (size_t i = 0; i < model.nodes.size(); ++i) {
    const NodeIndex parent = model.nodes[i].parent;
    bool exact = true;
    model.nodes[i].local = scene::placementOf(
        parent.valid() ? glm::inverse(wanted[parent.value()]) * wanted[i] : wanted[i], exact);
  }
}

// A keeper with the game's bones, its skin a strip up the middle that follows one bone after another.
inline scene::Model madeKeeper(float size = 1) {
  scene::Model out = standingModel();
  const auto book = kelpwick();
  addRig(out, gameRig(book->skeletons[0], size));
  turnAsTheGames(out, book->skeletons[0]);
  scene::Primitive skin;
  for (int i = 0; i < 40; ++i)
    for (const float y : {-0.1F, 0.1F}) {
      skin.positions.emplace_back(0, y, 0.04F * static_cast<float>(i) * size);
      skin.joints.push_back(glm::u16vec4(static_cast<uint16_t>(i / 4), 0, 0, 0));
      skin.weights.push_back({1, 0, 0, 0});
    }
  for (uint32_t i = 0; i + 3 < 80; i += 2)
    skin.indices.insert(skin.indices.end(), {i, i + 1, i + 2, i + 1, i + 3, i + 2});
  wearRig(out, "skin", std::move(skin));
  return out;
}

inline NodeIndex boneOf(const scene::Model& model, const std::string& name) {
  for (size_t i = 0; i < model.nodes.size(); ++i)
    if (model.nodes[i].name == name) return NodeIndex(i);
  return {};
}

// A triangle of two corners, one a thousandth as high as it is long, a vertex beside all, and one that is
// another once more; in centimetres.
inline void plantSmallFaults(scene::Model& model) {
  scene::Primitive& p = primitive(model);
  const auto put = [&](glm::vec3 way) {
    p.positions.push_back(p.positions[p.indices[0]] + way);
    p.normals.push_back(p.normals[p.indices[0]]);
    p.uvs[0].push_back(p.uvs[0][p.indices[0]]);
    return static_cast<uint32_t>(p.positions.size() - 1);
  };
  const uint32_t a = p.indices[0];
  p.indices.insert(p.indices.end(), {a, a, p.indices[1]});
  p.indices.insert(p.indices.end(), {put({0, 3, 0}), put({10, 3, 0}), put({5, 3.0005F, 0})});
  put({0, 5, 0});
  p.indices.insert(p.indices.end(), {put({0, 0, 0}), put({0, 0, 4}), put({0, 4, 4})});
}

// Strips of 70,000 vertices beside the first mesh's own: more than 16 bits can number.
inline void addManyVertices(scene::Model& model) {
  scene::Primitive p;
  for (uint32_t v = 0; v < 70'000; ++v)
    p.positions.emplace_back(0.1F + 0.0001F * static_cast<float>(v % 700), 1.2F,
                             0.0001F * static_cast<float>(v / 700));
  p.normals.assign(p.positions.size(), {0, 1, 0});
  p.uvs[0].assign(p.positions.size(), {0.5F, 0.5F});
  for (uint32_t v = 0; v + 701 < p.positions.size(); v += 2)
    p.indices.insert(p.indices.end(), {v, v + 700, v + 1});
  model.editMesh(scene::MeshIndex(0)).primitives.push_back(std::move(p));
}

// A bone of the maker's own above another, turned by so much; everything stands where it stood.
inline void insertAbove(scene::Model& model, const char* name, glm::quat turn) {
  const NodeIndex own = boneOf(model, name), parent = model.node(own).parent;
  const NodeIndex between(model.nodes.size());
  scene::Node node;
  node.name = "twist";
  node.key = "twist";
  node.parent = parent;
  node.children = {own};
  node.local.turn = turn;
  std::replace(model.node(parent).children.begin(), model.node(parent).children.end(), own, between);
  model.nodes.push_back(node);
  model.node(own).parent = between;
  model.node(own).local.position = glm::conjugate(turn) * model.node(own).local.position;
  model.node(own).local.turn = glm::conjugate(turn);
}

inline Json namesOf(const Broken& b) {
  Json names = Json::object();
  const auto x = examined(b.folder);
  for (const check::Finding& f : x->findings)
    if (f.check == "bones.missing") {
      mod::ModState copy = b.state;
      f.mends.front().apply(copy);
      for (const mod::StepDoc& s : copy.models.begin()->second.steps)
        if (s.kind == "name_bones") names = s.values["names"];
    }
  return names;
}

}  // namespace rakugo::test
