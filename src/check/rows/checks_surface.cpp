// Checks of pictures and materials' roles.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "check/surface_report.h"
#include "prepare/newer/picture_search.h"
#include "scene/texel_density.h"

namespace rakugo::check {
namespace {

using base::Json;

void placeIn(Finding& f, const std::string& model, const std::string& material) {
  f.place.model = model;
  f.place.document = "models/" + model + ".model.json";
  f.place.material = material;
}

// Calls body(image index, first material that uses it, its slot there) for every picture that is really
// shown.
template <class Body>
void eachShownPicture(const scene::Model& model, const Body& body) {
  std::set<uint32_t> told;
  for (const scene::MaterialIndex m : scene::usedMaterials(model))
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = model.materials[m.value()].*slot.use;
      if (use.image.valid() && told.insert(use.image.value()).second)
        body(use.image.value(), model.materials[m.value()], slot);
    }
}

// Of a picture without a name, by a material that shows it.
std::string pictureName(const scene::Image& image, const scene::Material& material) {
  if (!image.uri.empty()) return image.uri;
  if (!image.name.empty()) return image.name;
  return phrase("The picture of {0} inside the model file",
                (material.name.empty() ? material.key : material.name));
}

bool powerOfTwo(uint32_t n) { return n != 0 && (n & (n - 1)) == 0; }

bool hinted(const scene::Material& material, const rulebook::Role& role) {
  const std::string name = base::lowerAscii(material.name);
  return std::any_of(role.hints.begin(), role.hints.end(), [&](const std::string& hint) {
    return name.find(base::lowerAscii(hint)) != std::string::npos;
  });
}

void checkPictureMissing(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    if (std::all_of(model.images.begin(), model.images.end(),
                    [](const auto& i) { return i.bytes != nullptr; }))
      return;
    eachShownPicture(model, [&](uint32_t i, const scene::Material& material, const scene::TextureSlot&) {
      const scene::Image& image = model.images[i];
      if (image.bytes) return;
      // Files of the source with the same name but for letter case come first, then those with the same stem.
      const auto source = context.mod->sources.find(doc.source);
      const std::string folder = source != context.mod->sources.end()
                                     ? mod::versionFolder(doc.source, source->second)
                                     : std::string();
      const std::string wanted = base::lowerAscii(image.uri);
      std::vector<std::string> same, alike;
      for (const std::string& file : context.files) {
        if (folder.empty() || file.rfind(folder, 0) != 0) continue;
        const std::string relative = file.substr(folder.size());
        const auto likeness = prepare::likenessOf(relative, image.uri);
        if (likeness == prepare::Likeness::same_name || likeness == prepare::Likeness::letter_case)
          same.push_back(relative);
        else if (likeness == prepare::Likeness::other_ending)
          alike.push_back(relative);
      }
      const std::string what = image.uri.empty() ? pictureName(image, material)
                                                 : phrase("The picture {0} of {1}", image.uri, material.name);
      const std::string sentence =
          !same.empty() ? phrase(base::lowerAscii(same[0]) == wanted
                                     ? "{0} is not there; there is one with other letter case: {1}."
                                     : "{0} is not there; there is one at {1}.",
                                 what, same[0])
          : !alike.empty() ? phrase("{0} is not there; there is {1}.", what, alike[0])
                           : phrase("{0} is not there.", what);
      Finding f = begin(context, row, sentence);
      f.measured = pictureName(image, material);
      if (!same.empty()) f.expected = same[0];
      placeIn(f, name, material.key);
      same.insert(same.end(), alike.begin(), alike.end());
      for (const std::string& file : same)
        f.mends.push_back(stepMend(name, "use_picture", Json{{"picture", image.uri}, {"file", file}},
                                   phrase("Take {0}", file)));
      out.push_back(std::move(f));
    });
  });
}

void checkPictureDamaged(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    eachShownPicture(model, [&](uint32_t i, const scene::Material& material, const scene::TextureSlot&) {
      if (!model.images[i].bytes || !state.pictures[i].error) return;
      Finding f = begin(context, row,
                        pictureName(model.images[i], material) + ": " + state.pictures[i].error->message);
      placeIn(f, name, material.key);
      out.push_back(std::move(f));
    });
  });
}

void checkPictureSize(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    eachShownPicture(model, [&](uint32_t i, const scene::Material& material, const scene::TextureSlot& slot) {
      const auto& info = state.pictures[i].info;
      if (!info) return;
      const uint32_t most = context.book->picture_max_side;
      const bool large = most > 0 && std::max(info->width, info->height) > most;
      const bool odd =
          context.book->picture_power_of_two && !(powerOfTwo(info->width) && powerOfTwo(info->height));
      if (!large && !odd) return;
      const std::string size = std::to_string(info->width) + " × " + std::to_string(info->height);
      Finding f =
          begin(context, row,
                large ? phrase("{0} is {1} pixels; {2} takes at most {3} a side.",
                               pictureName(model.images[i], material), size, context.book->title, most)
                      : phrase("{0} is {1} pixels; {2} takes sides that are powers of two.",
                               pictureName(model.images[i], material), size, context.book->title));
      f.measured = size;
      f.expected = large ? phrase("at most {0}", std::to_string(most)) : phrase("powers of two");
      placeIn(f, name, material.key);
      const uint32_t side = most > 0 ? most : std::max(info->width, info->height);
      Json values{{"material", material.key},
                  {"slot", slot.name},
                  {"side", side},
                  {"sides", context.book->picture_power_of_two ? "powers" : "any"}};
      f.mends.push_back(stepMend(name, "resize_picture", values, phrase("Resize it smoothly")));
      values["how"] = "pixels";
      f.mends.push_back(stepMend(name, "resize_picture", values, phrase("Resize it pixel by pixel")));
      out.push_back(std::move(f));
    });
  });
}

void checkTexelDensity(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (state.kind == nullptr || !state.kind->texels_per_m) return;
    // A wrong unit explains it; that is told once.
    if (state.unit && !state.unit->taken && state.unit->confidence != Confidence::guess) return;
    const rulebook::Band& band = *state.kind->texels_per_m;
    const scene::Model& model = *state.prepared.model;
    for (const auto& [material, density] : scene::texelDensities(model, pictureSizes(state))) {
      if (density >= band.min && density <= band.max) continue;
      Finding f = begin(context, row,
                        phrase("{0} shows {1} pixels of its picture to a metre; a {2} shows {3} to {4}.",
                               model.materials[material].name, base::numberText(density, 0),
                               base::lowerAscii(state.kind->title), base::numberText(band.min, 0),
                               base::numberText(band.max, 0)));
      f.measured = phrase("{0} to a metre", base::numberText(density, 0));
      f.expected = phrase("{0} to {1}", base::numberText(band.min, 0), base::numberText(band.max, 0));
      placeIn(f, name, model.materials[material].key);
      out.push_back(std::move(f));
    }
  });
}

void checkRoles(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (state.kind == nullptr) return;
    const scene::Model& model = *state.prepared.model;
    std::vector<uint32_t> used;
    for (const scene::MaterialIndex m : scene::usedMaterials(model)) used.push_back(m.value());
    for (const rulebook::Role& role : state.kind->roles) {
      if (!role.required || !holdsForAny(context, state, role.when)) continue;
      if (std::any_of(used.begin(), used.end(),
                      [&](uint32_t m) { return model.materials[m].role == role.id; }))
        continue;
      Finding f = begin(
          context, row,
          phrase("No material of {0} has the role {1}. {2}", name, base::lowerAscii(role.title), role.help));
      f.measured = phrase("none");
      f.expected = base::lowerAscii(role.title);
      placeIn(f, name, {});
      std::vector<uint32_t> candidates(used.begin(), used.end());
      std::erase_if(candidates, [&](uint32_t m) { return !model.materials[m].role.empty(); });
      std::stable_sort(candidates.begin(), candidates.end(), [&](uint32_t a, uint32_t b) {
        return hinted(model.materials[a], role) && !hinted(model.materials[b], role);
      });
      for (const uint32_t m : candidates)
        f.mends.push_back(
            stepMend(name, "role", Json{{"material", model.materials[m].key}, {"role", role.id}},
                     phrase("Give {0} the role {1}", model.materials[m].key, base::lowerAscii(role.title))));
      out.push_back(std::move(f));
    }
  });
}

void checkRoleUnknown(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (state.kind == nullptr) return;
    for (const scene::Material& m : state.prepared.model->materials) {
      if (m.role.empty() || state.kind->findRole(m.role) != nullptr) continue;
      Finding f = begin(context, row,
                        phrase("{0} has the role {1}, which a {2} does not have.", m.name, m.role,
                               base::lowerAscii(state.kind->title)));
      placeIn(f, name, m.key);
      out.push_back(std::move(f));
    }
  });
}

}  // namespace

std::vector<CheckRow> surfaceChecks() {
  using S = Severity;
  return {
      {"picture.missing",
       430,
       S::shows,
       Station::surface,
       {"model.pictures", "mod.files"},
       "A picture is missing",
       "The surface is plain white in the game.",
       "Take the picture from the file that is there, or put it beside the model.",
       checkPictureMissing},
      {"picture.damaged",
       440,
       S::shows,
       Station::surface,
       {"model.pictures"},
       "A picture cannot be read",
       "The surface is plain white in the game.",
       "Save the picture again as PNG.",
       checkPictureDamaged},
      {"picture.size",
       450,
       S::tidy,
       Station::surface,
       {"model.picture_side"},
       "A picture larger or odder than the game wants",
       "The build makes it smaller; fine detail is lost in a way you did not choose.",
       "Resize it, or save it in a size the game takes.",
       checkPictureSize},
      {"picture.density",
       460,
       S::tidy,
       Station::surface,
       {"model.picture_side", "model.structure"},
       "A picture too coarse or too fine for its surface",
       "Too coarse it looks smeared beside everything else; too fine it costs memory that nobody sees.",
       "Use a picture of another size, or unwrap the mesh anew.",
       checkTexelDensity},
      {"role.missing",
       470,
       S::shows,
       Station::surface,
       {"model.materials"},
       "A role the kind needs is given to no material",
       "The game does not find the surface it wants to paint or light.",
       "Give the role to the right material.",
       checkRoles},
      {"role.unknown",
       480,
       S::shows,
       Station::surface,
       {"model.materials"},
       "A role the kind does not have",
       "The game ignores it.",
       "Choose a role of the kind.",
       checkRoleUnknown},
  };
}

}  // namespace rakugo::check
