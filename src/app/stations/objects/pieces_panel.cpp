#include "app/stations/objects/pieces_panel.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>

#include "app/widgets/panels.h"
#include "app/widgets/row_list.h"
#include "base/phrase.h"
#include "base/text.h"
#include "mod/things.h"
#include "prepare/parts/pieces.h"

namespace rakugo::app {
namespace {

const QString kRow = QStringLiteral("piece-"), kRemove = QStringLiteral("remove-piece-");

glm::dquat quatOf(const std::array<double, 4>& turn) {
  return glm::normalize(glm::dquat(turn[3], turn[0], turn[1], turn[2]));
}
std::array<double, 4> arrayOf(const glm::dquat& turn) { return {turn.x, turn.y, turn.z, turn.w}; }

}  // namespace

PiecesPanel::PiecesPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  list_ = new RowList(QStringLiteral("pieces-list"), tr("Pieces of the object"), this);
  column->addWidget(list_);
  connect(list_, &RowList::chosen, this, [this](const QString& row) { choose(s(row.mid(kRow.size()))); });
  connect(list_, &RowList::signAsked, this, [this](const QString&, const QString& sign) {
    const std::string name = s(sign.mid(kRemove.size()));
    edit(tr("Take %1 out").arg(q(name)),
         [name](mod::ObjectDoc& doc) { return prepare::removePiece(doc, name); });
  });
  makeCard(column);
  add_ = new QPushButton(tr("Add a piece…"), this);
  add_->setObjectName(QStringLiteral("add-piece"));
  add_->setToolTip(tr("A model of the mod, as often as wanted"));
  connect(add_, &QPushButton::clicked, this, &PiecesPanel::showMenu);
  column->addWidget(add_, 0, Qt::AlignLeft);
  copies_ = new QVBoxLayout;
  column->addLayout(copies_);
  connect(&session_, &Session::sceneChanged, this, &PiecesPanel::showInBench);
  connect(&bench_, &Bench::objectPieceClicked, this, [this](const QString& piece) {
    if (isVisible() && !piece.isEmpty()) choose(s(piece));
  });
  connect(&bench_, &Bench::pickedDragged, this, [this](glm::vec3 value, bool done) {
    if (isVisible()) dragged(value, done);
  });
}

QComboBox* PiecesPanel::makeChoice(const char* name, const QString& title) {
  auto* out = new QComboBox(card_);
  out->setObjectName(QLatin1String(name));
  out->setAccessibleName(title);
  out->setToolTip(title);
  out->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  out->setMinimumContentsLength(8);
  return out;
}

QDoubleSpinBox* PiecesPanel::makeNumber(const QString& name, const QString& title, bool angle) {
  auto* out = new QDoubleSpinBox(card_);
  out->setObjectName(name);
  out->setAccessibleName(title);
  out->setToolTip(title);
  out->setDecimals(angle ? 1 : 3);
  out->setRange(angle ? -360 : -1000, angle ? 360 : 1000);
  out->setSingleStep(angle ? 5 : 0.01);
  out->setSuffix(angle ? tr("°") : tr(" m"));
  out->setKeyboardTracking(false);
  // Two stand side by side in an instrument as narrow as it gets.
  out->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  out->setMinimumWidth(84);
  connect(out, &QDoubleSpinBox::valueChanged, this, [this, name] { takeNumbers(name); });
  return out;
}

QWidget* PiecesPanel::makeNumbers() {
  auto* out = new QWidget(card_);
  auto* grid = new QGridLayout(out);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(4);
  const std::array<QString, 3> ids = {QStringLiteral("forward"), QStringLiteral("side"),
                                      QStringLiteral("up")};
  const std::array<QString, 3> names = {tr("Forward"), tr("Left"), tr("Up")};
  grid->addWidget(quietText(tr("Where"), out), 0, 1);
  grid->addWidget(quietText(tr("Turned about it"), out), 0, 2);
  for (size_t i = 0; i < 3; ++i) {
    const int row = static_cast<int>(i) + 1;
    grid->addWidget(quietText(names[i], out), row, 0);
    at_[i] = makeNumber(QStringLiteral("piece-at-") + ids[i],
                        tr("%1, from the object's origin").arg(names[i]), false);
    turn_[i] = makeNumber(QStringLiteral("piece-turn-") + ids[i],
                          tr("Turned about the axis: %1").arg(names[i]), true);
    grid->addWidget(at_[i], row, 1);
    grid->addWidget(turn_[i], row, 2);
  }
  grid->setColumnStretch(1, 1);
  grid->setColumnStretch(2, 1);
  return out;
}

void PiecesPanel::makeCard(QVBoxLayout* column) {
  auto* card = new QFrame(this);
  card->setProperty("card", true);
  card->setObjectName(QStringLiteral("piece-card"));
  card_ = card;
  auto* rows = new QVBoxLayout(card);
  rows->setContentsMargins(10, 9, 10, 9);
  rows->setSpacing(6);
  name_ = new QLineEdit(card);
  name_->setObjectName(QStringLiteral("piece-name"));
  name_->setAccessibleName(tr("Name of the piece"));
  name_->setToolTip(name_->accessibleName());
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const mod::PieceDoc* now = piece();
    const std::string wanted = s(name_->text().trimmed());
    if (now == nullptr || wanted == now->name) return;
    const std::string from = now->name;
    edit(tr("Call %1 %2").arg(q(from), q(wanted)),
         [&](mod::ObjectDoc& doc) { return prepare::renamePiece(doc, from, wanted); });
    if (const mod::ObjectDoc* doc = object(); doc != nullptr && prepare::findPiece(*doc, wanted) != nullptr)
      chosen_ = wanted;
    refresh();
  });
  rows->addWidget(name_);
  as_ = makeChoice("piece-as", tr("Which of the models that the game asks for it is"));
  rows->addWidget(as_);
  connect(as_, &QComboBox::activated, this, [this] {
    const std::string as = s(as_->currentData().toString());
    edit(tr("%1 is the %2").arg(q(chosen_), as_->currentText().toLower()),
         [&](mod::ObjectDoc& doc) { return prepare::setPieceAs(doc, chosen_, as); });
  });
  model_ = makeChoice("piece-model", tr("The model that it shows"));
  rows->addWidget(model_);
  connect(model_, &QComboBox::activated, this, [this] {
    const std::string model = s(model_->currentText());
    edit(tr("Let %1 show %2").arg(q(chosen_), q(model)), [&](mod::ObjectDoc& doc) -> base::Status {
      if (mod::PieceDoc* one = prepare::findPiece(doc, chosen_)) one->model = model;
      return {};
    });
  });
  rows->addWidget(makeNumbers());
  pair_ = makeChoice("piece-pair", tr("The piece that stays its mirror image on the other side"));
  rows->addWidget(pair_);
  connect(pair_, &QComboBox::activated, this, [this] {
    const std::string other = s(pair_->currentData().toString());
    edit(other.empty() ? tr("Let %1 stand alone").arg(q(chosen_))
                       : tr("Make %1 the mirror image of %2").arg(q(other), q(chosen_)),
         [&](mod::ObjectDoc& doc) {
           return prepare::pairPieces(doc, chosen_, other, session_.book().side());
         });
  });
  auto* tools = new QHBoxLayout;
  tools->setSpacing(6);
  const auto button = [&](const char* id, const QString& title, const QString& tip) {
    auto* out = new QPushButton(title, card_);
    out->setObjectName(QLatin1String(id));
    out->setToolTip(tip);
    tools->addWidget(out);
    return out;
  };
  connect(button("copy-piece", tr("Copy"), tr("Another piece of the same model, at the same place")),
          &QPushButton::clicked, this, [this] {
            std::string made;
            edit(tr("Copy %1").arg(q(chosen_)), [&](mod::ObjectDoc& doc) -> base::Status {
              RAKUGO_ASSIGN(made, prepare::copyPiece(doc, chosen_));
              return {};
            });
            if (!made.empty()) choose(made);
          });
  connect(button("mirror-piece", tr("Mirror image"), tr("A piece on the other side that follows this one")),
          &QPushButton::clicked, this, [this] {
            edit(tr("Mirror %1").arg(q(chosen_)), [&](mod::ObjectDoc& doc) -> base::Status {
              RAKUGO_TRY(prepare::addMirrorImage(doc, chosen_, session_.book().side()));
              return {};
            });
          });
  connect(
      button("floor-piece", tr("To the floor"), tr("Its lowest vertex stands on the object's floor then")),
      &QPushButton::clicked, this, [this] {
        const mod::PieceDoc* now = piece();
        const auto& x = session_.examination();
        if (now == nullptr || !x) return;
        const auto model = x->context.models.find(now->model);
        if (model == x->context.models.end() || !model->second.prepared.model) return;
        edit(tr("Put %1 on the floor").arg(q(chosen_)), [&](mod::ObjectDoc& doc) {
          return prepare::putOnFloor(doc, chosen_, *model->second.prepared.model, session_.book());
        });
      });
  tools->addStretch();
  rows->addLayout(tools);
  auto* hand = new QHBoxLayout;
  hand->setSpacing(6);
  turn_by_hand_ = new QPushButton(tr("Turn by hand"), card_);
  turn_by_hand_->setObjectName(QStringLiteral("turn-piece"));
  turn_by_hand_->setCheckable(true);
  turn_by_hand_->setProperty("quiet", true);
  turn_by_hand_->setToolTip(tr("A ring in the bench in place of the arrows"));
  connect(turn_by_hand_, &QPushButton::toggled, this, &PiecesPanel::showInBench);
  hand->addWidget(turn_by_hand_);
  about_ = makeChoice("turn-piece-about", tr("What the ring turns about"));
  about_->addItems({tr("about forward"), tr("about the side"), tr("about up")});
  about_->setCurrentIndex(2);
  connect(about_, &QComboBox::currentIndexChanged, this, &PiecesPanel::showInBench);
  hand->addWidget(about_, 1);
  rows->addLayout(hand);
  column->addWidget(card);
}

const mod::ObjectDoc* PiecesPanel::object() const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().objects.find(session_.object());
  return found != session_.state().objects.end() ? &found->second : nullptr;
}

const mod::PieceDoc* PiecesPanel::piece() const {
  const mod::ObjectDoc* doc = object();
  return doc != nullptr ? prepare::findPiece(*doc, chosen_) : nullptr;
}

prepare::GameAxes PiecesPanel::axes() const {
  const rulebook::Rulebook& book = session_.book();
  return {geometry::axisVector(book.forward), book.side(), geometry::axisVector(book.up)};
}

QString PiecesPanel::state() const {
  const mod::ObjectDoc* doc = object();
  return doc != nullptr ? q(base::countText(doc->pieces.size(), "piece", "pieces")) : QString();
}

void PiecesPanel::edit(const QString& what, const std::function<base::Status(mod::ObjectDoc&)>& change,
                       const QString& joins) {
  const mod::ObjectDoc* now = object();
  if (now == nullptr) return;
  mod::ObjectDoc next = *now;
  if (const base::Status done = change(next); !done) {
    Q_EMIT tell(q(done.error().text()));
    return refresh();
  }
  if (next == *now) return;
  session_.edit(
      what, [&](mod::ModState& state) { state.objects[session_.object()] = std::move(next); }, joins);
}

void PiecesPanel::put(const prepare::PiecePlace& place, const QString& joins) {
  edit(
      tr("Place %1").arg(q(chosen_)),
      [&](mod::ObjectDoc& doc) { return prepare::placePiece(doc, chosen_, place, session_.book().side()); },
      joins);
}

void PiecesPanel::takeNumbers(const QString& from) {
  const mod::PieceDoc* now = piece();
  if (now == nullptr) return;
  prepare::PiecePlace place = prepare::placeOf(*now);
  const prepare::GameAxes a = axes();
  if (from.startsWith(QStringLiteral("piece-at-"))) {
    const glm::dvec3 at = glm::dvec3(a.forward) * at_[0]->value() + glm::dvec3(a.side) * at_[1]->value() +
                          glm::dvec3(a.up) * at_[2]->value();
    place.position_m = {at.x + 0.0, at.y + 0.0, at.z + 0.0};
  } else {
    place.turn = arrayOf(prepare::turnOf(a, {turn_[0]->value(), turn_[1]->value(), turn_[2]->value()}));
  }
  put(place, QStringLiteral("place-") + q(session_.object() + "-" + chosen_));
}

void PiecesPanel::refresh() {
  const mod::ObjectDoc* doc = object();
  list_->setVisible(doc != nullptr);
  add_->setVisible(doc != nullptr);
  card_->setVisible(doc != nullptr && !doc->pieces.empty());
  clearLayout(copies_);
  if (doc == nullptr) return showInBench();
  if (prepare::findPiece(*doc, chosen_) == nullptr)
    chosen_ = doc->pieces.empty() ? std::string() : doc->pieces.front().name;
  const rulebook::Kind* kind = session_.book().findKind(doc->kind);
  listPieces(*doc, kind);
  if (!doc->pieces.empty()) fillCard(*doc, kind);
  listCopies();
  showInBench();
}

void PiecesPanel::listPieces(const mod::ObjectDoc& doc, const rulebook::Kind* kind) {
  std::vector<ListRow> rows;
  for (const mod::PieceDoc& piece : doc.pieces) {
    ListRow row;
    row.id = kRow + q(piece.name);
    row.name = q(piece.name);
    const rulebook::KindModel* model = kind != nullptr ? kind->findModel(piece.as) : nullptr;
    row.amount = model != nullptr    ? q(model->title)
                 : !piece.as.empty() ? tr("%1?").arg(q(piece.as))
                 : kind != nullptr   ? q(kind->title)
                                     : q(piece.model);
    row.said = q(piece.model);
    row.chosen = piece.name == chosen_;
    row.signs = {{Sign::remove, kRemove + q(piece.name), tr("Take %1 out").arg(q(piece.name))}};
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
}

void PiecesPanel::fillCard(const mod::ObjectDoc& doc, const rulebook::Kind* kind) {
  const mod::PieceDoc& piece = *prepare::findPiece(doc, chosen_);
  const auto fill = [](QComboBox* box, const std::vector<std::pair<QString, QString>>& entries,
                       const QString& now) {
    const QSignalBlocker quiet(box);
    box->clear();
    for (const auto& [title, id] : entries) box->addItem(title, id);
    if (box->findData(now) < 0) box->addItem(tr("%1, unknown").arg(now), now);
    box->setCurrentIndex(box->findData(now));
  };
  if (!name_->hasFocus()) name_->setText(q(piece.name));
  std::vector<std::pair<QString, QString>> as, models, pairs = {{tr("stands alone"), QString()}};
  as.emplace_back(kind != nullptr ? q(kind->title) : tr("its model"), QString());
  if (kind != nullptr)
    for (const rulebook::KindModel& model : kind->models) as.emplace_back(q(model.title), q(model.id));
  fill(as_, as, q(piece.as));
  as_->setVisible(as.size() > 1 || !piece.as.empty());
  for (const auto& [name, model] : session_.state().models) models.emplace_back(q(name), q(name));
  fill(model_, models, q(piece.model));
  for (const mod::PieceDoc& other : doc.pieces)
    if (other.name != piece.name) pairs.emplace_back(tr("a pair with %1").arg(q(other.name)), q(other.name));
  fill(pair_, pairs, q(piece.pair));
  pair_->setVisible(pairs.size() > 1);
  const prepare::GameAxes a = axes();
  const glm::dvec3 at(piece.position_m[0], piece.position_m[1], piece.position_m[2]);
  const glm::dvec3 angles = prepare::anglesOf(a, glm::quat(quatOf(piece.turn)));
  const std::array<glm::vec3, 3> along = {a.forward, a.side, a.up};
  for (size_t i = 0; i < 3; ++i) {
    const QSignalBlocker quiet_at(at_[i]), quiet_turn(turn_[i]);
    at_[i]->setValue(glm::dot(at, glm::dvec3(along[i])));
    turn_[i]->setValue(angles[static_cast<int>(i)]);
  }
}

// Parts of the model that are copies of each other could be one model, placed as often.
void PiecesPanel::listCopies() {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr || !state->same_parts || !state->prepared.model) return;
  constexpr size_t kMostShown = 4;
  size_t shown = 0;
  for (const scene::SameParts& same : *state->same_parts) {
    if (++shown > kMostShown) break;
    const scene::Node& first = state->prepared.model->node(same.parts[0]);
    auto* make =
        new QPushButton(tr("Make pieces of %1 copies: %2").arg(same.parts.size()).arg(q(first.name)), this);
    make->setObjectName(QStringLiteral("pieces-of-") + q(first.key));
    make->setProperty("quiet", true);
    make->setToolTip(
        tr("One model of the part alone, and a piece where each copy stands; the rest goes without "
           "them. One edit"));
    connect(make, &QPushButton::clicked, this,
            [this, same, of = state->prepared.model] { makePieces(same, of); });
    copies_->addWidget(make, 0, Qt::AlignLeft);
  }
}

void PiecesPanel::makePieces(const scene::SameParts& same, const std::shared_ptr<const scene::Model>& of) {
  const check::ModelState* now = session_.prepared();
  const mod::ObjectDoc* doc = object();
  if (now == nullptr || doc == nullptr || now->prepared.model != of) return;  // it has changed since
  // What they are is told by their name, where the kind has such a model.
  std::string as;
  const std::string name = base::lowerAscii(of->node(same.parts[0]).name);
  if (const rulebook::Kind* kind = session_.book().findKind(doc->kind))
    for (const rulebook::KindModel& model : kind->models)
      if (name.find(base::lowerAscii(model.id)) != std::string::npos ||
          name.find(base::lowerAscii(model.title)) != std::string::npos)
        as = model.id;
  base::Status done;
  session_.edit(tr("Make pieces of %1 copies").arg(same.parts.size()), [&](mod::ModState& state) {
    mod::ModState next = state;
    const auto made =
        prepare::piecesFromCopies(next, session_.object(), session_.model(), *of, session_.book(), same, as);
    if (made)
      state = std::move(next);
    else
      done = made.error();
  });
  if (!done) Q_EMIT tell(q(done.error().text()));
}

void PiecesPanel::showMenu() {
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("piece-menu"));
  for (const auto& [name, doc] : session_.state().models)
    connect(menu->addAction(q(name)), &QAction::triggered, this, [this, name = name] {
      std::string made;
      base::Status done;
      session_.edit(tr("Add %1").arg(q(name)), [&](mod::ModState& state) {
        done = mod::addPiece(state, session_.object(), name);
        if (done) made = std::as_const(state.objects).at(session_.object()).pieces.back().name;
      });
      if (done)
        choose(made);
      else
        Q_EMIT tell(q(done.error().text()));
    });
  menu->popup(add_->mapToGlobal(QPoint(0, add_->height())));
}

void PiecesPanel::choose(const std::string& piece) {
  chosen_ = piece;
  refresh();
}

void PiecesPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  showInBench();
}

void PiecesPanel::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  bench_.setPiecesShown(false);
  // What another station has picked since stays.
  if (bench_.pickedPlaces().empty()) bench_.showPicked({});
}

void PiecesPanel::showInBench() {
  if (!isVisible()) return;
  bench_.setPiecePlaces({});
  bench_.setPiecesShown(true, chosen_);
  const mod::PieceDoc* now = piece();
  const auto& scene = session_.scene();
  if (now == nullptr || !scene || scene->object != session_.object() || scene->pieces.size() < 2)
    return bench_.showPicked({});
  const prepare::GameAxes a = axes();
  const std::array<glm::vec3, 3> about = {a.forward, a.side, a.up};
  const glm::mat4 place = scene->from_object * prepare::pieceMatrix(*now);
  bench_.showPicked({}, glm::vec3(place[3]),
                    turn_by_hand_->isChecked() ? Bench::Handle::turn : Bench::Handle::move,
                    glm::normalize(glm::mat3(scene->from_object) *
                                   about[static_cast<size_t>(std::max(0, about_->currentIndex()))]));
}

prepare::PiecePlace PiecesPanel::draggedTo(glm::vec3 value) const {
  const mod::PieceDoc* now = piece();
  prepare::PiecePlace out = prepare::placeOf(*now);
  const prepare::GameAxes a = axes();
  if (turn_by_hand_->isChecked()) {
    const std::array<glm::vec3, 3> about = {a.forward, a.side, a.up};
    const glm::dquat by = glm::angleAxis(glm::radians(static_cast<double>(value.x)),
                                         glm::dvec3(about[static_cast<size_t>(about_->currentIndex())]));
    out.turn = arrayOf(glm::normalize(by * quatOf(now->turn)));
    return out;
  }
  const glm::vec3 by = glm::transpose(glm::mat3(session_.scene()->from_object)) * value;
  for (size_t i = 0; i < 3; ++i)  // to a millimetre, as the numbers show it
    out.position_m[i] =
        std::round((now->position_m[i] + static_cast<double>(by[static_cast<int>(i)])) * 1e3) / 1e3 + 0.0;
  return out;
}

void PiecesPanel::dragged(glm::vec3 value, bool done) {
  const mod::PieceDoc* now = piece();
  const auto& scene = session_.scene();
  if (now == nullptr || !scene || scene->object != session_.object()) return;
  const prepare::PiecePlace place = draggedTo(value);
  if (done) {
    bench_.setPiecePlaces({});
    return put(place, {});
  }
  const auto matrix = [&](const prepare::PiecePlace& one) {
    mod::PieceDoc moved;
    moved.position_m = one.position_m;
    moved.turn = one.turn;
    return scene->from_object * prepare::pieceMatrix(moved);
  };
  std::map<std::string, glm::mat4> places = {{chosen_, matrix(place)}};
  if (!now->pair.empty()) places[now->pair] = matrix(prepare::mirrored(place, session_.book().side()));
  bench_.setPiecePlaces(std::move(places));
}

}  // namespace rakugo::app
