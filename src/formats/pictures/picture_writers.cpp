// Pictures out: TGA by hand, JPEG and WebP by their libraries. (PNG: pictures_png.cpp)
#include <jpeglib.h>
#include <webp/encode.h>
#include <csetjmp>
#include <cstdio>

#include "base/phrase.h"
#include "formats/pictures/picture_formats.h"

namespace rakugo::formats {
namespace {

base::Error tooLargeFor(const char* format, uint32_t most) {
  return {"picture.too_large",
          base::phrase("{0} holds sides of at most {1} pixels.", format, most),
          {},
          base::phrase("Resize the picture, or choose another format.")};
}

// Truevision TGA 2.0, type 2: 32 bits a pixel, from the top left.
base::Result<base::Bytes> encodeTga(const Picture& picture) {
  constexpr uint32_t kMost = 65535;
  if (picture.width > kMost || picture.height > kMost) return tooLargeFor("TGA", kMost);
  base::Bytes out(18);
  const auto put = [&](size_t at, uint32_t value) { out[at] = static_cast<std::byte>(value); };
  put(2, 2);
  put(12, picture.width & 255), put(13, picture.width >> 8);
  put(14, picture.height & 255), put(15, picture.height >> 8);
  put(16, 32);
  put(17, 0x28);  // eight bits of alpha; the first row is the top one
  out.reserve(out.size() + picture.pixels.size());
  for (size_t i = 0; i + 3 < picture.pixels.size(); i += 4)
    for (const size_t c : {size_t{2}, size_t{1}, size_t{0}, size_t{3}}) out.push_back(picture.pixels[i + c]);
  return out;
}

struct JpegFault {
  jpeg_error_mgr base;
  std::jmp_buf leave;
};

// Leaves by `longjmp` where libjpeg gives up: no object with a destructor may live in here.
bool compressJpeg(const uint8_t* pixels, uint32_t width, uint32_t height, uint8_t* row, unsigned char** out,
                  unsigned long* size) {
  jpeg_compress_struct jpeg;
  JpegFault fault;
  jpeg.err = jpeg_std_error(&fault.base);
  fault.base.error_exit = [](j_common_ptr info) {
    std::longjmp(reinterpret_cast<JpegFault*>(info->err)->leave, 1);
  };
  fault.base.output_message = [](j_common_ptr) {};
  if (setjmp(fault.leave) != 0) {
    jpeg_destroy_compress(&jpeg);
    return false;
  }
  jpeg_create_compress(&jpeg);
  jpeg_mem_dest(&jpeg, out, size);
  jpeg.image_width = width;
  jpeg.image_height = height;
  jpeg.input_components = 3;
  jpeg.in_color_space = JCS_RGB;
  jpeg_set_defaults(&jpeg);
  jpeg_set_quality(&jpeg, 92, TRUE);
  jpeg.comp_info[0].h_samp_factor = jpeg.comp_info[0].v_samp_factor = 1;  // colour as fine as light
  jpeg_start_compress(&jpeg, TRUE);
  while (jpeg.next_scanline < height) {
    const uint8_t* from = pixels + size_t{jpeg.next_scanline} * width * 4;
    for (uint32_t x = 0; x < width; ++x)
      for (size_t c = 0; c < 3; ++c) row[x * 3 + c] = from[x * 4 + c];
    JSAMPROW rows[1] = {row};
    jpeg_write_scanlines(&jpeg, rows, 1);
  }
  jpeg_finish_compress(&jpeg);
  jpeg_destroy_compress(&jpeg);
  return true;
}

base::Result<base::Bytes> encodeJpeg(const Picture& picture) {
  constexpr uint32_t kMost = 65500;
  if (picture.width > kMost || picture.height > kMost) return tooLargeFor("JPEG", kMost);
  std::vector<uint8_t> row(size_t{picture.width} * 3);
  unsigned char* made = nullptr;
  unsigned long size = 0;
  const bool good = compressJpeg(reinterpret_cast<const uint8_t*>(picture.pixels.data()), picture.width,
                                 picture.height, row.data(), &made, &size);
  base::Bytes out;
  if (good)
    out.assign(reinterpret_cast<const std::byte*>(made), reinterpret_cast<const std::byte*>(made) + size);
  free(made);  // NOLINT: libjpeg's
  if (!good)
    return base::Error{
        "picture.failed", base::phrase("The picture cannot be written as {0}.", "JPEG"), {}, {}};
  return out;
}

base::Result<base::Bytes> encodeWebp(const Picture& picture) {
  constexpr uint32_t kMost = WEBP_MAX_DIMENSION;
  if (picture.width > kMost || picture.height > kMost) return tooLargeFor("WebP", kMost);
  WebPConfig config;
  WebPPicture made;
  const base::Error failed{
      "picture.failed", base::phrase("The picture cannot be written as {0}.", "WebP"), {}, {}};
  if (WebPConfigInit(&config) == 0 || WebPPictureInit(&made) == 0) return failed;
  config.lossless = 1;
  config.exact = 1;  // colours of transparent pixels stay: filters mix them in
  made.use_argb = 1;
  made.width = static_cast<int>(picture.width);
  made.height = static_cast<int>(picture.height);
  WebPMemoryWriter writer;
  WebPMemoryWriterInit(&writer);
  made.writer = WebPMemoryWrite;
  made.custom_ptr = &writer;
  const bool good = WebPPictureImportRGBA(&made, reinterpret_cast<const uint8_t*>(picture.pixels.data()),
                                          made.width * 4) != 0 &&
                    WebPEncode(&config, &made) != 0;
  base::Bytes out;
  if (good) {
    const auto* bytes = reinterpret_cast<const std::byte*>(writer.mem);
    out.assign(bytes, bytes + writer.size);
  }
  WebPPictureFree(&made);
  WebPMemoryWriterClear(&writer);
  if (!good) return failed;
  return out;
}

}  // namespace

const std::vector<std::string>& writtenPictureFormats() {
  static const std::vector<std::string> kAll = {"png", "jpg", "tga", "webp"};
  return kAll;
}

base::Result<base::Bytes> encodePicture(const Picture& picture, const std::string& format) {
  if (picture.width == 0 || picture.height == 0)
    return base::Error{"picture.failed", base::phrase("A picture of no pixels cannot be written."), {}, {}};
  if (format == "png") return encodePng(picture);
  if (format == "jpg" || format == "jpeg") return encodeJpeg(picture);
  if (format == "tga") return encodeTga(picture);
  if (format == "webp") return encodeWebp(picture);
  return base::Error{"picture.unknown_format",
                     base::phrase("Rakugo writes no pictures as {0}.", base::presentable(format, 20)),
                     {},
                     base::phrase("Choose one of {0}.", base::listText(writtenPictureFormats()))};
}

}  // namespace rakugo::formats
