// SPDX-License-Identifier: GPL-3.0-or-later
// Bench: a simulated chip on a simulated board, worked by hand. Everything here is a stand-in and says so.
#pragma once

#include "app/bench/design_digest.hpp"
#include "app/shell/station.hpp"
#include "core/verification/late_outputs.hpp"
#include "core/verification/proof.hpp"
#include "core/jtag/chip.hpp"
#include "core/jtag/own_image.hpp"

#include <QElapsedTimer>
#include <optional>

class QComboBox;
class QLabel;
class QPushButton;
class QTabWidget;

namespace kp::app {

class LoadStrip;
class BenchBoard;
class RunBar;
class ScopePane;
class ProofPage;
class PowerPage;
class WiresPage;

class BenchStation : public Station {
    Q_OBJECT
public:
    BenchStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;
    /// The board with the design in its chip; none before loading.
    [[nodiscard]] BoardBench* bench() {
        bring_up();
        return loaded() ? &*bench_ : nullptr;
    }
    /// The board with power and maybe an empty chip; none without a project or board.
    [[nodiscard]] BoardBench* powered() {
        bring_up();
        return bench_ ? &*bench_ : nullptr;
    }
    [[nodiscard]] BenchBoard& board() { return *board_; }
    [[nodiscard]] RunBar& run_bar() { return *run_; }
    [[nodiscard]] ScopePane& scope() { return *scope_; }
    [[nodiscard]] ProofPage& proof() { return *proof_; }
    [[nodiscard]] WiresPage& wires() { return *wires_; }
    void load();
    /// What a hand does to a part; kept for "recorded manual inputs".
    void work(const std::string& ref, const std::string& control, const std::string& value);
    void show_side(int page);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void lay_out();
    void connect_all();
    void add_actions();
    void look();
    /// Power on: with the design as it was loaded, or with an empty chip.
    void power_up(bool with_design);
    void power_later(bool with_design);
    void bring_up();
    void take_down();
    void empty_chip();
    void follow_pegs();
    void make_starter();
    void press_key();
    void turn_vane(int steps);
    [[nodiscard]] bool loaded() const { return bench_.has_value() && with_design_; }
    /// What an image is made from: pegs, constraints, netlist.
    [[nodiscard]] ImageOrigin made_of() const;
    [[nodiscard]] QString driver_conflicts() const;
    /// Registers that miss setup or hold, seen from the timing of now.
    void mark_late();
    LoadStrip* strip_;
    BenchBoard* board_;
    RunBar* run_;
    ScopePane* scope_;
    ProofPage* proof_;
    PowerPage* power_;
    WiresPage* wires_;
    QTabWidget* side_;
    QPushButton* load_;
    QComboBox *fault_, *kept_;
    std::shared_ptr<const World> world_;  ///< what the bench looks at; outlives it
    Netlist nothing_;                     ///< the design of an empty chip
    PegMap loaded_pegs_;
    std::map<std::string, PortAttributes> loaded_attributes_;
    std::optional<BoardBench> bench_;
    LoadReport report_;
    mutable DesignDigest digest_;
    ImageOrigin image_;   ///< of the image that was loaded
    std::string stored_;  ///< an image that the board keeps over power
    std::vector<verification::LateRegister> late_;
    std::shared_ptr<const TimingReport> late_of_;  ///< the report that they are of
    std::vector<verification::Doing> doings_;
    std::map<std::pair<std::string, std::string>, std::string> hand_;  ///< what the hand left standing
    bool with_design_ = false;
    std::optional<bool> waits_;      ///< the board is to be set up when somebody looks; with the design or not
    QElapsedTimer looked_, scoped_;  ///< since board and scope were shown last
};

}  // namespace kp::app
