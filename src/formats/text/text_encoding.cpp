#include "formats/text/text_encoding.h"

namespace rakugo::formats {
namespace {

void append(std::string& out, uint32_t code) {
  const auto put = [&](uint32_t byte) { out += static_cast<char>(byte); };
  if (code < 0x80) {
    put(code);
  } else if (code < 0x800) {
    put(0xC0 | (code >> 6));
    put(0x80 | (code & 0x3F));
  } else if (code < 0x10000) {
    put(0xE0 | (code >> 12));
    put(0x80 | ((code >> 6) & 0x3F));
    put(0x80 | (code & 0x3F));
  } else {
    put(0xF0 | (code >> 18));
    put(0x80 | ((code >> 12) & 0x3F));
    put(0x80 | ((code >> 6) & 0x3F));
    put(0x80 | (code & 0x3F));
  }
}

}  // namespace

std::optional<std::string_view> asUtf8(base::ByteSpan bytes, std::string& storage) {
  const auto byte = [&](size_t i) { return std::to_integer<uint32_t>(bytes[i]); };
  const size_t n = bytes.size();
  if (n >= 3 && byte(0) == 0xEF && byte(1) == 0xBB && byte(2) == 0xBF) return base::asText(bytes.subspan(3));
  bool wide = false, big = false;
  size_t at = 0;
  if (n >= 2 && ((byte(0) == 0xFF && byte(1) == 0xFE) || (byte(0) == 0xFE && byte(1) == 0xFF))) {
    wide = true;
    big = byte(0) == 0xFE;
    at = 2;
  } else if (n >= 4 && byte(0) != 0 && byte(1) == 0 && byte(2) != 0 && byte(3) == 0) {
    wide = true;
  } else if (n >= 4 && byte(0) == 0 && byte(1) != 0 && byte(2) == 0 && byte(3) != 0) {
    wide = big = true;
  }
  if (!wide) return base::asText(bytes);
  if ((n - at) % 2 != 0) return std::nullopt;
  storage.clear();
  storage.reserve(n / 2);
  const auto unit = [&](size_t i) { return big ? byte(i) << 8 | byte(i + 1) : byte(i + 1) << 8 | byte(i); };
  for (; at < n; at += 2) {
    uint32_t code = unit(at);
    if (code >= 0xD800 && code < 0xDC00 && at + 2 < n && unit(at + 2) >= 0xDC00 && unit(at + 2) < 0xE000) {
      code = 0x10000 + ((code - 0xD800) << 10) + (unit(at + 2) - 0xDC00);
      at += 2;
    } else if (code >= 0xD800 && code < 0xE000) {
      code = 0xFFFD;  // half a pair
    }
    append(storage, code);
  }
  return storage;
}

}  // namespace rakugo::formats
