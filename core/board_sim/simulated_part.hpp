// SPDX-License-Identifier: GPL-3.0-or-later
// What a part of the board does: it hears what its wires do, drives others, asks to be woken, and shows itself to the
// hand and eye in words, shares of time and controls. All of them are stand-ins for real parts.
#pragma once

#include "core/base/result.hpp"
#include "core/simulation/circuit.hpp"
#include "core/model/board.hpp"

#include <array>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace kp {

/// What a wire of the board shows.
enum class Level { low, high, floating, conflict };

}  // namespace kp

namespace kp::board_sim {

using simulation::Time;
constexpr Time nanosecond = 1'000'000, microsecond = 1'000 * nanosecond, millisecond = 1'000 * microsecond,
               second = 1'000 * millisecond;
constexpr Time never = INT64_MAX;

/// What somebody gives a wire.
enum class Drive : std::uint8_t { off, low, high };
[[nodiscard]] constexpr Drive drive_of(bool level) {
    return level ? Drive::high : Drive::low;
}

class BoardModel;

/// Something a hand can do to a part.
struct Control {
    enum Kind : std::uint8_t {
        hold,    ///< "1" while a finger is on it, else "0"
        flip,    ///< "0" or "1", stays
        dial,    ///< steps to either side, "+1", "-3"
        choose,  ///< one of `choices`
        type     ///< a line of text
    } kind = flip;
    std::string name, value;
    std::vector<std::string> choices;
};

/// What the eye sees beside words; lamps and segments as shares of the time since the last look.
struct Sight {
    std::vector<double> lamps;
    std::vector<std::array<double, 8>> digits;  ///< segments a to g and the point; the first digit stands at the right
    std::optional<double> angle;                ///< turns of what turns
    std::string text;                           ///< what came in, for a terminal
};

/// A line of what is known of a part, "weight", "1 250 g".
using Words = std::vector<std::pair<std::string, std::string>>;

/// What a dial stands at after "+3", "-1" (so many times `step`) or "250". None for what is not such a text.
[[nodiscard]] std::optional<int> dialled(const std::string& value, int now, int step = 1);

class SimulatedPart {
public:
    struct Home {
        BoardModel* model = nullptr;
        const BoardPart* part = nullptr;
        std::uint32_t number = 0, first_terminal = 0;
    };
    explicit SimulatedPart(const Home& home) : home_(home) {}
    virtual ~SimulatedPart() = default;
    SimulatedPart(const SimulatedPart&) = delete;
    SimulatedPart& operator=(const SimulatedPart&) = delete;

    /// Power is there: what it drives at rest.
    virtual void start() {}
    /// The wire at one of its terminals has another level.
    virtual void changed(size_t /*terminal*/, Level /*now*/) {}
    /// A time it asked for has come.
    virtual void wake(std::uint32_t /*what*/) {}
    [[nodiscard]] virtual Words words() const { return {}; }
    [[nodiscard]] virtual std::vector<Control> controls() const { return {}; }
    /// Errors: no such control, a value it does not take; nothing is done then.
    virtual Status set(const std::string& control, const std::string& value);
    [[nodiscard]] virtual Sight look() { return {}; }

    [[nodiscard]] const BoardPart& part() const { return *home_.part; }
    [[nodiscard]] const Home& home() const { return home_; }

protected:
    static constexpr size_t none = SIZE_MAX;
    void give(size_t terminal, Drive drive);
    void give(size_t terminal, bool level) { give(terminal, drive_of(level)); }
    [[nodiscard]] Level level(size_t terminal) const;
    [[nodiscard]] bool high(size_t terminal) const { return terminal != none && level(terminal) == Level::high; }
    [[nodiscard]] Time now() const;
    void wake_in(Time later, std::uint32_t what);
    /// The first terminal whose name is one of these words, with or without letters and digits before it ("host_tx"
    /// for "tx"); `none` when there is none.
    [[nodiscard]] size_t find(std::initializer_list<const char*> names) const;
    /// Terminals `stem`0, `stem`1 …, as many as there are.
    [[nodiscard]] std::vector<size_t> row(const std::string& stem) const;
    [[nodiscard]] Status no_such(const std::string& control, const std::string& value) const;
    /// Whether the lamp, key or line at this terminal is active at this level.
    [[nodiscard]] bool active(size_t terminal, Level now) const;

private:
    Home home_;
};

/// What turns with a winch.
struct Shaft {
    double turns = 0, per_second = 0;  ///< where it is at `at`, and how fast it turns since
    Time at = 0;
    [[nodiscard]] double turns_at(Time t) const {
        return turns + per_second * static_cast<double>(t - at) / static_cast<double>(second);
    }
    void turn_at(Time t, double speed) {
        turns = turns_at(t);
        at = t;
        per_second = speed;
    }
};

/// The part that acts as `home.part` does: by its kind and the names of its terminals; what is not known acts by the
/// directions of its terminals. Null for what has none. Parts whose labels begin alike share a shaft.
[[nodiscard]] std::unique_ptr<SimulatedPart> make_simulated_part(
    const SimulatedPart::Home& home, std::vector<std::pair<std::string, std::shared_ptr<Shaft>>>& shafts);

}  // namespace kp::board_sim
