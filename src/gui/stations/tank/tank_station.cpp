#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QTabWidget>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "core/base/names.h"
#include "core/lap/manoeuvre.h"
#include "gui/document/later.h"
#include "gui/stations/station.h"
#include "gui/stations/tank/gauge_view.h"
#include "gui/stations/tank/mesh_dialog.h"
#include "gui/stations/tank/part_form.h"
#include "gui/stations/tank/tank_marks.h"
#include "gui/stations/tank/tank_view.h"
#include "gui/stations/tank/throw_pad.h"
#include "gui/widgets/level_bar.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

class TankStation : public StationView {
 public:
  explicit TankStation(Workspace& w) : w_(w), picture_(new QTabWidget), view_(new TankView(w)) {
    picture_->setDocumentMode(true);
    picture_->setObjectName("tank tabs");
    picture_->addTab(make_picture(), "Tank");
    picture_->addTab(new GaugeView(w), "Dip && gauge");

    auto* upper = new QWidget;
    auto* column = new QVBoxLayout(upper);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addLayout(make_tools());
    tree_ = new QTreeWidget;
    tree_->setHeaderHidden(true);
    tree_->setRootIsDecorated(false);
    tree_->setIndentation(14);
    tree_->setObjectName("parts");
    tree_->setAccessibleName("Parts of the tank");
    tree_->setMinimumHeight(96);
    column->addWidget(tree_, 1);
    holder_ = new QScrollArea;
    holder_->setWidgetResizable(true);
    holder_->setFrameShape(QFrame::NoFrame);
    holder_->setMinimumHeight(120);
    column->addWidget(holder_, 1);
    QObject::connect(tree_, &QTreeWidget::currentItemChanged, tree_, [this](QTreeWidgetItem* item) {
      if (!filling_) view_->choose_part(item ? part_of(item) : std::nullopt);
    });
    QObject::connect(view_, &TankView::part_chosen, tree_, [this] {
      select_in_tree();
      show_form();
    });
    working_ = new WorkingView(w);
    side_ = new SidePanel(upper, working_, 70);
    QObject::connect(&w, &Workspace::changed, tree_, [this] { fill_tree(); });
    // Figures change a few times a second, however quickly the fuel moves.
    later_ = std::make_unique<Later>(150, working_, [this] {
      if (working_->isVisible()) refresh();
    });
    for (auto signal : {&Workspace::changed, &Workspace::cursor_moved, &Workspace::level_changed})
      QObject::connect(&w, signal, working_, [this] { later_->ask(); });
    fill_tree();
    show_form();
    refresh();
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override {
    fill_tree();
    refresh();
  }

 private:
  const tank::TankParts* tank() const { return w_.setup() ? &w_.setup()->tank : nullptr; }

  QWidget* make_picture() {
    auto* page = new QWidget;
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(8, 4, 8, 0);
    const std::pair<const char*, TankView::Look> looks[] = {{"Corner", TankView::Look::corner},
                                                            {"Side", TankView::Look::side},
                                                            {"Front", TankView::Look::front},
                                                            {"Top", TankView::Look::top}};
    for (const auto& [name, from] : looks) {
      auto* button = new QPushButton(name);
      button->setToolTip(QString("Looks at the tank from %1").arg(QString(name).toLower()));
      bar->addWidget(button);
      QObject::connect(button, &QPushButton::clicked, view_, [this, from = from] { view_->look(from); });
    }
    auto* cut = new QComboBox;
    cut->addItems({"whole", "cut, left", "cut, front", "cut, top"});
    cut->setAccessibleName("Cut-away");
    cut->setToolTip("Cuts the picture open from one side");
    auto* depth = new QSlider(Qt::Horizontal);
    depth->setRange(0, 100);
    depth->setValue(50);
    depth->setFixedWidth(64);
    depth->setAccessibleName("Depth of the cut");
    depth->hide();
    auto* walls = new QSlider(Qt::Horizontal);
    walls->setRange(2, 100);
    walls->setValue(5);
    walls->setFixedWidth(64);
    walls->setAccessibleName("How solid the walls are");
    walls->setToolTip("How solid the walls are");
    depth->setToolTip("How deep the cut goes");
    auto* depth_name = new QLabel("Depth");
    const auto recut = [this, cut, depth, depth_name] {
      for (QWidget* of : {static_cast<QWidget*>(depth), static_cast<QWidget*>(depth_name)})
        of->setVisible(cut->currentIndex() > 0);
      view_->set_cut(cut->currentIndex(), depth->value() / 100.0);
    };
    QObject::connect(cut, &QComboBox::currentIndexChanged, view_, recut);
    QObject::connect(depth, &QSlider::valueChanged, view_, recut);
    QObject::connect(walls, &QSlider::valueChanged, view_, [this](int v) { view_->set_opacity(v / 100.0); });
    bar->addSpacing(6);
    bar->addWidget(cut);
    bar->addWidget(depth_name);
    bar->addWidget(depth);
    depth_name->hide();
    bar->addSpacing(10);
    bar->addWidget(new QLabel("Walls"));
    bar->addSpacing(4);
    bar->addWidget(walls);
    bar->addSpacing(10);
    auto* throwing = new QPushButton("Throw");
    throwing->setCheckable(true);
    throwing->setObjectName("throw");
    throwing->setToolTip("Throw the car about by hand and see the fuel answer");
    bar->addWidget(throwing);
    auto* manoeuvre = new QComboBox;
    manoeuvre->setAccessibleName("Manoeuvre");
    manoeuvre->setToolTip("Plays a standard manoeuvre of 1.2 g with the fuel from rest");
    manoeuvre->addItem("by hand");
    for (const std::string& name : names_of<lap::Manoeuvre>())
      manoeuvre->addItem(QString::fromStdString(name));
    bar->addWidget(manoeuvre);
    QObject::connect(manoeuvre, &QComboBox::activated, throwing, [this, throwing](int index) {
      throwing->setChecked(true);
      if (index > 0) pad_->play(lap::manoeuvre(static_cast<lap::Manoeuvre>(index - 1)));
    });
    bar->addStretch();
    auto* lower = new QHBoxLayout;
    lower->setContentsMargins(8, 0, 8, 2);
    add_splash(lower);
    lower->addStretch();
    lower->addWidget(new LevelBar(w_));
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(bar);
    layout->addWidget(view_, 1);
    layout->addLayout(lower);

    pad_ = new ThrowPad(w_, view_);
    pad_->hide();
    auto* corner = new QVBoxLayout(view_);
    corner->setContentsMargins(0, 0, 12, 12);
    corner->addWidget(pad_, 0, Qt::AlignRight | Qt::AlignBottom);
    QObject::connect(throwing, &QPushButton::toggled, pad_, [this](bool on) {
      pad_->setVisible(on);
      if (on) {
        pad_->start();
        pad_->raise();
        pad_->setFocus();
      } else {
        pad_->stop();
      }
      view_->redraw();
    });
    QObject::connect(pad_, &ThrowPad::moved, view_, &TankView::redraw);
    // The lap's cursor takes the picture back.
    QObject::connect(&w_, &Workspace::cursor_moved, throwing, [throwing] { throwing->setChecked(false); });
    view_->set_source([this] {
      if (pad_->running()) return pad_->state();
      auto fuel = w_.runs.fuel_at_cursor();
      if (fuel && splash_->isChecked()) w_.put_splash(*fuel);
      return fuel;
    });
    return page;
  }

  /// What was resolved on this lap, and whether it is seen in place of the fast model's fuel.
  void add_splash(QBoxLayout* row) {
    splash_ = new QCheckBox("Resolved");
    splash_->setObjectName("show splash");
    splash_->setChecked(true);
    splash_->setToolTip("Shows the fuel as it was resolved, where the lap's cursor passes those seconds");
    auto* says = new QLabel;
    says->setObjectName("splash says");
    row->addWidget(splash_);
    row->addWidget(says);
    row->addSpacing(16);
    QObject::connect(splash_, &QCheckBox::toggled, view_, &TankView::redraw);
    const auto say = [this, says] {
      const solve::CornerRow* of = w_.splash();
      splash_->setVisible(of), says->setVisible(of);
      if (!of) return;
      const auto& drive = of->job->drive;
      says->setText(
          QString("%1, %2 to %3, with %4: %5")
              .arg(QString::fromStdString(of->corner.place), w_.show(drive.begin(), Quantity::duration),
                   w_.show(drive.end(), Quantity::duration), w_.show(of->job->ask.level, Quantity::volume),
                   w_.splash_at_cursor() ? "seen now" : "not at the cursor"));
    };
    for (auto signal : {&Workspace::changed, &Workspace::cursor_moved})
      QObject::connect(&w_, signal, says, say);
    say();
  }

  QLayout* make_tools() {
    auto* tools = new QHBoxLayout;
    auto* add = new QPushButton("Add");
    add->setObjectName("add part");
    auto* menu = new QMenu(add);
    for (const NewPart& part : new_parts())
      menu->addAction(part.title, add, [this, part] { this->add(part); });
    menu->addSeparator();
    menu->addAction("Shape: mesh from a file…", add, [this] {
      if (tank()) import_mesh(w_, picture_);
    });
    add->setMenu(menu);
    remove_ = new QPushButton("Remove");
    remove_->setObjectName("remove part");
    QObject::connect(remove_, &QPushButton::clicked, remove_, [this] { remove(); });
    auto* whole = new QPushButton("Whole tank");
    QObject::connect(whole, &QPushButton::clicked, whole, [this] { view_->choose_part(std::nullopt); });
    tools->addWidget(add);
    tools->addWidget(remove_);
    tools->addWidget(whole);
    tools->addStretch();
    return tools;
  }

  void add(const NewPart& part) {
    if (!tank() || !w_.runs.car()) return;
    std::optional<PartRef> made;
    const auto assembled = w_.runs.car()->tank;
    const bool done = w_.document.edit("Add " + part.title.toLower(), [&](project::Project& p) {
      made = add_part(p.setups.at(static_cast<size_t>(w_.selection.setup_index())).tank, *assembled, part,
                      view_->chosen_part(), w_.document.sources()->tanks.meshes());
    });
    if (done && made) view_->choose_part(made);
  }

  void remove() {
    const auto part = view_->chosen_part();
    if (!part || !tank()) return;
    w_.document.edit("Remove " + part_title(*tank(), *part), [&](project::Project& p) {
      remove_part(p.setups.at(static_cast<size_t>(w_.selection.setup_index())).tank, *part);
    });
  }

  static std::optional<PartRef> part_of(const QTreeWidgetItem* item) {
    const QVariant data = item->data(0, Qt::UserRole);
    const QList<QVariant> numbers = data.toList();
    if (numbers.size() != 3) return std::nullopt;
    return PartRef{static_cast<TankPartKind>(numbers[0].toInt()), numbers[1].toInt(), numbers[2].toInt()};
  }

  void fill_tree() {
    filling_ = true;
    QString print;
    std::vector<std::pair<QString, PartRef>> rows;
    const Messages messages = w_.runs.tank_messages();
    const project::Places places = tank() ? project::places_in(*tank()) : project::Places();
    if (tank())
      for (const PartRef& part : parts_of(*tank())) {
        const auto message = message_of(messages, part_place(places, *tank(), part));
        QString title = part_title(*tank(), part);
        if (message)
          title +=
              "  ▲ " + QString::fromStdString("expected " + message->expected + "; found " + message->found);
        print += title + "\n";
        rows.emplace_back(title, part);
      }
    if (print != filled_) {
      filled_ = print;
      tree_->clear();
      QTreeWidgetItem* above = nullptr;
      for (const auto& [title, part] : rows) {
        auto* item = part.kind == TankPartKind::opening && above ? new QTreeWidgetItem(above)
                                                                 : new QTreeWidgetItem(tree_);
        if (part.kind != TankPartKind::opening) above = item;
        item->setText(0, title);
        item->setToolTip(0, title);
        item->setData(0, Qt::UserRole, QList<QVariant>{static_cast<int>(part.kind), part.index, part.owner});
      }
      tree_->expandAll();
      select_in_tree();
      if (!form_of_ || !tank() || !exists(*tank(), *form_of_)) show_form();
    }
    filling_ = false;
    remove_->setEnabled(view_->chosen_part().has_value());
  }

  void select_in_tree() {
    const bool was = filling_;
    filling_ = true;
    const auto chosen = view_->chosen_part();
    QTreeWidgetItemIterator it(tree_);
    QTreeWidgetItem* found = nullptr;
    for (; *it; ++it)
      if (chosen && part_of(*it) == chosen) found = *it;
    tree_->setCurrentItem(found);
    remove_->setEnabled(found != nullptr);
    filling_ = was;
  }

  void show_form() {
    form_of_ = view_->chosen_part();
    if (auto* old = holder_->takeWidget()) old->deleteLater();
    // The old form may be the one whose field is speaking just now.
    if (QWidget* old = holder_->takeWidget()) old->deleteLater();
    holder_->setWidget(make_part_form(w_, form_of_));
    holder_->widget()->show();
  }

  void refresh() {
    const auto car = w_.runs.car();
    const auto fuel = w_.runs.fuel_at_cursor();
    if (!car || !fuel) return;
    std::vector<Derivation> all = fill_limits(w_.setup()->tank, *car->tank);
    for (size_t i = 0; i < car->tank->spaces.size(); ++i) {
      const auto& space = car->tank->spaces[i];
      const tank::Moments held = moments_below(space.solid, fuel->surface[i]);
      const Vec3 c = held.centroid();
      all.push_back(
          {.name = "Fuel in " + space.name,
           .value = fuel->volume[i],
           .quantity = Quantity::volume,
           .formula = "n · x = offset cuts off V; the plane moves as a pendulum of the first sloshing mode",
           .inputs = {{"V_space", "the space's whole volume", space.volume(), Quantity::volume, "exact"},
                      {"x", "centroid, forward", c.x(), Quantity::length, "exact"},
                      {"y", "centroid, left", c.y(), Quantity::length, "exact"},
                      {"z", "centroid, up", c.z(), Quantity::length, "exact"},
                      {"A", "free surface", section(space.solid, fuel->surface[i]).area, Quantity::area,
                       "exact"}},
           .source = "planar model (docs/theory.md); settled where there is no lap"});
    }
    const auto flows = starvation::pickup_flows(*car);
    for (size_t p = 0; p < car->pickups.size(); ++p) {
      const auto& pickup = car->pickups[p];
      const auto space = static_cast<size_t>(std::max(0, car->tank->pickup_space[p]));
      all.push_back({.name = "Depth of " + pickup.name,
                     .value = depth(pickup, fuel->surface[space]),
                     .quantity = Quantity::length,
                     .formula = "d = offset - n · p; wet: part of the sock's disc below the surface",
                     .inputs = {{"w", "wet fraction", fuel->wet[p], Quantity::fraction, "computed"},
                                {"Q", "drawn at full flow", flows[p], Quantity::flow, "its pump's, entered"},
                                {"h_c", "critical submergence",
                                 tank::critical_submergence(pickup.sock_radius, flows[p], fuel->pull.norm()),
                                 Quantity::length, "Lubin and Springer 1967: 0.69 a (Q2/(g a5))^(1/5)"}}});
    }
    const QStringList cautions{
        "Never weld or cut at or near a tank that has held fuel: vapour stays in it for weeks. Leave it to "
        "licensed work."};
    working_->show_all(all, cautions + fuel_cautions(w_));
  }

  Workspace& w_;
  QTabWidget* picture_;
  TankView* view_;
  ThrowPad* pad_ = nullptr;
  QCheckBox* splash_ = nullptr;
  QTreeWidget* tree_ = nullptr;
  QPushButton* remove_ = nullptr;
  QScrollArea* holder_ = nullptr;
  QWidget* side_ = nullptr;
  WorkingView* working_ = nullptr;
  std::unique_ptr<Later> later_;
  std::optional<PartRef> form_of_;
  QString filled_;
  bool filling_ = false;
};

}  // namespace

std::unique_ptr<StationView> make_tank_station(Workspace& workspace) {
  return std::make_unique<TankStation>(workspace);
}

}  // namespace uadze::gui
