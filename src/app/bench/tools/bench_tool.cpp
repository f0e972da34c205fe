#include "app/bench/tools/bench_tool.h"

#include "app/bench/tools/hand_tool.h"
#include "app/bench/tools/picking_tools.h"

namespace rakugo::app {

std::unique_ptr<BenchTool> makeBenchTool(Bench::Tool tool, Bench& bench) {
  switch (tool) {
    case Bench::Tool::look_round:
      break;
    case Bench::Tool::point_front:
      return std::make_unique<FrontTool>(bench);
    case Bench::Tool::measure:
      return std::make_unique<LengthTool>(bench);
    case Bench::Tool::measure_angle:
      return std::make_unique<AngleTool>(bench);
    case Bench::Tool::measure_gap:
      return std::make_unique<GapTool>(bench);
    case Bench::Tool::pick_point:
      return std::make_unique<PlaceTool>(bench, false);
    case Bench::Tool::pick_pivot:
      return std::make_unique<PlaceTool>(bench, true);
    case Bench::Tool::pick_box:
      return std::make_unique<OutlineTool>(bench, true);
    case Bench::Tool::pick_outline:
      return std::make_unique<OutlineTool>(bench, false);
    case Bench::Tool::pick_piece:
      return std::make_unique<PieceTool>(bench);
    case Bench::Tool::turn_rings:
      return std::make_unique<QuarterTool>(bench);
  }
  return std::make_unique<HandTool>(bench);
}

}  // namespace rakugo::app
