#include "app/stations/objects/pieces_panel.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <algorithm>
#include <set>

#include "app/stations/objects/piece_card.h"
#include "app/stations/objects/place_editor.h"
#include "app/stations/objects/snapped_drag.h"
#include "app/widgets/panels.h"
#include "app/widgets/row_list.h"
#include "base/phrase.h"
#include "base/text.h"
#include "mod/piece_tree.h"
#include "mod/things.h"
#include "prepare/objects/derived_model.h"
#include "prepare/parts/pieces.h"

namespace rakugo::app {
namespace {

const QString kRow = QStringLiteral("piece-"), kRemove = QStringLiteral("remove-piece-"),
              kMark = QStringLiteral("mark-piece-");

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
    if (sign.startsWith(kMark)) return mark(s(sign.mid(kMark.size())));
    const std::string name = s(sign.mid(kRemove.size()));
    edit(tr("Take %1 out").arg(q(name)),
         [name](mod::ObjectDoc& doc) { return prepare::removePiece(doc, name); });
  });
  makeTogether(column);
  card_ = new PieceCard(session_, this);
  connect(card_, &PieceCard::editAsked, this, &PiecesPanel::edit);
  connect(card_, &PieceCard::copied, this, &PiecesPanel::choose);
  connect(card_, &PieceCard::handChanged, this, &PiecesPanel::showInBench);
  connect(card_, &PieceCard::movedShown, &bench_, &Bench::setMoved);
  column->addWidget(card_);
  add_ = new QPushButton(tr("Add a piece…"), this);
  add_->setObjectName(QStringLiteral("add-piece"));
  add_->setToolTip(tr("A model, a lamp, an emitter, as often as the game takes it"));
  connect(add_, &QPushButton::clicked, this, &PiecesPanel::showMenu);
  column->addWidget(add_, 0, Qt::AlignLeft);
  copies_ = new QVBoxLayout;
  column->addLayout(copies_);
  connect(&session_, &Session::sceneChanged, this, [this] {
    card_->sceneChanged();
    showInBench();
  });
  connect(&bench_, &Bench::objectPieceClicked, this, [this](const QString& piece) {
    if (isVisible() && !piece.isEmpty()) choose(s(piece));
  });
  connect(&bench_, &Bench::surfaceClicked, this, [this](const BenchHit& hit) {
    if (isVisible() && has_hand_ && card_->place().putsByClick())
      putAt(putPlace(bench_, card_->place(), hit));
  });
  connect(&bench_, &Bench::modelsDropped, this, [this](const QStringList& models, QPointF at) {
    if (isVisible()) addDropped(models, at);
  });
  connect(&bench_, &Bench::pickedDragged, this, [this](glm::vec3 value, bool done) {
    if (isVisible() && has_hand_) dragged(value, done);
  });
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

prepare::GameAxes PiecesPanel::axes() const { return prepare::gameAxes(session_.book()); }

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

void PiecesPanel::refresh() {
  const mod::ObjectDoc* doc = object();
  list_->setVisible(doc != nullptr);
  add_->setVisible(doc != nullptr);
  card_->setVisible(doc != nullptr && !doc->pieces.empty());
  together_->setVisible(false);
  clearLayout(copies_);
  if (doc == nullptr) return showInBench();
  if (prepare::findPiece(*doc, chosen_) == nullptr)
    chosen_ = doc->pieces.empty() ? std::string() : doc->pieces.front().name;
  const rulebook::Kind* kind = session_.book().findKind(doc->kind);
  std::erase_if(marked_, [&](const std::string& one) { return prepare::findPiece(*doc, one) == nullptr; });
  together_->setVisible(marked_.size() > 1);
  listPieces(*doc, kind);
  if (!doc->pieces.empty()) card_->showPiece(*doc, kind, chosen_);
  listCopies();
  showInBench();
}

QString PiecesPanel::whatItIs(const mod::PieceDoc& piece, const rulebook::Kind* kind) {
  if (piece.sort == mod::kGroupSort) return tr("group");
  const rulebook::KindModel* model = kind != nullptr ? kind->findModel(piece.as) : nullptr;
  const rulebook::PieceRule* rule = kind != nullptr ? kind->findPiece(piece.as) : nullptr;
  if (piece.isModel() && model != nullptr) return q(model->title);
  if (!piece.isModel() && rule != nullptr) return q(rule->title);
  if (!piece.as.empty()) return tr("%1?").arg(q(piece.as));
  if (!piece.isModel()) return q(piece.sort);
  return kind != nullptr ? q(kind->title) : q(piece.model);
}

// Each behind what carries it.
void PiecesPanel::listPieces(const mod::ObjectDoc& doc, const rulebook::Kind* kind) {
  std::vector<ListRow> rows;
  const auto add = [&](const mod::PieceDoc& piece, int indent) {
    ListRow row;
    row.id = kRow + q(piece.name);
    row.name = q(piece.name);
    row.amount = whatItIs(piece, kind);
    row.said = q(piece.isModel() ? piece.model : piece.sort);
    row.indent = indent;
    row.chosen = piece.name == chosen_;
    const bool marked = std::find(marked_.begin(), marked_.end(), piece.name) != marked_.end();
    row.signs = {{marked ? Sign::chosen : Sign::unchosen, kMark + q(piece.name),
                  marked ? tr("%1 is among several").arg(q(piece.name))
                         : tr("Take %1 among several").arg(q(piece.name))},
                 {Sign::remove, kRemove + q(piece.name), tr("Take %1 out").arg(q(piece.name))}};
    rows.push_back(std::move(row));
  };
  std::set<std::string> listed;
  const auto within = [&](const std::string& parent, int indent, const auto& again) -> void {
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (piece.parent != parent || !listed.insert(piece.name).second) continue;
      add(piece, indent);
      if (indent < 32) again(piece.name, indent + 1, again);
    }
  };
  within({}, 0, within);
  // What hangs on nothing that is there.
  for (const mod::PieceDoc& piece : doc.pieces)
    if (listed.insert(piece.name).second) add(piece, 0);
  list_->setRows(std::move(rows));
}

void PiecesPanel::mark(const std::string& piece) {
  const auto found = std::find(marked_.begin(), marked_.end(), piece);
  if (found == marked_.end())
    marked_.push_back(piece);
  else
    marked_.erase(found);
  refresh();
}

// What is done with several pieces together.
void PiecesPanel::makeTogether(QVBoxLayout* column) {
  together_ = new QWidget(this);
  auto* row = new QHBoxLayout(together_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(6);
  const auto button = [&](const char* id, const QString& title, const QString& tip) {
    auto* out = new QPushButton(title, together_);
    out->setObjectName(QLatin1String(id));
    out->setToolTip(tip);
    row->addWidget(out);
    return out;
  };
  connect(button("group-pieces", tr("Group"), tr("A group that carries them; they stay where they are")),
          &QPushButton::clicked, this, [this] {
            std::string made;
            edit(tr("Group %1 pieces").arg(marked_.size()), [&](mod::ObjectDoc& doc) -> base::Status {
              RAKUGO_ASSIGN(made, prepare::groupPieces(doc, marked_, {}, session_.book().side()));
              return {};
            });
            if (made.empty()) return;
            marked_.clear();
            choose(made);
          });
  auto* align = button("align-pieces", tr("Align"), tr("All stand as far along as the first"));
  auto* along = new QMenu(align);
  const std::array<QString, 3> names = {tr("as far forward as the first"), tr("as far left as the first"),
                                        tr("as high as the first")};
  for (size_t i = 0; i < names.size(); ++i)
    connect(along->addAction(names[i]), &QAction::triggered, this, [this, i] {
      const prepare::GameAxes a = axes();
      const std::array<glm::vec3, 3> to = {a.forward, a.side, a.up};
      edit(tr("Align %1 pieces").arg(marked_.size()), [&](mod::ObjectDoc& doc) {
        return prepare::alignPieces(doc, marked_, to[i], session_.book().side());
      });
    });
  align->setMenu(along);
  connect(button("spread-pieces", tr("Spread"), tr("Even distances between the first and the last of them")),
          &QPushButton::clicked, this, [this] {
            edit(tr("Spread %1 pieces").arg(marked_.size()), [&](mod::ObjectDoc& doc) {
              return prepare::spreadPieces(doc, marked_, session_.book().side());
            });
          });
  row->addStretch();
  together_->setVisible(false);
  column->addWidget(together_);
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
  const mod::ObjectDoc* doc = object();
  if (doc == nullptr) return;
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("piece-menu"));
  for (const auto& [name, model] : session_.state().models)
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
  menu->addSeparator();
  // In the middle of what is there: seen, and moved from there.
  const auto& scene = session_.scene();
  const glm::vec3 middle =
      scene ? glm::vec3(glm::inverse(scene->from_object) * glm::vec4(scene->bounds_m.center(), 1))
            : glm::vec3(0);
  if (const rulebook::Kind* kind = session_.book().findKind(doc->kind))
    for (const rulebook::PieceRule& rule : kind->pieces) {
      QAction* action = menu->addAction(q(rule.title));
      action->setToolTip(q(rule.help));
      connect(action, &QAction::triggered, this, [this, of = *kind, as = rule.id, middle, action] {
        std::string made;
        edit(tr("Add %1").arg(action->text()), [&](mod::ObjectDoc& object) -> base::Status {
          RAKUGO_ASSIGN(made, prepare::addRuledPiece(object, of, as));
          if (of.findPiece(as)->sort == rulebook::PieceSort::shape)
            return prepare::fitShape(object, made, session_.book(), card_->preparedModels());
          for (size_t i = 0; i < 3; ++i)
            object.pieces.back().position_m[i] =
                std::round(static_cast<double>(middle[static_cast<int>(i)]) * 1e3) / 1e3 + 0.0;
          return {};
        });
        if (!made.empty()) choose(made);
      });
    }
  offerDerived(*doc, menu);
  menu->popup(add_->mapToGlobal(QPoint(0, add_->height())));
}

// Models that the rulebook says are made from another one of the object.
void PiecesPanel::offerDerived(const mod::ObjectDoc& doc, QMenu* menu) {
  const rulebook::Kind* kind = session_.book().findKind(doc.kind);
  const auto x = session_.examination();
  if (kind == nullptr || !x) return;
  bool first = true;
  for (const rulebook::KindModel& rule : kind->models) {
    const mod::PieceDoc* from = prepare::pieceMadeFrom(doc, rule);
    const auto has = std::count_if(doc.pieces.begin(), doc.pieces.end(), [&](const mod::PieceDoc& piece) {
      return piece.isModel() && piece.as == rule.id;
    });
    const auto state = from != nullptr ? x->context.models.find(from->model) : x->context.models.end();
    if (has >= rule.most || state == x->context.models.end() || !state->second.prepared.model) continue;
    if (std::exchange(first, false)) menu->addSeparator();
    QAction* action = menu->addAction(tr("%1, made from %2").arg(q(rule.title), q(from->model)));
    action->setToolTip(q(rule.help));
    connect(action, &QAction::triggered, this,
            [this, rule, object = session_.object(), from = from->model,
             prepared = state->second.prepared.model] { derive(rule, object, from, prepared); });
  }
}

// Simplifying takes a while: beside the window.
void PiecesPanel::derive(const rulebook::KindModel& rule, const std::string& object, const std::string& from,
                         const std::shared_ptr<const scene::Model>& prepared) {
  session_.post([this, rule, object, from, prepared,
                 book = session_.sharedBook()](base::Progress& progress) -> Session::Finish {
    progress.say(base::phrase("Making the {0}", base::lowerAscii(rule.title)), 0.1);
    const auto steps = prepare::stepsToDerive(*book, rule.kind(), from, *prepared);
    return [this, rule, object, steps] {
      mod::ModState next = session_.state();
      const auto made =
          prepare::addDerivedModel(next, session_.book(), object, rule.id,
                                   [&](const rulebook::Kind&, const std::string&) { return steps; });
      if (!made) return Q_EMIT tell(q(made.error().text()));
      session_.edit(tr("Make the %1").arg(q(base::lowerAscii(rule.title))),
                    [&](mod::ModState& state) { state = std::move(next); });
      if (session_.object() == object) choose(*made);
    };
  });
}

void PiecesPanel::addDropped(const QStringList& models, QPointF at) {
  const auto& scene = session_.scene();
  if (object() == nullptr || !scene || models.isEmpty()) return;
  const prepare::GameAxes a = axes();
  const glm::mat4 to_object = glm::inverse(scene->from_object);
  std::optional<glm::vec3> place;
  if (const auto snap = bench_.snapUnder(at)) {
    place = glm::vec3(to_object * glm::vec4(snap->position, 1));
  } else {
    glm::vec3 origin, direction;
    bench_.rayAt(at, origin, direction);
    const glm::vec3 from(to_object * glm::vec4(origin, 1)), way(to_object * glm::vec4(direction, 0));
    const float down = glm::dot(way, a.up);
    const float t = std::abs(down) > 1e-6F ? -glm::dot(from, a.up) / down : -1;
    if (t > 0 && t < 1000) place = from + way * t;
  }
  std::string made;
  base::Status done;
  session_.edit(tr("Add %1").arg(models.join(QStringLiteral(", "))), [&](mod::ModState& state) {
    mod::ModState next = state;
    for (const QString& model : models) {
      done = mod::addPiece(next, session_.object(), s(model));
      if (!done) return;
      mod::PieceDoc& piece = next.objects[session_.object()].pieces.back();
      made = piece.name;
      for (size_t i = 0; place && i < 3; ++i)
        piece.position_m[i] =
            std::round(static_cast<double>((*place)[static_cast<int>(i)]) * 1e3) / 1e3 + 0.0;
    }
    state = std::move(next);
  });
  if (!done) return Q_EMIT tell(q(done.error().text()));
  choose(made);
}

void PiecesPanel::choose(const std::string& piece) {
  seeWith(piece);
  chosen_ = piece;
  has_hand_ = true;
  Q_EMIT taken();
  refresh();
}

// What the game shows by itself, and not with the object, is seen by itself.
void PiecesPanel::seeWith(const std::string& piece) {
  const mod::ObjectDoc* doc = object();
  const mod::PieceDoc* now = doc != nullptr ? mod::findPiece(*doc, piece) : nullptr;
  if (now == nullptr) return;
  const mod::PieceDoc* by_itself = prepare::apartRoot(session_.book(), *doc, *now);
  const auto seen_with_it = [&](const mod::PieceDoc& one) {
    return one.isModel() && prepare::apartRoot(session_.book(), *doc, one) == by_itself;
  };
  const auto& pieces = doc->pieces;
  const auto is_seen = [&](const mod::PieceDoc& one) {
    return one.model == session_.model() && seen_with_it(one);
  };
  if (std::any_of(pieces.begin(), pieces.end(), is_seen)) return;
  const auto first = std::find_if(pieces.begin(), pieces.end(), seen_with_it);
  if (first != pieces.end()) session_.select(first->model, session_.object());
}

void PiecesPanel::letGo() {
  has_hand_ = false;
  card_->place().clickWasUsed();
}

void PiecesPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  showInBench();
}

void PiecesPanel::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  bench_.setPiecesShown(false);
  bench_.setClicksPlace(false);
  // What another station has picked since stays.
  if (bench_.pickedPlaces().empty()) bench_.showPicked({});
  has_hand_ = true;
}

void PiecesPanel::showInBench() {
  if (!isVisible()) return;
  bench_.setPiecePlaces({});
  bench_.setPiecesShown(true, chosen_);
  if (!has_hand_) return;
  bench_.setClicksPlace(card_->place().putsByClick());
  const mod::ObjectDoc* doc = object();
  const mod::PieceDoc* now = piece();
  const auto& scene = session_.scene();
  if (now == nullptr || !scene || scene->object != session_.object() || doc->pieces.size() < 2)
    return bench_.showPicked({});
  if (card_->place().putsByClick()) return bench_.showPicked({});  // arrows would take the click
  const glm::mat4 place = scene->from_object * prepare::placeInObject(*doc, *now);
  bench_.showPicked({}, glm::vec3(place[3]),
                    card_->place().turnsByHand() ? Bench::Handle::turn : Bench::Handle::move,
                    glm::normalize(glm::mat3(scene->from_object) * card_->place().turnAxis()));
}

void PiecesPanel::putAt(glm::vec3 at) {
  const mod::ObjectDoc* doc = object();
  const mod::PieceDoc* now = piece();
  const auto& scene = session_.scene();
  if (now == nullptr || !scene || scene->object != session_.object()) return;
  const glm::vec3 in_object(glm::inverse(scene->from_object) * glm::vec4(at, 1));
  prepare::PiecePlace place = prepare::objectPlace(*doc, *now);
  for (size_t i = 0; i < 3; ++i)
    place.position_m[i] = std::round(static_cast<double>(in_object[static_cast<int>(i)]) * 1e3) / 1e3 + 0.0;
  card_->place().clickWasUsed();
  put(prepare::placeUnder(*doc, *now, place), {});
}

// Where the dragged piece stands in its parent.
prepare::PiecePlace PiecesPanel::draggedTo(glm::vec3 value) {
  const mod::ObjectDoc* doc = object();
  const mod::PieceDoc* now = piece();
  prepare::PiecePlace out = prepare::objectPlace(*doc, *now);
  if (card_->place().turnsByHand()) {
    out.turn = card_->place().turnedBy(
        out.turn, bench_.dragTyped() ? static_cast<double>(value.x)
                                     : card_->place().snappedAngle(static_cast<double>(value.x)));
    return prepare::placeUnder(*doc, *now, out);
  }
  const BenchScene& scene = *session_.scene();
  const glm::mat4 to_object = glm::inverse(scene.from_object);
  const std::array<double, 3> from = out.position_m;
  out.position_m = snappedDrag(
      bench_, card_->place(), from, glm::vec3(to_object * glm::vec4(value, 0)),
      [&](const glm::dvec3& along) {
        auto levels = prepare::levelsOf(*doc, chosen_, along, card_->preparedModels());
        // Where the scene's own model stands as the object has it; another that is moved meets its surface.
        if (scene.from_object == glm::mat4(1) && now->model != scene.model)
          addSurfaces(scene, from, along, levels);
        return levels;
      },
      scene.from_object);
  out = prepare::placeUnder(*doc, *now, out);
  // To a millimetre, as the numbers show it.
  for (double& v : out.position_m) v = std::round(v * 1e3) / 1e3 + 0.0;
  return out;
}

void PiecesPanel::dragged(glm::vec3 value, bool done) {
  const mod::ObjectDoc* doc = object();
  const mod::PieceDoc* now = piece();
  const auto& scene = session_.scene();
  if (now == nullptr || !scene || scene->object != session_.object()) return;
  const prepare::PiecePlace place = draggedTo(value);
  if (done) {
    bench_.setPiecePlaces({});
    bench_.showNames({});
    return put(place, {});
  }
  // What it carries goes along, and its pair with what that carries.
  mod::ObjectDoc next = *doc;
  if (!prepare::placePiece(next, chosen_, place, session_.book().side())) return;
  std::map<std::string, glm::mat4> places;
  for (const mod::PieceDoc& one : next.pieces)
    if (one.name == chosen_ || one.name == now->pair || !one.parent.empty())
      places[one.name] = scene->from_object * prepare::placeInObject(next, one);
  bench_.setPiecePlaces(std::move(places));
}

}  // namespace rakugo::app
