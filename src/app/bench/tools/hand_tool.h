// The tool that is chosen when no other is: it looks round, chooses parts, and takes hold of handles.
#pragma once

#include "app/bench/tools/bench_rings.h"
#include "app/bench/tools/bench_tool.h"

namespace rakugo::app {

/// Handles are arrows or a ring at what was picked, and the ends of limbs of a pose.
class HandTool : public BenchTool {
 public:
  explicit HandTool(Bench& bench) : BenchTool(bench), ring_(bench) {}
  bool press(QPointF at) override;
  void drag(QPointF from, QPointF to) override;
  void letGo(QPointF at, bool moved) override;
  void click(QPointF at) override;
  bool hover(QPointF at) override;
  void paint(QPainter& painter) override;
  [[nodiscard]] std::vector<Bench::Ring> rings() const override;
  [[nodiscard]] bool holds() const override { return held_ == Held::arrow || held_ == Held::ring; }
  bool type(const QKeyEvent& event) override;
  [[nodiscard]] bool typed() const override { return typed_number_.has_value(); }
  void shownChanged() override;

 private:
  enum class Held : unsigned char { nothing, ring, end, arrow };
  [[nodiscard]] std::optional<int> endUnder(QPointF at) const;
  [[nodiscard]] std::optional<int> arrowUnder(QPointF at) const;
  /// The length of an arrow: the same share of the picture, however far away; metres.
  [[nodiscard]] float reach() const;
  /// What the handle is dragged to: metres, or factors.
  [[nodiscard]] glm::vec3 value() const;
  /// Tells how far it is dragged, not let go.
  void tell();
  void forgetTyped();
  void pullEnd(QPointF at, bool done);
  void paintEnds(QPainter& painter);
  void paintArrows(QPainter& painter);
  void paintArrow(QPainter& painter, QPointF from, QPointF to, int axis, bool scales);
  RingDrag ring_;
  Held held_ = Held::nothing;
  std::optional<int> end_;              ///< of a limb, that is pulled or pointed at
  std::optional<int> axis_;             ///< whose arrow is dragged, or pointed at
  glm::vec3 by_m_{0};                   ///< how far the arrow was dragged
  QString typed_;                       ///< as it was typed so far, while something is held
  std::optional<double> typed_number_;  ///< what that says: metres, a factor, degrees
};

}  // namespace rakugo::app
