// The tool that handles the pointer on the bench; one class for each tool.
#pragma once

#include <QPointF>
#include <QString>
#include <glm/glm.hpp>
#include <memory>
#include <vector>

#include "app/bench/bench.h"

class QKeyEvent;
class QPainter;

namespace rakugo::app {

/// Lives for as long as it is chosen; what it took is told by the bench's signals. Places are the widget's
/// pixels.
class BenchTool {
 public:
  explicit BenchTool(Bench& bench) : bench_(bench) {}
  BenchTool(const BenchTool&) = delete;
  BenchTool& operator=(const BenchTool&) = delete;
  virtual ~BenchTool() = default;

  /// The left button goes down. True: the drag that follows is the tool's; else it turns the view.
  virtual bool press(QPointF) { return false; }
  /// Of a drag that it took, from where the button went down.
  virtual void drag(QPointF /*from*/, QPointF /*to*/) {}
  /// The drag that it took ends; `moved`: it was more than a click.
  virtual void letGo(QPointF, bool /*moved*/) {}
  /// The left button went down and up at one place, and `press` did not take it.
  virtual void click(QPointF) {}
  /// The pointer moves with no button. True when the picture changes by it.
  virtual bool hover(QPointF) { return false; }
  virtual void leave() {}
  virtual void paint(QPainter&) {}
  /// What the person is asked to do; empty: nothing.
  [[nodiscard]] virtual QString prompt() const { return {}; }
  [[nodiscard]] virtual std::vector<glm::vec3> measured() const { return {}; }
  /// Forgets what was measured.
  virtual void clear() {}
  [[nodiscard]] virtual std::vector<Bench::Ring> rings() const { return {}; }
  /// True while it drags what was picked: the picture that follows it does not take it out of the hand.
  [[nodiscard]] virtual bool holds() const { return false; }
  /// A key goes down while it holds: a number that is typed takes the pointer's place. True: it was for that.
  virtual bool type(const QKeyEvent&) { return false; }
  /// Whether what it drags to was typed, and is meant to the digit.
  [[nodiscard]] virtual bool typed() const { return false; }
  /// Another model, handle or pose is shown: nothing of the old one is pointed at.
  virtual void shownChanged() {}

 protected:
  Bench& bench_;
};

std::unique_ptr<BenchTool> makeBenchTool(Bench::Tool tool, Bench& bench);

}  // namespace rakugo::app
