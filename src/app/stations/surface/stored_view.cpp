#include "app/stations/surface/stored_view.h"

#include "texture/block_decoder.h"
#include "texture/block_encoder.h"

namespace rakugo::app {
namespace {

unsigned channelsThatCount(rulebook::PictureRole role, bundle::PixelFormat format) {
  using rulebook::PictureRole;
  if (role == PictureRole::gray) return texture::kRed;
  if (role == PictureRole::normal && bundle::rowOf(format).channels == 2) return texture::kRedGreen;
  return role == PictureRole::color_alpha || role == PictureRole::pixels ? texture::kColorAlpha
                                                                         : texture::kColor;
}

}  // namespace

std::shared_ptr<const StoredView> storedView(const base::Bytes& bytes, const packing::PictureStoring& how,
                                             rulebook::PictureRole role, bool for_target,
                                             base::Progress& progress) {
  const auto picture = formats::decodePicture(bytes, "picture");
  if (!picture || progress.cancelled()) return nullptr;
  auto plain = std::make_shared<const bundle::Ktx2Picture>(packing::plainLevels(*picture, how));
  if (progress.cancelled()) return nullptr;
  auto out = std::make_shared<StoredView>();
  if (!for_target) {
    out->plain = std::move(plain);
    return out;
  }
  const bundle::Ktx2Picture stored = texture::encodedPicture(*plain, how.format);
  out->format = how.format;
  for (const base::Bytes& level : stored.levels) out->bytes += level.size();
  auto back = std::make_shared<const bundle::Ktx2Picture>(texture::plainPicture(stored));
  out->quality = texture::pictureQuality(plain->levels[0], back->levels[0], plain->width, plain->height,
                                         channelsThatCount(role, how.format));
  out->plain = std::move(plain);
  out->stored = std::move(back);
  return out;
}

}  // namespace rakugo::app
