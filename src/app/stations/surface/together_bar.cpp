#include "app/stations/surface/together_bar.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/stations/surface/atlas_panel.h"
#include "app/widgets/panels.h"
#include "prepare/edit_steps.h"
#include "prepare/step.h"

namespace rakugo::app {
namespace {

// So that its words are found by catalogues under a name of their own.
struct Bar {
  Q_DECLARE_TR_FUNCTIONS(TogetherBar)
};

void makePlain(Session& session, const std::vector<std::string>& materials) {
  session.edit(Bar::tr("Make %1 materials plain").arg(materials.size()), [&](mod::ModState& mod) {
    auto* doc = mod.models.change(session.model());
    for (const std::string& key : materials)
      if (doc != nullptr)
        prepare::insertByRank(*doc, prepare::makeStep(*doc, "plain_material", {{"material", key}}));
  });
}

}  // namespace

QWidget* togetherBar(Session& session, const check::ModelState& state, std::set<std::string>& chosen,
                     AtlasPanel& atlas, const std::function<void()>& noneAsked, QWidget* parent) {
  std::vector<std::string> keys;
  for (const scene::MaterialIndex m : scene::usedMaterials(*state.prepared.model))
    if (const std::string& key = state.prepared.model->materials[m.value()].key; chosen.count(key) != 0)
      keys.push_back(key);
  chosen = std::set<std::string>(keys.begin(), keys.end());  // others are gone
  if (keys.size() < 2) return nullptr;
  auto* bar = new QFrame(parent);
  bar->setProperty("card", true);
  bar->setObjectName(QStringLiteral("together"));
  auto* column = new QVBoxLayout(bar);
  column->setContentsMargins(10, 8, 10, 8);
  column->setSpacing(6);
  column->addWidget(plainText(Bar::tr("%1 materials are chosen").arg(keys.size()), bar));
  if (state.kind != nullptr && !state.kind->roles.empty()) {
    auto* roles = new QComboBox(bar);
    roles->setObjectName(QStringLiteral("together-role"));
    roles->setAccessibleName(Bar::tr("A role for all of them"));
    roles->addItem(Bar::tr("Give all of them a role…"));
    roles->addItem(Bar::tr("no role: stays as it is"), QString());
    for (const rulebook::Role& one : state.kind->roles) roles->addItem(q(one.title), q(one.id));
    QObject::connect(roles, &QComboBox::activated, bar, [&session, roles, keys](int at) {
      if (at == 0) return;
      session.edit(Bar::tr("Give %1 materials a role").arg(keys.size()), [&](mod::ModState& mod) {
        if (auto* doc = mod.models.change(session.model()))
          for (const std::string& key : keys) prepare::setRole(*doc, key, s(roles->itemData(at).toString()));
      });
    });
    column->addWidget(roles);
  }
  auto* row = new QHBoxLayout;
  const auto button = [&](const char* name, const QString& text, const QString& tip) {
    auto* out = new QPushButton(text, bar);
    out->setObjectName(QLatin1String(name));
    out->setToolTip(tip);
    row->addWidget(out);
    return out;
  };
  QPushButton* merge =
      button("together-merge", Bar::tr("Merge"), Bar::tr("Puts their pictures onto one sheet; a step"));
  std::string why;
  const scene::Model& model = *state.prepared.model;
  for (const std::string& key : keys) {
    const scene::MaterialIndex i = scene::findMaterial(model, key),
                               first = scene::findMaterial(model, keys[0]);
    if (why.empty()) why = prepare::whyApart(model.materials[first.value()], model.materials[i.value()]);
  }
  merge->setEnabled(why.empty());
  QObject::connect(merge, &QPushButton::clicked, bar, [&atlas, keys] { atlas.merge(keys); });
  QObject::connect(
      button("together-plain", Bar::tr("Make plain"),
             Bar::tr("Name, role and the picture of the colour stay, all else goes; a step each")),
      &QPushButton::clicked, bar, [&session, keys] { makePlain(session, keys); });
  QObject::connect(button("together-none", Bar::tr("None"), Bar::tr("Chooses none of them any more")),
                   &QPushButton::clicked, bar, noneAsked);
  row->addStretch();
  column->addLayout(row);
  if (!why.empty()) column->addWidget(quietText(Bar::tr("They cannot be merged: %1.").arg(q(why)), bar));
  return bar;
}

}  // namespace rakugo::app
