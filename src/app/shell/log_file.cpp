#include "app/shell/log_file.h"

#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

#include <QDir>
#include <QFile>
#include <QSysInfo>
#include <memory>

#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

constexpr size_t kFileBytes = 1 << 20, kFiles = 3;

struct Kept {
  std::shared_ptr<spdlog::logger> logger;
  std::filesystem::path folder;
};
// One log a process: Qt's message handler has no other way to reach it.
Kept& kept() {
  static Kept one;
  return one;
}

void takeQtMessage(QtMsgType type, const QMessageLogContext&, const QString& text) {
  note(QStringLiteral("qt: ") + text, type == QtDebugMsg || type == QtInfoMsg);
  fprintf(stderr, "%s\n", base::printable(text.toStdString()).c_str());
}

QString withoutHome(QString text) { return text.replace(QDir::homePath(), QStringLiteral("~")); }

}  // namespace

void startLog(const std::filesystem::path& folder) {
  try {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    auto sink = std::make_shared<spdlog::sinks::rotating_file_sink_mt>((folder / "rakugo.log").string(),
                                                                       kFileBytes, kFiles - 1);
    kept() = {std::make_shared<spdlog::logger>("rakugo", std::move(sink)), folder};
  } catch (const spdlog::spdlog_ex&) {
    return;
  }
  kept().logger->set_pattern("%Y-%m-%dT%H:%M:%S.%e%z %^%l%$ %v");
  // A crash must not take with it what led to it.
  kept().logger->flush_on(spdlog::level::info);
  // A full disk is no reason to disturb the person at their work.
  kept().logger->set_error_handler([](const std::string&) {});
  qInstallMessageHandler(takeQtMessage);
  note(QStringLiteral("rakugo %1 begins").arg(QLatin1String(RAKUGO_VERSION)));
}

void note(const QString& text, bool good) {
  if (!kept().logger) return;
  const std::string line = s(text).substr(0, 4000);
  if (good)
    kept().logger->info("{}", line);
  else
    kept().logger->warn("{}", line);
}

std::filesystem::path logFolder() { return kept().folder; }

QStringList lastLogLines(int count) {
  if (logFolder().empty()) return {};
  QFile file(q((logFolder() / "rakugo.log").string()));
  if (!file.open(QIODevice::ReadOnly)) return {};
  // The end alone: a line is 4 kB at most.
  file.seek(std::max<qint64>(0, file.size() - qint64{64} * 1024));
  QStringList lines = QString::fromUtf8(file.readAll()).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
  return lines.mid(std::max<qsizetype>(0, lines.size() - count));
}

QString problemReport(const ReportFacts& facts) {
  QStringList out;
  if (!facts.problem.isEmpty()) out << facts.problem << QString();
  out << QStringLiteral("Rakugo %1, Qt %2").arg(QLatin1String(RAKUGO_VERSION), QLatin1String(qVersion()));
  out << QStringLiteral("%1, %2, kernel %3")
             .arg(QSysInfo::prettyProductName(), QSysInfo::currentCpuArchitecture(),
                  QSysInfo::kernelVersion());
  if (!facts.graphics.isEmpty()) out << QStringLiteral("Graphics: ") + facts.graphics;
  if (!facts.mod.isEmpty()) out << QStringLiteral("Mod: ") + facts.mod;
  if (!facts.rulebook.isEmpty()) out << QStringLiteral("Rulebook: ") + facts.rulebook;
  const QStringList log = lastLogLines(30);
  if (!log.isEmpty()) out << QString() << log;
  return withoutHome(out.join(QLatin1Char('\n')));
}

}  // namespace rakugo::app
