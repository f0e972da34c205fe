// A mod of 300 models: what an edit of one costs, beside a mod of that model alone, and what choosing another
// costs, beside making the scene that it shows. Needs no display.
#include <benchmark/benchmark.h>

#include <QCoreApplication>

#include "app/shell/examination_feed.h"
#include "bench_support.h"
#include "mod/store.h"

namespace {

using namespace rakugo;
using bench::must;
using bench::seconds;
namespace fs = std::filesystem;

const fs::path kMod = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight";
constexpr int kModels = 300;
const char* kEdited = "lamp-7";

std::shared_ptr<const rulebook::Rulebook> book() {
  static const auto kBook = std::make_shared<const rulebook::Rulebook>(
      std::move(rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick")).value());
  return kBook;
}

// Lamps, each with an object and a size of its own, so that no two have a mesh in common.
mod::ModState lamps(int first, int end) {
  mod::ModState out = std::move(mod::loadMod(kMod)).value();
  const mod::ModelDoc model = out.models.at("quay-lamp");
  const mod::ObjectDoc object = out.objects.at("quay-lamp");
  out.models.clear();
  out.objects.clear();
  for (int i = first; i < end; ++i) {
    const std::string name = "lamp-" + std::to_string(i);
    mod::ModelDoc doc = model;
    doc.steps.insert(doc.steps.begin() + 1, {"s90", "scale", true, base::Json{{"factor", 1 + i * 0.0005}}});
    out.models[name] = doc;
    out.objects[name] = object;
    out.objects[name].pieces[0].model = name;
  }
  return out;
}

// What an edit of one model costs an examiner that knows the state before.
class Edits {
 public:
  explicit Edits(mod::ModState state) : state_(std::move(state)), examiner_(kMod, book()) {
    examine(std::make_shared<const mod::ModState>(state_));
  }
  double one() {
    state_.models.at(kEdited).steps[1].values["factor"] = 1.2 + ++round_ * 0.001;
    const auto now = std::make_shared<const mod::ModState>(state_);
    const auto before = last_;  // a window lets go of it later
    return seconds([&] { examine(now); }, 1);
  }
  void examine(const std::shared_ptr<const mod::ModState>& now) {
    last_ = std::move(examiner_.examine(now)).value();
  }

 private:
  mod::ModState state_;
  check::Examiner examiner_;
  std::shared_ptr<const check::Examination> last_;
  int round_ = 0;
};

void editOfOneOf300AgainstThatModelAlone(benchmark::State& state) {
  Edits all(lamps(0, kModels)), alone(lamps(7, 8));
  double spent = 0, least = 0;
  for (auto _ : state) {
    spent += all.one();
    least += alone.one();
  }
  const auto n = static_cast<double>(state.iterations());
  state.counters["edit_ms"] = spent / n * 1000;
  state.counters["alone_ms"] = least / n * 1000;
  state.counters["x_alone"] = spent / least;
}

void choosingOneOf300AgainstMakingItsScene(benchmark::State& state) {
  const auto all = std::make_shared<const mod::ModState>(lamps(0, kModels));
  app::ExaminationFeed feed;
  feed.begin(kMod, book());
  int examined = 0, tried = 0;
  QObject::connect(&feed, &app::ExaminationFeed::examined, [&] { ++examined; });
  QObject::connect(&feed, &app::ExaminationFeed::mendsTried, [&] { ++tried; });
  feed.examine(all, {"lamp-0", {}});
  while (examined == 0 || tried == 0) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
  const auto known = feed.examination();
  double spent = 0, scenes = 0;
  int i = 0;
  for (auto _ : state) {
    const std::string name = "lamp-" + std::to_string(++i % kModels);
    const int before = examined;
    spent += seconds(
        [&] {
          feed.show(all, {name, {}});
          while (examined == before) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
        },
        1);
    must(feed.examination() == known, "choosing a model examines nothing");
    must(feed.scene() && feed.scene()->model == name, "the scene is of the model that was chosen");
    app::PictureCache pictures;
    scenes += seconds([&] { benchmark::DoNotOptimize(app::makeBenchScene(*known, name, pictures)); }, 1);
  }
  const auto n = static_cast<double>(state.iterations());
  state.counters["chosen_ms"] = spent / n * 1000;
  state.counters["x_scene"] = spent / scenes;
}

}  // namespace

BENCHMARK(editOfOneOf300AgainstThatModelAlone)->Unit(benchmark::kMillisecond)->Iterations(60);
BENCHMARK(choosingOneOf300AgainstMakingItsScene)->Unit(benchmark::kMillisecond)->Iterations(20);

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QCoreApplication program(argc, argv);
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
