#include "base/phrase.h"
#include "formats/pictures/picture_formats.h"

#include <csetjmp>
#include <cstdio>
#include <cstring>
#include <memory>

#include <jpeglib.h>

namespace rakugo::formats {
namespace {

bool isJpeg(base::ByteSpan b) {
  return b.size() >= 3 && (base::loadAt<uint16_t>(b, 0) == 0xD8FF) && b[2] == std::byte{0xFF};
}

// libjpeg reports errors by calling back; the only way out of it is longjmp. All C++ objects live outside its
// reach.
struct JpegErrors {
  jpeg_error_mgr manager;
  std::jmp_buf jump;
  char message[JMSG_LENGTH_MAX];
};

void jpegFailed(j_common_ptr info) {
  auto* errors = reinterpret_cast<JpegErrors*>(info->err);
  info->err->format_message(info, errors->message);
  std::longjmp(errors->jump, 1);
}

struct JpegResult {
  uint32_t width = 0, height = 0;
  unsigned char* pixels = nullptr;  // malloc
  bool ok = false;
  bool too_large = false;
};

// Plain C inside: nothing here has a destructor that longjmp would skip.
void readJpeg(const unsigned char* bytes, unsigned long size, bool pixels_too, uint32_t most_side,
              uint64_t most_pixels, JpegErrors* errors, JpegResult* out) {
  jpeg_decompress_struct info;
  std::memset(&info, 0, sizeof info);
  info.err = jpeg_std_error(&errors->manager);
  errors->manager.error_exit = jpegFailed;
  errors->manager.output_message = [](j_common_ptr) {};
  if (setjmp(errors->jump) != 0) {
    jpeg_destroy_decompress(&info);
    std::free(out->pixels);
    out->pixels = nullptr;
    return;
  }
  jpeg_create_decompress(&info);
  jpeg_mem_src(&info, bytes, size);
  jpeg_read_header(&info, TRUE);
  out->width = info.image_width;
  out->height = info.image_height;
  if (out->width > most_side || out->height > most_side || uint64_t{out->width} * out->height > most_pixels) {
    out->too_large = true;
  } else if (pixels_too) {
    info.out_color_space = JCS_EXT_RGBA;
    jpeg_start_decompress(&info);
    out->pixels = static_cast<unsigned char*>(std::calloc(size_t{out->width} * out->height, 4));
    while (out->pixels != nullptr && info.output_scanline < info.output_height) {
      unsigned char* row = out->pixels + size_t{info.output_scanline} * out->width * 4;
      jpeg_read_scanlines(&info, &row, 1);
    }
    out->ok = out->pixels != nullptr;
    if (out->ok) jpeg_finish_decompress(&info);
  } else {
    out->ok = true;
  }
  jpeg_destroy_decompress(&info);
}

base::Result<Picture> jpeg(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                           const base::Limits& limits) {
  auto errors = std::make_unique<JpegErrors>();
  JpegResult result;
  readJpeg(reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size(), pixels_too,
           limits.picture_side, limits.picture_pixels, errors.get(), &result);
  const std::unique_ptr<unsigned char, decltype(&std::free)> owner(result.pixels, &std::free);
  if (result.too_large) RAKUGO_TRY(checkPictureSize(result.width, result.height, name, limits));
  if (!result.ok) return damagedPicture(name, errors->message);
  Picture out{result.width, result.height, {}};
  if (pixels_too) {
    const base::ByteSpan span(reinterpret_cast<const std::byte*>(result.pixels),
                              size_t{result.width} * result.height * 4);
    out.pixels.assign(span.begin(), span.end());
  }
  return out;
}

struct Format {
  const char* name;
  bool (*is)(base::ByteSpan);
  base::Result<Picture> (*read)(base::ByteSpan, const std::string&, bool, const base::Limits&);
};
// TGA last: it has no mark, and a header that could be one begins many a file.
constexpr Format kFormats[] = {{"PNG", isPng, readPng},    {"JPEG", isJpeg, jpeg},
                               {"WebP", isWebp, readWebp}, {"KTX2", isKtx2, readKtx2},
                               {"DDS", isDds, readDds},    {"TGA", isTga, readTga}};

const Format* formatOf(base::ByteSpan bytes) {
  for (const Format& f : kFormats)
    if (f.is(bytes)) return &f;
  return nullptr;
}

base::Error unknown(const std::string& name) {
  return {"picture.unknown_format", base::phrase("This is no picture that Rakugo reads."), base::Place{name},
          base::phrase("Save it as PNG, JPEG, TGA, WebP, KTX2 or DDS.")};
}

}  // namespace

base::Error damagedPicture(const std::string& name, const std::string& why) {
  return {"picture.damaged", base::phrase("The picture is damaged: {0}.", why), base::Place{name},
          base::phrase("Save or download it again.")};
}

base::Status checkPictureSize(uint64_t width, uint64_t height, const std::string& name,
                              const base::Limits& limits) {
  if (width == 0 || height == 0 || width > limits.picture_side || height > limits.picture_side ||
      width * height > limits.picture_pixels)
    return base::Error{"picture.too_large",
                       base::phrase("The picture is {0} x {1}, larger than Rakugo reads.", width, height),
                       base::Place{name}, base::phrase("Save it smaller.")};
  return {};
}

base::Result<PictureInfo> pictureInfo(base::ByteSpan bytes, const std::string& name,
                                      const base::Limits& limits) {
  const Format* format = formatOf(bytes);
  if (format == nullptr) return unknown(name);
  RAKUGO_ASSIGN(const Picture picture, format->read(bytes, name, false, limits));
  return PictureInfo{picture.width, picture.height, format->name};
}

base::Result<Picture> decodePicture(base::ByteSpan bytes, const std::string& name,
                                    const base::Limits& limits) {
  const Format* format = formatOf(bytes);
  if (format == nullptr) return unknown(name);
  return format->read(bytes, name, true, limits);
}

std::string mediaTypeOf(base::ByteSpan bytes) {
  static const std::pair<const char*, const char*> kTypes[] = {{"PNG", "image/png"},
                                                               {"JPEG", "image/jpeg"},
                                                               {"WebP", "image/webp"},
                                                               {"KTX2", "image/ktx2"},
                                                               {"DDS", "image/vnd-ms.dds"}};
  if (const Format* format = formatOf(bytes))
    for (const auto& [name, type] : kTypes)
      if (std::string_view(format->name) == name) return type;
  return {};
}

const std::vector<std::string>& pictureEndings() {
  static const std::vector<std::string> kEndings = {"png", "jpg", "jpeg", "webp", "ktx2", "dds", "tga"};
  return kEndings;
}

}  // namespace rakugo::formats
