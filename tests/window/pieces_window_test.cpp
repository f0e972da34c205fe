// The Objects station: what an object is made of, by mouse, by number, saved and opened again.
#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QDragEnterEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QScrollArea>
#include <QUrl>

#include "app/stations/objects/pieces_panel.h"
#include "app/widgets/drag_types.h"
#include "app/widgets/row_list.h"
#include "window_fixture.h"

namespace rakugo {

class PiecesWindowTest : public test::WindowFixture {
 protected:
  bool openTug() {
    if (!open(test::copyOfMod(*folder_, "slipway"))) return false;
    session().select("tug", "tug");
    session().edit(QStringLiteral("turn"), [](mod::ModState& state) {
      prepare::setOrAddStep(state.models["tug"], "turn", base::Json{{"forward", "+Z"}, {"up", "+Y"}});
    });
    window_->setStation(app::Station::objects);
    return test::settle(*window_);
  }
  app::PiecesPanel& panel() { return *window_->findChild<app::PiecesPanel*>(); }
  const mod::ObjectDoc& tug() { return session().state().objects.at("tug"); }
  const mod::PieceDoc* pieceNamed(const std::string& name) {
    for (const mod::PieceDoc& piece : tug().pieces)
      if (piece.name == name) return &piece;
    return nullptr;
  }
  mod::ObjectDoc saved() {
    session().save();
    EXPECT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
    return std::as_const(mod::loadMod(session().folder())->objects).at("tug");
  }
  // The button that makes pieces of the copies of a part whose name holds that word.
  QPushButton* copiesOf(const char* word) {
    for (QPushButton* one : panel().findChildren<QPushButton*>())
      if (one->objectName().startsWith(QStringLiteral("pieces-of-")) &&
          one->objectName().contains(QLatin1String(word)))
        return one;
    return nullptr;
  }
  bool makeScrews() {
    QPushButton* make = copiesOf("screw");
    return make != nullptr && test::click(*window_, make->objectName().toUtf8().constData()) &&
           test::settle(*window_);
  }
};

TEST_F(PiecesWindowTest, CopiesBecomePiecesInOneClickAndOneUndo) {
  ASSERT_TRUE(openTug());
  const auto before = session().state().objects.at("tug");
  ASSERT_TRUE(makeScrews());
  size_t screws = 0;
  for (const mod::PieceDoc& piece : tug().pieces) screws += piece.as == "screw" ? 1 : 0;
  EXPECT_GE(screws, 2U);
  EXPECT_EQ(saved().pieces, tug().pieces);
  test::look(*window_, "objects-pieces");
  // The screw has rules of its own: nobody misses the hull's roles on it.
  for (const check::Finding& f : session().examination()->findings)
    if (f.place.model == "screw") EXPECT_NE(f.check, "role.missing") << f.sentence;
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(tug(), before);
}

TEST_F(PiecesWindowTest, APieceIsPlacedByNumberNamedPairedAndDraggedInTheBench) {
  ASSERT_TRUE(openTug());
  ASSERT_TRUE(makeScrews());
  std::string first;
  for (const mod::PieceDoc& piece : tug().pieces)
    if (first.empty() && piece.as == "screw") first = piece.name;
  ASSERT_TRUE(test::click(*window_, ("piece-" + first).c_str()));
  EXPECT_EQ(panel().chosen(), first);
  auto* left = test::find<QDoubleSpinBox>(*window_, "piece-at-side");
  ASSERT_NE(left, nullptr);
  left->setValue(0.75);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NEAR(pieceNamed(first)->position_m[1], 0.75, 1e-9);
  ASSERT_TRUE(test::click(*window_, "mirror-piece"));
  ASSERT_TRUE(test::settle(*window_));
  const std::string other = pieceNamed(first)->pair;
  ASSERT_FALSE(other.empty());
  EXPECT_NEAR(pieceNamed(other)->position_m[1], -0.75, 1e-9);
  test::find<QDoubleSpinBox>(*window_, "piece-turn-up")->setValue(20);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NE(pieceNamed(other)->turn, (std::array<double, 4>{0, 0, 0, 1})) << "the pair follows";
  ASSERT_TRUE(test::click(*window_, "floor-piece"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed(other)->position_m[2], pieceNamed(first)->position_m[2]);
  EXPECT_LT(std::abs(*prepare::aboveFloor(tug(), *pieceNamed(first),
                                          *session().examination()->context.models.at("screw").prepared.model,
                                          {0, 0, 1})),
            1e-5);
  // Named otherwise; the pair keeps to it.
  auto* name = test::find<QLineEdit>(*window_, "piece-name");
  name->setFocus();
  name->selectAll();
  QTest::keyClicks(name, QStringLiteral("port screw"));
  QTest::keyClick(name, Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_NE(pieceNamed("port screw"), nullptr);
  EXPECT_EQ(pieceNamed(other)->pair, "port screw");
  const mod::ObjectDoc on_disk = saved();
  EXPECT_EQ(on_disk.pieces, tug().pieces);
  if (!app::Bench::platformHasOpenGl()) return;
  // The bench shows all of them; a click chooses, an arrow drags, one undo takes it back.
  app::Bench& bench = *window_->findChild<app::Bench*>();
  ASSERT_TRUE(bench.piecesShown());
  ASSERT_TRUE(bench.handle());
  const auto from = bench.project(bench.handle()->at);
  ASSERT_TRUE(from);
  const std::array<double, 3> was = pieceNamed("port screw")->position_m;
  Q_EMIT bench.pickedDragged({0.25F, 0, 0}, false);
  EXPECT_EQ(pieceNamed("port screw")->position_m, was) << "not before it is let go";
  Q_EMIT bench.pickedDragged({0.25F, 0, 0}, true);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NEAR(pieceNamed("port screw")->position_m[0], was[0] + 0.25, 1e-3);
  EXPECT_NEAR(pieceNamed(other)->position_m[0], was[0] + 0.25, 1e-3);
  // The number under the pointer is typed while the arrow is held: it is taken to the digit, in one edit.
  const std::array<double, 3> stood = pieceNamed("port screw")->position_m;
  window_->bench().lookFrom(QStringLiteral("left"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(bench.handle());
  const auto on = bench.project(bench.handle()->at);
  ASSERT_TRUE(on);
  const QPoint arrow = on->toPoint() - QPoint(0, 30);  // of z, which points up in this view
  QTest::mousePress(&bench, Qt::LeftButton, {}, arrow);
  QTest::mouseMove(&bench, arrow - QPoint(0, 12));
  bench.setFocus();
  for (const char key : {'1', '.', '3', '7', '8'}) QTest::keyClick(&bench, key);
  test::look(*window_, "objects-typed-drag");
  QTest::keyClick(&bench, Qt::Key_Backspace);
  EXPECT_EQ(pieceNamed("port screw")->position_m, stood) << "not before it is let go";
  QTest::keyClick(&bench, Qt::Key_Return);
  QTest::mouseMove(&bench, arrow - QPoint(0, 40));
  QTest::mouseRelease(&bench, Qt::LeftButton, {}, arrow - QPoint(0, 40));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NEAR(pieceNamed("port screw")->position_m[2], stood[2] + 1.37, 1e-6);
  EXPECT_NEAR(pieceNamed("port screw")->position_m[0], stood[0], 1e-9);
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed("port screw")->position_m, stood);
  test::look(*window_, "objects-pair");
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed("port screw")->position_m, was);
  bench.lookFrom(QStringLiteral("back"));
  std::set<std::string> met;
  for (int i = 0; i < 600; ++i) {
    const QPointF place(bench.width() * (i % 30 + 1) / 31, bench.height() * (i / 30 + 1) / 21);
    if (const std::string piece = bench.pieceUnder(place); !piece.empty()) met.insert(piece);
  }
  EXPECT_GE(met.size(), 2U) << "several pieces lie in sight";
  // Another station shows the model alone.
  window_->setStation(app::Station::shape);
  EXPECT_FALSE(bench.piecesShown());
  EXPECT_FALSE(bench.handle());
}

TEST_F(PiecesWindowTest, AMissingOrUnknownModelIsFoundShownAndMended) {
  ASSERT_TRUE(openTug());
  session().edit(QStringLiteral("a slip"),
                 [](mod::ModState& state) { state.objects["tug"].pieces[0].as = "scew"; });
  ASSERT_TRUE(test::settle(*window_));
  const check::Finding* found = nullptr;
  for (const check::Finding& f : session().examination()->findings)
    if (f.check == "object.models" && !f.mends.empty() && found == nullptr) found = &f;
  ASSERT_NE(found, nullptr);
  EXPECT_NE(found->sentence.find("scew"), std::string::npos);
  ASSERT_FALSE(found->mends.empty());
  const check::Mend main = found->mends.back();
  session().edit(QStringLiteral("mend"), [&](mod::ModState& state) { main.apply(state); });
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(saved().pieces[0].as.empty());
  for (const check::Finding& f : session().examination()->findings) EXPECT_NE(f.check, "object.models");
}

TEST_F(PiecesWindowTest, LampsArePlacedByAClickPairedGroupedAndSeenByNight) {
  ASSERT_TRUE(openTug());
  const auto add = [&](const QString& title) {
    ASSERT_TRUE(test::click(*window_, "add-piece"));
    auto* menu = window_->findChild<QMenu*>(QStringLiteral("piece-menu"));
    ASSERT_NE(menu, nullptr);
    for (QAction* action : menu->actions())
      if (action->text() == title) action->trigger();
    menu->close();
    ASSERT_TRUE(test::settle(*window_));
  };
  add(QStringLiteral("Side light"));
  ASSERT_NE(pieceNamed("side-light"), nullptr);
  EXPECT_EQ(panel().chosen(), "side-light");
  // What it says is typed; the pair has it too, but for the colour.
  auto* reach = test::find<QLineEdit>(*window_, "piece-field-reach_m");
  ASSERT_NE(reach, nullptr);
  test::find<QDoubleSpinBox>(*window_, "piece-at-side")->setValue(0.6);
  test::find<QDoubleSpinBox>(*window_, "piece-at-up")->setValue(1.6);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "mirror-piece"));
  ASSERT_TRUE(test::settle(*window_));
  reach = test::find<QLineEdit>(*window_, "piece-field-reach_m");
  reach->setFocus();
  reach->selectAll();
  QTest::keyClicks(reach, QStringLiteral("4.5"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed("side-light-2")->values["reach_m"], 4.5);
  ASSERT_TRUE(test::click(*window_, "piece-field-color"));
  auto* dialog = window_->findChild<QColorDialog*>();
  ASSERT_NE(dialog, nullptr);
  dialog->setCurrentColor(QColor(255, 0, 0));
  dialog->accept();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed("side-light")->values["color"], base::Json::array({1.0, 0.0, 0.0}));
  EXPECT_NE(pieceNamed("side-light-2")->values["color"], base::Json::array({1.0, 0.0, 0.0}));
  // Several together: a group, with the pair in it.
  ASSERT_TRUE(test::click(*window_, "mark-piece-side-light"));
  ASSERT_TRUE(test::click(*window_, "mark-piece-side-light-2"));
  ASSERT_TRUE(test::click(*window_, "group-pieces"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed("side-light-2")->parent, "group");
  add(QStringLiteral("Funnel smoke"));
  test::find<QDoubleSpinBox>(*window_, "piece-at-up")->setValue(2.6);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(saved().pieces, tug().pieces) << "and the same when it is read again";
  ASSERT_TRUE(test::click(*window_, "piece-side-light"));
  ASSERT_TRUE(test::settle(*window_));
  test::look(*window_, "pieces-lamps");
  // As many edits back as forward.
  while (session().history().canUndo()) session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(tug().pieces.size(), 1U);
  while (session().history().canRedo()) session().redo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(tug().pieces.size(), 5U);
  if (!app::Bench::platformHasOpenGl()) return;
  app::Bench& bench = *window_->findChild<app::Bench*>();
  // Put where one clicks: on the surface, to the millimetre.
  ASSERT_TRUE(test::click(*window_, "piece-funnel-smoke"));
  ASSERT_TRUE(test::click(*window_, "put-piece"));
  const QPoint middle(bench.width() / 2, bench.height() / 2);
  const auto hit = bench.under(middle);
  ASSERT_TRUE(hit);
  QTest::mouseClick(&bench, Qt::LeftButton, {}, middle);
  ASSERT_TRUE(test::settle(*window_));
  const glm::vec3 at(glm::inverse(session().scene()->from_object) * glm::vec4(hit->position, 1));
  for (size_t i = 0; i < 3; ++i)
    EXPECT_NEAR(pieceNamed("funnel-smoke")->position_m[i], at[static_cast<int>(i)], 1e-3);
  // Drawn to what is near, a click beside a vertex takes the vertex.
  auto* snap = test::find<QComboBox>(*window_, "snap-piece");
  ASSERT_NE(snap, nullptr);
  snap->setCurrentIndex(snap->findData(QStringLiteral("near")));
  const auto corner = bench.project(hit->corners[0]);
  ASSERT_TRUE(corner);
  const QPoint beside = (*corner + (QPointF(middle) - *corner) * 0.2).toPoint();
  const auto taken = bench.snapUnder(beside);
  ASSERT_TRUE(taken);
  ASSERT_EQ(taken->to, app::SnapTo::vertex);
  ASSERT_TRUE(test::click(*window_, "put-piece"));
  QTest::mouseClick(&bench, Qt::LeftButton, {}, beside);
  ASSERT_TRUE(test::settle(*window_));
  const glm::vec3 vertex(glm::inverse(session().scene()->from_object) * glm::vec4(taken->position, 1));
  for (size_t i = 0; i < 3; ++i)
    EXPECT_NEAR(pieceNamed("funnel-smoke")->position_m[i], vertex[static_cast<int>(i)], 1e-3);
  bench.setLook(app::Bench::Look::in_game);
  bench.setNight(true);
  ASSERT_TRUE(test::settle(*window_));
  test::look(*window_, "pieces-lamps-night");
}

TEST_F(PiecesWindowTest, APartIsLetTurnAboutItsMiddleAndIsSeenToMove) {
  ASSERT_TRUE(openTug());
  ASSERT_TRUE(test::click(*window_, "add-piece"));
  auto* menu = window_->findChild<QMenu*>(QStringLiteral("piece-menu"));
  ASSERT_NE(menu, nullptr);
  for (QAction* action : menu->actions())
    if (action->text() == QStringLiteral("Turning part")) action->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_NE(pieceNamed("turning-part"), nullptr);
  // One of the parts that there are is chosen; it is put where that turns.
  auto* part = test::find<QComboBox>(*window_, "piece-field-part");
  ASSERT_NE(part, nullptr);
  ASSERT_GE(part->findText(QStringLiteral("tug/screw_1")), 0);
  part->setCurrentIndex(part->findText(QStringLiteral("tug/screw_1")));
  Q_EMIT part->activated(part->currentIndex());
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed("turning-part")->values["part"], "tug/screw_1");
  const auto before = pieceNamed("turning-part")->position_m;
  ASSERT_TRUE(test::click(*window_, "middle-piece"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NE(pieceNamed("turning-part")->position_m, before);
  for (const check::Finding& f : session().examination()->findings)
    EXPECT_FALSE(f.check.starts_with("piece.moves")) << f.sentence;
  EXPECT_EQ(saved().pieces, tug().pieces);
  // How far it goes is reckoned with, and can be seen.
  EXPECT_THAT(test::find<QLabel>(*window_, "seen-box-said")->text().toStdString(),
              testing::HasSubstr("while a box of"));
  ASSERT_TRUE(session().scene());
  EXPECT_FALSE(session().scene()->seen_m.empty());
  if (!app::Bench::platformHasOpenGl()) return;
  app::Bench& bench = *window_->findChild<app::Bench*>();
  test::find<QCheckBox>(*window_, "seen-box")->click();
  EXPECT_TRUE(bench.seenBoxShown());
  ASSERT_TRUE(test::click(*window_, "see-it-move"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return bench.movedAngle() != 0; }, test::kPatience_ms));
  test::look(*window_, "pieces-moving");
  ASSERT_TRUE(test::click(*window_, "see-it-move"));
  EXPECT_EQ(bench.movedAngle(), 0);
  // Another piece is chosen while it moves: it stands still again.
  ASSERT_TRUE(test::click(*window_, "see-it-move"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return bench.movedAngle() != 0; }, test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "piece-tug"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(bench.movedAngle(), 0);
}

TEST_F(PiecesWindowTest, AModelIsDraggedFromTheContentsToWhereItShallStand) {
  ASSERT_TRUE(openTug());
  app::Bench& bench = window_->bench();
  if (!bench.works()) GTEST_SKIP() << "no OpenGL";
  std::optional<app::BenchHit> hit;
  QPoint where;
  for (int y = 80; y < bench.height() && !hit; y += 16)
    for (int x = 80; x < bench.width() && !hit; x += 16)
      if ((hit = bench.under(QPointF(x, y)))) where = {x, y};
  ASSERT_TRUE(hit);
  const glm::vec3 on = bench.snapUnder(where)->position;
  const auto drop = [&](QPoint at) {
    QMimeData data;
    data.setData(QLatin1String(app::kModelsDragged), "quay-block");
    QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&bench, &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent event(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&bench, &event);
    return test::settle(*window_);
  };
  // Files are the window's to take, wherever they are let go.
  QMimeData files;
  files.setUrls({QUrl::fromLocalFile(QStringLiteral("/nowhere/boat.glb"))});
  QDragEnterEvent enter(where, Qt::CopyAction, &files, Qt::LeftButton, {});
  QCoreApplication::sendEvent(&bench, &enter);
  EXPECT_TRUE(enter.isAccepted());
  ASSERT_TRUE(drop(where));
  ASSERT_EQ(tug().pieces.size(), 2U);
  const mod::PieceDoc made = tug().pieces.back();
  EXPECT_EQ(made.model, "quay-block");
  EXPECT_EQ(panel().chosen(), made.name);
  EXPECT_LT(glm::distance(glm::vec3(made.position_m[0], made.position_m[1], made.position_m[2]), on), 2e-3F);
  EXPECT_EQ(saved().pieces, tug().pieces);
  // Beside the boat: on the floor.
  ASSERT_FALSE(bench.under(QPointF(10, bench.height() - 12)));
  ASSERT_TRUE(drop(QPoint(10, bench.height() - 12)));
  EXPECT_NEAR(tug().pieces.back().position_m[2], 0, 1e-3);
  session().undo();
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(tug().pieces.size(), 1U) << "each is one undo";
}

TEST_F(PiecesWindowTest, ADragComesToRestOnTheGridOrLevelWithWhatIsNear) {
  ASSERT_TRUE(openTug());
  ASSERT_TRUE(makeScrews());
  app::Bench& bench = window_->bench();
  std::vector<std::string> screws;
  for (const mod::PieceDoc& piece : tug().pieces)
    if (piece.as == "screw") screws.push_back(piece.name);
  ASSERT_GE(screws.size(), 2U);
  ASSERT_TRUE(test::click(*window_, ("piece-" + screws[0]).c_str()));
  auto* snap = test::find<QComboBox>(*window_, "snap-piece");
  ASSERT_NE(snap, nullptr);
  const auto chooseSnap = [&](const QString& text) {
    const int at = snap->findText(text);
    ASSERT_GE(at, 0);
    snap->setCurrentIndex(at);
    Q_EMIT snap->activated(at);
  };
  chooseSnap(QStringLiteral("moves in steps of 10 cm"));
  Q_EMIT bench.pickedDragged({0.33F, 0, 0}, true);
  ASSERT_TRUE(test::settle(*window_));
  const double at = pieceNamed(screws[0])->position_m[0] * 10;
  EXPECT_NEAR(at, std::round(at), 1e-6);
  EXPECT_EQ(snap->currentText(), QStringLiteral("moves in steps of 10 cm")) << "it stays chosen";
  Q_EMIT bench.pickedDragged({0.27F, 0, 0}, true);
  ASSERT_TRUE(test::settle(*window_));
  const double next = pieceNamed(screws[0])->position_m[0] * 10;
  EXPECT_NEAR(next, std::round(next), 1e-6);
  // Nearly level with another: level with it, which the bench says.
  chooseSnap(QStringLiteral("moves to what is near"));
  const double wanted = pieceNamed(screws[1])->position_m[0];
  const double off = wanted - pieceNamed(screws[0])->position_m[0] + bench.metresPerPixel() * 0.2;
  Q_EMIT bench.pickedDragged({static_cast<float>(off), 0, 0}, false);
  ASSERT_EQ(bench.names().size(), 1U);
  EXPECT_TRUE(bench.names()[0].second.startsWith(QStringLiteral("level with ")));
  test::look(*window_, "pieces-level");
  Q_EMIT bench.pickedDragged({static_cast<float>(off), 0, 0}, true);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NEAR(pieceNamed(screws[0])->position_m[0], wanted, 1e-3);
  EXPECT_TRUE(bench.names().empty());
  chooseSnap(QStringLiteral("moves freely"));
}

TEST_F(PiecesWindowTest, AShapeIsFittedSaysHowItLiesAndFollowsTheModel) {
  ASSERT_TRUE(openTug());
  ASSERT_TRUE(test::click(*window_, "add-piece"));
  auto* menu = window_->findChild<QMenu*>(QStringLiteral("piece-menu"));
  ASSERT_NE(menu, nullptr);
  for (QAction* action : menu->actions())
    if (action->text() == QStringLiteral("Hull body")) action->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_NE(pieceNamed("hull-body"), nullptr);
  EXPECT_EQ(pieceNamed("hull-body")->parent, "tug");
  auto* lies = test::find<QLabel>(*window_, "shape-lies");
  ASSERT_NE(lies, nullptr);
  EXPECT_NE(lies->text().indexOf(QStringLiteral("24 corners")), -1) << lies->text().toStdString();
  EXPECT_EQ(test::find<QLineEdit>(*window_, "piece-field-length_m"), nullptr) << "a hull has no length";
  test::look(*window_, "pieces-hull");
  auto* form = test::find<QComboBox>(*window_, "piece-field-form");
  ASSERT_NE(form, nullptr);
  // Several hulls: the deck house and the funnel are no longer under one tent.
  form->setCurrentIndex(form->findText(QStringLiteral("hulls")));
  Q_EMIT form->activated(form->currentIndex());
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_NE(test::find<QLineEdit>(*window_, "piece-field-hulls"), nullptr);
  EXPECT_TRUE(lies->text().startsWith(QStringLiteral("8 hulls, "))) << lies->text().toStdString();
  test::look(*window_, "pieces-hulls");
  // Another form is fitted at once, in the same edit.
  form = test::find<QComboBox>(*window_, "piece-field-form");
  form->setCurrentIndex(form->findText(QStringLiteral("box")));
  Q_EMIT form->activated(form->currentIndex());
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_GT(pieceNamed("hull-body")->values["length_m"].get<double>(), 15);
  ASSERT_NE(test::find<QLineEdit>(*window_, "piece-field-length_m"), nullptr);
  test::look(*window_, "pieces-box");
  // What it weighs and how it floats follows shape and card.
  auto* body = test::find<QLabel>(*window_, "object-body");
  ASSERT_NE(body, nullptr);
  EXPECT_NE(body->text().indexOf(QStringLiteral("its collision shapes")), -1) << body->text().toStdString();
  const QString light = body->text();
  session().edit(QStringLiteral("mass"),
                 [](mod::ModState& state) { state.objects["tug"].card["mass"] = 30000; });
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NE(body->text(), light);
  EXPECT_NE(body->text().indexOf(QStringLiteral("30000 kg, as its card says")), -1)
      << body->text().toStdString();
  for (auto* area : window_->findChildren<QScrollArea*>())
    if (area->isAncestorOf(body)) area->ensureWidgetVisible(body, 0, 60);
  test::look(*window_, "pieces-weight");
  // It falls in the bench, which then shows it as it stands.
  test::find<QDoubleSpinBox>(*window_, "fall-from")->setValue(2);
  ASSERT_TRUE(test::click(*window_, "let-fall"));
  ASSERT_TRUE(window_->bench().fall());
  const float high = (*window_->bench().fall())[3].z;
  EXPECT_TRUE(
      QTest::qWaitFor([&] { return (*window_->bench().fall())[3].z < high - 0.5F; }, test::kPatience_ms));
  test::look(*window_, "pieces-falling");
  auto* fell = window_->findChild<QLabel*>(QStringLiteral("fell"));
  ASSERT_NE(fell, nullptr);
  EXPECT_TRUE(QTest::qWaitFor([&] { return fell->isVisible(); }, 20'000));
  EXPECT_TRUE(fell->text().contains(QStringLiteral("comes to rest"))) << fell->text().toStdString();
  EXPECT_TRUE(QTest::qWaitFor([&] { return !window_->bench().fall(); }, test::kPatience_ms));
  const mod::ObjectDoc fitted = tug();
  test::find<QDoubleSpinBox>(*window_, "piece-at-up")->setValue(12);
  ASSERT_TRUE(test::settle(*window_));
  bool found = false;
  for (const check::Finding& f : session().examination()->findings) found = found || f.check == "piece.shape";
  EXPECT_TRUE(found) << "it does not hold the boat";
  ASSERT_TRUE(test::click(*window_, "fit-piece"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(tug(), fitted);
  EXPECT_EQ(saved().pieces, tug().pieces);
  // Back past the fit, the move, the mass and the form: one undo an edit.
  for (int i = 0; i < 4; ++i) session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(pieceNamed("hull-body")->values["form"], "hull");
}

}  // namespace rakugo
