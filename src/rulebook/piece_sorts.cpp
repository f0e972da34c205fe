#include "rulebook/piece_sorts.h"

#include "base/phrase.h"

namespace rakugo::rulebook {
namespace {

using base::Json;
using base::phrase;

Field value(const char* id, std::string title, std::string help, FieldType type, Json initial) {
  Field out;
  out.id = id;
  out.title = std::move(title);
  out.help = std::move(help);
  out.type = type;
  out.default_value = std::move(initial);
  return out;
}

Field number(const char* id, std::string title, std::string help, const char* unit, double least, double most,
             double initial) {
  Field out = value(id, std::move(title), std::move(help), FieldType::number, initial);
  out.unit = unit;
  out.min = least;
  out.max = most;
  return out;
}

Field choice(const char* id, std::string title, std::string help, std::vector<std::string> choices) {
  Field out = value(id, std::move(title), std::move(help), FieldType::choice, choices.front());
  out.choices = std::move(choices);
  return out;
}

std::vector<Field> lampValues() {
  return {value("color", phrase("Colour"), phrase("Of its light."), FieldType::color, {1.0, 0.85, 0.6}),
          number("strength", phrase("Strength"), phrase("A candle has 1, a street lamp some hundreds."), "cd",
                 0, 100'000, 40),
          number("reach_m", phrase("Reach"), phrase("Nothing is lit beyond."), "m", 0, 1000, 8),
          number("cone_deg", phrase("Cone"),
                 phrase("From one side of the beam to the other; 360 shines all round."), "°", 1, 360, 360),
          number("soft", phrase("Soft edge"), phrase("The share of the cone in which the light fades."), "",
                 0, 1, 0.2),
          choice("lit", phrase("Lit"), phrase("When it shines."), {"always", "night"})};
}

std::vector<Field> emitterValues() {
  const auto number_of = [](const char* id, std::string title, const char* unit, double least, double most,
                            double initial, std::string help = {}) {
    return number(id, std::move(title), std::move(help), unit, least, most, initial);
  };
  return {choice("look", phrase("What comes out"), phrase("How a particle looks."),
                 {"smoke", "sparks", "flame", "spray"}),
          number_of("rate", phrase("Rate"), "1/s", 0, 500, 8, phrase("Particles a second.")),
          number_of("life_s", phrase("Life"), "s", 0.05, 60, 3, phrase("How long each is seen.")),
          number_of("speed_m_s", phrase("Speed"), "m/s", 0, 100, 1,
                    phrase("As it leaves, along the emitter's up.")),
          number_of("spread_deg", phrase("Spread"), "°", 0, 180, 20, phrase("How far aside it may leave.")),
          number_of("gravity", phrase("Gravity"), "", -2, 2, -0.02,
                    phrase("1 falls as a stone does; below 0 it rises.")),
          number_of("size_m", phrase("Size"), "m", 0.001, 50, 0.15, phrase("As it leaves.")),
          number_of("size_end_m", phrase("Size at the end"), "m", 0.001, 50, 0.8),
          value("color", phrase("Colour"), phrase("As it leaves."), FieldType::color, {0.55, 0.53, 0.5}),
          value("color_end", phrase("Colour at the end"), {}, FieldType::color, {0.8, 0.79, 0.77}),
          number_of("opacity", phrase("Opacity"), "", 0, 1, 0.6,
                    phrase("As it leaves: 0 is not seen, 1 hides what is behind.")),
          number_of("opacity_end", phrase("Opacity at the end"), "", 0, 1, 0),
          choice("runs", phrase("Runs"), phrase("When it sends particles."), {"always", "night"})};
}

Field whole(const char* id, std::string title, std::string help, int64_t least, int64_t most,
            int64_t initial) {
  Field out = value(id, std::move(title), std::move(help), FieldType::integer, initial);
  out.min = static_cast<double>(least);
  out.max = static_cast<double>(most);
  return out;
}

std::vector<Field> shapeValues() {
  Field parts =
      value("parts", phrase("Parts"),
            phrase("Of the model that carries it, with all below them: what it is made of and fitted to; "
                   "left empty, all of the model."),
            FieldType::list, Json::array());
  Field part = value("part", phrase("Part"), {}, FieldType::text, {});
  part.max_length = 200;
  part.required = true;
  parts.columns = {part};
  parts.max = 64;
  return {
      choice("form", phrase("Form"),
             phrase("A hull, hulls and a mesh are made of the model that carries it."),
             {"hull", "hulls", "box", "sphere", "capsule", "cylinder", "mesh"}),
      parts,
      number("length_m", phrase("Length"), phrase("Of a box, along its forward."), "m", 0.001, 1000, 1),
      number("width_m", phrase("Width"), phrase("Of a box, along its side; else across."), "m", 0.001, 1000,
             1),
      number("height_m", phrase("Height"), phrase("Along its up, with round ends."), "m", 0.001, 1000, 1),
      whole("corners", phrase("Corners"), phrase("Of a hull, at most."), 4, 255, 32),
      whole("hulls", phrase("Hulls"), phrase("Of several, at most."), 1, 64, 8),
      whole("triangles", phrase("Triangles"), phrase("Of a mesh, at most."), 4, 4000, 200),
      number("friction", phrase("Friction"), phrase("0 is ice, 1 is rubber."), "", 0, 4, 0.6),
      number("bounce", phrase("Bounce"),
             phrase("Restitution: the share of its speed that it keeps when it bounces."), "", 0, 1, 0.2)};
}

std::vector<Field> soundValues() {
  Field sounds =
      value("sounds", phrase("Sounds"), phrase("Several are variants: the game takes another each time."),
            FieldType::list, {});
  Field one = value("sound", phrase("Sound"), {}, FieldType::reference, {});
  one.to = {kSoundSort};
  one.required = true;
  sounds.columns = {one};
  sounds.required = true;
  sounds.min = 1;
  sounds.max = 16;
  Field pitch = value("pitch", phrase("Pitch"),
                      phrase("At rest and at full speed; 1 is as recorded, 2 an octave higher."),
                      FieldType::range, {1.0, 1.0});
  pitch.min = 0.1;
  pitch.max = 4;
  return {
      sounds,
      choice("plays", phrase("Plays"), phrase("When it is heard."), {"always", "night"}),
      value("loop", phrase("Loops"), phrase("It begins again at its end, without a click."), FieldType::flag,
            true),
      number("from_s", phrase("From"), phrase("Where it begins in the recording."), "s", 0, 3600, 0),
      number("to_s", phrase("To"), phrase("Where it ends; 0: at the end of the recording."), "s", 0, 3600, 0),
      number("blend_s", phrase("Crossfade"), phrase("Of a loop: how long its end runs into its beginning."),
             "s", 0, 5, 0.05),
      number("gain_db", phrase("Gain"), phrase("Louder or softer than others; -6 is half as much."), "dB",
             -60, 24, 0),
      pitch,
      number("near_m", phrase("Full within"), phrase("It is no louder nearer than this."), "m", 0.01, 1000,
             1),
      number("far_m", phrase("Heard to"), phrase("It is silent beyond."), "m", 0.1, 10'000, 20)};
}

std::vector<Field> movingValues() {
  Field span = value("span_deg", phrase("Span"), phrase("Of what swings: from where to where."),
                     FieldType::range, {-30.0, 30.0});
  span.unit = "°";
  span.min = -180;
  span.max = 180;
  Field part = value("part", phrase("Part"),
                     phrase("Of the model that carries it; left empty, only what it carries itself moves."),
                     FieldType::text, "");
  part.max_length = 200;
  return {part,
          choice("moves", phrase("Moves"), phrase("Round and round, or to and fro."), {"turns", "swings"}),
          choice("runs", phrase("Runs"), phrase("When it moves."), {"always", "night"}),
          number("rate", phrase("Rate"), phrase("Turns or swings a second; below 0 it goes the other way."),
                 "1/s", -100, 100, 1),
          span};
}

}  // namespace

const char* pieceSortName(PieceSort sort) {
  switch (sort) {
    case PieceSort::lamp:
      return "lamp";
    case PieceSort::emitter:
      return "emitter";
    case PieceSort::sound:
      return "sound";
    case PieceSort::moving:
      return "moving";
    case PieceSort::shape:
      break;
  }
  return "shape";
}

std::optional<PieceSort> pieceSortFrom(std::string_view name) {
  for (const PieceSort sort : kPieceSorts)
    if (name == pieceSortName(sort)) return sort;
  return std::nullopt;
}

std::vector<Field> pieceValues(PieceSort sort) {
  if (sort == PieceSort::shape) return shapeValues();
  if (sort == PieceSort::sound) return soundValues();
  if (sort == PieceSort::moving) return movingValues();
  return sort == PieceSort::lamp ? lampValues() : emitterValues();
}

}  // namespace rakugo::rulebook
