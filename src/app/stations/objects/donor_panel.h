// Set-up taken from another object, of this mod or of another: what it has, beside what is here.
#pragma once

#include <QWidget>

#include "app/shell/session.h"
#include "prepare/objects/donor.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class DonorPanel : public QWidget {
  Q_OBJECT
 public:
  DonorPanel(Session& session, QWidget* parent);
  /// Brings it to the chosen object.
  void refresh();
  /// Reads the mod in a folder, whose objects are then donors too; nothing where it is none, and it is said.
  void openOther(const std::filesystem::path& folder);
  /// The same of a bundle.
  void openBundle(const std::filesystem::path& file);
  /// The offers that are listed.
  [[nodiscard]] const std::vector<prepare::DonorOffer>& offers() const { return offers_; }

 Q_SIGNALS:
  void tell(const QString& problem);

 private:
  // An object of another mod or bundle, read.
  struct Donor {
    std::shared_ptr<const mod::ModState> mod;
    prepare::DonorBody body;
  };
  // Another mod or bundle, with those of its objects that were asked for.
  struct Other {
    int number = 0;
    QString title, problem;
    std::vector<std::pair<std::string, QString>> objects;                // names, and what players read
    std::function<base::Result<Donor>(const std::string& object)> read;  // on any thread
    std::map<std::string, Donor> donors;
  };
  void open(const std::function<Other()>& look);
  void listDonors();
  void list();
  void take();
  void askFor(const std::string& object);
  [[nodiscard]] prepare::DonorSide taker() const;
  [[nodiscard]] std::optional<prepare::DonorSide> donor() const;
  Session& session_;
  QComboBox* donors_;
  QLabel* said_;
  QPushButton* take_;
  QVBoxLayout* rows_;
  std::optional<Other> other_;
  int opened_ = 0;
  QPushButton* own_;
  std::vector<prepare::DonorOffer> offers_;
  std::vector<QCheckBox*> marks_;  // by offer
  std::string listed_for_;
};

}  // namespace rakugo::app
