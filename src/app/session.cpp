#include "app/session.h"

#include "app/theme.h"
#include "base/files.h"
#include "base/text.h"
#include "mod/store.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {

Session::Session(QObject* parent)
    : QObject(parent), worker_(std::make_unique<base::Worker>()), builder_(std::make_unique<base::Worker>()) {
  connect(&progress_, &QTimer::timeout, this, [this] {
    const auto running = building_ ? builder_->running() : worker_->running();
    if (!running) return;
    const auto [what, fraction] = running->said();
    Q_EMIT progressed(q(what), fraction);
  });
  progress_.start(120);
}

Session::~Session() {
  // The workers' jobs hold no pointer to this but for the bridge call; they are joined before anything else
  // goes.
  worker_.reset();
  builder_.reset();
}

base::Status Session::open(const std::filesystem::path& folder) {
  RAKUGO_ASSIGN(mod::ModState state, mod::loadMod(folder));
  RAKUGO_ASSIGN(rulebook::Rulebook book, rulebook::findRulebook(state.card.rulebook));
  worker_->cancelAll();
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

base::Status Session::addSource(const std::filesystem::path& file) {
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(file));
  RAKUGO_ASSIGN(const std::vector<std::string> named, formats::namedFiles(bytes, file.filename().string()));
  // Read once before it is taken in: what cannot be read is refused, and the mod stays as it is.
  RAKUGO_TRY([&]() -> base::Status {
    const auto read = formats::readModel(bytes, file.filename().string(), formats::fetchBeside(file, {}));
    return read ? base::Status() : base::Status(read.error());
  }());
  mod::ModState next = state();
  RAKUGO_ASSIGN(const std::string name, mod::takeSource(folder_, next, file, named));
  const std::string model = mod::freeName(next.models, name);
  next.models[model].source = name;
  std::string made_object;
  if (book().kinds.size() == 1) {
    made_object = mod::freeName(next.objects, model);
    mod::ObjectDoc object;
    object.kind = book().kinds[0].id;
    object.pieces.push_back({model, model, {0, 0, 0}, {0, 0, 0, 1}});
    next.objects[made_object] = object;
  }
  edit(tr("Add %1").arg(q(file.filename().string())), [&](mod::ModState& state) { state = next; });
  model_ = model;
  if (!made_object.empty()) object_ = made_object;
  Q_EMIT selectionChanged();
  examine();
  return {};
}

void Session::examine() {
  const uint64_t generation = ++wanted_;
  worker_->post(
      [this, generation, examiner = examiner_, pictures = pictures_, state = history_->current(),
       model = model_](base::Progress& progress) {
        auto x = examiner->examine(state, &progress);
        if (!x) return;  // cancelled: a newer state is on its way
        auto scene = makeBenchScene(**x, model, *pictures);
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
  scene_ = std::move(scene);
  Q_EMIT sceneChanged();
  Q_EMIT examined();
}

void Session::build() {
  if (!examination_ || busy() || building_) return;
  building_ = true;
  builder_->post([this, x = examination_, target = output()](base::Progress& progress) {
    const auto result = build::buildToFile(*x, target, &progress);
    const QString message =
        result ? tr("Built %1").arg(q(target.filename().string())) : q(result.error().message);
    QMetaObject::invokeMethod(
        this,
        [this, good = result.ok(), message] {
          building_ = false;
          Q_EMIT built(good, message);
        },
        Qt::QueuedConnection);
  });
}

void Session::cancelBuild() { builder_->cancelAll(); }

}  // namespace rakugo::app
