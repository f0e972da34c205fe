#include "texture/dds.h"

#include "base/phrase.h"

namespace rakugo::texture {

base::Result<base::Bytes> encodeDds(const bundle::Ktx2Picture& picture) {
  const bundle::PixelFormatRow& row = bundle::rowOf(picture.format);
  const uint32_t number = picture.srgb ? row.dxgi_srgb : row.dxgi;
  if (number == 0)
    return base::Error{"picture.unknown_format",
                       base::phrase("DDS has no number for {0}.", std::string(row.title)),
                       {},
                       base::phrase("Write KTX2, or take another format.")};
  constexpr uint32_t kCaps = 1, kHeight = 2, kWidth = 4, kPitch = 8, kPixelFormat = 0x1000, kLevels = 0x20000,
                     kLinearSize = 0x80000;
  constexpr uint32_t kComplex = 8, kTexture = 0x1000, kMipmap = 0x400000, kFourCc = 4, kTexture2d = 3;
  const bool blocks = row.block_width > 1;
  const auto levels = static_cast<uint32_t>(picture.levels.size());
  base::ByteWriter out;
  out.bytes(base::asBytes("DDS "));
  out.write<uint32_t>(124);
  out.write<uint32_t>(kCaps | kHeight | kWidth | kPixelFormat | kLevels | (blocks ? kLinearSize : kPitch));
  out.write<uint32_t>(picture.height);
  out.write<uint32_t>(picture.width);
  out.write<uint32_t>(blocks ? static_cast<uint32_t>(picture.levels.at(0).size()) : picture.width * 4);
  out.write<uint32_t>(0);  // depth
  out.write<uint32_t>(levels);
  out.zeros(44);
  out.write<uint32_t>(32);
  out.write<uint32_t>(kFourCc);
  out.bytes(base::asBytes("DX10"));
  out.zeros(20);
  out.write<uint32_t>(levels > 1 ? kTexture | kComplex | kMipmap : kTexture);
  out.zeros(16);
  out.write<uint32_t>(number);
  out.write<uint32_t>(kTexture2d);
  out.write<uint32_t>(0);  // no cube
  out.write<uint32_t>(1);  // one texture
  out.write<uint32_t>(1);  // straight alpha
  for (const base::Bytes& level : picture.levels) out.bytes(level);
  return out.take();
}

}  // namespace rakugo::texture
