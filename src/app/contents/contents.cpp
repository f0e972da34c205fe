#include "app/contents/contents.h"

#include <QAbstractButton>
#include <QPainter>
#include <QTimer>
#include <algorithm>

#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

// One thing of the mod.
class ThingRow : public QAbstractButton {
 public:
  ThingRow(const QString& name, const QString& what, QVector<QImage> pictures, int state, bool chosen,
           QWidget* parent)
      : QAbstractButton(parent), what_(what), pictures_(std::move(pictures)), state_(state), chosen_(chosen) {
    turn_.setInterval(120);
    connect(&turn_, &QTimer::timeout, this, [this] {
      ++shown_;
      update();
    });
    setText(name);
    setAccessibleName(name);
    setAccessibleDescription(what);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedHeight(52);
    setToolTip(name + QStringLiteral("\n") + what);
  }
  void setPictures(QVector<QImage> pictures) {
    pictures_ = std::move(pictures);
    update();
  }

 protected:
  // A model turns while it is looked at.
  void enterEvent(QEnterEvent* event) override {
    if (pictures_.size() > 1 && !turn_.isActive()) turn_.start();
    QAbstractButton::enterEvent(event);
  }
  void leaveEvent(QEvent* event) override {
    turn_.stop();
    shown_ = 0;
    QAbstractButton::leaveEvent(event);
  }

  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    if (chosen_ || underMouse()) p.fillRect(rect(), t.wash);
    if (chosen_) p.fillRect(0, 0, 3, height(), t.click);
    const QRect frame(14, 6, 40, 40);
    p.setPen(t.hair);
    p.setBrush(t.sheet);
    p.drawRect(frame);
    if (!pictures_.isEmpty() && !pictures_.front().isNull()) {
      p.drawImage(frame.adjusted(1, 1, 0, 0), pictures_[shown_ % pictures_.size()]);
    } else if (const int dot = text().lastIndexOf(QLatin1Char('.')); dot > 0) {
      p.setFont(typeface(11));
      p.setPen(t.quiet);
      p.drawText(frame, Qt::AlignCenter, text().mid(dot + 1, 4));
    }
    p.setFont(typeface(13, chosen_));
    p.setPen(t.ink);
    p.drawText(QRect(62, 7, width() - 84, 19), Qt::AlignVCenter,
               p.fontMetrics().elidedText(text(), Qt::ElideRight, width() - 84));
    p.setFont(typeface(11));
    p.setPen(t.quiet);
    p.drawText(QRect(62, 26, width() - 70, 18), Qt::AlignVCenter,
               p.fontMetrics().elidedText(what_, Qt::ElideRight, width() - 70));
    if (state_ >= 0 && state_ < 3)
      drawSeverity(p, {width() - 14.0, 16.5}, 10, static_cast<check::Severity>(state_));
    if (state_ == 3) drawGood(p, {width() - 14.0, 16.5}, 11);
    if (hasFocus()) {
      p.setPen(QPen(t.click, 2));
      p.setBrush(Qt::NoBrush);
      p.drawRect(rect().adjusted(1, 1, -2, -2));
    }
  }

 private:
  QString what_;
  QVector<QImage> pictures_;
  QTimer turn_;
  qsizetype shown_ = 0;
  int state_;  // -1 unknown, 0..2 worst severity, 3 good
  bool chosen_;
};

}  // namespace

Contents::Contents(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 1, 0);
  layout->addWidget(scrollColumn(column_, this));
  column_->setContentsMargins(0, 8, 0, 8);
  column_->setSpacing(0);
  connect(&session_, &Session::opened, this, [this] {
    // Another mod's things may have the same names.
    pictures_.clear();
    source_pictures_.clear();
  });
}

void Contents::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setPen(theme().hair);
  p.drawLine(width() - 1, 0, width() - 1, height());
}

void Contents::setPictures(const std::string& model, QVector<QImage> round) {
  pictures_[model] = std::move(round);
  showPictures(QStringLiteral("model-") + q(model), pictures_[model]);
}

void Contents::setSourcePictures(const std::string& source, QVector<QImage> round) {
  source_pictures_[source] = std::move(round);
  showPictures(QStringLiteral("source-") + q(source), source_pictures_[source]);
  if (!session_.isOpen()) return;
  for (const auto& [model, doc] : session_.state().models)
    if (doc.source == source && pictures_.count(model) == 0)
      showPictures(QStringLiteral("model-") + q(model), source_pictures_[source]);
}

void Contents::showPictures(const QString& row, const QVector<QImage>& pictures) {
  // One row alone: the others need not be made anew for a picture.
  if (auto* found = dynamic_cast<ThingRow*>(findChild<QAbstractButton*>(row))) found->setPictures(pictures);
}

void Contents::refresh() {
  // The row that has the keyboard keeps it over a rebuild.
  QString focused;
  for (const QAbstractButton* row : findChildren<QAbstractButton*>())
    if (row->hasFocus()) focused = row->objectName();
  clearLayout(column_);
  if (!session_.isOpen()) return;
  const auto& x = session_.examination();
  const mod::ModState& state = session_.state();
  const auto worst = [&](const auto& about) {
    if (!x) return -1;
    int out = 3;
    for (const check::Finding& f : x->findings)
      if (!f.set_aside && about(f.place)) out = std::min(out, static_cast<int>(f.severity));
    return out;
  };
  // What a save would write is marked in words.
  const std::vector<std::string> unsaved = mod::changedPaths(state, *session_.history().saved());
  const auto marked = [&](const QString& what, const std::string& path) {
    return std::binary_search(unsaved.begin(), unsaved.end(), path) ? tr("%1 · unsaved").arg(what) : what;
  };
  const auto section = [&](const QString& text) {
    QLabel* label = quietText(text, this);
    label->setContentsMargins(14, 8, 8, 4);
    column_->addWidget(label);
  };
  const auto row = [&](const QString& id, const QString& name, const QString& what,
                       const QVector<QImage>& pictures, int mark, bool chosen,
                       const std::function<void()>& act) {
    auto* made = new ThingRow(name, what, pictures, mark, chosen, this);
    made->setObjectName(id);
    connect(made, &QAbstractButton::clicked, this, act);
    column_->addWidget(made);
    if (id == focused) made->setFocus();
  };
  section(tr("OBJECTS"));
  for (const auto& [name, doc] : state.objects) {
    const rulebook::Kind* kind = session_.book().findKind(doc.kind);
    const auto icon = state.icons.find(doc.icon);
    QImage picture;
    if (icon != state.icons.end()) {
      picture.loadFromData(reinterpret_cast<const uchar*>(icon->second->data()),
                           static_cast<int>(icon->second->size()));
      picture = picture.scaled(78, 78, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    }
    row(QStringLiteral("object-") + q(name), doc.title.empty() ? q(name) : q(doc.title),
        marked(kind != nullptr ? q(kind->title) : q(doc.kind), "objects/" + name + ".object.json"), {picture},
        worst([&, n = name](const check::FindingPlace& p) { return p.object == n; }),
        session_.object() == name, [this, n = name] {
          session_.selectObject(n);
          Q_EMIT objectChosen();
        });
  }
  section(tr("MODELS"));
  for (const auto& [name, doc] : state.models) {
    QString what = tr("no steps yet");
    if (!doc.steps.empty()) what = q(base::countText(doc.steps.size(), "step", "steps"));
    row(QStringLiteral("model-") + q(name), q(name), marked(what, "models/" + name + ".model.json"),
        pictures_.count(name) != 0 ? pictures_[name] : source_pictures_[doc.source],
        worst([&, n = name](const check::FindingPlace& p) { return p.model == n; }), session_.model() == name,
        [this, n = name] {
          session_.selectModel(n);
          Q_EMIT modelChosen();
        });
  }
  section(tr("SOURCES"));
  for (const auto& [name, doc] : state.sources)
    row(QStringLiteral("source-") + q(name), q(doc.file.substr(doc.file.rfind('/') + 1)),
        marked(q(base::countText(doc.files.size(), "file", "files")), "sources/" + name + "/source.json"),
        source_pictures_[name], worst([&, n = name](const check::FindingPlace& p) { return p.source == n; }),
        false, [this, n = name] { Q_EMIT sourceChosen(q(n)); });
  column_->addStretch();
}

}  // namespace rakugo::app
