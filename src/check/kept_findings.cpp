#include "check/kept_findings.h"

#include <algorithm>

#include "base/jobs.h"
#include "check/consequence.h"
#include "check/facts.h"
#include "geometry/union_find.h"
#include "mod/set_aside_place.h"
#include "prepare/step.h"

namespace rakugo::check {
namespace {

// The names of what hangs together.
struct Members {
  std::vector<std::string> models, objects;
  [[nodiscard]] std::string first() const {
    return models.empty() ? "object/" + objects.front() : "model/" + models.front();
  }
};

// Models and objects by what links them, in the order of the first of each.
std::vector<Members> linkedMembers(const mod::ModState& mod) {
  std::map<std::string, uint32_t> numbers;
  for (const auto& [name, doc] : mod.models) numbers.emplace(name, static_cast<uint32_t>(numbers.size()));
  const auto models = static_cast<uint32_t>(numbers.size());
  geometry::UnionFind linked(models + mod.objects.size());
  const auto link = [&](uint32_t one, const std::string& model) {
    if (const auto found = numbers.find(model); found != numbers.end()) linked.join(one, found->second);
  };
  for (const auto& [name, doc] : mod.models)
    for (const std::string& giver : prepare::modelsNamedBy(doc)) link(numbers.at(name), giver);
  uint32_t number = models;
  for (const auto& [name, doc] : mod.objects) {
    for (const mod::PieceDoc& piece : doc.pieces) link(number, piece.model);
    ++number;
  }
  std::map<uint32_t, Members> by_first;
  for (const auto& [name, at] : numbers) by_first[linked.first(at)].models.push_back(name);
  number = models;
  for (const auto& [name, doc] : mod.objects) by_first[linked.first(number++)].objects.push_back(name);
  std::vector<Members> out;
  for (auto& [first, members] : by_first) out.push_back(std::move(members));
  return out;
}

// Whether a check looks at nothing but models, objects and the rulebook, or says apart what else it looks at.
bool looksAtGroups(const CheckRow& row) {
  if (row.run_beside != nullptr) return true;
  return !row.facts.empty() && std::all_of(row.facts.begin(), row.facts.end(), [](const char* id) {
    const Fact* fact = findFact(id);
    return fact != nullptr && (fact->of == FactOf::model || fact->of == FactOf::object);
  });
}

bool sameSource(const SourceState& a, const SourceState& b) {
  return a.read == b.read && a.error.has_value() == b.error.has_value() &&
         a.changed_files == b.changed_files && a.missing_files == b.missing_files;
}

// All else that a state says follows from these and from the documents.
bool sameState(const ModelState& a, const ModelState& b) {
  const auto variant = [](const auto& one, const auto& other) {
    return one.first == other.first && one.second.prepared.model == other.second.prepared.model &&
           one.second.report == other.second.report;
  };
  return a.prepared.model == b.prepared.model && a.kind == b.kind && a.objects == b.objects &&
         a.structure == b.structure && a.same_parts == b.same_parts && a.regions == b.regions &&
         a.seams == b.seams && a.bones == b.bones && a.weights == b.weights && a.moments == b.moments &&
         a.skin_faults == b.skin_faults && a.weight_faults == b.weight_faults &&
         a.variants.size() == b.variants.size() &&
         std::equal(a.variants.begin(), a.variants.end(), b.variants.begin(), variant);
}

bool sameStates(const std::vector<ModelState>* a, const std::vector<ModelState>* b) {
  const size_t one = a != nullptr ? a->size() : 0, other = b != nullptr ? b->size() : 0;
  return one == other && (one == 0 || std::equal(a->begin(), a->end(), b->begin(), sameState));
}

template <class Map>
auto found(const Map& map, const std::string& key) -> decltype(&map.at(key)) {
  const auto at = map.find(key);
  return at == map.end() ? nullptr : &at->second;
}

// A mend that does nothing where it was applied already, to the very mod that it was made for: pressed twice,
// or by two findings that offer the same, it does what it does once.
Mend onlyOnce(Mend mend, std::shared_ptr<const mod::ModState> made_for) {
  return {std::move(mend.label),
          [apply = std::move(mend.apply), made_for = std::move(made_for)](mod::ModState& state) {
            mod::ModState mended = *made_for;
            apply(mended);
            const std::vector<std::string> changed = mod::changedPaths(*made_for, mended);
            const bool done =
                !changed.empty() && std::all_of(changed.begin(), changed.end(), [&](const std::string& path) {
                  return mod::documentContent(state, path) == mod::documentContent(mended, path);
                });
            if (!done) apply(state);
          }};
}

void wrapMends(std::vector<Finding>& findings, size_t from,
               const std::shared_ptr<const mod::ModState>& made_for) {
  if (made_for == nullptr) return;
  for (size_t i = from; i < findings.size(); ++i)
    for (Mend& mend : findings[i].mends) mend = onlyOnce(std::move(mend), made_for);
}

// Runs one check, which may look at what the ones before it found; what is meant in this game is no finding.
void runRow(const Context& context, const CheckRow& row, decltype(CheckRow::run) run,
            std::vector<Finding>& out) {
  const auto before = static_cast<std::ptrdiff_t>(out.size());
  run(context, row, out);
  // Held against several kinds a model can give the same finding twice.
  std::set<std::pair<std::string, std::string>> said;
  out.erase(
      std::remove_if(out.begin() + before, out.end(),
                     [&](const Finding& f) { return !said.emplace(placeKey(f.place), f.sentence).second; }),
      out.end());
  for (auto f = out.begin() + before; f != out.end(); ++f) settle(context, row, *f);
  out.erase(std::remove_if(out.begin() + before, out.end(),
                           [](const Finding& f) { return f.outcome == rulebook::Outcome::meant; }),
            out.end());
}

}  // namespace

// A group as it was looked at, and what was found of it.
struct KeptFindings::Group {
  mod::ModState mod;  ///< its models, objects, sources and icons alone
  Context context;    ///< the same
  /// Where the findings of a check lie in `findings`; checks that found nothing have none.
  struct Share {
    size_t check;  ///< its place in the table
    size_t begin, end;
  };
  std::vector<Finding> findings;  ///< of all checks, in their order
  std::vector<Share> shares;      ///< by check

  Group(const Context& whole, const Members& members);
  [[nodiscard]] Members members() const;
  [[nodiscard]] bool isAsBefore(const Context& whole, const Members& members) const;
  void check(const base::Progress* progress, const std::shared_ptr<const mod::ModState>& made_for);
};

KeptFindings::Group::Group(const Context& whole, const Members& members) {
  context.mod = &mod;
  context.book = whole.book;
  context.ghosts = whole.ghosts;
  context.has_objects = whole.has_objects;
  for (const std::string& name : members.models) {
    const mod::ModelDoc& doc = whole.mod->models.at(name);
    mod.models.share(whole.mod->models, name);
    context.models.share(whole.models, name);
    context.further_kinds.share(whole.further_kinds, name);
    for (const std::string& source : mod::sourcesOf(doc)) {
      mod.sources.share(whole.mod->sources, source);
      context.sources.share(whole.sources, source);
    }
  }
  for (const std::string& name : members.objects) {
    mod.objects.share(whole.mod->objects, name);
    if (const auto icon = whole.mod->icons.find(whole.mod->objects.at(name).icon);
        icon != whole.mod->icons.end())
      mod.icons.insert(*icon);
  }
}

Members KeptFindings::Group::members() const {
  Members out;
  for (const auto& [name, doc] : mod.models) out.models.push_back(name);
  for (const auto& [name, doc] : mod.objects) out.objects.push_back(name);
  return out;
}

bool KeptFindings::Group::isAsBefore(const Context& whole, const Members& members) const {
  if (context.has_objects != whole.has_objects || mod.models.size() != members.models.size() ||
      mod.objects.size() != members.objects.size())
    return false;
  const auto same_icon = [&](const std::string& path) {
    const auto *one = found(mod.icons, path), *other = found(whole.mod->icons, path);
    return (one == nullptr) == (other == nullptr) && (one == nullptr || *one == *other);
  };
  for (const std::string& name : members.models) {
    const auto *then = found(context.models, name), *now = found(whole.models, name);
    if (!mod.models.same(whole.mod->models, name) || then == nullptr || now == nullptr ||
        !sameState(*then, *now) ||
        !sameStates(found(context.further_kinds, name), found(whole.further_kinds, name)))
      return false;
    for (const std::string& source : mod::sourcesOf(mod.models.at(name))) {
      const auto *read = found(context.sources, source), *reads = found(whole.sources, source);
      if (!mod.sources.same(whole.mod->sources, source) || (read == nullptr) != (reads == nullptr) ||
          (read != nullptr && !sameSource(*read, *reads)))
        return false;
    }
  }
  return std::all_of(members.objects.begin(), members.objects.end(), [&](const std::string& name) {
    return mod.objects.same(whole.mod->objects, name) && same_icon(whole.mod->objects.at(name).icon);
  });
}

void KeptFindings::Group::check(const base::Progress* progress,
                                const std::shared_ptr<const mod::ModState>& made_for) {
  const std::vector<CheckRow>& table = checkTable();
  for (size_t i = 0; i < table.size(); ++i) {
    if (progress != nullptr && progress->cancelled()) return;
    if (!looksAtGroups(table[i])) continue;
    const size_t before = findings.size();
    runRow(context, table[i], table[i].run, findings);
    if (findings.size() > before) shares.push_back({i, before, findings.size()});
  }
  wrapMends(findings, 0, made_for);
}

// The groups that hold what changed, by their first names; nothing where the groups themselves may be others
// than in the last run: something came or went, or is linked to something else.
std::optional<std::vector<std::string>> KeptFindings::groupsToCheck(const Context& context,
                                                                    const Changed& changed) const {
  std::set<std::string> out;
  const auto groupOf = [&](const auto& holds) {
    return std::find_if(groups_.begin(), groups_.end(), [&](const auto& one) { return holds(*one.second); });
  };
  for (const std::string& name : changed.models) {
    const auto group = groupOf([&](const Group& one) { return one.mod.models.count(name) != 0; });
    const auto now = context.mod->models.find(name);
    if (group == groups_.end() || now == context.mod->models.end() ||
        prepare::modelsNamedBy(group->second->mod.models.at(name)) != prepare::modelsNamedBy(now->second))
      return std::nullopt;
    out.insert(group->first);
  }
  const auto same_model = [](const mod::PieceDoc& a, const mod::PieceDoc& b) { return a.model == b.model && a.as == b.as; };
  for (const std::string& name : changed.objects) {
    const auto group = groupOf([&](const Group& one) { return one.mod.objects.count(name) != 0; });
    const auto now = context.mod->objects.find(name);
    if (group == groups_.end() || now == context.mod->objects.end()) return std::nullopt;
    const std::vector<mod::PieceDoc>& then = group->second->mod.objects.at(name).pieces;
    if (!std::equal(then.begin(), then.end(), now->second.pieces.begin(), now->second.pieces.end(),
                    same_model))
      return std::nullopt;
    out.insert(group->first);
  }
  return std::vector<std::string>(out.begin(), out.end());
}

std::vector<Finding> KeptFindings::run(const Context& context, const base::Progress* progress,
                                       const Changed* changed,
                                       const std::shared_ptr<const mod::ModState>& made_for) {
  const auto cancelled = [&] { return progress != nullptr && progress->cancelled(); };
  Groups now;
  std::vector<std::shared_ptr<Group>> fresh;
  const auto look = [&](const std::string& first, const Members& members) {
    auto& group = now[first];
    const auto before = groups_.find(first);
    if (before != groups_.end() && before->second->isAsBefore(context, members)) {
      group = before->second;
      return;
    }
    fresh.push_back(std::make_shared<Group>(context, members));
    group = fresh.back();
  };
  if (const auto some = changed != nullptr ? groupsToCheck(context, *changed) : std::nullopt) {
    now = groups_;
    for (const std::string& first : *some) look(first, groups_.at(first)->members());
  } else {
    for (const Members& members : linkedMembers(*context.mod)) look(members.first(), members);
  }
  base::parallelFor(fresh.size(), [&](size_t i) { fresh[i]->check(progress, made_for); });
  checked_ = fresh.size();
  const std::vector<CheckRow>& table = checkTable();
  std::vector<std::vector<Finding>> by_check(table.size());
  for (const auto& [name, group] : now)
    for (const Group::Share& one : group->shares)
      by_check[one.check].insert(by_check[one.check].end(),
                                 group->findings.begin() + static_cast<std::ptrdiff_t>(one.begin),
                                 group->findings.begin() + static_cast<std::ptrdiff_t>(one.end));
  std::vector<Finding> out;
  for (size_t i = 0; i < table.size() && !cancelled(); ++i) {
    std::vector<Finding>& of_row = by_check[i];
    const auto run = looksAtGroups(table[i]) ? table[i].run_beside : table[i].run;
    const size_t of_groups = of_row.size();
    if (run != nullptr) runRow(context, table[i], run, of_row);
    wrapMends(of_row, of_groups, made_for);
    std::stable_sort(of_row.begin(), of_row.end(), [](const Finding& a, const Finding& b) {
      return std::tie(a.place.model, a.place.object) < std::tie(b.place.model, b.place.object);
    });
    std::move(of_row.begin(), of_row.end(), std::back_inserter(out));
  }
  // What was cut short knows too little to be kept.
  if (!cancelled()) groups_ = std::move(now);
  markSetAside(*context.mod, out);
  std::stable_sort(out.begin(), out.end(), [](const Finding& a, const Finding& b) {
    return std::pair(a.set_aside, a.severity) < std::pair(b.set_aside, b.severity);
  });
  return out;
}

}  // namespace rakugo::check
