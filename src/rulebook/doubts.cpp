// What a rulebook may mean and is likely a slip: lengths typed in another unit above all.
#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "rulebook/contradictions.h"

namespace rakugo::rulebook {
namespace {

class Doubter {
 public:
  Doubter(const Rulebook& book, Mistakes& doubts) : book_(book), doubts_(doubts) {}

  void book() {
    const double units = book_.person_height_m / book_.unit_m;
    if (!(units > 0.01 && units < 20'000))
      say("/space/unit_m",
          base::phrase("A person of the game would be {0} units high.", base::numberText(units, 6)),
          base::phrase("unit_m is how many metres one unit is: 0.01 where the game counts centimetres."));
    // A game of dolls or of giants says so by its unit, or by its other lengths; who types centimetres does
    // not.
    if (book_.person_height_m > 20 || book_.person_height_m < 0.01)
      say("/space/person_height_m",
          base::phrase("A person of the game would be {0} high.", base::lengthText(book_.person_height_m)),
          base::phrase(kMetres));
    for (size_t i = 0; i < book_.kinds.size(); ++i) kind(book_.kinds[i], "/kinds/" + std::to_string(i));
    for (size_t i = 0; i < book_.skeletons.size(); ++i)
      skeleton(book_.skeletons[i], "/skeletons/" + std::to_string(i));
  }

 private:
  static constexpr const char* kMetres =
      "Lengths in a rulebook are metres. If it is meant so, name the place in the list \"meant\".";

  void say(const std::string& at, const std::string& message, const std::string& cure) {
    if (std::find(book_.meant.begin(), book_.meant.end(), at) == book_.meant.end())
      doubts_.add("rulebook.doubt", at, message, cure);
  }

  [[nodiscard]] std::string persons(double length_m) const {
    const double times = length_m / book_.person_height_m;
    return times >= 1
               ? base::phrase("{0} times as long as a person of the game is high",
                              base::numberText(times, times < 10 ? 1 : 0))
               : base::phrase("1/{0} of the height of a person of the game", base::numberText(1 / times, 0));
  }

  // Centimetres for metres make a thing a hundred times as large as it is.
  void length(const Band& band, const std::string& at) {
    const double person = book_.person_height_m;
    if (band.min > 10 * person || band.max > 1000 * person)
      say(at,
          base::phrase("The {0} would be {1}.", band.min > 10 * person ? "smallest" : "largest",
                       persons(band.min > 10 * person ? band.min : band.max)),
          base::phrase(kMetres));
    else if (band.max < person / 1000)
      say(at, base::phrase("The largest would be {0}.", persons(band.max)), base::phrase(kMetres));
  }

  void kind(const Kind& k, const std::string& at) {
    for (size_t i = 0; i < k.models.size(); ++i)
      kind(k.models[i].kind(), at + "/models/" + std::to_string(i));
    for (const auto& [key, band] : {std::pair("length", &k.length_m), std::pair("width", &k.width_m),
                                    std::pair("height", &k.height_m), std::pair("reach", &k.reach_m)})
      if (*band) length(**band, at + "/size_m/" + key);
    double largest = 0;
    for (const auto* band : {&k.length_m, &k.width_m, &k.height_m})
      if (*band) largest = std::max(largest, (*band)->max);
    if (largest > 0 && k.origin != OriginRule::any && k.origin_tolerance_m > largest)
      say(at + "/origin_tolerance_m", base::phrase("The origin may lie farther off than the thing is large."),
          base::phrase(kMetres));
    if (k.grid.cell_m > 10 * book_.person_height_m)
      say(at + "/grid/cell_m", base::phrase("A cell would be {0}.", persons(k.grid.cell_m)),
          base::phrase(kMetres));
    if (!k.body.empty() && (k.seam_mm < 0.01 || k.seam_mm > 100 * book_.person_height_m))
      say(at + "/body/seam_mm",
          base::phrase("A gap of {0} is {1}", base::lengthText(k.seam_mm / 1000),
                       (k.seam_mm < 0.01 ? base::phrase("finer than numbers of a mesh are.")
                                         : base::phrase("seen by everyone."))),
          base::phrase("The seam is said in millimetres."));
    if (k.texels_per_m && k.texels_per_m->min > 100'000)
      say(at + "/texels_per_m",
          base::phrase("That is finer than a hair: {0} pixels to a metre at least.",
                       base::numberText(k.texels_per_m->min)),
          base::phrase("Say pixels to a metre of the surface."));
  }

  void skeleton(const Skeleton& s, const std::string& at) {
    double farthest = 0;
    size_t which = 0;
    for (size_t i = 0; i < s.bones.size(); ++i)
      for (const double part : s.bones[i].at_m)
        if (std::abs(part) > farthest) farthest = std::abs(part), which = i;
    if (farthest > 10 * book_.person_height_m)
      say(at + "/bones/" + std::to_string(which) + "/at_m",
          base::phrase("The bone would lie off by {0}.", persons(farthest)), base::phrase(kMetres));
  }

  const Rulebook& book_;
  Mistakes& doubts_;
};

}  // namespace

void findDoubts(const Rulebook& book, Mistakes& doubts) {
  if (book.person_height_m > 0 && book.unit_m > 0) Doubter(book, doubts).book();
}

}  // namespace rakugo::rulebook
