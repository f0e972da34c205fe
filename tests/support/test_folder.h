// A folder of a test's own, gone when the test ends.
#pragma once

#include <unistd.h>

#include <filesystem>
#include <string>

namespace rakugo::test {

class TestFolder {
 public:
  TestFolder() {
    static int number = 0;
    path_ = std::filesystem::temp_directory_path() /
            ("rakugo-test-" + std::to_string(::getpid()) + "-" + std::to_string(number++));
    std::filesystem::remove_all(path_);
    std::filesystem::create_directories(path_);
  }
  TestFolder(const TestFolder&) = delete;
  TestFolder& operator=(const TestFolder&) = delete;
  ~TestFolder() { std::filesystem::remove_all(path_); }
  [[nodiscard]] const std::filesystem::path& path() const { return path_; }
  /// A copy of a demo mod, without what was built.
  [[nodiscard]] std::filesystem::path copyOfMod(const std::string& mod, const std::string& as) const {
    const std::filesystem::path to = path_ / as;
    std::filesystem::copy(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods" / mod, to,
                          std::filesystem::copy_options::recursive);
    std::filesystem::remove_all(to / "build");
    return to;
  }

 private:
  std::filesystem::path path_;
};

}  // namespace rakugo::test
