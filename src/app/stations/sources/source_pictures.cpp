#include "app/stations/sources/source_pictures.h"

#include "app/widgets/theme.h"
#include "base/files.h"
#include "formats/pictures/pictures.h"

namespace rakugo::app {
namespace {

constexpr int kPictureSide = 86, kAllRound = 12;

QImage smallPicture(const std::filesystem::path& file) {
  const auto bytes = base::readFile(file);
  if (!bytes) return {};
  const auto picture = formats::decodePicture(*bytes, file.filename().string());
  if (!picture) return {};
  const QImage whole(reinterpret_cast<const uchar*>(picture->pixels.data()), static_cast<int>(picture->width),
                     static_cast<int>(picture->height), static_cast<qsizetype>(picture->width) * 4,
                     QImage::Format_RGBA8888);
  const QImage scaled =
      whole.scaled(kPictureSide, kPictureSide, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  QImage square(kPictureSide, kPictureSide, QImage::Format_RGBA8888);
  square.fill(Qt::transparent);
  QPainter p(&square);
  p.drawImage((kPictureSide - scaled.width()) / 2, (kPictureSide - scaled.height()) / 2, scaled);
  return square;
}

}  // namespace

SourcePictures::SourcePictures(Session& session, Bench& bench, QObject* parent)
    : QObject(parent), session_(session), bench_(bench) {
  soon_.setSingleShot(true);
  soon_.setInterval(30);
  connect(&soon_, &QTimer::timeout, this, &SourcePictures::takeNext);
  connect(&session_, &Session::opened, this, [this] {
    known_.clear();
    wanted_.clear();
  });
}

std::string SourcePictures::keyOf(const std::string& source, std::string& model) const {
  const auto& x = session_.examination();
  const auto doc = session_.state().sources.find(source);
  if (!x || doc == session_.state().sources.end()) return {};
  const auto state = x->context.sources.find(source);
  if (state == x->context.sources.end()) return {};
  if (state->second.picture) return "picture " + doc->second.file;
  // Of several models the one that keeps the most of it.
  std::shared_ptr<const scene::Model> most;
  for (const auto& [name, one] : session_.state().models) {
    if (one.source != source) continue;
    const auto made = prepared(name);
    if (!made || (most && made->nodes.size() <= most->nodes.size())) continue;
    most = made;
    model = name;
  }
  if (!most) return {};
  return (isNight() ? "night " : "day ") + std::to_string(reinterpret_cast<uintptr_t>(most.get()));
}

std::shared_ptr<const scene::Model> SourcePictures::prepared(const std::string& model) const {
  const auto& x = session_.examination();
  if (!x) return nullptr;
  const auto found = x->context.models.find(model);
  return found == x->context.models.end() ? nullptr : found->second.prepared.model;
}

QVector<QImage> SourcePictures::of(const std::string& source) {
  std::string model;
  const std::string key = keyOf(source, model);
  Known& known = known_[source];
  // The old picture stays until the new one is there.
  if (!key.empty() && known.key != key) {
    known.key = key;
    known.shown = prepared(model);
    known.asked_for = 0;
    ask(source, 1);
  }
  return known.pictures;
}

void SourcePictures::turn(const std::string& source) { ask(source, kAllRound); }

void SourcePictures::ask(const std::string& source, int count) {
  Known& known = known_[source];
  if (known.asked_for >= count) return;
  known.asked_for = count;
  wanted_.emplace_back(source, count);
  if (!taking_ && !soon_.isActive()) soon_.start();
}

void SourcePictures::takeNext() {
  if (wanted_.empty() || !session_.isOpen()) return;
  if (bench_.moving() || session_.busy() || session_.working()) return soon_.start(120);
  const auto [source, count] = wanted_.back();
  wanted_.pop_back();
  std::string model;
  const std::string key = keyOf(source, model);
  Known& asked = known_[source];
  if (key.empty()) {
    asked.key.clear();  // to be asked for again, once there is something to see; the old picture stays
    asked.asked_for = 0;
    return soon_.start();
  }
  // The model may have been prepared anew since it was asked for.
  asked.key = key;
  asked.shown = prepared(model);
  taking_ = true;
  const auto done = [this, source = source, key](const QVector<QImage>& pictures) {
    taking_ = false;
    if (!wanted_.empty()) soon_.start();
    const auto known = known_.find(source);
    if (known == known_.end() || known->second.key != key || pictures.isEmpty()) return;
    known->second.pictures = pictures;
    Q_EMIT taken(q(source));
  };
  if (model.empty()) {
    const auto file = session_.folder() / "sources" / source / session_.state().sources.at(source).file;
    session_.background().post([file, done](base::Progress&) -> Background::Finish {
      const QImage picture = smallPicture(file);
      return [picture, done] { done(picture.isNull() ? QVector<QImage>() : QVector<QImage>{picture}); };
    });
    return;
  }
  if (!bench_.works()) {
    taking_ = false;
    return;
  }
  session_.background().post(
      [this, x = session_.examination(), model, count = count, done](base::Progress&) -> Background::Finish {
        PictureCache pictures;
        auto scene = makeBenchScene(*x, model, pictures);
        return [this, scene, count, done] {
          done(scene ? bench_.takePicturesOf(*scene, QSize(kPictureSide, kPictureSide), theme().sheet, count)
                     : QVector<QImage>());
        };
      });
}

}  // namespace rakugo::app
