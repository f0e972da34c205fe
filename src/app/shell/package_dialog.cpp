#include "app/shell/package_dialog.h"

#include <QDialogButtonBox>
#include <QFileInfo>

#include "app/stations/bundle/package_view.h"
#include "app/widgets/panels.h"

namespace rakugo::app {

PackageDialog::PackageDialog(const QString& file, QWidget* parent) : QDialog(parent) {
  setObjectName(QStringLiteral("package-dialog"));
  setWindowTitle(QFileInfo(file).fileName());
  resize(520, 560);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(1, 12, 1, 14);  // the frame is drawn at the very edge
  QVBoxLayout* rows = nullptr;
  column->addWidget(scrollColumn(rows, this), 1);
  rows->addWidget(quietText(tr("Looking into it…"), this));
  rows->addStretch();
  auto* buttons = new QDialogButtonBox(this);
  buttons->setContentsMargins(20, 0, 20, 0);
  buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  column->addWidget(buttons);
  background_.post([this, file, rows](base::Progress&) -> Background::Finish {
    auto looked = std::make_shared<LookedInto>(lookInto(file));
    return [this, rows, looked] {
      clearLayout(rows);
      addLook(rows, *looked, nullptr, this);
      rows->addStretch();
    };
  });
}

}  // namespace rakugo::app
