// How much of a thing is drawn.
#pragma once

namespace rakugo::render {

/// All of it; its lines and a breath of its surface over what is behind; or nothing.
enum class Presence : unsigned char { whole, through, hidden };

}  // namespace rakugo::render
