#include "texture/astc.h"

#define ASTCENC_DYNAMIC_LIBRARY 1  // as Debian builds it: names as in C
#include <astcenc.h>

#include <memory>
#include <thread>

#include "base/jobs.h"
#include "base/result.h"

namespace rakugo::texture {
namespace {

struct Freed {
  void operator()(astcenc_context* context) const { astcenc_context_free(context); }
};
using Context = std::unique_ptr<astcenc_context, Freed>;

void hold(astcenc_error error) {
  if (error != ASTCENC_SUCCESS) base::brokenPromise("ASTC", astcenc_get_error_string(error));
}

// Of as many threads as there are pieces of work; what comes out does not depend on their number.
Context contextFor(bundle::PixelFormat format, bool srgb, float quality, unsigned flags, unsigned threads) {
  const bundle::PixelFormatRow& row = bundle::rowOf(format);
  astcenc_config config{};
  hold(astcenc_config_init(srgb ? ASTCENC_PRF_LDR_SRGB : ASTCENC_PRF_LDR, row.block_width, row.block_height,
                           1, quality, flags, &config));
  astcenc_context* made = nullptr;
  hold(astcenc_context_alloc(&config, threads, &made));
  return Context(made);
}

constexpr astcenc_swizzle kAsStored{ASTCENC_SWZ_R, ASTCENC_SWZ_G, ASTCENC_SWZ_B, ASTCENC_SWZ_A};

unsigned threadsFor(uint32_t width, uint32_t height) {
  constexpr uint64_t kSmall = 128 * 128;
  return uint64_t{width} * height <= kSmall ? 1 : std::max(1U, std::thread::hardware_concurrency());
}

}  // namespace

base::Bytes encodeAstc(base::ByteSpan pixels, uint32_t width, uint32_t height, bundle::PixelFormat format,
                       bool srgb, bool quick) {
  const unsigned threads = threadsFor(width, height);
  const Context context = contextFor(format, srgb, quick ? ASTCENC_PRE_FAST : ASTCENC_PRE_MEDIUM, 0, threads);
  base::Bytes out(bundle::levelBytes(format, width, height));
  void* slice = const_cast<std::byte*>(pixels.data());  // the library only reads it
  astcenc_image image{width, height, 1, ASTCENC_TYPE_U8, &slice};
  base::parallelFor(threads, [&](size_t i) {
    hold(astcenc_compress_image(context.get(), &image, &kAsStored, reinterpret_cast<uint8_t*>(out.data()),
                                out.size(), static_cast<unsigned>(i)));
  });
  return out;
}

base::Bytes decodeAstc(base::ByteSpan level, uint32_t width, uint32_t height, bundle::PixelFormat format,
                       bool srgb) {
  const unsigned threads = threadsFor(width, height);
  const Context context = contextFor(format, srgb, ASTCENC_PRE_MEDIUM, ASTCENC_FLG_DECOMPRESS_ONLY, threads);
  base::Bytes out(size_t{width} * height * 4);
  void* slice = out.data();
  astcenc_image image{width, height, 1, ASTCENC_TYPE_U8, &slice};
  base::parallelFor(threads, [&](size_t i) {
    hold(astcenc_decompress_image(context.get(), reinterpret_cast<const uint8_t*>(level.data()),
                                  bundle::levelBytes(format, width, height), &image, &kAsStored,
                                  static_cast<unsigned>(i)));
  });
  return out;
}

}  // namespace rakugo::texture
