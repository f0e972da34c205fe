#include "app/stations/shape/parts_panel.h"

#include <QHBoxLayout>
#include <algorithm>

#include "app/bench/part_pictures.h"
#include "app/widgets/row_list.h"
#include "base/text.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

constexpr const char* kRowId = "part-";

QString rowOf(const std::string& key) { return QLatin1String(kRowId) + q(key); }
std::string keyOf(const QString& row) {
  return s(row.mid(static_cast<int>(std::char_traits<char>::length(kRowId))));
}

Sign signOf(render::Presence presence) {
  switch (presence) {
    case render::Presence::whole:
      return Sign::part_shown;
    case render::Presence::through:
      return Sign::part_through;
    case render::Presence::hidden:
      break;
  }
  return Sign::part_hidden;
}

QString sayingOf(render::Presence presence) {
  switch (presence) {
    case render::Presence::whole:
      return PartsPanel::tr("Seen; click to look through it");
    case render::Presence::through:
      return PartsPanel::tr("Looked through; click to hide it from view");
    case render::Presence::hidden:
      break;
  }
  return PartsPanel::tr("Hidden from view; click to see it");
}

render::Presence after(render::Presence presence) {
  switch (presence) {
    case render::Presence::whole:
      return render::Presence::through;
    case render::Presence::through:
      return render::Presence::hidden;
    case render::Presence::hidden:
      break;
  }
  return render::Presence::whole;
}

}  // namespace

PartsPanel::PartsPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench), pictures_(new PartPictures(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  column->addWidget(makeViews());
  column->addWidget(makePivot());
  list_ = new RowList(QStringLiteral("parts-list"), tr("Parts of the model"), this);
  list_->rows().setPictures([this](const QString& row) { return pictureOf(row); });
  column->addWidget(list_);
  same_ = new QVBoxLayout;
  column->addLayout(same_);
  connect(pictures_, &PartPictures::drawn, list_->viewport(), qOverload<>(&QWidget::update));
  connect(list_, &RowList::chosen, this, [this](const QString& row) {
    const std::string key = keyOf(row);
    choose(chosen_ == key ? std::string() : key);
  });
  connect(list_, &RowList::signAsked, this,
          [this](const QString& row, const QString& sign) { signAsked(keyOf(row), sign); });
  connect(&bench_, &Bench::viewsChanged, this, [this] {
    if (const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr) listParts(*state);
    sayViews();
  });
}

QWidget* PartsPanel::makeViews() {
  views_ = new QWidget(this);
  auto* row = new QHBoxLayout(views_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  alone_ = new QPushButton(tr("See it alone"), views_);
  alone_->setObjectName(QStringLiteral("part-alone"));
  alone_->setToolTip(tr("Hides all other parts from view; the mod stays as it is"));
  all_ = new QPushButton(tr("See all"), views_);
  all_->setObjectName(QStringLiteral("parts-all"));
  views_said_ = quietText({}, views_);
  views_said_->setObjectName(QStringLiteral("parts-hidden"));
  row->addWidget(alone_);
  row->addWidget(all_);
  row->addWidget(views_said_, 1);
  connect(alone_, &QPushButton::clicked, this, [this] { bench_.showAlone(withAllUnder(chosen_)); });
  connect(all_, &QPushButton::clicked, this, [this] {
    std::vector<std::string> parts;
    for (const auto& [key, presence] : bench_.views().parts) parts.push_back(key);
    bench_.setPresence(parts, render::Presence::whole);
  });
  return views_;
}

// Where what turns or places the chosen part takes hold.
QWidget* PartsPanel::makePivot() {
  pivot_ = new QWidget(this);
  auto* layout = new QHBoxLayout(pivot_);
  layout->setContentsMargins(0, 0, 0, 4);
  layout->setSpacing(4);
  QLabel* title = quietText(tr("Pivot"), pivot_);
  title->setToolTip(tr("The point that the part is turned about and placed by; the part stays where it is"));
  title->setWordWrap(false);
  layout->addWidget(title);
  const auto button = [&](const char* name, const QString& text, const QString& tip,
                          const std::function<void()>& act) {
    auto* one = new QPushButton(text, pivot_);
    one->setObjectName(QLatin1String(name));
    one->setToolTip(tip);
    layout->addWidget(one);
    connect(one, &QPushButton::clicked, this, act);
  };
  button("pivot-centre", tr("Centre"), tr("At the middle of the part's box"), [this] {
    putPivot(base::Json{{"to", "centre"}});
  });
  button("pivot-floor", tr("Floor"), tr("At the middle of the side the part stands on"), [this] {
    putPivot(base::Json{{"to", "floor_centre"}});
  });
  button("pick-pivot", tr("Click it"), tr("Click a vertex, an edge or a face in the bench"), [this] {
    bench_.setTool(bench_.tool() == Bench::Tool::pick_pivot ? Bench::Tool::look_round
                                                            : Bench::Tool::pick_pivot);
    bench_.setFocus();
  });
  layout->addStretch();
  return pivot_;
}

void PartsPanel::refresh() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  // What was chosen of another model, or has gone, is chosen no more.
  if (state != nullptr && !chosen_.empty() && !scene::findPart(*state->prepared.model, chosen_).valid()) {
    chosen_.clear();
    bench_.setSelectedPart({});
  }
  clearLayout(same_);
  if (state == nullptr) {
    list_->setRows({});
    views_->setVisible(false);
    pivot_->setVisible(false);
    return;
  }
  listParts(*state);
  listSame(*state);
  sayViews();
  const scene::NodeIndex part = scene::findPart(*state->prepared.model, chosen_);
  const bool turns = part.valid() && state->prepared.model->node(part).mesh.valid() &&
                     !state->prepared.model->node(part).skin.valid();
  pivot_->setVisible(!chosen_.empty() && turns);
}

void PartsPanel::listParts(const check::ModelState& state) {
  const scene::Model& model = *state.prepared.model;
  std::vector<int> depths(model.nodes.size(), 0);
  std::vector<ListRow> rows;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    // Parents are reached before their children.
    if (node.parent.valid()) depths[i.value()] = depths[node.parent.value()] + 1;
    uint64_t triangles = 0;
    if (node.mesh.valid())
      for (const auto& p : model.mesh(node.mesh).primitives) triangles += p.indices.size() / 3;
    const auto view = bench_.views().parts.find(node.key);
    const render::Presence presence =
        view != bench_.views().parts.end() ? view->second : render::Presence::whole;
    ListRow row;
    row.id = rowOf(node.key);
    row.name = q(node.name.empty() ? node.key : node.name);
    row.amount = node.mesh.valid()       ? q(base::groupedText(triangles))
                 : node.camera.valid()   ? tr("camera")
                 : node.light.valid()    ? tr("light")
                 : node.children.empty() ? tr("empty")
                                         : tr("group");
    if (node.mesh.valid()) row.said = q(base::countText(triangles, "triangle", "triangles"));
    row.indent = depths[i.value()];
    row.chosen = node.key == chosen_;
    row.faint = presence != render::Presence::whole;
    row.signs.push_back({signOf(presence), QStringLiteral("see-") + q(node.key), sayingOf(presence)});
    row.signs.push_back({Sign::remove, QStringLiteral("drop-") + q(node.key), tr("Drop %1").arg(row.name)});
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
}

void PartsPanel::sayViews() {
  size_t hidden = 0, through = 0;
  for (const auto& [key, presence] : bench_.views().parts)
    (presence == render::Presence::hidden ? hidden : through) += 1;
  views_->setVisible(!chosen_.empty() || hidden + through > 0);
  alone_->setVisible(!chosen_.empty());
  all_->setVisible(hidden + through > 0);
  QStringList said;
  if (hidden > 0) said << tr("%1 hidden from view").arg(hidden);
  if (through > 0) said << tr("%1 looked through").arg(through);
  views_said_->setText(said.join(QStringLiteral(", ")));
}

void PartsPanel::signAsked(const std::string& part, const QString& sign) {
  if (sign.startsWith(QLatin1String("see-"))) {
    const auto view = bench_.views().parts.find(part);
    return bench_.setPresence(
        withAllUnder(part),
        after(view != bench_.views().parts.end() ? view->second : render::Presence::whole));
  }
  const check::ModelState* state = session_.prepared();
  const scene::NodeIndex node =
      state != nullptr ? scene::findPart(*state->prepared.model, part) : scene::NodeIndex();
  if (!node.valid()) return;
  const std::string& name = state->prepared.model->node(node).name;
  session_.edit(tr("Drop %1").arg(q(name.empty() ? part : name)),
                [&](mod::ModState& mod) { prepare::dropParts(mod.models[session_.model()], {part}); });
}

std::vector<std::string> PartsPanel::withAllUnder(const std::string& part) const {
  std::vector<std::string> out;
  const check::ModelState* state = session_.prepared();
  const scene::NodeIndex top =
      state != nullptr ? scene::findPart(*state->prepared.model, part) : scene::NodeIndex();
  if (!top.valid()) return out;
  const scene::Model& model = *state->prepared.model;
  std::vector<scene::NodeIndex> open{top};
  while (!open.empty()) {
    const scene::NodeIndex one = open.back();
    open.pop_back();
    out.push_back(model.node(one).key);
    for (const scene::NodeIndex child : model.node(one).children) open.push_back(child);
  }
  return out;
}

QImage PartsPanel::pictureOf(const QString& row) const {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr) return {};
  const scene::NodeIndex part = scene::findPart(*state->prepared.model, keyOf(row));
  if (!part.valid() || !state->prepared.model->node(part).mesh.valid()) return {};
  const prepare::GameAxes axes = prepare::gameAxes(state->prepared.model->frame, session_.book());
  return pictures_->pictureOf(state->prepared.model, part, axes.up, axes.forward);
}

void PartsPanel::listSame(const check::ModelState& state) {
  if (!state.same_parts) return;
  constexpr size_t kMostShown = 6;
  const scene::Model& model = *state.prepared.model;
  std::vector<scene::SameParts> all = *state.same_parts;
  // Those of which there are most come first; a ship of a thousand planks has hundreds of sorts.
  std::stable_sort(all.begin(), all.end(), [](const scene::SameParts& a, const scene::SameParts& b) {
    return a.parts.size() > b.parts.size();
  });
  const size_t more = all.size() > kMostShown ? all.size() - kMostShown : 0;
  all.resize(all.size() - more);
  for (const scene::SameParts& same : all) {
    std::vector<std::string> names;
    for (const scene::NodeIndex part : same.parts) names.push_back(model.node(part).name);
    same_->addWidget(quietText(tr("%1 are the same part.").arg(q(base::listText(names, 4))), this));
    auto* keep = new QPushButton(tr("Keep one, note where the others stood"), this);
    keep->setObjectName(QStringLiteral("keep-one-") + q(model.node(same.parts[0]).key));
    keep->setToolTip(tr("The others are dropped; attachment points say where each copy belongs"));
    connect(keep, &QPushButton::clicked, this, [this, same, of = state.prepared.model] {
      const check::ModelState* now = session_.prepared();
      if (now == nullptr || now->prepared.model != of) return;  // the model has changed under the button
      session_.edit(tr("Keep one of %1 copies").arg(same.parts.size()), [&](mod::ModState& mod) {
        prepare::keepFirst(mod.models[session_.model()], *of, session_.book(), same);
      });
    });
    same_->addWidget(keep);
  }
  if (more > 0)
    same_->addWidget(
        quietText(tr("%1 more are there several times; they are offered once these are dealt with.")
                      .arg(q(base::countText(more, "sort of part", "sorts of parts"))),
                  this));
}

void PartsPanel::putPivot(const base::Json& values) {
  if (session_.prepared() == nullptr || chosen_.empty()) return;
  session_.edit(tr("Put a part's pivot"), [&](mod::ModState& mod) {
    prepare::setPivot(mod.models[session_.model()], chosen_, values);
  });
}

std::vector<Bench::Line> PartsPanel::pivotLines() const {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr || !state->structure) return {};
  const scene::Model& model = *state->prepared.model;
  const scene::NodeIndex part = scene::findPart(model, chosen_);
  if (!part.valid() || model.node(part).skin.valid()) return {};
  // Its box was found with its structure, off this thread.
  const auto known = std::find_if(state->structure->begin(), state->structure->end(),
                                  [&](const scene::PartStructure& one) { return one.node == part; });
  if (known == state->structure->end()) return {};
  const float size = glm::length(known->box.size()) * 0.2F;
  const auto world = scene::worldMatrices(model);
  std::vector<Bench::Line> out;
  for (int axis = 0; axis < 3 && size > 0; ++axis) {
    const glm::vec3 at(world[part.value()][3]), way(world[part.value()][axis]);
    const float length = glm::length(way);
    if (length > 0) out.push_back({{at - way * (size / length), at + way * (size / length)}, false, true});
  }
  return out;
}

void PartsPanel::choose(const std::string& part) {
  chosen_ = part;
  bench_.setSelectedPart(part);
  if (!part.empty()) list_->revealRow(rowOf(part));
  Q_EMIT chosenChanged();
}

}  // namespace rakugo::app
