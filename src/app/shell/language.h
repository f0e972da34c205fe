// The language in which the window and the core speak.
#pragma once

#include <QStringList>

class QApplication;

namespace rakugo::app {

/// Takes the catalogue of the person's language, `rakugo_<language>.qm` in one of `folders`, where there is
/// one; without one all is said in English. What the core says is looked up in the context "core", by its
/// English text with the numbered places in it. Called once, before anything is said.
void setLanguage(QApplication& app, const QStringList& folders);
/// Lets the core speak by the translators that are installed.
void speakThroughQt();
/// The folder with pages of the help in the language that was taken, `help_<language>` beside the catalogue;
/// empty where there is none. A page that it lacks is read in English.
QString helpFolder();
/// Where catalogues lie: beside the rulebooks.
QStringList languageFolders();

}  // namespace rakugo::app
