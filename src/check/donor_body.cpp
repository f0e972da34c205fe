#include "check/donor_body.h"

#include "check/examiner.h"
#include "check/related.h"

namespace rakugo::check {

prepare::DonorBody bodyOfObject(const Context& context, const std::string& object) {
  const auto found = context.mod->objects.find(object);
  const mod::PieceDoc* first =
      found != context.mod->objects.end() ? mod::firstModelPiece(found->second) : nullptr;
  if (first == nullptr) return {};
  const auto model = context.models.find(first->model);
  return model != context.models.end() && model->second.prepared.model
             ? prepare::donorBodyOf(*model->second.prepared.model)
             : prepare::DonorBody();
}

prepare::DonorBody bodyOfObject(const std::filesystem::path& folder,
                                const std::shared_ptr<const rulebook::Rulebook>& book,
                                const mod::ModState& mod, const std::string& object) {
  const auto found = mod.objects.find(object);
  const mod::PieceDoc* first = found != mod.objects.end() ? mod::firstModelPiece(found->second) : nullptr;
  if (first == nullptr) return {};
  FindingPlace place;
  place.model = first->model;
  const auto part = std::make_shared<const mod::ModState>(relatedTo(mod, place));
  const auto examined = Examiner(folder, book).examine(part);
  return examined ? bodyOfObject((*examined)->context, object) : prepare::DonorBody();
}

}  // namespace rakugo::check
