// Checks of what is worn: regions held against the game's record, sizes that are blended, seams to the body.
#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "check/checks.h"

namespace rakugo::check {
namespace {

using base::Json;

// Calls body(name, regions, model, kind) for models of kinds that have regions. Parts that cover none are the
// entry without a name.
template <class Body>
void eachRegionModel(const Context& context, const Body& body) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (!kind.regions.empty()) body(name, *state.regions, *state.prepared.model, kind);
  });
}

const scene::RegionCover* findCover(const std::vector<scene::RegionCover>& covers,
                                    const std::string& region) {
  const auto at = std::find_if(covers.begin(), covers.end(),
                               [&](const scene::RegionCover& c) { return c.region == region; });
  return at == covers.end() ? nullptr : &*at;
}

// How a size differs from the first, behind its name.
std::string differenceText(const scene::VariantReport& report) {
  using What = scene::VariantDifference::What;
  if (report.only_order) return phrase("has its vertices in another order");
  if (!report.first || report.first->what == What::parts) return phrase("has other parts");
  const auto numbers = [&](const char* said) {
    return phrase(said, report.first->part, base::groupedText(report.first->b),
                  base::groupedText(report.first->a));
  };
  switch (report.first->what) {
    case What::vertices:
      return numbers("differs in {0}: {1} against {2} vertices");
    case What::triangles:
      return numbers("differs in {0}: {1} against {2} triangles");
    case What::primitives:
      return numbers("differs in {0}: {1} against {2} materials");
    default:
      return phrase("differs in {0} in how its vertices hang together", report.first->part);
  }
}

void checkRegions(const Context& context, const CheckRow& row, Findings& out) {
  eachRegionModel(context, [&](const std::string& name, const std::vector<scene::RegionCover>& covers,
                               const scene::Model& model, const rulebook::Kind& kind) {
    const scene::RegionCover* free = findCover(covers, {});
    for (const rulebook::Region& region : kind.regions) {
      if (!region.required || findCover(covers, region.id) != nullptr) continue;
      Finding f =
          aboutModel(context, row, name,
                     phrase("No part of {0} covers the region {1}.{2}", name, base::lowerAscii(region.title),
                            (region.help.empty() ? "" : " " + region.help)));
      f.measured = phrase("none");
      f.expected = region.title;
      f.place.field = region.id;
      if (free != nullptr)
        for (const scene::NodeIndex i : free->parts)
          f.mends.push_back(stepMend(name, "region", Json{{"part", model.node(i).key}, {"region", region.id}},
                                     phrase("Let {0} cover it", model.node(i).name)));
      if (!kind.body.empty())
        f.mends.push_back(stepOrEditMend(name, "region_nearest", Json{{"kind", kind.id}},
                                         phrase("Take all regions from {0}", kind.body_title)));
      out.push_back(std::move(f));
    }
  });
}

void checkRegionSurplus(const Context& context, const CheckRow& row, Findings& out) {
  eachRegionModel(context, [&](const std::string& name, const std::vector<scene::RegionCover>& covers,
                               const scene::Model& model, const rulebook::Kind& kind) {
    for (const scene::RegionCover& cover : covers) {
      if (cover.region.empty() || kind.findRegion(cover.region) != nullptr) continue;
      const std::string region = base::presentable(cover.region, 40);
      Finding f = aboutModel(context, row, name,
                             phrase("{0} covers a region \"{1}\"; a {2} has none of that name.", name, region,
                                    base::lowerAscii(kind.title)));
      f.measured = region;
      std::vector<std::string> titles;
      for (const rulebook::Region& r : kind.regions) titles.push_back(r.title);
      f.expected = base::listText(titles, 8);
      f.place.field = cover.region;
      f.place.part = model.node(cover.parts.front()).key;
      for (const rulebook::Region& r : kind.regions)
        f.mends.push_back(stepMend(name, "hand_over", Json{{"from", cover.region}, {"to", r.id}},
                                   phrase("Hand it over to {0}", base::lowerAscii(r.title))));
      out.push_back(std::move(f));
    }
  });
}

void checkRegionOrder(const Context& context, const CheckRow& row, Findings& out) {
  eachRegionModel(context, [&](const std::string& name, const std::vector<scene::RegionCover>& covers,
                               const scene::Model&, const rulebook::Kind& kind) {
    // Of the regions that the game knows, the order here and the order there.
    std::vector<std::string> here, there;
    for (const scene::RegionCover& cover : covers)
      if (const rulebook::Region* known = kind.findRegion(cover.region)) here.push_back(known->title);
    for (const rulebook::Region& r : kind.regions)
      if (findCover(covers, r.id) != nullptr) there.push_back(r.title);
    if (here == there) return;
    Finding f = aboutModel(context, row, name,
                           phrase("The regions of {0} stand in another order than the game's record.", name));
    f.measured = base::listText(here, 8);
    f.expected = base::listText(there, 8);
    f.mends.push_back(
        stepOrEditMend(name, "order_regions", Json{{"kind", kind.id}}, phrase("Put them in that order")));
    out.push_back(std::move(f));
  });
}

void checkVariants(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    for (const auto& [variant, other] : state.variants) {
      const scene::VariantReport& report = *other.report;
      if (report.same) continue;
      const auto known = std::find_if(kind.variants.begin(), kind.variants.end(),
                                      [&, v = variant](const rulebook::Variant& one) { return one.id == v; });
      const std::string title = known != kind.variants.end() ? base::lowerAscii(known->title) : variant;
      Finding f = aboutModel(context, row, name,
                             phrase("The {0} size of {1} {2}.", title, name, differenceText(report)));
      f.measured = phrase("{0} vertices", base::groupedText(report.vertices[1]));
      f.expected = phrase("the first size's {0}, in its order", base::groupedText(report.vertices[0]));
      f.place.field = variant;
      if (report.only_order)
        f.mends.push_back(
            stepOrEditMend(name, "like_first", Json::object(), phrase("Put them in the order of the first")));
      out.push_back(std::move(f));
    }
  });
}

void checkVariantMissing(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState&,
                             const rulebook::Kind& kind) {
    // One size is the model's own source.
    if (kind.variants.size() < 2 || doc.variants.size() + 1 >= kind.variants.size()) return;
    std::vector<std::string> titles;
    for (const rulebook::Variant& v : kind.variants) titles.push_back(base::lowerAscii(v.title));
    Finding f = aboutModel(context, row, name,
                           phrase("{0} comes in {1}; a {2} comes in {3}.", name,
                                  base::countText(doc.variants.size() + 1, "size", "sizes"),
                                  base::lowerAscii(kind.title), base::listText(titles, 6)));
    f.measured = std::to_string(doc.variants.size() + 1);
    f.expected = std::to_string(kind.variants.size());
    out.push_back(std::move(f));
  });
}

void checkSeams(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (!state.seams) return;
    const scene::SeamReport& report = *state.seams;
    for (const scene::SeamPair& pair : report.seams.pairs) {
      const double gap_mm = scene::SeamReport::widest_m(pair) * 1000;
      if (gap_mm <= kind.seam_mm) continue;
      const std::string &part = report.outfit_parts[pair.outfit], &at = report.body_parts[pair.body];
      Finding f =
          aboutModel(context, row, name,
                     phrase("The seam of {0} at the body's {1} gapes up to {2} mm, {3} mm in the mean.", part,
                            at, base::numberText(gap_mm, 1), base::numberText(pair.mean_m * 1000, 1)));
      f.measured = phrase("{0} mm", base::numberText(gap_mm, 1));
      f.expected = phrase("at most {0} mm", base::numberText(kind.seam_mm, 1));
      f.place.part = state.prepared.model->node(report.outfit[pair.outfit].part).key;
      f.place.field = at;
      f.place.marks_m = {pair.largest_at_m};
      // Wide enough for all that is open here, with some room.
      f.mends.push_back(stepOrEditMend(
          name, "snap_seam",
          Json{{"kind", kind.id}, {"most_mm", std::max(30.0, std::ceil(pair.largest_m * 1000 + 1))}},
          phrase("Close the seams to {0}", kind.body_title)));
      out.push_back(std::move(f));
    }
    // A border of the body that an outfit's border lies near, too far off for a seam: where a seam was torn
    // away.
    const auto around = [](const scene::Border& border) {
      geometry::Bounds box;
      for (const glm::vec3& p : border.places_m) box.add(p);
      return box;
    };
    for (const size_t b : report.seams.loose_body) {
      const geometry::Bounds body = around(report.body[b]);
      const float size = glm::length(body.size());
      std::optional<size_t> nearest;
      float least = 3 * size;
      for (const size_t o : report.seams.loose_outfit) {
        const geometry::Bounds own = around(report.outfit[o]);
        const float ratio = glm::length(own.size()) / std::max(size, 1e-6F);
        const float away = glm::distance(own.center(), body.center());
        if (ratio > 0.33F && ratio < 3 && away < least) least = away, nearest = o;
      }
      if (!nearest) continue;
      const std::string &part = report.outfit_parts[*nearest], &at = report.body_parts[b];
      const std::string off = phrase("{0} mm", base::numberText(static_cast<double>(least) * 1000, 0));
      Finding f =
          aboutModel(context, row, name,
                     phrase("The border of {0} stands {1} off the body's {2}, where a seam is expected.",
                            part, off, at));
      f.measured = off;
      f.expected = phrase("at most {0} mm", base::numberText(kind.seam_mm, 1));
      f.place.part = state.prepared.model->node(report.outfit[*nearest].part).key;
      f.place.field = at;
      f.place.marks_m = report.outfit[*nearest].places_m;
      if (f.place.marks_m.size() > 200) f.place.marks_m.resize(200);
      f.cure = phrase("Move or scale the outfit so that its border meets the body's, then close the seam.");
      out.push_back(std::move(f));
    }
  });
}

}  // namespace

std::vector<CheckRow> outfitChecks() {
  using S = Severity;
  return {
      {"region.missing",
       740,
       S::shows,
       Station::shape,
       {"model.regions"},
       "A region of the body is not covered by name",
       "The game hides the body under an outfit region by region; the skin comes through.",
       "Say which part covers the region.",
       checkRegions},
      {"region.surplus",
       750,
       S::stops,
       Station::shape,
       {"model.regions"},
       "A region that the game's record does not list",
       "The game compares the regions of an outfit with its record and refuses one that differs.",
       "Hand it over to a region of the record.",
       checkRegionSurplus},
      {"region.order",
       760,
       S::shows,
       Station::shape,
       {"model.regions"},
       "Regions in another order than the game's record",
       "The game takes regions by their number: the sleeve is hidden where the collar should be.",
       "Put them in the record's order.",
       checkRegionOrder},
      {"variant.differs",
       770,
       S::stops,
       Station::shape,
       {"model.sizes"},
       "A size that does not go with the first",
       "The game blends sizes vertex by vertex; where they differ it refuses the outfit, or tears it.",
       "Put the vertices in the order of the first size, or export both from one mesh.",
       checkVariants},
      {"variant.missing",
       780,
       S::shows,
       Station::shape,
       {"model.sizes"},
       "A size is missing",
       "On a body of that size the outfit is worn as it is, and the body shows through.",
       "Name the source of the other size, at the Shape station.",
       checkVariantMissing},
      {"seam.gap",
       790,
       S::shows,
       Station::shape,
       {"model.seam_gap_mm"},
       "A seam to the body gapes",
       "One looks through the gap into the hollow body at every movement.",
       "Put the border's vertices onto the body's.",
       checkSeams},
  };
}

}  // namespace rakugo::check
