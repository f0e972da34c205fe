// Steps on what materials are: colour, metal, transparency, which are one.
#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/mesh/mesh_ops.h"
#include "prepare/surface/atlas.h"
#include "prepare/surface/surface_values.h"
#include "scene/material_facts.h"

namespace rakugo::prepare {
namespace {

using base::Json;

StepOutcome applyAlpha(scene::Model& model, const Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "base colour");
  if (target.outcome) return *target.outcome;
  const std::string alpha = base::textOf(values, "alpha");
  model.materials[target.material.value()].alpha = alpha == "mask"    ? scene::AlphaMode::mask
                                                   : alpha == "blend" ? scene::AlphaMode::blend
                                                                      : scene::AlphaMode::opaque;
  return {};
}

// A colour as three numbers from 0 to 1, in linear light.
std::optional<glm::vec3> colorValue(const Json& values) {
  const auto color = pointValue(values, "color");
  if (!color || std::min({color->x, color->y, color->z}) < 0 || std::max({color->x, color->y, color->z}) > 1)
    return std::nullopt;
  return color;
}

std::string wantedColor() {
  return base::phrase("A colour is three numbers from 0 to 1: red, green and blue.");
}

StepOutcome applyColor(scene::Model& model, const Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "base colour");
  if (target.outcome) return *target.outcome;
  const auto color = colorValue(values);
  if (!color) return wrongValues(wantedColor());
  scene::Material& material = model.materials[target.material.value()];
  material.base_color = glm::vec4(*color, material.base_color.w);
  return {};
}

StepOutcome applyGlow(scene::Model& model, const Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "glow");
  if (target.outcome) return *target.outcome;
  const auto color = colorValue(values);
  if (!color) return wrongValues(wantedColor());
  model.materials[target.material.value()].emissive = *color;
  return {};
}

StepOutcome applyMetal(scene::Model& model, const Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "base colour");
  if (target.outcome) return *target.outcome;
  scene::Material& material = model.materials[target.material.value()];
  material.metallic = static_cast<float>(numberValue(values, "metal", 0));
  material.roughness = static_cast<float>(numberValue(values, "roughness", 1));
  return {};
}

// What it is called, what it does and the picture of its colour stay.
StepOutcome applyPlain(scene::Model& model, const Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "base colour");
  if (target.outcome) return *target.outcome;
  scene::Material& material = model.materials[target.material.value()];
  scene::Material plain;
  plain.key = material.key;
  plain.name = material.name;
  plain.role = material.role;
  plain.base_color_texture = material.base_color_texture;
  // Under a picture the colour is white: exporters leave black or grey there. Without one it is all there is.
  if (!plain.base_color_texture.image.valid())
    plain.base_color = glm::vec4(glm::vec3(material.base_color), 1);
  plain.metallic = 0;
  plain.roughness = 1;
  material = std::move(plain);
  return {};
}

StepOutcome applyJoinMaterials(scene::Model& model, const Json& values, const StepContext&) {
  const std::string key = base::textOf(values, "material"), other = base::textOf(values, "into");
  const scene::MaterialIndex from = scene::findMaterial(model, key), to = scene::findMaterial(model, other);
  if (!from.valid()) return missed(goneText("material", key));
  if (!to.valid()) return missed(goneText("material", other));
  if (from == to) return wrongValues(base::phrase("Choose two materials."));
  const uint64_t count = eachMesh(model, [&](scene::Mesh& mesh, size_t) {
    uint64_t changed = 0;
    for (scene::Primitive& p : mesh.primitives)
      if (p.material == from) p.material = to, ++changed;
    return changed;
  });
  StepOutcome out;
  out.did =
      count == 0 ? base::phrase("nothing wears it") : base::countText(count, "mesh piece", "mesh pieces");
  return finished(std::move(out), count);
}

StepOutcome applyDropColors(scene::Model& model, const Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "base colour");
  if (target.outcome) return *target.outcome;
  const uint64_t count = eachMesh(model, [&](scene::Mesh& mesh, size_t) {
    uint64_t changed = 0;
    for (scene::Primitive& p : mesh.primitives)
      if (p.material == target.material) {
        changed += p.colors.size();
        p.colors.clear();
      }
    return changed;
  });
  StepOutcome out;
  out.did = count == 0 ? base::phrase("none left") : base::countText(count, "vertex", "vertices");
  return out;
}

StepOutcome applyUvsHome(scene::Model& model, const Json& values, const StepContext&) {
  const std::string key = base::textOf(values, "part");
  const scene::NodeIndex part = scene::findPart(model, key);
  if (!key.empty() && !part.valid()) return missed(goneText("part", key));
  const uint64_t count = eachMesh(model, [&](scene::Mesh& mesh, size_t m) {
    if (part.valid() && model.node(part).mesh != scene::MeshIndex(m)) return uint64_t{0};
    uint64_t moved = 0;
    for (scene::Primitive& p : mesh.primitives)
      for (size_t set = 0; set < p.uvs.size() && p.material.valid(); ++set) {
        const std::vector<glm::vec2> moves =
            scene::movesOntoPicture(p, model.materials[p.material.value()], set);
        for (size_t v = 0; v < moves.size(); ++v) {
          p.uvs[set][v] += moves[v];
          if (moves[v] != glm::vec2(0)) ++moved;
        }
      }
    return moved;
  });
  StepOutcome out;
  out.did = count == 0 ? base::phrase("none left") : base::countText(count, "vertex", "vertices");
  return out;
}

// Tangents follow: their side changes, and across the picture's width their direction too.
StepOutcome applyFlipUvs(scene::Model& model, const Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "base colour");
  if (target.outcome) return *target.outcome;
  const bool upside = base::textOf(values, "way") != "sideways";
  const scene::Material& material = model.materials[target.material.value()];
  const size_t set = std::min<size_t>(material.base_color_texture.uv_set, 1);
  const uint64_t count = eachMesh(model, [&](scene::Mesh& mesh, size_t) {
    uint64_t flipped = 0;
    for (scene::Primitive& p : mesh.primitives) {
      if (p.material != target.material) continue;
      flipped += p.uvs[set].size();
      for (glm::vec2& uv : p.uvs[set]) (upside ? uv.y : uv.x) = 1 - (upside ? uv.y : uv.x);
      for (glm::vec4& tangent : p.tangents)
        tangent = upside ? glm::vec4(glm::vec3(tangent), -tangent.w) : -tangent;
    }
    return flipped;
  });
  StepOutcome out;
  out.did = base::countText(count, "vertex", "vertices");
  return out;
}

StepOutcome applyAtlas(scene::Model& model, const Json& values, const StepContext& context) {
  std::vector<scene::MaterialIndex> materials;
  StepOutcome out;
  for (const std::string& key : listValue(values, "materials")) {
    const scene::MaterialIndex one = scene::findMaterial(model, key);
    if (!one.valid())
      out.misses.push_back(goneText("material", key));
    else if (std::find(materials.begin(), materials.end(), one) == materials.end())
      materials.push_back(one);
  }
  AtlasOptions options;
  options.name = base::textOf(values, "name");
  if (options.name.empty()) options.name = "merged";
  options.most_side = static_cast<uint32_t>(numberValue(values, "side", 2048));
  options.margin = static_cast<uint32_t>(numberValue(values, "margin", 4));
  const std::string part = base::textOf(values, "part");
  if (part.starts_with("quarter_")) options.quarter = static_cast<uint32_t>(part.back() - '0');
  const auto report = mergeIntoAtlas(model, materials, options, context.progress);
  if (!report) {
    out.misses.push_back(report.error().message);
    return finished(std::move(out), 0);
  }
  out.did =
      report->scale < 1
          ? base::phrase("{0} materials on {1} × {1} pixels, {2} % filled, pictures at {3} % of their size",
                         report->materials, report->side, base::numberText(report->filled * 100, 0),
                         base::numberText(report->scale * 100, 0))
          : base::phrase("{0} materials on {1} × {1} pixels, {2} % filled", report->materials, report->side,
                         base::numberText(report->filled * 100, 0));
  return finished(std::move(out), report->materials);
}

Parameter colorParameter(double initial) {
  return pointParameter("color", "colour", initial)
      .means("Red, green and blue from 0 to 1, in linear light.");
}

}  // namespace

SurfaceTarget surfaceTarget(const scene::Model& model, const Json& values, const char* slot) {
  SurfaceTarget out;
  const std::string key = base::textOf(values, "material");
  out.material = scene::findMaterial(model, key);
  if (!out.material.valid()) {
    out.outcome = missed(goneText("material", key));
    return out;
  }
  const auto found = scene::slotOfName(slot != nullptr ? std::string(slot) : base::textOf(values, "slot"));
  if (found)
    out.slot = *found;
  else
    out.outcome = wrongValues(base::phrase("Choose one of the material's pictures."));
  return out;
}

Parameter materialParameter() { return referenceParameter("material", "material", ParameterType::material); }

Parameter slotParameter(const char* key, const char* title) {
  Choices slots;
  for (const scene::TextureSlot& one : scene::kTextureSlots) slots.emplace_back(one.name, one.name);
  return choiceParameter(key, title, std::move(slots));
}

Choices targetSlots() {
  Choices out{{kNoSlot, "nothing: take it out"}};
  for (const scene::TextureSlot& one : scene::kTextureSlots)
    out.emplace_back(one.name, std::string("its ") + one.name);
  return out;
}

std::vector<StepKind> materialSteps() {
  return {
      {"uvs_home",
       "Bring UVs back onto the picture",
       StepGroup::surface,
       31,
       "Bring the UVs of {part} back onto the picture",
       {referenceParameter("part", "part", ParameterType::any_part)},
       applyUvsHome,
       "Islands of UVs beside the picture move by whole pictures: nothing changes where it repeats."},
      {"flip_uvs",
       "Flip UVs",
       StepGroup::surface,
       31,
       "Flip the picture of {material} {way}",
       {materialParameter(),
        choiceParameter("way", "way", {{"upside", "upside down"}, {"sideways", "left to right"}})},
       applyFlipUvs,
       "All that wears it shows the picture the other way round; the picture itself stays."},
      {"drop_colors",
       "Drop vertex colours",
       StepGroup::surface,
       32,
       "Drop the vertex colours of what wears {material}",
       {materialParameter()},
       applyDropColors},
      {"set_alpha",
       "Make opaque or see-through",
       StepGroup::surface,
       33,
       "Draw {material} {alpha}",
       {materialParameter(), choiceParameter("alpha", "way",
                                             {{"opaque", "opaque"},
                                              {"mask", "cut out along its picture's alpha"},
                                              {"blend", "see-through by its alpha"}})},
       applyAlpha},
      {"set_color",
       "Give a colour",
       StepGroup::surface,
       33,
       "Give {material} the colour {color}",
       {materialParameter(), colorParameter(1)},
       applyColor,
       "Under a picture, white leaves the picture as it is."},
      {"set_glow",
       "Give a glow",
       StepGroup::surface,
       33,
       "Let {material} glow in {color}",
       {materialParameter(), colorParameter(1)},
       applyGlow,
       "With a glow picture, white shows the picture as it is, and black takes it away."},
      {"set_metal",
       "Give metal and roughness",
       StepGroup::surface,
       33,
       "Give {material} a metal of {metal} and a roughness of {roughness}",
       {materialParameter(), numberParameter("metal", "metal", 0).between(0, 1),
        numberParameter("roughness", "roughness", 1).between(0, 1)},
       applyMetal,
       "A picture of metal and roughness is multiplied by them."},
      {"plain_material",
       "Make a material plain",
       StepGroup::surface,
       38,
       "Make {material} plain",
       {materialParameter()},
       applyPlain,
       "Name, role and the picture of its colour stay; all else goes."},
      {"atlas",
       "Merge materials into one",
       StepGroup::surface,
       49,
       "Merge {materials} into one, called {name}, on {part} of at most {side} pixels with margins of "
       "{margin}",
       {referenceParameter("materials", "materials", ParameterType::materials), textParameter("name", "name"),
        countParameter("side", "longest side of the sheet", 2048).between(16, 8192),
        countParameter("margin", "margin", 4).between(0, 64),
        choiceParameter("part", "part of the sheet",
                        {{"whole", "a sheet"},
                         {"quarter_1", "the first quarter of a shared sheet"},
                         {"quarter_2", "the second quarter of a shared sheet"},
                         {"quarter_3", "the third quarter of a shared sheet"},
                         {"quarter_4", "the fourth quarter of a shared sheet"}})
            .means("Models whose sheets are called alike share one picture.")},
       applyAtlas,
       "Their pictures go side by side onto one sheet, in all slots, and UVs follow; they need the same role "
       "and "
       "transparency, and UVs that repeat no picture more than four times across an island."},
      {"join_materials",
       "Make two materials one",
       StepGroup::surface,
       48,
       "Let all that wears {material} wear {into}",
       {materialParameter(), referenceParameter("into", "material that stays", ParameterType::material)},
       applyJoinMaterials},
  };
}

}  // namespace rakugo::prepare
