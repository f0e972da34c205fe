#include "app/help/help_pages.h"

#include <QCoreApplication>
#include <QFile>
#include <QRegularExpression>
#include <algorithm>

#include "app/widgets/theme.h"
#include "base/phrase.h"
#include "check/consequence.h"
#include "check/context.h"
#include "check/facts.h"
#include "prepare/step.h"

// Q_INIT_RESOURCE must stand outside of every namespace.
static void initHelp() { Q_INIT_RESOURCE(help); }

namespace rakugo::app {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("HelpPages", text); }

// In the order in which the page of all pages lists them.
constexpr const char* kWritten[] = {
    "start/road",        "start/findings",   "start/preparation", "start/bench",      "start/contents",
    "start/rulebook",    "sources/list",     "sources/details",   "sources/credit",   "shape/size",
    "shape/direction",   "shape/origin",     "shape/measuring",   "shape/parts",      "shape/structure",
    "shape/corrections", "shape/outfit",     "shape/comparison",  "skeleton/match",   "skeleton/movements",
    "skeleton/bones",    "skeleton/weights", "surface/materials", "surface/atlas",    "surface/looks",
    "objects/kind",      "objects/pieces",   "objects/body",      "objects/card",     "objects/lists",
    "objects/icon",      "objects/points",   "objects/donor",     "objects/variants", "objects/texts",
    "bundle/build",      "bundle/contents",  "bundle/card",       "bundle/look",      "tryout/game",
    "tryout/trials"};

HelpPage readPage(const QString& id, const QString& folder) {
  QString name =
      QLatin1Char('/') + QString(id).replace(QLatin1Char('/'), QLatin1Char('-')) + QStringLiteral(".md");
  QFile file(folder + name);
  if (folder.isEmpty() || !file.open(QIODevice::ReadOnly)) {
    file.setFileName(QStringLiteral(":/help") + name);
    if (!file.open(QIODevice::ReadOnly)) return {id, id, {}};
  }
  const QString all = QString::fromUtf8(file.readAll());
  const auto end = all.indexOf(QLatin1Char('\n'));
  return {id, all.left(end).mid(2).trimmed(), all.mid(end + 1).trimmed()};
}

QString severityWords(check::Severity severity) {
  return severity == check::Severity::stops   ? tr("It stops the game: it would not load, or crash.")
         : severity == check::Severity::shows ? tr("Players see it.")
                                              : tr("It is to tidy: wasteful, or risky later.");
}

// A sentence's values are told as words: "Move {pick} by {by} m" becomes "Move *pick* by *by* m".
QString sentenceWords(const prepare::StepKind& kind) {
  static const QRegularExpression kBracket(QStringLiteral("\\[[^|\\]]*\\|([^\\]]*)\\]"));
  static const QRegularExpression kValue(QStringLiteral("\\{(\\w+)\\}"));
  QString out = q(base::phrase(kind.sentence));
  out.replace(kBracket, QStringLiteral("\\1"));
  return out.replace(kValue, QStringLiteral("**\\1**")).replace(QLatin1Char('_'), QLatin1Char(' '));
}

}  // namespace

HelpPages::HelpPages(std::function<std::string(const std::string&)> chapter_of, const QString& folder)
    : chapter_of_(std::move(chapter_of)) {
  initHelp();
  for (const char* id : kWritten) {
    const QString name = QString::fromLatin1(id);
    written_.push_back(name);
    pages_[name] = readPage(name, folder);
  }
  makeStepPages();
  follow(nullptr);
}

void HelpPages::follow(const rulebook::Rulebook* book) { makeCheckPages(book); }

void HelpPages::makeCheckPages(const rulebook::Rulebook* book) {
  for (const check::CheckRow& row : check::checkTable()) {
    const QString id = QStringLiteral("check/") + QLatin1String(row.id);
    check::Severity severity = row.severity;
    QString reason = q(base::phrase(row.reason)), by_game;
    if (book != nullptr) {
      for (const auto& [check, own] : book->reasons)
        if (check == row.id) reason = q(check::reasonFor(own, nullptr));
      if (const auto outcome = book->outcomes.find(row.id); outcome != book->outcomes.end()) {
        severity = check::severityOf(outcome->second);
        by_game = q(check::outcomeText(outcome->second, *book));
      }
    }
    QString text = reason + QStringLiteral("\n\n**") + severityWords(severity) + QStringLiteral("** ") +
                   by_game + QStringLiteral("\n\n") + tr("What to do: ") + q(base::phrase(row.cure)) +
                   QStringLiteral("\n");
    QStringList facts;
    for (const char* fact : row.facts)
      if (const check::Fact* known = check::findFact(fact)) facts << q(base::phrase(known->title));
    if (!facts.isEmpty())
      text += QStringLiteral("\n") + tr("It looks at: %1.").arg(facts.join(QStringLiteral("; "))) +
              QStringLiteral("\n");
    const QString chapter = q(chapter_of_(row.id));
    if (const HelpPage* about = find(chapter))
      text += QStringLiteral("\n") +
              tr("Mended at %1.").arg(QStringLiteral("[%1](%2)").arg(about->title, chapter)) +
              QStringLiteral("\n");
    text += QStringLiteral("\n") +
            tr("See also %1. Its name in scripts and rulebooks is `%2`.")
                .arg(QStringLiteral("[%1](start/findings)").arg(tr("findings")), QString::fromLatin1(row.id));
    pages_[id] = {id, q(base::phrase(row.title)), text};
  }
}

void HelpPages::makeStepPages() {
  for (const prepare::StepKind& kind : prepare::stepKinds()) {
    const QString id = QStringLiteral("step/") + QLatin1String(kind.id);
    QString text = tr("A step: “%1”").arg(sentenceWords(kind)) + QStringLiteral("\n\n");
    if (*kind.about != '\0') text += q(base::phrase(kind.about)) + QStringLiteral("\n\n");
    text +=
        prepare::needsPick(kind)
            ? tr("Pick its place in the bench first; see [Corrections](shape/corrections).")
            : tr("*Add a step…* below the preparation adds it; see [The preparation](start/preparation).");
    pages_[id] = {id, q(base::phrase(kind.title)), text};
  }
}

const HelpPage* HelpPages::find(const QString& link) const {
  QString id = link;
  // Pages written by hand name each other as files, so that they can be read as such too.
  if (id.endsWith(QLatin1String(".md"))) {
    id.chop(3);
    id.replace(id.indexOf(QLatin1Char('-')), 1, QLatin1Char('/'));
  }
  const auto found = pages_.find(id);
  return found == pages_.end() ? nullptr : &found->second;
}

std::vector<const HelpPage*> HelpPages::written() const {
  std::vector<const HelpPage*> out;
  for (const QString& id : written_) out.push_back(find(id));
  return out;
}

QString plainOf(const QString& markdown) {
  static const QRegularExpression kLink(QStringLiteral("\\[([^\\]]*)\\]\\([^)]*\\)"));
  static const QRegularExpression kList(QStringLiteral("(^|\\n)(- |\\d+\\. |#+ )"));
  QString out = markdown;
  out.replace(kLink, QStringLiteral("\\1"));
  out.replace(kList, QStringLiteral("\n"));
  out.remove(QLatin1Char('*')).remove(QLatin1Char('`'));
  return out.simplified();
}

std::vector<HelpHit> HelpPages::search(const QString& words) const {
  std::vector<QRegularExpression> wanted;
  for (const QString& word : words.split(QRegularExpression(QStringLiteral("\\s+")), Qt::SkipEmptyParts))
    wanted.emplace_back(
        QStringLiteral("\\b") + QRegularExpression::escape(word),
        QRegularExpression::CaseInsensitiveOption | QRegularExpression::UseUnicodePropertiesOption);
  if (wanted.empty()) return {};
  std::vector<std::pair<int, HelpHit>> found;
  for (const auto& [id, page] : pages_) {
    const QString text = plainOf(page.text);
    int score = written_.end() != std::find(written_.begin(), written_.end(), id) ? 3 : 0;
    qsizetype first = -1;
    const bool all = std::all_of(wanted.begin(), wanted.end(), [&](const QRegularExpression& one) {
      const bool titled = one.match(page.title).hasMatch();
      const auto at = one.match(text);
      if (at.hasMatch() && !titled && first < 0) first = at.capturedStart();
      score += (titled ? 50 : 0) + static_cast<int>(std::min<qsizetype>(text.count(one), 9));
      return titled || at.hasMatch();
    });
    if (!all) continue;
    const auto begin = first <= 40 ? 0 : text.lastIndexOf(QLatin1Char(' '), first - 30) + 1;
    QString piece = text.mid(begin, 130);
    if (begin > 0) piece.prepend(QStringLiteral("… "));
    if (begin + 130 < text.size())
      piece = piece.left(piece.lastIndexOf(QLatin1Char(' '))) + QStringLiteral(" …");
    found.push_back({score, {&page, piece}});
  }
  std::stable_sort(found.begin(), found.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<HelpHit> out;
  for (const auto& [score, hit] : found) out.push_back(hit);
  return out;
}

}  // namespace rakugo::app
