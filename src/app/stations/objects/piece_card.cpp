#include "app/stations/objects/piece_card.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>

#include "app/stations/objects/field_form.h"
#include "app/stations/objects/place_editor.h"
#include "app/stations/objects/sound_panel.h"
#include "app/widgets/panels.h"
#include "app/widgets/theme.h"
#include "base/text.h"
#include "prepare/objects/moving_parts.h"
#include "prepare/objects/piece_parts.h"
#include "prepare/objects/piece_values.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::app {
namespace {

// Whether its values name parts of the model that carries it.
bool namesParts(const mod::PieceDoc& piece) {
  return piece.sort == mod::kMovingSort || piece.sort == rulebook::pieceSortName(rulebook::PieceSort::shape);
}

}  // namespace

PieceCard::PieceCard(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
  setProperty("card", true);
  setObjectName(QStringLiteral("piece-card"));
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(10, 9, 10, 9);
  rows->setSpacing(6);
  name_ = new QLineEdit(this);
  name_->setObjectName(QStringLiteral("piece-name"));
  name_->setAccessibleName(tr("Name of the piece"));
  name_->setToolTip(name_->accessibleName());
  connect(name_, &QLineEdit::editingFinished, this, &PieceCard::rename);
  rows->addWidget(name_);
  as_ = makeChoice("piece-as", tr("Which of the things that the game asks for it is"));
  rows->addWidget(as_);
  connect(as_, &QComboBox::activated, this, [this] {
    Q_EMIT editAsked(tr("%1 is the %2").arg(q(piece_), as_->currentText().toLower()),
                     [piece = piece_, as = s(as_->currentData().toString())](mod::ObjectDoc& doc) {
                       return prepare::setPieceAs(doc, piece, as);
                     },
                     {});
  });
  model_ = makeChoice("piece-model", tr("The model that it shows"));
  rows->addWidget(model_);
  connect(model_, &QComboBox::activated, this, [this] {
    const std::string model = s(model_->currentText());
    Q_EMIT editAsked(tr("Let %1 show %2").arg(q(piece_), q(model)),
                     [piece = piece_, model](mod::ObjectDoc& doc) -> base::Status {
                       if (mod::PieceDoc* one = prepare::findPiece(doc, piece)) one->model = model;
                       return {};
                     },
                     {});
  });
  parent_ = makeChoice("piece-parent", tr("What carries it: it goes along with that"));
  rows->addWidget(parent_);
  connect(parent_, &QComboBox::activated, this, [this] {
    const std::string to = s(parent_->currentData().toString());
    Q_EMIT editAsked(to.empty() ? tr("Let %1 hang on the object itself").arg(q(piece_))
                                : tr("Let %1 hang on %2").arg(q(piece_), q(to)),
                     [piece = piece_, to, side = session_.book().side()](mod::ObjectDoc& doc) {
                       return prepare::setParent(doc, piece, to, side);
                     },
                     {});
  });
  makeNumbers(rows);
  form_ = new FieldForm(
      QStringLiteral("piece-"),
      [this](const std::string& id) {
        const mod::PieceDoc* now = piece();
        if (now == nullptr) return base::Json();
        const auto found = now->values.find(id);
        return found != now->values.end() ? *found : base::Json();
      },
      [this](const std::string& id, const base::Json& value) {
        const mod::PieceDoc* now = piece();
        if (now == nullptr) return;
        const auto found = now->values.find(id);
        if (found != now->values.end() && *found == value) return;
        Q_EMIT editAsked(
            tr("Set %1 of %2").arg(q(id), q(piece_)),
            [piece = piece_, id, value, models = preparedModels(),
             &book = session_.book()](mod::ObjectDoc& doc) -> base::Status {
              RAKUGO_TRY(prepare::setPieceValue(doc, piece, id, value));
              // Another form has sizes of its own.
              const mod::PieceDoc* changed = prepare::findPiece(doc, piece);
              const bool shape =
                  changed != nullptr && changed->sort == rulebook::pieceSortName(rulebook::PieceSort::shape);
              if (shape && id == "form") return prepare::fitShape(doc, piece, book, models);
              // Other parts are held anew; where they have no body, that is a finding.
              if (shape && id == "parts") (void)prepare::fitShape(doc, piece, book, models);
              return {};
            },
            joinedEdits(QStringLiteral("value-") + q(session_.object() + "-" + piece_ + "-" + id),
                        found != now->values.end() ? *found : base::Json(), value));
      },
      [this](const rulebook::Field& field) {
        return prepare::thingsFor(session_.book(), session_.state(), field);
      },
      this);
  rows->addWidget(form_);
  sound_ = new SoundPanel(session_, this);
  rows->addWidget(sound_);
  connect(sound_, &SoundPanel::betterLoopFound, this, [this](double from_s, double to_s) {
    Q_EMIT editAsked(tr("Cut %1 where it joins best").arg(q(piece_)),
                     [piece = piece_, from_s, to_s](mod::ObjectDoc& doc) -> base::Status {
                       RAKUGO_TRY(prepare::setPieceValue(doc, piece, "from_s", from_s));
                       return prepare::setPieceValue(doc, piece, "to_s", to_s);
                     },
                     {});
  });
  lies_ = quietText(QString(), this);
  lies_->setObjectName(QStringLiteral("shape-lies"));
  rows->addWidget(lies_);
  pair_ = makeChoice("piece-pair", tr("The piece that stays its mirror image on the other side"));
  rows->addWidget(pair_);
  connect(pair_, &QComboBox::activated, this, [this] {
    const std::string other = s(pair_->currentData().toString());
    Q_EMIT editAsked(other.empty() ? tr("Let %1 stand alone").arg(q(piece_))
                                   : tr("Make %1 the mirror image of %2").arg(q(other), q(piece_)),
                     [piece = piece_, other, side = session_.book().side()](mod::ObjectDoc& doc) {
                       return prepare::pairPieces(doc, piece, other, side);
                     },
                     {});
  });
  makeTools(rows);
}

QComboBox* PieceCard::makeChoice(const char* name, const QString& title) {
  auto* out = new QComboBox(this);
  out->setObjectName(QLatin1String(name));
  out->setAccessibleName(title);
  out->setToolTip(title);
  out->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  out->setMinimumContentsLength(8);
  return out;
}

void PieceCard::makeNumbers(QVBoxLayout* rows) {
  place_ = new PlaceEditor(QStringLiteral("piece"), tr("the origin of what carries it"), this);
  connect(place_, &PlaceEditor::edited, this, [this](const prepare::PiecePlace& place) {
    Q_EMIT editAsked(
        tr("Place %1").arg(q(piece_)),
        [piece = piece_, place, side = session_.book().side()](mod::ObjectDoc& doc) {
          return prepare::placePiece(doc, piece, place, side);
        },
        QStringLiteral("place-") + q(session_.object() + "-" + piece_));
  });
  connect(place_, &PlaceEditor::handChanged, this, &PieceCard::handChanged);
  rows->addWidget(place_);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  scale_name_ = quietText(tr("Scale"), this);
  row->addWidget(scale_name_);
  scale_ = narrowNumber(QStringLiteral("piece-scale"), tr("How many times its size, with all it carries"),
                        tr(" ×"), this);
  scale_->setDecimals(3);
  scale_->setRange(0.001, 1000);
  scale_->setSingleStep(0.05);
  connect(scale_, &QDoubleSpinBox::valueChanged, this, [this](double scale) {
    Q_EMIT editAsked(
        tr("Scale %1").arg(q(piece_)),
        [piece = piece_, scale](mod::ObjectDoc& doc) { return prepare::scalePiece(doc, piece, scale); },
        QStringLiteral("place-") + q(session_.object() + "-" + piece_));
  });
  row->addWidget(scale_, 1);
  row->addStretch(1);
  rows->addLayout(row);
}

void PieceCard::makeTools(QVBoxLayout* rows) {
  auto* tools = new QHBoxLayout;
  tools->setSpacing(6);
  const auto button = [&](const char* id, const QString& title, const QString& tip) {
    auto* out = new QPushButton(title, this);
    out->setObjectName(QLatin1String(id));
    out->setToolTip(tip);
    tools->addWidget(out);
    return out;
  };
  const auto copying = [this](const QString& what, const auto& how) {
    auto made = std::make_shared<std::string>();
    Q_EMIT editAsked(what,
                     [made, how, piece = piece_](mod::ObjectDoc& doc) -> base::Status {
                       RAKUGO_ASSIGN(*made, how(doc, piece));
                       return {};
                     },
                     {});
    return *made;
  };
  connect(button("copy-piece", tr("Copy"), tr("Another of the same, at the same place")),
          &QPushButton::clicked, this, [this, copying] {
            const std::string made = copying(
                tr("Copy %1").arg(q(piece_)),
                [](mod::ObjectDoc& doc, const std::string& piece) { return prepare::copyPiece(doc, piece); });
            if (!made.empty()) Q_EMIT copied(made);
          });
  connect(button("mirror-piece", tr("Mirror image"), tr("A piece on the other side that follows this one")),
          &QPushButton::clicked, this, [this, copying] {
            copying(tr("Mirror %1").arg(q(piece_)),
                    [side = session_.book().side()](mod::ObjectDoc& doc, const std::string& piece) {
                      return prepare::addMirrorImage(doc, piece, side);
                    });
          });
  floor_ =
      button("floor-piece", tr("To the floor"), tr("Its lowest vertex stands on the object's floor then"));
  connect(floor_, &QPushButton::clicked, this, &PieceCard::toFloor);
  fit_ = button("fit-piece", tr("Fit it"), tr("The least that holds what it lies over"));
  connect(fit_, &QPushButton::clicked, this, [this] {
    Q_EMIT editAsked(tr("Fit %1").arg(q(piece_)),
                     [piece = piece_, models = preparedModels(), &book = session_.book()](
                         mod::ObjectDoc& doc) { return prepare::fitShape(doc, piece, book, models); },
                     {});
  });
  middle_ = button("middle-piece", tr("To the middle"),
                   tr("Of what it moves; its axis along the shortest side, as a wheel's"));
  connect(middle_, &QPushButton::clicked, this, [this] {
    Q_EMIT editAsked(tr("Put %1 in the middle").arg(q(piece_)),
                     [piece = piece_, models = preparedModels(), &book = session_.book()](
                         mod::ObjectDoc& doc) { return prepare::centerMoving(doc, piece, book, models); },
                     {});
  });
  tools->addStretch();
  rows->addLayout(tools);
  move_ = new QPushButton(tr("See it move"), this);
  move_->setObjectName(QStringLiteral("see-it-move"));
  move_->setCheckable(true);
  move_->setToolTip(tr("In the bench, as it moves in the game at full speed"));
  rows->addWidget(move_, 0, Qt::AlignLeft);
  frames_.setInterval(16);
  connect(&frames_, &QTimer::timeout, this, &PieceCard::moveOn);
  connect(move_, &QPushButton::toggled, this, [this](bool on) {
    if (!on) return stopMoving();
    moving_since_.start();
    if (!lessMotion()) frames_.start();
    moveOn();
  });
}

void PieceCard::hideEvent(QHideEvent* event) {
  QFrame::hideEvent(event);
  stopMoving();
}

void PieceCard::stopMoving() {
  if (!frames_.isActive() && !move_->isChecked()) return;
  frames_.stop();
  {
    const QSignalBlocker quiet(move_);
    move_->setChecked(false);
  }
  Q_EMIT movedShown({}, 0);
}

void PieceCard::moveOn() {
  const mod::PieceDoc* now = piece();
  if (now == nullptr) return stopMoving();
  const auto object = session_.state().objects.find(session_.object());
  const prepare::MovingValues says =
      prepare::movingValues(*now, prepare::fieldsOfPiece(session_.book(), object->second, *now));
  // Who wants less motion sees where a quarter of the way leads.
  const float seconds = lessMotion() ? 0.25F / std::max(0.01F, std::abs(says.rate))
                                     : static_cast<float>(moving_since_.elapsed()) / 1000;
  Q_EMIT movedShown(piece_, prepare::movedAngle(says, seconds));
}

void PieceCard::showMoving(const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  const bool moving = piece.sort == mod::kMovingSort;
  middle_->setVisible(moving);
  move_->setVisible(moving);
  if (!moving || !prepare::findPiece(object, piece_)) stopMoving();
}

const mod::PieceDoc* PieceCard::piece() const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().objects.find(session_.object());
  return found != session_.state().objects.end() ? prepare::findPiece(found->second, piece_) : nullptr;
}

void PieceCard::rename() {
  const mod::PieceDoc* now = piece();
  const std::string wanted = s(name_->text().trimmed());
  if (now == nullptr || wanted == now->name) return;
  const std::string from = now->name;
  Q_EMIT editAsked(tr("Call %1 %2").arg(q(from), q(wanted)),
                   [from, wanted](mod::ObjectDoc& doc) { return prepare::renamePiece(doc, from, wanted); },
                   {});
  const auto object = session_.state().objects.find(session_.object());
  const bool done = object != session_.state().objects.end() &&
                    prepare::findPiece(object->second, wanted) != nullptr &&
                    prepare::findPiece(object->second, from) == nullptr;
  Q_EMIT copied(done ? wanted : from);
}

void PieceCard::toFloor() {
  const mod::PieceDoc* now = piece();
  const auto& x = session_.examination();
  if (now == nullptr || !x) return;
  const auto model = x->context.models.find(now->model);
  if (model == x->context.models.end() || !model->second.prepared.model) return;
  Q_EMIT editAsked(tr("Put %1 on the floor").arg(q(piece_)),
                   [piece = piece_, of = model->second.prepared.model, &book = session_.book()](
                       mod::ObjectDoc& doc) { return prepare::putOnFloor(doc, piece, *of, book); },
                   {});
}

void PieceCard::showPiece(const mod::ObjectDoc& object, const rulebook::Kind* kind, const std::string& name) {
  if (piece_ != name) {
    place_->clickWasUsed();
    stopMoving();
  }
  piece_ = name;
  const mod::PieceDoc& piece = *prepare::findPiece(object, name);
  if (!name_->hasFocus()) name_->setText(q(piece.name));
  fillChoices(object, kind, piece);
  place_->show(prepare::placeOf(piece), prepare::gameAxes(session_.book()));
  {
    const QSignalBlocker quiet(scale_);
    scale_->setValue(piece.scale);
  }
  const bool shape = piece.sort == rulebook::pieceSortName(rulebook::PieceSort::shape);
  fit_->setVisible(shape);
  lies_->setVisible(shape);
  if (shape) lies_->setText(howItLies());
  showMoving(object, piece);
  const bool heard = piece.sort == rulebook::pieceSortName(rulebook::PieceSort::sound);
  sound_->setVisible(heard);
  if (heard) sound_->show(object, piece);
  const bool model = piece.isModel(), carries = piece.carries();
  floor_->setVisible(model);
  scale_->setVisible(carries);
  scale_name_->setVisible(carries);
  // Made anew for another piece only, so that nobody's typing is lost.
  std::vector<std::string> parts;
  if (namesParts(piece)) parts = prepare::partsForPiece(object, piece, preparedModels());
  const std::string wanted = session_.object() + "\n" + piece.name + "\n" + piece.sort + "\n" + piece.as +
                             "\n" + object.kind + "\n" + base::textOf(piece.values, "form") + "\n" +
                             base::textOf(piece.values, "moves") + "\n" + piece.parent + "\n" +
                             base::listText(parts, parts.size());
  if (wanted != form_for_) {
    form_for_ = wanted;
    auto fields = prepare::fieldsOfPiece(session_.book(), object, piece);
    std::erase_if(fields,
                  [&](const rulebook::Field& field) { return !prepare::fieldCounts(piece, field.id); });
    // One of the parts that are there.
    if (!parts.empty())
      for (rulebook::Field& field : fields) {
        if (piece.sort == mod::kMovingSort && field.id == "part") {
          field.type = rulebook::FieldType::choice;
          field.choices = parts;
          field.choices.insert(field.choices.begin(), std::string());
        } else if (shape && field.id == "parts") {
          rulebook::Field& part = field.columns.front();
          part.type = rulebook::FieldType::choice;
          part.choices = parts;
          part.default_value = parts.front();
        }
      }
    form_->setFields(fields);
    form_->setVisible(!fields.empty());
  }
  form_->refresh();
}

prepare::ModelOf PieceCard::preparedModels() const {
  return [x = session_.examination()](const std::string& name) -> const scene::Model* {
    if (!x) return nullptr;
    const auto found = x->context.models.find(name);
    return found != x->context.models.end() ? found->second.prepared.model.get() : nullptr;
  };
}

void PieceCard::sceneChanged() {
  if (!lies_->isHidden()) lies_->setText(howItLies());
  // Which parts there are is known once the model is prepared.
  if (const auto of = session_.state().objects.find(session_.object());
      of != session_.state().objects.end() && piece() != nullptr && namesParts(*piece()))
    showPiece(of->second, session_.book().findKind(of->second.kind), piece_);
  const auto object = session_.state().objects.find(session_.object());
  if (const mod::PieceDoc* now = piece(); now != nullptr && !sound_->isHidden())
    sound_->show(object->second, *now);
}

// How the shape lies over the model, as the bench has it.
QString PieceCard::howItLies() const {
  const auto& scene = session_.scene();
  if (!scene || scene->object != session_.object()) return {};
  for (const BenchLamp& one : scene->lamps)
    if (one.name == piece_ && one.shape)
      return (one.shape->mesh.ends.empty() ? QString() : tr("%1 hulls, ").arg(one.shape->mesh.ends.size())) +
             tr("%1 corners, %2 triangles. The model reaches out of it by %3; it stands off the model by %4.")
                 .arg(one.shape->mesh.corners.size())
                 .arg(one.shape->mesh.triangles.size() / 3)
                 .arg(q(base::lengthText(one.shape->off.short_m)),
                      q(base::lengthText(one.shape->off.beyond_m)));
  return tr("Nothing to bump into: what it is made of has no body.");
}

void PieceCard::fillChoices(const mod::ObjectDoc& object, const rulebook::Kind* kind,
                            const mod::PieceDoc& piece) {
  using Entries = std::vector<std::pair<QString, QString>>;
  const auto fill = [](QComboBox* box, const Entries& entries, const QString& now) {
    const QSignalBlocker quiet(box);
    box->clear();
    for (const auto& [title, id] : entries) box->addItem(title, id);
    if (box->findData(now) < 0) box->addItem(tr("%1, unknown").arg(now), now);
    box->setCurrentIndex(box->findData(now));
  };
  Entries as, models, parents = {{tr("hangs on the object itself"), QString()}},
                      pairs = {{tr("stands alone"), QString()}};
  if (piece.isModel()) {
    as.emplace_back(kind != nullptr ? q(kind->title) : tr("its model"), QString());
    if (kind != nullptr)
      for (const rulebook::KindModel& model : kind->models) as.emplace_back(q(model.title), q(model.id));
  } else if (kind != nullptr) {
    for (const rulebook::PieceRule& rule : kind->pieces)
      if (rulebook::pieceSortName(rule.sort) == piece.sort) as.emplace_back(q(rule.title), q(rule.id));
  }
  fill(as_, as, q(piece.as));
  as_->setVisible(piece.sort != mod::kGroupSort && (as.size() > 1 || !piece.as.empty()));
  for (const auto& [name, model] : session_.state().models) models.emplace_back(q(name), q(name));
  fill(model_, models, q(piece.model));
  model_->setVisible(piece.isModel());
  for (const mod::PieceDoc& other : object.pieces) {
    if (&other == &piece) continue;
    if (other.carries() && !mod::hangsOn(object, other, piece.name))
      parents.emplace_back(tr("hangs on %1").arg(q(other.name)), q(other.name));
    if (prepare::mayBePair(object, piece, other))
      pairs.emplace_back(tr("a pair with %1").arg(q(other.name)), q(other.name));
  }
  fill(parent_, parents, q(piece.parent));
  parent_->setVisible(parents.size() > 1);
  fill(pair_, pairs, q(piece.pair));
  pair_->setVisible(pairs.size() > 1);
}

}  // namespace rakugo::app
