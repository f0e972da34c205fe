// Bones named in many languages and scripts, on bodies that face either way: what is found, and what is
// called sure.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "prepare/matching/bone_match.h"
#include "prepare/matching/bone_names.h"
#include "prepare/matching/letters.h"
#include "support/made_bodies.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;
using test::Body;
using test::Built;
using test::Habit;
using test::Tag;

const rulebook::Rulebook& book() {
  static const rulebook::Rulebook kBook = std::move(rulebook::findRulebook("kelpwick")).value();
  return kBook;
}
const rulebook::Skeleton& keeper() { return *book().findSkeleton("keeper"); }

// Words of a language for the parts, in the order of `kParts`, and how a side is put to them.
constexpr const char* kParts[] = {"root",    "hips", "spine", "chest", "neck", "head", "collar",  "upper_arm",
                                  "forearm", "hand", "thigh", "shin",  "foot", "toe",  "finger0", "eye"};
struct Language {
  const char* name;
  const char* words[16];
  const char *left, *right;
  enum class Put : unsigned char { before, behind, glued_before, glued_behind } put;
};
using Put = Language::Put;
constexpr Language kLanguages[] = {
    {"Spanish",
     {"raíz", "cadera", "columna", "pecho", "cuello", "cabeza", "clavícula", "brazo", "antebrazo", "mano",
      "muslo", "pantorrilla", "pie", "toe", "pulgar", "ojo"},
     "izq",
     "der",
     Put::behind},
    {"Italian",
     {"radice", "bacino", "schiena", "petto", "collo", "testa", "clavicola", "braccio", "avambraccio", "mano",
      "coscia", "polpaccio", "piede", "toe", "pollice", "occhio"},
     "sinistra",
     "destra",
     Put::behind},
    {"Portuguese",
     {"raiz", "quadril", "coluna", "peito", "pescoço", "cabeça", "clavícula", "braço", "antebraço", "mão",
      "coxa", "canela", "pé", "toe", "polegar", "olho"},
     "esquerda",
     "direita",
     Put::behind},
    {"Dutch",
     {"wortel", "bekken", "ruggengraat", "borst", "nek", "hoofd", "sleutelbeen", "bovenarm", "onderarm",
      "hand", "bovenbeen", "onderbeen", "voet", "tenen", "duim", "oog"},
     "linker",
     "rechter",
     Put::glued_before},
    {"Polish",
     {"korzeń", "miednica", "kręgosłup", "klatka", "szyja", "głowa", "obojczyk", "ramię", "przedramię",
      "dłoń", "udo", "łydka", "stopa", "palce", "kciuk", "oko"},
     "lewa",
     "prawa",
     Put::before},
    {"Czech",
     {"kořen", "pánev", "páteř", "hrudník", "krk", "hlava", "klíček", "nadloktí", "předloktí", "ruka",
      "stehno", "lýtko", "chodidlo", "špička", "palec", "oko"},
     "levá",
     "pravá",
     Put::before},
    {"Swedish",
     {"rot", "höfter", "ryggrad", "bröst", "hals", "huvud", "nyckelben", "överarm", "underarm", "hand", "lår",
      "smalben", "fot", "tår", "tumme", "öga"},
     "vänster",
     "höger",
     Put::before},
    {"Turkish",
     {"kök", "kalça", "omurga", "göğüs", "boyun", "baş", "köprücük", "üstkol", "önkol", "el", "uyluk",
      "baldır", "ayak", "ayakparmağı", "başparmak", "göz"},
     "sol",
     "sağ",
     Put::before},
    {"Russian",
     {"Корень", "Таз", "Позвоночник", "Грудь", "Шея", "Голова", "Ключица", "Плечо", "Предплечье", "Кисть",
      "Бедро", "Голень", "Стопа", "Носок", "БольшойПалец", "Глаз"},
     "Л",
     "П",
     Put::behind},
    {"Ukrainian",
     {"корінь", "таз", "хребет", "груди", "шия", "голова", "ключиця", "плече", "передпліччя", "долоня",
      "стегно", "гомілка", "стопа", "носок", "палець", "око"},
     "лів",
     "прав",
     Put::before},
    {"Greek",
     {"Ρίζα", "Λεκάνη", "Σπονδυλική", "Στήθος", "Λαιμός", "Κεφάλι", "Κλείδα", "Βραχίονας", "Πήχης", "Χέρι",
      "Μηρός", "Κνήμη", "Πέλμα", "Μύτη", "Αντίχειρας", "Μάτι"},
     "Αριστερό",
     "Δεξί",
     Put::before},
    {"Chinese",
     {"根", "骨盆", "脊椎", "胸", "颈", "头", "锁骨", "上臂", "前臂", "手", "大腿", "小腿", "脚", "脚趾",
      "拇指", "眼"},
     "左",
     "右",
     Put::glued_before},
    {"Chinese, traditional",
     {"根", "骨盆", "脊柱", "胸部", "頸", "頭", "鎖骨", "上臂", "前臂", "手掌", "大腿", "小腿", "腳", "腳趾",
      "拇指", "眼睛"},
     "左",
     "右",
     Put::glued_behind},
    {"Japanese",
     {"ルート", "下半身", "背骨", "胸", "首", "頭", "肩", "腕", "ひじ", "手首", "足", "ひざ", "足首",
      "つま先", "親指", "目"},
     "左",
     "右",
     Put::glued_before},
    {"Japanese, kana",
     {"ルート", "こし", "せぼね", "むね", "くび", "アタマ", "かた", "うで", "ヒジ", "てくび", "もも", "ひざ",
      "あしくび", "つまさき", "ユビ", "目"},
     "ひだり",
     "みぎ",
     Put::glued_before},
    {"Korean",
     {"루트", "골반", "척추", "가슴", "목", "머리", "쇄골", "위팔", "아래팔", "손", "허벅지", "종아리", "발",
      "발끝", "엄지", "눈"},
     "왼쪽",
     "오른쪽",
     Put::glued_before}};

Habit habitOf(const Language& language) {
  Habit out;
  out.name = language.name;
  out.words = test::kEnglish;
  for (size_t i = 0; i < 16; ++i) out.words[kParts[i]] = language.words[i];
  out.put = [&language](const std::string& word, int side, int number) {
    const std::string said = side == 1 ? language.left : side == 2 ? language.right : "";
    const std::string count = number > 0 ? std::to_string(number) : "";
    if (said.empty()) return word + count;
    switch (language.put) {
      case Put::before:
        return said + "_" + word + count;
      case Put::behind:
        return word + count + "." + said;
      case Put::glued_before:
        return said + word + count;
      case Put::glued_behind:
        return word + said + count;
    }
    return word;
  };
  return out;
}

// Bodies of one to five bones between hips and neck, arms level to hanging, with and without collarbones,
// toes.
std::vector<Body> bodies() {
  std::vector<Body> out;
  for (int spines = 1; spines <= 5; ++spines)
    for (const bool backward : {false, true}) {
      Body body = test::kBodies[static_cast<size_t>(spines) % 3];
      body.spines = spines;
      body.arms_down = 0.33F * static_cast<float>(spines - 1);
      body.collars = spines != 2;
      body.backward = backward;
      out.push_back(body);
    }
  return out;
}

TEST(BoneLanguages, BodiesThatFaceEitherWayAreFoundInSixteenOfThem) {
  test::SlotTally tally(book());
  for (const Language& language : kLanguages)
    for (const Body& body : bodies()) tally.add(habitOf(language), body);
  EXPECT_EQ(tally.bodies, 160u);
  EXPECT_EQ(tally.facing, 160u);
  EXPECT_GE(static_cast<double>(tally.right), 0.98 * static_cast<double>(tally.slots))
      << tally.right << " of " << tally.slots << "\n"
      << testing::PrintToString(tally.wrong);
  EXPECT_GE(static_cast<double>(tally.sure), 0.6 * static_cast<double>(tally.slots))
      << "much is sure, or it is no help";
  RecordProperty("right", static_cast<int>(tally.right));
  RecordProperty("slots", static_cast<int>(tally.slots));
}

TEST(BoneLanguages, TheTenHabitsAreFoundOnBodiesThatFaceEitherWay) {
  test::SlotTally tally(book());
  for (const Habit& habit : test::habits())
    for (const Body& body : bodies()) tally.add(habit, body);
  EXPECT_GE(static_cast<double>(tally.right), 0.98 * static_cast<double>(tally.slots))
      << tally.right << " of " << tally.slots << "\n"
      << testing::PrintToString(tally.wrong);
  EXPECT_EQ(tally.facing, tally.bodies);
}

TEST(Letters, AreTheSameInEveryFormOfWriting) {
  EXPECT_EQ(foldedWord("Épaule"), "epaule");
  EXPECT_EQ(foldedWord("E\u0301paule"), "epaule") << "the accent by itself";
  EXPECT_EQ(foldedWord("ГОЛОВА"), "голова");
  EXPECT_EQ(foldedWord("Στήθος"), "στηθοσ");
  EXPECT_EQ(foldedWord("Fuß"), "fuss");
  EXPECT_EQ(foldedWord("ヒジ"), "ひじ");
  EXPECT_EQ(foldedWord("ﾋｼﾞ"), "ひじ") << "narrow";
  EXPECT_EQ(foldedWord("ひし\u3099"), "ひじ") << "the mark by itself";
  EXPECT_EQ(foldedWord("ＩＫ"), "ik") << "wide";
  EXPECT_EQ(foldedWord("\u1109\u1169\u11AB"), "손") << "in its parts";
  EXPECT_EQ(foldedWord("BAĞ"), "bag");
}

TEST(Letters, BytesThatAreNoTextAreKeptApartAndNeverRead) {
  std::string all;
  for (int i = 1; i < 256; ++i) all += static_cast<char>(i);
  for (size_t from = 0; from < all.size(); ++from) {
    const auto letters = lettersOf(std::string_view(all).substr(from, 9));
    EXPECT_LE(letters.size(), 18u);
  }
  EXPECT_EQ(foldedWord("\xE5\x8F"), "\xEF\xBF\xBD\xEF\xBF\xBD") << "a letter cut in its middle";
  EXPECT_TRUE(lettersOf("").empty());
}

TEST(BoneNames, SaySidesGluedBeforeAndBehindInAnyScript) {
  using rulebook::Side;
  const struct {
    const char* name;
    Side side;
    BodyPart part;
  } kNames[] = {{"左ひざ", Side::left, BodyPart::shin},      {"ひざ右", Side::right, BodyPart::shin},
                {"왼손목", Side::left, BodyPart::hand},      {"오른발가락", Side::right, BodyPart::toe},
                {"右大腿", Side::right, BodyPart::thigh},    {"ЛеваяКисть", Side::left, BodyPart::hand},
                {"кистьп", Side::right, BodyPart::hand},     {"linkerhand", Side::left, BodyPart::hand},
                {"ΔεξίΓόνατο", Side::right, BodyPart::shin}, {"左手人差指１", Side::left, BodyPart::finger},
                {"頭", Side::centre, BodyPart::head}};
  for (const auto& one : kNames) {
    const BoneName read = readBonePhrase(one.name);
    EXPECT_EQ(read.side, one.side) << one.name;
    const auto loudest = std::max_element(read.parts.begin(), read.parts.end()) - read.parts.begin();
    EXPECT_EQ(static_cast<BodyPart>(loudest), one.part) << one.name;
    EXPECT_FALSE(read.helper) << one.name;
  }
  EXPECT_TRUE(readBonePhrase("左足ＩＫ").helper);
  EXPECT_TRUE(readBonePhrase("右腕捩り").helper);
}

// A body that faces backward with names that go by its own left and right is turned, not renamed.
TEST(BoneMatch, NamesThatGoByTheBodyAreRightHoweverItFaces) {
  Body body = test::kBodies[1];
  body.backward = true;
  const test::Naming name = test::naming(test::habits()[2]);
  const BoneMatch match = matchBones(test::Builder(body, name).build().model, keeper(), book());
  EXPECT_EQ(match.facing, BoneMatch::Facing::backward);
  EXPECT_FALSE(match.sides_swapped);
  EXPECT_TRUE(match.find("hand.port")->sure) << match.find("hand.port")->reason;
}

}  // namespace
}  // namespace rakugo::prepare
