// A bundle or zip looked into while no mod is open: what a double click on one shows.
#pragma once

#include <QDialog>

#include "app/shell/background.h"

namespace rakugo::app {

class PackageDialog : public QDialog {
  Q_OBJECT
 public:
  /// Begins to read `file` in the background.
  PackageDialog(const QString& file, QWidget* parent);

 private:
  Background background_;
};

}  // namespace rakugo::app
