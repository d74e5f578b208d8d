// SPDX-License-Identifier: GPL-3.0-or-later
// Bench: a simulated chip on a simulated board, worked by hand. Everything here is a stand-in and says so.
#pragma once

#include "app/shell/station.hpp"
#include "core/bench/board_bench.hpp"
#include "core/bench/chip.hpp"

#include <QTimer>
#include <optional>

class QComboBox;
class QLabel;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class LoadStrip;
class BenchBoard;

class BenchStation : public Station {
    Q_OBJECT
public:
    BenchStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;
    /// The board as it runs now; none before loading.
    [[nodiscard]] BoardBench* bench() { return bench_ ? &*bench_ : nullptr; }
    [[nodiscard]] BenchBoard& board() { return *board_; }
    void load();
    void compare_all();

private:
    void connect_all();
    void tick();
    void start_bench();
    void empty_chip();
    void make_starter();
    [[nodiscard]] std::string digest_now() const;
    void swap_pair();
    LoadStrip* strip_;
    BenchBoard* board_;
    QPushButton *load_, *compare_, *swap_;
    QComboBox* fault_;
    QLabel *verdict_, *hint_, *notes_;
    QTreeWidget* table_;
    std::shared_ptr<const World> world_;  ///< what the running bench looks at; outlives it
    std::optional<BoardBench> bench_;
    LoadReport report_;
    unsigned long long loaded_revision_ = 0;
    PegMap loaded_pegs_;
    std::string loaded_digest_;  ///< of pegs and constraints when the image was made
    std::vector<DirectionRow> rows_;
    QTimer clock_;
    std::uint64_t marked_ = 0;  ///< cycles at the last mark()
    std::pair<std::string, std::string> swapped_;
};

}  // namespace kp::app
