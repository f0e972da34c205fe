#include "app/stations/objects/rows_editor.h"

#include <QGridLayout>
#include <QPainter>
#include <QPushButton>
#include <QTimer>
#include <algorithm>

#include "app/widgets/panels.h"

namespace rakugo::app {

using base::Json;

// The points of a curve, joined by straight lines.
class RowsEditor::Curve : public QWidget {
 public:
  explicit Curve(const rulebook::Field& field, QWidget* parent) : QWidget(parent), field_(field) {
    setFixedHeight(72);
    setAccessibleName(tr("%1, drawn").arg(q(field.title)));
  }
  void show(const Json& rows) {
    points_.clear();
    for (const Json& row : rows) {
      const Json *x = base::memberOf(row, field_.columns[0].id.c_str()),
                 *y = base::memberOf(row, field_.columns[1].id.c_str());
      if (x != nullptr && y != nullptr && x->is_number() && y->is_number())
        points_.emplace_back(x->get<double>(), y->get<double>());
    }
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), t.sheet);
    p.setPen(t.hair);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
    if (points_.size() < 2) return;
    double low_x = points_.front().x(), high_x = low_x, low_y = 0, high_y = 0;
    for (const QPointF& one : points_) {
      low_x = std::min(low_x, one.x()), high_x = std::max(high_x, one.x());
      low_y = std::min(low_y, one.y()), high_y = std::max(high_y, one.y());
    }
    const auto along = [](double v, double low, double high) {
      return high > low ? (v - low) / (high - low) : 0.5;
    };
    QPolygonF line;
    for (const QPointF& one : points_)
      line << QPointF(8 + along(one.x(), low_x, high_x) * (width() - 16),
                      height() - 8 - along(one.y(), low_y, high_y) * (height() - 16));
    p.setPen(QPen(t.click, 1.6));
    p.drawPolyline(line);
    p.setBrush(t.click);
    for (const QPointF& one : line) p.drawEllipse(one, 2.5, 2.5);
  }

 private:
  const rulebook::Field field_;
  std::vector<QPointF> points_;
};

RowsEditor::RowsEditor(const rulebook::Field& field, EditedValue value, ThingsFor things, QString name,
                       QWidget* parent)
    : QWidget(parent),
      field_(field),
      value_(std::move(value)),
      things_(std::move(things)),
      name_(std::move(name)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  auto* add_row = new QPushButton(tr("Add a row"), this);
  add_row->setObjectName(name_ + QStringLiteral("-add"));
  add_row->setAccessibleName(tr("Add a row to %1").arg(q(field_.title)));
  add_row->setProperty("quiet", true);
  connect(add_row, &QPushButton::clicked, this, &RowsEditor::add);
  if (field_.type == rulebook::FieldType::curve && field_.columns.size() == 2) {
    curve_ = new Curve(field_, this);
    column->addWidget(curve_);
  }
  column->addWidget(add_row, 0, Qt::AlignLeft);
}

Json RowsEditor::rows() const {
  const Json now = value_.get();
  return now.is_array() ? now : Json::array();
}

void RowsEditor::refresh() {
  const Json now = rows();
  if (now.size() != count_) makeRows(now.size());
  for (const auto& refresher : refreshers_) refresher();
  if (curve_ != nullptr) curve_->show(now);
}

EditedValue RowsEditor::cell(size_t row, const rulebook::Field& column) const {
  const bool alone = field_.columns.size() == 1;
  return {[this, row, alone, id = column.id]() -> Json {
            const Json now = rows();
            if (row >= now.size()) return {};
            if (alone) return now[row];
            const Json* found = base::memberOf(now[row], id.c_str());
            return found != nullptr ? *found : Json();
          },
          [this, row, alone, id = column.id](const Json& typed) {
            Json now = rows();
            if (row >= now.size()) return;
            if (alone) {
              now[row] = typed;
            } else {
              if (!now[row].is_object()) now[row] = Json::object();
              now[row][id] = typed;
              now[row] = inOrder(now[row]);
            }
            value_.set(now);
          }};
}

// As the columns stand, so that a row is written the same whatever was filled in first.
Json RowsEditor::inOrder(const Json& row) const {
  Json out = Json::object();
  for (const rulebook::Field& column : field_.columns)
    if (const Json* cell = base::memberOf(row, column.id.c_str())) out[column.id] = *cell;
  for (const auto& [key, cell] : row.items())
    if (!out.contains(key)) out[key] = cell;
  return out;
}

void RowsEditor::makeRows(size_t count) {
  count_ = count;
  refreshers_.clear();
  if (inside_ != nullptr) {
    inside_->hide();
    inside_->deleteLater();
  }
  inside_ = new QWidget(this);
  static_cast<QVBoxLayout*>(layout())->insertWidget(0, inside_);
  auto* grid = new QGridLayout(inside_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(4);
  const int columns = static_cast<int>(field_.columns.size());
  for (int c = 0; c < columns; ++c) {
    const rulebook::Field& column = field_.columns[static_cast<size_t>(c)];
    const bool short_value =
        column.type == rulebook::FieldType::number || column.type == rulebook::FieldType::integer;
    grid->setColumnStretch(c, short_value && columns > 1 ? 1 : 2);
    if (count == 0) continue;
    QString title = q(column.title);
    if (!column.unit.empty()) title += QStringLiteral(", ") + q(column.unit);
    grid->addWidget(quietText(title, inside_), 0, c);
  }
  for (size_t r = 0; r < count; ++r) {
    const int line = static_cast<int>(r) + 1;
    for (int c = 0; c < columns; ++c) {
      const rulebook::Field& column = field_.columns[static_cast<size_t>(c)];
      FieldEditor made = makeFieldEditor(column, cell(r, column), things_,
                                         name_ + QStringLiteral("-%1-%2").arg(r).arg(q(column.id)), inside_);
      made.widget->setAccessibleName(
          tr("%1, row %2: %3").arg(q(field_.title)).arg(line).arg(q(column.title)));
      made.widget->setToolTip(q(column.help));
      grid->addWidget(made.widget, line, c, Qt::AlignVCenter);
      refreshers_.push_back(std::move(made.refresh));
    }
    QPushButton* out =
        signButton(Sign::remove, tr("Take row %1 of %2 out").arg(line).arg(q(field_.title)), inside_);
    out->setObjectName(name_ + QStringLiteral("-%1-remove").arg(r));
    // The row goes once the click is over: its button is one of what is made anew.
    connect(out, &QPushButton::clicked, this,
            [this, r] { QTimer::singleShot(0, this, [this, r] { remove(r); }); });
    grid->addWidget(out, line, columns);
  }
}

void RowsEditor::add() {
  Json now = rows();
  Json row = Json::object();
  for (const rulebook::Field& column : field_.columns)
    if (!column.default_value.is_null()) row[column.id] = column.default_value;
  if (field_.columns.size() == 1) row = row.empty() ? Json("") : row.front();
  // The next point of a curve lies behind the last.
  if (field_.type == rulebook::FieldType::curve && field_.columns.size() == 2 && !now.empty()) {
    const std::string& along = field_.columns[0].id;
    if (const Json* last = base::memberOf(now.back(), along.c_str()); last != nullptr && last->is_number()) {
      row = now.back();
      row[along] = last->get<double>() + 1;
    }
  }
  now.push_back(std::move(row));
  value_.set(now);
  refresh();
}

void RowsEditor::remove(size_t row) {
  Json now = rows();
  if (row >= now.size()) return;
  now.erase(row);
  value_.set(now);
  refresh();
}

}  // namespace rakugo::app
