// The keys of a skeleton of the game.
#include "rulebook/key_rows.h"
#include "rulebook/key_tables.h"

namespace rakugo::rulebook {
namespace {

KeyTable& boneKeys() {
  static KeyTable table{
      "bone",
      "A bone",
      "",
      {rows::text("id", &Bone::id, KeyType::name)
           .needed()
           .heldBy({"bones.missing"})
           .says("The exact name that the game looks for.")
           .notCalled({"name"}),
       rows::title(&Bone::title).says("What it is called in the window."),
       rows::reference("parent", "bones", &Bone::parent)
           .heldBy({"bones.parent"})
           .says("The id of a bone listed before; only the first has none."),
       rows::choice<Bone, Side>(
           "side", {{"centre", Side::centre}, {"left", Side::left}, {"right", Side::right}}, &Bone::side)
           .heldBy({"bones.sides"})
           .says("A left bone lies to the left of the middle."),
       rows::flag("required", &Bone::required)
           .heldBy({"bones.missing"})
           .says("A model of a kind with this skeleton needs it."),
       rows::numbers("at_m", &Bone::at_m)
           .between(-1e5, 1e5)
           .in("m")
           .needed()
           .heldBy({"bones.pose"})
           .says("Its head in the rest pose: forward, left, up.")
           .notCalled({"at", "position", "place"}),
       rows::hints(&Bone::hints).says("Words in other programs' bone names that mean this one."),
       rows::numbers("turn", &Bone::turn)
           .between(-1, 1)
           .heldBy({"bones.turned"})
           .says("Of its own axes at rest, in the game's: a unit quaternion x, y, z, w.")
           .notCalled({"rotation", "quaternion"}),
       rows::number("most_deg", &Bone::most_deg)
           .between(0, 180)
           .in("degrees")
           .says("How far it may turn off from rest against its parent; 0: any angle.")}};
  return table;
}

KeyTable& chainKeys() {
  static KeyTable table{
      "chain",
      "A chain",
      "Bones that follow one another: an arm, a leg, a tail.",
      {rows::id(&Chain::id), rows::title(&Chain::title).says("What it is called in the window."),
       rows::words("bones", &Chain::bones)
           .entries(1, 200)
           .needed()
           .says("Bones of the skeleton, each the child of the one before."),
       rows::flag("plants", &Chain::plants)
           .heldBy({"bones.floor"})
           .says("Its last bone stands on the ground and must not slide there.")}};
  return table;
}

KeyRow moments() {
  KeyRow out = rows::plain("moments_s", KeyType::numbers, &Movement::moments_s);
  return std::move(out)
      .between(0, 600)
      .in("s")
      .entries(0, 32)
      .heldBy({"bones.bends", "bones.aims", "bones.floor", "skin.breaks"})
      .says("At these moments models are held against the game's own figure.");
}

KeyTable& movementKeys() {
  static KeyTable table{
      "movement",
      "A movement",
      "",
      {rows::text("id", &Movement::id, KeyType::name).needed().says("The name of the animation in the file."),
       rows::title(&Movement::title).says("What it is called in the window."),
       rows::flag("loops", &Movement::loops).says("Its end goes over into its beginning."), moments()}};
  return table;
}

KeyTable& movementsKeys() {
  static KeyTable table{
      "movements",
      "`movements`",
      "What the game does with its figures. Models are shown in these movements at the Skeleton station.",
      {rows::file("file", &Skeleton::movements_file)
           .needed()
           .says("A GLB inside the rulebook, in the game's axes, metres: nodes called as the bones, and "
                 "animations. Still poses are animations with one key."),
       rows::list("list", &Skeleton::movements, movementKeys).says("The animations that count.")}};
  return table;
}

}  // namespace

KeyTable& skeletonKeys() {
  static KeyTable table{
      "skeleton",
      "A skeleton",
      "",
      {rows::id(&Skeleton::id), rows::title(&Skeleton::title).says("What it is called in the window."),
       rows::list("bones", &Skeleton::bones, boneKeys)
           .entries(1, 1000)
           .needed()
           .says("Parents before their children."),
       rows::list("chains", &Skeleton::chains, chainKeys).says("Arms, legs, wings, tails."),
       rows::group("movements", movementsKeys).says("How the game moves it.")}};
  return table;
}

}  // namespace rakugo::rulebook
