// `rakugo-tool object take-from`: set-up taken from another object that has it.
#include <fmt/core.h>

#include "base/text.h"
#include "check/donor_body.h"
#include "mod/store.h"
#include "packing/bundle_donor.h"
#include "prepare/objects/donor.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct DonorOptions {
  std::string mod, object, donor, other_mod, bundle;
  std::vector<std::string> take;
  bool all = false;
};

// The offers that were asked for. Errors: donor.unknown, with what there is.
base::Result<std::vector<prepare::DonorOffer>> chosenOf(const std::vector<prepare::DonorOffer>& offers,
                                                        const DonorOptions& o) {
  if (o.all) return offers;
  std::vector<prepare::DonorOffer> out;
  for (const std::string& id : o.take) {
    const size_t before = out.size();
    for (const prepare::DonorOffer& one : offers)
      if (one.id == id) out.push_back(one);
    if (out.size() > before) continue;
    std::vector<std::string> known;
    for (const prepare::DonorOffer& one : offers) known.push_back(one.id);
    return base::Error{"donor.unknown",
                       fmt::format("{} offers no \"{}\".", o.donor, base::presentable(id, 60)),
                       {},
                       known.empty() ? std::string("It offers nothing that such an object takes.")
                                     : fmt::format("It offers {}.", base::listText(known, 30))};
  }
  return out;
}

int takeFrom(const Common& common, const DonorOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  mod::ModState other = open->state;
  const std::string folder = !o.bundle.empty()     ? o.bundle
                             : o.other_mod.empty() ? std::string(open->folder)
                                                   : o.other_mod;
  std::optional<packing::BundleDonor> unpacked;
  if (!o.bundle.empty()) {
    const auto bundle = bundle::Bundle::open(o.bundle);
    if (!bundle) return failed(common, bundle.error());
    auto made = packing::donorOf(*bundle, o.donor, *open->book);
    if (!made) return failed(common, made.error());
    unpacked = std::move(made).value();
    other = *unpacked->mod;
  }
  if (!o.other_mod.empty()) {
    auto loaded = mod::loadMod(o.other_mod);
    if (!loaded) return failed(common, loaded.error());
    other = std::move(loaded).value();
  }
  const auto ours = named(open->state.objects, o.object, "object", "mod.no_object", o.mod);
  if (!ours) return failed(common, ours.error());
  const auto theirs = named(std::as_const(other).objects, o.donor, "object", "mod.no_object", folder);
  if (!theirs) return failed(common, theirs.error());
  const prepare::DonorSide taker{before, o.object,
                                 check::bodyOfObject(open->folder, open->book, before, o.object)},
      donor{other, o.donor,
            unpacked ? unpacked->body : check::bodyOfObject(folder, open->book, other, o.donor)};
  const std::vector<prepare::DonorOffer> offers = prepare::donorOffers(*open->book, taker, donor);
  const auto chosen = chosenOf(offers, o);
  if (!chosen) return failed(common, chosen.error());
  if (!chosen->empty()) {
    if (const base::Status taken = prepare::takeSetUp(open->state, *open->book, taker, donor, *chosen);
        !taken)
      return failed(common, taken.error());
    if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  }
  Json list = Json::array();
  std::string text;
  for (const prepare::DonorOffer& one : chosen->empty() ? offers : *chosen) {
    list.push_back(Json{{"sort", prepare::setUpName(one.sort)},
                        {"id", one.id},
                        {"theirs", one.theirs},
                        {"ours", one.ours},
                        {"taken", !chosen->empty()}});
    text += fmt::format("{}{} {}: {}{}\n", chosen->empty() ? "" : "took ", prepare::setUpName(one.sort),
                        one.id, one.theirs,
                        one.ours.empty() ? (chosen->empty() ? " (missing here)" : "")
                        : one.differs()  ? fmt::format(" (here {})", one.ours)
                                         : std::string(" (the same here)"));
  }
  return said(common, list, text.empty() ? o.donor + " offers nothing that such an object takes.\n" : text);
}

}  // namespace

void addDonorCommands(Tool& tool) {
  const auto o = std::make_shared<DonorOptions>();
  CLI::App* sub = tool.command(
      "take-from",
      "Take values, roles, points, lists and pieces from another object; without a choice, list them",
      tool.group("object", ""));
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("OBJECT", o->object, "The object that takes")->required();
  sub->add_option("DONOR", o->donor, "The object that has it")->required();
  sub->add_option("--of", o->other_mod, "The folder of another mod, whose object the donor is");
  sub->add_option("--bundle", o->bundle, "A bundle, whose object the donor is")
      ->excludes(sub->get_option("--of"));
  CLI::Option* all = sub->add_flag("--all", o->all, "Take all that is offered");
  sub->add_option("--take", o->take, "What is taken, by its id; as often as wanted")->excludes(all);
  tool.runs(sub, [o](const Common& common) { return takeFrom(common, *o); });
}

}  // namespace rakugo::tool
