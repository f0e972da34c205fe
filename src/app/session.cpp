#include "app/session.h"

#include "app/theme.h"
#include "base/files.h"
#include "base/text.h"
#include "mod/store.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {

Session::Session(QObject* parent)
    : QObject(parent),
      examiner_thread_(std::make_unique<base::Worker>()),
      tasks_(std::make_unique<base::Worker>()) {
  connect(&progress_, &QTimer::timeout, this, [this] {
    const auto running = tasks_->running();
    if (!running) return;
    const auto [what, fraction] = running->said();
    Q_EMIT progressed(q(what), fraction);
  });
  progress_.start(120);
}

Session::~Session() {
  // The workers' jobs hold no pointer to this but for the bridge call; they are joined before anything else
  // goes.
  examiner_thread_.reset();
  tasks_.reset();
}

base::Status Session::open(const std::filesystem::path& folder) {
  RAKUGO_ASSIGN(mod::ModState state, mod::loadMod(folder));
  RAKUGO_ASSIGN(rulebook::Rulebook book, rulebook::findRulebook(state.card.rulebook));
  examiner_thread_->cancelAll();
  folder_ = folder;
  history_ = std::make_unique<mod::History>(std::move(state));
  examiner_ =
      std::make_shared<check::Examiner>(folder, std::make_shared<const rulebook::Rulebook>(std::move(book)));
  pictures_ = std::make_shared<PictureCache>();
  examination_.reset();
  scene_.reset();
  const mod::ModState& now = this->state();
  model_ = now.models.empty() ? std::string() : now.models.begin()->first;
  object_ = now.objects.empty() ? std::string() : now.objects.begin()->first;
  Q_EMIT opened();
  Q_EMIT selectionChanged();
  examine();
  return {};
}

base::Status Session::save() {
  RAKUGO_TRY(mod::saveMod(folder_, state(), *history_->saved()));
  history_->markSaved();
  history_->endGroup();
  Q_EMIT edited();
  return {};
}

void Session::edit(const QString& label, const std::function<void(mod::ModState&)>& change,
                   const QString& group) {
  history_->edit(s(label), change, s(group));
  Q_EMIT edited();
  examine();
}

void Session::undo() {
  if (!isOpen() || !history_->canUndo()) return;
  history_->undo();
  Q_EMIT edited();
  examine();
}

void Session::redo() {
  if (!isOpen() || !history_->canRedo()) return;
  history_->redo();
  Q_EMIT edited();
  examine();
}

void Session::selectModel(const std::string& name) {
  if (model_ == name) return;
  model_ = name;
  Q_EMIT selectionChanged();
  examine();
}

void Session::selectObject(const std::string& name) {
  if (object_ == name) return;
  object_ = name;
  const auto found = state().objects.find(name);
  if (found != state().objects.end() && !found->second.pieces.empty())
    model_ = found->second.pieces.front().model;
  Q_EMIT selectionChanged();
  examine();
}

const check::ModelState* Session::prepared() const {
  if (!examination_) return nullptr;
  const auto found = examination_->context.models.find(model_);
  return found == examination_->context.models.end() || !found->second.prepared.model ? nullptr
                                                                                      : &found->second;
}

template <class T>
void Session::run(std::function<T(base::Progress&)> work, std::function<void(T)> done) {
  ++working_;
  tasks_->post([this, work = std::move(work), done = std::move(done)](base::Progress& progress) {
    auto result = std::make_shared<T>(work(progress));
    QMetaObject::invokeMethod(
        this,
        [this, result, done] {
          --working_;
          done(std::move(*result));
        },
        Qt::QueuedConnection);
  });
}

void Session::addSource(const std::filesystem::path& file) {
  // A name and its record, copied into the mod's folder but not yet in its documents.
  using Taken = base::Result<std::pair<std::string, mod::SourceDoc>>;
  run<Taken>(
      [file, folder = folder_, state = history_->current()](base::Progress& progress) -> Taken {
        progress.say("Reading " + file.filename().string(), 0.2);
        RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(file));
        const std::string shown = file.filename().string();
        RAKUGO_ASSIGN(const std::vector<std::string> named, formats::namedFiles(bytes, shown));
        // Read before it is taken in: what cannot be read is refused, and the mod stays as it is.
        formats::ReadOptions options;
        options.progress = &progress;
        if (const auto read = formats::readModel(bytes, shown, formats::fetchBeside(file, {}), options);
            !read)
          return read.error();
        mod::ModState copy = *state;
        RAKUGO_ASSIGN(const std::string name, mod::takeSource(folder, copy, file, named));
        return std::make_pair(name, copy.sources.at(name));
      },
      [this, folder = folder_, file](const Taken& taken) {
        if (!taken) return Q_EMIT added(false, q(taken.error().text()));
        if (folder != folder_) return;  // another mod was opened meanwhile
        const std::string model = mod::freeName(state().models, taken->first);
        const std::string object = mod::freeName(state().objects, model);
        const bool one_kind = book().kinds.size() == 1;
        edit(tr("Add %1").arg(q(file.filename().string())), [&](mod::ModState& next) {
          next.sources[taken->first] = taken->second;
          next.models[model].source = taken->first;
          if (!one_kind) return;
          mod::ObjectDoc& made = next.objects[object];
          made.kind = book().kinds[0].id;
          made.pieces.push_back({model, model, {0, 0, 0}, {0, 0, 0, 1}});
        });
        model_ = model;
        if (one_kind) object_ = object;
        Q_EMIT selectionChanged();
        examine();
        Q_EMIT added(true, tr("Added %1").arg(q(file.filename().string())));
      });
}

void Session::examine() {
  const uint64_t generation = ++wanted_;
  examiner_thread_->post(
      [this, generation, examiner = examiner_, pictures = pictures_, state = history_->current(),
       model = model_, shown = scene_](base::Progress& progress) {
        auto x = examiner->examine(state, &progress);
        if (!x) return;  // cancelled: a newer state is on its way
        auto scene = makeBenchScene(**x, model, *pictures, shown);
        QMetaObject::invokeMethod(
            this, [this, generation, x = *x, scene] { finishExamination(generation, x, scene); },
            Qt::QueuedConnection);
      },
      true);
}

void Session::finishExamination(uint64_t generation, std::shared_ptr<const check::Examination> x,
                                std::shared_ptr<const BenchScene> scene) {
  if (generation != wanted_) return;
  finished_ = generation;
  examination_ = std::move(x);
  const bool other = scene != scene_ || !scene;
  scene_ = std::move(scene);
  if (other) Q_EMIT sceneChanged();
  Q_EMIT examined();
}

void Session::build() {
  if (!examination_ || busy() || working()) return;
  run<base::Status>([x = examination_, target = output()](
                        base::Progress& progress) { return build::buildToFile(*x, target, &progress); },
                    [this, name = output().filename().string()](const base::Status& done) {
                      Q_EMIT built(done.ok(), done ? tr("Built %1").arg(q(name)) : q(done.error().message));
                    });
}

void Session::install(const std::filesystem::path& game) {
  run<base::Result<build::Installed>>(
      [bundle = output(), game](base::Progress& progress) {
        progress.say("Installing", 0.5);
        return build::installBundle(bundle, game);
      },
      [this](const base::Result<build::Installed>& done) {
        if (!done) return Q_EMIT installed(false, q(done.error().text()));
        const QString name = q(done->path.filename().string());
        Q_EMIT installed(true, done->previous.empty()
                                   ? tr("Installed %1").arg(name)
                                   : tr("Installed %1; what was there is kept beside it.").arg(name));
      });
}

}  // namespace rakugo::app
