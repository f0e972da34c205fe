#include "formats/collada/collada_material.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::formats::collada {

// One <effect>, and what is bound round it.
struct Materials::Effect {
  Element profile, effect;
  const UvBinding& binding;
  const std::array<int, 2>& uv_sets;
};

namespace {

// A parameter of a profile or effect by its sid.
Element parameter(const Element& profile, const Element& effect, std::string_view sid) {
  for (const Element& holder : {profile, effect})
    for (pugi::xml_node n = holder.node.child("newparam"); n; n = n.next_sibling("newparam"))
      if (std::string_view(n.attribute("sid").value()) == sid) return holder.with(n);
  return {};
}

// The first element of that name below, in any depth and in any profile's extras.
pugi::xml_node anywhere(pugi::xml_node from, const char* name) {
  return from.find_node([&](const pugi::xml_node& n) { return std::string_view(n.name()) == name; });
}

std::string mimeOf(const std::string& path) {
  const std::string low = base::lowerAscii(path);
  const size_t dot = low.rfind('.');
  const std::string ending = dot == std::string::npos ? "" : low.substr(dot + 1);
  return ending == "png" ? "image/png" : ending == "jpg" || ending == "jpeg" ? "image/jpeg" : "";
}

// Bytes of hexadecimal text (1.4.1's <data>, 1.5's <hex>).
base::Bytes hexBytes(std::string_view text) {
  base::Bytes out;
  int high = -1;
  for (const char c : text) {
    const int digit = c >= '0' && c <= '9'   ? c - '0'
                      : c >= 'a' && c <= 'f' ? c - 'a' + 10
                      : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                             : -1;
    if (digit < 0) continue;
    if (high < 0) {
      high = digit;
    } else {
      out.push_back(static_cast<std::byte>(high * 16 + digit));
      high = -1;
    }
  }
  return out;
}

}  // namespace

base::Result<scene::ImageIndex> Materials::image(const Element& element) {
  const auto known = images_.find(element.node.internal_object());
  if (known != images_.end()) return known->second;
  scene::Image image;
  image.name = nameOf(element.node);
  const Element init = element.child("init_from");
  std::string storage;
  const pugi::xml_node ref = init.node.child("ref");
  const std::string uri(textOf(ref ? ref : init.node, storage));
  image.uri = pathOf(uri);
  pugi::xml_node hex = init.node.child("hex");
  if (!hex) hex = element.node.child("data");
  if (hex) {
    const std::string_view text = textOf(hex, storage);
    RAKUGO_TRY(library_.take(text.size() / 2, element));
    image.bytes = std::make_shared<const base::Bytes>(hexBytes(text));
    image.uri.clear();
  } else if (image.uri.empty()) {
    library_.note("collada.image_missing", base::phrase("A picture names no file."), element);
  } else {
    image.mime = mimeOf(image.uri);
    auto got = library_.fetch()(image.uri);
    if (got)
      image.bytes = std::make_shared<const base::Bytes>(std::move(got).value());
    else
      library_.note("collada.image_missing",
                    base::phrase("The picture \"{0}\" is not there: {1}", base::presentable(image.uri, 80),
                                 got.error().message),
                    element);
  }
  const scene::ImageIndex index(out_.model.images.size());
  out_.model.images.push_back(std::move(image));
  images_[element.node.internal_object()] = index;
  return index;
}

base::Status Materials::texture(const Effect& effect, const Element& texture, scene::TextureUse& use) {
  if (!texture) return {};
  const Element& profile = effect.profile;
  const std::string name = texture.text("texture");
  // The sampler, its surface, its image; some exporters name the image at once.
  Element sampler = parameter(profile, effect.effect, name).child("sampler2D");
  Element found;
  std::string storage;
  if (sampler) {
    if (const pugi::xml_node instance = sampler.node.child("instance_image")) {
      RAKUGO_ASSIGN(found, library_.follow(sampler.with(instance), instance.attribute("url").value()));
    } else {
      const std::string surface_name(textOf(sampler.node.child("source"), storage));
      const auto trimmed = wordsOf(surface_name);
      const Element surface =
          parameter(profile, effect.effect, trimmed.empty() ? "" : trimmed[0]).child("surface");
      const auto image_name = wordsOf(textOf(surface.node.child("init_from"), storage));
      if (!image_name.empty()) found = Library::find(*texture.document, image_name[0]);
    }
  }
  if (!found) found = Library::find(*texture.document, name);
  if (!found || std::string_view(found.node.name()) != "image") {
    library_.note("collada.image_missing",
                  base::phrase("The texture \"{0}\" leads to no picture.", base::presentable(name, 60)),
                  texture);
    return {};
  }
  RAKUGO_ASSIGN(use.image, image(found));
  const auto wrap = [&](const char* key) {
    const auto words = wordsOf(textOf(sampler.node.child(key), storage));
    if (words.empty()) return scene::Wrap::repeat;
    return words[0] == "CLAMP" || words[0] == "BORDER" ? scene::Wrap::clamp
           : words[0] == "MIRROR"                      ? scene::Wrap::mirror
                                                       : scene::Wrap::repeat;
  };
  if (sampler) {
    use.wrap_u = wrap("wrap_s");
    use.wrap_v = wrap("wrap_t");
    const auto filter = wordsOf(textOf(sampler.node.child("magfilter"), storage));
    if (!filter.empty() && filter[0] == "NEAREST") use.filter = scene::Filter::nearest;
  }
  if (const auto bound = effect.binding.find(texture.text("texcoord")); bound != effect.binding.end())
    if (effect.uv_sets[0] != bound->second && effect.uv_sets[1] == bound->second) use.uv_set = 1;
  return {};
}

base::Status Materials::color(const Element& holder, glm::vec4& out, bool& given) {
  given = false;
  const Element element = holder.child("color");
  if (!element) return {};
  std::string storage;
  std::vector<float> values;
  size_t bad = 0;
  if (!readFloats(textOf(element.node, storage), values, bad) || values.size() < 3) {
    library_.note("collada.color", base::phrase("A colour is not given as red, green and blue."), element);
    return {};
  }
  for (size_t i = 0; i < std::min<size_t>(values.size(), 4); ++i)
    out[static_cast<int>(i)] = std::isfinite(values[i]) ? values[i] : 0;
  given = true;
  return {};
}

namespace {

// <float> of a shader's member, or `fallback`.
float number(const Element& shader, const char* member, float fallback) {
  std::string storage;
  std::vector<float> values;
  size_t bad = 0;
  const pugi::xml_node holder = shader.node.child(member).child("float");
  if (!holder || !readFloats(textOf(holder, storage), values, bad) || values.empty() ||
      !std::isfinite(values[0]))
    return fallback;
  return values[0];
}

}  // namespace

void Materials::opacity(const Element& shader, const glm::vec4& transparent, bool given, scene::Material& m) {
  const Element holder = shader.child("transparent");
  const float amount = number(shader, "transparency", 1);
  if (!given) {
    // Without a transparent colour the amount has no say (1.4.1, chapter 7); exporters write both 0 and 1.
    return;
  }
  const std::string mode = holder.node.attribute("opaque").as_string("A_ONE");
  const float luminance = 0.212671F * transparent.x + 0.71516F * transparent.y +
                          0.072169F * transparent.z;  // the specification's
  float alpha = 1;
  if (mode == "A_ONE") alpha = transparent.w * amount;
  if (mode == "A_ZERO") alpha = 1 - transparent.w * amount;
  if (mode == "RGB_ZERO") alpha = 1 - luminance * amount;
  if (mode == "RGB_ONE") alpha = luminance * amount;
  if (!(alpha > 0)) {
    library_.note(
        "collada.transparency",
        base::phrase("The material \"{0}\" would be wholly invisible and is taken as opaque.", m.name),
        holder);
    return;
  }
  m.base_color.w = std::min(alpha, 1.0F);
  if (alpha < 0.999F) m.alpha = scene::AlphaMode::blend;
}

base::Status Materials::technique(const Effect& effect, const Element& shader, scene::Material& m) {
  bool given = false;
  glm::vec4 value(0, 0, 0, 1);
  RAKUGO_TRY(color(shader.child("diffuse"), value, given));
  // <constant> has no diffuse; its emission is what is seen.
  if (given) m.base_color = glm::vec4(glm::vec3(value), 1);
  RAKUGO_TRY(texture(effect, shader.child("diffuse").child("texture"), m.base_color_texture));
  value = {0, 0, 0, 1};
  RAKUGO_TRY(color(shader.child("emission"), value, given));
  if (given) m.emissive = glm::vec3(value);
  RAKUGO_TRY(texture(effect, shader.child("emission").child("texture"), m.emissive_texture));
  if (m.emissive_texture.image.valid() && m.emissive == glm::vec3(0)) m.emissive = glm::vec3(1);
  m.metallic = 0;
  m.roughness = 0.8F;
  const std::string_view kind = shader.node.name();
  if (kind == "phong" || kind == "blinn") {
    const float shininess = number(shader, "shininess", 0);
    // Some write 0..1, others the exponent.
    const float exponent = shininess <= 1 ? shininess * 128 : shininess;
    m.roughness = std::sqrt(2 / (std::max(exponent, 0.0F) + 2));
  }
  if (kind == "constant") m.unlit = true;
  value = {0, 0, 0, 1};
  RAKUGO_TRY(color(shader.child("transparent"), value, given));
  opacity(shader, value, given, m);
  scene::TextureUse see_through;
  RAKUGO_TRY(texture(effect, shader.child("transparent").child("texture"), see_through));
  if (see_through.image.valid()) {
    m.alpha = scene::AlphaMode::mask;
    if (!m.base_color_texture.image.valid()) m.base_color_texture = see_through;
  }
  RAKUGO_TRY(own(effect, shader, m));
  for (const char* name : {"bump", "normalmap"})
    if (const pugi::xml_node bump = anywhere(effect.effect.node, name);
        bump && !m.normal_texture.image.valid())
      RAKUGO_TRY(texture(effect, shader.with(bump).child("texture"), m.normal_texture));
  if (const pugi::xml_node both = anywhere(effect.effect.node, "double_sided")) {
    std::string storage;
    const auto words = wordsOf(textOf(both, storage));
    m.double_sided = !words.empty() && (words[0] == "1" || words[0] == "true");
  }
  return {};
}

// What our own writer says in its technique.
base::Status Materials::own(const Effect& effect, const Element& shader, scene::Material& m) {
  const pugi::xml_node found = effect.effect.node.find_node([](const pugi::xml_node& n) {
    return std::string_view(n.name()) == "technique" &&
           std::string_view(n.attribute("profile").value()) == "rakugo";
  });
  if (!found) return {};
  const Element element = shader.with(found);
  const auto numbers = [&](const char* name, float* out, size_t count) {
    std::string storage;
    std::vector<float> values;
    size_t bad = 0;
    if (!readFloats(textOf(found.child(name), storage), values, bad) || values.size() != count) return;
    if (std::all_of(values.begin(), values.end(), [](float v) { return std::isfinite(v); }))
      std::copy(values.begin(), values.end(), out);
  };
  numbers("metallic", &m.metallic, 1);
  numbers("roughness", &m.roughness, 1);
  numbers("base_color", &m.base_color[0], 4);
  numbers("emissive", &m.emissive[0], 3);
  numbers("emissive_strength", &m.emissive_strength, 1);
  numbers("alpha_cutoff", &m.alpha_cutoff, 1);
  numbers("normal_scale", &m.normal_scale, 1);
  numbers("occlusion_strength", &m.occlusion_strength, 1);
  std::string storage;
  const auto alpha = wordsOf(textOf(found.child("alpha"), storage));
  if (!alpha.empty())
    m.alpha = alpha[0] == "mask"    ? scene::AlphaMode::mask
              : alpha[0] == "blend" ? scene::AlphaMode::blend
                                    : scene::AlphaMode::opaque;
  RAKUGO_TRY(texture(effect, element.child("base_color_picture").child("texture"), m.base_color_texture));
  RAKUGO_TRY(texture(effect, element.child("metallic_roughness_picture").child("texture"),
                     m.metallic_roughness_texture));
  return texture(effect, element.child("occlusion_picture").child("texture"), m.occlusion_texture);
}

base::Result<scene::MaterialIndex> Materials::material(const Element& element, const UvBinding& binding,
                                                       const std::array<int, 2>& uv_sets) {
  const auto known = known_.find(element.node.internal_object());
  if (known != known_.end()) return known->second;
  scene::Material m;
  m.name = nameOf(element.node);
  m.metallic = 0;
  const Element instance = element.child("instance_effect");
  RAKUGO_ASSIGN(const Element effect, library_.follow(instance ? instance : element, instance.text("url")));
  const Element profile = effect.child("profile_COMMON");
  if (profile) {
    const Element technique_element = profile.child("technique");
    bool any = false;
    for (const char* kind : {"phong", "blinn", "lambert", "constant"})
      if (const Element shader = technique_element.child(kind); shader && !any) {
        any = true;
        RAKUGO_TRY(technique({profile, effect, binding, uv_sets}, shader, m));
      }
  } else if (effect) {
    library_.note("collada.profile", base::phrase("The effect has no common profile; the material is plain."),
                  effect);
  }
  const scene::MaterialIndex index(out_.model.materials.size());
  out_.model.materials.push_back(std::move(m));
  known_[element.node.internal_object()] = index;
  return index;
}

scene::MaterialIndex Materials::plain(const std::string& symbol) {
  const auto [at, fresh] = plain_.try_emplace(symbol, out_.model.materials.size());
  if (fresh) {
    scene::Material m;
    m.name = base::presentable(symbol);
    m.metallic = 0;
    out_.model.materials.push_back(std::move(m));
  }
  return at->second;
}

}  // namespace rakugo::formats::collada
