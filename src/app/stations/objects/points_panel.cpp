#include "app/stations/objects/points_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSignalBlocker>
#include <algorithm>
#include <cmath>

#include <glm/gtc/matrix_transform.hpp>

#include "app/stations/objects/place_editor.h"
#include "app/stations/objects/snapped_drag.h"
#include "app/widgets/panels.h"
#include "app/widgets/row_list.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

// Rows are "at-<model>/<point>": two models may have points of one id.
const QString kPointRow = QStringLiteral("at-"), kTakeOut = QStringLiteral("remove-point-");

QString rowId(const std::string& model, const std::string& point) {
  return kPointRow + q(model + "/" + point);
}

glm::mat4 matrixOf(const prepare::PiecePlace& place) {
  const glm::quat turn(
      glm::normalize(glm::dquat(place.turn[3], place.turn[0], place.turn[1], place.turn[2])));
  return glm::translate(glm::mat4(1),
                        glm::vec3(place.position_m[0], place.position_m[1], place.position_m[2])) *
         glm::mat4_cast(turn);
}

}  // namespace

PointsPanel::PointsPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  list_ = new RowList(QStringLiteral("points-list"), tr("Attachment points that are placed"), this);
  column->addWidget(list_);
  const auto split = [](const QString& id) {
    const std::string text = s(id);
    const size_t slash = text.find('/');
    return Chosen{text.substr(0, slash), slash == std::string::npos ? std::string() : text.substr(slash + 1)};
  };
  connect(list_, &RowList::chosen, this, [this, split](const QString& row) {
    const Chosen of = split(row.mid(kPointRow.size()));
    choose(of.model, of.point);
  });
  connect(list_, &RowList::signAsked, this, [this, split](const QString&, const QString& sign) {
    const Chosen of = split(sign.mid(kTakeOut.size()));
    edit(of.model, tr("Take %1 out").arg(q(prepare::pointTitle(kind(), of.point))),
         [of](mod::ModelDoc& doc) { return prepare::removePoint(doc, of.point); });
  });
  makeCard(column);
  missing_ = new QVBoxLayout;
  missing_->setSpacing(4);
  column->addLayout(missing_);
  connect(&session_, &Session::sceneChanged, this, &PointsPanel::showInBench);
  connect(&bench_, &Bench::pointClicked, this, [this](const QString& point) {
    if (isVisible()) choose(session_.model(), s(point));
  });
  connect(&bench_, &Bench::surfaceClicked, this, [this](const BenchHit& hit) {
    const mod::PointDoc* now = point();
    if (!isVisible() || now == nullptr || !place_->putsByClick()) return;
    prepare::PiecePlace next = prepare::placeOf(*now);
    const glm::vec3 at = putPlace(bench_, *place_, hit);
    for (size_t i = 0; i < 3; ++i)
      next.position_m[i] = std::round(static_cast<double>(at[static_cast<int>(i)]) * 1e3) / 1e3 + 0.0;
    place_->clickWasUsed();
    put(next, {});
  });
  connect(&bench_, &Bench::pickedDragged, this, [this](glm::vec3 value, bool done) {
    if (isVisible()) dragged(value, done);
  });
}

void PointsPanel::makeCard(QVBoxLayout* column) {
  card_ = new QFrame(this);
  card_->setProperty("card", true);
  card_->setObjectName(QStringLiteral("point-card"));
  auto* rows = new QVBoxLayout(card_);
  rows->setContentsMargins(10, 9, 10, 9);
  rows->setSpacing(6);
  place_ = new PlaceEditor(QStringLiteral("point"), tr("the model's origin"), card_);
  connect(place_, &PlaceEditor::edited, this, [this](const prepare::PiecePlace& place) {
    put(place, QStringLiteral("point-") + q(chosen_.model + "-" + chosen_.point));
  });
  connect(place_, &PlaceEditor::handChanged, this, &PointsPanel::showInBench);
  rows->addWidget(place_);
  const auto choice = [&](const char* name, const QString& title) {
    auto* out = new QComboBox(card_);
    out->setObjectName(QLatin1String(name));
    out->setAccessibleName(title);
    out->setToolTip(title);
    out->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    out->setMinimumContentsLength(8);
    rows->addWidget(out);
    return out;
  };
  pair_ = choice("point-pair", tr("The point that stays its mirror image on the other side"));
  connect(pair_, &QComboBox::activated, this, &PointsPanel::pair);
  hangs_ = choice("point-hangs", tr("What is shown hanging there, or what it hangs on; no part of the mod"));
  connect(hangs_, &QComboBox::activated, this, &PointsPanel::hang);
  column->addWidget(card_);
}

const mod::ObjectDoc* PointsPanel::object() const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().objects.find(session_.object());
  return found != session_.state().objects.end() ? &found->second : nullptr;
}

const rulebook::Kind* PointsPanel::kind() const {
  const mod::ObjectDoc* doc = object();
  return doc != nullptr ? session_.book().findKind(doc->kind) : nullptr;
}

const mod::ModelDoc* PointsPanel::modelDoc(const std::string& model) const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().models.find(model);
  return found != session_.state().models.end() ? &found->second : nullptr;
}

const mod::PointDoc* PointsPanel::point() const {
  const mod::ModelDoc* doc = modelDoc(chosen_.model);
  return doc != nullptr ? prepare::findPoint(*doc, chosen_.point) : nullptr;
}

std::vector<std::string> PointsPanel::models() const {
  std::vector<std::string> out;
  if (const mod::ObjectDoc* doc = object())
    for (const mod::PieceDoc& piece : doc->pieces)
      if (modelDoc(piece.model) != nullptr && std::find(out.begin(), out.end(), piece.model) == out.end())
        out.push_back(piece.model);
  return out;
}

QString PointsPanel::state() const {
  size_t count = 0;
  for (const std::string& model : models()) count += modelDoc(model)->points.size();
  return count == 0 ? tr("none") : QString::number(count);
}

void PointsPanel::edit(const std::string& model, const QString& what,
                       const std::function<base::Status(mod::ModelDoc&)>& change, const QString& joins) {
  const mod::ModelDoc* now = modelDoc(model);
  if (now == nullptr) return;
  mod::ModelDoc next = *now;
  if (const base::Status done = change(next); !done) {
    Q_EMIT tell(q(done.error().text()));
    return refresh();
  }
  if (next == *now) return;
  session_.edit(
      what, [&](mod::ModState& state) { state.models[model] = std::move(next); }, joins);
}

void PointsPanel::put(const prepare::PiecePlace& place, const QString& joins) {
  edit(
      chosen_.model, tr("Place %1").arg(q(prepare::pointTitle(kind(), chosen_.point))),
      [&](mod::ModelDoc& doc) {
        prepare::placePoint(doc, chosen_.point, place, session_.book().side());
        return base::Status();
      },
      joins);
}

void PointsPanel::refresh() {
  if (point() == nullptr) chosen_ = {};
  listPoints();
  listMissing();
  showCard();
  showInBench();
}

void PointsPanel::listPoints() {
  std::vector<ListRow> rows;
  const std::vector<std::string> all = models();
  const prepare::GameAxes axes = all.empty() ? prepare::GameAxes() : prepare::gameAxes(session_.book());
  for (const std::string& model : all)
    for (const mod::PointDoc& one : modelDoc(model)->points) {
      const glm::dvec3 at(one.position_m[0], one.position_m[1], one.position_m[2]);
      ListRow row;
      row.id = rowId(model, one.id);
      row.name = q(prepare::pointTitle(kind(), one.id));
      if (all.size() > 1) row.name = tr("%1 of %2").arg(row.name, q(model));
      row.amount = tr("%1 m up").arg(q(base::numberText(glm::dot(at, glm::dvec3(axes.up)), 2)));
      row.said =
          one.pair.empty() ? QString() : tr("a pair with %1").arg(q(prepare::pointTitle(kind(), one.pair)));
      row.chosen = chosen_ == Chosen{model, one.id};
      row.signs = {{Sign::remove, kTakeOut + q(model + "/" + one.id), tr("Take %1 out").arg(row.name)}};
      rows.push_back(std::move(row));
    }
  list_->setVisible(!rows.empty());
  list_->setRows(std::move(rows));
}

// Points of the kind that are not placed: in the middle of the first model, to be moved from there.
void PointsPanel::listMissing() {
  const mod::ObjectDoc* doc = object();
  const rulebook::Kind* of = kind();
  const mod::PieceDoc* first = doc != nullptr ? mod::firstModelPiece(*doc) : nullptr;
  const mod::ModelDoc* model = first != nullptr ? modelDoc(first->model) : nullptr;
  struct Offer {
    std::string id;
    QString says;
    QString help;
  };
  std::vector<Offer> offers;
  std::string wanted = session_.object() + (model == nullptr ? "\n" : "\n" + first->model);
  if (model != nullptr && of != nullptr)
    for (const rulebook::Point& point : of->points) {
      const std::string id = prepare::freePointId(*model, point);
      if (id.empty()) continue;
      const bool none = id == point.id || id == point.id + "-1";
      const QString title = q(prepare::pointTitle(of, id));
      offers.push_back({id,
                        point.required && none && point.when.holds(doc->card)
                            ? tr("%1: needed, not placed").arg(title)
                            : tr("%1: not placed").arg(title),
                        q(point.help)});
      wanted += "\n" + s(offers.back().says);
    }
  if (wanted == missing_for_) return;
  missing_for_ = wanted;
  clearLayout(missing_);
  if (model == nullptr) missing_->addWidget(quietText(tr("Give the object a model first."), this));
  for (const Offer& offer : offers) {
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    QLabel* name = quietText(offer.says, this);
    name->setToolTip(offer.help);
    row->addWidget(name, 1);
    auto* button = new QPushButton(tr("Place it"), this);
    button->setObjectName(QStringLiteral("place-") + q(offer.id));
    button->setAccessibleName(
        tr("Place %1 in the middle of the model").arg(q(prepare::pointTitle(of, offer.id))));
    button->setToolTip(tr("In the middle of the model; move it from there"));
    connect(button, &QPushButton::clicked, this,
            [this, model = first->model, id = offer.id] { place(model, id); });
    row->addWidget(button);
    missing_->addLayout(row);
  }
}

void PointsPanel::place(const std::string& model, const std::string& point) {
  const auto& x = session_.examination();
  if (!x) return;
  const auto state = x->context.models.find(model);
  if (state == x->context.models.end() || state->second.box_m.empty()) return;
  const glm::vec3 middle = state->second.box_m.center();
  edit(model, tr("Place %1").arg(q(prepare::pointTitle(kind(), point))), [&](mod::ModelDoc& doc) {
    prepare::putPoints(doc, {{point, middle}}, session_.book().side());
    return base::Status();
  });
  choose(model, point);
}

void PointsPanel::showCard() {
  const mod::PointDoc* now = point();
  card_->setVisible(now != nullptr);
  if (now == nullptr) return;
  place_->show(prepare::placeOf(*now), prepare::gameAxes(session_.book()));
  fillPairs(*modelDoc(chosen_.model));
  fillHanging();
}

void PointsPanel::fillPairs(const mod::ModelDoc& doc) {
  const mod::PointDoc* now = point();
  const QSignalBlocker quiet(pair_);
  pair_->clear();
  pair_->addItem(tr("stands alone"), QString());
  const auto add = [&](const std::string& id) {
    if (!id.empty() && id != chosen_.point && pair_->findData(q(id)) < 0)
      pair_->addItem(tr("a pair with %1").arg(q(prepare::pointTitle(kind(), id))), q(id));
  };
  // The one that the rulebook names, and the next of a sort that comes in numbers, are placed by it.
  if (const rulebook::Point* known = kind() != nullptr ? kind()->findPoint(chosen_.point) : nullptr) {
    add(known->pair);
    if (known->most > 1) add(prepare::freePointId(doc, *known));
  }
  for (const mod::PointDoc& one : doc.points) add(one.id);
  add(now->pair);
  pair_->setCurrentIndex(std::max(0, pair_->findData(q(now->pair))));
  pair_->setVisible(pair_->count() > 1);
}

void PointsPanel::pair() {
  const std::string other = s(pair_->currentData().toString());
  const QString title = q(prepare::pointTitle(kind(), chosen_.point));
  edit(chosen_.model,
       other.empty() ? tr("Let %1 stand alone").arg(title)
                     : tr("Make %1 the mirror image of %2").arg(q(prepare::pointTitle(kind(), other)), title),
       [&](mod::ModelDoc& doc) {
         return prepare::pairPoints(doc, chosen_.point, other, session_.book().side());
       });
}

void PointsPanel::fillHanging() {
  const QSignalBlocker quiet(hangs_);
  hangs_->clear();
  hangs_->addItem(tr("nothing is shown there"));
  const auto shown = session_.hung().find(chosen_.point);
  if (kind() != nullptr)
    for (const prepare::HangChoice& one :
         prepare::hangChoices(session_.book(), session_.state(), *kind(), chosen_.point, session_.object())) {
      hangs_->addItem(q(prepare::hangTitle(session_.book(), session_.state(), one)));
      if (shown != session_.hung().end() && shown->second == one)
        hangs_->setCurrentIndex(hangs_->count() - 1);
    }
  hangs_->setVisible(hangs_->count() > 1);
}

void PointsPanel::hang() {
  if (kind() == nullptr) return;
  auto hung = session_.hung();
  const auto choices =
      prepare::hangChoices(session_.book(), session_.state(), *kind(), chosen_.point, session_.object());
  const int at = hangs_->currentIndex() - 1;
  if (at < 0)
    hung.erase(chosen_.point);
  else if (static_cast<size_t>(at) < choices.size())
    hung[chosen_.point] = choices[static_cast<size_t>(at)];
  session_.setHung(std::move(hung));
}

void PointsPanel::choose(const std::string& model, const std::string& point) {
  chosen_ = {model, point};
  if (model != session_.model() && modelDoc(model) != nullptr) session_.select(model, session_.object());
  Q_EMIT taken();
  refresh();
}

QWidget* PointsPanel::showPoint(const std::string& model, const std::string& point) {
  if (const mod::ModelDoc* doc = modelDoc(model);
      doc != nullptr && prepare::findPoint(*doc, point) != nullptr) {
    choose(model, point);
    return place_->first();
  }
  for (const char* number : {"", "-1"})
    if (auto* button = findChild<QPushButton*>(QStringLiteral("place-") + q(point) + QLatin1String(number)))
      return button;
  return nullptr;
}

void PointsPanel::letGo() {
  if (chosen_ == Chosen{}) return;
  chosen_ = {};
  place_->clickWasUsed();
  bench_.setChosenPoint({});
  refresh();
}

void PointsPanel::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  bench_.setChosenPoint({});
}

void PointsPanel::showInBench() {
  if (!isVisible()) return;
  const mod::PointDoc* now = point();
  const auto& scene = session_.scene();
  const bool seen = now != nullptr && scene && scene->model == chosen_.model;
  bench_.setChosenPoint(seen ? now->id : std::string());
  if (now == nullptr) return;
  bench_.setClicksPlace(place_->putsByClick());
  // Arrows would take the click.
  if (!seen || place_->putsByClick()) return bench_.showPicked({});
  bench_.showPicked({}, glm::vec3(matrixOf(prepare::placeOf(*now))[3]),
                    place_->turnsByHand() ? Bench::Handle::turn : Bench::Handle::move, place_->turnAxis());
}

prepare::PiecePlace PointsPanel::draggedTo(glm::vec3 value) {
  prepare::PiecePlace out = prepare::placeOf(*point());
  if (place_->turnsByHand()) {
    out.turn =
        place_->turnedBy(out.turn, bench_.dragTyped() ? static_cast<double>(value.x)
                                                      : place_->snappedAngle(static_cast<double>(value.x)));
    return out;
  }
  const BenchScene& scene = *session_.scene();
  out.position_m = snappedDrag(bench_, *place_, out.position_m, value, [&](const glm::dvec3& along) {
    auto levels = prepare::levelsOf(*modelDoc(chosen_.model), chosen_.point, along, scene.bounds_m, kind());
    addSurfaces(scene, place_->place().position_m, along, levels);
    return levels;
  });
  return out;
}

void PointsPanel::dragged(glm::vec3 value, bool done) {
  const mod::PointDoc* now = point();
  if (now == nullptr || !session_.scene() || session_.scene()->model != chosen_.model) return;
  const prepare::PiecePlace to = draggedTo(value);
  if (done) {
    bench_.showNames({});
    return put(to, {});
  }
  std::map<std::string, glm::mat4> places{{now->id, matrixOf(to)}};
  if (!now->pair.empty()) places[now->pair] = matrixOf(prepare::mirrored(to, session_.book().side()));
  bench_.setChosenPoint(now->id, std::move(places));
}

}  // namespace rakugo::app
