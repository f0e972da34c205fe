#include "packing/bundle_donor.h"

#include "packing/unpack_object.h"

namespace rakugo::packing {

base::Result<BundleDonor> donorOf(const bundle::Bundle& bundle, const std::string& id,
                                  const rulebook::Rulebook& book) {
  RAKUGO_ASSIGN(UnpackedObject made, unpackObject(bundle, id, book));
  auto mod = std::make_shared<mod::ModState>();
  BundleDonor out{nullptr, id, {}};
  mod->card.title = bundle.manifest().title;
  const mod::PieceDoc* first = mod::firstModelPiece(made.object);
  for (UnpackedModel& one : made.models) {
    if (first != nullptr && first->model == one.name) {
      for (scene::Material& material : one.model.materials)
        if (const auto role = one.roles.find(material.key); role != one.roles.end())
          material.role = role->second;
      out.body = prepare::donorBodyOf(one.model);
    }
    mod->models[one.name].points = std::move(one.points);
  }
  mod->objects[id] = std::move(made.object);
  out.mod = std::move(mod);
  return out;
}

}  // namespace rakugo::packing
