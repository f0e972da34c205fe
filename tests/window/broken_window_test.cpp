// Files that are broken in all ways, shown at every station: nothing falls over, and what is wrong is said.
#include "support/broken_sources.h"
#include "window_fixture.h"

#include <QScrollArea>

using namespace rakugo;

class BrokenWindowTest : public test::WindowFixture {};

TEST_F(BrokenWindowTest, AnyBrokenSourceIsShownAtEveryStation) {
  namespace fs = std::filesystem;
  size_t said = 0;
  for (const test::SourceFault& fault : test::sourceFaults()) {
    SCOPED_TRACE(fault.name);
    const std::string what = fault.name;
    const bool of_bones = what.find("weight") != std::string::npos || what.find("bones") != std::string::npos;
    const QString mod = test::copyOfMod(*folder_, of_bones ? "newcomer" : "lamplight");
    const fs::path folder = test::s8(mod);
    mod::ModState state = std::move(mod::loadMod(folder)).value();
    const mod::ModState before = state;
    const std::string source = state.sources.begin()->first;
    state.sources[source] = test::brokenSource(folder, source, state.sources[source], fault);
    ASSERT_TRUE(mod::saveMod(folder, state, before));

    ASSERT_TRUE(open(mod));
    for (const app::Station station : app::kStations) {
      if (station == app::Station::tryout) continue;  // starts the game
      window_->setStation(station);
      ASSERT_TRUE(test::settle(*window_));
      for (const auto* area : window_->findChildren<QScrollArea*>()) {
        if (!area->isVisible() || area->widget() == nullptr) continue;
        EXPECT_LE(area->widget()->minimumSizeHint().width(), area->viewport()->width())
            << "what is in it is cut off at station " << static_cast<int>(station);
      }
      if (const QString shots = qEnvironmentVariable("RAKUGO_BROKEN_SHOTS"); !shots.isEmpty())
        (void)test::shoot(*window_, shots + QLatin1Char('/') + QString::fromUtf8(fault.name) +
                                        QString::number(static_cast<int>(station)) + QStringLiteral(".png"));
    }
    ASSERT_TRUE(session().examination());
    said += session().examination()->findings.empty() ? 0 : 1;
    session().history().markSaved();
    ASSERT_TRUE(QDir(mod).removeRecursively());
  }
  // One pixel for a picture, a picture that is long, and bones that nothing follows may all be meant.
  EXPECT_GE(said, test::sourceFaults().size() - 4);
}
