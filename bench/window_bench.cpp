// The window on a mod of 300 models with some 4,000 findings: how soon it can be worked in after opening, how
// soon an edit's findings are there, how soon another model is, and how long input waits at most meanwhile.
// Draws nothing with OpenGL where the platform has none (QT_QPA_PLATFORM=offscreen).
#include <sys/resource.h>

#include <QKeyEvent>

#include "app/shell/main_window.h"
#include "app/stations/surface/sheet_canvas.h"
#include "app/widgets/row_list.h"
#include "bench_support.h"
#include "formats/gltf/gltf.h"
#include "mod/take_source.h"
#include "prepare/edit_steps.h"
#include "support/large_mod.h"
#include "support/large_model.h"
#include "support/many_pictures.h"
#include "support/stall_watch.h"
#include "window_support.h"

namespace {

using namespace rakugo;
using bench::must;
using Clock = std::chrono::steady_clock;
constexpr int kModels = 300;
constexpr double kOpen_ms = 2000, kEdit_ms = 150, kChoose_ms = 50, kStall_ms = 50;

app::MainWindow* window = nullptr;
QTemporaryDir* folder = nullptr;

double since_ms(Clock::time_point begin) {
  return std::chrono::duration<double, std::milli>(Clock::now() - begin).count();
}

template <class Until>
double waitUntil(const Until& done) {
  const auto begin = Clock::now();
  while (!done()) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
  return since_ms(begin);
}

app::Session& session() { return window->session(); }
bool examined() { return session().isOpen() && !session().busy() && session().examination(); }

void reportStall(benchmark::State& state, double longest_ms) {
  state.counters["stall_ms"] = longest_ms;
  state.counters["stall_of_50_ms"] = longest_ms / kStall_ms;
}

// Until the model that is chosen first is seen and the contents list everything.
void openMod(benchmark::State& state) {
  for (auto _ : state) {
    test::StallWatch watch;
    const auto begin = Clock::now();
    window->openMod(folder->path() + QStringLiteral("/mod"));
    waitUntil([] { return session().isOpen() && session().scene() != nullptr; });
    const double seen = since_ms(begin);
    waitUntil(examined);
    state.counters["seen_ms"] = seen;
    state.counters["seen_of_2_s"] = seen / kOpen_ms;
    state.counters["all_findings_ms"] = since_ms(begin);
    must(session().examination()->findings.size() > 3500, "the mod has thousands of findings");
    reportStall(state, watch.longest_ms());
  }
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  state.counters["memory_mb"] = static_cast<double>(used.ru_maxrss) / 1024;
}

// An edit of one model, until its findings are listed; beside examining that model alone.
void editOne(benchmark::State& state) {
  double spent = 0, stall = 0, alone = 0;
  const auto book = std::make_shared<const rulebook::Rulebook>(session().book());
  check::Examiner examiner(session().folder(), book);
  mod::ModState one = session().state();
  for (const std::string& name : mod::namesOf(one, mod::Thing::model))
    if (name != "lamp-7") one.models.erase(name), one.objects.erase(name), one.sources.erase(name);
  const auto examine = [&](double factor) {
    prepare::setOrAddStep(one.models.at("lamp-7"), "scale", {{"factor", factor}});
    const auto now = std::make_shared<const mod::ModState>(one);
    const auto begin = Clock::now();
    must(examiner.examine(now).ok(), "the model alone is examined");
    return since_ms(begin);
  };
  examine(2);
  session().selectModel("lamp-7");
  waitUntil(examined);
  test::StallWatch watch;
  int n = 0;
  for (auto _ : state) {
    const double factor = 1 + 0.01 * ++n;
    const auto begin = Clock::now();
    session().edit(QStringLiteral("Edit"), [&](mod::ModState& mod) {
      prepare::setOrAddStep(mod.models.at("lamp-7"), "scale", {{"factor", factor}});
    });
    waitUntil(examined);
    const double took = since_ms(begin);
    QCoreApplication::processEvents();
    spent += took;
    stall = std::max(stall, watch.longest_ms());
    // The model alone is examined on this thread, which input does not wait for in the window.
    alone += examine(factor);
    QCoreApplication::processEvents();
    (void)watch.longest_ms();
    state.SetIterationTime(took / 1000);
  }
  const auto count = static_cast<double>(state.iterations());
  state.counters["beyond_alone_of_150_ms"] = (spent - alone) / count / kEdit_ms;
  reportStall(state, stall);
}

void chooseAnother(benchmark::State& state) {
  test::StallWatch watch;
  double spent = 0;
  int n = 0;
  for (auto _ : state) {
    const auto begin = Clock::now();
    session().selectModel("lamp-" + std::to_string(++n * 7 % kModels));
    waitUntil(examined);
    const double took = since_ms(begin);
    spent += took;
    state.SetIterationTime(took / 1000);
  }
  state.counters["of_50_ms"] = spent / static_cast<double>(state.iterations()) / kChoose_ms;
  reportStall(state, watch.longest_ms());
}

// Going along the route, one station after another.
void walkTheRoute(benchmark::State& state) {
  test::StallWatch watch;
  for (auto _ : state)
    for (const app::Station station : app::kStations) {
      window->setStation(station);
      QCoreApplication::processEvents();
      state.counters[check::stationName(station)] = watch.longest_ms();
    }
}

// All mends of all findings, tried in the background after an edit.
void tryMends(benchmark::State& state) {
  test::StallWatch watch;
  for (auto _ : state) {
    session().edit(QStringLiteral("Edit"), [](mod::ModState& mod) { mod.card.description += "."; });
    waitUntil([] { return session().triedMends(); });
  }
  reportStall(state, watch.longest_ms());
}

// A model of a thousand parts and two hundred bones: seen, its parts and bones chosen, its steps edited.
void largeModel(benchmark::State& state) {
  if (session().isOpen()) session().history().markSaved();  // nobody is there to be asked
  const std::filesystem::path mod = folder->path().toStdString() + "/ship";
  auto made = mod::newMod(mod, "Ship", "kelpwick", "1.2");
  must(made.ok(), "the mod is made");
  mod::ModState next = *made;
  const auto source =
      mod::takeSource(mod, next, "ship.glb", formats::writeGlb(test::largeModel(1000, 200)), {});
  must(source.ok() && mod::newModel(next, "ship", *source).ok() &&
           mod::newObject(next, "ship", "craft", {"ship"}).ok() && mod::saveMod(mod, next, *made).ok(),
       "the ship is put in");
  for (auto _ : state) {
    test::StallWatch watch;
    const auto begin = Clock::now();
    window->openMod(QString::fromStdString(mod.string()));
    waitUntil(examined);
    state.counters["seen_ms"] = since_ms(begin);
    window->setStation(app::Station::shape);
    QCoreApplication::processEvents();
    state.counters["open_stall_ms"] = watch.longest_ms();
    test::StallWatch chosen;
    const auto rows = window->findChildren<app::RowList*>();
    for (int i = 0; i < 20; ++i) {
      for (app::RowList* list : rows)
        if (list->objectName() == QStringLiteral("parts-list") && list->rows().rowCount() > i * 40)
          Q_EMIT list->chosen(list->rows().rows()[static_cast<size_t>(i) * 40].id);
      QCoreApplication::processEvents();
    }
    state.counters["part_stall_ms"] = chosen.longest_ms();
    window->setStation(app::Station::skeleton);
    QCoreApplication::processEvents();
    test::StallWatch edited;
    for (int i = 0; i < 5; ++i) {
      session().edit(QStringLiteral("Edit"), [&](mod::ModState& edited_state) {
        prepare::setOrAddStep(edited_state.models.at("ship"), "scale", {{"factor", 1.5 + i}});
      });
      waitUntil(examined);
      QCoreApplication::processEvents();
    }
    reportStall(state, edited.longest_ms());
  }
  session().history().markSaved();
}

// The Surface station on a model of 60 materials with two pictures of 2048 each: painted when one goes there,
// and how long input waits while all of it is read and shown.
void manyPictures(benchmark::State& state) {
  if (session().isOpen()) session().history().markSaved();
  const std::filesystem::path mod = folder->path().toStdString() + "/bales";
  auto made = mod::newMod(mod, "Bales", "kelpwick", "1.2");
  must(made.ok(), "the mod is made");
  mod::ModState next = *made;
  const auto source =
      mod::takeSource(mod, next, "bales.glb", formats::writeGlb(test::manyPictures(60, 2048)), {});
  must(source.ok() && mod::newModel(next, "bales", *source).ok() &&
           mod::newObject(next, "bales", "fitting", {"bales"}).ok() && mod::saveMod(mod, next, *made).ok(),
       "the bales are put in");
  for (auto _ : state) {
    window->setStation(app::Station::shape);
    QCoreApplication::processEvents();
    test::StallWatch watch;
    const auto begin = Clock::now();
    window->openMod(QString::fromStdString(mod.string()));
    waitUntil(examined);
    waitUntil([] { return session().scene() != nullptr; });
    state.counters["seen_ms"] = since_ms(begin);
    state.counters["open_stall_ms"] = watch.longest_ms();
    const auto there = Clock::now();
    window->setStation(app::Station::surface);
    window->repaint();
    QCoreApplication::processEvents();
    const double painted = since_ms(there);
    state.counters["painted_ms"] = painted;
    state.counters["painted_of_150_ms"] = painted / 150;
    watch.longest_ms();
    const auto until = Clock::now();
    waitUntil([&] { return since_ms(until) > 4000; });
    reportStall(state, watch.longest_ms());
  }
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  state.counters["memory_mb"] = static_cast<double>(used.ru_maxrss) / 1024;
}

// A picture under 200,000 triangles, moved as a hand does.
void moveSheet(benchmark::State& state) {
  auto map = std::make_shared<app::SheetMap>();
  constexpr int kCells = 316;
  for (int i = 0; i < kCells * kCells; ++i) {
    const glm::vec2 a(static_cast<float>(i % kCells) / kCells, static_cast<float>(i / kCells) / kCells);
    const glm::vec2 d(1.0F / kCells);
    for (const glm::vec2 side : {glm::vec2(d.x, 0), glm::vec2(0, d.y)}) {
      map->triangles.push_back({{a, a + side, a + d}, {0, 1, 2}, 0, app::SheetFault::mirrored});
      map->borders.emplace_back(a, a + side);
    }
  }
  app::SheetCanvas canvas;
  canvas.resize(700, 500);
  canvas.setMap(map);
  canvas.show();
  waitUntil([&] { return canvas.drawn(); });
  double longest = 0;
  for (auto _ : state)
    for (int i = 0; i < 60; ++i) {
      const auto begin = Clock::now();
      QKeyEvent key(QEvent::KeyPress, i % 2 == 0 ? Qt::Key_Left : Qt::Key_Plus, Qt::NoModifier);
      QCoreApplication::sendEvent(&canvas, &key);
      canvas.repaint();
      longest = std::max(longest, since_ms(begin));
      QCoreApplication::processEvents();
    }
  const auto begin = Clock::now();
  waitUntil([&] { return canvas.drawn(); });
  state.counters["longest_paint_ms"] = longest;
  state.counters["of_50_ms"] = longest / 50;
  state.counters["exact_after_ms"] = since_ms(begin);
}

BENCHMARK(openMod)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(editOne)->UseManualTime()->Iterations(12)->Unit(benchmark::kMillisecond);
BENCHMARK(chooseAnother)->UseManualTime()->Iterations(20)->Unit(benchmark::kMillisecond);
BENCHMARK(walkTheRoute)->Iterations(2)->Unit(benchmark::kMillisecond);
BENCHMARK(tryMends)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(largeModel)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(moveSheet)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(manyPictures)->Iterations(1)->Unit(benchmark::kMillisecond);

}  // namespace

int main(int argc, char** argv) {
  QTemporaryDir place;
  folder = &place;
  const auto program = bench::startWindowProgram(argc, argv, place);
  if (!test::writeLargeMod(RAKUGO_SOURCE_DIR, place.path().toStdString() + "/mod", kModels)) return 1;
  auto shown = std::make_unique<app::MainWindow>();
  window = shown.get();
  window->resize(1280, 800);
  window->show();
  benchmark::RunSpecifiedBenchmarks();
  if (window->session().isOpen()) window->session().history().markSaved();
  return 0;
}
