// One material at the Surface station: its role, its pictures, and the tones that players choose for it.
#pragma once

#include <QFrame>
#include <QImage>
#include <map>
#include <optional>

#include "app/bench/bench.h"
#include "app/shell/session.h"
#include "check/role_proposals.h"
#include "prepare/surface/picture_needs.h"

class QBoxLayout;
class QComboBox;

namespace rakugo::app {

/// A material as a sample of cloth.
struct MaterialSample {
  QImage picture;        ///< of its base colour, at most 88 pixels a side; null: `color`
  QColor color, role;    ///< `role`: the role's own colour; invalid: none
  bool missing = false;  ///< the base colour names a picture that is not there, or damaged
};
MaterialSample sampleOf(const Session& session, const check::ModelState& state,
                        const scene::Material& material);
/// Its picture or colour over `cloth`, crossed out where it is missing.
void paintSample(QPainter& painter, const QRect& cloth, const MaterialSample& sample);

/// What is shown of a material. `state`, `material` and `proposal` are looked at while the card is made only.
struct MaterialShown {
  const check::ModelState& state;
  const scene::Material& material;
  const check::RoleProposal* proposal = nullptr;  ///< null: none is likely
  const decltype(prepare::pictureNeeds({}))& needs;
  bool several = false;   ///< it can be chosen together with others
  bool together = false;  ///< it is
};

class MaterialCard : public QFrame {
  Q_OBJECT
 public:
  MaterialCard(const Session& session, const Bench& bench, const MaterialShown& shown, QWidget* parent);
  /// The role is under the keys.
  void takeKeys();

 Q_SIGNALS:
  void chosen(const std::string& material);
  /// An empty role: none. `title` is the role's, for people.
  void roleAsked(const std::string& material, const std::string& role, const QString& title);
  /// No tone: the game's own.
  void toneAsked(const std::string& role, const std::optional<glm::vec3>& tone);
  void togetherAsked(const std::string& material, bool together);

 private:
  QWidget* makeHead(const MaterialShown& shown);
  QWidget* makeRoles(const MaterialShown& shown);
  QWidget* makeProposal(const MaterialShown& shown);
  QWidget* makeTones(const rulebook::Role& role);
  QWidget* makeTone(const rulebook::Role& role, const rulebook::Tone& tone);
  void addSlots(const MaterialShown& shown, QBoxLayout* column);
  [[nodiscard]] QString costText(const MaterialShown& shown) const;
  const Session& session_;
  const Bench& bench_;
  std::string key_;
  QString name_;
  QComboBox* roles_ = nullptr;
};

}  // namespace rakugo::app
