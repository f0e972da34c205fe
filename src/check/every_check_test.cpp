// Every check of the table, triggered by a mod that was saved with the fault and opened again; and a count
// that no row is left out.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "check/structure_faults.h"
#include "prepare/objects/piece_edits.h"
#include "support/broken_mod.h"
#include "support/made_pictures.h"
#include "support/made_sounds.h"

namespace rakugo::check {
namespace {

namespace fs = std::filesystem;
using base::Json;
using scene::NodeIndex;
using test::boneOf;
using test::Broken;
using test::insertAbove;
using test::madeKeeper;
using test::namesOf;
using test::primitive;

struct Case {
  std::vector<const char*> checks;
  const char* mod;
  std::function<void(Broken&)> spoil;
};

// The material of the lamp's largest part, changed in the source.
void lampMaterial(Broken& b, const std::function<void(scene::Model&, scene::Material&)>& change) {
  b.source([&](scene::Model& m) { change(m, m.materials[primitive(m).material.value()]); });
}
scene::ImageIndex madeImage(scene::Model& m, const formats::Picture& picture, const char* name = "made") {
  m.images.push_back(
      {name, "", "image/png", std::make_shared<const base::Bytes>(formats::encodePng(picture))});
  return scene::ImageIndex(m.images.size() - 1);
}

// A lamp or emitter of the tug, as it begins.
mod::PieceDoc& addLamp(Broken& b, const std::string& as) {
  mod::ObjectDoc& tug = b.state.objects.at("tug");
  EXPECT_TRUE(prepare::addRuledPiece(tug, *b.book->findKind("craft"), as));
  return tug.pieces.back();
}

// A sound of the tug, made of a recording that is taken in.
mod::PieceDoc& addSound(Broken& b, const formats::Sound& recording, const char* as = "engine-sound") {
  const base::Bytes wav = test::wavOf(recording);
  fs::create_directories(b.folder / "sources/made-sound");
  EXPECT_TRUE(base::writeFileAtomic(b.folder / "sources/made-sound/made.wav", wav));
  mod::SourceDoc& source = b.state.sources["made-sound"];
  source.file = "made.wav";
  source.files = {{"made.wav", base::hex(base::sha256(wav))}};
  source.author = source.licence = "made here";
  mod::PieceDoc& piece = addLamp(b, as);
  piece.values["sounds"] = Json::array({"sources/made-sound"});
  return piece;
}
mod::ListEntry& enterList(Broken& b, const char* list, Json values) {
  return b.object().lists.emplace_back(mod::ListEntry{list, std::move(values)});
}

std::vector<Case> cases() {
  std::vector<Case> out = {
      // As they are shipped, unfinished.
      {{"size.unit", "axes.differ", "origin.place", "placement.not_baked", "picture.missing", "role.missing",
        "field.empty", "icon.missing", "part.stray"},
       "first-lamp",
       [](Broken&) {}},
      {{"bones.missing", "bones.ends", "bones.weights"}, "newcomer", [](Broken&) {}},
      {{"region.surplus", "region.order", "variant.missing", "mesh.duplicates", "mesh.flipped",
        "mesh.normals_wrong", "mesh.shapeless", "mesh.specks", "lighter.missing", "file.unused",
        "point.missing", "size.range"},
       "slipway",
       [](Broken&) {}},
      // Sources, steps and documents.
      {{"source.unreadable"},
       "lamplight",
       [](Broken& b) {
         ASSERT_TRUE(base::writeFileAtomic(b.folder / "sources/quay-lamp/quay_lamp.glb",
                                           std::string_view("glTF nonsense")));
       }},
      {{"source.changed"},
       "lamplight",
       [](Broken& b) {
         ASSERT_TRUE(
             base::writeFileAtomic(b.folder / "sources/quay-lamp/textures/hemp.png",
                                   *base::readFile(b.folder / "sources/quay-lamp/textures/brass.png")));
       }},
      {{"step.misses"},
       "lamplight",
       [](Broken& b) {
         for (mod::StepDoc& s : b.model().steps)
           if (s.kind == "drop") s.values["parts"].push_back("old part");
       }},
      {{"step.recovered"},
       "lamplight",
       [](Broken& b) {
         Json old = mod::toJson(b.model());
         old["format"] = 1;
         old["steps"] = Json::array({Json{{"id", "s"}, {"kind", "coat"}, {"most_mm", 60.0}}});
         ASSERT_TRUE(base::writeFileAtomic(b.folder / "models/quay-lamp.model.json", base::jsonText(old)));
         b.state = *mod::loadMod(b.folder);
       }},
      {{"document.unknown_key"},
       "lamplight",
       [](Broken& b) {
         b.text("mod.json", "\"author\"", "\"auhtor\": \"x\", \"author\"");
         b.state = *mod::loadMod(b.folder);
       }},
      {{"object.none"}, "lamplight", [](Broken& b) { b.state.objects.clear(); }},
      {{"object.kind"}, "lamplight", [](Broken& b) { b.object().kind = "zeppelin"; }},
      {{"object.pieces"}, "lamplight", [](Broken& b) { b.object().pieces.clear(); }},
      {{"object.models"}, "slipway", [](Broken& b) { b.state.objects.at("tug").pieces[0].as = "scew"; }},
      {{"object.made_from"},
       "lamplight",
       [](Broken& b) {
         b.state.models["small"] = b.state.models.at("quay-lamp");
         b.object().pieces.push_back({"small", "small", {0, 0, 0}, {0, 0, 0, 1}, "carried"});
       }},
      {{"object.replaces"}, "lamplight", [](Broken& b) { b.object().replaces = "harbour/lighthouse"; }},
      {{"object.behind"},
       "lamplight",
       [](Broken& b) {
         b.state.objects["lamp-two"] = b.object();
         b.state.objects["lamp-two"].title = "Two";
         b.state.objects["lamp-two"].follows.name = "quay-lamp";
       }},
      {{"piece.apart"},
       "lamplight",
       [](Broken& b) {
         b.state.models["small"] = b.state.models.at("quay-lamp");
         b.object().pieces.push_back({"small", "small", {0, 0, 0}, {0, 0, 0, 1}, "carried"});
         mod::PieceDoc lamp{"light", "", {0, 0, 2}, {0, 0, 0, 1}, "lamp"};
         lamp.sort = "lamp";
         lamp.parent = "small";
         b.object().pieces.push_back(lamp);
       }},
      {{"piece.pair"},
       "slipway",
       [](Broken& b) {
         mod::ObjectDoc& tug = b.state.objects.at("tug");
         tug.pieces.push_back({"oar", "oar", {0, 1, 0}, {0, 0, 0, 1}, "oar", "oar-2"});
         tug.pieces.push_back({"oar-2", "oar", {0, -0.8, 0}, {0, 0, 0, 1}, "oar", "oar"});
       }},
      {{"piece.name"},
       "slipway",
       [](Broken& b) {
         mod::ObjectDoc& tug = b.state.objects.at("tug");
         tug.pieces.push_back(tug.pieces[0]);
       }},
      {{"piece.parent"},
       "slipway",
       [](Broken& b) { b.state.objects.at("tug").pieces[0].parent = "slipway crane"; }},
      {{"piece.sort"},
       "slipway",
       [](Broken& b) {
         mod::PieceDoc lamp;
         lamp.name = "lamp";
         lamp.sort = "lamp";
         lamp.as = "disco-ball";
         b.state.objects.at("tug").pieces.push_back(lamp);
       }},
      {{"piece.values"}, "slipway", [](Broken& b) { addLamp(b, "mast-light").values["strength"] = -3; }},
      {{"field.reference"},
       "lamplight",
       [](Broken& b) {
         enterList(b, "workbench",
                   Json{{"makes", 1},
                        {"hours", 1},
                        {"needs", Json::array({Json{{"good", "good/brasse"}, {"amount", 1}}})}});
       }},
      {{"icon.old"}, "lamplight", [](Broken& b) { b.object().icon_of = "0123456789abcdef"; }},
      {{"list.unknown"},
       "lamplight",
       [](Broken& b) {
         enterList(b, "broker", Json{{"berth", "slipway"}});
       }},
      {{"list.count"},
       "lamplight",
       [](Broken& b) {
         for (int i = 0; i < 2; ++i) enterList(b, "chandlery", Json{{"stock", 2}});
       }},
      {{"list.values"},
       "lamplight",
       [](Broken& b) {
         enterList(b, "chandlery", Json{{"stock", 0}});
       }},
      {{"sound.clicks"},
       "slipway",
       [](Broken& b) { addSound(b, test::madeTone(101.3, 0.4, 1.2365)).values["blend_s"] = 0; }},
      {{"sound.silent"}, "slipway", [](Broken& b) { addSound(b, test::madeTone(100, 0, 1)); }},
      {{"sound.clips"}, "slipway", [](Broken& b) { addSound(b, test::madeTone(100, 3, 1)); }},
      {{"sound.loudness"},
       "slipway",
       [](Broken& b) {
         formats::Sound drum = test::madeTone(100, 0.002, 2);
         for (size_t i = 1000; i < 1020; ++i) drum.samples[i] = 0.8F;
         addSound(b, drum);
       }},
      {{"sound.length"}, "slipway", [](Broken& b) { addSound(b, test::madeTone(220, 0.3, 31), "horn"); }},
      {{"sound.range"},
       "slipway",
       [](Broken& b) {
         mod::PieceDoc& piece = addSound(b, test::madeTone(220, 0.3, 2));
         piece.values["from_s"] = 1.5;
         piece.values["to_s"] = 0.5;
       }},
      {{"piece.idle"}, "slipway", [](Broken& b) { addLamp(b, "stern-wash").values["opacity"] = 0; }},
      {{"piece.moves_nothing"},
       "slipway",
       [](Broken& b) { addLamp(b, "rudder").values["part"] = "no such part"; }},
      {{"piece.moves_far"},
       "slipway",
       [](Broken& b) {
         mod::PieceDoc& rudder = addLamp(b, "rudder");
         rudder.position_m = {0, 30, 0};
         mod::PieceDoc& hull = b.state.objects.at("tug").pieces.front();
         hull.parent = rudder.name;
         hull.position_m = {0, -30, 0};
       }},
      {{"text.missing"},
       "slipway",
       [](Broken& b) { b.state.objects.at("tug").card["engine_text"] = "text/tug/engine"; }},
      {{"text.untranslated"},
       "slipway",
       [](Broken& b) {
         mod::ObjectDoc& tug = b.state.objects.at("tug");
         tug.card["engine_text"] = "text/tug/engine";
         b.state.texts["en"].texts["text/tug/engine"] = "No steam yet.";
         b.state.texts["de"].seen = base::Json::object();
       }},
      {{"text.language"}, "slipway", [](Broken& b) { b.state.texts["xx"].texts["text/tug/engine"] = "?"; }},
      {{"text.unused"},
       "slipway",
       [](Broken& b) { b.state.texts["en"].texts["text/tug/engine"] = "No steam yet."; }},
      {{"piece.far"},
       "slipway",
       [](Broken& b) {
         mod::ModelDoc& block = b.state.models["little-block"];
         block = std::as_const(b.state.models).at("quay-block");
         b.state.objects.at("tug").pieces.push_back(
             {"little-block", "little-block", {0, 300, 0}, {0, 0, 0, 1}});
       }},
      {{"piece.place"},
       "slipway",
       [](Broken& b) {
         addLamp(b, "mast-light").position_m = {400, 0, 0};
       }},
      {{"piece.shape"},
       "slipway",
       [](Broken& b) {
         mod::PieceDoc& shape = addLamp(b, "hull-body");
         shape.values["form"] = "box";
         shape.position_m = {0, 0, 40};
       }},
      {{"point.count"},
       "lamplight",
       [](Broken& b) {
         auto& points = b.state.models.front().points;
         ASSERT_FALSE(points.empty());
         rulebook::Point& sort = b.kind().points.front();
         sort.most = 2;
         for (const char* number : {"-1", "-2", "-3"}) points.push_back({sort.id + number, {0, 0, 1}});
       }},
      {{"point.pair"},
       "lamplight",
       [](Broken& b) {
         auto& points = b.state.models.front().points;
         ASSERT_FALSE(points.empty());
         points.front().pair = "none";
       }},
      {{"object.same_id"}, "lamplight", [](Broken& b) { b.state.objects["Quay Lamp"] = b.object(); }},
      {{"file.missing"}, "lamplight", [](Broken& b) { b.object().icon = "icons/none.png"; }},
      {{"credit.missing"}, "lamplight", [](Broken& b) { b.state.sources.front().author.clear(); }},
      {{"mod.card"}, "lamplight", [](Broken& b) { b.state.card.author.clear(); }},
      {{"rulebook.version"}, "lamplight", [](Broken& b) { b.state.card.rulebook_version = "0.9"; }},
      {{"rulebook.unreadable"},
       "lamplight",
       [](Broken& b) {
         const fs::path copy = b.folder.parent_path() / "book" / b.book->id;
         fs::create_directories(copy.parent_path());
         fs::copy(b.book->folder, copy, fs::copy_options::recursive);
         ASSERT_TRUE(base::writeFileAtomic(copy / b.kind().ghost, std::string_view("glTF nonsense")));
         b.book = std::make_shared<rulebook::Rulebook>(*rulebook::loadRulebook(copy));
       }},
      {{"mod.id_taken", "mod.defined_twice"},
       "lamplight",
       [](Broken& b) {
         b.installed = {{"x.rkb", b.state.card.id, "X", "Somebody else", {"quay-lamp"}},
                        {"y.rkb", "another", "Y", "Somebody else", {"quay-lamp"}}};
       }},
      // Cards, points, roles, icons.
      {{"field.limits"}, "lamplight", [](Broken& b) { b.object().card["price"] = 20'000; }},
      {{"icon.size"},
       "lamplight",
       [](Broken& b) {
         b.state.icons[b.object().icon] =
             std::make_shared<const base::Bytes>(formats::encodePng({64, 64, base::Bytes(64 * 64 * 4)}));
       }},
      {{"role.unknown"},
       "lamplight",
       [](Broken& b) {
         std::erase_if(b.kind().roles, [](const rulebook::Role& r) { return r.id == "glass"; });
       }},
      // What exporters write wrong.
      {{"materials.transparent"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model&, scene::Material& m) { m.alpha = scene::AlphaMode::blend; });
       }},
      {{"materials.black"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model&, scene::Material& m) { m.base_color = {0, 0, 0, 1}; });
       }},
      {{"materials.metal"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model&, scene::Material& m) { m.metallic = m.roughness = 1; });
       }},
      {{"picture.normal_as_color"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model& model, scene::Material& m) {
           m.base_color_texture.image = madeImage(model, test::dentedNormals(64, true));
         });
       }},
      {{"picture.not_normal"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model&, scene::Material& m) { m.normal_texture = m.base_color_texture; });
       }},
      {{"picture.green"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model& model, scene::Material& m) {
           m.normal_texture.image = madeImage(model, test::dentedNormals(64, false));
         });
       }},
      {{"picture.color_and_data"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model&, scene::Material& m) {
           m.metallic_roughness_texture = m.base_color_texture;
         });
       }},
      {{"picture.gloss"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model& model, scene::Material& m) {
           m.metallic_roughness_texture.image =
               madeImage(model, test::plainPicture(8, 0, 80, 0), "post_Gloss");
         });
       }},
      {{"materials.packing"},
       "footstool",
       [](Broken& b) {
         b.source([](scene::Model& model) {
           scene::Material& m = model.materials[primitive(model).material.value()];
           m.occlusion_texture = m.base_color_texture;
           if (!m.occlusion_texture.image.valid())
             m.occlusion_texture.image = madeImage(model, test::plainPicture(8, 0, 80, 0));
           m.metallic_roughness_texture = m.occlusion_texture;
           m.metallic_roughness_texture.scale = glm::vec2(2);
         });
       }},
      {{"materials.vertex_colors"},
       "lamplight",
       [](Broken& b) {
         b.source([](scene::Model& m) {
           scene::Primitive& p = primitive(m);
           p.colors.assign(p.positions.size(), glm::vec4(0.2F, 0.2F, 0.2F, 1));
         });
       }},
      {{"materials.alike"},
       "lamplight",
       [](Broken& b) {
         b.without("role");
         b.source([](scene::Model& m) {
           scene::Material copy = m.materials[primitive(m).material.value()];
           copy.name = "another name";
           m.materials.push_back(copy);
           primitive(m, 0).material = scene::MaterialIndex(m.materials.size() - 1);
         });
       }},
      {{"picture.unseen"},
       "lamplight",
       [](Broken& b) {
         lampMaterial(b, [](scene::Model&, scene::Material& m) {
           m.emissive_texture = m.base_color_texture;
           m.emissive = glm::vec3(0);
         });
       }},
      // Limits.
      {{"mesh.triangles", "mesh.vertices", "mesh.part_triangles", "parts.limit", "materials.limit"},
       "lamplight",
       [](Broken& b) {
         rulebook::Kind& k = b.kind();
         k.max_triangles = k.max_vertices = k.max_part_triangles = 100;
         k.max_parts = k.max_materials = 1;
       }},
      {{"mesh.indices"},
       "lamplight",
       [](Broken& b) {
         b.book->index_bits = 16;
         b.source(test::addManyVertices);
       }},
      {{"size.reach", "picture.size", "picture.density"},
       "lamplight",
       [](Broken& b) {
         b.kind().reach_m = rulebook::Band{0.01, 0.02};
         b.kind().texels_per_m = rulebook::Band{1e6, 2e6};
         b.book->picture_max_side = 16;
       }},
      {{"axes.facing"},
       "lamplight",
       [](Broken& b) {
         for (mod::StepDoc& s : b.model().steps)
           if (s.kind == "turn") s.values["forward"] = "+Z";
       }},
      // Meshes.
      {{"mesh.no_triangles"},
       "lamplight",
       [](Broken& b) {
         for (mod::StepDoc& s : b.model().steps)
           if (s.kind == "drop") s.values["parts"] = Json::array({"quay_lamp", "view", "sun"});
       }},
      {{"mesh.no_surface"},
       "lamplight",
       [](Broken& b) {
         b.source([](scene::Model& m) {
           for (const scene::NodeIndex root : m.roots) m.node(root).local.scale = glm::vec3(0);
         });
       }},
      {{"mesh.not_finite"},
       "lamplight",
       [](Broken& b) { b.source([](scene::Model& m) { primitive(m).positions[3].y = std::nanf(""); }); }},
      {{"mesh.normals"},
       "lamplight",
       [](Broken& b) { b.source([](scene::Model& m) { primitive(m).normals.clear(); }); }},
      {{"mesh.uvs"},
       "lamplight",
       [](Broken& b) { b.source([](scene::Model& m) { primitive(m).uvs[0].clear(); }); }},
      {{"mesh.degenerate", "mesh.needles", "mesh.unused", "mesh.coincident"},
       "lamplight",
       [](Broken& b) { b.source(test::plantSmallFaults); }},
      {{"model.not_carried"},
       "lamplight",
       [](Broken& b) {
         b.source([](scene::Model& m) {
           m.materials[primitive(m).material.value()].kept = R"({"extensions":{"EX_varnish":{"coats":2}}})";
         });
       }},
      {{"source.left_out"},
       "lamplight",
       [](Broken& b) {
         // One triangle, on a node whose matrix shears.
         ASSERT_TRUE(base::writeFileAtomic(
             b.folder / "sources/quay-lamp/quay_lamp.glb",
             std::string_view(R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],
             "nodes":[{"mesh":0,"matrix":[1,0,0,0,0.5,1,0,0,0,0,1,0,0,0,0,1]}],
             "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],
             "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3"}],
             "bufferViews":[{"buffer":0,"byteLength":36}],"buffers":[{"byteLength":36,
             "uri":"data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}]})")));
         b.forget();
       }},
      {{"mesh.inside_out"},
       "lamplight",
       [](Broken& b) {
         b.source([](scene::Model& m) {
           scene::Primitive& p = primitive(m);
           const auto first = static_cast<uint32_t>(p.positions.size());
           const glm::vec3 at = p.positions[0];
           for (const glm::vec3& d :
                {glm::vec3(0, 0, 0), glm::vec3(2, 0, 0), glm::vec3(0, 2, 0), glm::vec3(0, 0, 2)}) {
             p.positions.push_back(at + d);
             p.normals.push_back(glm::normalize(glm::vec3(0.5F) - d));
             p.uvs[0].emplace_back(0.5F + d.x / 10, 0.5F + d.y / 10);
           }
           p.indices.insert(p.indices.end(), {first, first + 1, first + 2, first, first + 3, first + 1,
                                              first + 1, first + 3, first + 2, first, first + 2, first + 3});
         });
       }},
      {{"mesh.tangents"},
       "lamplight",
       [](Broken& b) {
         b.source([](scene::Model& m) {
           scene::Material& worn = m.materials[primitive(m).material.value()];
           worn.normal_texture = worn.base_color_texture;
           primitive(m).tangents.clear();
         });
       }},
      {{"picture.damaged"},
       "lamplight",
       [](Broken& b) {
         // Its head is whole; its pixels end in the middle.
         const fs::path file = b.folder / "sources/quay-lamp/textures/hemp.png";
         base::Bytes bytes = *base::readFile(file);
         bytes.resize(bytes.size() / 2);
         ASSERT_TRUE(base::writeFileAtomic(file, bytes));
         b.forget();
       }},
      // Blocks.
      {{"grid.size"},
       "slipway",
       [](Broken& b) {
         b.step("stretch", Json{{"along", "height"}, {"factor", 1.3}});
       }},
      // Bones.
      {{"bones.none"}, "lamplight", [](Broken& b) { b.object().kind = "keeper"; }},
      {{"bones.turned"},
       "newcomer",
       [](Broken& b) {
         b.step("name_bones", Json{{"names", namesOf(b)}});
       }},
      {{"bones.parent"},
       "newcomer",
       [](Broken& b) {
         Json names = namesOf(b);
         std::swap(names["leg.port"], names["knee.port"]);
         b.step("name_bones", Json{{"names", names}});
       }},
      {{"bones.sides"},
       "newcomer",
       [](Broken& b) {
         b.step("rotate", Json{{"about", "up"}, {"degrees", 180.0}});
       }},
      {{"bones.limit"}, "newcomer", [](Broken& b) { b.kind().max_bones = 12; }},
      {{"bones.sums"},
       "newcomer",
       [](Broken& b) {
         b.source([](scene::Model& m) {
           for (glm::vec4& w : primitive(m, 0).weights) w *= 0.5F;
           for (glm::vec4& w : primitive(m, 0).more_weights) w *= 0.5F;
         });
       }},
      {{"bones.pose"},
       "newcomer",
       [](Broken& b) {
         b.step("name_bones", Json{{"names", namesOf(b)}});
         for (rulebook::Skeleton& skeleton : b.book->skeletons)
           for (rulebook::Bone& one : skeleton.bones)
             if (one.id.starts_with("elbow") || one.id.starts_with("hand"))
               for (const rulebook::Bone& arm : skeleton.bones)
                 if (arm.id == "arm" + one.id.substr(one.id.find('.')))
                   one.at_m = {arm.at_m[0], arm.at_m[1], arm.at_m[2] - (one.id[0] == 'e' ? 0.27 : 0.52)};
       }},
      {{"bones.needless"},
       "newcomer",
       [](Broken& b) {
         scene::Model m = madeKeeper();
         NodeIndex on = boneOf(m, "head");
         for (const char* name : {"feeler", "feeler middle"}) {
           scene::Node one;
           one.name = name;
           one.parent = on;
           one.local.position = {0, 0, 0.1F};
           const NodeIndex number(m.nodes.size());
           m.node(on).children.push_back(number);
           m.nodes.push_back(one);
           m.skins[0].joints.push_back(number);
           m.skins[0].inverse_bind.push_back(glm::inverse(scene::worldMatrices(m)[number.value()]));
           on = number;
         }
         b.replaceSource(m);
       }},
      {{"bones.aims"},
       "newcomer",
       [](Broken& b) {
         scene::Model m = madeKeeper();
         insertAbove(m, "hand.port", glm::angleAxis(1.0F, glm::vec3(0, 1, 0)));
         b.replaceSource(m);
       }},
      {{"bones.bends"},
       "newcomer",
       [](Broken& b) {
         scene::Model m = madeKeeper();
         insertAbove(m, "knee.port", glm::angleAxis(3.14159265F, glm::vec3(0, 0, 1)));
         b.replaceSource(m);
       }},
      {{"bones.floor"}, "newcomer", [](Broken& b) { b.replaceSource(madeKeeper(1.3F)); }},
      {{"bones.unequal"},
       "newcomer",
       [](Broken& b) {
         scene::Model m = madeKeeper();
         m.node(boneOf(m, "foot.starboard")).local.position *= 1.2F;
         b.replaceSource(m);
       }},
      {{"bones.gone"},
       "newcomer",
       [](Broken& b) {
         scene::Model m = madeKeeper();
         const NodeIndex neck = boneOf(m, "neck");
         std::erase(m.node(m.node(neck).parent).children, neck);
         m.node(neck).parent = {};
         b.replaceSource(m);
       }},
      {{"animation.tracks"},
       "newcomer",
       [](Broken& b) {
         scene::Model m = madeKeeper();
         scene::Node cape;
         cape.name = "cape";
         m.nodes.push_back(cape);
         m.animations.push_back({"flap",
                                 {{NodeIndex(m.nodes.size() - 1),
                                   scene::AnimatedPath::turn,
                                   scene::Interpolation::linear,
                                   {0, 1},
                                   {0, 0, 0, 1, 0, 0, 1, 0}}},
                                 ""});
         b.replaceSource(m);
       }},
      {{"weights.loose", "skin.breaks"},
       "newcomer",
       [](Broken& b) {
         // A row of the strip at the hips follows the left hand.
         scene::Model m = madeKeeper();
         scene::Primitive& p = m.editMesh(scene::MeshIndex(0)).primitives[0];
         const auto& joints = m.skins[0].joints;
         const auto hand = static_cast<uint16_t>(
             std::find(joints.begin(), joints.end(), boneOf(m, "hand.port")) - joints.begin());
         p.joints[40] = p.joints[41] = glm::u16vec4(hand, 0, 0, 0);
         b.replaceSource(m);
       }},
      {{"weights.sides"},
       "newcomer",
       [](Broken& b) {
         // What is left follows the chest, what is right the head.
         scene::Model m = madeKeeper();
         scene::Primitive& p = m.editMesh(scene::MeshIndex(0)).primitives[0];
         const auto& joints = m.skins[0].joints;
         const auto number = [&](const char* name) {
           return static_cast<uint16_t>(std::find(joints.begin(), joints.end(), boneOf(m, name)) -
                                        joints.begin());
         };
         for (size_t v = 0; v < p.positions.size(); ++v)
           p.joints[v] = glm::u16vec4(number(p.positions[v].y > 0 ? "chest" : "head"), 0, 0, 0);
         b.replaceSource(m);
       }},
      // Outfits and boats.
      {{"region.missing"},
       "slipway",
       [](Broken& b) {
         auto& coat = b.state.models["sea-coat"];
         for (const char* from : {"trunk", "belly", "sleeve-left", "sleeve-right", "skirts"})
           coat.steps.push_back(
               {mod::freshStepId(coat), "hand_over", true, Json{{"from", from}, {"to", "collar"}}});
       }},
      {{"variant.differs"},
       "slipway",
       [](Broken& b) { b.state.models["sea-coat"].variants["broad"] = "sea-coat-broad"; }},
      {{"seam.gap"},
       "slipway",
       [](Broken& b) {
         prepare::setOrAddStep(b.state.models["sea-coat"], "turn", Json{{"forward", "+Z"}, {"up", "+Y"}});
       }},
      {{"part.name"},
       "slipway",
       [](Broken& b) {
         auto& tug = b.state.models["tug"];
         tug.steps.push_back(
             {mod::freshStepId(tug), "rename", true, Json{{"part", "tug/hull"}, {"name", "boat_low"}}});
       }},
  };
  // Faults that only some games mind: each asked for, where the demo's models have it.
  for (const auto& [check, mod] : {std::pair("mesh.open_edges", "lamplight"),
                                   {"mesh.nonmanifold_edges", "lamplight"},
                                   {"mesh.nonmanifold_vertices", "lamplight"},
                                   {"mesh.crossings", "lamplight"},
                                   {"mesh.hidden", "lamplight"},
                                   {"mesh.uvs_outside", "lamplight"},
                                   {"mesh.uvs_overlapping", "lamplight"},
                                   {"mesh.uvs_mirrored", "lamplight"},
                                   {"mesh.uvs_stretched", "lamplight"},
                                   {"mesh.unaligned", "lamplight"},
                                   {"mesh.uvs_collapsed", "slipway"}})
    out.push_back({{check}, mod, [check = std::string(check)](Broken& b) {
                     b.book->outcomes[check] = rulebook::Outcome::shows_wrong;
                     for (rulebook::Kind& k : b.book->kinds) k.outcomes.erase(check);
                   }});
  return out;
}

// The first mend of what exporters write wrong takes its finding away, saved and opened again.
TEST(EveryCheck, MendsOfMaterialsCureThem) {
  size_t tried = 0;
  for (const Case& one : cases()) {
    const std::string check = one.checks.front();
    if (check.rfind("materials.", 0) != 0 && check.rfind("picture.", 0) != 0) continue;
    SCOPED_TRACE(check);
    test::TestFolder own;
    Broken b;
    b.folder = own.copyOfMod(one.mod, "mod");
    b.state = *mod::loadMod(b.folder);
    b.book = std::make_shared<rulebook::Rulebook>(*test::shippedBook(b.state.card.rulebook));
    one.spoil(b);
    Examiner examiner(b.folder, b.book);
    const auto found = [&] {
      EXPECT_TRUE(mod::saveMod(b.folder, b.state, *mod::loadMod(b.folder)));
      b.state = *mod::loadMod(b.folder);
      const auto x = *examiner.examine(std::make_shared<const mod::ModState>(b.state));
      std::vector<Finding> out;
      for (const Finding& f : x->findings)
        if (f.check == check) out.push_back(f);
      return out;
    };
    const std::vector<Finding> before = found();
    ASSERT_FALSE(before.empty());
    if (before[0].mends.empty()) continue;  // a damaged picture
    ++tried;
    for (const Finding& f : before)
      if (!f.mends.empty()) f.mends.front().apply(b.state);
    EXPECT_TRUE(found().empty());
  }
  EXPECT_EQ(tried, 12U);
}

TEST(EveryCheck, IsTriggeredByASavedMod) {
  std::set<std::string> seen;
  int number = 0;
  for (const Case& one : cases()) {
    SCOPED_TRACE(std::string(one.mod) + ": " + one.checks.front());
    test::TestFolder own;
    Broken b;
    b.folder = own.copyOfMod(one.mod, "mod" + std::to_string(number++));
    b.state = *mod::loadMod(b.folder);
    b.book = std::make_shared<rulebook::Rulebook>(*test::shippedBook(b.state.card.rulebook));
    one.spoil(b);
    ASSERT_TRUE(mod::saveMod(b.folder, b.state, *mod::loadMod(b.folder)));
    const auto again = mod::loadMod(b.folder);
    ASSERT_TRUE(again) << again.error().text();
    Examiner examiner(b.folder, b.book);
    examiner.setInstalled(b.installed);
    const auto x = examiner.examine(std::make_shared<const mod::ModState>(*again));
    ASSERT_TRUE(x);
    std::set<std::string> found;
    for (const Finding& f : (*x)->findings) {
      found.insert(f.check);
      EXPECT_FALSE(f.sentence.empty() || f.reason.empty() || f.cure.empty()) << f.check;
      EXPECT_FALSE(f.place.text().empty()) << f.sentence;
    }
    for (const char* check : one.checks) {
      EXPECT_EQ(found.count(check), 1u) << check << " is not among " << testing::PrintToString(found);
      seen.insert(check);
    }
  }
  std::set<std::string> all;
  for (const CheckRow& row : checkTable()) all.insert(row.id);
  EXPECT_EQ(seen, all) << "a row of the table that no saved mod here triggers, or one that is no row";
}

TEST(EveryFault, IsAskedForAtTheSeverityThatTheRulebookSaysOrNotAtAll) {
  using rulebook::Outcome;
  test::TestFolder own;
  const fs::path folder = own.copyOfMod("lamplight", "mod");
  const auto severityOf = [&](const FaultRow& row, Outcome outcome) -> std::optional<Severity> {
    auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
    book->kinds[0].outcomes[row.check] = outcome;
    const auto x = test::examined(folder, nullptr, book);
    for (const Finding& f : x->findings)
      if (f.check == row.check) return f.severity;
    return std::nullopt;
  };
  size_t there = 0;
  for (const FaultRow& row : faultTable()) {
    if (!severityOf(row, Outcome::ignores)) continue;  // the lamp has none of it
    ++there;
    EXPECT_EQ(severityOf(row, Outcome::refuses_object), Severity::stops) << row.check;
    EXPECT_EQ(severityOf(row, Outcome::shows_wrong), Severity::shows) << row.check;
    EXPECT_EQ(severityOf(row, Outcome::ignores), Severity::tidy) << row.check;
    EXPECT_EQ(severityOf(row, Outcome::meant), std::nullopt) << row.check;
  }
  EXPECT_GE(there, 10u);
}

// What a rulebook says of checks that there are none of would never be heard.
TEST(ShippedRulebooks, NameOnlyChecksThatThereAre) {
  for (const char* id : {"kelpwick", "ninefold"}) {
    const auto book = test::shippedBook(id);
    std::set<std::string> named;
    for (const auto& [check, outcome] : book->outcomes) named.insert(check);
    for (const auto& [check, reason] : book->reasons) named.insert(check);
    for (const rulebook::Kind& kind : book->kinds)
      for (const auto& [check, outcome] : kind.outcomes) named.insert(check);
    EXPECT_FALSE(named.empty());
    for (const std::string& check : named)
      EXPECT_TRUE(std::any_of(checkTable().begin(), checkTable().end(),
                              [&](const CheckRow& row) { return check == row.id; }))
          << id << ": " << check;
    EXPECT_TRUE(std::any_of(book->kinds.begin(), book->kinds.end(),
                            [](const rulebook::Kind& kind) {
                              return std::any_of(
                                  kind.outcomes.begin(), kind.outcomes.end(),
                                  [](const auto& one) { return faultOfCheck(one.first) != nullptr; });
                            }))
        << id << " says of no fault of structure that it minds";
  }
}

}  // namespace
}  // namespace rakugo::check
