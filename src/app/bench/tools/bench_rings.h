// Circles to turn by: round the model, in quarters, and round what was picked, by the degree.
#pragma once

#include <optional>

#include "app/bench/bench.h"

namespace rakugo::app {

/// Places along a ring from one angle to another, in degrees by the right hand, five degrees apart.
std::vector<glm::vec3> ringPlaces(const Bench::Ring& ring, double from_deg, double to_deg);

/// The rings of a tool under the pointer: pointed at, taken, turned.
class RingDrag {
 public:
  explicit RingDrag(const Bench& bench) : bench_(bench) {}
  /// Points at the ring under the pointer. True when that is another one than before.
  bool pointAt(const std::vector<Bench::Ring>& rings, QPointF at);
  /// Takes the ring under the pointer. False when there is none.
  bool take(const std::vector<Bench::Ring>& rings, QPointF at);
  /// Turns it to the pointer, in steps of so many degrees. False when it cannot be seen how far.
  bool turn(const std::vector<Bench::Ring>& rings, QPointF at, double step_deg);
  /// Turns it so far, whatever the pointer says.
  void turnTo(double degrees) { by_deg_ = degrees; }
  /// How far it was turned; it is let go.
  double letGo();
  void forget();
  [[nodiscard]] bool taken() const { return taken_; }
  [[nodiscard]] std::optional<size_t> ring() const { return ring_; }
  [[nodiscard]] double turned_deg() const { return by_deg_; }
  void paint(QPainter& painter, const std::vector<Bench::Ring>& rings, Bench& bench) const;

 private:
  [[nodiscard]] std::optional<size_t> under(const std::vector<Bench::Ring>& rings, QPointF at) const;
  /// The angle at which the pointer stands on a ring's plane, in degrees; nothing where that is seen edge-on.
  [[nodiscard]] std::optional<double> angleOn(const Bench::Ring& ring, QPointF at) const;
  const Bench& bench_;
  std::optional<size_t> ring_;  ///< that is dragged, or pointed at
  bool taken_ = false;
  double from_deg_ = 0, by_deg_ = 0;
};

}  // namespace rakugo::app
