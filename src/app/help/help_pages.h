// The pages of the help: those written by hand (docs/help), and one for each check and each kind of step,
// made from their tables.
#pragma once

#include <QString>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "rulebook/rulebook.h"

namespace rakugo::app {

struct HelpPage {
  QString id;     ///< "shape/size", "check/size.unit", "step/weld"; links name pages by it
  QString title;  ///< plain text
  QString text;   ///< Markdown, without the title
};

struct HelpHit {
  const HelpPage* page;
  QString piece;  ///< plain text round the first word that was found
};

class HelpPages {
 public:
  /// `chapter_of`: the id of the chapter where findings of a check are mended, or empty.
  /// `folder`: of pages in another language, `start-findings.md`; what it lacks is read in English.
  explicit HelpPages(std::function<std::string(const std::string& check)> chapter_of,
                     const QString& folder = {});
  /// Reasons are from now on those of that rulebook; null: those of the table of checks.
  void follow(const rulebook::Rulebook* book);
  /// The page of that id, or of that file as pages name each other ("start-findings.md"); or null. Valid
  /// until `follow`.
  [[nodiscard]] const HelpPage* find(const QString& link) const;
  /// All pages written by hand, in the order of the stations.
  [[nodiscard]] std::vector<const HelpPage*> written() const;
  /// Pages in which each of the words stands, in any letter case, at the beginning of a word: those with the
  /// words in their title first, else by how often they stand there. Nothing for no words.
  [[nodiscard]] std::vector<HelpHit> search(const QString& words) const;

 private:
  void makeCheckPages(const rulebook::Rulebook* book);
  void makeStepPages();
  std::function<std::string(const std::string&)> chapter_of_;
  std::map<QString, HelpPage> pages_;
  std::vector<QString> written_;
};

/// Markdown without its signs, for the results of a search.
QString plainOf(const QString& markdown);

}  // namespace rakugo::app
