// What benchmarks of the window share: a program whose settings, caches and game lie in a folder of its own.
#pragma once

#include <benchmark/benchmark.h>

#include <QApplication>
#include <QSurfaceFormat>
#include <QTemporaryDir>

#include "app/widgets/theme.h"
#include "render/gpu.h"

namespace rakugo::bench {

inline std::unique_ptr<QApplication> startWindowProgram(int& argc, char** argv, const QTemporaryDir& place) {
  QSurfaceFormat::setDefaultFormat(render::surfaceFormat());
  auto program = std::make_unique<QApplication>(argc, argv);
  QApplication::setOrganizationName(QStringLiteral("rakugo-bench"));
  app::applyTheme(*program);
  benchmark::Initialize(&argc, argv);
  qputenv("RAKUGO_GAME", (place.path() + QStringLiteral("/game")).toUtf8());
  for (const char* name : {"XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME"})
    qputenv(name, (place.path() + QLatin1Char('/') + QLatin1String(name)).toUtf8());
  return program;
}

}  // namespace rakugo::bench
