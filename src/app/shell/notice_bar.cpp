#include "app/shell/notice_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/widgets/theme.h"

namespace rakugo::app {

NoticeBar::NoticeBar(QWidget* parent) : QFrame(parent) {
  setObjectName(QStringLiteral("notice"));
  setProperty("notice", true);
  row_ = new QHBoxLayout(this);
  row_->setContentsMargins(16, 6, 12, 6);
  row_->setSpacing(8);
  text_ = new QLabel(this);
  text_->setWordWrap(true);
  text_->setTextFormat(Qt::PlainText);
  text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  row_->addWidget(text_, 1);
  hide();
}

void NoticeBar::say(const QString& text, const QString& details, const std::vector<Choice>& choices) {
  text_->setText(text);
  text_->setToolTip(details);
  for (QWidget* button : buttons_) button->deleteLater();
  buttons_.clear();
  for (const Choice& choice : choices) {
    auto* button = new QPushButton(choice.text, this);
    button->setObjectName(QString::fromLatin1(choice.name));
    connect(button, &QPushButton::clicked, this, [this, act = choice.act] {
      hide();
      act();
    });
    row_->addWidget(button);
    buttons_.push_back(button);
  }
  show();
}

}  // namespace rakugo::app
