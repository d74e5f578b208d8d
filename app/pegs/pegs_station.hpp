// SPDX-License-Identifier: GPL-3.0-or-later
// Pegs: loom and footprint over one selection.
#pragma once

#include "app/shell/station.hpp"

class QButtonGroup;
class QComboBox;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTabBar;

namespace kp::app {

class Loom;
class Footprint;

class PegsStation : public Station {
    Q_OBJECT
public:
    PegsStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;
    [[nodiscard]] Loom& loom() { return *loom_; }
    [[nodiscard]] Footprint& footprint() { return *footprint_; }
    void show_view(int view);

private:
    void match();
    void accept();
    void type_place();
    void show_selected();
    [[nodiscard]] std::string selected_port() const;
    QTabBar* tabs_;
    QStackedWidget* views_;
    Loom* loom_;
    Footprint* footprint_;
    QLineEdit *filter_, *place_;
    QComboBox* standard_;
    QPushButton *match_, *accept_;
    QWidget* shades_;
};

}  // namespace kp::app
