#include "app/stations/sources/source_view.h"

#include <QPointer>

#include "app/widgets/panels.h"
#include "base/files.h"
#include "formats/pictures/pictures.h"

namespace rakugo::app {

PictureView::PictureView(const std::filesystem::path& file, Background& background, QWidget* parent)
    : QLabel(parent) {
  setObjectName(QStringLiteral("picture-view"));
  setFixedHeight(200);
  setAlignment(Qt::AlignCenter);
  setText(tr("reading…"));
  QPointer<PictureView> here(this);
  background.post([here, file](base::Progress&) -> Background::Finish {
    const auto bytes = base::readFile(file);
    auto picture = bytes ? formats::decodePicture(*bytes, file.filename().string())
                         : base::Result<formats::Picture>(bytes.error());
    QImage small;
    if (picture) {
      const QImage whole(reinterpret_cast<const uchar*>(picture->pixels.data()),
                         static_cast<int>(picture->width), static_cast<int>(picture->height),
                         static_cast<qsizetype>(picture->width) * 4, QImage::Format_RGBA8888);
      small = whole.scaled(256, 196, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    }
    return [here, small, problem = picture ? std::string() : picture.error().text()] {
      if (here == nullptr) return;
      if (small.isNull())
        here->setText(q(problem));
      else
        here->setPixmap(QPixmap::fromImage(small));
    };
  });
}

}  // namespace rakugo::app
