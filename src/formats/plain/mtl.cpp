#include "formats/plain/mtl.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/text/numbers.h"
#include "formats/text/text_encoding.h"
#include "formats/text/words.h"

namespace rakugo::formats {
namespace {

class MtlReader {
 public:
  MtlReader(const std::string& name, std::map<std::string, scene::Material>& materials,
            std::vector<scene::Image>& images, std::vector<base::Note>& notes)
      : name_(name), materials_(materials), images_(images), notes_(notes) {}

  void line(std::string_view text, int number) {
    line_ = number;
    const std::string what = base::lowerAscii(nextWord(text));
    text = trimmed(text);
    if (what.empty() || what[0] == '#') return;
    if (what == "newmtl") return begin(text);
    if (now_ == nullptr) return;
    if (what == "kd") {
      color(text, [this](glm::vec3 c) { now_->base_color = glm::vec4(c, now_->base_color.w); });
    } else if (what == "ke") {
      color(text, [this](glm::vec3 c) { now_->emissive = c; });
    } else if (what == "d" || what == "tr") {
      // "d -halo factor" is a fog of old renderers; its factor is the same number.
      if (text.substr(0, 5) == "-halo") text = trimmed(text.substr(5));
      if (float v = 0; take(text, v)) opacity(what == "d" ? v : 1 - v);
    } else if (what == "ns") {
      if (float v = 0; take(text, v) && !rough_given_)
        now_->roughness = std::sqrt(2 / (std::max(v, 0.0F) + 2));
    } else if (what == "pr") {
      if (take(text, now_->roughness)) rough_given_ = true;
    } else if (what == "pm") {
      (void)take(text, now_->metallic);
    } else if (what.rfind("map_", 0) == 0 || what == "bump" || what == "norm" || what == "disp" ||
               what == "refl") {
      map(what, text);
    }
    // Ambient and specular colours, optical density and the illumination model belong to another way of
    // shading.
  }

 private:
  void begin(std::string_view text) {
    rough_given_ = false;
    const std::string name(text.empty() ? "material" : std::string(text));
    const auto [at, fresh] = materials_.try_emplace(name);
    now_ = fresh ? &at->second : nullptr;
    if (!fresh) return;
    now_->name = name;
    now_->metallic = 0;
    now_->roughness = 0.8F;
  }

  static bool take(std::string_view text, float& out) {
    const std::string_view word = nextWord(text);
    float read = 0;
    if (readFloat(word.data(), word.data() + word.size(), read) == nullptr || !std::isfinite(read))
      return false;
    out = read;
    return true;
  }

  template <class Set>
  void color(std::string_view text, Set set) {
    glm::vec3 c(0);
    int count = 0;
    while (count < 3 && take(text, c[count])) {
      nextWord(text);
      ++count;
    }
    if (count == 0) return note(base::phrase("A colour is not given as red, green and blue."));
    // One number stands for all three.
    for (; count < 3; ++count) c[count] = c[0];
    set(c);
  }

  void opacity(float value) {
    now_->base_color.w = std::clamp(value, 0.0F, 1.0F);
    now_->alpha = now_->base_color.w < 1 ? scene::AlphaMode::blend : scene::AlphaMode::opaque;
  }

  // Options before the name: how many words follow each.
  static int wordsOf(const std::string& option) {
    if (option == "-o" || option == "-s" || option == "-t") return 3;
    if (option == "-mm") return 2;
    for (const char* one : {"-blendu", "-blendv", "-boost", "-texres", "-clamp", "-bm", "-imfchan", "-type",
                            "-cc", "-colorspace"})
      if (option == one) return 1;
    return -1;
  }

  void map(const std::string& what, std::string_view text) {
    scene::TextureUse use;
    glm::vec2 offset(0), scale(1);
    bool turbulent = false;
    while (!text.empty() && text.front() == '-') {
      std::string_view rest = text;
      const std::string option = base::lowerAscii(nextWord(rest));
      int words = wordsOf(option);
      if (words < 0) break;  // a file whose name begins with a dash
      // Scale and offset may be given for the first axes only.
      for (int axis = 0; axis < words; ++axis) {
        std::string_view after = rest;
        const std::string word(nextWord(after));
        float v = 0;
        const bool number = take(word, v);
        if (axis > 0 && !number) break;
        if (option == "-clamp" && base::lowerAscii(word) == "on")
          use.wrap_u = use.wrap_v = scene::Wrap::clamp;
        if (number && axis < 2 && option == "-o") offset[axis] = v;
        if (number && axis < 2 && option == "-s") scale[axis] = v;
        rest = after;
      }
      turbulent = turbulent || option == "-t";
      text = trimmed(rest);
    }
    if (text.empty()) return note(base::phrase("A map names no picture."));
    if (turbulent)
      note(base::phrase("The picture {0} is stirred by its map (-t); that is left out.",
                        base::presentable(text, 80)));
    // A library counts from the picture's lower edge: scale * (1 - v) + offset there is this from the upper
    // one.
    if (offset != glm::vec2(0) || scale != glm::vec2(1)) {
      use.scale = scale;
      use.offset = {offset.x, 1 - scale.y - offset.y};
    }
    use.image = image(std::string(text));
    scene::TextureUse* slot = nullptr;
    if (what == "map_kd") slot = &now_->base_color_texture;
    if (what == "map_ke") slot = &now_->emissive_texture;
    if (what == "map_bump" || what == "bump" || what == "norm") slot = &now_->normal_texture;
    if (what == "map_pr" || what == "map_pm") slot = &now_->metallic_roughness_texture;
    if (what == "map_d") {
      // A picture's own opacity counts as long as it is the colour's picture too.
      now_->alpha = scene::AlphaMode::mask;
      if (!now_->base_color_texture.image.valid()) now_->base_color_texture = use;
      return;
    }
    if (slot == nullptr) return note(base::phrase("The map {0} has no counterpart and is left out.", what));
    if (what == "map_ke" && now_->emissive == glm::vec3(0)) now_->emissive = glm::vec3(1);
    *slot = use;
  }

  scene::ImageIndex image(std::string path) {
    std::replace(path.begin(), path.end(), '\\', '/');
    while (path.rfind("./", 0) == 0) path.erase(0, 2);
    for (size_t i = 0; i < images_.size(); ++i)
      if (images_[i].uri == path) return scene::ImageIndex(i);
    const size_t slash = path.rfind('/');
    images_.push_back({path.substr(slash == std::string::npos ? 0 : slash + 1), path, "", nullptr});
    return scene::ImageIndex(images_.size() - 1);
  }

  void note(const std::string& message) {
    if (notes_.size() < 40) notes_.push_back({"mtl.statement", message, base::Place{name_, "", -1, line_}});
  }

  const std::string& name_;
  std::map<std::string, scene::Material>& materials_;
  std::vector<scene::Image>& images_;
  std::vector<base::Note>& notes_;
  scene::Material* now_ = nullptr;
  bool rough_given_ = false;
  int line_ = 0;
};

}  // namespace

void readMtl(base::ByteSpan bytes, const std::string& name, std::map<std::string, scene::Material>& materials,
             std::vector<scene::Image>& images, std::vector<base::Note>& notes) {
  std::string storage;
  auto text = asUtf8(bytes, storage);
  if (!text)
    return notes.push_back(
        {"mtl.encoding", base::phrase("The material library is cut off."), base::Place{name}});
  MtlReader reader(name, materials, images, notes);
  int number = 0;
  while (!text->empty()) reader.line(nextLine(*text), ++number);
}

}  // namespace rakugo::formats
