// Text of model files in the encodings people's programs write.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "base/bytes.h"

namespace rakugo::formats {

/// The bytes as UTF-8 without a mark: UTF-16 of either order is changed into it when it has a mark, or when
/// its zeros give it away; everything else is taken as it is. `storage` holds what had to be made. Nothing
/// when UTF-16 is cut in the middle of a unit.
std::optional<std::string_view> asUtf8(base::ByteSpan bytes, std::string& storage);

}  // namespace rakugo::formats
