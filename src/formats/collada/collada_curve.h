// Curves of COLLADA's animation samplers. Private to this library.
#pragma once

#include <optional>

#include "formats/collada/collada_document.h"

namespace rakugo::formats::collada {

/// Keys of one sampler: `width` numbers a key.
struct Curve {
  enum class Way : unsigned char { step, linear, bezier, hermite };
  std::vector<float> times_s;
  std::vector<Way> ways;  ///< of the stretch that begins at each key
  Numbers values, in, out;
  size_t width = 1;

  /// The number `component` at a time; before the first and after the last key theirs.
  [[nodiscard]] float at(float time_s, size_t component) const;
  /// Whether every stretch is held.
  [[nodiscard]] bool held() const;
};

/// Reads a <sampler>; nothing, with a note, when its times are none. Errors: collada.source, collada.number.
base::Result<std::optional<Curve>> readCurve(Library& library, const Element& sampler);

}  // namespace rakugo::formats::collada
