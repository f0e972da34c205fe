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

#include "app/source_rows.h"
#include "base/files.h"
#include "formats/export.h"
#include "formats/zip.h"
#include "mod/store.h"
#include "prepare/step.h"
#include "support/random_edits.h"
#include "window_fixture.h"

using namespace rakugo;

class SourcesWindowTest : public test::WindowFixture {
  Q_OBJECT

  QString path(const char* name) { return folder_->path() + QLatin1Char('/') + QLatin1String(name); }
  void put(const char* name, std::string_view text) {
    QVERIFY(QDir().mkpath(QFileInfo(path(name)).absolutePath()));
    QVERIFY(base::writeFileAtomic(test::s8(path(name)), text));
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

 private Q_SLOTS:
  void init() { begin(); }
  void cleanup() { end(); }

  // The whole of it: drop a download, find its picture, take its unit, take a newer version with a part that
  // has another name now, and take it all back.
  void theJourney() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    put("down/fish_crate.zip", crate("handles"));
    drop({path("down/fish_crate.zip")});
    QTRY_VERIFY_WITH_TIMEOUT(session().state().sources.count("fish-crate") == 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    QCOMPARE(text("source-title"), QStringLiteral("fish_crate.obj"));
    QVERIFY(text("origin").contains(QStringLiteral("fish_crate.zip")));

    // Missing under the name it is asked for, and found in the archive under another.
    QCOMPARE(findingsOf("picture.missing").size(), 1);
    QVERIFY(text("missing-textures/planks.png").contains(QStringLiteral("missing")));
    QTRY_VERIFY_WITH_TIMEOUT(test::find<QPushButton>(*window_, "take-picture-textures/planks.png-0"),
                             test::kPatience_ms);
    QVERIFY(test::click(*window_, "take-picture-textures/planks.png-0"));
    QVERIFY(test::settle(*window_));
    QVERIFY(findingsOf("picture.missing").isEmpty());
    QVERIFY(text("missing-textures/planks.png").isEmpty());
    QVERIFY(std::filesystem::exists(session().folder() / "sources/fish-crate/found/Planks_Color.png"));

    QVERIFY(text("propose-unit-title").contains(QStringLiteral("centimetres")));
    QVERIFY(test::click(*window_, "propose-unit"));
    QVERIFY(test::settle(*window_));
    QVERIFY(test::find<QPushButton>(*window_, "propose-unit") == nullptr);
    QCOMPARE(std::lround(scene::boundsOf(*session().prepared()->prepared.model).size().x * 100), 92L);

    session().edit(QStringLiteral("Drop the handles"), [](mod::ModState& state) {
      mod::ModelDoc& doc = state.models.at("fish-crate");
      doc.steps.push_back(prepare::makeStep(doc, "drop", base::Json{{"parts", {"handles"}}}));
    });
    QVERIFY(test::settle(*window_));
    QCOMPARE(scene::countsOf(*session().prepared()->prepared.model).parts, uint64_t{1});

    // Its maker exports it again.
    put("down/fish_crate.zip", crate("grips"));
    QVERIFY(waits("fish-crate"));
    QVERIFY2(text("newer-differences").contains(QStringLiteral("grips")),
             qPrintable(text("newer-differences")));
    QVERIFY(text("misfit-0").contains(QStringLiteral("handles")));
    auto* follow = test::find<QCheckBox>(*window_, "follow-0");
    QVERIFY(follow != nullptr && follow->isChecked());
    QCOMPARE(source("fish-crate").file, std::string("fish_crate.obj"));  // nothing is taken yet
    const auto before = mod::documentTexts(session().state());

    QVERIFY(test::click(*window_, "take-newer"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(source("fish-crate").file, std::string("v2/fish_crate.obj"));
    QCOMPARE(session().state().models.at("fish-crate").steps.back().values["parts"],
             base::Json::array({"grips"}));
    // Every step holds: the part is dropped, the unit read, the picture there.
    QCOMPARE(scene::countsOf(*session().prepared()->prepared.model).parts, uint64_t{1});
    QVERIFY(findingsOf("picture.missing").isEmpty());
    QVERIFY(findingsOf("step.misses").isEmpty());
    QVERIFY(findingsOf("file.unused").isEmpty());
    QVERIFY(test::find<QPushButton>(*window_, "go-back-0") != nullptr);

    // One undo brings all back.
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(mod::documentTexts(session().state()), before);
    QCOMPARE(scene::countsOf(*session().prepared()->prepared.model).parts, uint64_t{1});
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(test::settle(*window_));
    // And so does going back to the older version, but for the step, which says what it misses.
    QVERIFY(test::click(*window_, "go-back-0"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(source("fish-crate").file, std::string("fish_crate.obj"));
    QCOMPARE(findingsOf("step.misses").size(), 1);
  }

  void aProposalThatIsNotWantedIsLeftOut() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    put("down/fish_crate.zip", crate("handles"));
    drop({path("down/fish_crate.zip")});
    QTRY_VERIFY_WITH_TIMEOUT(session().state().sources.count("fish-crate") == 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    session().edit(QStringLiteral("Drop"), [](mod::ModState& state) {
      mod::ModelDoc& doc = state.models.at("fish-crate");
      doc.steps.push_back(prepare::makeStep(doc, "drop", base::Json{{"parts", {"handles"}}}));
    });
    QVERIFY(test::settle(*window_));
    put("down/fish_crate.zip", crate("grips"));
    QVERIFY(waits("fish-crate"));
    QVERIFY(test::click(*window_, "follow-0"));
    QVERIFY(test::click(*window_, "take-newer"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("fish-crate").steps.back().values["parts"],
             base::Json::array({"handles"}));
    QCOMPARE(findingsOf("step.misses").size(), 1);
  }

  void aDamagedNewerVersionIsSaidAndCanBeLeft() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    drop({path("down/peg.obj")});
    QTRY_VERIFY_WITH_TIMEOUT(session().state().sources.count("peg") == 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    const auto before = mod::documentTexts(session().state());
    put("down/peg.obj", "o peg\nv 0 0 0\nf 1 2 3\n");
    QVERIFY(waits("peg"));
    QVERIFY(text("newer-title").contains(QStringLiteral("cannot be read")));
    QVERIFY(test::find<QPushButton>(*window_, "take-newer") == nullptr);
    QVERIFY(test::click(*window_, "leave-newer"));
    QVERIFY(test::settle(*window_));
    QVERIFY(window_->sourceWork().waiting("peg") == nullptr);
    QCOMPARE(mod::documentTexts(session().state()), before);
    // What is left is not told of again, until the file changes again.
    put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 3 0\nf 1 2 3\n");
    QVERIFY(waits("peg"));
    QVERIFY(text("newer-title").contains(QStringLiteral("newer version")));
  }

  void aVersionMadeWhileTheModWasClosedIsSeenWhenItIsOpened() {
    const QString mod = test::copyOfMod(*folder_, "lamplight");
    QVERIFY(open(mod));
    put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    drop({path("down/peg.obj")});
    QTRY_VERIFY_WITH_TIMEOUT(session().state().sources.count("peg") == 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    session().save();
    QVERIFY(test::settle(*window_));
    window_.reset();
    put("down/peg.obj", "o peg\nv 0 0 0\nv 1 0 0\nv 0 2 0\nf 1 2 3\n");
    newWindow();
    QVERIFY(open(mod));
    QVERIFY(waits("peg"));
  }

  void severalThingsAreTakenAtOnceAndOneUndoTakesThemBack() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    put("in/a.obj", "o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    put("in/b.obj", "o b\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    put("in/bad.obj", "v 0\nf 1 2\n");
    put("in/oak.txt", "no source");
    const auto before = mod::documentTexts(session().state());
    QSignalSpy added(&window_->sourceWork(), &app::SourceWork::added);
    drop({path("in/a.obj"), path("in/b.obj"), path("in/bad.obj")});
    QTRY_COMPARE_WITH_TIMEOUT(added.size(), 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().sources.size(), size_t{3});
    QVERIFY2(told().contains(QStringLiteral("bad.obj")), qPrintable(told()));
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(mod::documentTexts(session().state()), before);
    QVERIFY(test::settle(*window_));
  }

  void ofAFolderTheModelsAreChosen() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
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
    QTRY_VERIFY_WITH_TIMEOUT(session().state().sources.count("post") == 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    QCOMPARE(shown, (QStringList{QStringLiteral("rail.obj +"), QStringLiteral("rail.stl"),
                                 QStringLiteral("post.obj +")}));
    QCOMPARE(session().state().sources.size(), size_t{3});
  }

  void aSoundIsSeenAndAPictureLookedAt() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
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
    QTRY_VERIFY_WITH_TIMEOUT(session().state().sources.count("hoot") == 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.size(), size_t{1});  // neither is a model
    QVERIFY(test::click(*window_, "source-hoot"));
    QVERIFY(test::settle(*window_));
    QVERIFY(test::find<QWidget>(*window_, "wave") != nullptr);
    auto* hear = test::find<QPushButton>(*window_, "hear");
    QVERIFY(hear != nullptr);
    // Where nothing can be heard the station says so, and the wave stays.
    QCOMPARE(hear->isEnabled(), text("no-sound").isEmpty());
    QVERIFY(test::click(*window_, "source-sign"));
    QVERIFY(test::settle(*window_));
    auto* picture = test::find<QLabel>(*window_, "picture-view");
    QVERIFY(picture != nullptr && !picture->pixmap().isNull());
    QVERIFY(findingsOf("source.unreadable").isEmpty());
  }

  void licencesAreChosenByTheirIdentifiersAndSayWhatTheyAsk() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    window_->setStation(app::Station::sources);
    auto* choice = test::find<QComboBox>(*window_, "licence-choice");
    QVERIFY(choice != nullptr);
    QCOMPARE(choice->currentText(), QStringLiteral("CC-BY-4.0"));
    choice->lineEdit()->setFocus();
    choice->lineEdit()->selectAll();
    QTest::keyClicks(choice->lineEdit(), QStringLiteral("CC-BY-ND-4.0"));
    QTest::keyClick(choice->lineEdit(), Qt::Key_Return);
    QCOMPARE(source("quay-lamp").licence, std::string("CC-BY-ND-4.0"));
    QVERIFY(text("licence-demand").contains(QStringLiteral("ask the author")));
    // Without one there is a finding, and it leads to the field.
    choice->lineEdit()->selectAll();
    QTest::keyClick(choice->lineEdit(), Qt::Key_Delete);
    QTest::keyClick(choice->lineEdit(), Qt::Key_Return);
    QVERIFY(test::settle(*window_));
    QCOMPARE(findingsOf("credit.missing").size(), 1);
  }

  void thePreparedModelIsWrittenAndReadsTheSame() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    QSignalSpy told(&window_->sourceWork(), &app::SourceWork::told);
    window_->sourceWork().exportModel("quay-lamp", test::s8(path("out/lamp.obj")));
    QTRY_COMPARE_WITH_TIMEOUT(told.size(), 1, test::kPatience_ms);
    QVERIFY(told.at(0).at(0).toBool());
    const auto back = formats::readModelFile(test::s8(path("out/lamp.obj")));
    QVERIFY(back.ok());
    QCOMPARE(scene::countsOf(back->model).triangles,
             scene::countsOf(*session().prepared()->prepared.model).triangles);
    for (const scene::Image& image : back->model.images) QVERIFY(image.bytes != nullptr);
    window_->sourceWork().exportModel("quay-lamp", test::s8(path("out/lamp.xyz")));
    QTRY_COMPARE_WITH_TIMEOUT(told.size(), 2, test::kPatience_ms);
    QVERIFY(!told.at(1).at(0).toBool());
  }

  void theListAgreesWithTheModThroughAnyEdits() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    window_->setStation(app::Station::sources);
    auto* list = test::find<QListView>(*window_, "source-list");
    QVERIFY(list != nullptr);
    const QAbstractItemModelTester tester(list->model(),
                                          QAbstractItemModelTester::FailureReportingMode::Fatal);
    for (int round = 0; round < 40; ++round) {
      session().edit(QStringLiteral("Edit"), [&](mod::ModState& state) {
        const std::string name = "s" + std::to_string(round * 7 % 11);
        if (state.sources.count(name) != 0) {
          state.sources.erase(name);
        } else {
          state.sources[name].file = name + ".glb";
        }
      });
      QCOMPARE(list->model()->rowCount(), static_cast<int>(session().state().sources.size()));
      if (round % 3 == 0) session().undo();
      if (round % 5 == 0) session().redo();
      QCOMPARE(list->model()->rowCount(), static_cast<int>(session().state().sources.size()));
    }
    QVERIFY(test::settle(*window_));
  }
};

int main(int argc, char** argv) { return test::runTests<SourcesWindowTest>(argc, argv); }
#include "sources_window_test.moc"
