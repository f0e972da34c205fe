#include "prepare/surface/picture_change.h"

#include <algorithm>
#include <map>
#include <mutex>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::prepare {
namespace {

using Bytes = std::shared_ptr<const base::Bytes>;

// What was made of which bytes, as long as both are held elsewhere: an edit of an earlier step replays the
// later ones, and a picture takes longer to write than all the rest.
class MadePictures {
 public:
  Bytes find(const Bytes& of, const std::string& what) {
    const std::lock_guard guard(lock_);
    const auto found = made_.find({of.get(), what});
    return found != made_.end() && found->second.of.lock() == of ? found->second.result.lock() : nullptr;
  }
  void keep(const Bytes& of, const std::string& what, const Bytes& result) {
    const std::lock_guard guard(lock_);
    std::erase_if(made_,
                  [](const auto& one) { return one.second.of.expired() || one.second.result.expired(); });
    made_[{of.get(), what}] = {of, result};
  }

 private:
  struct Made {
    std::weak_ptr<const base::Bytes> of, result;
  };
  std::mutex lock_;
  std::map<std::pair<const base::Bytes*, std::string>, Made> made_;
};

MadePictures& madePictures() {
  static MadePictures all;
  return all;
}

base::Result<Bytes> changed(const scene::Image& image, const std::string& what,
                            const std::function<void(formats::Picture&)>& change, Remembered remembered) {
  if (remembered == Remembered::yes)
    if (Bytes known = madePictures().find(image.bytes, what)) return known;
  RAKUGO_ASSIGN(formats::Picture picture,
                formats::decodePicture(*image.bytes, image.uri.empty() ? image.name : image.uri));
  change(picture);
  const auto out =
      std::make_shared<const base::Bytes>(formats::encodePng(picture, formats::PngEffort::quick));
  if (remembered == Remembered::yes) madePictures().keep(image.bytes, what, out);
  return Bytes(out);
}

bool showsElsewhere(const scene::Model& model, scene::ImageIndex image, size_t slot) {
  return std::any_of(model.materials.begin(), model.materials.end(), [&](const scene::Material& m) {
    for (size_t i = 0; i < scene::kTextureSlots.size(); ++i)
      if (i != slot && (m.*scene::kTextureSlots[i].use).image == image) return true;
    return false;
  });
}

// A name of its own for a picture that is written as PNG now: files of one name would overwrite each other.
std::string ownUri(const scene::Model& model, const scene::Image& mine, const char* slot) {
  if (mine.uri.empty()) return {};
  const size_t dot = mine.uri.find_last_of('.'), slash = mine.uri.find_last_of('/');
  const bool ends = dot != std::string::npos && (slash == std::string::npos || dot > slash);
  const std::string stem = ends ? mine.uri.substr(0, dot) : mine.uri;
  const auto free = [&](const std::string& uri) {
    return std::none_of(model.images.begin(), model.images.end(),
                        [&](const scene::Image& one) { return &one != &mine && one.uri == uri; });
  };
  std::string out = stem + ".png";
  if (!free(out)) out = stem + "-" + base::slug(slot) + ".png";
  for (int n = 2; !free(out); ++n) out = stem + "-" + base::slug(slot) + "-" + std::to_string(n) + ".png";
  return out;
}

}  // namespace

base::Status changePicture(scene::Model& model, scene::MaterialIndex material, size_t slot,
                           const std::string& what,
                           const std::function<void(formats::Picture& picture)>& change,
                           Remembered remembered) {
  const auto use = scene::kTextureSlots[slot].use;
  const scene::ImageIndex image = (model.materials[material.value()].*use).image;
  if (!image.valid() || !model.images[image.value()].bytes)
    return base::Error{"picture.none", base::phrase("There is no picture to change."), {}, {}};
  RAKUGO_ASSIGN(Bytes bytes, changed(model.images[image.value()], what, change, remembered));
  scene::ImageIndex to = image;
  if (showsElsewhere(model, image, slot)) {
    to = scene::ImageIndex(model.images.size());
    model.images.push_back(model.images[image.value()]);
    for (scene::Material& m : model.materials)
      if ((m.*use).image == image) (m.*use).image = to;
  }
  scene::Image& mine = model.images[to.value()];
  mine.bytes = std::move(bytes);
  mine.mime = "image/png";
  mine.uri = ownUri(model, mine, scene::kTextureSlots[slot].name);
  return {};
}

}  // namespace rakugo::prepare
