// Tools that take something of the model once and are done: the side that faces forward, a place, vertices by
// an outline, a loose piece, quarter turns.
#pragma once

#include "app/bench/tools/bench_rings.h"
#include "app/bench/tools/measuring_tools.h"

namespace rakugo::app {

/// The side of the model that faces forward.
class FrontTool : public BenchTool {
 public:
  using BenchTool::BenchTool;
  void click(QPointF at) override;
  bool hover(QPointF at) override;
  void leave() override { side_.reset(); }
  void shownChanged() override { side_.reset(); }
  void paint(QPainter& painter) override;
  [[nodiscard]] QString prompt() const override;

 private:
  void paintFrame(QPainter& painter) const;
  std::optional<glm::vec3> side_;
};

/// A place on the model: the origin's, or a part's pivot.
class PlaceTool : public SnappingTool {
 public:
  PlaceTool(Bench& bench, bool pivot) : SnappingTool(bench), pivot_(pivot) {}
  void click(QPointF at) override;
  [[nodiscard]] QString prompt() const override;

 private:
  bool pivot_;
};

/// Vertices within a box or a drawn outline.
class OutlineTool : public BenchTool {
 public:
  OutlineTool(Bench& bench, bool box) : BenchTool(bench), box_(box) {}
  bool press(QPointF at) override;
  void drag(QPointF from, QPointF to) override;
  void letGo(QPointF at, bool moved) override;
  void paint(QPainter& painter) override;
  [[nodiscard]] QString prompt() const override;

 private:
  bool box_;
  QPolygonF drawn_;
};

/// A loose piece of a part.
class PieceTool : public BenchTool {
 public:
  using BenchTool::BenchTool;
  void click(QPointF at) override;
  [[nodiscard]] QString prompt() const override;
};

/// The model turned by quarters, by rings round it.
class QuarterTool : public BenchTool {
 public:
  explicit QuarterTool(Bench& bench) : BenchTool(bench), ring_(bench) {}
  bool press(QPointF at) override;
  void drag(QPointF from, QPointF to) override;
  void letGo(QPointF at, bool moved) override;
  bool hover(QPointF at) override;
  void shownChanged() override { ring_.forget(); }
  void paint(QPainter& painter) override;
  [[nodiscard]] QString prompt() const override;
  [[nodiscard]] std::vector<Bench::Ring> rings() const override;

 private:
  RingDrag ring_;
};

}  // namespace rakugo::app
