// SPDX-License-Identifier: GPL-3.0-or-later
// The netlist itself, on a second board whose pegs lead where the ports are meant for.
#include "core/verification/proof.hpp"

namespace kp::verification {

namespace {

class Names : public Oracle {
public:
    Names(BoardBench board, const Netlist& netlist, const Board& table, const PegMap& pegs) : board_(std::move(board)) {
        for (const auto& port : netlist.ports) {
            const auto peg = pegs.find(port.name);
            const auto at = peg == pegs.end() ? Board::Found{} : table.at_pin(peg->second.pin);
            terminal_.push_back(at ? at.part->ref + "." + at.terminal->name : "");
        }
    }
    [[nodiscard]] std::string name() const override { return "the netlist as its ports are meant"; }
    [[nodiscard]] bool is_board() const override { return true; }
    void set(std::uint32_t port, bool value) override {
        if (terminal_[port].empty())
            board_.model().simulator().set_port(port, value);
        else
            board_.drive(terminal_[port], value);
    }
    [[nodiscard]] Status run(board_sim::Time lasts) override {
        board_.run_for(lasts);
        return Done{};
    }
    [[nodiscard]] char port(std::uint32_t port) const override {
        switch (board_.level(terminal_[port])) {
            case Level::high: return '1';
            case Level::low: return '0';
            case Level::conflict: return 'x';
            default: return 'z';
        }
    }

private:
    BoardBench board_;
    std::vector<std::string> terminal_;
};

}  // namespace

Result<std::unique_ptr<Oracle>> oracle_of_names(const Netlist& netlist, const Library& library, const Board& board,
                                                const PegMap& by_name) {
    auto made = BoardBench::make(netlist, library, board, by_name);
    if (!made) return made.messages();
    return std::unique_ptr<Oracle>(std::make_unique<Names>(made.take(), netlist, board, by_name));
}

}  // namespace kp::verification
