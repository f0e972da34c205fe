#include "app/bench/bench_bar.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSlider>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {

BenchBar::BenchBar(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* lines = new QVBoxLayout(this);
  lines->setContentsMargins(8, 4, 8, 4);
  lines->setSpacing(2);
  auto* bar = new QHBoxLayout;
  bar->setSpacing(2);
  lines->addLayout(bar);
  lines->addWidget(makeCut());
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
  whose_ = button(QStringLiteral("ghost-choice"), tr("Compare…"));
  whose_->setToolTip(tr("Whose silhouette stands behind the model, and how it is drawn"));
  cut_ = toggle("cut-open", tr("Cut open"), false);
  cut_->setToolTip(tr("Looks inside: a plane takes away what lies before it, from view only"));
  night_->setEnabled(false);
  connect(cut_, &QPushButton::clicked, this, [this](bool on) {
    if (on)
      cut();
    else
      bench_.setCut({});
    showCut();  // nothing is cut where no model is shown
  });
  connect(&bench_, &Bench::viewsChanged, this, &BenchBar::showCut);
  connect(&bench_, &Bench::looksChanged, this, &BenchBar::showLook);
  connect(drawing_, &QPushButton::clicked, this, [this] { look(false); });
  connect(game_, &QPushButton::clicked, this, [this] { look(true); });
  connect(night_, &QPushButton::clicked, &bench_, &Bench::setNight);
  connect(ghost_, &QPushButton::clicked, &bench_, &Bench::setGhost);
  connect(whose_, &QPushButton::clicked, this, &BenchBar::offerGhosts);
  bar->addStretch();
  const std::pair<const char*, QString> kViews[] = {
      {"forward", tr("Front")}, {"left", tr("Left")}, {"up", tr("Above")}};
  for (const auto& [id, text] : kViews) {
    views_.push_back(button(QStringLiteral("view-") + QString::fromLatin1(id), text));
    connect(views_.back(), &QPushButton::clicked, this,
            [this, side = QString::fromLatin1(id)] { bench_.lookFrom(side); });
  }
  QPushButton* fit = button(QStringLiteral("fit"), tr("Whole model"));
  fit->setToolTip(tr("Looks at the whole model"));
  connect(fit, &QPushButton::clicked, &bench_, &Bench::fit);
  connect(&session_, &Session::sceneChanged, this, [this] {
    if (const auto& scene = session_.scene(); scene && !scene->ghost_problem.empty())
      Q_EMIT tell(q(scene->ghost_problem), false);
  });
}

QSize BenchBar::minimumSizeHint() const {
  QSize out = QWidget::minimumSizeHint();
  for (const QPushButton* view : views_)
    if (!view->isHidden()) out.rwidth() -= view->sizeHint().width() + 2;
  return out;
}

void BenchBar::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  int needed = minimumSizeHint().width();
  for (const QPushButton* view : views_) needed += view->sizeHint().width() + 2;
  for (QPushButton* view : views_) view->setVisible(width() >= needed);
}

QWidget* BenchBar::makeCut() {
  cut_line_ = new QWidget(this);
  auto* line = new QHBoxLayout(cut_line_);
  line->setContentsMargins(8, 0, 8, 2);
  line->setSpacing(6);
  across_ = new QComboBox(cut_line_);
  across_->setObjectName(QStringLiteral("cut-across"));
  across_->setAccessibleName(tr("Which way the cut goes"));
  for (const QString& title : {tr("Across its length"), tr("Across its width"), tr("Across its height")})
    across_->addItem(title);
  across_->setCurrentIndex(static_cast<int>(Cut().across));
  where_ = new QSlider(Qt::Horizontal, cut_line_);
  where_->setObjectName(QStringLiteral("cut-where"));
  where_->setAccessibleName(tr("Where the cut goes"));
  where_->setRange(0, 200);
  where_->setValue(100);
  cut_said_ = quietText({}, cut_line_);
  cut_said_->setObjectName(QStringLiteral("cut-said"));
  cut_said_->setWordWrap(false);
  cut_said_->setMinimumWidth(90);
  far_ = new QPushButton(tr("Other half"), cut_line_);
  far_->setObjectName(QStringLiteral("cut-far"));
  far_->setCheckable(true);
  line->addWidget(across_);
  line->addWidget(where_, 1);
  line->addWidget(cut_said_);
  line->addWidget(far_);
  connect(across_, &QComboBox::currentIndexChanged, this, &BenchBar::cut);
  connect(where_, &QSlider::valueChanged, this, &BenchBar::cut);
  connect(far_, &QPushButton::toggled, this, &BenchBar::cut);
  cut_line_->setVisible(false);
  return cut_line_;
}

void BenchBar::cut() {
  bench_.setCut(Cut{static_cast<Cut::Across>(across_->currentIndex()),
                    static_cast<double>(where_->value()) / where_->maximum(), far_->isChecked()});
}

void BenchBar::showCut() {
  const std::optional<Cut>& cut = bench_.views().cut;
  cut_->setChecked(cut.has_value());
  cut_line_->setVisible(cut.has_value());
  if (!cut || !bench_.scene()) return;
  const QSignalBlocker quiet[] = {QSignalBlocker(across_), QSignalBlocker(where_), QSignalBlocker(far_)};
  across_->setCurrentIndex(static_cast<int>(cut->across));
  where_->setValue(static_cast<int>(std::lround(cut->share * where_->maximum())));
  far_->setChecked(cut->keeps_far);
  cut_said_->setText(tr("at %1").arg(q(base::lengthText(placeOf(*cut, *bench_.scene())))));
}

void BenchBar::look(bool in_game) {
  bench_.setLook(in_game ? Bench::Look::in_game : Bench::Look::drawing);
  showLook();
}

void BenchBar::showLook() {
  const bool in_game = bench_.look() == Bench::Look::in_game;
  drawing_->setChecked(!in_game);
  game_->setChecked(in_game);
  night_->setEnabled(in_game);
  night_->setChecked(bench_.night());
  for (QPushButton* one : {ghost_, whose_}) one->setEnabled(!in_game);  // the ghost belongs to the drawing
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
  for (const rulebook::Kind* k : session_.book().modelKinds()) {
    if (!k->ghost.empty()) offer(game, q(k->ghost_title), {Sort::kind, k->id});
    if (!k->body.empty()) offer(game, q(k->body_title), {Sort::body, k->id});
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
