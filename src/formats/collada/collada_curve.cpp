#include "formats/collada/collada_curve.h"
#include "base/phrase.h"

#include <algorithm>
#include <cmath>

namespace rakugo::formats::collada {
namespace {

float cubic(float a, float b, float c, float d, float s) {
  const float r = 1 - s;
  return r * r * r * a + 3 * r * r * s * b + 3 * r * s * s * c + s * s * s * d;
}

// Where on a Bezier curve from 0 to 1, with inner points `b` and `c`, x is reached: bisection, for the curve
// need not be steep anywhere.
float parameterAt(float b, float c, float x) {
  b = std::clamp(b, 0.0F, 1.0F);
  c = std::clamp(c, 0.0F, 1.0F);
  float low = 0, high = 1;
  for (int i = 0; i < 30; ++i) {
    const float middle = (low + high) / 2;
    (cubic(0, b, c, 1, middle) < x ? low : high) = middle;
  }
  return (low + high) / 2;
}

// A tangent's point: its time, and its value for a component. Layouts in use: a pair for each component, one
// time for all, and values alone, whose times are the thirds.
struct Tangent {
  std::optional<float> time;
  float value = 0;
};
std::optional<Tangent> tangentAt(const Numbers& numbers, size_t key, size_t component, size_t width) {
  if (!numbers.values || key >= numbers.count) return std::nullopt;
  const size_t wide = numbers.components.size();
  if (wide >= width * 2) return Tangent{numbers.at(key, component * 2), numbers.at(key, component * 2 + 1)};
  if (wide == width + 1) return Tangent{numbers.at(key, 0), numbers.at(key, component + 1)};
  if (wide >= width) return Tangent{std::nullopt, numbers.at(key, component)};
  return std::nullopt;
}

}  // namespace

bool Curve::held() const {
  return std::all_of(ways.begin(), ways.end(), [](Way w) { return w == Way::step; });
}

float Curve::at(float time_s, size_t component) const {
  const auto after =
      static_cast<size_t>(std::upper_bound(times_s.begin(), times_s.end(), time_s) - times_s.begin());
  if (after == 0) return values.at(0, component);
  const size_t key = after - 1;
  const float from = values.at(key, component);
  if (after == times_s.size() || ways[key] == Way::step) return from;
  const float to = values.at(after, component), begin = times_s[key], length = times_s[after] - begin;
  if (!(length > 0)) return from;
  const float s = (time_s - begin) / length;
  if (ways[key] == Way::linear) return from + (to - from) * s;
  const auto leave = tangentAt(out, key, component, width), arrive = tangentAt(in, after, component, width);
  float b = from + (to - from) / 3, c = to - (to - from) / 3, b_time = 1.0F / 3, c_time = 2.0F / 3;
  if (ways[key] == Way::hermite) {
    // A Hermite tangent is three times the way to the Bezier point (1.4.1, section 4, curve interpolation).
    if (leave) b = from + leave->value / 3;
    if (arrive) c = to - arrive->value / 3;
    if (leave && leave->time) b_time = *leave->time / 3 / length;
    if (arrive && arrive->time) c_time = 1 - *arrive->time / 3 / length;
  } else {
    if (leave) b = leave->value;
    if (arrive) c = arrive->value;
    if (leave && leave->time) b_time = (*leave->time - begin) / length;
    if (arrive && arrive->time) c_time = (*arrive->time - begin) / length;
  }
  const bool thirds = std::abs(b_time - 1.0F / 3) < 1e-5F && std::abs(c_time - 2.0F / 3) < 1e-5F;
  return cubic(from, b, c, to, thirds ? s : parameterAt(b_time, c_time, s));
}

base::Result<std::optional<Curve>> readCurve(Library& library, const Element& sampler) {
  Curve out;
  std::vector<std::string> ways;
  bool any = false;
  for (pugi::xml_node i = sampler.node.child("input"); i; i = i.next_sibling("input")) {
    const std::string_view semantic = i.attribute("semantic").value();
    RAKUGO_ASSIGN(const Element source, library.follow(sampler.with(i), i.attribute("source").value()));
    if (!source) continue;
    if (semantic == "INTERPOLATION") {
      RAKUGO_ASSIGN(ways, library.words(source));
      continue;
    }
    Numbers* to = semantic == "OUTPUT"        ? &out.values
                  : semantic == "IN_TANGENT"  ? &out.in
                  : semantic == "OUT_TANGENT" ? &out.out
                                              : nullptr;
    if (to == nullptr && semantic != "INPUT") continue;
    RAKUGO_ASSIGN(Numbers numbers, library.numbers(source));
    if (to != nullptr) {
      *to = std::move(numbers);
      continue;
    }
    any = true;
    out.times_s.resize(numbers.count);
    for (size_t k = 0; k < numbers.count; ++k) out.times_s[k] = numbers.at(k, 0);
  }
  if (!any || !out.values.values || out.times_s.empty() || out.values.count == 0) {
    library.note("collada.animation", base::phrase("A sampler without times or values is left out."),
                 sampler);
    return std::optional<Curve>();
  }
  const bool ordered =
      std::is_sorted(out.times_s.begin(), out.times_s.end()) &&
      std::all_of(out.times_s.begin(), out.times_s.end(), [](float t) { return std::isfinite(t); });
  if (!ordered) {
    library.note("collada.animation", base::phrase("A sampler whose times do not ascend is left out."),
                 sampler);
    return std::optional<Curve>();
  }
  out.times_s.resize(std::min(out.times_s.size(), out.values.count));
  out.width = std::max<size_t>(out.values.components.size(), 1);
  out.ways.assign(out.times_s.size(), Curve::Way::linear);
  for (size_t k = 0; k < std::min(ways.size(), out.ways.size()); ++k)
    out.ways[k] = ways[k] == "STEP"      ? Curve::Way::step
                  : ways[k] == "BEZIER"  ? Curve::Way::bezier
                  : ways[k] == "HERMITE" ? Curve::Way::hermite
                                         : Curve::Way::linear;
  return std::optional<Curve>(std::move(out));
}

}  // namespace rakugo::formats::collada
