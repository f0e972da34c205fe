// `rakugo-tool measure`, `compare`, `variants`, `seam`: models as bodies, alone and side by side.
#include <filesystem>

#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "formats/read_model.h"
#include "scene/comparison.h"
#include "scene/seams.h"
#include "scene/structure.h"
#include "scene/variants.h"
#include "tool/command_list.h"
#include "tool/subject.h"

namespace rakugo::tool {
namespace {

using base::Json;
namespace fs = std::filesystem;

Json extentsJson(glm::vec3 size) { return Json{{"x", size.x}, {"y", size.y}, {"z", size.z}}; }

Json structureJson(const scene::PartStructure& s) {
  // How the picture lies stands by itself: scripts read `faults` as the list of those of the mesh.
  const auto ofPicture = [](scene::FaultCode code) {
    return code == scene::FaultCode::uvs_collapsed || code == scene::FaultCode::uvs_stretched;
  };
  Json loops = Json::array(), faults = Json::object(), pictures = Json::object();
  for (const scene::OpenLoop& loop : s.open_loops)
    loops.push_back(Json{{"edges", loop.edges}, {"length_m", loop.length_m}});
  for (size_t i = 0; i < scene::kFaultCodes; ++i) {
    const auto code = static_cast<scene::FaultCode>(i);
    (ofPicture(code) ? pictures : faults)[scene::faultName(code)] = s.faults[i].count;
  }
  return Json{{"vertices", s.vertices},     {"triangles", s.triangles},
              {"index_bits", s.index_bits}, {"extents", extentsJson(s.box.size())},
              {"area_m2", s.area_m2},       {"volume_m3", s.volume_m3 ? Json(*s.volume_m3) : Json()},
              {"shells", s.shells},         {"closed", s.closed},
              {"euler", s.euler},           {"open_loops", loops},
              {"faults", faults},           {"pictures", pictures}};
}

// The parts as one: sums, and closed when every part is.
scene::PartStructure totalOf(const std::vector<scene::PartStructure>& parts) {
  scene::PartStructure out;
  out.closed = !parts.empty();
  for (const scene::PartStructure& s : parts) {
    out.vertices += s.vertices;
    out.index_bits = std::max(out.index_bits, s.index_bits);
    out.triangles += s.triangles;
    out.box.add(s.box);
    out.area_m2 += s.area_m2;
    if (s.volume_m3) out.volume_m3 = out.volume_m3.value_or(0) + *s.volume_m3;
    out.shells += s.shells;
    out.closed = out.closed && s.closed;
    out.euler += s.euler;
    out.open_loops.insert(out.open_loops.end(), s.open_loops.begin(), s.open_loops.end());
    for (size_t i = 0; i < scene::kFaultCodes; ++i) out.faults[i].count += s.faults[i].count;
  }
  return out;
}

void printStructure(const std::string& name, const scene::PartStructure& s) {
  const glm::vec3 size = s.box.size();
  say("{}: {} × {} × {} (x, y, z), {}, {}\n", name, base::lengthText(size.x), base::lengthText(size.y),
      base::lengthText(size.z), base::countText(s.triangles, "triangle", "triangles"),
      base::countText(s.vertices, "vertex", "vertices"));
  say("  {}, {}, area {} m²{}\n", base::countText(s.shells, "shell", "shells"),
      s.closed ? "closed" : base::countText(s.open_loops.size(), "open border", "open borders"),
      base::numberText(s.area_m2, 4),
      s.volume_m3 ? ", volume " + base::numberText(*s.volume_m3, 4) + " m³" : std::string());
  for (size_t i = 0; i < scene::kFaultCodes; ++i)
    if (s.faults[i].count > 0)
      say("  {} {}\n", s.faults[i].count, scene::faultName(static_cast<scene::FaultCode>(i)));
}

Json namesJson(const scene::NameComparison& n) {
  return Json{{"only_a", n.only_a}, {"only_b", n.only_b}, {"both", n.both}};
}

Json countsJson(const scene::Counts& c) {
  return Json{{"parts", c.parts}, {"triangles", c.triangles}, {"vertices", c.vertices}, {"bones", c.bones}};
}

int compareShapes(const Common& common, const std::string& a, const std::string& b) {
  const auto one = subjectOf(a), other = subjectOf(b);
  if (!one) return failed(common, one.error());
  if (!other) return failed(common, other.error());
  const auto c = scene::compareModels({*one->model, one->unit_m, one->points},
                                      {*other->model, other->unit_m, other->points});
  if (!common.json) {
    for (const std::string& line : c.differences) say("{}\n", line);
    if (c.differences.empty()) say("Nothing differs.\n");
    return kGood;
  }
  Json points = namesJson(c.points), places = Json::array();
  for (const scene::PlacePair& p : c.point_pairs)
    places.push_back(Json{{"name", p.name},
                          {"a_m", extentsJson(p.a_m)},
                          {"b_m", extentsJson(p.b_m)},
                          {"apart_m", glm::distance(p.a_m, p.b_m)}});
  points["places"] = std::move(places);
  Json pairs = Json::array();
  for (const scene::PartPair& p : c.pairs)
    pairs.push_back(Json{{"name", p.name},
                         {"a", countsJson(p.a)},
                         {"b", countsJson(p.b)},
                         {"extents_a_m", extentsJson(p.extents_a_m)},
                         {"extents_b_m", extentsJson(p.extents_b_m)}});
  say("{}", base::jsonText(Json{
                {"a", a},
                {"b", b},
                {"differences", c.differences},
                {"counts", Json{{"a", countsJson(c.a)}, {"b", countsJson(c.b)}}},
                {"extents_m", Json{{"a", extentsJson(c.extents_a_m)}, {"b", extentsJson(c.extents_b_m)}}},
                {"bones", namesJson(c.bones)},
                {"regions", namesJson(c.regions)},
                {"parts", namesJson(c.parts)},
                {"points", points},
                {"roles", namesJson(c.roles)},
                {"materials", namesJson(c.materials)},
                {"morph_targets", namesJson(c.morphs)},
                {"animations", namesJson(c.animations)},
                {"pairs", pairs}}));
  return kGood;
}

int measure(const Common& common, const std::string& text, const std::string& part) {
  const auto subjects = subjectsOf(text);
  if (!subjects) return failed(common, subjects.error());
  Json models = Json::array();
  bool found = part.empty();
  for (const Subject& subject : *subjects) {
    auto parts = scene::structureOf(*subject.model, subject.unit_m);
    if (!parts) return failed(common, parts.error());
    const auto named = [&](const scene::PartStructure& s) -> const scene::Node& {
      return subject.model->node(s.node);
    };
    if (!part.empty())
      std::erase_if(*parts, [&](const auto& s) { return named(s).name != part && named(s).key != part; });
    found = found || !parts->empty();
    const scene::PartStructure total = totalOf(*parts);
    if (!common.json) {
      if (subjects->size() > 1) say("== {}\n", subject.name);
      if (parts->size() != 1) printStructure("all", total);
      for (const auto& s : *parts) printStructure(named(s).name, s);
      continue;
    }
    Json list = Json::array();
    for (const auto& s : *parts) {
      Json one{{"name", named(s).name}};
      one.update(structureJson(s));
      list.push_back(std::move(one));
    }
    Json one{{"file", text}};
    if (!subject.name.empty()) one["model"] = subject.name;
    one["total"] = structureJson(total);
    one["parts"] = std::move(list);
    models.push_back(std::move(one));
  }
  if (!found)
    return failed(common, {"model.no_part", "There is no part " + base::presentable(part, 60) + ".",
                           base::Place{text}, "Leave --part out to see all of them."});
  if (common.json)
    say("{}", base::jsonText(models.size() == 1 ? models[0] : Json{{"file", text}, {"models", models}}));
  return kGood;
}

int compareEither(const Common& common, const std::string& a, const std::string& b) {
  // A bundle, or a zip that holds a package's manifest, is a package; everything else should be a model.
  const auto ending = base::lowerAscii(fs::path(a).extension().string());
  if (ending == ".rkb") return comparePackages(common, a, b);
  if (ending == ".zip" && !formats::readModelFile(a)) return comparePackages(common, a, b);
  return compareShapes(common, a, b);
}

int variants(const Common& common, const std::string& a, const std::string& b) {
  const auto one = subjectOf(a), other = subjectOf(b);
  if (!one) return failed(common, one.error());
  if (!other) return failed(common, other.error());
  const scene::VariantReport r = scene::compareVariants(*one->model, *other->model);
  Json first;
  if (r.first) {
    first = Json{{"what", scene::differenceName(r.first->what)}, {"part", r.first->part}};
    if (r.first->what != scene::VariantDifference::What::parts) first["primitive"] = r.first->primitive;
    first["index"] = r.first->index;
    first["a"] = r.first->a;
    first["b"] = r.first->b;
  }
  if (common.json) {
    Json proposal = Json::array();
    for (const scene::PrimitiveOrder& p : r.proposal)
      proposal.push_back(Json{{"part", p.part}, {"primitive", p.primitive}, {"order", p.order}});
    say("{}", base::jsonText(Json{{"a", a},
                                  {"b", b},
                                  {"same", r.same},
                                  {"vertices", Json{{"a", r.vertices[0]}, {"b", r.vertices[1]}}},
                                  {"triangles", Json{{"a", r.triangles[0]}, {"b", r.triangles[1]}}},
                                  {"first_difference", first},
                                  {"only_order", r.only_order},
                                  {"proposal", proposal}}));
  } else if (r.same) {
    say("The same vertices in the same order.\n");
  } else {
    say("They differ first in {}{}: {} and {}.\n", scene::differenceName(r.first->what),
        r.first->part.empty() ? "" : " of part " + r.first->part, r.first->a, r.first->b);
    if (r.only_order) say("Only the order differs; the second can be put into the order of the first.\n");
  }
  return r.same ? kGood : kStops;
}

int seam(const Common& common, const std::string& outfit, const std::string& body) {
  const auto one = subjectOf(outfit), other = subjectOf(body);
  if (!one) return failed(common, one.error());
  if (!other) return failed(common, other.error());
  const auto a = scene::bordersOf(*one->model, one->unit_m),
             b = scene::bordersOf(*other->model, other->unit_m);
  const scene::Seams seams = scene::pairBorders(a, b);
  const auto borderJson = [](const scene::Border& border, const scene::Model& model) {
    geometry::Bounds box;
    for (const glm::vec3& p : border.places_m) box.add(p);
    const glm::vec3 middle = box.center();
    return Json{{"part", model.node(border.part).name},
                {"vertices", border.places_m.size()},
                {"closed", border.closed},
                {"middle_m", Json::array({middle.x, middle.y, middle.z})}};
  };
  Json pairs = Json::array(), loose_outfit = Json::array(), loose_body = Json::array();
  for (const scene::SeamPair& p : seams.pairs)
    pairs.push_back(Json{{"outfit", borderJson(a[p.outfit], *one->model)},
                         {"body", borderJson(b[p.body], *other->model)},
                         {"largest_mm", p.largest_m * 1000},
                         {"mean_mm", p.mean_m * 1000},
                         {"largest_back_mm", p.largest_back_m * 1000}});
  for (const size_t i : seams.loose_outfit) loose_outfit.push_back(borderJson(a[i], *one->model));
  for (const size_t i : seams.loose_body) loose_body.push_back(borderJson(b[i], *other->model));
  if (common.json) {
    say("{}", base::jsonText(Json{{"outfit", outfit},
                                  {"body", body},
                                  {"pairs", pairs},
                                  {"loose_outfit", loose_outfit},
                                  {"loose_body", loose_body}}));
    return kGood;
  }
  for (const scene::SeamPair& p : seams.pairs)
    say("{} meets {}: largest gap {} mm, mean {} mm, over {}\n", one->model->node(a[p.outfit].part).name,
        other->model->node(b[p.body].part).name, base::numberText(p.largest_m * 1000, 3),
        base::numberText(p.mean_m * 1000, 3),
        base::countText(a[p.outfit].places_m.size(), "vertex", "vertices"));
  say("{} of the outfit and {} of the body meet nothing.\n",
      base::countText(seams.loose_outfit.size(), "border", "borders"),
      base::countText(seams.loose_body.size(), "border", "borders"));
  return kGood;
}

struct ShapeOptions {
  std::string a, b, part;
};

}  // namespace

void addShapeCommands(Tool& tool) {
  const auto o = std::make_shared<ShapeOptions>();
  const char* a_model = "A model file, a mod's folder, or MOD:MODEL";
  CLI::App* sub = tool.command(
      "measure", "Measure a model: size, area, volume, borders, and every fault of its structure");
  sub->add_option("MODEL", o->a, a_model)->required();
  sub->add_option("--part", o->part, "Only the part of that name");
  tool.runs(sub, [o](const Common& common) { return measure(common, o->a, o->part); });
  sub = tool.command("compare", "Compare two models side by side, or two bundles or zips entry by entry");
  sub->add_option("A", o->a, "A model file, a mod's folder, MOD:MODEL, a bundle or a zip")->required();
  sub->add_option("B", o->b)->required();
  tool.runs(sub, [o](const Common& common) { return compareEither(common, o->a, o->b); });
  sub = tool.command("variants", "Say whether two size variants have the same vertices in the same order");
  sub->add_option("A", o->a, a_model)->required();
  sub->add_option("B", o->b)->required();
  tool.runs(sub, [o](const Common& common) { return variants(common, o->a, o->b); });
  sub = tool.command("seam", "Measure the gaps where an outfit's borders meet a body's");
  sub->add_option("OUTFIT", o->a, a_model)->required();
  sub->add_option("BODY", o->b)->required();
  tool.runs(sub, [o](const Common& common) { return seam(common, o->a, o->b); });
}

}  // namespace rakugo::tool
