// Nothing is left out when Rakugo speaks another language: a test language puts marks round whatever is
// translated, and what stands outside of marks must come from the mod, its game or the machine.
#include <QAbstractItemView>
#include <QAction>
#include <QComboBox>
#include <QFloat16>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QRegularExpression>
#include <QTranslator>

#include "app/shell/examples.h"
#include "app/shell/language.h"
#include "base/files.h"
#include "base/json.h"
#include "base/phrase.h"
#include "mod/licences.h"
#include "painted_text.h"
#include "window_fixture.h"

namespace rakugo {

namespace {

constexpr QChar kOpen(0xAB), kClose(0xBB);  // « and »

// The test language.
class Marks : public QTranslator {
 public:
  [[nodiscard]] bool isEmpty() const override { return false; }
  [[nodiscard]] QString translate(const char*, const char* text, const char*, int) const override {
    return text == nullptr || *text == '\0' ? QString() : kOpen + QString::fromUtf8(text) + kClose;
  }
};

// What of a text is in no marks. A text that is shortened may have lost the closing one.
QString outside(const QString& text, bool painted) {
  QString out;
  int depth = 0;
  for (const QChar c : text) {
    if (c == kOpen) ++depth;
    if (depth == 0) out += c;
    if (c == kClose) depth = std::max(0, depth - 1);
    if (painted && c == QChar(0x2026)) depth = 0;
  }
  return out;
}

QStringList wordsOf(const QString& text) {
  static const QRegularExpression word(QStringLiteral("[A-Za-z]{2,}"));
  QStringList out;
  for (auto at = word.globalMatch(text); at.hasNext();) out << at.next().captured().toLower();
  return out;
}

}  // namespace

class LanguageWindowTest : public test::WindowFixture {
 protected:
  void SetUp() override {
    QApplication::installTranslator(&marks_);
    app::speakThroughQt();
    begin();
  }
  void TearDown() override {
    end();
    base::setTranslator(nullptr);
    QApplication::removeTranslator(&marks_);
  }
  // What is data: texts of the mod, of its sources' models, of the games' rulebooks; paths, units, formats.
  void know(const QString& text) {
    if (!wordsOf(text).isEmpty()) known_.insert(text.toLower());
  }
  void knowWords(const char* words) {
    for (const QString& word : QString::fromLatin1(words).split(QLatin1Char(' '))) know(word);
  }
  void knowJson(const base::Json& json) {
    // What a rulebook leaves open is filled in: "a {kind} made in centimetres".
    if (json.is_string())
      for (const QString& piece : app::q(json.get<std::string>()).split(QStringLiteral("{kind}")))
        know(piece.trimmed());
    if (json.is_object())
      for (const auto& [key, value] : json.items()) {
        if (value.is_structured()) know(app::q(key));
        knowJson(value);
      }
    if (json.is_array())
      for (const base::Json& one : json) knowJson(one);
  }
  void knowFile(const std::filesystem::path& file) {
    for (const auto& piece : file) {
      know(app::q(piece.string()));
      know(app::q(piece.stem().string()));
      if (!piece.extension().empty()) know(app::q(piece.extension().string().substr(1)));
    }
    if (file.extension() != ".json") return;
    if (const auto bytes = base::readFile(file))
      if (const auto json = base::parseJson(base::asText(*bytes), "known")) knowJson(*json);
  }
  void knowGames() {
    for (const auto& books : rulebook::rulebookFolders()) {
      if (!std::filesystem::is_directory(books)) continue;
      for (const auto& entry : std::filesystem::recursive_directory_iterator(books))
        if (entry.is_regular_file()) knowFile(entry.path());
    }
  }
  void knowMod() {
    knowWords(
        "mm cm km kg kB MB GB Hz kHz px deg glTF 2.0 COLLADA OBJ PLY STL PNG JPEG TGA WebP KTX2 DDS WAV OGG "
        "FLAC "
        "Vorbis zip rkb UTF-8 RGBA Ctrl Shift Alt Esc Enter Return Del Home End Tab Space F1 F2 F7 F8 "
        "Rakugo");
    know(QStringLiteral("glTF binary"));
    know(app::q(session().folder().string()));
    for (const auto& entry : std::filesystem::recursive_directory_iterator(session().folder()))
      if (entry.is_regular_file()) knowFile(entry.path());
    knowGames();
    for (const mod::Licence& one : mod::knownLicences()) know(QString::fromLatin1(one.id));
    for (const packing::PlannedEntry& one : session().plan()) knowFile(one.id);
    const auto& x = session().examination();
    for (const auto& [name, state] : x->context.sources)
      if (state.read) knowModel(state.read->model);
    for (const auto& [name, state] : x->context.models)
      if (state.prepared.model) knowModel(*state.prepared.model);
  }
  void knowModel(const scene::Model& model) {
    for (const scene::Node& one : model.nodes) know(app::q(one.name)), know(app::q(one.key));
    for (const scene::Material& one : model.materials) know(app::q(one.name)), know(app::q(one.key));
    for (const scene::Image& one : model.images) know(app::q(one.uri)), know(app::q(one.name));
    for (const scene::Animation& one : model.animations) know(app::q(one.name));
  }
  // Words of a text that nobody translated.
  [[nodiscard]] QStringList left(const QString& text, bool painted = false) const {
    static const QRegularExpression tag(QStringLiteral("<[^>]*>|&[a-z]+;"));
    QString plain = outside(text, painted).toLower();
    plain.replace(tag, QStringLiteral(" "));
    static const QRegularExpression shortened(QStringLiteral("\\S*\\x{2026}\\S*"));  // of a name
    plain.replace(shortened, QStringLiteral(" "));
    plain.remove(QChar(0x200B)).remove(QLatin1Char('&'));
    if (wordsOf(plain).isEmpty()) return {};
    // The longest first: one may stand in another.
    std::vector<QString> inside;
    for (const QString& one : known_)
      if (plain.contains(one)) inside.push_back(one);
    std::sort(inside.begin(), inside.end(),
              [](const QString& a, const QString& b) { return a.size() > b.size(); });
    for (const QString& one : inside)
      plain.replace(QRegularExpression(QStringLiteral("(?<!\\w)") + QRegularExpression::escape(one) +
                                       QStringLiteral("(?!\\w)")),
                    QStringLiteral(" "));
    return wordsOf(plain);
  }
  void look(const std::string& where) {
    const auto tell = [&](const QString& text, const char* what, const QObject& from, bool painted = false) {
      const QStringList words = left(text, painted);
      if (words.isEmpty()) return;
      const std::string key = test::s8(from.objectName()) + test::s8(words.join(QLatin1Char(' ')));
      if (told_.insert(key).second)
        ADD_FAILURE() << what << " of " << from.metaObject()->className() << " "
                      << test::s8(from.objectName()) << ": " << test::s8(text.left(160)) << " ["
                      << test::s8(words.join(QLatin1Char(' '))) << "], " << where;
    };
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      if (!w->isVisible()) continue;
      tell(w->toolTip(), "the tip", *w);
      tell(w->accessibleName(), "the name", *w);
      tell(w->accessibleDescription(), "the description", *w);
      if (const auto* label = qobject_cast<QLabel*>(w)) {
        tell(label->text(), "the text", *w);
      } else if (const auto* line = qobject_cast<QLineEdit*>(w)) {
        tell(line->placeholderText(), "the hint", *w);
      } else if (const auto* combo = qobject_cast<QComboBox*>(w)) {
        for (int i = 0; i < combo->count(); ++i) tell(combo->itemText(i), "an entry", *w);
      } else if (const auto* view = qobject_cast<QAbstractItemView*>(w);
                 view != nullptr && view->model() != nullptr) {
        for (int row = 0; row < std::min(view->model()->rowCount(), 200); ++row) {
          const QModelIndex index = view->model()->index(row, 0);
          for (const int role : {int(Qt::DisplayRole), int(Qt::ToolTipRole), int(Qt::AccessibleTextRole)})
            tell(index.data(role).toString(), "a row", *w);
        }
      } else if (!w->inherits("QOpenGLWidget")) {
        // What it paints itself, in one piece: a text may be drawn in several.
        QString all;
        for (const test::PaintedText& one : test::paintedTexts(*w)) all += one.text + QLatin1Char(' ');
        tell(all, "what is painted", *w, true);
      }
    }
    for (const QAction* action : window_->findChildren<QAction*>())
      tell(action->text(), "an action", *action);
  }
  Marks marks_;
  std::set<QString> known_;
  std::set<std::string> told_;
};

TEST_F(LanguageWindowTest, EverythingThatIsSaidCanBeSaidInAnotherLanguage) {
  {
    // The start page: titles and lines of the examples are data beside them.
    knowFile(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods/examples.json");
    knowGames();
    know(QStringLiteral("Rakugo"));
    look("the start page");
  }
  for (const app::ExampleMod& one : app::exampleMods()) {
    const std::string name = one.folder.filename().string();
    ASSERT_TRUE(open(test::copyOfMod(*folder_, name.c_str()))) << name;
    knowMod();
    for (const app::Station station : app::kStations) {
      window_->setStation(station);
      QTest::qWait(150);
      look(name + ", " + check::stationName(station));
    }
    // Findings and steps in full: all of them, whether they are seen or not.
    for (const check::Finding& f : session().examination()->findings)
      for (const std::string& text : {f.sentence, f.reason, f.cure, f.measured, f.expected}) {
        const QStringList words = left(app::q(text));
        if (!words.isEmpty() && told_.insert(f.check + text).second)
          ADD_FAILURE() << f.check << ": " << text << " [" << test::s8(words.join(QLatin1Char(' '))) << "]";
      }
    for (const check::Finding& f : session().examination()->findings)
      for (const check::Mend& mend : f.mends)
        EXPECT_TRUE(left(app::q(mend.label)).isEmpty()) << f.check << ": " << mend.label;
  }
}

}  // namespace rakugo
