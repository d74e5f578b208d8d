// SPDX-License-Identifier: GPL-3.0-or-later
// Runs a source as it is written, statement by statement, to have something to hold a netlist against. It shares the
// grammar with the mapper and nothing else. Two values: what the source leaves unknown is 0, as after configuration.
#pragma once

#include "core/hdl/source/syntax.hpp"

#include <memory>
#include <string>
#include <vector>

namespace kp::source {

class Interpreter {
public:
    struct State;
    ~Interpreter();
    Interpreter(Interpreter&&) noexcept;

    /// Unfolds the hierarchy under `top`, runs initial blocks and settles. `code` outlives it. Errors: what it cannot
    /// run, with file and line.
    [[nodiscard]] static Result<Interpreter> of(const DesignText& code, const std::string& top,
                                                const std::map<std::string, long long>& parameters = {});

    struct Port {
        std::string name;
        Declaration::Direction direction;
        int width;
    };
    [[nodiscard]] const std::vector<Port>& ports() const;
    /// Bits of a port, highest first. Nothing happens before settle().
    void set(const std::string& port, const std::string& bits);
    [[nodiscard]] std::string get(const std::string& port) const;
    /// Lets everything follow what was set; edges run what waits for them. Errors: it never settles.
    [[nodiscard]] std::optional<Message> settle();

private:
    explicit Interpreter(std::unique_ptr<State> state);
    std::unique_ptr<State> state_;
};

}  // namespace kp::source
