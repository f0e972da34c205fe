// The Sources station with mouse and keys: what is dropped, missed, proposed, exported anew and taken back.
#include <QFloat16>

#include <QAbstractItemModelTester>
#include <QCheckBox>
#include <QComboBox>
#include <QDropEvent>
#include <QLabel>
#include <QListView>
#include <QMimeData>
#include <QSignalSpy>
#include <cmath>

#include "app/stations/sources/source_rows.h"
#include "base/files.h"
#include "formats/archives/zip.h"
#include "formats/export.h"
#include "mod/store.h"
#include "prepare/step.h"
#include "support/random_edits.h"
#include "window_fixture.h"

using namespace rakugo;

class SourcesWindowTest : public test::WindowFixture {
 protected:
  QString path(const char* name) { return folder_->path() + QLatin1Char('/') + QLatin1String(name); }
  void put(const char* name, std::string_view text) {
    ASSERT_TRUE(QDir().mkpath(QFileInfo(path(name)).absolutePath()));
    ASSERT_TRUE(base::writeFileAtomic(test::s8(path(name)), text));
  }
  void drop(const QStringList& paths) {
    QMimeData data;
    QList<QUrl> urls;
    for (const QString& one : paths) urls << QUrl::fromLocalFile(one);
    data.setUrls(urls);
    // Given to the window itself: the application passes drops on only while a real drag is under way.
    QDropEvent event(QPointF(200, 200), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    static_cast<QObject*>(window_.get())->event(&event);
  }
  QString text(const char* label) {
    auto* found = test::find<QLabel>(*window_, label);
    return found != nullptr ? found->text() : QString();
  }
  QStringList findingsOf(const char* check) {
    QStringList out;
    for (const check::Finding& f : session().examination()->findings)
      if (f.check == check) out << QString::fromStdString(f.sentence);
    return out;
  }
  // The demo's download, with its second part under another name.
  std::string crate(const std::string& handles) {
    auto files =
        formats::readZip(*base::readFile(RAKUGO_SOURCE_DIR "/examples/downloads/fish_crate.zip"), "c")
            .value();
    base::Bytes& obj = files.at("fish crate/fish_crate.obj");
    std::string all(base::asText(obj));
    for (size_t at = 0; (at = all.find("handles\n", at)) != std::string::npos; at += handles.size())
      if (all.compare(at - 2, 2, "o ") == 0) all.replace(at, 7, handles);
    obj.assign(base::asBytes(all).begin(), base::asBytes(all).end());
    const auto packed = formats::writeZip(files).value();
    return std::string(base::asText(packed));
  }
  const mod::SourceDoc& source(const char* name) { return session().state().sources.at(name); }
  bool waits(const char* name) {
    return QTest::qWaitFor([&] { return window_->sourceWork().waiting(name) != nullptr; },
                           test::kPatience_ms) &&
           test::settle(*window_);
  }
};

// The whole of it: drop a download, find its picture, take its unit, take a newer version with a part that
// has another name now, and take it all back.
TEST_F(SourcesWindowTest, ADownloadIsTakenInRenewedAndTakenBack) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  put("down/fish_crate.zip", crate("handles"));
  drop({path("down/fish_crate.zip")});
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(session().state().sources.count("fish-crate") == 1); },
                      test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(text("source-title"), QStringLiteral("fish_crate.obj"));
  ASSERT_TRUE(text("origin").contains(QStringLiteral("fish_crate.zip")));

  // Missing under the name it is asked for, and found in the archive under another.
  ASSERT_EQ(findingsOf("picture.missing").size(), 1);
  ASSERT_TRUE(text("missing-textures/planks.png").contains(QStringLiteral("missing")));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>(test::find<QPushButton>(*window_, "take-picture-textures/planks.png-0"));
      },
      test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "take-picture-textures/planks.png-0"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(findingsOf("picture.missing").isEmpty());
  ASSERT_TRUE(text("missing-textures/planks.png").isEmpty());
  ASSERT_TRUE(std::filesystem::exists(session().folder() / "sources/fish-crate/found/Planks_Color.png"));

  ASSERT_TRUE(text("propose-unit-title").contains(QStringLiteral("centimetres")));
  ASSERT_TRUE(test::click(*window_, "propose-unit"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "propose-unit") == nullptr);
  ASSERT_EQ(std::lround(scene::boundsOf(*session().prepared()->prepared.model).size().x * 100), 92L);

  session().edit(QStringLiteral("Drop the handles"), [](mod::ModState& state) {
    mod::ModelDoc& doc = state.models.at("fish-crate");
    doc.steps.push_back(prepare::makeStep(doc, "drop", base::Json{{"parts", {"handles"}}}));
  });
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(scene::countsOf(*session().prepared()->prepared.model).parts, uint64_t{1});

  // Its maker exports it again.
  put("down/fish_crate.zip", crate("grips"));
  ASSERT_TRUE(waits("fish-crate"));
  ASSERT_TRUE(text("newer-differences").contains(QStringLiteral("grips")))
      << qPrintable(text("newer-differences"));
  ASSERT_TRUE(text("misfit-0").contains(QStringLiteral("handles")));
  auto* follow = test::find<QCheckBox>(*window_, "follow-0");
  ASSERT_TRUE(follow != nullptr && follow->isChecked());
  ASSERT_EQ(source("fish-crate").file, std::string("fish_crate.obj"));  // nothing is taken yet
  const auto before = mod::documentTexts(session().state());

  ASSERT_TRUE(test::click(*window_, "take-newer"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(source("fish-crate").file, std::string("v2/fish_crate.obj"));
  ASSERT_EQ(session().state().models.at("fish-crate").steps.back().values["parts"],
            base::Json::array({"grips"}));
  // Every step holds: the part is dropped, the unit read, the picture there.
  ASSERT_EQ(scene::countsOf(*session().prepared()->prepared.model).parts, uint64_t{1});
  ASSERT_TRUE(findingsOf("picture.missing").isEmpty());
  ASSERT_TRUE(findingsOf("step.misses").isEmpty());
  ASSERT_TRUE(findingsOf("file.unused").isEmpty());
  ASSERT_TRUE(test::find<QPushButton>(*window_, "go-back-0") != nullptr);

  // One undo brings all back.
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(mod::documentTexts(session().state()), before);
  ASSERT_EQ(scene::countsOf(*session().prepared()->prepared.model).parts, uint64_t{1});
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  ASSERT_TRUE(test::settle(*window_));
  // And so does going back to the older version, but for the step, which says what it misses.
  ASSERT_TRUE(test::click(*window_, "go-back-0"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(source("fish-crate").file, std::string("fish_crate.obj"));
  ASSERT_EQ(findingsOf("step.misses").size(), 1);
}

TEST_F(SourcesWindowTest, AProposalThatIsNotWantedIsLeftOut) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  put("down/fish_crate.zip", crate("handles"));
  drop({path("down/fish_crate.zip")});
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(session().state().sources.count("fish-crate") == 1); },
                      test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  session().edit(QStringLiteral("Drop"), [](mod::ModState& state) {
    mod::ModelDoc& doc = state.models.at("fish-crate");
    doc.steps.push_back(prepare::makeStep(doc, "drop", base::Json{{"parts", {"handles"}}}));
  });
  ASSERT_TRUE(test::settle(*window_));
  put("down/fish_crate.zip", crate("grips"));
  ASSERT_TRUE(waits("fish-crate"));
  ASSERT_TRUE(test::click(*window_, "follow-0"));
  ASSERT_TRUE(test::click(*window_, "take-newer"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("fish-crate").steps.back().values["parts"],
            base::Json::array({"handles"}));
  ASSERT_EQ(findingsOf("step.misses").size(), 1);
}

TEST_F(SourcesWindowTest, ADamagedNewerVersionIsSaidAndCanBeLeft) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  drop({path("down/peg.obj")});
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(session().state().sources.count("peg") == 1); },
                              test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  const auto before = mod::documentTexts(session().state());
  put("down/peg.obj", "o peg\nv 0 0 0\nf 1 2 3\n");
  ASSERT_TRUE(waits("peg"));
  ASSERT_TRUE(text("newer-title").contains(QStringLiteral("cannot be read")));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "take-newer") == nullptr);
  ASSERT_TRUE(test::click(*window_, "leave-newer"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(window_->sourceWork().waiting("peg") == nullptr);
  ASSERT_EQ(mod::documentTexts(session().state()), before);
  // What is left is not told of again, until the file changes again.
  put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 3 0\nf 1 2 3\n");
  ASSERT_TRUE(waits("peg"));
  ASSERT_TRUE(text("newer-title").contains(QStringLiteral("newer version")));
}

TEST_F(SourcesWindowTest, AVersionMadeWhileTheModWasClosedIsSeenWhenItIsOpened) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  drop({path("down/peg.obj")});
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(session().state().sources.count("peg") == 1); },
                              test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  session().save();
  ASSERT_TRUE(test::settle(*window_));
  window_.reset();
  put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 2 0\nf 1 2 3\n");
  newWindow();
  ASSERT_TRUE(open(mod));
  ASSERT_TRUE(waits("peg"));
}

TEST_F(SourcesWindowTest, SeveralThingsAreTakenAtOnceAndOneUndoTakesThemBack) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  put("in/a.obj", "o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  put("in/b.obj", "o b\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  put("in/bad.obj", "v 0\nf 1 2\n");
  put("in/oak.txt", "no source");
  const auto before = mod::documentTexts(session().state());
  QSignalSpy added(&window_->sourceWork(), &app::SourceWork::added);
  drop({path("in/a.obj"), path("in/b.obj"), path("in/bad.obj")});
  (void)QTest::qWaitFor([&] { return added.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(added.size(), 1);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().sources.size(), size_t{3});
  ASSERT_TRUE(told().contains(QStringLiteral("bad.obj"))) << qPrintable(told());
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_EQ(mod::documentTexts(session().state()), before);
  ASSERT_TRUE(test::settle(*window_));
}

TEST_F(SourcesWindowTest, OfAFolderTheModelsAreChosen) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  put("kit/post.obj", "o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  put("kit/more/rail.obj", "o b\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  put("kit/more/rail.stl", "solid x\nendsolid x\n");
  QStringList shown;
  whenDialogOpens("choose-sources", [&](QWidget& dialog) {
    auto* list = test::find<QListWidget>(dialog, "choose-sources-lines");
    for (int i = 0; i < list->count(); ++i)
      shown << list->item(i)->text() +
                   (list->item(i)->checkState() == Qt::Checked ? QStringLiteral(" +") : QString());
    // With keys: the first is left out.
    list->setFocus();
    list->setCurrentRow(1);
    QTest::keyClick(list, Qt::Key_Space);
    press(dialog, "choose-sources-yes");
  });
  drop({path("kit")});
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(session().state().sources.count("post") == 1); },
                              test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(shown, (QStringList{QStringLiteral("rail.obj +"), QStringLiteral("rail.stl"),
                                QStringLiteral("post.obj +")}));
  ASSERT_EQ(session().state().sources.size(), size_t{3});
}

TEST_F(SourcesWindowTest, ASoundIsSeenAndAPictureLookedAt) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  std::string wav(
      "RIFF\x24\x10\0\0WAVEfmt \x10\0\0\0\1\0\1\0\x40\x1f\0\0\x80\x3e\0\0\2\0\x10\0data\0\x10\0\0", 44);
  for (int i = 0; i < 2048; ++i) {
    const auto v = static_cast<int16_t>(12000 * std::sin(i * 0.2));
    wav += static_cast<char>(v & 0xff);
    wav += static_cast<char>(v >> 8);
  }
  put("in/hoot.wav", wav);
  QImage(40, 20, QImage::Format_RGB32).save(path("in/sign.png"));
  drop({path("in/hoot.wav"), path("in/sign.png")});
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(session().state().sources.count("hoot") == 1); },
                              test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.size(), size_t{1});  // neither is a model
  ASSERT_TRUE(test::clickRow(*window_, "source-hoot"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::find<QWidget>(*window_, "wave") != nullptr);
  auto* hear = test::find<QPushButton>(*window_, "hear");
  ASSERT_TRUE(hear != nullptr);
  // Where nothing can be heard the station says so, and the wave stays.
  ASSERT_EQ(hear->isEnabled(), text("no-sound").isEmpty());
  ASSERT_TRUE(test::clickRow(*window_, "source-sign"));
  ASSERT_TRUE(test::settle(*window_));
  auto* picture = test::find<QLabel>(*window_, "picture-view");
  ASSERT_TRUE(picture != nullptr && !picture->pixmap().isNull());
  ASSERT_TRUE(findingsOf("source.unreadable").isEmpty());
}

TEST_F(SourcesWindowTest, LicencesAreChosenByTheirIdentifiersAndSayWhatTheyAsk) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::sources);
  auto* choice = test::find<QComboBox>(*window_, "licence-choice");
  ASSERT_TRUE(choice != nullptr);
  ASSERT_EQ(choice->currentText(), QStringLiteral("CC-BY-4.0"));
  choice->lineEdit()->setFocus();
  choice->lineEdit()->selectAll();
  QTest::keyClicks(choice->lineEdit(), QStringLiteral("CC-BY-ND-4.0"));
  QTest::keyClick(choice->lineEdit(), Qt::Key_Return);
  ASSERT_EQ(source("quay-lamp").licence, std::string("CC-BY-ND-4.0"));
  ASSERT_TRUE(text("licence-demand").contains(QStringLiteral("ask the author")));
  // Without one there is a finding, and it leads to the field.
  choice->lineEdit()->selectAll();
  QTest::keyClick(choice->lineEdit(), Qt::Key_Delete);
  QTest::keyClick(choice->lineEdit(), Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findingsOf("credit.missing").size(), 1);
}

TEST_F(SourcesWindowTest, ThePreparedModelIsWrittenAndReadsTheSame) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  QSignalSpy told(&window_->sourceWork(), &app::SourceWork::told);
  window_->sourceWork().exportModel("quay-lamp", test::s8(path("out/lamp.obj")));
  (void)QTest::qWaitFor([&] { return told.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(told.size(), 1);
  ASSERT_TRUE(told.at(0).at(0).toBool());
  const auto back = formats::readModelFile(test::s8(path("out/lamp.obj")));
  ASSERT_TRUE(back.ok());
  ASSERT_EQ(scene::countsOf(back->model).triangles,
            scene::countsOf(*session().prepared()->prepared.model).triangles);
  for (const scene::Image& image : back->model.images) ASSERT_TRUE(image.bytes != nullptr);
  window_->sourceWork().exportModel("quay-lamp", test::s8(path("out/lamp.xyz")));
  (void)QTest::qWaitFor([&] { return told.size() == 2; }, test::kPatience_ms);
  ASSERT_EQ(told.size(), 2);
  ASSERT_TRUE(!told.at(1).at(0).toBool());
}

TEST_F(SourcesWindowTest, TheListAgreesWithTheModThroughAnyEdits) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::sources);
  auto* list = test::find<QListView>(*window_, "source-list");
  ASSERT_TRUE(list != nullptr);
  const QAbstractItemModelTester tester(list->model(), QAbstractItemModelTester::FailureReportingMode::Fatal);
  for (int round = 0; round < 40; ++round) {
    session().edit(QStringLiteral("Edit"), [&](mod::ModState& state) {
      const std::string name = "s" + std::to_string(round * 7 % 11);
      if (state.sources.count(name) != 0) {
        state.sources.erase(name);
      } else {
        state.sources[name].file = name + ".glb";
      }
    });
    ASSERT_EQ(list->model()->rowCount(), static_cast<int>(session().state().sources.size()));
    if (round % 3 == 0) session().undo();
    if (round % 5 == 0) session().redo();
    ASSERT_EQ(list->model()->rowCount(), static_cast<int>(session().state().sources.size()));
  }
  ASSERT_TRUE(test::settle(*window_));
}
