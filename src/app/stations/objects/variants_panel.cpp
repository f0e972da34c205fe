#include "app/stations/objects/variants_panel.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTimer>
#include <algorithm>
#include <set>

#include "app/widgets/panels.h"
#include "app/widgets/row_list.h"
#include "base/text.h"
#include "mod/following.h"
#include "mod/store.h"
#include "prepare/objects/object_variants.h"

namespace rakugo::app {
namespace {

const QString kOwn = QStringLiteral("own-"), kLike = QStringLiteral("like-"),
              kVariant = QStringLiteral("variant-");

// A value in a word; nothing for what has no short one.
QString shortText(const base::Json& value) {
  if (value.is_null()) return VariantsPanel::tr("none");
  if (value.is_string()) return q(base::presentable(value.get<std::string>(), 24));
  if (value.is_number()) return q(base::numberText(value.get<double>(), 4));
  if (value.is_boolean()) return value.get<bool>() ? VariantsPanel::tr("yes") : VariantsPanel::tr("no");
  return {};
}

}  // namespace

VariantsPanel::VariantsPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  makeFollower();
  column->addWidget(follower_);
  said_ = quietText(QString(), this);
  column->addWidget(said_);
  variants_ = new RowList(QStringLiteral("variants-list"), tr("Variants of the object"), this);
  connect(variants_, &RowList::chosen, this, [this](const QString& row) {
    const std::string name = s(row.mid(kVariant.size()));
    const auto found = session_.state().objects.find(name);
    if (found == session_.state().objects.end()) return;
    const mod::PieceDoc* first = mod::firstModelPiece(found->second);
    // Once the click is over: the list is another's then.
    QTimer::singleShot(0, this, [this, name, model = first != nullptr ? first->model : std::string()] {
      session_.select(model, name);
    });
  });
  column->addWidget(variants_);
  makeAdding();
}

void VariantsPanel::makeFollower() {
  follower_ = new QWidget(this);
  auto* rows = new QVBoxLayout(follower_);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(8);
  follows_ = plainText(QString(), follower_);
  follows_->setObjectName(QStringLiteral("variant-of"));
  rows->addWidget(follows_);
  own_ = new RowList(QStringLiteral("own-list"), tr("What is its own"), follower_);
  connect(own_, &RowList::signAsked, this, [this](const QString&, const QString& sign) {
    const std::string pointer = s(sign.mid(kLike.size()));
    QTimer::singleShot(0, this, [this, pointer] {
      edit(tr("Make it as the design"), [this, pointer](mod::ModState& state) {
        return mod::likeDesign(state, session_.object(), pointer);
      });
    });
  });
  rows->addWidget(own_);
  auto* row = new QHBoxLayout;
  own_model_ = new QPushButton(tr("A model of its own…"), follower_);
  own_model_->setObjectName(QStringLiteral("own-model"));
  own_model_->setProperty("quiet", true);
  own_model_->setToolTip(
      tr("A model that begins as the design's and is then prepared further: another "
         "colour, a part more or less. Its attachment points follow"));
  connect(own_model_, &QPushButton::clicked, this, &VariantsPanel::offerModels);
  row->addWidget(own_model_);
  auto* alone = new QPushButton(tr("Stand alone"), follower_);
  alone->setObjectName(QStringLiteral("stand-alone"));
  alone->setProperty("quiet", true);
  alone->setToolTip(tr("It stays as it is, and follows nothing any more"));
  connect(alone, &QPushButton::clicked, this, [this] {
    edit(tr("Stand alone"),
         [this](mod::ModState& state) { return mod::standAlone(state, session_.object()); });
  });
  row->addWidget(alone);
  row->addStretch();
  rows->addLayout(row);
}

void VariantsPanel::makeAdding() {
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  title_ = new QLineEdit(this);
  title_->setObjectName(QStringLiteral("variant-title"));
  title_->setPlaceholderText(tr("Title of a variant"));
  title_->setAccessibleName(tr("Title of a new variant"));
  row->addWidget(title_, 1);
  size_ = new QDoubleSpinBox(this);
  size_->setObjectName(QStringLiteral("variant-size"));
  size_->setAccessibleName(tr("How large it is, in hundredths of the design"));
  size_->setToolTip(tr("How large it is, of the design"));
  size_->setRange(1, 10000);
  size_->setDecimals(0);
  size_->setValue(100);
  size_->setSuffix(QStringLiteral(" %"));
  row->addWidget(size_);
  add_ = new QPushButton(tr("Add"), this);
  add_->setObjectName(QStringLiteral("add-variant"));
  add_->setAccessibleName(tr("Add a variant"));
  row->addWidget(add_);
  static_cast<QVBoxLayout*>(layout())->addLayout(row);
  connect(title_, &QLineEdit::textChanged, this,
          [this] { add_->setEnabled(!title_->text().trimmed().isEmpty()); });
  connect(title_, &QLineEdit::returnPressed, this, &VariantsPanel::addOne);
  connect(add_, &QPushButton::clicked, this, &VariantsPanel::addOne);
  add_->setEnabled(false);
}

const mod::ObjectDoc* VariantsPanel::object() const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().objects.find(session_.object());
  return found != session_.state().objects.end() ? &found->second : nullptr;
}

QString VariantsPanel::state() const {
  const mod::ObjectDoc* doc = object();
  if (doc == nullptr) return {};
  if (!doc->follows.name.empty()) return tr("follows %1").arg(q(doc->follows.name));
  const size_t count = mod::variantsOf(session_.state(), session_.object()).size();
  return count > 0 ? q(base::countText(count, "variant", "variants")) : QString();
}

void VariantsPanel::refresh() {
  const mod::ObjectDoc* doc = object();
  setEnabled(doc != nullptr);
  follower_->setVisible(doc != nullptr && !doc->follows.name.empty());
  if (doc != nullptr && !doc->follows.name.empty()) listOwn(*doc);
  listVariants();
}

void VariantsPanel::listOwn(const mod::ObjectDoc& doc) {
  const mod::ModState& state = session_.state();
  const std::vector<std::string> differ = mod::differencesFromFollowed(state, doc);
  const bool there = state.objects.contains(doc.follows.name);
  const QString size = doc.follows.scale != 1
                           ? tr(", at %1 % of its size (the bench shows the model in its own)")
                                 .arg(doc.follows.scale * 100, 0, 'g', 4)
                           : QString();
  follows_->setText(
      !there ? tr("It follows %1, which is not there.").arg(q(doc.follows.name))
      : differ.empty()
          ? tr("It is as %1 in all%2. What you change here becomes its own.").arg(q(doc.follows.name), size)
          : tr("It is as %1%2, but for:").arg(q(doc.follows.name), size));
  const rulebook::Kind* kind = session_.book().findKind(doc.kind);
  std::vector<ListRow> rows;
  for (const std::string& pointer : differ) {
    const mod::OwnValue values = mod::valuesAt(state, doc, pointer);
    const bool says =
        std::find(doc.follows.own.begin(), doc.follows.own.end(), pointer) != doc.follows.own.end();
    ListRow row;
    row.id = kOwn + q(pointer);
    row.name = q(prepare::ownText(pointer, kind));
    row.name[0] = row.name[0].toUpper();
    row.amount = shortText(values.here);
    row.said = says ? tr("there %1").arg(shortText(values.there)) : tr("changed by another program");
    row.signs = {{Sign::before, kLike + q(pointer), tr("As %1 has it").arg(q(doc.follows.name))}};
    rows.push_back(std::move(row));
  }
  own_->setVisible(!rows.empty());
  own_->setRows(std::move(rows));
}

void VariantsPanel::listVariants() {
  const mod::ModState& state = session_.state();
  std::vector<ListRow> rows;
  if (object() != nullptr)
    for (const std::string& name : mod::variantsOf(state, session_.object())) {
      const mod::ObjectDoc& doc = state.objects.at(name);
      ListRow row;
      row.id = kVariant + q(name);
      row.name = doc.title.empty() ? q(name) : q(doc.title);
      row.amount = tr("%1 of its own").arg(doc.follows.own.size());
      rows.push_back(std::move(row));
    }
  said_->setText(rows.empty() ? tr("A variant follows this object through every change, and has of its own "
                                   "what you change in it.")
                              : tr("These follow it:"));
  said_->setVisible(object() != nullptr && (object()->follows.name.empty() || !rows.empty()));
  variants_->setVisible(!rows.empty());
  variants_->setRows(std::move(rows));
}

void VariantsPanel::addOne() {
  const std::string title = s(title_->text().trimmed());
  if (title.empty() || object() == nullptr) return;
  const std::string design = session_.object();
  const std::string name = mod::freeName(session_.state().objects, base::slug(title));
  bool added = false;
  edit(tr("Add the variant %1").arg(q(title)), [&](mod::ModState& state) -> base::Status {
    RAKUGO_TRY(prepare::addVariant(state, design, name, title, size_->value() / 100));
    added = true;
    return {};
  });
  if (!added) return;
  title_->clear();
  size_->setValue(100);
}

void VariantsPanel::offerModels() {
  const mod::ObjectDoc* doc = object();
  if (doc == nullptr) return;
  const auto design = session_.state().objects.find(doc->follows.name);
  std::set<std::string> shared;
  for (const mod::PieceDoc& piece : doc->pieces)
    if (piece.isModel() && design != session_.state().objects.end() &&
        std::any_of(design->second.pieces.begin(), design->second.pieces.end(),
                    [&](const mod::PieceDoc& other) { return other.model == piece.model; }))
      shared.insert(piece.model);
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("own-model-menu"));
  for (const std::string& model : shared)
    connect(menu->addAction(tr("In place of %1").arg(q(model))), &QAction::triggered, this, [this, model] {
      std::string made;
      edit(tr("A model of its own"), [&](mod::ModState& state) -> base::Status {
        RAKUGO_ASSIGN(made, prepare::giveOwnModel(state, session_.object(), model));
        return {};
      });
      if (!made.empty() && session_.model() == model) session_.select(made, session_.object());
    });
  if (shared.empty()) menu->addAction(tr("All its models are its own"))->setEnabled(false);
  menu->popup(own_model_->mapToGlobal(QPoint(0, own_model_->height())));
}

void VariantsPanel::edit(const QString& what, const std::function<base::Status(mod::ModState&)>& change) {
  if (object() == nullptr) return;
  mod::ModState next = session_.state();
  if (const base::Status done = change(next); !done) return Q_EMIT tell(q(done.error().text()));
  session_.edit(what, [&](mod::ModState& state) { state = std::move(next); });
}

}  // namespace rakugo::app
