#include "rulebook/rulebook.h"

#include <algorithm>

namespace rakugo::rulebook {
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

const Role* Kind::findRole(const std::string& role) const { return findById(roles, role); }
const Field* Kind::findField(const std::string& field) const { return findById(fields, field); }
const Point* Kind::findPoint(const std::string& point) const { return findById(points, point); }
const Region* Kind::findRegion(const std::string& region) const { return findById(regions, region); }
const Bone* Skeleton::findBone(const std::string& bone) const { return findById(bones, bone); }
const Movement* Skeleton::findMovement(const std::string& movement) const {
  return findById(movements, movement);
}
const Skeleton* Rulebook::findSkeleton(const std::string& skeleton) const {
  return findById(skeletons, skeleton);
}
bool Rulebook::namesThings(const std::string& kind, const std::string& field) const {
  const Kind* known = findKind(kind);
  const Field* found = known != nullptr ? known->findField(field) : nullptr;
  return found == nullptr || found->type == FieldType::text_id;
}
const Kind* Rulebook::findKind(const std::string& kind) const { return findById(kinds, kind); }
glm::vec3 Rulebook::side() const {
  return glm::cross(geometry::axisVector(up), geometry::axisVector(forward));
}

}  // namespace rakugo::rulebook
