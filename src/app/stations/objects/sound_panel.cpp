#include "app/stations/objects/sound_panel.h"

#include <QPointer>
#include <QPushButton>

#include "app/widgets/panels.h"
#include "app/widgets/sound_view.h"
#include "base/text.h"
#include "mod/references.h"
#include "prepare/objects/piece_values.h"
#include "prepare/objects/thing_names.h"

namespace rakugo::app {

SoundPanel::SoundPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  view_ = new QVBoxLayout;
  column->addLayout(view_);
  said_ = plainText(QString(), this);
  said_->setObjectName(QStringLiteral("sound-made"));
  column->addWidget(said_);
  find_ = new QPushButton(tr("Cut it where it joins best"), this);
  find_->setObjectName(QStringLiteral("find-loop"));
  find_->setToolTip(
      tr("Moves From and To by a tenth of a second at most, to where wave and slope are most alike"));
  connect(find_, &QPushButton::clicked, this, &SoundPanel::findLoop);
  column->addWidget(find_, 0, Qt::AlignLeft);
}

void SoundPanel::say(const QString& text) {
  ++asked_;
  clearLayout(view_);
  recording_ = nullptr;
  said_->setText(text);
  find_->setVisible(false);
}

void SoundPanel::show(const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  const prepare::SoundValues says =
      prepare::soundValues(piece, prepare::fieldsOfPiece(session_.book(), object, piece));
  if (says.sounds.empty() || says.sounds.front().empty()) return say(tr("Choose what is heard."));
  const auto named = mod::namedThing(says.sounds.front());
  const QString title = q(prepare::thingTitle(session_.book(), session_.state(), says.sounds.front()));
  if (!named) return say(tr("%1 is the game's own; one hears it there.").arg(title));
  const auto& x = session_.examination();
  const auto state = x ? x->context.sources.find(named->name) : decltype(x->context.sources.find({}))();
  if (!x || state == x->context.sources.end() || !state->second.sound)
    return say(tr("%1 is no sound that can be read.").arg(title));
  const prepare::SoundMaking how = prepare::soundMaking(says, session_.book().sounds);
  if (recording_ == state->second.sound && how == how_) return;
  make(state->second.sound, how);
}

void SoundPanel::make(std::shared_ptr<const formats::Sound> recording, const prepare::SoundMaking& how) {
  recording_ = std::move(recording);
  how_ = how;
  find_->setVisible(how.loop);
  said_->setText(tr("working it out…"));
  const QPointer<SoundPanel> here(this);
  session_.background().post(
      [here, number = ++asked_, of = recording_, how](base::Progress&) -> Background::Finish {
        auto made = prepare::makeSound(*of, how);
        auto kept = made ? std::make_shared<const prepare::MadeSound>(std::move(made).value()) : nullptr;
        return [here, number, kept, loop = how.loop] {
          if (here != nullptr && here->asked_ == number) here->showMade(kept, loop);
        };
      });
}

void SoundPanel::showMade(const std::shared_ptr<const prepare::MadeSound>& made, bool loop) {
  clearLayout(view_);
  if (made == nullptr) return said_->setText(tr("Nothing can be made of it."));
  const prepare::SoundReport& r = made->report;
  view_->addWidget(new SoundView(std::shared_ptr<const formats::Sound>(made, &made->sound), this, loop));
  QString text = tr("%1 s").arg(q(base::numberText(r.seconds, 2)));
  if (!r.loudness_lufs)
    text += tr(", silent.");
  else if (r.held_back)
    text += tr(", %1 LUFS, raised by %2 dB and no further: its loudest moments would be cut off.")
                .arg(q(base::numberText(*r.loudness_lufs, 1)), q(base::numberText(r.raised_db, 1)));
  else
    text += tr(", %1 LUFS, brought to %2.")
                .arg(q(base::numberText(*r.loudness_lufs, 1)),
                     q(base::numberText(*r.loudness_lufs + r.raised_db, 1)));
  if (loop)
    text +=
        QLatin1Char(' ') + (r.clicks ? tr("One hears a click where it begins again: its end is %1 of full "
                                          "scale away from its beginning.")
                                           .arg(q(base::numberText(r.jump, 3)))
                                     : tr("It begins again without a click."));
  said_->setText(text);
}

void SoundPanel::findLoop() {
  if (!recording_) return;
  const QPointer<SoundPanel> here(this);
  find_->setEnabled(false);
  session_.background().post([here, of = recording_, how = how_](base::Progress&) -> Background::Finish {
    const prepare::SoundMaking better = prepare::betterLoop(*of, how);
    return [here, of, better] {
      if (here == nullptr) return;
      here->find_->setEnabled(true);
      // Another sound may be shown by now.
      if (here->recording_ == of) Q_EMIT here->betterLoopFound(better.from_s, better.to_s);
    };
  });
}

}  // namespace rakugo::app
