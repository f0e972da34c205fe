// Tools that measure: from point to point, an angle, the gap between two parts.
#pragma once

#include "app/bench/tools/bench_tool.h"

namespace rakugo::app {

/// Takes places on the model: vertices, edges and faces catch the pointer.
class SnappingTool : public BenchTool {
 public:
  using BenchTool::BenchTool;
  bool hover(QPointF at) override;
  void paint(QPainter& painter) override;
  void shownChanged() override { hovered_.reset(); }

 private:
  std::optional<Snap> hovered_;
};

/// Takes so many places, one after another, and makes a note of what they tell.
class MeasuringTool : public SnappingTool {
 public:
  MeasuringTool(Bench& bench, size_t count) : SnappingTool(bench), count_(count) {}
  void click(QPointF at) override;
  void paint(QPainter& painter) override;
  [[nodiscard]] std::vector<glm::vec3> measured() const override { return places_; }
  void clear() override { places_.clear(); }

 protected:
  /// What the places tell, when all are there.
  [[nodiscard]] virtual QString told(const std::vector<glm::vec3>& places) const = 0;
  std::vector<glm::vec3> places_;

 private:
  size_t count_;
};

/// The length from one place to another.
class LengthTool : public MeasuringTool {
 public:
  explicit LengthTool(Bench& bench) : MeasuringTool(bench, 2) {}
  [[nodiscard]] QString prompt() const override;

 protected:
  [[nodiscard]] QString told(const std::vector<glm::vec3>& places) const override;
};

/// The angle at the second of three places.
class AngleTool : public MeasuringTool {
 public:
  explicit AngleTool(Bench& bench) : MeasuringTool(bench, 3) {}
  [[nodiscard]] QString prompt() const override;

 protected:
  [[nodiscard]] QString told(const std::vector<glm::vec3>& places) const override;
};

/// The gap between two parts.
class GapTool : public BenchTool {
 public:
  using BenchTool::BenchTool;
  void click(QPointF at) override;
  [[nodiscard]] QString prompt() const override;
  void shownChanged() override { from_.clear(); }

 private:
  QString from_;  ///< key of the first part
};

}  // namespace rakugo::app
