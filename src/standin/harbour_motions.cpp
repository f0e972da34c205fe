// Parts of things that turn and swing by themselves, and whether a thing may be in view.
#include <algorithm>
#include <array>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/quaternion.hpp>

#include "standin/play.h"

namespace rakugo::standin {

// What runs under way goes as fast as the boat does.
void Play::moveParts(float seconds) {
  std::erase_if(turns_, [&](const auto& one) { return find(one.first) == nullptr; });
  for (const auto& [name, thing] : game_.objects()) {
    const std::vector<bundle::ObjectMotion>& motions = thing.record.motions;
    if (motions.empty()) continue;
    Turns& turns = turns_[name];
    turns.standing.resize(motions.size());
    turns.steered.resize(motions.size());
    const float pace = fastest_ > 0 ? std::clamp(speed_ / fastest_, -1.0F, 1.0F) : 0.0F;
    for (size_t i = 0; i < motions.size(); ++i) {
      const bool own_time = motions[i].runs == "always" || motions[i].runs == "night";
      const float by_itself = own_time ? moment(name, motions[i].runs) : 0.0F;
      const auto go = [&](float& turned, float runs) {
        turned += motions[i].rate * runs * seconds;
        turned -= std::floor(turned);
      };
      go(turns.standing[i], by_itself);
      if (doing_ == Doing::sailing && name == craft_)
        go(turns.steered[i], motions[i].runs == "under-way" ? pace : by_itself);
    }
  }
}

std::vector<float> Play::motionsOf(const Shown& shown) const {
  std::vector<float> out;
  const LoadedThing* thing = find(shown.object);
  const auto turns = turns_.find(shown.object);
  if (thing == nullptr) return out;
  constexpr float kWhole = 6.2831853F;
  for (const bundle::ObjectMotion& motion : thing->record.motions) {
    const size_t i = out.size();
    const auto turned_of = [&](const std::vector<float>& of) { return i < of.size() ? of[i] : 0.0F; };
    const float turned = turns == turns_.end()
                             ? 0.0F
                             : turned_of(shown.steered ? turns->second.steered : turns->second.standing);
    const float middle = (motion.span[0] + motion.span[1]) / 2, half = (motion.span[1] - motion.span[0]) / 2;
    if (!motion.swings)
      out.push_back(kWhole * turned);
    else if (motion.runs == "helm")  // hard over is the end of its span
      out.push_back(middle + half * (shown.steered ? rudder_ : 0.0F));
    else
      out.push_back(middle + half * std::sin(kWhole * turned));
  }
  return out;
}

glm::mat4 movedTo(const bundle::ObjectRecord& record, const std::vector<float>& motion_rad,
                  std::vector<uint32_t> bundle::ObjectMotion::*list, size_t place) {
  glm::mat4 out(1);
  for (size_t i = 0; i < record.motions.size() && i < motion_rad.size(); ++i) {
    const bundle::ObjectMotion& motion = record.motions[i];
    const std::vector<uint32_t>& moved = motion.*list;
    if (std::find(moved.begin(), moved.end(), static_cast<uint32_t>(place)) == moved.end()) continue;
    const glm::vec3 at(motion.position[0], motion.position[1], motion.position[2]);
    const glm::quat turn(motion.turn[3], motion.turn[0], motion.turn[1], motion.turn[2]);
    out = glm::rotate(glm::translate(out, at), motion_rad[i], turn * glm::vec3(1, 0, 0));
    out = glm::translate(out, -at);
  }
  return out;
}

bool mayBeSeen(const bundle::ObjectRecord& record, const glm::mat4& view) {
  const auto& low = record.seen ? (*record.seen)[0] : record.bounds_min;
  const auto& high = record.seen ? (*record.seen)[1] : record.bounds_max;
  // Out of view where all corners lie beyond one of the six sides.
  std::array<int, 6> beyond{};
  for (int corner = 0; corner < 8; ++corner) {
    const glm::vec4 at =
        view * glm::vec4((corner & 1) != 0 ? high[0] : low[0], (corner & 2) != 0 ? high[1] : low[1],
                         (corner & 4) != 0 ? high[2] : low[2], 1);
    for (int c = 0; c < 3; ++c) {
      beyond[static_cast<size_t>(2 * c)] += at[c] < -at.w ? 1 : 0;
      beyond[static_cast<size_t>(2 * c + 1)] += at[c] > at.w ? 1 : 0;
    }
  }
  return std::none_of(beyond.begin(), beyond.end(), [](int corners) { return corners == 8; });
}

}  // namespace rakugo::standin
