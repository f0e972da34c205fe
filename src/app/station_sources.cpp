#include <QLineEdit>

#include "app/panels.h"
#include "app/stations.h"
#include "base/text.h"

namespace rakugo::app {

StationPanel::StationPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 0, 0, 0);
  area_ = scrollColumn(column_, this);
  layout->addWidget(area_);
}

SourcesStation::SourcesStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  auto* add = new QPushButton(tr("Add a model…"), this);
  add->setObjectName(QStringLiteral("add-model"));
  connect(add, &QPushButton::clicked, this, &StationPanel::addModelAsked);
  column_->addWidget(add);
  column_->addWidget(quietText(tr("Or drop one on the window: glTF, COLLADA, OBJ, PLY or STL, or an archive that "
                                  "holds one. It is copied in with its pictures; "
                                  "the original stays untouched."),
                               this));
  column_->addWidget(hairline(this));
  facts_ = new QVBoxLayout;
  facts_->setSpacing(5);
  column_->addLayout(facts_);
  credit_ = new QWidget(this);
  auto* form = new QVBoxLayout(credit_);
  form->setContentsMargins(0, 8, 0, 0);
  form->setSpacing(4);
  form->addWidget(hairline(credit_));
  form->addWidget(heading(tr("Where it comes from"), credit_));
  const auto field = [&](const char* id, const QString& title, std::string mod::SourceDoc::*member) {
    form->addWidget(quietText(title, credit_));
    auto* line = new QLineEdit(credit_);
    line->setObjectName(QStringLiteral("credit-") + QString::fromLatin1(id));
    line->setAccessibleName(title);
    form->addWidget(line);
    credit_fields_[id] = line;
    connect(line, &QLineEdit::editingFinished, this, [this, line, member, title] {
      const auto model = session_.state().models.find(session_.model());
      if (model == session_.state().models.end()) return;
      const auto source = session_.state().sources.find(model->second.source);
      if (source == session_.state().sources.end() || source->second.*member == s(line->text())) return;
      session_.edit(tr("Change %1").arg(title.toLower()),
                    [&, name = source->first, text = s(line->text())](mod::ModState& state) {
                      state.sources[name].*member = text;
                    });
    });
  };
  field("author", tr("Author"), &mod::SourceDoc::author);
  field("licence", tr("Licence"), &mod::SourceDoc::licence);
  field("address", tr("Address"), &mod::SourceDoc::address);
  column_->addWidget(credit_);
  column_->addStretch();
}

void SourcesStation::refresh() {
  clearLayout(facts_);
  credit_->setVisible(false);
  if (!session_.isOpen()) return;
  const auto model = session_.state().models.find(session_.model());
  if (model == session_.state().models.end()) {
    facts_->addWidget(plainText(tr("The mod holds no model yet."), this));
    return;
  }
  const auto source = session_.state().sources.find(model->second.source);
  if (source == session_.state().sources.end()) return;
  credit_->setVisible(true);
  const auto set = [&](const char* id, const std::string& text) {
    if (QLineEdit* line = credit_fields_[id]; !line->hasFocus() && line->text() != q(text))
      line->setText(q(text));
  };
  set("author", source->second.author);
  set("licence", source->second.licence);
  set("address", source->second.address);
  facts_->addWidget(heading(q(source->second.file), this));
  const auto& x = session_.examination();
  if (!x) return;
  const auto state = x->context.sources.find(source->first);
  if (state == x->context.sources.end()) return;
  if (state->second.error) {
    facts_->addWidget(plainText(q(state->second.error->text()), this));
    return;
  }
  const formats::ReadModel& read = *state->second.read;
  const scene::Counts counts = scene::countsOf(read.model);
  const glm::vec3 size = scene::boundsOf(read.model).size();
  const auto fact = [&](const QString& what, const QString& value) {
    auto* label = new QLabel(QStringLiteral("<span style='color:%1'>%2</span> &nbsp;%3")
                                 .arg(theme().quiet.name(), what.toHtmlEscaped(), value.toHtmlEscaped()),
                             this);
    label->setWordWrap(true);
    facts_->addWidget(label);
  };
  fact(tr("Format"), q(read.format + " " + read.version));
  fact(tr("Inside"), q(base::countText(counts.parts, "part", "parts") + ", " +
                       base::countText(counts.triangles, "triangle", "triangles") + ", " +
                       base::countText(counts.vertices, "vertex", "vertices")));
  fact(tr("Lengths as written"),
       q(base::lengthText(size.x) + " × " + base::lengthText(size.y) + " × " + base::lengthText(size.z)) +
           tr(" (x, y, z)"));
  fact(tr("Axes as written"),
       tr("%1 up, %2 forward")
           .arg(q(geometry::axisName(read.model.frame.up)), q(geometry::axisName(read.model.frame.forward))));
  if (const check::ModelState* known = session_.prepared(); known != nullptr) {
    propose("propose-unit", tr("Lengths are"), known->unit);
    propose("propose-axes", tr("It stands with"), known->axes);
  }
  fact(tr("Bones"), counts.bones == 0 ? tr("none") : QString::number(counts.bones));
  fact(tr("Animations"),
       read.model.animations.empty() ? tr("none") : QString::number(read.model.animations.size()));
  if (read.cameras + read.lights > 0)
    fact(tr("Left behind"), q(base::countText(read.cameras, "camera", "cameras") + ", " +
                              base::countText(read.lights, "light", "lights")));
  facts_->addSpacing(6);
  facts_->addWidget(heading(tr("Materials and pictures"), this));
  const check::ModelState* prepared = session_.prepared();
  const scene::Model& shown = prepared != nullptr ? *prepared->prepared.model : read.model;
  for (const scene::Material& m : shown.materials) {
    QString text = QStringLiteral("<b>%1</b>").arg(escaped(m.name));
    if (!m.role.empty())
      text += QStringLiteral(" <span style='color:%1'>· %2</span>").arg(theme().good.name(), escaped(m.role));
    bool any = false;
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = m.*slot.use;
      if (!use.image.valid()) continue;
      any = true;
      const scene::Image& image = shown.images[use.image.value()];
      const QString name = escaped(image.uri.empty() ? "embedded" : image.uri);
      text += image.bytes ? QStringLiteral("<br><span style='color:%1'>%2: %3</span>")
                                .arg(theme().quiet.name(), escaped(slot.name), name)
                          : QStringLiteral("<br><span style='color:%1'>◆ %2: %3 is missing</span>")
                                .arg(theme().stops.name(), escaped(slot.name), name);
    }
    if (!any)
      text += QStringLiteral("<br><span style='color:%1'>plain colour</span>").arg(theme().quiet.name());
    auto* label = new QLabel(text, this);
    label->setWordWrap(true);
    facts_->addWidget(label);
  }
  for (const base::Note& n : read.notes) facts_->addWidget(quietText(tr("Note: %1").arg(q(n.message)), this));
}

void SourcesStation::propose(const char* id, const QString& what, const std::optional<check::Proposal>& proposal) {
  if (!proposal) return;
  const QString sure = QString::fromLatin1(check::confidenceName(proposal->confidence));
  auto* title = new QLabel(QStringLiteral("<span style='color:%1'>%2</span> &nbsp;<b>%3</b> <span style='color:%1'>· %4</span>")
                               .arg(theme().quiet.name(), what.toHtmlEscaped(), escaped(proposal->title), sure.toHtmlEscaped()),
                           this);
  title->setObjectName(QString::fromLatin1(id) + QStringLiteral("-title"));
  title->setWordWrap(true);
  facts_->addWidget(title);
  const auto say = [&](const QString& before, const std::vector<std::string>& reasons) {
    if (reasons.empty()) return;
    QStringList all;
    for (const std::string& r : reasons) all << q(r);
    facts_->addWidget(quietText(before.arg(all.join(QStringLiteral("; "))), this));
  };
  say(tr("For: %1."), proposal->reasons);
  say(tr("Against: %1."), proposal->against);
  if (proposal->reasons.empty()) facts_->addWidget(quietText(tr("Nothing speaks for it or against it."), this));
  if (proposal->taken) return;
  auto* take = new QPushButton(q(proposal->mend.label), this);
  take->setObjectName(QString::fromLatin1(id));
  connect(take, &QPushButton::clicked, this,
          [this, mend = proposal->mend] { session_.edit(q(mend.label), mend.apply); });
  facts_->addWidget(take);
}

}  // namespace rakugo::app
