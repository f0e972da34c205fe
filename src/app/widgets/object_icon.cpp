#include "app/widgets/object_icon.h"

#include <map>

namespace rakugo::app {
namespace {

struct Kept {
  std::weak_ptr<const base::Bytes> of;  // the address is another's once these bytes are let go
  QImage picture;
};
constexpr size_t kMost = 1000;

}  // namespace

QImage objectIcon(const mod::ModState& state, const mod::ObjectDoc& object, int side_px) {
  static std::map<std::pair<const base::Bytes*, int>, Kept> kept;
  const auto icon = state.icons.find(object.icon);
  if (icon == state.icons.end() || icon->second == nullptr) return {};
  if (kept.size() > kMost) kept.clear();
  Kept& one = kept[{icon->second.get(), side_px}];
  if (one.of.lock() == icon->second) return one.picture;
  QImage picture;
  picture.loadFromData(reinterpret_cast<const uchar*>(icon->second->data()),
                       static_cast<int>(icon->second->size()));
  if (!picture.isNull())
    picture = picture.scaled(side_px, side_px, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  one = {icon->second, picture};
  return picture;
}

}  // namespace rakugo::app
