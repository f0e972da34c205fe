// Checks of what exporters write wrong in materials, vertex colours and texture coordinates.
#include <algorithm>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "prepare/surface/packed_picture.h"
#include "prepare/surface/picture_change.h"
#include "prepare/surface/surface_values.h"
#include "scene/material_facts.h"

namespace rakugo::check {
namespace {

using base::Json;
using formats::PictureTraits;

bool namesGloss(const std::string& file) {
  const std::string low = base::lowerAscii(file);
  if (low.find(prepare::kInverted) != std::string::npos) return false;  // a step has made roughness of it
  return low.find("gloss") != std::string::npos || low.find("smoothness") != std::string::npos;
}

struct Worn {
  const std::string& name;  // of the model
  const ModelState& state;
  const scene::Model& model;
  scene::MaterialIndex index;
  const scene::Material& material = model.materials[index.value()];

  [[nodiscard]] std::string shown() const { return material.name.empty() ? material.key : material.name; }
  // Calls body(primitive) for all that reached parts wear it on.
  template <class Body>
  void eachPrimitive(const Body& body) const {
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      if (!model.node(i).mesh.valid()) continue;
      for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives)
        if (p.material == index) body(p);
    }
  }
  // The picture of a slot, where it was read.
  [[nodiscard]] const PictureTraits* traits(scene::TextureUse scene::Material::*slot) const {
    const scene::ImageIndex image = (material.*slot).image;
    if (!image.valid() || !state.pictures[image.value()].info) return nullptr;
    return &state.pictures[image.value()].traits;
  }
  [[nodiscard]] std::string pictureName(scene::TextureUse scene::Material::*slot) const {
    const scene::Image& image = model.images[(material.*slot).image.value()];
    return image.uri.empty() ? image.name : image.uri;
  }
};

// Calls body(worn) for each material that a model wears.
void eachWorn(const Context& context, const std::function<void(const Worn&)>& body) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    for (const scene::MaterialIndex m : scene::usedMaterials(model)) body({name, state, model, m});
  });
}

Finding about(const Context& context, const CheckRow& row, const Worn& worn, std::string sentence) {
  Finding f = aboutModel(context, row, worn.name, std::move(sentence));
  f.place.material = worn.material.key;
  return f;
}

Mend materialMend(const Worn& worn, const char* kind, Json values, std::string label) {
  values["material"] = worn.material.key;
  return stepMend(worn.name, kind, std::move(values), std::move(label));
}

Mend takeOut(const Worn& worn, const char* slot) {
  return materialMend(worn, "move_picture", {{"slot", slot}, {"to", "none"}},
                      phrase("Take the {0} picture out", phrase(slot)));
}

void checkTransparent(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    const scene::Material& m = worn.material;
    if (m.alpha == scene::AlphaMode::opaque || m.base_color.w < 0.999F) return;
    const PictureTraits* picture = worn.traits(&scene::Material::base_color_texture);
    // A picture that cannot be read may have been transparent.
    if (m.base_color_texture.image.valid() && (picture == nullptr || picture->transparent > 0)) return;
    bool faint = false;
    worn.eachPrimitive([&](const scene::Primitive& p) {
      faint = faint ||
              std::any_of(p.colors.begin(), p.colors.end(), [](const glm::vec4& c) { return c.w < 0.98F; });
    });
    if (faint) return;
    Finding f = about(context, row, worn,
                      phrase("{0} is drawn as see-through, and nothing of it is transparent.", worn.shown()));
    f.measured = m.alpha == scene::AlphaMode::mask ? phrase("cut out") : phrase("see-through");
    f.expected = phrase("opaque");
    f.mends.push_back(
        materialMend(worn, "set_alpha", {{"alpha", "opaque"}}, phrase("Draw {0} opaque", worn.shown())));
    out.push_back(std::move(f));
  });
}

void checkBlack(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    const auto slot = scene::slotOfName("base colour");
    if (scene::unseenSlot(worn.material, *slot) == scene::Unseen::no) return;
    Finding f = about(context, row, worn,
                      phrase("{0} is black: its colour of 0 takes its picture away.", worn.shown()));
    f.measured = phrase("black");
    f.expected = phrase("white, which leaves the picture as it is");
    f.mends.push_back(
        materialMend(worn, "set_color", {{"color", {1, 1, 1}}}, phrase("Give {0} white", worn.shown())));
    out.push_back(std::move(f));
  });
}

// Both values at 1 are what glTF takes where a file says nothing: an exporter forgot them.
void checkMetal(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    const scene::Material& m = worn.material;
    if (m.metallic < 0.99F || m.roughness < 0.99F || m.metallic_roughness_texture.image.valid() || m.unlit)
      return;
    Finding f =
        about(context, row, worn,
              phrase("{0} is wholly metal and wholly rough, without a picture that says so.", worn.shown()));
    f.measured = phrase("metal 1, roughness 1");
    f.expected = phrase("metal 0 for all that is no bare metal");
    f.mends.push_back(materialMend(worn, "set_metal", {{"metal", 0}, {"roughness", 1}},
                                   phrase("Make {0} no metal", worn.shown())));
    out.push_back(std::move(f));
  });
}

void checkNormalAsColor(const Context& context, const CheckRow& row, Findings& out) {
  struct Slot {
    const char* name;
    scene::TextureUse scene::Material::*use;
  };
  eachWorn(context, [&](const Worn& worn) {
    for (const Slot& slot : {Slot{"base colour", &scene::Material::base_color_texture},
                             Slot{"glow", &scene::Material::emissive_texture}}) {
      const PictureTraits* picture = worn.traits(slot.use);
      if (picture == nullptr || !formats::isNormalMap(*picture)) continue;
      Finding f = about(context, row, worn,
                        phrase("{0} shows a normal map, {1}, as its {2}.", worn.shown(),
                               worn.pictureName(slot.use), phrase(slot.name)));
      f.measured =
          phrase("{0} % of its pixels are directions", base::numberText(picture->directions * 100, 0));
      if (!worn.material.normal_texture.image.valid())
        f.mends.push_back(materialMend(worn, "move_picture", {{"slot", slot.name}, {"to", "normal"}},
                                       phrase("Use it as the normal picture")));
      f.mends.push_back(takeOut(worn, slot.name));
      out.push_back(std::move(f));
    }
  });
}

void checkNotANormal(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    const PictureTraits* picture = worn.traits(&scene::Material::normal_texture);
    if (picture == nullptr || picture->directions > 0.5) return;
    Finding f = about(context, row, worn,
                      phrase("The normal picture of {0}, {1}, is no normal map.", worn.shown(),
                             worn.pictureName(&scene::Material::normal_texture)));
    f.measured = phrase("{0} % of its pixels are directions", base::numberText(picture->directions * 100, 0));
    f.expected = phrase("nearly all");
    if (!worn.material.base_color_texture.image.valid())
      f.mends.push_back(materialMend(worn, "move_picture", {{"slot", "normal"}, {"to", "base colour"}},
                                     phrase("Use it as the base colour")));
    f.mends.push_back(takeOut(worn, "normal"));
    out.push_back(std::move(f));
  });
}

void checkGreen(const Context& context, const CheckRow& row, Findings& out) {
  constexpr double kSure = -0.35;
  eachWorn(context, [&](const Worn& worn) {
    const PictureTraits* picture = worn.traits(&scene::Material::normal_texture);
    if (picture == nullptr || picture->green_up > kSure) return;
    Finding f = about(context, row, worn,
                      phrase("The normal map of {0}, {1}, counts its green downwards.", worn.shown(),
                             worn.pictureName(&scene::Material::normal_texture)));
    // The curls of both readings, as shares: 0.5 says nothing, 1 is certain.
    f.measured = phrase("downwards, {0} % sure", base::numberText((1 - picture->green_up) * 50, 0));
    f.expected = phrase("upwards");
    f.mends.push_back(materialMend(worn, "flip_green", Json::object(), phrase("Turn its green round")));
    out.push_back(std::move(f));
  });
}

void checkColorAndData(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    for (const scene::TextureSlot& color : scene::kTextureSlots)
      for (const scene::TextureSlot& data : scene::kTextureSlots) {
        if (!color.color || data.color) continue;
        const scene::TextureUse &a = worn.material.*color.use, &b = worn.material.*data.use;
        if (!a.image.valid() || a.image != b.image) continue;
        // Which of the two is wrong, another finding says where the values tell.
        const PictureTraits* picture = worn.traits(data.use);
        if (picture != nullptr && formats::isNormalMap(*picture)) continue;
        if (data.use == &scene::Material::normal_texture) continue;
        Finding f = about(context, row, worn,
                          phrase("{0} shows one picture, {1}, as {2} and as {3}.", worn.shown(),
                                 worn.pictureName(data.use), phrase(color.name), phrase(data.name)));
        f.mends.push_back(takeOut(worn, data.name));
        out.push_back(std::move(f));
      }
  });
}

void checkGloss(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    if (worn.traits(&scene::Material::metallic_roughness_texture) == nullptr) return;
    const std::string name = worn.pictureName(&scene::Material::metallic_roughness_texture);
    if (!namesGloss(name)) return;
    Finding f = about(
        context, row, worn,
        phrase("{0} takes {1} as roughness; by its name it is gloss, the opposite.", worn.shown(), name));
    f.measured = phrase("gloss");
    f.expected = phrase("roughness");
    f.mends.push_back(materialMend(worn, "invert_channel",
                                   {{"slot", "metal and roughness"}, {"channel", "g"}},
                                   phrase("Invert its green")));
    out.push_back(std::move(f));
  });
}

void checkVertexColors(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    std::optional<glm::vec3> dark;
    worn.eachPrimitive([&](const scene::Primitive& p) {
      if (!dark) dark = scene::evenDarkening(p);
    });
    if (!dark) return;
    const float most = std::max({dark->x, dark->y, dark->z});
    Finding f = about(context, row, worn,
                      most < 0.004F ? phrase("Vertex colours make all of {0} black.", worn.shown())
                                    : phrase("Vertex colours darken all of {0} to {1} %.", worn.shown(),
                                             base::numberText(most * 100, 0)));
    f.measured = phrase("{0} %", base::numberText(most * 100, 0));
    f.expected = phrase("none, or white");
    f.mends.push_back(materialMend(worn, "drop_colors", Json::object(),
                                   phrase("Drop the vertex colours of {0}", worn.shown())));
    out.push_back(std::move(f));
  });
}

void checkAlike(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    const std::vector<scene::MaterialIndex> used = scene::usedMaterials(model);
    std::set<scene::MaterialIndex> told;
    for (size_t i = 0; i < used.size(); ++i)
      for (size_t k = i + 1; k < used.size(); ++k) {
        const Worn first{name, state, model, used[i]};
        const Worn second{name, state, model, used[k]};
        if (!scene::drawAlike(first.material, second.material) || !told.insert(used[k]).second) continue;
        Finding f = about(context, row, second,
                          phrase("{0} is {1} under another name.", second.shown(), first.shown()));
        f.mends.push_back(materialMend(second, "join_materials", {{"into", first.material.key}},
                                       phrase("Let all of it wear {0}", first.shown())));
        out.push_back(std::move(f));
      }
  });
}

void checkPacking(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    for (const rulebook::PackedPicture* packed : prepare::packedPictures(*context.book, worn.material)) {
      const std::vector<size_t> apart = prepare::slotsApart(worn.material, *packed);
      if (apart.empty()) continue;
      std::vector<std::string> names;
      for (const size_t slot : apart) names.push_back(phrase(scene::kTextureSlots[slot].name));
      Finding f = about(context, row, worn,
                        phrase("{0}: {1} cannot go into {2} with the others, because it lies differently.",
                               worn.shown(), base::listText(names, names.size()), packed->title));
      for (const size_t slot : apart)
        f.mends.push_back(materialMend(
            worn, "move_picture", {{"slot", scene::kTextureSlots[slot].name}, {"to", prepare::kNoSlot}},
            phrase("Take the {0} picture out", phrase(scene::kTextureSlots[slot].name))));
      out.push_back(std::move(f));
    }
  });
}

void checkUnseen(const Context& context, const CheckRow& row, Findings& out) {
  eachWorn(context, [&](const Worn& worn) {
    // Sets of texture coordinates that all that wears it has.
    unsigned sets = 3;
    worn.eachPrimitive([&](const scene::Primitive& p) {
      for (unsigned set = 0; set < 2; ++set)
        if (p.uvs[set].size() != p.positions.size()) sets &= ~(1U << set);
    });
    for (size_t slot = 0; slot < scene::kTextureSlots.size(); ++slot) {
      const scene::TextureSlot& one = scene::kTextureSlots[slot];
      const scene::TextureUse& use = worn.material.*one.use;
      if (!use.image.valid()) continue;
      const bool factor = scene::unseenSlot(worn.material, slot) == scene::Unseen::by_factor;
      // Without coordinates the structure's findings tell; of the second set nobody else does.
      const bool no_uvs = use.uv_set == 1 && (sets & 2U) == 0;
      if (!factor && !no_uvs) continue;
      if (one.use == &scene::Material::base_color_texture && !no_uvs) continue;  // materials.black
      Finding f =
          about(context, row, worn,
                no_uvs ? phrase("The {0} picture of {1} is not seen: its UVs are a set that the mesh lacks.",
                                phrase(one.name), worn.shown())
                       : phrase("The {0} picture of {1} is not seen: its factor is 0.", phrase(one.name),
                                worn.shown()));
      if (one.use == &scene::Material::emissive_texture && !no_uvs)
        f.mends.push_back(materialMend(worn, "set_glow", {{"color", {1, 1, 1}}}, phrase("Let it glow")));
      f.mends.push_back(takeOut(worn, one.name));
      out.push_back(std::move(f));
    }
  });
}

}  // namespace

std::vector<CheckRow> materialChecks() {
  using S = Severity;
  constexpr Station kHere = Station::surface;
  return {
      {"materials.transparent",
       471,
       S::shows,
       kHere,
       {"model.materials", "model.pictures"},
       "See-through for nothing",
       "What is drawn as see-through is sorted by distance: it shines through in the wrong places, and costs "
       "more.",
       "Draw it opaque.",
       checkTransparent},
      {"materials.black",
       472,
       S::shows,
       kHere,
       {"model.materials"},
       "Black over a good picture",
       "The picture is multiplied by black: the surface is black in the game.",
       "Give it white, which leaves the picture as it is.",
       checkBlack},
      {"materials.metal",
       473,
       S::shows,
       kHere,
       {"model.materials"},
       "Metal that nobody chose",
       "Bare rough metal is dark grey whatever its colour. An exporter that says nothing of metal means "
       "this.",
       "Make it no metal, or give it a picture of metal and roughness.",
       checkMetal},
      {"picture.normal_as_color",
       474,
       S::shows,
       kHere,
       {"model.materials", "model.pictures"},
       "A normal map shown as colour",
       "The surface is lilac in the game.",
       "Use the picture as the normal picture.",
       checkNormalAsColor},
      {"picture.not_normal",
       475,
       S::shows,
       kHere,
       {"model.materials", "model.pictures"},
       "A normal picture that is none",
       "Light falls on the surface as if it were crumpled.",
       "Take it out, or use it for what it is.",
       checkNotANormal},
      {"picture.green",
       476,
       S::shows,
       kHere,
       {"model.materials", "model.pictures"},
       "A normal map with its green the other way round",
       "Dents look like bumps, lit from below: programs differ in which way green counts.",
       "Turn its green round.",
       checkGreen},
      {"picture.color_and_data",
       477,
       S::shows,
       kHere,
       {"model.materials", "model.pictures"},
       "One picture as colour and as data",
       "What is right as a colour is wrong as numbers: light and shine follow the paint.",
       "Take it out of the slot that it does not belong to.",
       checkColorAndData},
      {"picture.gloss",
       478,
       S::shows,
       kHere,
       {"model.materials", "model.pictures"},
       "Gloss where roughness is meant",
       "What should shine is dull, and what should be dull shines.",
       "Invert the channel.",
       checkGloss},
      {"materials.packing",
       483,
       S::stops,
       kHere,
       {"model.materials"},
       "Pictures that cannot go into one",
       "The game reads them from one picture; they lie differently on the surface.",
       "Let all of them use the same UVs, or take one out.",
       checkPacking},
      {"materials.vertex_colors",
       479,
       S::shows,
       kHere,
       {"model.materials", "model.structure"},
       "Vertex colours that darken everything",
       "The surface is darker in the game than in its picture.",
       "Drop the vertex colours.",
       checkVertexColors},
      {"materials.alike",
       481,
       S::tidy,
       kHere,
       {"model.materials"},
       "Two materials alike in all but name",
       "Each material is drawn by itself; two that are alike cost twice.",
       "Make them one.",
       checkAlike},
      {"picture.unseen",
       482,
       S::tidy,
       kHere,
       {"model.materials", "model.pictures"},
       "A picture that is never seen",
       "It is loaded with the mod and shows nothing.",
       "Take it out, or let it be seen.",
       checkUnseen},
  };
}

}  // namespace rakugo::check
