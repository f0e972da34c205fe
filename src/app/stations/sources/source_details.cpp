#include "app/stations/sources/source_details.h"

#include <QApplication>
#include <QCheckBox>
#include <QFileDialog>

#include "app/stations/sources/source_view.h"
#include "app/widgets/panels.h"
#include "app/widgets/sound_view.h"
#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/pictures.h"

namespace rakugo::app {
namespace {

constexpr size_t kMostSentences = 8, kMostNotes = 6, kMostOffers = 3;

std::string refusal(const std::string& model, const prepare::Misfit& m) {
  return model + "\n" + m.step + "\n" + m.missing;
}

QString likenessText(prepare::Likeness likeness) {
  switch (likeness) {
    case prepare::Likeness::same_name:
      return SourceDetails::tr("the same name");
    case prepare::Likeness::letter_case:
      return SourceDetails::tr("other letter case");
    case prepare::Likeness::other_ending:
      return SourceDetails::tr("another picture format");
    default:
      return SourceDetails::tr("a name like it");
  }
}

}  // namespace

SourceDetails::SourceDetails(Session& session, SourceWork& work, QWidget* parent)
    : QWidget(parent), session_(session), work_(work), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(5);
}

void SourceDetails::show(const std::string& source) {
  if (source != source_) refused_.clear();
  source_ = source;
  if (!media_.empty() && media_ == mediaOf(source)) return;
  media_ = mediaOf(source);
  // Whoever works with keys goes on where they were.
  const QWidget* had = QApplication::focusWidget();
  const QString focused = had != nullptr && isAncestorOf(had) ? had->objectName() : QString();
  clearLayout(column_);
  fill(source);
  if (focused.isEmpty()) return;
  for (QWidget* again : findChildren<QWidget*>(focused))
    if (!again->isHidden()) again->setFocus();  // what was cleared is hidden, and not gone yet
}

std::string SourceDetails::mediaOf(const std::string& source) const {
  if (!session_.isOpen() || work_.waiting(source) != nullptr) return {};
  const auto& x = session_.examination();
  const auto doc = session_.state().sources.find(source);
  if (!x || doc == session_.state().sources.end()) return {};
  const auto state = x->context.sources.find(source);
  if (state == x->context.sources.end() || (!state->second.sound && !state->second.picture)) return {};
  return session_.folder().string() + "/" + source + "/" + doc->second.file;
}

void SourceDetails::fill(const std::string& source) {
  if (!session_.isOpen()) return;
  const auto doc = session_.state().sources.find(source);
  if (doc == session_.state().sources.end()) return;
  QLabel* title = heading(q(doc->second.file.substr(doc->second.file.rfind('/') + 1)), this);
  title->setObjectName(QStringLiteral("source-title"));
  title->setWordWrap(true);
  column_->addWidget(title);
  if (const WaitingVersion* waiting = work_.waiting(source)) showWaiting(*waiting);
  const auto& x = session_.examination();
  if (!x) return;
  const auto state = x->context.sources.find(source);
  if (state == x->context.sources.end()) return;
  if (state->second.error) {
    column_->addWidget(plainText(q(state->second.error->text()), this));
    if (!state->second.error->cure.empty()) column_->addWidget(quietText(q(state->second.error->cure), this));
    return;
  }
  const auto file = session_.folder() / "sources" / source / doc->second.file;
  if (const auto& sound = state->second.sound) {
    column_->addWidget(new SoundView(sound, this));
    fact(tr("Format"), q(sound->info.format));
    fact(tr("Length"), tr("%1 s").arg(sound->info.seconds(), 0, 'f', 2));
    fact(tr("Rate"), tr("%1 Hz, %2")
                         .arg(sound->info.rate_hz)
                         .arg(q(base::countText(sound->info.channels, "channel", "channels"))));
    fact(tr("Peak"), tr("%1 of full scale").arg(static_cast<double>(sound->info.peak), 0, 'f', 2));
    return;
  }
  if (const auto& picture = state->second.picture) {
    column_->addWidget(new PictureView(file, session_.background(), this));
    fact(tr("Format"), q(picture->format));
    fact(tr("Size"), tr("%1 × %2 pixels").arg(picture->width).arg(picture->height));
    return;
  }
  if (!state->second.read) return;
  const check::ModelState* prepared = nullptr;
  for (const auto& [name, one] : session_.state().models) {
    const auto found = x->context.models.find(name);
    if (one.source != source || found == x->context.models.end() || !found->second.prepared.model) continue;
    if (prepared == nullptr || name == session_.model()) prepared = &found->second;
  }
  showModel(*state->second.read, prepared);
}

void SourceDetails::showWaiting(const WaitingVersion& waiting) {
  QLabel* title =
      heading(waiting.version ? tr("A newer version waits") : tr("The newer version cannot be read"), this);
  title->setObjectName(QStringLiteral("newer-title"));
  setTone(title, waiting.version ? "click" : "stops");
  column_->addWidget(title);
  column_->addWidget(quietText(shownPath(waiting.file), this));
  if (!waiting.version) {
    column_->addWidget(plainText(waiting.problem, this));
    column_->addWidget(quietText(tr("What is in the mod stays as it is."), this));
  } else {
    const std::vector<std::string> sentences = waiting.version->difference.sentences();
    QStringList lines;
    for (size_t i = 0; i < std::min(sentences.size(), kMostSentences); ++i) lines << q(sentences[i]);
    if (sentences.size() > kMostSentences)
      lines << tr("and %1 more differences").arg(sentences.size() - kMostSentences);
    if (sentences.empty())
      lines << (waiting.version->incoming.read ? tr("The same model; only the file differs.")
                                               : tr("Another content."));
    QLabel* said = plainText(lines.join(QLatin1Char('\n')), this);
    said->setObjectName(QStringLiteral("newer-differences"));
    column_->addWidget(said);
    showMisfits(*waiting.version);
    button(QStringLiteral("take-newer"), tr("Take the newer version"), [this, version = waiting.version] {
      std::map<std::string, std::vector<prepare::Misfit>> adopted;
      for (const auto& [model, misfits] : version->misfits)
        for (const prepare::Misfit& m : misfits)
          if (!m.proposal.empty() && refused_.count(refusal(model, m)) == 0) adopted[model].push_back(m);
      work_.takeWaiting(source_, adopted);
    });
  }
  button(QStringLiteral("leave-newer"), tr("Keep the old one"), [this] { work_.leaveWaiting(source_); });
  column_->addWidget(hairline(this));
}

void SourceDetails::showMisfits(const prepare::NewerVersion& newer) {
  if (newer.misfits.empty()) {
    if (newer.incoming.read)
      column_->addWidget(quietText(tr("Every step of the preparation fits it."), this));
    return;
  }
  column_->addWidget(heading(tr("What no longer fits"), this));
  int n = 0;
  for (const auto& [model, misfits] : newer.misfits)
    for (const prepare::Misfit& m : misfits) {
      QLabel* said =
          plainText(tr("“%1” names %2, which is not there any more.").arg(q(m.sentence), q(m.missing)), this);
      said->setObjectName(QStringLiteral("misfit-%1").arg(n));
      column_->addWidget(said);
      if (m.proposal.empty()) {
        column_->addWidget(quietText(tr("Nothing is like it; the step will say so."), this));
      } else {
        auto* follow = new QCheckBox(tr("Read %1 instead").arg(q(m.proposal)), this);
        follow->setObjectName(QStringLiteral("follow-%1").arg(n));
        follow->setToolTip(
            tr("By shape and place they are alike by %1 %.").arg(static_cast<int>(m.likeness * 100)));
        const std::string key = refusal(model, m);
        follow->setChecked(refused_.count(key) == 0);
        connect(follow, &QCheckBox::toggled, this, [this, key](bool on) {
          if (on)
            refused_.erase(key);
          else
            refused_.insert(key);
        });
        column_->addWidget(follow);
      }
      ++n;
    }
}

void SourceDetails::showModel(const formats::ReadModel& read, const check::ModelState* prepared) {
  const scene::Model& shown = prepared != nullptr ? *prepared->prepared.model : read.model;
  showMissing(shown);
  const scene::Counts counts = scene::countsOf(read.model);
  fact(tr("Format"), q(read.format + " " + read.version));
  fact(tr("Inside"), q(base::countText(counts.parts, "part", "parts") + ", " +
                       base::countText(counts.triangles, "triangle", "triangles") + ", " +
                       base::countText(counts.vertices, "vertex", "vertices")));
  showSpace(read, prepared);
  fact(tr("Bones"), counts.bones == 0 ? tr("none") : QString::number(counts.bones));
  std::set<std::string> morphs;
  for (const auto& mesh : read.model.meshes)
    morphs.insert(mesh->morph_names.begin(), mesh->morph_names.end());
  if (!morphs.empty())
    fact(tr("Morph targets"), q(base::listText(std::vector<std::string>(morphs.begin(), morphs.end()), 6)));
  if (read.model.animations.empty()) {
    fact(tr("Animations"), tr("none"));
  } else {
    std::vector<std::string> names;
    for (const scene::Animation& a : read.model.animations)
      names.push_back(a.name.empty() ? "unnamed" : a.name);
    fact(tr("Animations"), q(base::listText(names, 6)));
  }
  if (read.cameras + read.lights > 0)
    fact(tr("Beside the model"), q(base::countText(read.cameras, "camera", "cameras") + ", " +
                                   base::countText(read.lights, "light", "lights")));
  if (!read.copyright.empty()) fact(tr("The file says"), q(read.copyright));
  showMaterials(shown);
  showNotes(read);
}

void SourceDetails::showSpace(const formats::ReadModel& read, const check::ModelState* prepared) {
  const glm::vec3 size = formats::boundsWithOthers(read).size();
  fact(tr("Lengths as written"),
       tr("%1 × %2 × %3 (x, y, z)")
           .arg(q(base::lengthText(size.x)), q(base::lengthText(size.y)), q(base::lengthText(size.z))));
  fact(tr("Axes as written"),
       tr("%1 up, %2 forward")
           .arg(q(geometry::axisName(read.model.frame.up)), q(geometry::axisName(read.model.frame.forward))));
  if (prepared == nullptr) return;
  propose("propose-unit", tr("Lengths are"), prepared->unit);
  propose("propose-axes", tr("It stands with"), prepared->axes);
}

void SourceDetails::showMissing(const scene::Model& model) {
  std::set<std::string> told;
  for (const scene::Image& image : model.images) {
    if (image.bytes || image.uri.empty() || !told.insert(image.uri).second) continue;
    QLabel* said = plainText(tr("The picture %1 is missing.").arg(q(image.uri)), this);
    said->setObjectName(QStringLiteral("missing-%1").arg(q(image.uri)));
    setTone(said, "stops");
    column_->addWidget(said);
    const auto& found = work_.found(source_, image.uri);
    for (size_t i = 0; i < std::min(found.size(), kMostOffers); ++i) {
      QPushButton* take = button(
          QStringLiteral("take-picture-%1-%2").arg(q(image.uri)).arg(i),
          tr("Take %1").arg(q(std::filesystem::path(found[i].shown).filename().string())),
          [this, wanted = image.uri, from = found[i].from] { work_.takePicture(source_, wanted, from); });
      take->setToolTip(q(found[i].shown));
      column_->addWidget(
          quietText(QStringLiteral("%1 · %2").arg(q(found[i].shown), likenessText(found[i].likeness)), this));
    }
    if (found.empty())
      column_->addWidget(quietText(tr("Nothing like it lies where the model came from."), this));
    button(QStringLiteral("choose-picture-%1").arg(q(image.uri)), tr("Choose a picture…"),
           [this, wanted = image.uri] { askPicture(wanted); });
  }
}

void SourceDetails::askPicture(const std::string& wanted) {
  QStringList endings;
  for (const std::string& ending : formats::pictureEndings()) endings << QStringLiteral("*.") + q(ending);
  const auto from = work_.originOf(source_).parent_path();
  const QString file =
      QFileDialog::getOpenFileName(this, tr("A picture for %1").arg(q(wanted)), q(from.string()),
                                   tr("Pictures (%1)").arg(endings.join(QLatin1Char(' '))));
  if (!file.isEmpty()) work_.takePicture(source_, wanted, {s(file), {}});
}

void SourceDetails::showMaterials(const scene::Model& model) {
  if (model.materials.empty()) return;
  column_->addSpacing(6);
  column_->addWidget(heading(tr("Materials and pictures"), this));
  for (const scene::Material& m : model.materials) {
    QString text = QStringLiteral("<b>%1</b>").arg(escaped(m.name));
    if (!m.role.empty())
      text += QStringLiteral(" <span style='color:%1'>· %2</span>").arg(theme().good.name(), escaped(m.role));
    bool any = false;
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = m.*slot.use;
      if (!use.image.valid()) continue;
      any = true;
      const scene::Image& image = model.images[use.image.value()];
      const QString name = image.uri.empty() ? tr("embedded") : escaped(image.uri);
      text += image.bytes ? QStringLiteral("<br><span style='color:%1'>%2: %3</span>")
                                .arg(theme().quiet.name(), escaped(base::phrase(slot.name)), name)
                          : QStringLiteral("<br><span style='color:%1'>◆ %2</span>")
                                .arg(theme().stops.name(),
                                     tr("%1: %2 is missing").arg(escaped(base::phrase(slot.name)), name));
    }
    if (!any)
      text += QStringLiteral("<br><span style='color:%1'>%2</span>")
                  .arg(theme().quiet.name(), tr("plain colour"));
    auto* label = new QLabel(text, this);
    label->setWordWrap(true);
    column_->addWidget(label);
  }
}

void SourceDetails::showNotes(const formats::ReadModel& read) {
  if (read.notes.empty()) return;
  column_->addSpacing(6);
  column_->addWidget(heading(tr("What could not come, or is odd"), this));
  for (size_t i = 0; i < std::min(read.notes.size(), kMostNotes); ++i)
    column_->addWidget(quietText(q(read.notes[i].message), this));
  if (read.notes.size() > kMostNotes)
    column_->addWidget(quietText(tr("and %1 more").arg(read.notes.size() - kMostNotes), this));
}

void SourceDetails::fact(const QString& what, const QString& value) {
  auto* label = new QLabel(QStringLiteral("<span style='color:%1'>%2</span> &nbsp;%3")
                               .arg(theme().quiet.name(), what.toHtmlEscaped(), escaped(s(value))),
                           this);
  label->setWordWrap(true);
  column_->addWidget(label);
}

QPushButton* SourceDetails::button(const QString& name, const QString& text,
                                   const std::function<void()>& act) {
  auto* made = new QPushButton(text, this);
  made->setObjectName(name);
  connect(made, &QPushButton::clicked, this, act);
  column_->addWidget(made);
  return made;
}

void SourceDetails::propose(const char* id, const QString& what,
                            const std::optional<check::Proposal>& proposal) {
  if (!proposal) return;
  const QString sure = q(base::phrase(check::confidenceName(proposal->confidence)));
  auto* title = new QLabel(
      QStringLiteral("<span style='color:%1'>%2</span> &nbsp;<b>%3</b> <span style='color:%1'>· %4</span>")
          .arg(theme().quiet.name(), what.toHtmlEscaped(), escaped(proposal->title), sure.toHtmlEscaped()),
      this);
  title->setObjectName(QString::fromLatin1(id) + QStringLiteral("-title"));
  title->setWordWrap(true);
  column_->addWidget(title);
  const auto say = [&](const QString& before, const std::vector<std::string>& reasons) {
    if (reasons.empty()) return;
    QStringList all;
    for (const std::string& r : reasons) all << q(r);
    column_->addWidget(quietText(before.arg(all.join(QStringLiteral("; "))), this));
  };
  say(tr("For: %1."), proposal->reasons);
  say(tr("Against: %1."), proposal->against);
  if (proposal->reasons.empty())
    column_->addWidget(quietText(tr("Nothing speaks for it or against it."), this));
  if (proposal->taken) return;
  button(QString::fromLatin1(id), q(proposal->mend.label),
         [this, mend = proposal->mend] { session_.edit(q(mend.label), mend.apply); });
}

}  // namespace rakugo::app
