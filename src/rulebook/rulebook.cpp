#include "rulebook/rulebook.h"

#include <algorithm>

namespace rakugo::rulebook {
namespace {

constexpr std::pair<Outcome, const char*> kOutcomeNames[] = {{Outcome::refuses_mod, "refuses_mod"},
                                                             {Outcome::refuses_object, "refuses_object"},
                                                             {Outcome::shows_wrong, "shows_wrong"},
                                                             {Outcome::shows_blank, "shows_blank"},
                                                             {Outcome::takes_default, "takes_default"},
                                                             {Outcome::ignores, "ignores"},
                                                             {Outcome::meant, "meant"}};

}  // namespace

const char* outcomeName(Outcome outcome) { return kOutcomeNames[static_cast<size_t>(outcome)].second; }

std::vector<std::string> outcomeNames() {
  std::vector<std::string> out;
  for (const auto& [outcome, said] : kOutcomeNames) out.emplace_back(said);
  return out;
}

std::optional<Outcome> outcomeFromName(std::string_view name) {
  for (const auto& [outcome, said] : kOutcomeNames)
    if (name == said) return outcome;
  return std::nullopt;
}

std::optional<Outcome> outcomeOf(const Rulebook& book, const Kind* kind, const Field* field,
                                 const std::string& check) {
  if (field != nullptr && check == "field.empty" && field->when_empty) return field->when_empty;
  if (field != nullptr && check == "field.limits" && field->when_outside) return field->when_outside;
  for (const std::map<std::string, Outcome>* outcomes :
       {kind != nullptr ? &kind->outcomes : nullptr, &book.outcomes})
    if (outcomes != nullptr)
      if (const auto found = outcomes->find(check); found != outcomes->end()) return found->second;
  return std::nullopt;
}
namespace {

template <class List>
auto findById(const List& list, const std::string& id) {
  const auto at = std::find_if(list.begin(), list.end(), [&](const auto& one) { return one.id == id; });
  return at == list.end() ? nullptr : &*at;
}

}  // namespace

bool Condition::holds(const base::Json& card) const {
  if (field.empty()) return true;
  return card.is_object() && card.contains(field) && card[field] == is;
}

const Field* Field::findColumn(const std::string& column) const { return findById(columns, column); }
const Field* GameList::findField(const std::string& field) const { return findById(fields, field); }
bool GameList::takes(const std::string& kind) const {
  return of.empty() || std::find(of.begin(), of.end(), kind) != of.end();
}

const Role* Kind::findRole(const std::string& role) const { return findById(roles, role); }
const Field* Kind::findField(const std::string& field) const { return findById(fields, field); }
namespace {

// The number at the end of "lamp-3"; empty where there is none.
std::string numberOf(const std::string& id) {
  const size_t dash = id.rfind('-');
  const bool digits = dash != std::string::npos && dash + 1 < id.size() &&
                      id.find_first_not_of("0123456789", dash + 1) == std::string::npos;
  return digits ? id.substr(dash + 1) : std::string();
}

template <class Entry>
std::string wordOf(const Entry* entry, const std::string& id) {
  return entry != nullptr && !entry->word.empty() ? entry->word : id;
}

}  // namespace

const Point* Kind::findPoint(const std::string& point) const {
  if (const Point* found = findById(points, point)) return found;
  const std::string number = numberOf(point);
  if (number.empty()) return nullptr;
  const Point* sort = findById(points, point.substr(0, point.size() - number.size() - 1));
  return sort != nullptr && sort->most > 1 ? sort : nullptr;
}

std::string Kind::roleWord(const std::string& role) const { return wordOf(findRole(role), role); }
std::string Kind::regionWord(const std::string& region) const { return wordOf(findRegion(region), region); }
std::string Kind::fieldWord(const std::string& field) const { return wordOf(findField(field), field); }
std::string Kind::pointWord(const std::string& point) const {
  const Point* sort = findPoint(point);
  std::string out = wordOf(sort, point);
  if (sort == nullptr || sort->word.empty() || sort->most <= 1) return out;
  const std::string number = sort->id == point ? "1" : numberOf(point);
  if (const size_t place = out.find("{n}"); place != std::string::npos) return out.replace(place, 3, number);
  return out + "-" + number;
}

const Region* Kind::findRegion(const std::string& region) const { return findById(regions, region); }
const Bone* Skeleton::findBone(const std::string& bone) const { return findById(bones, bone); }
const Movement* Skeleton::findMovement(const std::string& movement) const {
  return findById(movements, movement);
}
const Skeleton* Rulebook::findSkeleton(const std::string& skeleton) const {
  return findById(skeletons, skeleton);
}
const GameList* Rulebook::findList(const std::string& list) const { return findById(lists, list); }
const SharedAsset* Rulebook::findShared(const std::string& asset) const {
  return findById(shared_assets, asset);
}
bool Rulebook::namesThings(const std::string& kind, const std::string& field) const {
  const Kind* known = findKind(kind);
  const Field* found = known != nullptr ? known->findField(field) : nullptr;
  return found == nullptr || found->type == FieldType::text_id;
}
LookChange LookSwitch::changeOf(const std::string& role) const {
  LookChange out;
  for (const LookChange& one : changes) {
    if (!one.roles.empty() && std::find(one.roles.begin(), one.roles.end(), role) == one.roles.end())
      continue;
    for (size_t c = 0; c < 3; ++c) out.color[c] *= one.color[c];
    out.roughness *= one.roughness;
    out.glow += one.glow;
  }
  return out;
}

std::vector<Target> Rulebook::allTargets() const {
  if (!targets.empty()) return targets;
  Target only;
  only.id = only.title = target;
  return {only};
}

std::optional<Target> Rulebook::targetNamed(const std::string& wanted) const {
  for (const Target& one : allTargets())
    if (wanted.empty() || one.id == wanted) return one;
  return std::nullopt;
}

uint32_t Rulebook::pictureSide(const Target& of) const {
  if (picture_max_side == 0 || of.max_side == 0) return std::max(picture_max_side, of.max_side);
  return std::min(picture_max_side, of.max_side);
}

const Kind& KindModel::kind() const {
  if (rules.empty()) base::brokenPromise("a model of a kind without rules", id);
  return rules.front();
}

const KindModel* Kind::findModel(const std::string& model) const { return findById(models, model); }

const PieceRule* Kind::findPiece(const std::string& piece) const { return findById(pieces, piece); }

std::string Kind::pieceWord(const std::string& as) const {
  const PieceRule* rule = findPiece(as);
  return rule != nullptr && !rule->word.empty() ? rule->word : as;
}

const Field* PieceRule::findField(const std::string& field) const { return findById(fields, field); }

std::string PieceRule::fieldWord(const std::string& field) const {
  const Field* found = findField(field);
  return found != nullptr && !found->word.empty() ? found->word : field;
}

const Kind* Rulebook::findKind(const std::string& kind) const {
  const size_t slash = kind.find('/');
  if (slash == std::string::npos) return findById(kinds, kind);
  const Kind* of = findById(kinds, kind.substr(0, slash));
  const KindModel* model = of != nullptr ? of->findModel(kind.substr(slash + 1)) : nullptr;
  return model != nullptr ? &model->kind() : nullptr;
}

std::vector<const Kind*> Rulebook::modelKinds() const {
  std::vector<const Kind*> out;
  for (const Kind& kind : kinds) {
    out.push_back(&kind);
    for (const KindModel& model : kind.models) out.push_back(&model.kind());
  }
  return out;
}

glm::vec3 Rulebook::side() const {
  return glm::cross(geometry::axisVector(up), geometry::axisVector(forward));
}

}  // namespace rakugo::rulebook
