// The keys of a kind: a sort of thing that the game places.
#include "rulebook/key_rows.h"
#include "rulebook/key_tables.h"

namespace rakugo::rulebook {
namespace {

constexpr double kMostMetres = 1e6, kMostCount = 1e9;

KeyRow length(const char* name, std::optional<Band> Kind::*member, const char* means, const char* check) {
  return rows::band(name, member).between(0, kMostMetres).in("m").heldBy({check}).says(means);
}
KeyRow limit(const char* name, int64_t Kind::*member, const char* means, std::vector<std::string> checks) {
  return rows::whole(name, member).between(0, kMostCount).heldBy(std::move(checks)).says(means);
}

KeyTable& sizeKeys() {
  static KeyTable table{
      "size_m",
      "`size_m`",
      "",
      {length("length", &Kind::length_m, "Along the game's forward axis.", "size.range")
           .notCalled({"x", "depth"}),
       length("width", &Kind::width_m, "To the side.", "size.range").notCalled({"y"}),
       length("height", &Kind::height_m, "Along the game's up axis.", "size.range").notCalled({"z", "tall"}),
       length("reach", &Kind::reach_m, "From the origin to the farthest vertex.", "size.reach")
           .notCalled({"radius"})}};
  return table;
}

KeyTable& gridKeys() {
  static KeyTable table{"grid",
                        "`grid`",
                        "The model's box fills whole cells.",
                        {rows::number("cell_m", &Grid::cell_m)
                             .above(0.0001, 1000)
                             .in("m")
                             .needed()
                             .heldBy({"grid.size"})
                             .says("The side of a cell.")
                             .notCalled({"cell", "size", "cell_size"}),
                         rows::numbers("cells", &Grid::cells)
                             .between(1, 1000)
                             .heldBy({"grid.size"})
                             .says("How many cells at most, along forward, side and up; whole numbers."),
                         rows::flag("linear", &Grid::linear)
                             .heldBy({"mesh.shapeless", "mesh.unaligned"})
                             .says("No vertices that carry no shape, and no edges off the box's axes.")}};
  return table;
}

KeyTable& lighterKeys() {
  static KeyTable table{"lighter",
                        "`lighter`",
                        "Heavy models need lighter versions (LODs) for the distance.",
                        {rows::whole("over_triangles", &LighterRule::over_triangles)
                             .between(1, kMostCount)
                             .needed()
                             .heldBy({"lighter.missing"})
                             .says("Models with more triangles need them."),
                         rows::whole("levels", &LighterRule::levels)
                             .between(1, 4)
                             .heldBy({"lighter.missing"})
                             .says("How many."),
                         rows::number("from_m", &LighterRule::from_m)
                             .above(0, 1e5)
                             .in("m")
                             .says("The first is drawn from here on, each next from twice as far.")
                             .notCalled({"distance", "distance_m"})}};
  return table;
}

KeyTable& partKeys() {
  static KeyTable table{
      "part",
      "An entry of `parts`",
      "",
      {rows::text("id", &NamedPart::id, KeyType::name)
           .needed()
           .heldBy({"part.name"})
           .says("The exact name of a part that the game looks for.")
           .notCalled({"name"}),
       rows::title(&NamedPart::title).says("What it is called in the window."), rows::help(&NamedPart::help),
       rows::flag("required", &NamedPart::required)
           .heldBy({"part.name"})
           .says("Every model of the kind has it."),
       rows::hints(&NamedPart::hints).says("Words in other names that mean it.")}};
  return table;
}

KeyTable& regionKeys() {
  static KeyTable table{"region",
                        "An entry of `regions`",
                        "",
                        {rows::id(&Region::id)
                             .heldBy({"region.surplus", "region.order"})
                             .says("As the game's record lists it."),
                         rows::title(&Region::title).says("What it is called in the window."),
                         rows::help(&Region::help), rows::word(&Region::word),
                         rows::flag("required", &Region::required)
                             .heldBy({"region.missing"})
                             .says("A model of the kind must cover it.")}};
  return table;
}

KeyTable& variantKeys() {
  static KeyTable table{"variant",
                        "An entry of `variants`",
                        "The first is the one that the others are blended from. Each needs a source with the "
                        "same vertices in the "
                        "same order.",
                        {rows::id(&Variant::id)
                             .heldBy({"variant.missing", "variant.differs"})
                             .says("The size's name in the game."),
                         rows::title(&Variant::title).says("What it is called in the window.")}};
  return table;
}

KeyTable& bodyKeys() {
  static KeyTable table{
      "body",
      "`body`",
      "The body that an outfit of this kind is worn on. Its parts are called as the regions they belong to.",
      {rows::file("file", &Kind::body)
           .needed()
           .says("A GLB inside the rulebook, in the game's axes, metres."),
       rows::text("title", &Kind::body_title).needed().says("What it is called, with its article."),
       rows::number("seam_mm", &Kind::seam_mm)
           .above(0, 1000)
           .in("mm")
           .heldBy({"seam.gap"})
           .says("The widest gap between the borders of the two that is not seen.")
           .notCalled({"seam", "gap_mm"})}};
  return table;
}

KeyTable& ghostKeys() {
  static KeyTable table{
      "ghost",
      "`ghost`",
      "The game's own example of the kind: a silhouette for comparison, and where weights can be taken from.",
      {rows::file("file", &Kind::ghost)
           .needed()
           .says("A GLB inside the rulebook, in the game's axes, metres."),
       rows::text("title", &Kind::ghost_title).needed().says("What it is called, with its article.")}};
  return table;
}

KeyTable& iconSizeKeys() {
  static KeyTable table{"icon_size",
                        "An entry of an icon's `sizes`",
                        "",
                        {rows::whole("width", &IconSize::width).between(8, 2048).in("pixels").needed(64),
                         rows::whole("height", &IconSize::height).between(8, 2048).in("pixels").needed(64)}};
  return table;
}

KeyTable& iconKeys() {
  static KeyTable table{
      "icon",
      "`icon`",
      "",
      {rows::whole("width", &Kind::icon_width)
           .between(8, 2048)
           .in("pixels")
           .needed()
           .heldBy({"icon.missing", "icon.size"}),
       rows::whole("height", &Kind::icon_height)
           .between(8, 2048)
           .in("pixels")
           .needed()
           .heldBy({"icon.missing", "icon.size"}),
       rows::number("turn_deg", &Kind::icon_turn_deg)
           .between(-180, 180)
           .in("degrees")
           .says("From where it is taken: 0 is from the front, 90 from the left.")
           .notCalled({"yaw", "angle"}),
       rows::number("rise_deg", &Kind::icon_rise_deg)
           .between(-89, 89)
           .in("degrees")
           .says("And from how far above.")
           .notCalled({"pitch"}),
       rows::number("margin", &Kind::icon_margin)
           .between(0, 0.4)
           .says("Left free at each side, as a share of it.")
           .notCalled({"padding"}),
       rows::numbers("ground", &Kind::icon_ground)
           .between(0, 1)
           .says("The colour behind it: red, green, blue, sRGB.")
           .notCalled({"background"}),
       rows::numbers("ground_below", &Kind::icon_ground_below)
           .between(0, 1)
           .says("The colour at its lower edge, where it changes evenly from `ground` above; left out: the "
                 "same.")
           .notCalled({"gradient"}),
       rows::flag("clear", &Kind::icon_clear).says("It has no ground: one sees through."),
       rows::flag("by_night", &Kind::icon_by_night).says("It is taken by night, when what glows does."),
       rows::number("outline_px", &Kind::icon_outline_px)
           .between(0, 64)
           .in("pixels")
           .says("Width of a line round the thing; 0: none.")
           .notCalled({"border", "stroke"}),
       rows::numbers("outline", &Kind::icon_outline)
           .between(0, 1)
           .says("The colour of that line: red, green, blue, sRGB."),
       rows::list("sizes", &Kind::icon_sizes, iconSizeKeys)
           .entries(0, 8)
           .says("Smaller ones that the game takes too; the build makes them of the icon.")}};
  return table;
}

std::vector<Key> whatItIs() {
  return {rows::id(&Kind::id).says("As objects of mods name it."),
          rows::title(&Kind::title).says("What it is called in the window."), rows::help(&Kind::help)};
}

std::vector<Key> sizeAndOriginKeys() {
  return {rows::group("size_m", sizeKeys)
              .says("Ranges of the extents.")
              .notCalled({"size", "extents", "dimensions"}),
          rows::band("volume_l", &Kind::volume_l)
              .between(0, 1e12)
              .in("l")
              .heldBy({"size.reach"})
              .says("What the model's closed shells hold."),
          rows::choice<Kind, OriginRule>("origin",
                                         {{"any", OriginRule::any},
                                          {"floor_centre", OriginRule::floor_centre},
                                          {"centre", OriginRule::centre}},
                                         &Kind::origin)
              .heldBy({"origin.place"})
              .says("Where the model's origin must be.")
              .notCalled({"pivot"}),
          rows::number("origin_tolerance_m", &Kind::origin_tolerance_m)
              .between(0, 1000)
              .in("m")
              .heldBy({"origin.place"})
              .says("How far from there it may be."),
          rows::flag("baked", &Kind::baked)
              .heldBy({"placement.not_baked"})
              .says("Every part must be at rest, its placement in the mesh."),
          rows::object("grid", &Kind::grid, gridKeys).says("A block that fills cells of the game's grid.")};
}

std::vector<Key> budgetKeys() {
  return {limit("max_triangles", &Kind::max_triangles, "0: no limit.", {"mesh.triangles"})
              .notCalled({"triangles", "max_tris", "max_polygons", "max_faces"}),
          limit("max_vertices", &Kind::max_vertices, "0: no limit.", {"mesh.vertices"})
              .notCalled({"vertices", "max_verts"}),
          limit("max_part_triangles", &Kind::max_part_triangles, "Of any one part; 0: no limit.",
                {"mesh.part_triangles"}),
          limit("max_parts", &Kind::max_parts, "0: no limit.", {"parts.limit"}).notCalled({"max_meshes"}),
          limit("max_materials", &Kind::max_materials, "0: no limit.", {"materials.limit"})
              .notCalled({"materials"}),
          rows::object("lighter", &Kind::lighter, lighterKeys)
              .says("Asks for lighter versions of heavy models.")
              .notCalled({"lod", "lods"}),
          rows::band("texels_per_m", &Kind::texels_per_m)
              .between(0, 1e9)
              .in("pixels/m")
              .heldBy({"picture.density"})
              .says("Pixels of a picture to a metre of the surface.")};
}

std::vector<Key> figureKeys() {
  return {rows::reference("skeleton", "skeletons", &Kind::skeleton)
              .heldBy({"bones.none", "bones.missing", "bones.parent", "bones.sides", "bones.pose",
                       "bones.turned"})
              .says("The skeleton whose bones a model of this kind needs."),
          limit("max_bones", &Kind::max_bones, "Of a skinned model; 0: no limit.", {"bones.limit"}),
          rows::whole("max_influences", &Kind::max_influences)
              .between(0, 64)
              .heldBy({"bones.weights"})
              .says("Bones that one vertex may follow; 0: no limit.")
              .notCalled({"max_weights"}),
          rows::list("regions", &Kind::regions, regionKeys)
              .says("Parts of the body that a model covers; a step says which part covers which."),
          rows::group("body", bodyKeys).says("Of an outfit: what it is worn on."),
          rows::list("variants", &Kind::variants, variantKeys)
              .entries(2, 50)
              .says("Sizes that an outfit comes in.")
              .notCalled({"sizes"})};
}

std::vector<Key> lookKeys() {
  return {rows::list("parts", &Kind::parts, partKeys).says("Parts that the game looks for by name."),
          rows::list("roles", &Kind::roles, roleKeys)
              .says("What the game does with materials.")
              .notCalled({"materials"}),
          rows::list("points", &Kind::points, pointKeys)
              .says("Named places.")
              .notCalled({"attachments", "sockets"}),
          rows::group("ghost", ghostKeys).says("The game's own example.")};
}

// A key of a kind in the table of its further models: stored in what holds for the model.
Key ofModel(Key key) {
  const auto rules = [](void* owner) -> void* {
    auto* model = static_cast<KindModel*>(owner);
    if (model->rules.empty()) model->rules.emplace_back();
    return &model->rules.front();
  };
  if (key.store)
    key.store = [inner = std::move(key.store), rules](void* owner, const base::Json& value) {
      inner(rules(owner), value);
    };
  if (key.inside)
    key.inside = [inner = std::move(key.inside), rules](void* owner) { return inner(rules(owner)); };
  return key;
}

KeyTable& modelKeys() {
  static KeyTable table = [] {
    KeyTable out{
        "model",
        "An entry of `models`",
        "One of the models that an object is made of, beside the one that the kind's own keys are about: "
        "a boat's screw, a block's carried version. A piece of an object says which it is. The keys from "
        "`size_m` on are as those of a kind, and hold for this model alone.",
        {rows::id(&KindModel::id).needed("second").says("As pieces of objects name it; not `main`."),
         rows::title(&KindModel::title).says("What it is called in the window."),
         rows::help(&KindModel::help),
         rows::whole("least", &KindModel::least)
             .between(0, 64)
             .heldBy({"object.models"})
             .says("How many pieces of an object are one at least.")
             .notCalled({"min", "required"}),
         rows::whole("most", &KindModel::most)
             .between(1, 64)
             .heldBy({"object.models"})
             .says("How many at most.")
             .notCalled({"max"}),
         rows::object("when", &KindModel::when, conditionKeys).says("`least` holds only then."),
         rows::text("made_from", &KindModel::made_from, KeyType::id)
             .heldBy({"object.made_from"})
             .says("The model that it is made from by steps: the id of another, or `main`. It has that one's "
                   "`roles` where it lists none.")
             .notCalled({"derived_from"}),
         rows::flag("apart", &KindModel::apart)
             .says("The game shows it by itself, in place of the object: when it is carried, say. It counts "
                   "neither for the object's size and budgets nor for its mass.")}};
    for (const std::vector<Key>& some :
         std::vector<std::vector<Key>>{sizeAndOriginKeys(), budgetKeys(), figureKeys(), lookKeys()})
      for (const Key& key : some) out.keys.push_back(ofModel(key));
    return out;
  }();
  return table;
}

KeyTable& pieceKeys() {
  static KeyTable table{
      "piece",
      "An entry of `pieces`",
      "A lamp, an emitter, a collision shape, a sound or a moving part that the game takes in an object. A "
      "piece of an object says which it is, and says its values; `fields` narrows those that every piece of "
      "its sort has, and adds the game's own.",
      {rows::id(&PieceRule::id).needed("light").says("As pieces of objects name it."),
       rows::title(&PieceRule::title).says("What it is called in the window."), rows::help(&PieceRule::help),
       rows::word(&PieceRule::word),
       rows::choice<PieceRule, PieceSort>("sort",
                                          {{"lamp", PieceSort::lamp},
                                           {"emitter", PieceSort::emitter},
                                           {"shape", PieceSort::shape},
                                           {"sound", PieceSort::sound},
                                           {"moving", PieceSort::moving}},
                                          &PieceRule::sort)
           .needed("lamp")
           .heldBy({"piece.sort"})
           .says("`emitter`: smoke, sparks, flame or spray; `shape`: what the game reckons collisions with; "
                 "`moving`: a part that turns or swings.")
           .notCalled({"type"}),
       rows::whole("least", &PieceRule::least)
           .between(0, 64)
           .heldBy({"object.models"})
           .says("How many pieces of an object are one at least.")
           .notCalled({"min", "required"}),
       rows::whole("most", &PieceRule::most)
           .between(1, 64)
           .heldBy({"object.models"})
           .says("How many at most.")
           .notCalled({"max"}),
       rows::object("when", &PieceRule::when, conditionKeys).says("`least` holds only then."),
       rows::list("fields", &PieceRule::fields, fieldKeys)
           .entries(0, 64)
           .heldBy({"piece.values"})
           .says("Values: one with the id of a value that the sort has stands in its place.")
           .notCalled({"values"})}};
  return table;
}

std::vector<Key> objectKeys() {
  return {
      rows::list("fields", &Kind::fields, fieldKeys)
          .says("What stands on the card.")
          .notCalled({"card", "properties"}),
      rows::group("icon", iconKeys).says("The picture that the game shows in lists."),
      rows::flag("replaces", &Kind::replaces)
          .heldBy({"object.replaces"})
          .says("An object may stand in place of one of the game's own: of `shared_assets`, those whose "
                "`sort` is the kind."),
      rows::list("models", &Kind::models, modelKeys)
          .entries(0, 32)
          .says("What else an object is made of, each with rules of its own."),
      rows::list("pieces", &Kind::pieces, pieceKeys)
          .entries(0, 64)
          .says(
              "Lamps, emitters, collision shapes, sounds and moving parts that the game takes in an object.")
          .notCalled({"lamps", "emitters", "effects", "shapes", "colliders"}),
      rows::outcomes(&Kind::outcomes).says("As at the top level, for things of this kind.")};
}

}  // namespace

KeyTable& kindKeys() {
  static KeyTable table = [] {
    KeyTable out{"kind", "A kind", "", whatItIs()};
    for (std::vector<Key>& some : std::vector<std::vector<Key>>{sizeAndOriginKeys(), budgetKeys(),
                                                                figureKeys(), lookKeys(), objectKeys()})
      out.keys.insert(out.keys.end(), some.begin(), some.end());
    return out;
  }();
  return table;
}

}  // namespace rakugo::rulebook
