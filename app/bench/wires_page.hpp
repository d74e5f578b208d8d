// SPDX-License-Identifier: GPL-3.0-or-later
// The wires of the board through the chip's boundary register: drive and read pin by pin, test all of them, and play or
// write SVF at the simulated cable.
#pragma once

#include "app/shell/desk.hpp"
#include "core/jtag/boundary.hpp"
#include "core/board_sim/interconnect.hpp"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class WiresPage : public QWidget {
    Q_OBJECT
public:
    explicit WiresPage(Desk& desk);
    /// The board model whose pins are driven; null: none.
    void show_table(board_sim::BoardModel* model);
    /// Levels as they are now.
    void look();
    /// Tests all wires with the faults that are chosen; they are what the list says then.
    void test_wires();
    void play(const std::string& path);
    [[nodiscard]] const std::vector<WireFault>& found() const { return found_; }

private:
    void drive(board_sim::Drive drive);
    void write_svf_file();
    Desk& desk_;
    board_sim::BoardModel* model_ = nullptr;
    std::unique_ptr<jtag::BoundaryTester> tester_;
    QComboBox* faults_;
    QPushButton *test_, *high_, *low_, *off_, *play_, *write_;
    QTreeWidget *pins_, *results_;
    std::vector<WireFault> found_;
    unsigned seed_ = 1;
};

}  // namespace kp::app
