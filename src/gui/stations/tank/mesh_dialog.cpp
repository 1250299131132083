#include "gui/stations/tank/mesh_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "gui/widgets/edit_table.h"

namespace uadze::gui {
namespace {

constexpr double file_units[] = {1e-3, 1e-2, 1.0, 0.0254};

/// The mesh in lines, seen from a corner; drag turns it. Faulty triangles are filled and ringed.
class Preview : public QWidget {
 public:
  Preview(Workspace& w, const tank::MeshFile& mesh, const tank::MeshReport& report,
          std::function<Mat3()> turn)
      : w_(w), mesh_(mesh), report_(report), turn_(std::move(turn)) {
    setMinimumSize(380, 340);
    setObjectName("mesh preview");
  }

 protected:
  void mousePressEvent(QMouseEvent* e) override { last_ = e->position(); }
  void mouseMoveEvent(QMouseEvent* e) override {
    yaw_ -= (e->position().x() - last_.x()) * 0.01;
    pitch_ = std::clamp(pitch_ + (e->position().y() - last_.y()) * 0.01, -1.5, 1.5);
    last_ = e->position();
    update();
  }
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = w_.theme();
    p.fillRect(rect(), t.paper);
    if (mesh_.vertices.empty()) return;
    const Mat3 turn = turn_();
    Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
    for (const Vec3& v : mesh_.vertices) low = low.cwiseMin(turn * v), high = high.cwiseMax(turn * v);
    const Vec3 middle = (low + high) / 2;
    const double scale = 0.8 * std::min(width(), height()) / std::max((high - low).norm(), 1e-12);
    const Vec3 right(-std::sin(yaw_), std::cos(yaw_), 0);
    const Vec3 up(-std::sin(pitch_) * std::cos(yaw_), -std::sin(pitch_) * std::sin(yaw_), std::cos(pitch_));
    const auto at = [&](const Vec3& placed) {
      return QPointF(width() / 2.0 + scale * right.dot(placed - middle),
                     height() / 2.0 - scale * up.dot(placed - middle));
    };
    const auto corner = [&](size_t i, size_t k) {
      return at(turn * mesh_.vertices[static_cast<size_t>(mesh_.triangles[i][k])]);
    };
    // Enough lines to tell the shape; a fine mesh is thinned out.
    const size_t stride = std::max<size_t>(1, mesh_.triangles.size() / 12000);
    QColor line = t.ink;
    line.setAlpha(mesh_.triangles.size() > 3000 ? 40 : 110);
    p.setPen(QPen(line, 1));
    p.setBrush(Qt::NoBrush);
    for (size_t i = 0; i < mesh_.triangles.size(); i += stride)
      p.drawPolygon(QPolygonF{corner(i, 0), corner(i, 1), corner(i, 2)});
    QColor wrong = t.trouble;
    p.setPen(QPen(wrong, 1.2));
    wrong.setAlpha(90);
    p.setBrush(wrong);
    for (const auto& f : report_.findings) {
      if (f.severity != Severity::error) continue;
      for (int i : f.triangles)
        p.drawPolygon(QPolygonF{corner(static_cast<size_t>(i), 0), corner(static_cast<size_t>(i), 1),
                                corner(static_cast<size_t>(i), 2)});
      p.drawEllipse(at(turn * f.where), 9, 9);
    }
    p.setFont(text_font(0.85));
    const QPointF base(40, height() - 40);
    for (const auto& [axis, name] : {std::pair{Vec3(Vec3::UnitX()), "front"},
                                     {Vec3(Vec3::UnitY()), "left"},
                                     {Vec3(Vec3::UnitZ()), "up"}}) {
      const QPointF tip = base + 26 * QPointF(right.dot(axis), -up.dot(axis));
      p.setPen(QPen(t.ink, 1.4));
      p.drawLine(base, tip);
      p.drawText(QRectF(tip.x() - 24, tip.y() - 16, 48, 16), Qt::AlignCenter, name);
    }
  }

 private:
  Workspace& w_;
  const tank::MeshFile& mesh_;
  const tank::MeshReport& report_;
  std::function<Mat3()> turn_;
  double yaw_ = -0.65, pitch_ = 0.42;
  QPointF last_;
};

}  // namespace

MeshDialog::MeshDialog(Workspace& workspace, const QString& file, QWidget* parent)
    : QDialog(parent),
      workspace_(workspace),
      file_(file),
      original_(tank::read_mesh(file.toStdString())),
      mended_(original_) {
  setWindowTitle("Import a tank mesh");
  setObjectName("mesh dialog");
  unit_ = new QComboBox;
  unit_->addItems({"mm", "cm", "m", "inch"});
  unit_->setObjectName("unit");
  axes_ = new QComboBox;
  axes_->addItems({"x y z", "-x -y z", "y -x z", "-y x z", "x -z y", "-x z y", "z x y", "-z -x y"});
  axes_->setEditable(true);
  axes_->setObjectName("axes");
  axes_->setToolTip("Which of the file's axes point forward, left and up");
  auto* form = new QFormLayout;
  form->addRow("File's unit", unit_);
  form->addRow("Axes forward, left, up", axes_);
  static const char* const names[] = {"Move forward", "Move left", "Move up"};
  for (int k = 0; k < 3; ++k) {
    move_[k] = new QLineEdit(workspace_.show(0.0, Quantity::length));
    move_[k]->setFont(figure_font());
    form->addRow(names[k], move_[k]);
    connect(move_[k], &QLineEdit::editingFinished, this, &MeshDialog::check);
  }
  static const char* const mend_names[] = {"Join vertices that nearly meet",
                                           "Leave out flat and double triangles", "Close flat holes",
                                           "Turn triangles to face outward"};
  for (int k = 0; k < 4; ++k) {
    mends_[k] = new QCheckBox(mend_names[k]);
    mends_[k]->setObjectName(QString::fromStdString(tank::mesh_mends()[static_cast<size_t>(k)]));
    form->addRow(mends_[k]);
    connect(mends_[k], &QCheckBox::toggled, this, &MeshDialog::check);
  }
  says_ = new QLabel;
  says_->setWordWrap(true);
  says_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  says_->setAlignment(Qt::AlignTop);
  says_->setObjectName("report");
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
  accept_ = buttons->addButton("Use as the tank", QDialogButtonBox::AcceptRole);
  accept_->setObjectName("use");
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  auto* side = new QVBoxLayout;
  side->addLayout(form);
  side->addWidget(says_, 1);
  side->addWidget(buttons);
  auto* panel = new QWidget;
  panel->setLayout(side);
  panel->setFixedWidth(360);
  preview_ = new Preview(workspace_, mended_, report_, [this] {
    return tank::axes_matrix(axes_->currentText().toStdString()).value_or(Mat3::Identity());
  });
  auto* row = new QHBoxLayout(this);
  row->addWidget(preview_, 1);
  row->addWidget(panel);
  connect(unit_, &QComboBox::activated, this, &MeshDialog::check);
  connect(axes_, &QComboBox::currentTextChanged, this, &MeshDialog::check);
  check();
}

tank::MeshShape MeshDialog::shape() const {
  tank::MeshShape out;
  const std::filesystem::path path = file_.toStdString(), folder = workspace_.document.folder();
  out.file = folder.empty() ? std::filesystem::absolute(path).string()
                            : std::filesystem::absolute(path)
                                  .lexically_relative(std::filesystem::absolute(folder))
                                  .generic_string();
  out.unit = file_units[unit_->currentIndex()];
  out.axes = axes_->currentText().toStdString();
  for (int k = 0; k < 3; ++k) try {
      out.move[k] = typed_quantity(move_[k]->text(), Quantity::length, workspace_.units());
    } catch (const std::exception&) {
      out.move[k] = 0;
    }
  for (int k = 0; k < 4; ++k)
    if (mends_[k]->isChecked()) out.mends.push_back(tank::mesh_mends()[static_cast<size_t>(k)]);
  return out;
}

void MeshDialog::check() {
  const tank::MeshShape now = shape();
  mended_ = tank::mended(original_, now.mends);
  report_ = check_mesh(mended_, now.unit);
  const bool axes = tank::axes_matrix(now.axes).has_value();
  QString text = QString("<b>%1</b>: %2 triangles, %3 shell%4<br>%5 × %6 × %7, %8<br><br>")
                     .arg(QString::fromStdString(original_.format))
                     .arg(report_.triangles)
                     .arg(report_.shells)
                     .arg(report_.shells == 1 ? "" : "s")
                     .arg(workspace_.show(report_.size.x(), Quantity::length),
                          workspace_.show(report_.size.y(), Quantity::length),
                          workspace_.show(report_.size.z(), Quantity::length),
                          workspace_.show(std::abs(report_.volume), Quantity::volume, 2));
  for (const auto& f : report_.findings) {
    text += QString("%1 %2").arg(f.severity == Severity::error ? "▲" : "△",
                                 QString::fromStdString(f.text).toHtmlEscaped());
    for (int k = 0; k < 4; ++k)
      if (f.mend == tank::mesh_mends()[static_cast<size_t>(k)])
        text += QString(" <i>Helps: %1.</i>").arg(mends_[k]->text().toLower());
    text += "<br>";
  }
  if (!axes)
    text += "▲ The axes name each of x, y, z once and do not mirror the mesh, for instance \"y -x z\".<br>";
  if (report_.findings.empty() && axes) text += "● Closed, faces outward, does not cross itself.";
  says_->setText(text);
  accept_->setEnabled(report_.usable() && axes);
  preview_->update();
}

void import_mesh(Workspace& workspace, QWidget* parent) {
  const QString file =
      QFileDialog::getOpenFileName(parent, "Import a tank mesh", {}, "Meshes (*.stl *.obj *.ply)");
  if (file.isEmpty()) return;
  try {
    MeshDialog dialog(workspace, file, parent);
    dialog.resize(900, 560);
    if (dialog.exec() != QDialog::Accepted) return;
    const tank::MeshShape shape = dialog.shape();
    const int setup = workspace.selection.setup_index();
    workspace.document.edit("Import mesh", [&](project::Project& p) {
      auto& t = p.setups.at(static_cast<size_t>(setup)).tank;
      t.short_form = false;
      t.shapes = {shape};
    });
  } catch (const InputError& error) {
    QMessageBox::warning(parent, "Import a tank mesh", QString::fromUtf8(error.what()));
  }
}

}  // namespace uadze::gui
