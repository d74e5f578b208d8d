// SPDX-License-Identifier: GPL-3.0-or-later
// Pegs: loom, footprint and sheet over one selection; what others say of the plan; what leaves it as text.
#pragma once

#include "app/pegs/compare_page.hpp"
#include "app/pegs/plan_view.hpp"
#include "app/shell/station.hpp"
#include "core/planning/ways.hpp"

class QLineEdit;
class QPushButton;
class QScrollArea;
class QStackedWidget;
class QTabBar;

namespace kp::app {

class AttributePane;
class Footprint;
class FootprintSide;
class LanesPage;
class LinesPage;
class Loom;
class OutPage;
class PlacePage;
class SheetView;

class PegsStation : public Station {
    Q_OBJECT
public:
    enum View { loom_view, footprint_view, sheet_view, compare_view, out_view, lines_view, place_view, lanes_view };
    PegsStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;
    [[nodiscard]] QWidget* side() override;
    [[nodiscard]] Loom& loom() { return *loom_; }
    [[nodiscard]] Footprint& footprint() { return *footprint_; }
    [[nodiscard]] FootprintSide& footprint_side() { return *side_; }
    [[nodiscard]] SheetView& sheet() { return *sheet_; }
    [[nodiscard]] ComparePage& compare_page() { return *compare_; }
    [[nodiscard]] OutPage& out_page() { return *out_; }
    [[nodiscard]] LinesPage& lines_page() { return *lines_; }
    void show_view(int view);

private:
    void build_bar(QWidget* page);
    void build_views();
    void add_actions();
    void add_place_actions();
    void show_tools(int view);
    void match();
    void accept();
    void type_place();
    void pegged_by_text(const ManyPegs& many, size_t wanted);
    void clear_pegs();
    void swap();
    void turn_wired();
    void show_only();
    void copy_attributes_to_rest();
    void add_intents();
    void leave_terminal();
    void mean();
    void move_bus(int by);
    /// Asks for a value of an attribute of all chosen ports; an empty one takes the choice back.
    void intend(const char* key, const QString& prompt, const std::vector<std::pair<std::string, QString>>& values);
    void export_as(const char* ending);
    Result<std::vector<std::string>> typed_ports(const std::string& left, size_t pins);
    QTabBar* tabs_;
    QStackedWidget* views_;
    Loom* loom_;
    QScrollArea* loom_area_;
    Footprint* footprint_;
    FootprintSide* side_;
    SheetView* sheet_;
    ComparePage* compare_;
    OutPage* out_;
    LinesPage* lines_;
    PlacePage* rest_;
    LanesPage* lanes_;
    AttributePane* attributes_;
    QLineEdit *filter_, *place_;
    QPushButton *match_, *accept_, *columns_;
    QWidget* looks_;  ///< how the footprint is looked at
};

}  // namespace kp::app
