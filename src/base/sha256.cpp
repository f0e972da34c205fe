#include "base/sha256.h"

#include <openssl/evp.h>

namespace rakugo::base {

Digest sha256(ByteSpan bytes) {
  Digest digest{};
  unsigned int length = 0;
  if (EVP_Digest(bytes.data(), bytes.size(), reinterpret_cast<unsigned char*>(digest.data()), &length,
                 EVP_sha256(), nullptr) != 1 ||
      length != digest.size())
    brokenPromise("SHA-256 is not available");
  return digest;
}

std::string hex(const Digest& digest) {
  static constexpr char kDigits[] = "0123456789abcdef";
  std::string out;
  for (std::byte b : digest) {
    out += kDigits[std::to_integer<int>(b) >> 4];
    out += kDigits[std::to_integer<int>(b) & 15];
  }
  return out;
}

}  // namespace rakugo::base
