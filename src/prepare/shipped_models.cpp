#include "prepare/shipped_models.h"

#include <map>
#include <mutex>

#include "formats/read_model.h"

namespace rakugo::prepare {
namespace {

namespace fs = std::filesystem;

// Who makes a rulebook changes its files while Rakugo runs.
struct Stamp {
  fs::file_time_type changed;
  uintmax_t bytes = 0;
  bool operator==(const Stamp&) const = default;
};

Stamp stampOf(const fs::path& path) {
  std::error_code error;
  Stamp out{fs::last_write_time(path, error), 0};
  out.bytes = fs::file_size(path, error);
  return out;
}

struct Kept {
  Stamp stamp;
  std::shared_ptr<const scene::Model> model;
};

}  // namespace

base::Result<std::shared_ptr<const scene::Model>> shippedModel(const rulebook::Rulebook& book,
                                                               const std::string& file) {
  static std::mutex lock;
  static std::map<fs::path, Kept> kept;
  const fs::path path = book.folder / file;
  const Stamp stamp = stampOf(path);
  const std::lock_guard guard(lock);
  if (const auto known = kept.find(path); known != kept.end() && known->second.stamp == stamp)
    return known->second.model;
  RAKUGO_ASSIGN(formats::ReadModel read, formats::readModelFile(path));
  auto model = std::make_shared<const scene::Model>(std::move(read.model));
  kept[path] = {stamp, model};
  return std::shared_ptr<const scene::Model>(std::move(model));
}

}  // namespace rakugo::prepare
