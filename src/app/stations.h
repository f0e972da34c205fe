// The instruments at the right: one a station.
#pragma once

#include <QElapsedTimer>
#include <QPointer>
#include <QProcess>
#include <QWidget>
#include <map>

#include "app/background.h"
#include "app/bench.h"
#include "app/game_line.h"
#include "app/package_view.h"
#include "app/session.h"
#include "prepare/families.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace rakugo::app {

class ComparisonPanel;
class CorrectionPanel;
class Gauge;
class OutfitPanel;
class SourceCredit;
class SourceDetails;
class SourceList;
class SourcePictures;
class SourceRows;
class SourceWork;
class StructurePanel;

class TryPanel;

/// What every station has: a column, and a refresh that keeps whatever the person is typing in.
class StationPanel : public QWidget {
  Q_OBJECT
 public:
  StationPanel(Session& session, Bench& bench, QWidget* parent);
  /// Brings all that is shown to the present state. Called after every edit and examination.
  virtual void refresh() = 0;
  /// Brings a place into sight: a field, a part.
  virtual void showPlace(const check::FindingPlace& place) { (void)place; }

 Q_SIGNALS:
  void addModelAsked();
  void buildAsked();
  void tell(const QString& text, bool good);
  void goTo(const QString& object, const QString& field);

 protected:
  Session& session_;
  Bench& bench_;
  QVBoxLayout* column_;
  QScrollArea* area_;
};

/// The sources of the mod, what is inside the chosen one, what is to be done about it, and whom it is owed
/// to.
class SourcesStation : public StationPanel {
  Q_OBJECT
 public:
  SourcesStation(Session& session, Bench& bench, SourceWork& work, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  /// Chooses a source, and the model that is made of it.
  void choose(const std::string& source);

 Q_SIGNALS:
  void exportAsked();
  void pictured(const QString& source, const QVector<QImage>& pictures);  ///< a small picture of it was taken

 private:
  SourceWork& work_;
  SourcePictures* pictures_;
  SourceRows* rows_;
  SourceList* list_;
  SourceDetails* details_;
  SourceCredit* credit_;
  QLabel* empty_;
  QPushButton* export_;
  std::string source_, model_;  ///< the chosen one, and the model that was chosen when it was
  bool refreshing_ = false;
};

class MatchBoard;
class PartPictures;

/// Gauges, direction, parts.
class ShapeStation : public StationPanel {
  Q_OBJECT
 public:
  ShapeStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  /// What this station draws in the bench is seen while it is stood at.
  void setStoodAt(bool here);

 private:
  void fitTo(int axis, double length_m);
  void faceForward(glm::vec3 direction);
  void putOriginAt(glm::vec3 point);
  void dropToFloor();
  void measureGap(const std::string& part, const std::string& beside);
  void offerWholeFactors();
  [[nodiscard]] bool originFound() const;
  [[nodiscard]] std::vector<Bench::Line> cellLines(const check::ModelState& state) const;
  void drawInBench();
  void addSameParts(const scene::Model& model, const scene::SameParts& same);
  void choosePart(const std::string& key);
  void addPivotRow(int indent);
  void putPivot(const base::Json& values);
  [[nodiscard]] std::vector<Bench::Line> pivotLines(const check::ModelState& state) const;
  void turnQuarters(int axis, int quarters);
  Gauge* gauges_[3];
  Gauge *reach_, *volume_;
  QPushButton* rings_;
  PartPictures* pictures_;
  QPushButton* origin_;
  QCheckBox* proportions_;
  QLabel* more_;
  QPushButton *floor_, *whole_, *angle_, *gap_, *clear_;
  bool here_ = false;
  QLabel* way_;
  QLabel* counts_;
  QPushButton* point_;
  QPushButton* measure_;
  QVBoxLayout* parts_;
  OutfitPanel* outfit_;
  CorrectionPanel* corrections_;
  StructurePanel* structure_;
  ComparisonPanel* comparison_;
  std::string chosen_;
  Background background_;  ///< last, so that it ends before what its results are put into
};

/// The model's bones, and which of the game's they are.
class SkeletonStation : public StationPanel {
  Q_OBJECT
 public:
  SkeletonStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  /// The bench draws bones while this station is stood at.
  void setStoodAt(bool here);

 private:
  void chooseBone(const std::string& key);
  void addBones(const scene::Model& model, const rulebook::Skeleton* wanted);
  /// The skeleton that the model's kind asks for, or null.
  [[nodiscard]] const rulebook::Skeleton* skeleton() const;
  [[nodiscard]] QString saying(const check::ModelState& state, const rulebook::Skeleton* wanted,
                               bool some) const;
  void fillBoard(const check::ModelState& state, const rulebook::Skeleton& wanted);
  static std::vector<std::tuple<std::string, std::string, bool>> takable(const check::ModelState& state,
                                                                         const rulebook::Skeleton& wanted);
  /// Says how a slot stands, and which bone it has.
  void showSlot(const QString& slot);
  void chooseSlot(const QString& slot);
  /// Says when the model's bones are those of a family that is known, and offers its steps.
  void showFamily();
  void useFamily();
  /// Whose weights can be taken: the game's example, and models of the mod that have bones.
  void fillDonors();
  void takeWeights();
  /// Shows in the bench what follows the chosen bone, where that is asked for.
  void showWeightsOf();
  void showWeights(const scene::WeightReport& weights, const rulebook::Kind& kind);
  /// A person says which bone a slot's is; an empty key takes back what was said.
  void give(const std::string& slot, const std::string& key);
  void take(bool only_sure);

  TryPanel* try_;
  MatchBoard* board_;
  QComboBox *slots_, *bones_;
  QLabel *said_, *reason_, *weights_said_, *counts_;
  QPushButton *sure_, *all_;
  QCheckBox* see_weights_;
  QLabel* family_said_;
  QPushButton* use_family_;
  QWidget* donor_row_;
  QComboBox* donors_;
  std::vector<prepare::Habit> habits_;
  QWidget* weights_;
  QVBoxLayout* rows_;
  std::string chosen_;
  bool here_ = false;
  Background background_;  ///< last, so that it ends before what its results are put into
};

/// What the game does with each material, and its pictures.
class SurfaceStation : public StationPanel {
  Q_OBJECT
 public:
  SurfaceStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;

 private:
  void addCard(const check::ModelState& state, const scene::Material& material);
  void giveRole(const std::string& material, const std::string& role, const QString& title);
  std::map<std::string, QWidget*> cards_;
};

/// The object's card, icon and attachment points.
class ObjectsStation : public StationPanel {
  Q_OBJECT
 public:
  ObjectsStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;

 private:
  void rebuild();
  void addField(const rulebook::Field& field);
  void addPoint(const std::string& model, const mod::PointDoc& point, const QString& title);
  void takeIcon();
  void setField(const std::string& id, const base::Json& value);
  std::string built_for_;
  std::map<std::string, QWidget*> editors_;
  QLabel* icon_ = nullptr;
  std::vector<std::function<void()>> refreshers_;
};

/// What was built, the mod's own card, installing.
class BundleStation : public StationPanel {
  Q_OBJECT
 public:
  BundleStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  /// Looks into any package, in the background, and shows what it holds.
  void lookInto(const QString& file);

 private:
  void listEntries();
  void listInstalled();
  void showBuilt(const base::Result<packing::Package>& package, bool good);
  void showInstalled(const std::vector<packing::InstalledPackage>& list);
  void showLooked();
  std::map<std::string, QWidget*> fields_;
  QLabel* state_;
  QVBoxLayout* entries_;
  QVBoxLayout* installed_;
  QVBoxLayout* looked_at_;
  QPushButton* build_;
  QPushButton* install_;
  QString listed_, listed_game_;
  std::optional<packing::Package> mine_;
  std::optional<LookedInto> looked_;
};

/// The stand-in game and its log.
class TryoutStation : public StationPanel {
  Q_OBJECT
 public:
  TryoutStation(Session& session, Bench& bench, QWidget* parent);
  ~TryoutStation() override;
  void refresh() override;
  void start();
  [[nodiscard]] bool running() const { return game_.state() != QProcess::NotRunning; }
  [[nodiscard]] bool connected() const { return line_.connected(); }

 Q_SIGNALS:
  void installAsked();
  void runningChanged();
  void gameUpToDate(qint64 milliseconds);  ///< so long after the edit

 private:
  void addLine(const base::Json& line);
  /// Brings the running game up to date, when that is wanted and can be.
  void keepUp();
  void showState();
  QProcess game_;
  GameLine line_;
  QPushButton* start_;
  QCheckBox* live_;
  QElapsedTimer since_edit_;  ///< of the first edit that the game has not seen
  bool behind_ = false, bringing_ = false;
  std::filesystem::path followed_;              ///< the mod that the game was started for
  std::shared_ptr<const mod::ModState> given_;  ///< what the game has
  QString how_fast_;
  QLineEdit* folder_;
  QVBoxLayout* log_;
  QLabel* state_;
};

/// The folder of the stand-in game: $RAKUGO_GAME, else kelpwick's place in the user's data folder.
QString gameFolder();
/// Remembers another one for this run and the next.
void setGameFolder(const QString& folder);

}  // namespace rakugo::app
