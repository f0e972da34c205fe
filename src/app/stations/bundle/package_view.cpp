#include "app/stations/bundle/package_view.h"

#include <QFileInfo>

#include "app/widgets/panels.h"
#include "base/phrase.h"

namespace rakugo::app {

std::vector<EntryRow> rowsOf(const packing::Package& package) {
  EntryGroup all;
  for (const auto& e : package.entries) all.entries.push_back({e.id, {}, e.stored_bytes});
  return rowsOf(std::vector<EntryGroup>{std::move(all)});
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
  if (mine == nullptr) return;
  const auto differences = packing::comparePackages(*mine, *looked.package);
  line(differences.empty()
           ? QObject::tr("Holds the same as this mod's own build.")
           : q(base::counted(differences.size(), "Beside this mod's own build, {0} entry differs.",
                             "Beside this mod's own build, {0} entries differ.")),
       "ink", "looked-compare");
}

LookedInto lookInto(const QString& file, const base::Progress* progress) {
  LookedInto out{file, packing::lookInto(std::filesystem::path(s(file))), {}};
  if (out.package) out.faults = packing::verifyPackage(s(file), progress);
  return out;
}

}  // namespace rakugo::app
