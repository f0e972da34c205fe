// A body that falls on a floor and keeps its shape: what one sees of its weight before the game starts.
#pragma once

#include <glm/glm.hpp>
#include <glm/gtc/quaternion.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// A convex body. Metres, kilograms; all in one space.
struct FallingBody {
  std::vector<glm::vec3> corners;  ///< of its hull
  double mass_kg = 1;
  glm::dvec3 center_m{0};  ///< of mass
  glm::dmat3 inertia{1};   ///< about that, kg m^2
  double friction = 0.6;   ///< Coulomb's, against the floor
  double bounce = 0.2;     ///< restitution, 0 to 1
};

/// Its fall from rest on the floor: the plane across `up` through the origin. Steps of a millisecond,
/// semi-implicit Euler; contacts at corners by sequential impulses with Coulomb friction and Newton's
/// restitution (E. Guendelman, R. Bridson, R. Fedkiw, "Nonconvex rigid bodies with stacking", 2003, of whose
/// order of work this is the simplest case). No resistance of the air. Cost: a step is linear in corners.
class Fall {
 public:
  /// `up` is a unit vector; the lowest corner begins `height_m` above the floor. A body of no corners, no
  /// mass or of values that are not finite is at rest where it is.
  Fall(FallingBody body, const glm::dvec3& up, double height_m);
  /// Goes on by so many seconds, or until it is at rest.
  void advance(double seconds);
  [[nodiscard]] bool atRest() const { return rests_; }
  [[nodiscard]] double time_s() const { return steps_ * kStep_s; }
  /// From where the body stands by itself to where it is now.
  [[nodiscard]] glm::mat4 place() const;
  /// Whether it has met the floor.
  [[nodiscard]] bool touched() const { return touched_; }
  /// How high its lowest corner is above the floor.
  [[nodiscard]] double lowest_m() const;
  /// The highest that this was after it first touched the floor; 0 before.
  [[nodiscard]] double bounced_m() const { return bounced_m_; }
  /// By how much it leans from how it stands by itself; radians.
  [[nodiscard]] double lean_rad() const;

 private:
  static constexpr double kStep_s = 0.001;
  void step();
  void collide();
  [[nodiscard]] glm::dvec3 arm(const glm::vec3& corner) const;
  FallingBody body_;
  glm::dvec3 up_, at_{0}, velocity_{0}, spin_{0};
  glm::dquat turn_{1, 0, 0, 0};
  glm::dmat3 loose_{0};  ///< the inverse of the inertia, in the body's own directions
  uint64_t steps_ = 0;
  int still_ = 0;  ///< steps in a row in which hardly anything moved
  bool rests_ = false, touched_ = false;
  double bounced_m_ = 0;
};

}  // namespace rakugo::geometry
