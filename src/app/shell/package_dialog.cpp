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
  auto* head = new QWidget(this);
  rows = new QVBoxLayout(head);
  rows->setContentsMargins(20, 0, 20, 6);
  rows->setSpacing(4);
  column->addWidget(head);
  rows->addWidget(quietText(tr("Looking into it…"), this));
  auto* entries = new EntryList(tr("What it holds"), this);
  entries->setObjectName(QStringLiteral("entries"));
  column->addWidget(entries, 1);
  auto* buttons = new QDialogButtonBox(this);
  buttons->setContentsMargins(20, 0, 20, 0);
  buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  column->addWidget(buttons);
  background_.post([this, file, rows, entries](base::Progress&) -> Background::Finish {
    auto looked = std::make_shared<LookedInto>(lookInto(file));
    return [this, rows, entries, looked] {
      clearLayout(rows);
      addLook(rows, *looked, nullptr, this);
      if (looked->package) entries->setRows(rowsOf(*looked->package));
    };
  });
}

}  // namespace rakugo::app
