// What a full disk, a withdrawn right or a kill at any moment leaves behind: the old file or the new one,
// whole.
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdlib>
#include <fstream>

#include "base/files.h"
#include "base/text.h"
#include "bundle/bundle_reader.h"
#include "mod/journal.h"
#include "support/test_folder.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;

const std::string kBin = RAKUGO_BIN_DIR;

// Runs a program with a fault; the exit status, or -1 for one that was killed.
int run(const std::vector<std::string>& arguments, const std::string& fault, const fs::path& count = {}) {
  const pid_t child = fork();
  if (child == 0) {
    if (!fault.empty()) {
      setenv("LD_PRELOAD", RAKUGO_FAULTS_LIBRARY, 1);
      setenv("RAKUGO_FAULT", fault.c_str(), 1);
      setenv("RAKUGO_FAULT_COUNT", count.c_str(), 1);
    }
    if (freopen("/dev/null", "w", stdout) == nullptr || freopen("/dev/null", "w", stderr) == nullptr)
      _exit(99);
    std::vector<char*> list;
    for (const std::string& a : arguments) list.push_back(const_cast<char*>(a.c_str()));
    list.push_back(nullptr);
    execv(list[0], list.data());
    _exit(98);
  }
  int status = 0;
  waitpid(child, &status, 0);
  return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

std::map<std::string, base::Bytes> filesOf(const fs::path& folder, bool temporaries = false) {
  std::map<std::string, base::Bytes> out;
  for (const std::string& path : base::listFiles(folder))
    if (temporaries || !base::isTemporaryName(path)) out[path] = base::readFile(folder / path).value();
  return out;
}

class FaultTest : public testing::Test {
 protected:
  // How many system calls that write the program makes when nothing goes wrong.
  int countCalls(const std::vector<std::string>& arguments) {
    const fs::path file = own_.path() / "count";
    EXPECT_EQ(run(arguments, "count", file), 0);
    int calls = 0;
    std::ifstream(file) >> calls;
    return calls;
  }
  void fresh() {
    fs::remove_all(mod_);
    fs::remove_all(journals_);
    fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight", mod_, fs::copy_options::recursive);
    fs::remove_all(mod_ / "build");
  }
  // Every document is that of before or of after, and nothing else lies there.
  void expectOldOrNew(const std::string& what) {
    for (const auto& [path, bytes] : filesOf(mod_)) {
      const bool old = before_.count(path) != 0 && before_.at(path) == bytes;
      const bool next = after_.count(path) != 0 && after_.at(path) == bytes;
      EXPECT_TRUE(old || next) << what << ": " << path;
    }
    for (const auto& [path, bytes] : before_) EXPECT_TRUE(fs::exists(mod_ / path)) << what << ": " << path;
    EXPECT_TRUE(mod::loadMod(mod_)) << what;
  }
  test::TestFolder own_;
  const fs::path mod_ = own_.path() / "mod", journals_ = own_.path() / "journals";
  std::vector<std::string> save_ = {kBin + "/save_victim", mod_, journals_, "1"};
  std::map<std::string, base::Bytes> before_, after_;
};

class SaveFaults : public FaultTest {
 protected:
  void SetUp() override { look(1); }
  // Saves once undisturbed with so many things added, to know what before and after are.
  void look(int added) {
    save_.back() = std::to_string(added);
    fresh();
    before_ = filesOf(mod_);
    calls_ = countCalls(save_);
    after_ = filesOf(mod_);
    ASSERT_GT(calls_, 25);
    ASSERT_NE(before_, after_);
    ASSERT_TRUE(base::listFiles(journals_).empty()) << "a saved mod leaves no journal";
  }
  int calls_ = 0;
};

TEST_F(SaveFaults, EachSystemCallFailingInTurnLosesNothing) {
  for (const int error : {ENOSPC, EACCES, EIO})
    for (int at = 1; at <= calls_; ++at)
      for (const char* mode : {"fail", "from"}) {
        fresh();
        const std::string fault = std::string(mode) + ":" + std::to_string(at) + ":" + std::to_string(error);
        const int status = run(save_, fault);
        EXPECT_TRUE(status == 0 || status == 3) << fault << " ended with " << status;
        expectOldOrNew(fault);
        if (status == 0) {
          EXPECT_EQ(filesOf(mod_), after_) << fault << ": said to be saved";
        }
        if (std::string(mode) == "fail") {
          EXPECT_EQ(filesOf(mod_), filesOf(mod_, true)) << fault << ": a temporary file is left";
        }
      }
}

TEST_F(SaveFaults, AKillAtEachSystemCallIsMadeGoodByTheJournal) {
  int kills = 0, with_edits = 0;
  for (int added = 1; kills < 900; ++added) {
    look(added);
    for (int at = 1; at <= calls_; ++at)
      for (const char* mode : {"kill", "tear"}) {
        fresh();
        ++kills;
        const std::string fault =
            std::string(mode) + ":" + std::to_string(at) + " adding " + std::to_string(added);
        ASSERT_EQ(run(save_, fault), -1) << fault;
        expectOldOrNew(fault);
        // What the next start does: take the journal's edits back, then save.
        mod::Footprint footprint;
        mod::History history(mod::loadMod(mod_, &footprint).value());
        const auto read = mod::readJournal(mod::journalPath(journals_, mod_));
        if (!read || read->edits.empty()) continue;
        ++with_edits;
        EXPECT_TRUE(mod::recover(history, *read).empty()) << fault;
        if (read->edits.size() < 2) continue;  // killed before the second edit was journaled: it never was
        ASSERT_TRUE(mod::saveMod(mod_, *history.current(), *history.saved(), &footprint)) << fault;
        EXPECT_EQ(filesOf(mod_), after_) << fault;
        EXPECT_EQ(filesOf(mod_), filesOf(mod_, true)) << fault << ": the next save clears what the kill left";
      }
  }
  EXPECT_GT(with_edits, kills / 2) << "the kills after the first edit find it in the journal";
}

TEST_F(FaultTest, AKillDuringABuildLeavesTheOldBundleOrTheNewOne) {
  fresh();
  const std::string tool = kBin + "/rakugo-tool";
  const fs::path bundle = own_.path() / "out/lamp.rkb";
  const std::vector<std::string> build = {tool, "build", mod_, "-o", bundle};
  fs::create_directories(bundle.parent_path());
  const int calls = countCalls(build);
  ASSERT_GT(calls, 3);
  const base::Bytes whole = base::readFile(bundle).value();
  // Entries are made on all cores, so the calls come in no fixed order; some runs may end before the last
  // one.
  int killed = 0;
  for (int at = 1; at <= calls; ++at)
    for (const bool old_there : {false, true}) {
      fs::remove_all(bundle.parent_path());
      fs::remove_all(mod_ / "build");
      fs::create_directories(bundle.parent_path());
      if (old_there) {
        ASSERT_TRUE(base::writeFileAtomic(bundle, std::string_view("old")));
      }
      const std::string fault = std::string(old_there ? "tear:" : "kill:") + std::to_string(at);
      killed += run(build, fault) == -1 ? 1 : 0;
      if (const auto now = base::readFile(bundle)) {
        EXPECT_TRUE(*now == whole || (old_there && base::asText(*now) == "old")) << fault;
      } else {
        EXPECT_FALSE(old_there) << fault;
      }
      // What the kill left in the cache is used by the next build, and never changes a byte of it.
      ASSERT_EQ(run(build, ""), 0) << fault;
      EXPECT_EQ(base::readFile(bundle).value(), whole) << fault;
    }
  EXPECT_GT(killed, calls);
}

TEST_F(FaultTest, AKillDuringInstallOrUninstallLosesNobodysFile) {
  fresh();
  const std::string tool = kBin + "/rakugo-tool", id = "lamplight-8w3hxq";
  const fs::path bundle = own_.path() / "new.rkb", game = own_.path() / "game",
                 there = game / "mods" / (id + ".rkb");
  ASSERT_EQ(run({tool, "build", mod_, "-o", bundle}, ""), 0);
  const base::Bytes ours = base::readFile(bundle).value();
  const std::vector<std::string> install = {tool, "install", bundle, "--game", game},
                                 uninstall = {tool, "uninstall", id, "--game", game};
  const auto begin = [&](bool installed) {
    fs::remove_all(game);
    fs::create_directories(game / "mods");
    ASSERT_TRUE(base::writeFileAtomic(there, std::string_view("another's")));
    if (installed) {
      ASSERT_EQ(run(install, ""), 0);
    }
  };
  for (const bool installing : {true, false}) {
    begin(!installing);
    const auto& command = installing ? install : uninstall;
    const int calls = countCalls(command);
    ASSERT_GT(calls, 5);
    for (int at = 1; at <= calls; ++at)
      for (const char* mode : {"kill", "tear"}) {
        begin(!installing);
        const std::string fault = std::string(mode) + ":" + std::to_string(at);
        ASSERT_EQ(run(command, fault), -1) << fault;
        const base::Bytes now = base::readFile(there).value();
        EXPECT_TRUE(now == ours || base::asText(now) == "another's") << fault;
        // Whatever the kill left: installing and taking out again ends with the other's file.
        ASSERT_EQ(run(install, ""), 0) << fault;
        EXPECT_EQ(base::readFile(there).value(), ours) << fault;
        ASSERT_EQ(run(uninstall, ""), 0) << fault;
        EXPECT_EQ(base::asText(base::readFile(there).value()), "another's") << fault;
      }
  }
}

}  // namespace
}  // namespace rakugo
