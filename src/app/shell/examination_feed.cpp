#include "app/shell/examination_feed.h"

#include "app/widgets/theme.h"
#include "check/related.h"
#include "packing/install.h"
#include "scene/rest_pose.h"

namespace rakugo::app {

namespace {

constexpr size_t kFew = 8;  // models that are prepared as soon as one of them would be

// The same examination; whoever lets go of it last leaves it to a thread of its own to take thousands of
// findings apart.
std::shared_ptr<const check::Examination> letGoElsewhere(std::shared_ptr<const check::Examination> x) {
  static base::Worker takes_apart(base::Worker::Rank::background);
  const check::Examination* raw = x.get();
  return {raw, [x = std::move(x)](const check::Examination*) mutable {
            takes_apart.post([x = std::move(x)](base::Progress&) mutable { x.reset(); });
          }};
}

}  // namespace

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
      trials_(std::make_unique<base::Worker>(base::Worker::Rank::background)) {
  tells_.setInterval(100);
  connect(&tells_, &QTimer::timeout, this, &ExaminationFeed::tellWaiting);
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
  // Called on the workers, which are joined before this goes.
  examiner_->onSourceRead([this](const std::string& source, const check::SourceState& state) {
    if (!state.read) return;
    QMetaObject::invokeMethod(
        this, [this, source, box = scene::boundsOf(state.read->model)] { sourceRead(source, box); },
        Qt::QueuedConnection);
  });
  source_box_m_.reset();
  pictures_ = std::make_shared<PictureCache>();
  examination_.reset();
  untried_.reset();
  first_look_.reset();
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
  looked_ = {shown.model, {}};
  if (const auto model = state->models.find(shown.model); !scene_ && model != state->models.end()) {
    waits_for_ = model->second.source;
    tells_.start();
    tellWaiting();
  }
  trials_->cancelAll();
  examines_->post(
      [this, generation, examiner = examiner_, pictures = pictures_, state = std::move(state),
       shown = std::move(shown), before = scene_, game = game_, target = target_, fresh = !examination_,
       stale = installed_stale_](base::Progress& progress) {
        // What one looks at is seen before hundreds of others are read.
        if (fresh && state->models.size() > kFew) {
          check::FindingPlace place;
          place.model = shown.model;
          const auto part = std::make_shared<const mod::ModState>(check::relatedTo(*state, place));
          const auto look = examiner->examine(part, &progress);
          if (!look) return;
          auto scene = makeBenchScene(**look, shown.model, *pictures, before, shown.around);
          QMetaObject::invokeMethod(
              this,
              [this, generation, look = *look, scene = std::move(scene)] {
                lookFirst(generation, look, scene);
              },
              Qt::QueuedConnection);
        }
        if (!game.empty() && stale->exchange(false)) examiner->setInstalled(packing::installedMods(game));
        const auto x = examiner->examine(state, &progress);
        if (!x) return;  // cancelled: a newer state is on its way
        Found found{
            letGoElsewhere(*x), makeBenchScene(**x, shown.model, *pictures, before, shown.around), {}, {}};
        if ((*x)->count(check::Severity::stops) == 0) {
          auto planned = packing::planPackage(**x, target, &progress);
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

void ExaminationFeed::sourceRead(const std::string& source, const geometry::Bounds& box_m) {
  if (scene_ || source != waits_for_) return;
  source_box_m_ = box_m;
  tellWaiting();
}

void ExaminationFeed::tellWaiting() {
  if (scene_ || !busy()) return tells_.stop();
  const auto running = examines_->running();
  const auto said = running ? running->said() : std::pair<std::string, double>();
  Q_EMIT waiting(said.first.empty() ? tr("Reading…") : q(said.first), source_box_m_);
}

void ExaminationFeed::lookFirst(uint64_t generation, const std::shared_ptr<const check::Examination>& look,
                                std::shared_ptr<const BenchScene> scene) {
  if (generation != wanted_ || examination_) return;
  first_look_ = look;
  scene_ = std::move(scene);
  Q_EMIT sceneChanged();
  Q_EMIT firstLooked();
}

void ExaminationFeed::finish(uint64_t generation, const Found& found) {
  if (generation != wanted_) return;
  plan_ = found.plan;
  plan_problem_ = found.plan_problem;
  examination_ = untried_ = found.examination;
  first_look_.reset();
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
  // What one looks at comes first, and its mends before those of all others. What was tried stays known.
  looked_ = {shown.model, {}};
  if (!examination_->mends_tried) trials_->cancelAll();
  examines_->post(
      [this, generation, x = examination_, pictures = pictures_, shown = std::move(shown),
       before = scene_](base::Progress&) {
        auto scene = makeBenchScene(*x, shown.model, *pictures, before, shown.around);
        QMetaObject::invokeMethod(
            this,
            [this, generation, scene = std::move(scene)] {
              finishScene(generation, scene);
              if (generation == wanted_ && !examination_->mends_tried) tryMends();
            },
            Qt::QueuedConnection);
      },
      true);
}

void ExaminationFeed::tryMends() {
  // The next edit cancels it.
  trials_->post(
      [this, edition = edition_, examiner = examiner_, x = untried_,
       looked = looked_](base::Progress& progress) {
        const auto tell = [&](const std::shared_ptr<const check::Examination>& found) {
          const auto tried = letGoElsewhere(found);
          QMetaObject::invokeMethod(
              this,
              [this, edition, tried] {
                if (edition != edition_) return;
                examination_ = tried;
                Q_EMIT mendsTried();
              },
              Qt::QueuedConnection);
        };
        // Of what one looks at first: the others of a large mod may take a minute.
        if (x->mod->models.size() > kFew)
          if (const auto tried = examiner->tryMends(x, &progress, &looked)) tell(*tried);
        if (progress.cancelled()) return;
        if (const auto tried = examiner->tryMends(x, &progress)) tell(*tried);
      },
      true);
}

}  // namespace rakugo::app
