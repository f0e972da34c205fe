// Every step of the table at work on a mod that was saved with it and opened again; and a count that no row
// is left out.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/broken_mod.h"
#include "support/made_pictures.h"

namespace rakugo::check {
namespace {

using base::Json;
using scene::NodeIndex;
using test::boneOf;
using test::Broken;
using test::madeKeeper;
using test::namesOf;
using test::primitive;

struct StepCase {
  const char* kind;
  const char* mod;
  const char* model;
  Json values;
  std::function<void(Broken&)> before = nullptr;  // what the mod needs for the step to have work
};

Json whole(const char* part) { return Json{{"part", part}}; }

// Faults that the demo's sources do not have, planted into the lamp's.
void plant(Broken& b) { b.source(test::plantSmallFaults); }
// A corner on the longest side of a triangle, a hundred-thousandth beside it.
void needled(Broken& b) {
  b.source([](scene::Model& m) {
    scene::Primitive& p = primitive(m);
    // An edge that two triangles share, so that there is a neighbour to give the corner to.
    std::map<std::pair<uint32_t, uint32_t>, size_t> sides;
    for (size_t c = 0; c < p.indices.size(); ++c)
      sides[{p.indices[c], p.indices[c / 3 * 3 + (c + 1) % 3]}] = c;
    size_t at = 0;
    while (sides.count({p.indices[at / 3 * 3 + (at + 1) % 3], p.indices[at]}) == 0) ++at;
    const size_t first = at / 3 * 3;
    std::rotate(p.indices.begin() + static_cast<std::ptrdiff_t>(first),
                p.indices.begin() + static_cast<std::ptrdiff_t>(at),
                p.indices.begin() + static_cast<std::ptrdiff_t>(first + 3));
    const uint32_t i = p.indices[first], k = p.indices[first + 1], top = p.indices[first + 2],
                   middle = static_cast<uint32_t>(p.positions.size());
    const glm::vec3 on = (p.positions[i] + p.positions[k]) * 0.5F;
    p.positions.push_back(on + (p.positions[top] - on) * 1e-5F);
    p.normals.push_back(glm::normalize(p.normals[i] + p.normals[k]));
    p.uvs[0].push_back((p.uvs[0][i] + p.uvs[0][k]) * 0.5F);
    p.indices[first + 1] = middle;
    p.indices.insert(p.indices.end(), {middle, k, top, i, k, middle});
  });
}
void posed(Broken& b) {
  scene::Model m = madeKeeper();
  m.node(boneOf(m, "arm.port")).local.turn =
      m.node(boneOf(m, "arm.port")).local.turn * glm::angleAxis(0.7F, glm::vec3(1, 0, 0));
  b.replaceSource(m);
}
void withoutNormals(Broken& b) {
  b.source([](scene::Model& m) { primitive(m).normals.clear(); });
}
void withANormalMap(Broken& b) {
  b.source([](scene::Model& m) {
    scene::Material& worn = m.materials[primitive(m).material.value()];
    worn.normal_texture = worn.base_color_texture;
  });
}
// The first material wears pictures in all slots, and vertices have colours.
void dressed(Broken& b) {
  b.source([](scene::Model& m) {
    const auto image = [&](const formats::Picture& picture) {
      m.images.push_back(
          {"made", "", "image/png", std::make_shared<const base::Bytes>(formats::encodePng(picture))});
      return scene::ImageIndex(m.images.size() - 1);
    };
    scene::Material& first = m.materials.at(0);
    first.base_color_texture.image = first.metallic_roughness_texture.image =
        image(test::plainPicture(48, 200, 90, 30));
    first.normal_texture.image = image(test::dentedNormals(48, false));
    first.metallic = 0.25F;
    for (size_t i = 0; i < m.meshes.size(); ++i)
      for (scene::Primitive& p : m.editMesh(scene::MeshIndex(i)).primitives)
        p.colors.assign(p.positions.size(), glm::vec4(0.2F, 0.2F, 0.2F, 1));
  });
}
// The first material shows a corner of its pictures alone.
void cornered(Broken& b) {
  dressed(b);
  b.source([](scene::Model& m) {
    for (size_t i = 0; i < m.meshes.size(); ++i)
      for (scene::Primitive& p : m.editMesh(scene::MeshIndex(i)).primitives)
        for (glm::vec2& uv : p.uvs[0]) uv = glm::fract(uv) * 0.2F;
  });
}
// Materials without roles and transparency, on UVs that repeat nothing.
void plainlyLaid(Broken& b) {
  b.without("role");
  b.source([](scene::Model& m) {
    for (scene::Material& material : m.materials) {
      material.alpha = scene::AlphaMode::opaque;
      material.double_sided = false;
    }
    for (size_t i = 0; i < m.meshes.size(); ++i)
      for (scene::Primitive& p : m.editMesh(scene::MeshIndex(i)).primitives)
        for (glm::vec2& uv : p.uvs[0]) uv = glm::fract(uv) * 0.9F + glm::vec2(0.05F);
  });
}
void besideThePicture(Broken& b) {
  b.source([](scene::Model& m) {
    for (size_t i = 0; i < m.meshes.size(); ++i)
      for (scene::Primitive& p : m.editMesh(scene::MeshIndex(i)).primitives)
        for (glm::vec2& uv : p.uvs[0]) uv = uv * 0.25F + glm::vec2(2, -3);
  });
}
void named(Broken& b) { b.step("name_bones", Json{{"names", namesOf(b)}}); }
void standing(Broken& b) {
  for (const char* model : {"sea-coat", "tug"})
    prepare::setOrAddStep(b.state.models[model], "turn", Json{{"forward", "+Z"}, {"up", "+Y"}});
}
// A keeper of the game's own bones whose hips follow a hand, in one row.
void loose(Broken& b) {
  scene::Model m = madeKeeper();
  scene::Primitive& p = m.editMesh(scene::MeshIndex(0)).primitives[0];
  const auto& joints = m.skins[0].joints;
  const auto hand =
      static_cast<uint16_t>(std::find(joints.begin(), joints.end(), boneOf(m, "hand.port")) - joints.begin());
  p.joints[40] = p.joints[41] = glm::u16vec4(hand, 0, 0, 0);
  b.replaceSource(m);
}
// The same, its skin without weights.
void bare(Broken& b) {
  scene::Model m = madeKeeper();
  scene::Primitive& p = m.editMesh(scene::MeshIndex(0)).primitives[0];
  p.weights.assign(p.positions.size(), glm::vec4(0));
  b.replaceSource(m);
}
void hungWrong(Broken& b) {
  scene::Model m = madeKeeper();
  const NodeIndex hand = boneOf(m, "hand.port"), hips = boneOf(m, "ballast");
  std::erase(m.node(m.node(hand).parent).children, hand);
  m.node(hand).parent = hips;
  m.node(hips).children.push_back(hand);
  b.replaceSource(m);
}
void twoSizes(Broken& b) { b.state.models["sea-coat"].variants["broad"] = "sea-coat-broad"; }

std::vector<StepCase> steps() {
  const auto nowhere = Json::array({0.0, 0.0, 0.1});
  const Json keeper{{"skeleton", "keeper"}};
  return {
      {"read_lengths", "lamplight", "quay-lamp", {{"unit", "ft"}}},
      {"use_picture",
       "lamplight",
       "quay-lamp",
       {{"picture", "textures/hemp.png"}, {"file", "textures/brass.png"}}},
      {"turn", "first-lamp", "quay-lamp", {{"forward", "-Z"}, {"up", "+Y"}}},
      {"rotate", "lamplight", "quay-lamp", {{"about", "up"}, {"degrees", 15.0}}},
      {"scale", "lamplight", "quay-lamp", {{"factor", 2.0}}},
      {"stretch", "lamplight", "quay-lamp", {{"along", "height"}, {"factor", 1.5}}},
      {"drop", "slipway", "tug", {{"parts", {"tug/funnel"}}}},
      {"keep", "slipway", "tug", {{"parts", {"tug/hull"}}}},
      {"free", "slipway", "tug", {{"parts", {"tug/funnel"}}}},
      {"split", "slipway", "tug", {{"part", "tug/wheelhouse"}, {"by", "piece"}}},
      {"join", "slipway", "tug", {{"parts", {"tug/hull", "tug/wheelhouse"}}}},
      {"rename", "slipway", "tug", {{"part", "tug/hull"}, {"name", "shell"}}},
      {"duplicate", "slipway", "tug", {{"part", "tug/funnel"}, {"by", nowhere}}},
      {"mirror", "slipway", "tug", {{"part", "tug/funnel"}, {"axis", "y"}}},
      {"remove_degenerate", "lamplight", "quay-lamp", Json::object(), plant},
      {"remove_needles", "lamplight", "quay-lamp", Json::object(), needled},
      {"remove_unused", "lamplight", "quay-lamp", Json::object(), plant},
      {"weld", "lamplight", "quay-lamp", {{"distance_mm", 0.01}}, plant},
      {"as_model", "slipway", "tug", {{"model", "quay-block"}}},
      {"bake", "slipway", "tug", Json::object()},
      {"remove_duplicates", "slipway", "tug", Json::object()},
      {"orient", "slipway", "tug", Json::object()},
      {"fill_holes", "slipway", "sea-coat", {{"most_edges", 64.0}}},
      {"remove_hidden", "lamplight", "quay-lamp", Json::object()},
      {"remove_specks", "slipway", "tug", {{"size_mm", 100.0}}},
      {"dissolve", "slipway", "quay-block", {{"where", "same_picture"}}},
      {"simplify", "slipway", "tug", {{"triangles", 2800.0}}},
      {"split_picked",
       "lamplight",
       "quay-lamp",
       {{"pick", {{"part", "quay_lamp/lantern"}, {"piece_at", {0.0, 0.0, 2.0}}}}, {"name", "glass"}}},
      {"move_picked", "slipway", "tug", {{"pick", whole("tug/funnel")}, {"by", nowhere}}},
      {"turn_picked", "slipway", "tug", {{"pick", whole("tug/funnel")}, {"axis", "x"}, {"degrees", 30.0}}},
      {"scale_picked", "slipway", "tug", {{"pick", whole("tug/funnel")}, {"factors", {1.0, 2.0, 1.0}}}},
      {"bend_picked",
       "slipway",
       "tug",
       {{"pick", whole("tug/funnel")}, {"along", "y"}, {"toward", "x"}, {"degrees", 40.0}, {"fixed", "low"}}},
      {"flatten_picked", "slipway", "tug", {{"pick", whole("tug/funnel")}, {"axis", "y"}}},
      {"snap_picked", "slipway", "tug", {{"pick", whole("tug/funnel")}, {"grid_mm", 70.0}}},
      {"make_normals", "lamplight", "quay-lamp", {{"which", "missing"}}, withoutNormals},
      {"make_tangents", "lamplight", "quay-lamp", Json::object(), withANormalMap},
      {"name_bones", "newcomer", "boatswain", {{"names", "found"}}},
      {"add_bones", "newcomer", "boatswain", {{"skeleton", "keeper"}, {"slots", {"neck"}}}, named},
      {"hang_bones", "newcomer", "boatswain", keeper, hungWrong},
      {"drop_bones", "newcomer", "boatswain", {{"bones", "ends"}, {"to", "parent"}}},
      {"game_pose", "newcomer", "boatswain", {{"skeleton", "keeper"}, {"least_deg", 1.0}}, posed},
      {"straighten_bones", "newcomer", "boatswain", keeper, named},
      {"mend_weights", "newcomer", "boatswain", {{"most", 2.0}}},
      {"copy_weights", "newcomer", "boatswain", {{"kind", "keeper"}, {"most_mm", 300.0}}, loose},
      {"first_weights", "newcomer", "boatswain", keeper, bare},
      {"give_to_bone",
       "newcomer",
       "boatswain",
       {{"pick", {{"part", "skin"}}}, {"bone", "head"}, {"percent", 100.0}},
       loose},
      {"drop_loose_weights", "newcomer", "boatswain", keeper, loose},
      {"smooth_weights", "newcomer", "boatswain", {{"rounds", 3.0}, {"percent", 50.0}}, loose},
      {"mirror_weights",
       "newcomer",
       "boatswain",
       {{"skeleton", "keeper"}, {"from", "left"}, {"most_mm", 50.0}},
       loose},
      {"turn_bone", "newcomer", "boatswain", {{"bone", "head"}, {"up_deg", 20.0}}, loose},
      {"origin", "lamplight", "quay-lamp", {{"to", "centre"}}},
      {"pivot", "slipway", "tug", {{"part", "tug/funnel"}, {"to", "centre"}}},
      {"make_uvs", "lamplight", "quay-lamp", {{"which", "all"}, {"side", 512}}},
      {"uvs_home", "lamplight", "quay-lamp", Json::object(), besideThePicture},
      {"flip_uvs", "lamplight", "quay-lamp", {{"material", "first"}, {"way", "sideways"}}},
      {"drop_colors", "lamplight", "quay-lamp", {{"material", "first"}}, dressed},
      {"set_alpha", "lamplight", "quay-lamp", {{"material", "first"}, {"alpha", "blend"}}},
      {"set_color", "lamplight", "quay-lamp", {{"material", "first"}, {"color", {0.5, 0.25, 0.0}}}},
      {"set_glow", "lamplight", "quay-lamp", {{"material", "first"}, {"color", {1.0, 0.5, 0.0}}}},
      {"set_metal", "lamplight", "quay-lamp", {{"material", "first"}, {"metal", 0.7}, {"roughness", 0.2}}},
      {"move_picture",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "base colour"}, {"to", "glow"}},
       dressed},
      {"flip_green", "lamplight", "quay-lamp", {{"material", "first"}}, dressed},
      {"invert_channel",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "metal and roughness"}, {"channel", "g"}},
       dressed},
      {"copy_channel",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "base colour"}, {"channel", "r"}, {"into", "occlusion"}, {"as", "r"}},
       dressed},
      {"tint_picture",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "base colour"}, {"color", {1.0, 0.2, 0.2}}, {"percent", 60.0}},
       dressed},
      {"grade_picture",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "base colour"}, {"hue_deg", 120.0}},
       dressed},
      {"fill_picture",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "normal"}, {"pixels", 0}},
       cornered},
      {"resize_picture",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "normal"}, {"side", 16}, {"sides", "powers"}},
       dressed},
      {"unpack_picture",
       "lamplight",
       "quay-lamp",
       {{"material", "first"}, {"slot", "normal"}, {"r", "metal"}, {"g", "gloss"}, {"a", "glow"}},
       dressed},
      {"plain_material", "lamplight", "quay-lamp", {{"material", "first"}}, dressed},
      {"atlas",
       "lamplight",
       "quay-lamp",
       {{"materials", "all"}, {"name", "sheet"}, {"side", 512}},
       plainlyLaid},
      {"join_materials", "lamplight", "quay-lamp", {{"material", "first"}, {"into", "second"}}},
      {"role", "slipway", "tug", {{"material", "first"}, {"role", "tar"}}},
      {"region_nearest", "slipway", "sea-coat", {{"kind", "coat"}, {"most_mm", 300.0}}, standing},
      {"region_material", "slipway", "sea-coat", {{"material", "first"}, {"region", "trunk"}}},
      {"region", "slipway", "sea-coat", {{"part", "sea_coat/collar"}, {"region", "trunk"}}},
      {"region_picked", "slipway", "sea-coat", {{"pick", whole("sea_coat/collar")}, {"region", "trunk"}}},
      {"hand_over", "slipway", "sea-coat", {{"from", "belly"}, {"to", "trunk"}}},
      {"order_regions", "slipway", "sea-coat", {{"kind", "coat"}}},
      {"like_first", "slipway", "sea-coat", Json::object(), twoSizes},
      {"snap_seam", "slipway", "sea-coat", {{"kind", "coat"}, {"most_mm", 60.0}}, standing},
      {"make_lighter", "slipway", "tug", {{"levels", 2.0}, {"share", 0.4}, {"from_m", 12.0}}},
  };
}

// Everything that a model is, as text and numbers.
std::string printOf(const scene::Model& model) {
  const base::Bytes bytes = formats::writeGlb(model);
  std::string out(base::asText(bytes));
  for (const scene::Material& m : model.materials) out += m.role + "|";
  for (const scene::Node& node : model.nodes) out += node.region + "|" + node.key + "|";
  return out;
}

TEST(EveryStep, DoesItsWorkInASavedMod) {
  std::set<std::string> seen;
  for (const StepCase& one : steps()) {
    SCOPED_TRACE(one.kind);
    test::TestFolder own;
    Broken b;
    b.folder = own.copyOfMod(one.mod, "mod");
    b.state = *mod::loadMod(b.folder);
    b.book = std::make_shared<rulebook::Rulebook>(*test::shippedBook(b.state.card.rulebook));
    if (one.before) one.before(b);
    const auto there = test::examined(b.folder, [&](mod::ModState& s) { s = b.state; });
    const ModelState& before = there->context.models.at(one.model);
    ASSERT_TRUE(before.prepared.model);
    mod::ModelDoc& doc = b.state.models.at(one.model);
    Json values = one.values;
    // What only the model can say.
    if (values.value("names", Json()) == "found") values["names"] = namesOf(b);
    if (values.value("material", Json()) == "first")
      values["material"] = before.prepared.model->materials.at(0).key;
    if (values.value("materials", Json()) == "all") {
      values["materials"] = Json::array();
      for (const scene::Material& m : before.prepared.model->materials) values["materials"].push_back(m.key);
    }
    if (values.value("into", Json()) == "second") values["into"] = before.prepared.model->materials.at(1).key;
    if (values.value("bones", Json()) == "ends") {
      values["bones"] = Json::array();
      for (const NodeIndex i : before.weights->end_bones)
        values["bones"].push_back(before.prepared.model->node(i).key);
    }
    doc.steps.push_back(prepare::makeStep(doc, one.kind, values));
    ASSERT_TRUE(mod::saveMod(b.folder, b.state, *mod::loadMod(b.folder)));
    const auto again = mod::loadMod(b.folder);
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->models.at(one.model).steps, doc.steps);
    const auto x = test::examined(b.folder);
    const prepare::Prepared& after = x->context.models.at(one.model).prepared;
    const prepare::StepOutcome& outcome = after.outcomes.back();
    EXPECT_EQ(outcome.state, prepare::StepState::good)
        << (outcome.misses.empty() ? std::string() : outcome.misses.front());
    EXPECT_FALSE(prepare::sentenceText(doc.steps.back(), before.prepared.model.get(), b.book.get()).empty());
    // The first size is what the others are ordered by: this step changes those alone.
    const auto changed = [&] {
      if (std::string(one.kind) != "like_first")
        return printOf(*after.model) != printOf(*before.prepared.model);
      return printOf(*x->context.models.at(one.model).variants.at("broad").prepared.model) !=
             printOf(*before.variants.at("broad").prepared.model);
    };
    EXPECT_TRUE(changed()) << "it did nothing";
    seen.insert(one.kind);
  }
  std::set<std::string> all;
  for (const prepare::StepKind& kind : prepare::stepKinds()) all.insert(kind.id);
  EXPECT_EQ(seen, all) << "a row of the table that no case here tries, or one that is no row";
}

}  // namespace
}  // namespace rakugo::check
