// For everyone: names, roles and states of all controls; texts that are not cut off, at any scale, in both
// colours; with every demo mod at every station.
#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QAction>
#include <QComboBox>
#include <QFloat16>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <QScrollArea>
#include <QScrollBar>
#include <QSplitter>
#include <QStatusBar>
#include <QTextBrowser>

#include "app/contents/contents_view.h"
#include "app/shell/display.h"
#include "app/shell/examples.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"
#include "painted_text.h"
#include "window_fixture.h"

namespace rakugo {

using app::Station;

class AccessWindowTest : public test::WindowFixture {
 protected:
  // Calls body at every station of every demo mod, once all is laid out.
  void everywhere(const std::function<void(const std::string& where)>& body) {
    for (const app::ExampleMod& one : app::exampleMods()) {
      const std::string name = one.folder.filename().string();
      ASSERT_TRUE(open(test::copyOfMod(*folder_, name.c_str()))) << name;
      for (const Station station : app::kStations) {
        window_->setStation(station);
        QTest::qWait(150);
        body(name + ", " + check::stationName(station));
      }
    }
  }
  std::vector<QWidget*> shown() {
    std::vector<QWidget*> out{window_.get()};
    for (QWidget* one : window_->findChildren<QWidget*>())
      if (one->isVisible() && one->width() > 0 && one->height() > 0) out.push_back(one);
    return out;
  }
};

namespace {

std::string nameOf(const QWidget& widget) {
  return std::string(widget.metaObject()->className()) + " " + test::s8(widget.objectName());
}

bool isInput(const QWidget& w) {
  if (qobject_cast<const QScrollBar*>(&w) != nullptr || w.objectName().startsWith(QLatin1String("qt_")))
    return false;
  return qobject_cast<const QAbstractButton*>(&w) != nullptr ||
         qobject_cast<const QLineEdit*>(&w) != nullptr ||
         qobject_cast<const QPlainTextEdit*>(&w) != nullptr ||
         qobject_cast<const QTextEdit*>(&w) != nullptr || qobject_cast<const QComboBox*>(&w) != nullptr ||
         qobject_cast<const QAbstractSpinBox*>(&w) != nullptr ||
         qobject_cast<const QAbstractSlider*>(&w) != nullptr ||
         qobject_cast<const QAbstractItemView*>(&w) != nullptr || (w.focusPolicy() & Qt::TabFocus) != 0;
}

// Part of another control, which has the name.
bool isInside(const QWidget& w) {
  const QWidget* up = w.parentWidget();
  return up != nullptr && (qobject_cast<const QAbstractSpinBox*>(up) != nullptr ||
                           qobject_cast<const QComboBox*>(up) != nullptr ||
                           qobject_cast<const QAbstractScrollArea*>(up) != nullptr ||
                           qobject_cast<const QLineEdit*>(up) != nullptr);
}

// Areas that only scroll, and borders that are dragged.
bool isFrame(const QWidget& w) {
  return qobject_cast<const QScrollArea*>(&w) != nullptr ||
         qobject_cast<const QSplitterHandle*>(&w) != nullptr || qobject_cast<const QMenuBar*>(&w) != nullptr;
}

}  // namespace

TEST_F(AccessWindowTest, EveryControlOfEveryStationHasANameARoleAndItsState) {
  everywhere([&](const std::string& where) {
    for (QWidget* w : shown()) {
      if (!isInput(*w) || isInside(*w) || isFrame(*w)) continue;
      QAccessibleInterface* said = QAccessible::queryAccessibleInterface(w);
      ASSERT_TRUE(said != nullptr) << nameOf(*w) << ", " << where;
      EXPECT_FALSE(said->text(QAccessible::Name).isEmpty()) << nameOf(*w) << ", " << where;
      EXPECT_NE(said->role(), QAccessible::NoRole) << nameOf(*w) << ", " << where;
      EXPECT_EQ(said->state().disabled != 0, !w->isEnabled()) << nameOf(*w) << ", " << where;
      if (const auto* button = qobject_cast<QAbstractButton*>(w)) {
        EXPECT_EQ(said->state().checkable != 0, button->isCheckable()) << nameOf(*w) << ", " << where;
        EXPECT_EQ(said->state().checked != 0, button->isChecked()) << nameOf(*w) << ", " << where;
      }
      // The help of a chapter is reached by F1 on its line.
      if (qobject_cast<app::ChapterHead*>(w->parentWidget()) == nullptr)
        EXPECT_TRUE((w->focusPolicy() & Qt::TabFocus) != 0) << nameOf(*w) << ", " << where;
      if (const auto* view = qobject_cast<QAbstractItemView*>(w); view != nullptr && view->model() != nullptr)
        for (int row = 0; row < std::min(view->model()->rowCount(), 50); ++row) {
          const QModelIndex index = view->model()->index(row, 0);
          EXPECT_FALSE(index.data(Qt::AccessibleTextRole).toString().isEmpty() &&
                       index.data(Qt::DisplayRole).toString().isEmpty())
              << nameOf(*w) << " row " << row << ", " << where;
        }
    }
  });
}

TEST_F(AccessWindowTest, LettersOfTheSystemAndTheWishForLessMotionAreFollowed) {
  EXPECT_EQ(app::scaleOfLetters(12), 1);
  EXPECT_EQ(app::scaleOfLetters(13), 1);
  EXPECT_EQ(app::scaleOfLetters(15), 1.25);
  EXPECT_EQ(app::scaleOfLetters(19), 1.5);
  EXPECT_EQ(app::scaleOfLetters(40), 2) << "no larger than the layout is made for";
  EXPECT_EQ(app::scaleOfLetters(0), 1);
  EXPECT_EQ(app::keptScale(), 0);
  window_->findChild<QAction*>(QStringLiteral("scale-150"))->trigger();
  EXPECT_EQ(app::keptScale(), 1.5);
  app::keepScale(0);
  // Pictures in the contents turn under the pointer, but for who does not want it.
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  auto* list = window_->findChild<app::ContentsView*>();
  const auto turns = [&] {
    const QModelIndex row = list->model()->index(1, 0);
    Q_EMIT list->entered(list->model()->index(0, 0));
    Q_EMIT list->entered(row);
    return QTest::qWaitFor([&] { return list->turned(row) > 0; }, 600);
  };
  EXPECT_TRUE(turns());
  QAction* still = window_->findChild<QAction*>(QStringLiteral("less-motion"));
  still->trigger();
  EXPECT_FALSE(turns());
  still->trigger();
}

namespace {

// Whether a text may be shortened there: a name that is said whole by a tip, or what the person types.
bool mayBeShort(const QWidget& w, const QString& text) {
  if (!text.contains(QChar(0x2026))) return true;
  if (qobject_cast<const QLineEdit*>(&w) != nullptr)
    return !static_cast<const QLineEdit&>(w).text().isEmpty() ||
           static_cast<const QLineEdit&>(w).placeholderText() == text;
  if (const auto* button = qobject_cast<const QAbstractButton*>(&w); button != nullptr)
    if (button->text().remove(QLatin1Char('&')).contains(text)) return true;
  if (const auto* label = qobject_cast<const QLabel*>(&w); label != nullptr) return true;  // never shortens
  return !w.toolTip().isEmpty() || qobject_cast<const QAbstractScrollArea*>(w.parentWidget()) != nullptr;
}

bool scrolls(const QWidget& w) {
  const QWidget* up = w.parentWidget();
  return up != nullptr && (qobject_cast<const QAbstractScrollArea*>(up) != nullptr ||
                           qobject_cast<const QScrollArea*>(up->parentWidget()) != nullptr);
}

}  // namespace

// At one, one and a half and two times the size: the test's own process has QT_SCALE_FACTOR.
TEST_F(AccessWindowTest, NoTextIsCutOffInAnyStationWithAnyDemoMod) {
  window_->resize(1280, 800);
  const auto faults = [&] {
    std::set<std::string> out;
    for (QWidget* w : shown()) {
      if (w == &window_->bench() || w->inherits("QOpenGLWidget")) continue;
      const bool list = scrolls(*w), typed = qobject_cast<QLineEdit*>(w) != nullptr;
      const QRectF room = QRectF(w->rect()).adjusted(-1.5, -2.5, 1.5, 2.5);
      const std::vector<test::PaintedText> texts = test::paintedTexts(*w);
      for (const test::PaintedText& one : texts) {
        const bool wide = one.box.left() < room.left() || one.box.right() > room.right(),
                   high = one.box.top() < room.top() || one.box.bottom() > room.bottom();
        if ((wide && !typed) || (high && !list && !typed))
          out.insert("cut off: " + test::s8(one.text) + " in " + nameOf(*w));
        else if (!mayBeShort(*w, one.text))
          out.insert("shortened: " + test::s8(one.text) + " in " + nameOf(*w));
      }
      // What lies in another widget lies within it, but where that scrolls.
      const QWidget* up = w->parentWidget();
      if (up == nullptr || w->isWindow() || list || qobject_cast<const QAbstractScrollArea*>(up) != nullptr)
        continue;
      if (!texts.empty() && !up->rect().adjusted(-1, -1, 1, 1).contains(w->geometry()))
        out.insert(nameOf(*w) + " sticks out of " + nameOf(*up));
    }
    for (const QScrollArea* area : window_->findChildren<QScrollArea*>())
      if (area->isVisible() && area->widget() != nullptr &&
          area->widget()->width() > area->viewport()->width())
        out.insert("wider than its area: " + nameOf(*area->parentWidget()));
    if (window_->size() != QSize(1280, 800)) out.insert("the window has grown");
    return out;
  };
  std::set<std::string> told;
  const auto look = [&](const std::string& where) {
    // A station is laid out by the event loop, twice where a scroll bar comes.
    std::set<std::string> found;
    (void)QTest::qWaitFor([&] { return (found = faults()).empty(); }, 1500);
    for (const std::string& one : found)
      if (told.insert(one).second) ADD_FAILURE() << one << ", " << where;
  };
  everywhere(look);
  // The start page, now that there are mods of lately.
  window_->session().history().markSaved();
  window_.reset();
  newWindow();
  window_->resize(1280, 800);
  look("the start page");
  window_->findChild<QAction*>(QStringLiteral("night-colours"))->trigger();
  ASSERT_TRUE(open(folder_->path() + QStringLiteral("/slipway")));
  for (const Station station : app::kStations) {
    window_->setStation(station);
    look(std::string("by night, ") + check::stationName(station));
  }
  window_->findChild<QAction*>(QStringLiteral("night-colours"))->trigger();
}

}  // namespace rakugo
