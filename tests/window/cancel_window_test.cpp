// Cancel, pressed at every long work and at several moments of it: it is done whole, or nothing of it is
// left.
#include <QFloat16>

#include <QClipboard>
#include <QSignalSpy>
#include <QThread>

#include "app/stations/sources/source_work.h"
#include "base/files.h"
#include "base/sha256.h"
#include "formats/export.h"
#include "mod/store.h"
#include "packing/install.h"
#include "packing/package.h"
#include "window_fixture.h"

using namespace rakugo;
namespace fs = std::filesystem;

namespace {

// From before the work begins to when most of it is done.
constexpr int kMoments_ms[] = {0, 4, 15, 40, 90};

// What lies in a folder: every file's path and digest, without what is built.
std::map<std::string, std::string> contentOf(const fs::path& folder) {
  std::map<std::string, std::string> out;
  std::error_code error;
  for (fs::recursive_directory_iterator at(folder, error), end; !error && at != end; at.increment(error)) {
    const std::string path = fs::relative(at->path(), folder).generic_string();
    if (path == "build" || path.rfind("build/", 0) == 0 || !at->is_regular_file()) continue;
    out[path] = base::hex(base::sha256(*base::readFile(at->path())));
  }
  return out;
}

}  // namespace

class CancelWindowTest : public test::WindowFixture {
 protected:
  QString path(const char* name) { return folder_->path() + QLatin1Char('/') + QLatin1String(name); }
  // Begins something, presses Cancel after a while, and waits until all is quiet.
  void cancelAfter(int ms, const std::function<void()>& begin) {
    begin();
    if (ms > 0) QTest::qWait(ms);
    if (auto* button = test::find<QPushButton>(*window_, "cancel-work"))
      QTest::mouseClick(button, Qt::LeftButton);
    else
      session().cancelWork();  // not shown yet: it is in the first moment
    ASSERT_TRUE(QTest::qWaitFor([&] { return !session().working(); }, test::kPatience_ms));
    ASSERT_TRUE(test::examined(*window_));
    EXPECT_EQ(test::find<QPushButton>(*window_, "cancel-work"), nullptr)
        << "nothing runs that it could cancel";
  }
  // A model of many triangles, as a file.
  void heavy(const QString& file, float size) {
    scene::Model model;
    auto mesh = std::make_shared<scene::Mesh>();
    mesh->primitives.resize(1);
    scene::Primitive& p = mesh->primitives[0];
    constexpr uint32_t kSide = 130;
    for (uint32_t y = 0; y < kSide; ++y)
      for (uint32_t x = 0; x < kSide; ++x)
        p.positions.emplace_back(static_cast<float>(x) * size, std::sin(static_cast<float>(x * y) * 0.01F),
                                 static_cast<float>(y) * size);
    for (uint32_t y = 0; y + 1 < kSide; ++y)
      for (uint32_t x = 0; x + 1 < kSide; ++x) {
        const uint32_t a = y * kSide + x, b = a + 1, c = a + kSide, d = c + 1;
        p.indices.insert(p.indices.end(), {a, c, b, b, c, d});
      }
    model.meshes.push_back(mesh);
    scene::Node node;
    node.name = "net";
    node.mesh = scene::MeshIndex(0);
    model.nodes.push_back(node);
    model.roots.emplace_back(size_t{0});
    const auto made = formats::exportModel(model, "net.obj");
    ASSERT_TRUE(made);
    ASSERT_TRUE(QDir().mkpath(QFileInfo(file).absolutePath()));
    ASSERT_TRUE(base::writeFileAtomic(test::s8(file), made->files.at("net.obj")));
  }
};

TEST_F(CancelWindowTest, OpeningLeavesTheModThatIsOpen) {
  const QString first = test::copyOfMod(*folder_, "lamplight"), second = test::copyOfMod(*folder_, "slipway");
  ASSERT_TRUE(open(first));
  const auto before = contentOf(test::s8(second));
  for (const int ms : kMoments_ms) {
    SCOPED_TRACE(ms);
    const std::string was = session().state().card.title;
    const bool from_first = was == "Lamplight" || session().folder().filename() == "lamplight";
    cancelAfter(ms, [&] { session().open(test::s8(from_first ? second : first)); });
    // The one or the other, and whole.
    const std::string is = session().folder().filename().string();
    EXPECT_TRUE(is == "lamplight" || is == "slipway") << is;
    EXPECT_FALSE(session().state().objects.empty());
    EXPECT_TRUE(session().examination() != nullptr);
    EXPECT_EQ(contentOf(test::s8(second)), before);
  }
}

TEST_F(CancelWindowTest, TakingASourceInLeavesNoFileBehind) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  heavy(path("down/net.obj"), 0.01F);
  for (const int ms : kMoments_ms) {
    SCOPED_TRACE(ms);
    const auto before = contentOf(test::s8(mod));
    const size_t sources = session().state().sources.size();
    cancelAfter(ms, [&] { window_->sourceWork().give({test::s8(path("down/net.obj"))}); });
    if (session().state().sources.size() == sources) {
      EXPECT_EQ(contentOf(test::s8(mod)), before);
    } else {
      for (const auto& [name, doc] : session().state().sources)
        for (const mod::SourceFile& f : doc.files)
          EXPECT_TRUE(fs::exists(fs::path(test::s8(mod)) / "sources" / name / f.path)) << name;
      session().undo();
      ASSERT_TRUE(test::examined(*window_));
    }
  }
}

TEST_F(CancelWindowTest, TakingANewerVersionLeavesTheOlderOneAndNothingElse) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  heavy(path("down/net.obj"), 0.01F);
  window_->sourceWork().give({test::s8(path("down/net.obj"))});
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return session().state().sources.count("net") == 1; }, test::kPatience_ms));
  ASSERT_TRUE(test::examined(*window_));
  float size = 0.01F;
  for (const int ms : kMoments_ms) {
    SCOPED_TRACE(ms);
    heavy(path("down/net.obj"), size += 0.001F);
    window_->sourceWork().compare("net", test::s8(path("down/net.obj")));
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
          const auto* waits = window_->sourceWork().waiting("net");
          return waits != nullptr && waits->version != nullptr;
        },
        test::kPatience_ms));
    const std::string was = session().state().sources.at("net").file;
    const auto before = contentOf(test::s8(mod));
    cancelAfter(ms, [&] { window_->sourceWork().takeWaiting("net", {}); });
    const mod::SourceDoc& now = session().state().sources.at("net");
    if (now.file == was)
      EXPECT_EQ(contentOf(test::s8(mod)), before);
    else
      EXPECT_TRUE(fs::exists(fs::path(test::s8(mod)) / "sources/net" / now.file));
  }
}

TEST_F(CancelWindowTest, WritingAModelOutWritesAllOfItOrNothing) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  heavy(path("down/net.obj"), 0.01F);
  window_->sourceWork().give({test::s8(path("down/net.obj"))});
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return session().state().models.count("net") == 1; }, test::kPatience_ms));
  ASSERT_TRUE(test::examined(*window_));
  for (const char* name : {"net.glb", "net.gltf", "net.dae", "net.obj", "net.ply", "net.stl"})
    for (const int ms : {0, 3, 12, 40}) {
      SCOPED_TRACE(std::string(name) + " " + std::to_string(ms));
      const fs::path folder = test::s8(path("out"));
      std::error_code ignored;
      fs::remove_all(folder, ignored);
      cancelAfter(ms, [&] { window_->sourceWork().exportModel("net", folder / name); });
      if (fs::exists(folder / name)) {
        EXPECT_TRUE(formats::readModelFile(folder / name));
      } else {
        EXPECT_TRUE(contentOf(folder).empty());
      }
    }
}

TEST_F(CancelWindowTest, BuildingInstallingAndLookingLeaveWholePackagesOrNone) {
  const QString mod = test::copyOfMod(*folder_, "tidewater");
  ASSERT_TRUE(open(mod));
  const fs::path game = test::s8(path("game")), output = session().output();
  for (const int ms : kMoments_ms) {
    SCOPED_TRACE(ms);
    std::error_code ignored;
    fs::remove_all(output.parent_path(), ignored);
    cancelAfter(ms, [&] { session().build(); });
    if (fs::exists(output)) EXPECT_TRUE(packing::verifyPackage(output).empty());
    // A build that comes after it is whole.
    QSignalSpy built(&session(), &app::Session::built);
    session().build();
    ASSERT_TRUE(QTest::qWaitFor([&] { return built.size() == 1; }, test::kPatience_ms));
    ASSERT_TRUE(built.at(0).at(0).toBool()) << built.at(0).at(1).toString().toStdString();
    fs::remove_all(game, ignored);
    cancelAfter(ms, [&] { session().install(game); });
    const auto there = packing::listInstalled(game);
    if (there.empty()) {
      EXPECT_TRUE(contentOf(game / "mods").empty());
    } else {
      EXPECT_TRUE(there[0].ours);
      EXPECT_TRUE(packing::verifyPackage(there[0].path).empty());
    }
    bool looked = false;
    cancelAfter(ms, [&] {
      session().look(QString::fromStdString(output.string()), [&](app::LookedInto) { looked = true; });
    });
    EXPECT_TRUE(looked) << "whoever asked is answered, also when it was cancelled";
  }
}

TEST_F(CancelWindowTest, WhatIsReadInTheBackgroundEndsWithTheMod) {
  const QString first = test::copyOfMod(*folder_, "lamplight"),
                second = test::copyOfMod(*folder_, "chandlery");
  ASSERT_TRUE(open(first));
  std::atomic<bool> ended{false};
  session().background().post([&](base::Progress& progress) -> app::Background::Finish {
    while (!progress.cancelled()) QThread::msleep(5);
    ended = true;
    return nullptr;
  });
  ASSERT_TRUE(open(second));
  EXPECT_TRUE(QTest::qWaitFor([&] { return ended.load(); }, test::kPatience_ms));
}

TEST_F(CancelWindowTest, WhatALibraryThrowsIsSaidAndNothingEndsWithIt) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  session().background().post(
      [](base::Progress&) -> app::Background::Finish { throw std::runtime_error("a library's own words"); });
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QPushButton>(*window_, "notice-copy") != nullptr; },
                              test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "notice-copy"));
  EXPECT_TRUE(QApplication::clipboard()->text().contains(QStringLiteral("a library's own words")));
  // And the work that comes after it is done.
  bool done = false;
  session().background().post(
      [&](base::Progress&) -> app::Background::Finish { return [&] { done = true; }; });
  EXPECT_TRUE(QTest::qWaitFor([&] { return done; }, test::kPatience_ms));
}
