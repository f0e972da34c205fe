// The example mods that ship with Rakugo, and copies of them to work on.
#pragma once

#include <QImage>
#include <QString>
#include <filesystem>
#include <vector>

#include "base/jobs.h"
#include "base/result.h"

namespace rakugo::app {

struct ExampleMod {
  std::filesystem::path folder;
  QString title;
  QString teaches;  ///< one line for somebody who chooses what to learn
  [[nodiscard]] QImage picture() const;
};

/// In the order of `examples.json` beside them; empty where they do not lie beside the rulebooks.
std::vector<ExampleMod> exampleMods();
/// Where the example of that name lies; where it would, when there is none.
std::filesystem::path exampleFolder(const std::string& name);

/// Copies an example into a new folder under `home`, named after `title`, with every name inside renamed.
/// Returns that folder. Errors: those of `mod::loadMod` and `mod::makeCopy`.
base::Result<QString> copyExample(const std::filesystem::path& from, const std::string& title,
                                  const QString& home, const base::Progress* progress);

}  // namespace rakugo::app
