#include <QBuffer>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPointer>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <algorithm>

#include "app/bench/headless_icons.h"
#include "app/bench/icon_painter.h"
#include "app/stations/objects/donor_panel.h"
#include "app/stations/objects/fall_panel.h"
#include "app/stations/objects/field_form.h"
#include "app/stations/objects/lists_panel.h"
#include "app/stations/objects/pieces_panel.h"
#include "app/stations/objects/points_panel.h"
#include "app/stations/objects/station_objects.h"
#include "app/stations/objects/texts_panel.h"
#include "app/stations/objects/variants_panel.h"
#include "app/stations/station_panel.h"
#include "app/widgets/chapter.h"
#include "app/widgets/object_icon.h"
#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "mod/icon_subject.h"
#include "prepare/parts/pieces.h"
#include "rulebook/field_value.h"

namespace rakugo::app {

ObjectsStation::ObjectsStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  kind_chapter_ = addChapter("objects/kind", tr("What it is"), {"object."});
  pieces_chapter_ = addChapter("objects/pieces", tr("Pieces"),
                               {"piece.", "sound.", "object.models", "object.pieces", "object.made_from"});
  pieces_ = new PiecesPanel(session, bench, this);
  pieces_chapter_->body()->addWidget(pieces_);
  connect(pieces_, &PiecesPanel::tell, this, [this](const QString& problem) { Q_EMIT tell(problem, false); });
  body_chapter_ = addChapter("objects/body", tr("Weight"), {});
  body_ = plainText(QString(), this);
  body_->setObjectName(QStringLiteral("object-body"));
  body_->setWordWrap(true);
  body_chapter_->body()->addWidget(body_);
  seen_ = quietText(QString(), this);
  seen_->setObjectName(QStringLiteral("seen-box-said"));
  body_chapter_->body()->addWidget(seen_);
  show_seen_ = new QCheckBox(tr("Show this box"), this);
  show_seen_->setObjectName(QStringLiteral("seen-box"));
  show_seen_->setToolTip(tr("Nothing of the object ever leaves it, however it moves"));
  connect(show_seen_, &QCheckBox::toggled, this, [&bench](bool on) { bench.setSeenBoxShown(on); });
  body_chapter_->body()->addWidget(show_seen_);
  fall_ = new FallPanel(session, bench, this);
  body_chapter_->body()->addWidget(fall_);
  connect(&session, &Session::sceneChanged, this, &ObjectsStation::sayBody);
  card_chapter_ = addChapter("objects/card", tr("Card"), {"field."});
  texts_chapter_ = addChapter("objects/texts", tr("Texts"), {"text."});
  texts_ = new TextsPanel(session, this);
  texts_chapter_->body()->addWidget(texts_);
  lists_chapter_ = addChapter("objects/lists", tr("Where it enters the game"), {"list."});
  lists_ = new ListsPanel(session, this);
  lists_chapter_->body()->addWidget(lists_);
  icon_chapter_ = addChapter("objects/icon", tr("Icon"), {"icon."});
  points_chapter_ = addChapter("objects/points", tr("Attachment points"), {"point."});
  points_ = new PointsPanel(session, bench, this);
  points_chapter_->body()->addWidget(points_);
  connect(points_, &PointsPanel::tell, this, [this](const QString& problem) { Q_EMIT tell(problem, false); });
  // The bench has one handle: of the piece or of the point that was chosen last.
  connect(points_, &PointsPanel::taken, this, [this] { pieces_->letGo(); });
  connect(pieces_, &PiecesPanel::taken, this, [this] { points_->letGo(); });
  variants_chapter_ = addChapter("objects/variants", tr("Variants"), {"object.behind"});
  variants_ = new VariantsPanel(session, this);
  variants_chapter_->body()->addWidget(variants_);
  connect(variants_, &VariantsPanel::tell, this,
          [this](const QString& problem) { Q_EMIT tell(problem, false); });
  donor_chapter_ = addChapter("objects/donor", tr("From another object"), {});
  donor_ = new DonorPanel(session, this);
  donor_chapter_->body()->addWidget(donor_);
  connect(donor_, &DonorPanel::tell, this, [this](const QString& problem) { Q_EMIT tell(problem, false); });
  column_->addStretch();
}

void ObjectsStation::refresh() {
  // Rebuilt only when another thing is shown; otherwise values alone are brought up to date, so that nobody's
  // typing is lost.
  std::string wanted;
  if (session_.isOpen()) {
    const auto object = session_.state().objects.find(session_.object());
    if (object != session_.state().objects.end()) {
      wanted = session_.folder().string() + "\n" + object->first + "\n" + object->second.kind;
    }
  }
  if (wanted != built_for_ || wanted.empty()) {
    built_for_ = wanted;
    rebuild();
  }
  for (const auto& refresher : refreshers_) refresher();
  pieces_->refresh();
  points_->refresh();
  lists_->refresh();
  texts_->refresh();
  donor_->refresh();
  variants_->refresh();
  sayChapters();
  settleChapters(card_chapter_);
}

namespace {

// "96 × 96, and 32 × 32 made of it"
QString iconSizes(const rulebook::Kind& kind) {
  QString out = ObjectsStation::tr("%1 × %2").arg(kind.icon_width).arg(kind.icon_height);
  QStringList more;
  for (const rulebook::IconSize& one : kind.icon_sizes)
    more << ObjectsStation::tr("%1 × %2").arg(one.width).arg(one.height);
  return more.empty() ? out
                      : ObjectsStation::tr("%1, and %2 made of it").arg(out, more.join(QStringLiteral(", ")));
}

}  // namespace

void ObjectsStation::sayChapters() {
  const auto found = session_.isOpen() ? session_.state().objects.find(session_.object())
                                       : decltype(session_.state().objects.end()){};
  const bool some = session_.isOpen() && found != session_.state().objects.end();
  const rulebook::Kind* kind = some ? session_.book().findKind(found->second.kind) : nullptr;
  pieces_chapter_->setVisible(some);
  body_chapter_->setVisible(some);
  sayBody();
  say(pieces_chapter_, pieces_->state(), kind != nullptr);
  card_chapter_->setVisible(kind != nullptr);
  lists_chapter_->setVisible(lists_->any());
  texts_chapter_->setVisible(texts_->any());
  say(texts_chapter_, texts_->state(), true);
  donor_chapter_->setVisible(kind != nullptr);
  variants_chapter_->setVisible(some);
  say(variants_chapter_, variants_->state().isEmpty() ? tr("none") : variants_->state(),
      !variants_->state().isEmpty());
  say(donor_chapter_, QString());
  say(lists_chapter_, lists_->state().isEmpty() ? tr("in no list") : lists_->state(),
      !lists_->state().isEmpty());
  icon_chapter_->setVisible(kind != nullptr && kind->icon_width > 0);
  points_chapter_->setVisible(kind != nullptr);
  say(kind_chapter_, kind != nullptr ? q(kind->title) : some ? q(found->second.kind) : tr("no object yet"));
  if (kind == nullptr) return;
  const mod::ObjectDoc& doc = found->second;
  size_t empty = 0;
  for (const rulebook::Field& field : kind->fields)
    empty += field.required && field.when.holds(doc.card) &&
                     (!doc.card.contains(field.id) || rulebook::isEmpty(doc.card[field.id]))
                 ? 1
                 : 0;
  const check::Finding* gravest = gravestOf(card_chapter_);
  say(card_chapter_,
      empty > 0            ? tr("%1 to fill in").arg(q(base::countText(empty, "field", "fields")))
      : gravest != nullptr ? q(base::phrase(check::findCheck(gravest->check)->title))
                           : tr("filled in"),
      true);
  say(icon_chapter_,
      gravestOf(icon_chapter_) != nullptr ? tr("none yet, or not as the game wants it") : iconSizes(*kind),
      true);
  say(points_chapter_, points_->state(), !kind->points.empty());
}

// What it weighs, how it stands and floats, as reckoned with the scene.
void ObjectsStation::sayBody() {
  fall_->refresh();
  saySeenBox();
  const auto& scene = session_.scene();
  if (!session_.isOpen() || !scene || scene->object != session_.object() || !scene->body) {
    say(body_chapter_, tr("not known"));
    body_->setText(tr("It holds no volume: give it a model or a collision shape that has a body."));
    return;
  }
  const prepare::ObjectBody& body = scene->body->body;
  const prepare::GameAxes axes = prepare::gameAxes(session_.book());
  const auto along = [&](const glm::vec3& axis) {
    return q(base::numberText(glm::dot(body.center_m, glm::dvec3(axis)), 2));
  };
  QStringList lines;
  lines << (body.from == prepare::BodyFrom::shapes ? tr("Reckoned from its collision shapes.")
            : body.from == prepare::BodyFrom::model
                ? tr("Reckoned from its models, which are closed.")
                : tr("Reckoned from the convex hull of its models, which are "
                     "open; give it collision shapes for better figures."));
  lines << (scene->body->mass_kg ? tr("%1 kg, as its card says; %2 litres.")
                                 : tr("%1 kg, if it is of wood; %2 litres."))
               .arg(q(base::numberText(body.mass_kg, 1)), q(base::numberText(body.volume_m3 * 1000, 1)));
  lines << tr("Its centre of mass lies %1 m forward, %2 m to the left and %3 m up from its origin.")
               .arg(along(axes.forward), along(axes.side), along(axes.up));
  QString stands;
  if (body.stands)
    stands = body.stands->margin > 0 ? tr("It stands, and falls over where the ground leans by %1°.")
                                           .arg(q(base::numberText(glm::degrees(body.stands->angle_rad), 0)))
                                     : tr("It falls over: its weight lies beside what it stands on.");
  if (!stands.isEmpty()) lines << stands;
  const bool rights = body.floats && body.floats->righting_sides > 0 && body.floats->righting_ends > 0;
  if (body.floats)
    lines << tr("In water it lies %1 deep, its water line %2 m above its origin; %3")
                 .arg(q(base::lengthText(body.floats->draught)), q(base::numberText(body.floats->level, 2)),
                      rights ? tr("it rights itself when it leans.") : tr("it turns over."));
  else
    lines << tr("In water it sinks.");
  body_->setText(lines.join(QLatin1Char('\n')));
  const QString kilograms = q(base::numberText(body.mass_kg, 1));
  say(body_chapter_, body.stands && body.stands->margin > 0 ? tr("%1 kg, stands").arg(kilograms)
                                                            : tr("%1 kg, falls over").arg(kilograms));
}

// The box that the game draws it by.
void ObjectsStation::saySeenBox() {
  const auto& scene = session_.scene();
  const bool known =
      session_.isOpen() && scene && scene->object == session_.object() && !scene->seen_m.empty();
  seen_->setVisible(known);
  show_seen_->setVisible(known);
  if (!known) return;
  const prepare::GameAxes axes = prepare::gameAxes(session_.book());
  const glm::vec3 size = scene->seen_m.size();
  const auto along = [&](const glm::vec3& axis) {
    return q(base::lengthText(std::abs(static_cast<double>(glm::dot(size, axis)))));
  };
  seen_->setText(tr("The game draws it while a box of %1 × %2 × %3 is in view.")
                     .arg(along(axes.forward), along(axes.side), along(axes.up)));
}

void ObjectsStation::rebuild() {
  for (Chapter* chapter : chapters())
    if (chapter != pieces_chapter_ && chapter != body_chapter_ && chapter != lists_chapter_ &&
        chapter != donor_chapter_ && chapter != points_chapter_ && chapter != texts_chapter_ &&
        chapter != variants_chapter_)
      clearLayout(chapter->body());
  editors_.clear();
  refreshers_.clear();
  icon_ = nullptr;
  const auto found = session_.isOpen() ? session_.state().objects.find(session_.object())
                                       : decltype(session_.state().objects.end()){};
  if (!session_.isOpen() || found == session_.state().objects.end()) {
    kind_chapter_->body()->addWidget(
        plainText(tr("No object yet. Add a model in Sources; an object is made from it."), this));
    return;
  }
  const mod::ObjectDoc& doc = found->second;
  const rulebook::Kind* kind = session_.book().findKind(doc.kind);
  addKindChoice(doc.kind, kind);
  if (kind == nullptr) return;
  if (kind->icon_width > 0) addIcon(*kind);
  addCard(doc, *kind);
}

// What is required and empty comes first; then the fields as the rulebook has them.
void ObjectsStation::addCard(const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
  std::vector<rulebook::Field> fields(kind.fields.begin(), kind.fields.end());
  rulebook::Field title;
  title.id = "title";
  title.title = s(tr("Name"));
  title.help = s(tr("What players read."));
  title.required = true;
  title.max_length = 60;
  fields.insert(fields.begin(), title);
  const auto empty = [&](const rulebook::Field& field) {
    return field.required && (field.id == "title" ? doc.title.empty() : !doc.card.contains(field.id));
  };
  std::stable_partition(fields.begin(), fields.end(), empty);
  auto* form = new FieldForm(
      QString(), [this](const std::string& id) { return fieldValue(id); },
      [this](const std::string& id, const base::Json& value) { setField(id, value); },
      [this](const rulebook::Field& field) {
        return prepare::thingsFor(session_.book(), session_.state(), field);
      },
      this);
  form->setFields(fields);
  for (const rulebook::Field& field : fields) editors_[field.id] = form->editorOf(field.id);
  refreshers_.push_back([form] { form->refresh(); });
  card_chapter_->body()->addWidget(form);
}

void ObjectsStation::addKindChoice(const std::string& present, const rulebook::Kind* kind) {
  auto* kinds = new QComboBox(this);
  kinds->setObjectName(QStringLiteral("object-kind"));
  kinds->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  kinds->setMinimumContentsLength(12);
  kinds->setAccessibleName(tr("What it is to the game"));
  for (const rulebook::Kind& one : session_.book().kinds) kinds->addItem(q(one.title), q(one.id));
  if (kind == nullptr) kinds->insertItem(0, q(present), q(present));
  kinds->setCurrentIndex(kinds->findData(q(present)));
  connect(kinds, &QComboBox::activated, this, [this, kinds] {
    const std::string wanted = s(kinds->currentData().toString());
    const auto object = session_.state().objects.find(session_.object());
    if (object == session_.state().objects.end() || object->second.kind == wanted) return;
    session_.edit(tr("Make it a %1").arg(kinds->currentText()), [&](mod::ModState& state) {
      state.objects.at(session_.object()).kind = wanted;  // what is filled in stays, for a change of mind
    });
  });
  kind_chapter_->body()->addWidget(kinds);
  kind_chapter_->body()->addWidget(
      quietText(kind != nullptr ? q(kind->help) : tr("The rulebook has no such kind."), this));
  if (kind != nullptr && kind->replaces) addReplaces(*kind);
}

// Whether it stands beside the game's own things or in place of one.
void ObjectsStation::addReplaces(const rulebook::Kind& kind) {
  auto* places = new QComboBox(this);
  places->setObjectName(QStringLiteral("object-replaces"));
  places->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  places->setMinimumContentsLength(12);
  places->setAccessibleName(tr("What of the game it stands in place of"));
  places->addItem(tr("Beside the game's own"), QString());
  for (const rulebook::SharedAsset& asset : session_.book().shared_assets)
    if (asset.sort == kind.id) places->addItem(tr("In place of: %1").arg(q(asset.title)), q(asset.id));
  const auto now = [this] {
    const auto object = session_.state().objects.find(session_.object());
    return object != session_.state().objects.end() ? object->second.replaces : std::string();
  };
  refreshers_.push_back([places, now] {
    const QString is = q(now());
    int at = places->findData(is);
    if (at < 0) {
      places->addItem(tr("In place of: %1, which the game has not").arg(is), is);
      at = places->count() - 1;
    }
    places->setCurrentIndex(at);
  });
  connect(places, &QComboBox::activated, this, [this, places, now] {
    const std::string wanted = s(places->currentData().toString());
    if (now() == wanted) return;
    session_.edit(places->currentText(),
                  [&](mod::ModState& state) { state.objects.at(session_.object()).replaces = wanted; });
  });
  kind_chapter_->body()->addWidget(places);
}

void ObjectsStation::addIcon(const rulebook::Kind& kind) {
  auto* row = new QHBoxLayout;
  icon_ = new QLabel(this);
  icon_->setFixedSize(98, 98);
  icon_->setAlignment(Qt::AlignCenter);
  icon_->setAccessibleName(tr("Icon"));
  icon_->setProperty("well", true);
  row->addWidget(icon_);
  auto* side = new QVBoxLayout;
  side->addWidget(
      quietText(tr("Icon, %1. Turn the bench to the angle you like.").arg(iconSizes(kind)), this));
  auto* take = new QPushButton(tr("Take the icon"), this);
  take->setObjectName(QStringLiteral("take-icon"));
  take->setEnabled(bench_.works());
  connect(take, &QPushButton::clicked, this, [this] { takeIcon(false); });
  side->addWidget(take);
  auto* usual = new QPushButton(tr("As usual"), this);
  usual->setObjectName(QStringLiteral("take-icon-usual"));
  usual->setProperty("quiet", true);
  usual->setToolTip(tr("From the angle from which the game's icons of this kind are taken"));
  usual->setEnabled(bench_.works());
  connect(usual, &QPushButton::clicked, this, [this] { takeIcon(true); });
  side->addWidget(usual, 0, Qt::AlignLeft);
  auto* all = new QPushButton(this);
  all->setObjectName(QStringLiteral("take-icons"));
  all->setProperty("quiet", true);
  all->setToolTip(
      tr("All icons that are missing or older than their object, from the usual angle; one edit for all"));
  connect(all, &QPushButton::clicked, this, &ObjectsStation::takeIcons);
  side->addWidget(all);
  refreshers_.push_back([this, all] {
    const size_t count = iconsWanted().size();
    all->setVisible(count > 0);
    all->setEnabled(bench_.works());
    all->setText(tr("Take all %1").arg(count));
  });
  side->addStretch();
  row->addLayout(side, 1);
  icon_chapter_->body()->addLayout(row);
  editors_["icon"] = take;
  refreshers_.push_back([this, take] {
    take->setEnabled(bench_.works() && bench_.scene() != nullptr);
    const auto object = session_.state().objects.find(session_.object());
    if (object == session_.state().objects.end() || icon_ == nullptr) return;
    const QImage picture = objectIcon(session_.state(), object->second, 96);
    if (picture.isNull())
      icon_->setText(tr("none yet"));
    else
      icon_->setPixmap(QPixmap::fromImage(picture));
  });
}

void ObjectsStation::setField(const std::string& id, const base::Json& value) {
  const std::string object = session_.object();
  const auto found = session_.state().objects.find(object);
  if (found == session_.state().objects.end()) return;
  if (id == "title") {
    if (found->second.title == value.get<std::string>()) return;
  } else if (found->second.card.contains(id) && found->second.card[id] == value) {
    return;
  }
  const bool empty = value.is_string() && value.get<std::string>().empty();
  const base::Json before = fieldValue(id);
  if (id != "title" && empty && !found->second.card.contains(id)) return;
  session_.edit(
      tr("Fill in %1").arg(q(id)),
      [&](mod::ModState& state) {
        if (id == "title")
          state.objects[object].title = value.get<std::string>();
        else
          state.objects[object].card[id] = value;
      },
      joinedEdits(QStringLiteral("field-") + q(object + "-" + id), before, value));
}

base::Json ObjectsStation::fieldValue(const std::string& id) const {
  const auto found = session_.state().objects.find(session_.object());
  if (found == session_.state().objects.end()) return {};
  if (id == "title") return found->second.title;
  return found->second.card.contains(id) ? found->second.card[id] : base::Json();
}

void ObjectsStation::takeIcon(bool as_usual) {
  const std::string name = session_.object();
  const auto object = session_.state().objects.find(name);
  const rulebook::Kind* kind =
      object != session_.state().objects.end() ? session_.book().findKind(object->second.kind) : nullptr;
  if (kind == nullptr) return;
  for (const mod::PieceDoc& piece : object->second.pieces)
    if (piece.model == session_.model() &&
        prepare::apartRoot(session_.book(), object->second, piece) != nullptr)
      return Q_EMIT tell(tr("The bench shows what the game shows apart. Choose the object itself first."),
                         false);
  const IconLook look = iconLookOf(*kind);
  const QImage picture =
      as_usual && bench_.scene() ? bench_.takeIconOf(*bench_.scene(), look) : bench_.takeIcon(look);
  if (picture.isNull()) {
    Q_EMIT tell(tr("The bench has nothing to take a picture of."), false);
    return;
  }
  session_.edit(tr("Take the icon"), [&](mod::ModState& state) {
    putIcon(state, name, picture, session_.examination() ? *session_.examination()->mod : state,
            session_.book());
  });
}

std::vector<std::string> ObjectsStation::iconsWanted() const {
  const auto& x = session_.examination();
  return x ? app::iconsWanted(*x) : std::vector<std::string>();
}

void ObjectsStation::takeIcons() {
  auto pictures = std::make_shared<std::map<std::string, QImage>>();
  const std::vector<std::string> wanted = iconsWanted();
  const QPointer<ObjectsStation> here(this);
  for (size_t i = 0; i < wanted.size(); ++i)
    session_.background().post([here, pictures, name = wanted[i], last = i + 1 == wanted.size(),
                                x = session_.examination(),
                                folder = session_.folder()](base::Progress&) -> Background::Finish {
      const auto object = x->mod->objects.find(name);
      const mod::PieceDoc* first =
          object != x->mod->objects.end() ? mod::firstModelPiece(object->second) : nullptr;
      const rulebook::Kind* kind = first != nullptr ? x->book->findKind(object->second.kind) : nullptr;
      PictureCache cache;
      std::shared_ptr<const BenchScene> scene;
      IconLook look;
      if (kind != nullptr) {
        scene = makeBenchScene(*x, first->model, cache, nullptr, {{}, name, {}});
        look = iconLookOf(*kind);
      }
      return [here, pictures, name, scene, look, last, x, folder] {
        // Another mod may be open by now.
        if (here == nullptr || !here->session_.isOpen() || here->session_.folder() != folder) return;
        if (scene != nullptr)
          if (QImage picture = here->bench_.takeIconOf(*scene, look); !picture.isNull())
            (*pictures)[name] = std::move(picture);
        if (!last) return;
        if (pictures->empty()) {
          Q_EMIT here->tell(tr("None of them has anything to take a picture of."), false);
          return;
        }
        here->session_.edit(tr("Take %1 icons").arg(pictures->size()), [&](mod::ModState& state) {
          for (const auto& [of, picture] : *pictures)
            if (state.objects.count(of) != 0) putIcon(state, of, picture, *x->mod, *x->book);
        });
      };
    });
}

void ObjectsStation::showPlace(const check::FindingPlace& place) {
  if (place.field.rfind("piece-", 0) == 0) {
    pieces_->choose(place.field.substr(6));
    unfoldTo(pieces_);
    area_->ensureWidgetVisible(pieces_, 0, 12);
    return;
  }
  if (place.field.rfind("list-", 0) == 0) {
    unfoldTo(lists_);
    lists_->showList(place.field.substr(5));
    return;
  }
  const auto editor = editors_.find(place.field);
  QWidget* to = !place.point.empty()       ? points_->showPoint(place.model, place.point)
                : editor != editors_.end() ? editor->second
                                           : nullptr;
  if (to == nullptr) return;
  unfoldTo(to);
  to->setFocus(Qt::OtherFocusReason);
  QTimer::singleShot(0, this, [this, widget = QPointer<QWidget>(to)] {
    if (widget) area_->ensureWidgetVisible(widget, 0, 60);
  });
}

}  // namespace rakugo::app
