// Whatever readers say of damaged files can be said in another language.
#include <gtest/gtest.h>

#include <random>
#include <set>

#include "base/files.h"
#include "formats/archives/archive.h"
#include "formats/pictures/pictures.h"
#include "formats/read_model.h"
#include "formats/sounds.h"
#include "support/marked_language.h"

namespace rakugo::formats {
namespace {

namespace fs = std::filesystem;

base::Result<base::Bytes> nothing(const std::string& name) {
  return base::Error{"file.missing", base::phrase("The file is not at hand."), base::Place{name}, ""};
}

class ReaderMessages : public testing::Test {
 protected:
  void hear(const base::Error& error) {
    ++heard_[error.code];
    const std::string left = test::unmarked(error);
    if (!left.empty() && told_.insert(error.code + left).second)
      ADD_FAILURE() << error.code << ": " << error.text() << "\n  in English always: " << left;
  }
  void hear(const base::Note& note) { hear(base::Error{note.code, note.message, {}, {}}); }
  // A file as it stands, cut off, and with bytes that are others.
  template <class Read>
  void tryAll(const fs::path& folder, const Read& read) {
    for (const auto& entry : fs::recursive_directory_iterator(folder)) {
      if (!entry.is_regular_file()) continue;
      const base::Bytes whole = std::move(base::readFile(entry.path())).value();
      if (whole.size() > 200'000) continue;
      const std::string name = entry.path().filename().string();
      read(whole, name);
      for (size_t i = 0; i < 24; ++i)
        read(base::Bytes(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(whole.size() * i / 24)),
             name);
      std::mt19937 random(static_cast<unsigned>(whole.size()));
      for (int i = 0; i < 80 && !whole.empty(); ++i) {
        base::Bytes other = whole;
        for (int n = 0; n < 3; ++n)
          other[random() % other.size()] = static_cast<std::byte>(32 + random() % 95);
        read(other, name);
      }
    }
  }
  test::MarkedLanguage language_;
  std::map<std::string, int> heard_;
  std::set<std::string> told_;
};

TEST_F(ReaderMessages, OfModelsCanBeTranslated) {
  const auto read = [&](const base::Bytes& bytes, const std::string& name) {
    const auto got = readModel(bytes, name, nothing);
    if (!got) return hear(got.error());
    for (const base::Note& note : got->notes) hear(note);
  };
  const fs::path root(RAKUGO_SOURCE_DIR);
  for (const char* corpus : {"gltf", "collada", "obj", "ply", "stl", "archive", "zip"})
    tryAll(root / "tests/fuzz/corpus" / corpus, read);
  for (const char* mod : {"quay-lamp", "tug", "newcomer"})
    if (fs::exists(root / "examples" / mod)) tryAll(root / "examples" / mod, read);
  EXPECT_GT(heard_.size(), 30U) << "many sorts of damage were met";
}

TEST_F(ReaderMessages, OfPicturesAndSoundsCanBeTranslated) {
  const fs::path corpus = fs::path(RAKUGO_SOURCE_DIR) / "tests/fuzz/corpus";
  tryAll(corpus / "picture", [&](const base::Bytes& bytes, const std::string& name) {
    if (const auto got = decodePicture(bytes, name); !got) hear(got.error());
  });
  tryAll(corpus / "sound", [&](const base::Bytes& bytes, const std::string& name) {
    if (const auto got = decodeSound(bytes, name); !got) hear(got.error());
  });
  EXPECT_GT(heard_.size(), 3U);
}

}  // namespace
}  // namespace rakugo::formats
