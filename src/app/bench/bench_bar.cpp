#include "app/bench/bench_bar.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>

#include "app/widgets/theme.h"

namespace rakugo::app {

BenchBar::BenchBar(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* bar = new QHBoxLayout(this);
  bar->setContentsMargins(8, 4, 8, 4);
  bar->setSpacing(2);
  const auto button = [&](const QString& id, const QString& text) {
    auto* out = new QPushButton(text, this);
    out->setObjectName(id);
    out->setProperty("quiet", true);
    bar->addWidget(out);
    return out;
  };
  const auto toggle = [&](const char* id, const QString& text, bool on) {
    QPushButton* out = button(QString::fromLatin1(id), text);
    out->setCheckable(true);
    out->setChecked(on);
    return out;
  };
  drawing_ = toggle("look-drawing", tr("Drawing"), true);
  game_ = toggle("look-game", tr("In the game"), false);
  night_ = toggle("night", tr("By night"), false);
  ghost_ = toggle("ghost", tr("Ghost"), true);
  whose_ = button(QStringLiteral("ghost-choice"), tr("Compare with…"));
  whose_->setToolTip(tr("Whose silhouette stands behind the model, and how it is drawn"));
  night_->setEnabled(false);
  connect(drawing_, &QPushButton::clicked, this, [this] { look(false); });
  connect(game_, &QPushButton::clicked, this, [this] { look(true); });
  connect(night_, &QPushButton::clicked, &bench_, &Bench::setNight);
  connect(ghost_, &QPushButton::clicked, &bench_, &Bench::setGhost);
  connect(whose_, &QPushButton::clicked, this, &BenchBar::offerGhosts);
  bar->addStretch();
  const std::pair<const char*, QString> kViews[] = {
      {"forward", tr("Front")}, {"left", tr("Left")}, {"up", tr("Above")}};
  for (const auto& [id, text] : kViews)
    connect(button(QStringLiteral("view-") + QString::fromLatin1(id), text), &QPushButton::clicked, this,
            [this, side = QString::fromLatin1(id)] { bench_.lookFrom(side); });
  connect(button(QStringLiteral("fit"), tr("Whole model")), &QPushButton::clicked, &bench_, &Bench::fit);
  connect(&session_, &Session::sceneChanged, this, [this] {
    if (const auto& scene = session_.scene(); scene && !scene->ghost_problem.empty())
      Q_EMIT tell(q(scene->ghost_problem), false);
  });
}

void BenchBar::look(bool in_game) {
  drawing_->setChecked(!in_game);
  game_->setChecked(in_game);
  night_->setEnabled(in_game);
  for (QPushButton* one : {ghost_, whose_}) one->setEnabled(!in_game);  // the ghost belongs to the drawing
  bench_.setLook(in_game ? Bench::Look::in_game : Bench::Look::drawing);
}

void BenchBar::choose(GhostChoice choice) {
  session_.setGhost(std::move(choice));
  ghost_->setChecked(true);
  bench_.setGhost(true);
}

void BenchBar::offerGhosts() {
  if (!session_.isOpen()) return;
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("ghost-menu"));
  using Sort = GhostChoice::Sort;
  const auto offer = [&](QMenu* in, const QString& title, const GhostChoice& choice) {
    QAction* action = in->addAction(title);
    action->setCheckable(true);
    action->setChecked(session_.ghost() == choice);
    connect(action, &QAction::triggered, this, [this, choice] { choose(choice); });
  };
  offer(menu, tr("The example of its kind"), {});
  QMenu* game = menu->addMenu(tr("Of the game"));
  for (const rulebook::Kind& k : session_.book().kinds) {
    if (!k.ghost.empty()) offer(game, q(k.ghost_title), {Sort::kind, k.id});
    if (!k.body.empty()) offer(game, q(k.body_title), {Sort::body, k.id});
  }
  QMenu* models = menu->addMenu(tr("Another model of the mod"));
  for (const auto& [name, doc] : session_.state().models)
    if (name != session_.model()) offer(models, q(name), {Sort::model, name});
  models->setEnabled(!models->isEmpty());
  connect(menu->addAction(tr("A model file…")), &QAction::triggered, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, tr("A model to stand behind"));
    if (!file.isEmpty()) choose({Sort::file, s(file)});
  });
  menu->addSeparator();
  using Ghost = render::DrawingStyle::Ghost;
  for (const auto& [style, title] : {std::pair(Ghost::hatch, tr("Hatched behind it")),
                                     {Ghost::outline, tr("Its outline")},
                                     {Ghost::overlay, tr("Let through over it")}}) {
    QAction* action = menu->addAction(title);
    action->setCheckable(true);
    action->setChecked(bench_.ghostStyle() == style);
    connect(action, &QAction::triggered, this, [this, style = style] { bench_.setGhostStyle(style); });
  }
  menu->popup(whose_->mapToGlobal(QPoint(0, whose_->height())));
}

}  // namespace rakugo::app
