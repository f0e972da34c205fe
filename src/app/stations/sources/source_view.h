// A picture that is looked at.
#pragma once

#include <QImage>
#include <QLabel>
#include <filesystem>

#include "app/shell/background.h"

namespace rakugo::app {

/// A picture fitted into the width, read in the background; what is transparent shows the paper.
class PictureView : public QLabel {
  Q_OBJECT
 public:
  PictureView(const std::filesystem::path& file, Background& background, QWidget* parent);
};

}  // namespace rakugo::app
