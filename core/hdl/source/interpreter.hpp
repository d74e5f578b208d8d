// SPDX-License-Identifier: GPL-3.0-or-later
// Runs a source as it is written, statement by statement, to have something to hold a netlist against. It shares the
// grammar with the mapper and nothing else. Two values: what the source leaves unknown is 0, as after configuration.
#pragma once

#include "core/hdl/source/syntax.hpp"

#include <map>
#include <memory>
#include <string>
#include <vector>

namespace kp::source {

class Interpreter {
public:
    struct State;
    ~Interpreter();
    Interpreter(Interpreter&&) noexcept;

    /// A cell that is not run: what it gives is set from outside. Pins by name; true: an output.
    using Boxes = std::map<std::string, std::map<std::string, bool>>;
    /// Unfolds the hierarchy under `top`, runs initial blocks and settles. `code` outlives it. Errors: what it cannot
    /// run, with file and line.
    [[nodiscard]] static Result<Interpreter> of(const DesignText& code, const std::string& top,
                                                const std::map<std::string, long long>& parameters = {},
                                                const Boxes& known = {});

    struct Port {
        std::string name;
        Declaration::Direction direction;
        int width;
    };
    [[nodiscard]] const std::vector<Port>& ports() const;
    /// Bits of a port, highest first. Nothing happens before settle().
    void set(const std::string& port, const std::string& bits);
    [[nodiscard]] std::string get(const std::string& port) const;
    /// Instances of boxes, in the order in which they were met.
    struct Box {
        std::string cell;
        std::map<std::string, long long> parameters;
    };
    [[nodiscard]] const std::vector<Box>& boxes() const;
    /// What reaches an input of a box; false where nothing is connected.
    [[nodiscard]] bool at_box(size_t box, const std::string& pin);
    /// Nothing happens before settle(). An output that is not connected is passed over.
    void set_at_box(size_t box, const std::string& pin, bool value);
    /// Lets everything follow what was set; edges run what waits for them. Errors: it never settles.
    [[nodiscard]] std::optional<Message> settle();

private:
    explicit Interpreter(std::unique_ptr<State> state);
    std::unique_ptr<State> state_;
};

}  // namespace kp::source
