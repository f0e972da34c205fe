#include "app/stations/bundle/package_view.h"

#include <QFileInfo>
#include <QPainter>
#include <algorithm>

#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

class EntryRow : public QWidget {
 public:
  EntryRow(const QString& id, const QString& size, const QString& why, double share, QWidget* parent)
      : QWidget(parent), id_(id), size_(size), why_(why), share_(share) {
    setFixedHeight(why.isEmpty() ? 34 : 48);
    setToolTip(id + QStringLiteral("\n") + size + (why.isEmpty() ? QString() : QStringLiteral("\n") + why));
    setAccessibleName(size.isEmpty() ? id : id + QStringLiteral(", ") + size);
    setAccessibleDescription(why);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setFont(typeface(12));
    const int room = width() - 74;
    p.setPen(t.ink);
    p.drawText(QRect(0, 2, room, 18), Qt::AlignVCenter,
               p.fontMetrics().elidedText(id_, Qt::ElideMiddle, room));
    p.setPen(t.quiet);
    p.drawText(QRect(width() - 72, 2, 70, 18), Qt::AlignVCenter | Qt::AlignRight, size_);
    p.fillRect(QRectF(0, 23, width() - 2, 4), t.wash);
    if (!size_.isEmpty()) p.fillRect(QRectF(0, 23, std::max(1.0, (width() - 2) * share_), 4), t.click);
    if (why_.isEmpty()) return;
    p.setFont(typeface(11));
    p.drawText(QRect(0, 29, width(), 16), Qt::AlignVCenter,
               p.fontMetrics().elidedText(why_, Qt::ElideRight, width()));
  }

 private:
  QString id_, size_, why_;
  double share_;
};

}  // namespace

void addEntries(QVBoxLayout* column, std::vector<EntryLine> lines, uint64_t most_bytes, QWidget* parent) {
  std::stable_sort(lines.begin(), lines.end(),
                   [](const auto& a, const auto& b) { return a.stored_bytes > b.stored_bytes; });
  for (const EntryLine& e : lines)
    column->addWidget(new EntryRow(q(e.id), e.stored_bytes ? q(base::sizeText(*e.stored_bytes)) : QString(),
                                   e.why.empty() ? QString() : QObject::tr("for %1").arg(q(e.why)),
                                   static_cast<double>(e.stored_bytes.value_or(0)) /
                                       static_cast<double>(std::max<uint64_t>(most_bytes, 1)),
                                   parent));
}

void addEntries(QVBoxLayout* column, const packing::Package& package, QWidget* parent) {
  uint64_t most = 1;
  std::vector<EntryLine> lines;
  for (const auto& e : package.entries) {
    most = std::max(most, e.stored_bytes);
    lines.push_back({e.id, {}, e.stored_bytes});
  }
  addEntries(column, std::move(lines), most, parent);
}

void addLook(QVBoxLayout* column, const LookedInto& looked, const packing::Package* mine, QWidget* parent) {
  QLabel* name = heading(QFileInfo(looked.file).fileName(), parent);
  name->setObjectName(QStringLiteral("looked-name"));
  column->addWidget(name);
  const auto line = [&](const QString& text, const char* tone, const char* id) {
    QLabel* label = plainText(text, parent);
    label->setProperty("tone", QByteArray(tone));
    label->setObjectName(QString::fromLatin1(id));
    column->addWidget(label);
  };
  if (!looked.package)
    return line(QStringLiteral("◆ ") + q(looked.package.error().text()), "stops", "looked-state");
  const bundle::Manifest& m = looked.package->manifest;
  column->addWidget(
      plainText(QObject::tr("%1 %2 by %3, for %4 %5")
                    .arg(q(m.title), q(m.version), m.author.empty() ? QStringLiteral("?") : q(m.author),
                         q(m.rulebook_id), q(m.rulebook_version)),
                parent));
  if (looked.faults.empty())
    line(QObject::tr("✓ whole: every byte is what was built"), "good", "looked-state");
  else
    line(QObject::tr("◆ damaged: %1").arg(q(looked.faults.front().text())), "stops", "looked-state");
  if (mine != nullptr) {
    const auto differences = packing::comparePackages(*mine, *looked.package);
    line(differences.empty() ? QObject::tr("Holds the same as this mod's own build.")
                             : QObject::tr("Beside this mod's own build, %1 differ:")
                                   .arg(q(base::countText(differences.size(), "entry", "entries"))),
         "ink", "looked-compare");
    int shown = 0;
    for (const packing::EntryDifference& d : differences) {
      if (++shown > 40) break;
      const QString size_a = d.a != nullptr ? q(base::sizeText(d.a->raw_bytes)) : QString(),
                    size_b = d.b != nullptr ? q(base::sizeText(d.b->raw_bytes)) : QString();
      column->addWidget(quietText(
          d.a == nullptr   ? QObject::tr("+ %1, %2").arg(q(d.b->id), size_b)
          : d.b == nullptr ? QObject::tr("– %1, only in this mod").arg(q(d.a->id))
                           : QObject::tr("≠ %1, %2 here and %3 there").arg(q(d.a->id), size_a, size_b),
          parent));
    }
  }
  addEntries(column, *looked.package, parent);
}

LookedInto lookInto(const QString& file, const base::Progress* progress) {
  LookedInto out{file, packing::lookInto(std::filesystem::path(s(file))), {}};
  if (out.package) out.faults = packing::verifyPackage(s(file), progress);
  return out;
}

}  // namespace rakugo::app
