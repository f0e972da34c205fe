// rakugo-tool run as a process, in a folder of the test's own.
#pragma once

#include <gtest/gtest.h>
#include <sys/wait.h>

#include <cstdlib>
#include <filesystem>

#include "base/files.h"
#include "base/json.h"
#include "support/test_folder.h"

namespace rakugo::test {

namespace fs = std::filesystem;

struct Ran {
  int exit = -1;
  std::string out, err;
  [[nodiscard]] base::Json json() const {
    auto parsed = base::parseJson(out, "stdout");
    EXPECT_TRUE(parsed) << out;
    return parsed ? *parsed : base::Json();
  }
};

/// The tool's arguments are a line for the shell.
class ToolTest : public testing::Test {
 protected:
  // Runs the tool with arguments that hold no quotes. No display is there for it.
  Ran run(const std::string& arguments) {
    const std::string command = "env -u DISPLAY -u WAYLAND_DISPLAY " + environment_ +
                                " '" RAKUGO_BIN_DIR "/rakugo-tool' " + arguments + " >'" +
                                (root_ / "out").string() + "' 2>'" + (root_ / "err").string() + "'";
    const int status = std::system(command.c_str());
    Ran out;
    out.exit = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    out.out = std::string(base::asText(*base::readFile(root_ / "out")));
    out.err = std::string(base::asText(*base::readFile(root_ / "err")));
    return out;
  }
  std::string mod(const char* name) {
    fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name, root_ / name, fs::copy_options::recursive);
    fs::remove_all(root_ / name / "build");
    return "'" + (root_ / name).string() + "'";
  }
  std::string at(const char* name) const { return "'" + (root_ / name).string() + "'"; }
  std::string environment_;  ///< "NAME=value", for the tool alone
  TestFolder own_;
  const fs::path root_ = own_.path();
};

}  // namespace rakugo::test
