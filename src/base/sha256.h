// SHA-256 (FIPS 180-4), through OpenSSL.
#pragma once

#include <array>
#include <cstddef>
#include <string>

#include "base/bytes.h"

namespace rakugo::base {

using Digest = std::array<std::byte, 32>;

/// The digest of `bytes`. Cost: one pass.
Digest sha256(ByteSpan bytes);
/// 64 lower-case hexadecimal digits.
std::string hex(const Digest& digest);

}  // namespace rakugo::base
