// The Shape station with mouse and keys: how the mesh hangs together, place by place, and mended.
#include "app/widgets/gauge.h"
#include "base/files.h"
#include "formats/gltf/gltf.h"
#include "window_fixture.h"

#include <QScrollArea>

using namespace rakugo;

class ShapeWindowTest : public test::WindowFixture {
 protected:
  QString text(const char* label) {
    auto* found = test::find<QLabel>(*window_, label);
    return found != nullptr ? found->text() : QString();
  }
  QString button(const char* name) {
    auto* found = test::find<QPushButton>(*window_, name);
    return found != nullptr ? found->text() : QString();
  }
};

TEST_F(ShapeWindowTest, FaultsAreWalkedFromPlaceToPlace) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(text("structure-facts").contains(QStringLiteral("open borders")))
      << qPrintable(text("structure-facts"));
  ASSERT_EQ(button("fault-open_edges"), QStringLiteral("508 open edges"));
  ASSERT_TRUE(test::click(*window_, "fault-open_edges"));
  const auto marks = window_->bench().marks();
  ASSERT_EQ(marks.size(), scene::kMostMarks);
  ASSERT_EQ(text("fault-place"), QStringLiteral("Place 1 of 200"));
  // What it does in the game; a button says what to do.
  ASSERT_TRUE(text("fault-meaning").startsWith(QStringLiteral("From behind one looks through")));
  ASSERT_TRUE(!text("fault-meaning").contains(QStringLiteral("Fill the holes")));
  ASSERT_EQ(button("mend-open_edges"), QStringLiteral("Fill the holes"));
  ASSERT_TRUE(window_->bench().lookedAt() == marks[0]);
  ASSERT_TRUE(test::click(*window_, "fault-next"));
  ASSERT_EQ(text("fault-place"), QStringLiteral("Place 2 of 200"));
  ASSERT_TRUE(window_->bench().lookedAt() == marks[1]);
  ASSERT_TRUE(test::click(*window_, "fault-before"));
  ASSERT_TRUE(test::click(*window_, "fault-before"));
  ASSERT_EQ(text("fault-place"), QStringLiteral("Place 200 of 200"));
  // One part alone, and the walk is over.
  ASSERT_TRUE(test::click(*window_, "part-quay_lamp/post"));
  ASSERT_EQ(button("fault-open_edges"), QStringLiteral("24 open edges"));
  ASSERT_TRUE(text("fault-place").isEmpty());
  ASSERT_TRUE(text("structure-facts").startsWith(QStringLiteral("1 shell · 1 open border")));
  ASSERT_TRUE(text("structure-facts").endsWith(QStringLiteral("indices of 16 bits")));
}

TEST_F(ShapeWindowTest, APartsPivotIsPutWhereItIsClicked) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "pivot-centre") == nullptr);
  ASSERT_TRUE(test::click(*window_, "part-quay_lamp/lantern"));
  const auto pivot = [&] {
    const auto& model = *window_->session().prepared()->prepared.model;
    return glm::vec3(scene::worldMatrices(model)[scene::findPart(model, "quay_lamp/lantern").value()][3]);
  };
  const auto box = [&] {
    const auto& model = *window_->session().prepared()->prepared.model;
    return scene::partBounds(model, scene::findPart(model, "quay_lamp/lantern"), scene::worldMatrices(model));
  };
  const geometry::Bounds stood = box();
  ASSERT_TRUE(pivot() == glm::vec3(0));
  ASSERT_TRUE(test::click(*window_, "pivot-centre"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(glm::distance(pivot(), stood.center()) < 1e-4F);
  ASSERT_TRUE(glm::distance(box().center(), stood.center()) < 1e-4F);
  // The axes of the part cross there.
  const auto crosses = [&](const app::Bench::Line& line) {
    return line.places.size() == 2 &&
           glm::distance((line.places[0] + line.places[1]) / 2.0F, pivot()) < 1e-3F;
  };
  ASSERT_EQ(std::count_if(window_->bench().lines().begin(), window_->bench().lines().end(), crosses), 3);
  // Clicked in the bench: the same step says another place.
  ASSERT_TRUE(test::click(*window_, "pick-pivot"));
  ASSERT_TRUE(window_->bench().tool() == app::Bench::Tool::pick_pivot);
  for (int y = -60; y < 160 && window_->bench().tool() == app::Bench::Tool::pick_pivot; y += 4) {
    const QPoint at = window_->bench().rect().center() - QPoint(0, y);
    QTest::mouseMove(&window_->bench(), at);
    QTest::mouseClick(&window_->bench(), Qt::LeftButton, {}, at);
  }
  ASSERT_TRUE(window_->bench().tool() == app::Bench::Tool::look_round);
  ASSERT_TRUE(test::settle(*window_));
  const auto& steps = window_->session().state().models.at("quay-lamp").steps;
  ASSERT_EQ(std::count_if(steps.begin(), steps.end(), [](const auto& s) { return s.kind == "pivot"; }), 1);
  ASSERT_TRUE(glm::distance(pivot(), stood.center()) > 1e-3F);
  ASSERT_TRUE(glm::distance(box().center(), stood.center()) < 1e-4F);
  window_->session().undo();
  window_->session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(pivot() == glm::vec3(0));
}

TEST_F(ShapeWindowTest, AttachmentPointsAreTakenFromWhatStandsBehind) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  auto& session = window_->session();
  const auto points = [&]() -> const auto& { return session.state().models.at("quay-lamp").points; };
  // Another maker's lamp: a file in the game's axes, with an empty where the light is and one of its own.
  scene::Model other = *session.prepared()->prepared.model;
  for (const auto& [name, at] : {std::pair("light", glm::vec3(0.4F, 0.1F, 2)), {"maker", glm::vec3(1)}}) {
    scene::Node empty;
    empty.name = name;
    empty.local.position = at;
    other.roots.emplace_back(other.nodes.size());
    other.nodes.push_back(empty);
  }
  const auto file = session.folder().parent_path() / "other.glb";
  ASSERT_TRUE(base::writeFileAtomic(file, formats::writeGlb(other)).ok());
  session.setGhost({app::GhostChoice::Sort::file, file.string()});
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(window_->bench().scene()->ghost_title == "other.glb"); },
                      test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  // Both have a light, elsewhere: that is said, and nothing is to be taken.
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "beside-more") != nullptr); },
      test::kPatience_ms));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "beside-points") == nullptr);
  session.edit(QStringLiteral("Clear"),
               [](mod::ModState& mod) { mod.models.at("quay-lamp").points.clear(); });
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "beside-points") != nullptr); },
      test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "beside-points"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(points().size(), size_t{1});  // the game knows no "maker"
  ASSERT_EQ(points()[0].id, std::string("light"));
  const auto& at = window_->bench().scene()->ghost_points.at(0).position;
  for (size_t i = 0; i < 3; ++i)
    ASSERT_TRUE(std::abs(points()[0].position_m[i] - static_cast<double>(at[static_cast<int>(i)])) < 1e-3);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "beside-points") == nullptr); },
      test::kPatience_ms));
}

TEST_F(ShapeWindowTest, AThoroughLookFindsWhatCostsMoreAndHoldsUntilTheModelChanges) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(button("fault-self_intersections").isEmpty());
  ASSERT_TRUE(test::click(*window_, "look-thoroughly"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(!button("fault-self_intersections").isEmpty()); }, test::kPatience_ms));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "look-thoroughly") == nullptr);
  ASSERT_TRUE(button("fault-hidden_triangles").contains(QStringLiteral("hidden inside")));
  // Nothing of it makes the column wider than what is seen of it.
  for (auto* area : window_->findChildren<QScrollArea*>())
    if (area->isVisible() && area->widget() != nullptr)
      ASSERT_TRUE(area->widget()->width() <= area->viewport()->width()) << qPrintable(area->objectName());
  ASSERT_TRUE(test::click(*window_, "drop-quay_lamp/post"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(button("fault-self_intersections").isEmpty());
  ASSERT_TRUE(test::find<QPushButton>(*window_, "look-thoroughly") != nullptr);
}

TEST_F(ShapeWindowTest, OfCopiesOneIsKeptAndTheOthersPlacesAreNoted) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  // Its maker has put a second and a third foot beside the lamp.
  const auto file = std::filesystem::path(test::s8(mod)) / "sources/quay-lamp/quay_lamp.glb";
  auto read = formats::readModelFile(file);
  ASSERT_TRUE(read.ok());
  scene::Model& model = read->model;
  const scene::NodeIndex foot = scene::findPart(model, "quay_lamp/foot");
  ASSERT_TRUE(foot.valid());
  for (const float x : {120.0F, 240.0F}) {
    scene::Node copy = model.node(foot);
    copy.name = "foot";
    copy.local.position.x += x;
    model.node(copy.parent).children.emplace_back(model.nodes.size());
    model.nodes.push_back(copy);
  }
  ASSERT_TRUE(base::writeFileAtomic(file, formats::writeGlb(model)).ok());
  ASSERT_TRUE(open(mod));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "keep-one-quay_lamp/foot"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(scene::countsOf(*session().prepared()->prepared.model).parts, uint64_t{5});
  const auto& points = session().state().models.at("quay-lamp").points;
  ASSERT_EQ(points.size(), size_t{4});  // with the light's
  // Read as centimetres: 1.2 m apart.
  const auto at = [&](size_t i) {
    return glm::dvec3(points[i].position_m[0], points[i].position_m[1], points[i].position_m[2]);
  };
  ASSERT_TRUE(std::abs(glm::distance(at(1), at(2)) - 1.2) < 1e-3);
  ASSERT_TRUE(std::abs(glm::distance(at(2), at(3)) - 1.2) < 1e-3);
  // The first is where the foot that was kept stands now.
  const auto world = scene::worldMatrices(*session().prepared()->prepared.model);
  const auto kept =
      scene::partBounds(*session().prepared()->prepared.model,
                        scene::findPart(*session().prepared()->prepared.model, "quay_lamp/foot"), world);
  ASSERT_TRUE(glm::distance(glm::vec3(at(1)), kept.center()) < 1e-3F)
      << "the origin has moved with what is left";
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("quay-lamp").points.size(), size_t{1});
}

TEST_F(ShapeWindowTest, ALongVolumeIsReadWhole) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  auto* volume = window_->findChild<QLineEdit*>(QStringLiteral("gauge-volume"));
  ASSERT_TRUE(volume != nullptr);
  ASSERT_TRUE(volume->text().size() > 12) << "a lamp in centimetres holds millions of litres";
  ASSERT_TRUE(volume->fontMetrics().horizontalAdvance(volume->text()) < volume->contentsRect().width());
}

TEST_F(ShapeWindowTest, ALengthIsFittedAloneWhereProportionsAreNotKept) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  const glm::vec3 before = scene::boundsOf(*session().prepared()->prepared.model).size();
  ASSERT_TRUE(test::click(*window_, "keep-proportions"));
  for (const double wanted : {2.0, 3.0}) {
    auto* height = window_->findChildren<app::Gauge*>().front()->findChild<QLineEdit*>();
    ASSERT_TRUE(height != nullptr);
    height->setFocus();
    height->selectAll();
    QTest::keyClicks(height, QString::number(wanted) + QStringLiteral(" m"));
    QTest::keyClick(height, Qt::Key_Return);
    ASSERT_TRUE(test::settle(*window_));
    const glm::vec3 now = scene::boundsOf(*session().prepared()->prepared.model).size();
    ASSERT_TRUE(std::abs(static_cast<double>(now.z) - wanted) < 0.01) << qPrintable(QString::number(now.z));
    ASSERT_TRUE(std::abs(now.x - before.x) + std::abs(now.y - before.y) < 0.001F);
  }
  int stretches = 0;
  for (const auto& step : session().state().models.at("quay-lamp").steps) stretches += step.kind == "stretch";
  ASSERT_EQ(stretches, 1);
}

TEST_F(ShapeWindowTest, TheOriginIsPutWhereOneClicks) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  if (!window_->bench().works()) GTEST_SKIP() << "no OpenGL";
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  window_->bench().lookFrom(QStringLiteral("left"));
  const auto origin = [&] {
    for (const auto& step : session().state().models.at("quay-lamp").steps)
      if (step.kind == "origin") return step.values;
    return base::Json();
  };
  const auto before = scene::boundsOf(*session().prepared()->prepared.model);
  // Twice: the second time it is counted from where the first has put it.
  for (int round = 0; round < 2; ++round) {
    const auto was = scene::boundsOf(*session().prepared()->prepared.model);
    ASSERT_TRUE(test::click(*window_, "pick-origin"));
    // Somewhere on the post, half way up.
    const QPoint at = window_->bench().project(was.center())->toPoint();
    for (int x = -60; x < 60 && window_->bench().tool() == app::Bench::Tool::pick_point; x += 3) {
      QTest::mouseMove(&window_->bench(), at + QPoint(x, 0));
      QTest::mouseClick(&window_->bench(), Qt::LeftButton, {}, at + QPoint(x, 0));
    }
    ASSERT_EQ(window_->bench().tool(), app::Bench::Tool::look_round);
    ASSERT_TRUE(test::settle(*window_));
    ASSERT_EQ(origin()["to"], base::Json("point"));
    const auto now = scene::boundsOf(*session().prepared()->prepared.model);
    ASSERT_TRUE(glm::distance(now.size(), was.size()) < 1e-4F);
    // Half way up the lamp is the floor now.
    ASSERT_TRUE(std::abs(now.center().z) < 0.1F) << qPrintable(QString::number(now.center().z));
  }
  for (int i = 0; i < 2; ++i) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(glm::distance(scene::boundsOf(*session().prepared()->prepared.model).min, before.min) < 1e-5F);
}

TEST_F(ShapeWindowTest, TrianglesThatFaceTheWrongWayAreTurnedByOneClick) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  const auto file = std::filesystem::path(test::s8(mod)) / "sources/quay-lamp/quay_lamp.glb";
  auto read = formats::readModelFile(file);
  ASSERT_TRUE(read.ok());
  auto& indices = read->model.editMesh(scene::MeshIndex(1)).primitives[0].indices;
  for (const size_t t : {4U, 9U}) std::swap(indices[t * 3 + 1], indices[t * 3 + 2]);
  ASSERT_TRUE(base::writeFileAtomic(file, formats::writeGlb(read->model)).ok());
  ASSERT_TRUE(open(mod));
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(button("fault-flipped_triangles"), QStringLiteral("2 triangles face the wrong way"));
  ASSERT_TRUE(test::click(*window_, "mend-mesh.flipped"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(button("fault-flipped_triangles").isEmpty());
  for (const check::Finding& f : session().examination()->findings) ASSERT_TRUE(f.check != "mesh.flipped");
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(button("fault-flipped_triangles"), QStringLiteral("2 triangles face the wrong way"));
}
