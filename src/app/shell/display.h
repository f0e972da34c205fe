// How large everything is drawn, and whether anything moves by itself: as the system has it, or as the person
// says.
#pragma once

#include <QString>

namespace rakugo::app {

/// The sizes that can be chosen; 0: as the system has its letters.
inline constexpr double kScales[] = {0, 1, 1.25, 1.5, 2};
/// The scale that is kept in the settings, one of kScales.
double keptScale();
void keepScale(double scale);
/// How large all is drawn where the system's letters are that high: in quarters, from 1 to 2. Letters of the
/// usual 12 pixels (9 points at 96 dots an inch) are 1.
double scaleOfLetters(double letters_px);
/// Sets the scale for the application that is about to be made. Called before it, with its name set; what
/// QT_SCALE_FACTOR says stands.
void applyScale(int argc, char** argv);

/// Whether nothing shall move by itself: what the settings say, else what the desktop says.
bool lessMotion();
void keepLessMotion(bool less);

}  // namespace rakugo::app
