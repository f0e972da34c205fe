#include "standin/log_panel.h"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QLabel>
#include <QListView>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>

namespace rakugo::standin {

void LogModel::add(const LogLine& line) {
  if (lines_.size() >= kMost) {
    beginRemoveRows({}, 0, 0);
    lines_.pop_front();
    endRemoveRows();
  }
  const int row = static_cast<int>(lines_.size());
  beginInsertRows({}, row, row);
  lines_.push_back(line);
  endInsertRows();
}

int LogModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(lines_.size());
}

QVariant LogModel::data(const QModelIndex& index, int role) const {
  if (!checkIndex(index, CheckIndexOption::IndexIsValid)) return {};
  const LogLine& line = lines_[static_cast<size_t>(index.row())];
  const bool error = line.level == "error", warning = line.level == "warning";
  if (role == Qt::DisplayRole)
    return QString::fromUtf8(error ? "◆ " : warning ? "▲ " : "· ") + QString::fromStdString(line.message);
  if (role == Qt::ToolTipRole) {
    QStringList where;
    for (const std::string* part : {&line.file, &line.mod, &line.object, &line.field})
      if (!part->empty()) where << QString::fromStdString(*part);
    return where.join(QStringLiteral(" · "));
  }
  if (role == Qt::ForegroundRole)
    return error ? QColor(255, 150, 120) : warning ? QColor(250, 215, 130) : QColor(235, 235, 225);
  if (role == kLevel) return QString::fromStdString(line.level);
  return {};
}

LogPanel::LogPanel(QWidget* parent) : QFrame(parent) {
  setObjectName(QStringLiteral("game-log"));
  setStyleSheet(
      QStringLiteral("QFrame#game-log { background: rgba(24, 30, 38, 215); } QLabel, QCheckBox { color: "
                     "rgb(235, 235, 225); } QListView { background: transparent; border: none; } "
                     "QPushButton { color: rgb(235, 235, 225); background: rgb(52, 62, 74); border: "
                     "none; padding: 4px 10px; } QPushButton:focus { border: 1px solid white; }"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 10, 10, 10);
  auto* head = new QHBoxLayout;
  head->addWidget(new QLabel(tr("The harbour's log"), this), 1);
  auto* only = new QCheckBox(tr("Complaints only"), this);
  only->setObjectName(QStringLiteral("log-complaints"));
  head->addWidget(only);
  auto* copy = new QPushButton(tr("Copy"), this);
  copy->setObjectName(QStringLiteral("log-copy"));
  head->addWidget(copy);
  column->addLayout(head);
  list_ = new QListView(this);
  list_->setAccessibleName(tr("The harbour's log"));
  list_->setWordWrap(true);
  list_->setSpacing(1);
  list_->setUniformItemSizes(false);
  list_->setResizeMode(QListView::Adjust);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  shown_.setSourceModel(&lines_);
  shown_.setFilterRole(LogModel::kLevel);
  list_->setModel(&shown_);
  column->addWidget(list_);
  for (QWidget* control :
       {static_cast<QWidget*>(only), static_cast<QWidget*>(copy), static_cast<QWidget*>(list_)})
    control->setFocusPolicy(Qt::ClickFocus);  // the arrows steer; Tab goes from thing to thing of the harbour
  connect(only, &QCheckBox::toggled, this, [this](bool on) {
    shown_.setFilterRegularExpression(on ? QStringLiteral("error|warning") : QString());
  });
  connect(copy, &QPushButton::clicked, this, &LogPanel::copy);
  connect(&shown_, &QAbstractItemModel::rowsInserted, this, [this] {
    const QScrollBar* bar = list_->verticalScrollBar();
    if (bar->value() >= bar->maximum() - 4) list_->scrollToBottom();
  });
}

void LogPanel::copy() {
  QStringList text;
  for (int row = 0; row < shown_.rowCount(); ++row) text << shown_.index(row, 0).data().toString();
  QApplication::clipboard()->setText(text.join(QLatin1Char('\n')));
}

}  // namespace rakugo::standin
