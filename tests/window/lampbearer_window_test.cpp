// The journey of a surface: nine materials of four makers, two broken, become one whose lamps are lit at
// night, in the bench and in the game.
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSlider>

#include "app/stations/surface/picture_sheet.h"
#include "formats/pictures/pictures.h"
#include "packing/package.h"
#include "prepare/edit_steps.h"
#include "window_fixture.h"

namespace rakugo {

class LampbearerWindowTest : public test::WindowFixture {
 protected:
  const scene::Model& model() { return *session().prepared()->prepared.model; }
  size_t worn() { return scene::usedMaterials(model()).size(); }
  bool finds(const char* check) {
    for (const check::Finding& f : session().examination()->findings)
      if (f.check == check && !f.set_aside) return true;
    return false;
  }
  bool mend(const char* check) {
    QWidget* button = test::chooseFinding(*window_, check, "mend-");
    if (button == nullptr) return false;
    if (!test::click(*window_, (std::string("mend-") + check).c_str())) return false;
    return test::settle(*window_);
  }
};

TEST_F(LampbearerWindowTest, NineMaterialsBecomeOneWhoseLampsAreLitAtNight) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lampbearer")));
  window_->setStation(app::Station::surface);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(worn(), 9U);
  EXPECT_TRUE(finds("materials.limit")) << "more than the game takes";
  test::look(*window_, "lampbearer-before");
  // The two that are broken, by their mends.
  ASSERT_TRUE(mend("materials.transparent"));
  ASSERT_TRUE(mend("materials.black"));
  EXPECT_FALSE(finds("materials.transparent"));
  EXPECT_FALSE(finds("materials.black"));
  // All nine chosen together, and a role for all of them.
  for (const scene::MaterialIndex m : scene::usedMaterials(model()))
    ASSERT_TRUE(test::click(*window_, ("together-" + model().materials[m.value()].key).c_str()));
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QComboBox>(*window_, "together-role") != nullptr; },
                              test::kPatience_ms));
  auto* roles = test::find<QComboBox>(*window_, "together-role");
  const int lamp = roles->findData(QStringLiteral("lamp"));
  ASSERT_GT(lamp, 0);
  roles->setCurrentIndex(lamp);
  Q_EMIT roles->activated(lamp);
  ASSERT_TRUE(test::settle(*window_));
  // What merging would bring is said, and is so.
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QLabel>(*window_, "merge-brings-0") != nullptr; },
                              test::kPatience_ms));
  EXPECT_TRUE(test::find<QLabel>(*window_, "merge-brings-0")
                  ->text()
                  .contains(QStringLiteral("Materials: 9, then 1 · draws: 9, then 4")))
      << test::s8(test::find<QLabel>(*window_, "merge-brings-0")->text());
  ASSERT_TRUE(test::click(*window_, "merge-0"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(worn(), 1U);
  EXPECT_FALSE(finds("materials.limit"));
  EXPECT_FALSE(finds("role.missing"));
  // What glows is a picture: the lenses, and nothing else.
  const scene::Material& one = model().materials[scene::usedMaterials(model())[0].value()];
  EXPECT_EQ(one.role, "lamp");
  ASSERT_TRUE(one.emissive_texture.image.valid());
  ASSERT_TRUE(test::click(*window_, "sheet-beside"));
  auto& sheet = *window_->findChild<app::PictureSheet*>();
  ASSERT_TRUE(QTest::qWaitFor([&] { return sheet.canvas().map() != nullptr; }, test::kPatience_ms));
  test::look(*window_, "lampbearer-after");
  ASSERT_TRUE(test::click(*window_, "sheet-beside"));
  session().save();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
  const auto saved = mod::loadMod(session().folder());
  EXPECT_EQ(saved->models.at("lamp-bearer").steps.back().kind, "atlas");
  ASSERT_TRUE(test::click(*window_, "look-by-night"));
  QTest::qWait(80);
  test::look(*window_, "lampbearer-night");
  if (app::Bench::platformHasOpenGl()) {
    // Bright where the lenses are, dark where the coat is.
    app::Bench& bench = *window_->findChild<app::Bench*>();
    const QImage seen = bench.grabFramebuffer();
    const auto brightest = [&](const char* part) {
      int out = 0;
      for (const app::BenchPart& p : session().scene()->parts)
        if (p.name == part)
          for (const glm::vec3& place : p.places) {
            const auto at = bench.project(glm::vec3(p.world * glm::vec4(place, 1)));
            const QPoint pixel = at ? (*at * bench.devicePixelRatioF()).toPoint() : QPoint(-1, -1);
            if (seen.rect().contains(pixel)) out = std::max(out, qGray(seen.pixel(pixel)));
          }
      return out;
    };
    EXPECT_GT(brightest("lens left"), 150);
  }
  // The same in the game, from the bundle alone.
  session().build();
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return std::filesystem::exists(session().output()) && !session().working(); },
                      test::kPatience_ms));
}

TEST_F(LampbearerWindowTest, TwoModelsShareOneSheet) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lampbearer")));
  window_->setStation(app::Station::surface);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(window_->findChild<QPushButton*>(QStringLiteral("share-sheet")), nullptr);
  session().edit(QStringLiteral("A second one, both merged"), [](mod::ModState& s) {
    s.models["twin"] = s.models["lamp-bearer"];
    s.objects["twin"] = s.objects["lamp-bearer"];
    s.objects["twin"].pieces[0].model = "twin";
    for (const char* name : {"lamp-bearer", "twin"})
      prepare::setOrAddStep(s.models[name], "atlas",
                            base::Json{{"materials", {"hat_mat", "Face Oak", "m04.belt"}}, {"name", name}});
  });
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QPushButton>(*window_, "share-sheet") != nullptr; },
                              test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "share-sheet"));
  ASSERT_TRUE(test::settle(*window_));
  session().save();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
  const auto saved = mod::loadMod(session().folder());
  std::set<std::string> parts;
  for (const char* name : {"lamp-bearer", "twin"}) {
    const mod::StepDoc& step = saved->models.at(name).steps.back();
    EXPECT_EQ(step.values["name"], "lamp-bearer");
    EXPECT_LE(step.values["side"].get<int>(), 512) << "as large as both need";
    parts.insert(step.values["part"].get<std::string>());
  }
  EXPECT_EQ(parts, (std::set<std::string>{"quarter_1", "quarter_2"}));
  bool told = false;
  QTest::qWait(200);
  for (const auto* label : window_->findChildren<QLabel*>())
    told = told || (label->isVisible() && label->text().contains(QStringLiteral("is shared with twin")));
  EXPECT_TRUE(told);
  test::look(*window_, "lampbearer-shared");
}

}  // namespace rakugo
