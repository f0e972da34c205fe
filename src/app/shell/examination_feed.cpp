#include "app/shell/examination_feed.h"

#include "app/widgets/theme.h"
#include "packing/install.h"

namespace rakugo::app {

// What one examination brings.
struct ExaminationFeed::Found {
  std::shared_ptr<const check::Examination> examination;
  std::shared_ptr<const BenchScene> scene;
  std::vector<packing::PlannedEntry> plan;
  QString plan_problem;
};

ExaminationFeed::ExaminationFeed(QObject* parent)
    : QObject(parent),
      examines_(std::make_unique<base::Worker>()),
      trials_(std::make_unique<base::Worker>()) {
  // The border of all work: what a library threw in spite of its promise ends that work, not the program.
  for (base::Worker* worker : {examines_.get(), trials_.get()})
    worker->onFault([this, examines = worker == examines_.get()](const std::string& what) {
      QMetaObject::invokeMethod(
          this,
          [this, what = q(what), examines] {
            if (examines) finished_ = wanted_;  // nothing more comes of it
            Q_EMIT failed(what);
          },
          Qt::QueuedConnection);
    });
}

ExaminationFeed::~ExaminationFeed() {
  // The workers' jobs hold no pointer to this but for the bridge call; they are joined before anything else
  // goes.
  trials_.reset();
  examines_.reset();
}

void ExaminationFeed::begin(const std::filesystem::path& folder,
                            std::shared_ptr<const rulebook::Rulebook> book) {
  examiner_ = std::make_shared<check::Examiner>(folder, std::move(book));
  *installed_stale_ = true;
  pictures_ = std::make_shared<PictureCache>();
  examination_.reset();
  scene_.reset();
  plan_.clear();
}

void ExaminationFeed::cancel() {
  examines_->cancelAll();
  trials_->cancelAll();
}

bool ExaminationFeed::setGame(const std::filesystem::path& game) {
  if (game == game_) return false;
  game_ = game;
  *installed_stale_ = true;
  return true;
}

void ExaminationFeed::examine(State state, Shown shown) {
  const uint64_t generation = ++wanted_;
  ++edition_;
  trials_->cancelAll();
  examines_->post(
      [this, generation, examiner = examiner_, pictures = pictures_, state = std::move(state),
       shown = std::move(shown), before = scene_, game = game_,
       stale = installed_stale_](base::Progress& progress) {
        if (!game.empty() && stale->exchange(false)) examiner->setInstalled(packing::installedMods(game));
        const auto x = examiner->examine(state, &progress);
        if (!x) return;  // cancelled: a newer state is on its way
        Found found{*x, makeBenchScene(**x, shown.model, *pictures, before, shown.ghost), {}, {}};
        if ((*x)->count(check::Severity::stops) == 0) {
          auto planned = packing::planPackage(**x, &progress);
          if (progress.cancelled()) return;
          if (planned)
            found.plan = std::move(planned).value();
          else
            found.plan_problem = q(planned.error().text());
        }
        QMetaObject::invokeMethod(
            this, [this, generation, found = std::move(found)] { finish(generation, found); },
            Qt::QueuedConnection);
      },
      true);
}

void ExaminationFeed::finish(uint64_t generation, const Found& found) {
  if (generation != wanted_) return;
  plan_ = found.plan;
  plan_problem_ = found.plan_problem;
  examination_ = found.examination;
  finishScene(generation, found.scene);
  tryMends();
}

void ExaminationFeed::finishScene(uint64_t generation, std::shared_ptr<const BenchScene> scene) {
  if (generation != wanted_) return;
  finished_ = generation;
  const bool other = scene != scene_ || !scene;
  scene_ = std::move(scene);
  if (other) Q_EMIT sceneChanged();
  Q_EMIT examined();
}

void ExaminationFeed::show(const State& state, Shown shown) {
  // What is known of the present state stays true whatever is looked at; only the bench's picture is another
  // one.
  if (busy() || !examination_ || examination_->mod != state) return examine(state, std::move(shown));
  const uint64_t generation = ++wanted_;
  examines_->post(
      [this, generation, x = examination_, pictures = pictures_, shown = std::move(shown),
       before = scene_](base::Progress&) {
        auto scene = makeBenchScene(*x, shown.model, *pictures, before, shown.ghost);
        QMetaObject::invokeMethod(
            this, [this, generation, scene = std::move(scene)] { finishScene(generation, scene); },
            Qt::QueuedConnection);
      },
      true);
}

void ExaminationFeed::tryMends() {
  // The next edit cancels it.
  trials_->post(
      [this, edition = edition_, examiner = examiner_, x = examination_](base::Progress& progress) {
        const auto tried = examiner->tryMends(x, &progress);
        if (!tried) return;
        QMetaObject::invokeMethod(
            this,
            [this, edition, tried = *tried] {
              if (edition != edition_) return;
              examination_ = tried;
              Q_EMIT mendsTried();
            },
            Qt::QueuedConnection);
      },
      true);
}

}  // namespace rakugo::app
