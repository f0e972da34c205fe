#include "prepare/step_figures.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::prepare {
namespace {

std::array<double, 3> sides(const StepFigures& f) {
  std::array<double, 3> out{static_cast<double>(f.size_m.x), static_cast<double>(f.size_m.y),
                            static_cast<double>(f.size_m.z)};
  std::sort(out.begin(), out.end(), std::greater<>());
  return out;
}

bool isNear(double a, double b) { return std::abs(a - b) <= 1e-3 * std::max(std::abs(a), std::abs(b)); }

std::string sizeText(const std::array<double, 3>& s) {
  return base::lengthText(s[0]) + " × " + base::lengthText(s[1]) + " × " + base::lengthText(s[2]);
}

}  // namespace

StepFigures figuresOf(const scene::Model& model) {
  StepFigures out;
  const scene::Counts counts = scene::countsOf(model);
  out.triangles = counts.triangles;
  out.parts = counts.parts;
  out.bones = counts.bones;
  out.materials = scene::usedMaterials(model).size();
  out.size_m = scene::boundsOf(model).size();
  return out;
}

std::string changeText(const StepFigures& before, const StepFigures& after) {
  std::vector<std::string> out;
  const auto counted = [&](uint64_t a, uint64_t b, const char* one, const char* many) {
    if (a != b) out.push_back(base::groupedText(a) + " → " + base::countText(b, one, many));
  };
  counted(before.triangles, after.triangles, "triangle", "triangles");
  counted(before.parts, after.parts, "part", "parts");
  const auto a = sides(before), b = sides(after);
  const bool same = isNear(a[0], b[0]) && isNear(a[1], b[1]) && isNear(a[2], b[2]);
  const double factor = a[0] > 0 ? b[0] / a[0] : 0;
  const bool even = isNear(a[1] * factor, b[1]) && isNear(a[2] * factor, b[2]);
  if (!same)
    out.push_back(even ? base::phrase("size {0} → {1}", base::lengthText(a[0]), base::lengthText(b[0]))
                       : base::phrase("size {0} → {1}", sizeText(a), sizeText(b)));
  counted(before.bones, after.bones, "bone", "bones");
  counted(before.materials, after.materials, "material", "materials");
  std::string text;
  for (const std::string& one : out) text += (text.empty() ? "" : ", ") + one;
  return text;
}

}  // namespace rakugo::prepare
