#include <QBuffer>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <algorithm>
#include <set>

#include "app/stations/objects/pieces_panel.h"
#include "app/stations/objects/station_objects.h"
#include "app/stations/station_panel.h"
#include "app/widgets/chapter.h"
#include "app/widgets/object_icon.h"
#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::app {

ObjectsStation::ObjectsStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  kind_chapter_ = addChapter("objects/kind", tr("What it is"), {"object."});
  pieces_chapter_ = addChapter("objects/pieces", tr("Pieces"), {"piece.", "object.models", "object.pieces"});
  pieces_ = new PiecesPanel(session, bench, this);
  pieces_chapter_->body()->addWidget(pieces_);
  connect(pieces_, &PiecesPanel::tell, this, [this](const QString& problem) { Q_EMIT tell(problem, false); });
  card_chapter_ = addChapter("objects/card", tr("Card"), {"field."});
  icon_chapter_ = addChapter("objects/icon", tr("Icon"), {"icon."});
  points_chapter_ = addChapter("objects/points", tr("Attachment points"), {"point."});
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
      for (const mod::PieceDoc& piece : object->second.pieces)
        if (const auto model = session_.state().models.find(piece.model);
            model != session_.state().models.end())
          for (const mod::PointDoc& point : model->second.points)
            wanted += "\n" + piece.model + " " + point.id;
    }
  }
  if (wanted != built_for_ || wanted.empty()) {
    built_for_ = wanted;
    rebuild();
  }
  for (const auto& refresher : refreshers_) refresher();
  pieces_->refresh();
  sayChapters();
  settleChapters(card_chapter_);
}

void ObjectsStation::sayChapters() {
  const auto found = session_.isOpen() ? session_.state().objects.find(session_.object())
                                       : decltype(session_.state().objects.end()){};
  const bool some = session_.isOpen() && found != session_.state().objects.end();
  const rulebook::Kind* kind = some ? session_.book().findKind(found->second.kind) : nullptr;
  pieces_chapter_->setVisible(some);
  say(pieces_chapter_, pieces_->state(), kind != nullptr);
  card_chapter_->setVisible(kind != nullptr);
  icon_chapter_->setVisible(kind != nullptr && kind->icon_width > 0);
  points_chapter_->setVisible(kind != nullptr);
  say(kind_chapter_, kind != nullptr ? q(kind->title) : some ? q(found->second.kind) : tr("no object yet"));
  if (kind == nullptr) return;
  const mod::ObjectDoc& doc = found->second;
  size_t empty = 0;
  for (const rulebook::Field& field : kind->fields)
    empty += field.required && !doc.card.contains(field.id) ? 1 : 0;
  const check::Finding* gravest = gravestOf(card_chapter_);
  say(card_chapter_,
      empty > 0            ? tr("%1 to fill in").arg(q(base::countText(empty, "field", "fields")))
      : gravest != nullptr ? q(base::phrase(check::findCheck(gravest->check)->title))
                           : tr("filled in"),
      true);
  say(icon_chapter_,
      gravestOf(icon_chapter_) != nullptr ? tr("none yet, or not as the game wants it")
                                          : tr("%1 × %2").arg(kind->icon_width).arg(kind->icon_height),
      true);
  size_t points = 0;
  std::set<std::string> counted;
  for (const mod::PieceDoc& piece : doc.pieces)
    if (const auto model = session_.state().models.find(piece.model);
        model != session_.state().models.end() && counted.insert(piece.model).second)
      points += model->second.points.size();
  say(points_chapter_, points == 0 ? tr("none") : QString::number(points), !kind->points.empty());
}

void ObjectsStation::rebuild() {
  for (Chapter* chapter : chapters())
    if (chapter != pieces_chapter_) clearLayout(chapter->body());
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
  addPoints(doc, *kind);
}

// What is required and empty comes first; then the fields as the rulebook has them. Short ones stand side by
// side, two in a row.
void ObjectsStation::addCard(const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
  using rulebook::FieldType;
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
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(8);
  grid->setColumnStretch(0, 1);
  grid->setColumnStretch(1, 1);
  int row = 0, column = 0;
  for (const rulebook::Field& field : fields) {
    QWidget* made = makeField(field);
    const bool wide = field.type == FieldType::long_text || field.type == FieldType::text;
    if (wide && column == 1) ++row, column = 0;
    grid->addWidget(made, row, column, 1, wide ? 2 : 1, Qt::AlignTop);
    column = wide ? 2 : column + 1;
    if (column == 2) ++row, column = 0;
  }
  card_chapter_->body()->addLayout(grid);
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
  side->addWidget(quietText(
      tr("Icon, %1 × %2. Turn the bench to the angle you like.").arg(kind.icon_width).arg(kind.icon_height),
      this));
  auto* take = new QPushButton(tr("Take the icon"), this);
  take->setObjectName(QStringLiteral("take-icon"));
  take->setEnabled(bench_.works());
  connect(take, &QPushButton::clicked, this, &ObjectsStation::takeIcon);
  side->addWidget(take);
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

void ObjectsStation::addPoints(const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
  bool any = false;
  for (const mod::PieceDoc& piece : doc.pieces) {
    const auto model = session_.state().models.find(piece.model);
    if (model == session_.state().models.end()) continue;
    for (const mod::PointDoc& point : model->second.points) {
      const rulebook::Point* known = kind.findPoint(point.id);
      QString title = known != nullptr ? q(known->title) : q(point.id);
      if (known != nullptr && known->id != point.id) title += q(" " + point.id.substr(known->id.size() + 1));
      addPoint(piece.model, point, title);
      any = true;
    }
  }
  const std::string model = doc.pieces.empty() ? std::string() : doc.pieces.front().model;
  const auto found = session_.state().models.find(model);
  if (found == session_.state().models.end()) {
    if (!any) points_chapter_->body()->addWidget(quietText(tr("Give the object a model first."), this));
    return;
  }
  for (const rulebook::Point& point : kind.points) offerPoint(model, found->second, point);
}

// A point of the kind that is not placed: in the middle of the model, to be moved from there.
void ObjectsStation::offerPoint(const std::string& model, const mod::ModelDoc& doc,
                                const rulebook::Point& point) {
  const auto has = [&](const std::string& id) {
    return std::any_of(doc.points.begin(), doc.points.end(),
                       [&](const mod::PointDoc& one) { return one.id == id; });
  };
  std::string id = point.id;
  QString title = q(point.title);
  bool none = !has(id);
  if (point.most > 1) {
    // The first free number; no more than the game takes.
    int64_t number = 1;
    while (number <= point.most && has(point.id + "-" + std::to_string(number))) ++number;
    none = none && number == 1;
    if (number + (has(point.id) ? 1 : 0) > point.most) return;
    id = point.id + "-" + std::to_string(number);
    title = tr("%1 %2").arg(title).arg(number);
  } else if (!none) {
    return;
  }
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  QLabel* name = quietText(
      point.required && none ? tr("%1: needed, not placed").arg(title) : tr("%1: not placed").arg(title),
      this);
  name->setToolTip(q(point.help));
  row->addWidget(name, 1);
  auto* place = new QPushButton(tr("Place it"), this);
  place->setObjectName(QStringLiteral("place-") + q(id));
  place->setAccessibleName(tr("Place %1 in the middle of the model").arg(title));
  place->setToolTip(tr("In the middle of the model; move it from there"));
  connect(place, &QPushButton::clicked, this, [this, model, id, title] {
    const auto& x = session_.examination();
    const auto state = x ? x->context.models.find(model) : decltype(x->context.models.find(model))();
    if (!x || state == x->context.models.end() || state->second.box_m.empty()) return;
    const glm::vec3 middle = state->second.box_m.center();
    session_.edit(tr("Place %1").arg(title), [&](mod::ModState& now) {
      if (auto* changed = now.models.change(model))
        changed->points.push_back({id, {middle.x, middle.y, middle.z}, {0, 0, 0, 1}});
    });
  });
  row->addWidget(place);
  points_chapter_->body()->addLayout(row);
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
  if (id != "title" && empty && !found->second.card.contains(id)) return;
  session_.edit(
      tr("Fill in %1").arg(q(id)),
      [&](mod::ModState& state) {
        if (id == "title")
          state.objects[object].title = value.get<std::string>();
        else
          state.objects[object].card[id] = value;
      },
      QStringLiteral("field-") + q(object + "-" + id));
}

base::Json ObjectsStation::fieldValue(const std::string& id) const {
  const auto found = session_.state().objects.find(session_.object());
  if (found == session_.state().objects.end()) return {};
  if (id == "title") return found->second.title;
  return found->second.card.contains(id) ? found->second.card[id] : base::Json();
}

QWidget* ObjectsStation::makeFlag(const std::string& id, const QString& title) {
  auto* box = new QCheckBox(title, this);
  connect(box, &QCheckBox::clicked, this, [this, id](bool on) { setField(id, on); });
  refreshers_.push_back([this, box, id] {
    const base::Json v = fieldValue(id);
    box->setChecked(v.is_boolean() && v.get<bool>());
  });
  return box;
}

QWidget* ObjectsStation::makeChoice(const rulebook::Field& field) {
  auto* box = new QComboBox(this);
  box->addItem(tr("choose…"), QString());
  for (const std::string& choice : field.choices) box->addItem(q(choice), q(choice));
  connect(box, &QComboBox::activated, this, [this, id = field.id, box](int at) {
    if (at > 0) setField(id, s(box->itemData(at).toString()));
  });
  refreshers_.push_back([this, box, id = field.id] {
    const base::Json v = fieldValue(id);
    box->setCurrentIndex(v.is_string() ? std::max(0, box->findData(q(v.get<std::string>()))) : 0);
  });
  return box;
}

QWidget* ObjectsStation::makeLongText(const std::string& id) {
  auto* box = new QPlainTextEdit(this);
  box->setTabChangesFocus(true);
  box->setFixedHeight(62);
  connect(box, &QPlainTextEdit::textChanged, this, [this, id, box] { setField(id, s(box->toPlainText())); });
  refreshers_.push_back([this, box, id] {
    const base::Json v = fieldValue(id);
    const QString text = v.is_string() ? q(v.get<std::string>()) : QString();
    if (box->toPlainText() != text) {
      const QSignalBlocker quiet(box);
      box->setPlainText(text);
    }
  });
  return box;
}

QWidget* ObjectsStation::makeLine(const rulebook::Field& field) {
  using rulebook::FieldType;
  auto* box = new QLineEdit(this);
  const bool whole = field.type == FieldType::integer, number = whole || field.type == FieldType::number;
  connect(box, &QLineEdit::textEdited, this, [this, id = field.id, box, number, whole] {
    if (!number) return setField(id, s(box->text()));
    bool good = false;
    const double typed = box->text().trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&good);
    if (!good) return;  // not a number yet; leaving the field brings the present value back
    if (whole && typed == std::floor(typed) && std::abs(typed) < 1e15)
      setField(id, static_cast<int64_t>(typed));
    else
      setField(id, typed);
  });
  const auto show = [this, box, id = field.id] {
    const base::Json v = fieldValue(id);
    const QString text = v.is_string()   ? q(v.get<std::string>())
                         : v.is_number() ? q(base::numberText(v.get<double>()))
                                         : QString();
    if (!box->hasFocus() && box->text() != text) box->setText(text);
  };
  connect(box, &QLineEdit::editingFinished, this, [box, show] {
    const QSignalBlocker quiet(box);
    box->clearFocus();
    show();
  });
  refreshers_.push_back(show);
  return box;
}

// The name of a field, marked for as long as it is empty and must not be.
QLabel* ObjectsStation::makeFieldName(const rulebook::Field& field, QWidget* box) {
  const QString title = q(field.title);
  QLabel* name = plainText(title, box);
  if (field.required)
    refreshers_.push_back([this, name, title, id = field.id] {
      const base::Json v = fieldValue(id);
      const bool empty = v.is_null() || (v.is_string() && v.get<std::string>().empty());
      name->setText(empty ? QStringLiteral("◆ ") + title : title);
      setTone(name, empty ? "shows" : "ink");
    });
  return name;
}

// A field: its name, its editor with the unit behind it, and, on demand, what it is for.
QWidget* ObjectsStation::makeField(const rulebook::Field& field) {
  using rulebook::FieldType;
  const QString title = q(field.title);
  QString help = q(field.help);
  if (field.min && field.max)
    help =
        tr("%1 From %2 to %3.").arg(help, q(base::numberText(*field.min)), q(base::numberText(*field.max)));
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  auto* head = new QHBoxLayout;
  head->setSpacing(4);
  QWidget* editor = field.type == FieldType::flag        ? makeFlag(field.id, title)
                    : field.type == FieldType::choice    ? makeChoice(field)
                    : field.type == FieldType::long_text ? makeLongText(field.id)
                                                         : makeLine(field);
  head->addWidget(field.type == FieldType::flag ? editor : makeFieldName(field, box), 1);
  editor->setObjectName(QStringLiteral("field-") + q(field.id));
  editor->setAccessibleName(field.unit.empty() ? title : QStringLiteral("%1 (%2)").arg(title, q(field.unit)));
  editor->setAccessibleDescription(help.trimmed());
  editor->setToolTip(help.trimmed());
  QLabel* said = nullptr;
  if (!help.trimmed().isEmpty()) {
    auto* ask = new QPushButton(QStringLiteral("?"), box);
    ask->setProperty("quiet", true);
    ask->setCheckable(true);
    ask->setObjectName(QStringLiteral("help-") + q(field.id));
    ask->setAccessibleName(tr("What %1 is for").arg(title));
    ask->setFixedSize(24, 24);
    head->addWidget(ask, 0, Qt::AlignTop);
    said = quietText(help.trimmed(), box);
    said->setVisible(false);
    connect(ask, &QPushButton::toggled, said, &QLabel::setVisible);
  }
  column->addLayout(head);
  if (field.type != FieldType::flag) {
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    line->addWidget(editor, 1);
    if (!field.unit.empty()) {
      QLabel* unit = quietText(q(field.unit), box);
      unit->setWordWrap(false);
      line->addWidget(unit);
    }
    column->addLayout(line);
  }
  if (said != nullptr) column->addWidget(said);
  editors_[field.id] = editor;
  return box;
}

void ObjectsStation::addPoint(const std::string& model, const mod::PointDoc& point, const QString& title) {
  points_chapter_->body()->addWidget(plainText(title, this));
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  static const char* kAxes[3] = {"x", "y", "z"};
  for (size_t i = 0; i < 3; ++i) {
    auto* box = new QDoubleSpinBox(this);
    box->setObjectName(QStringLiteral("point-%1-%2").arg(q(point.id), QString::fromLatin1(kAxes[i])));
    if (i == 0) editors_.emplace(point.id, box);
    box->setAccessibleName(tr("%1, %2 in metres").arg(title, QString::fromLatin1(kAxes[i])));
    box->setDecimals(3);
    // Three of them share the column; their own idea of a width is far larger.
    box->setMinimumWidth(56);
    box->setMaximumWidth(120);
    box->setRange(-1000, 1000);
    box->setSingleStep(0.01);
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
    box->setPrefix(QString::fromLatin1(kAxes[i]) + QLatin1Char(' '));
    const auto find = [id = point.id](auto& doc) {
      return std::find_if(doc.points.begin(), doc.points.end(),
                          [&](const mod::PointDoc& p) { return p.id == id; });
    };
    refreshers_.push_back([this, box, model, i, find] {
      const auto doc = session_.state().models.find(model);
      if (doc == session_.state().models.end()) return;
      const auto at = find(doc->second);
      const QSignalBlocker quiet(box);
      if (at != doc->second.points.end() && !box->hasFocus()) box->setValue(at->position_m[i]);
    });
    connect(box, &QDoubleSpinBox::valueChanged, this,
            [this, model, i, find, title, id = point.id](double value) {
              session_.edit(
                  tr("Move %1").arg(title),
                  [&](mod::ModState& state) {
                    mod::ModelDoc& doc = state.models[model];
                    if (const auto at = find(doc); at != doc.points.end()) at->position_m[i] = value;
                  },
                  QStringLiteral("point-%1-%2").arg(q(id)).arg(i));
            });
    row->addWidget(box, 1);
  }
  points_chapter_->body()->addLayout(row);
}

void ObjectsStation::takeIcon() {
  const std::string name = session_.object();
  const auto object = session_.state().objects.find(name);
  const rulebook::Kind* kind =
      object != session_.state().objects.end() ? session_.book().findKind(object->second.kind) : nullptr;
  if (kind == nullptr) return;
  const QImage picture =
      bench_.takePicture(QSize(static_cast<int>(kind->icon_width), static_cast<int>(kind->icon_height)),
                         Bench::PictureFrom::bench_angle, QColor(0xEF, 0xE8, 0xDA));
  if (picture.isNull()) {
    Q_EMIT tell(tr("The bench has nothing to take a picture of."), false);
    return;
  }
  formats::Picture raw{static_cast<uint32_t>(picture.width()), static_cast<uint32_t>(picture.height()), {}};
  raw.pixels.reserve(size_t{raw.width} * raw.height * 4);
  for (int y = 0; y < picture.height(); ++y) {
    const auto* line = reinterpret_cast<const std::byte*>(picture.constScanLine(y));
    raw.pixels.insert(raw.pixels.end(), line, line + size_t{raw.width} * 4);
  }
  auto bytes = std::make_shared<const base::Bytes>(formats::encodePng(raw));
  const std::string path = "icons/" + name + ".png";
  session_.edit(tr("Take the icon"), [&](mod::ModState& state) {
    state.icons[path] = bytes;
    state.objects[name].icon = path;
  });
}

void ObjectsStation::showPlace(const check::FindingPlace& place) {
  if (place.field.rfind("piece-", 0) == 0) {
    pieces_->choose(place.field.substr(6));
    unfoldTo(pieces_);
    area_->ensureWidgetVisible(pieces_, 0, 12);
    return;
  }
  const auto editor = editors_.find(place.field);
  if (editor == editors_.end()) return;
  unfoldTo(editor->second);
  editor->second->setFocus(Qt::OtherFocusReason);
  QTimer::singleShot(0, this, [this, widget = QPointer<QWidget>(editor->second)] {
    if (widget) area_->ensureWidgetVisible(widget, 0, 60);
  });
}

}  // namespace rakugo::app
