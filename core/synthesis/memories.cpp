// SPDX-License-Identifier: GPL-3.0-or-later
// A memory of any size from cells of one size: beside each other for width, above each other for words with a choice
// behind them, and once more for every further reader. Linear in the cells.
#include "core/synthesis/tidy.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {

/// Bits of a bus of the memory cell, lowest first.
std::vector<std::string> bits_of(const LibraryCell& cell, const std::string& name) {
    const auto* bus = cell.bus(name);
    if (!bus) return {name};
    auto out = bus->bits;
    std::reverse(out.begin(), out.end());
    return out;
}

class Placer {
public:
    Placer(Mapping& m, const LibraryCell& cell) : m_(m), cell_(cell) {
        for (const auto& port : cell.memory) (port.write ? write_ : read_) = &port;
    }

    bool fits() const {
        return write_ && read_ && write_->clocked_on.inputs.size() == 1 && write_->enable.inputs.size() == 1;
    }

    void place(const MemoryBlock& b) {
        const auto words = size_t{1} << bits_of(cell_, read_->address).size();
        const auto width = bits_of(cell_, read_->data).size();
        const auto rows = (static_cast<size_t>(b.words) + words - 1) / words;
        for (size_t r = 0; r < b.reads.size(); ++r) {
            const auto& reader = b.reads[r];
            for (size_t low = 0; low < reader.data.size(); low += width) {
                std::vector<Bits> found;
                for (size_t row = 0; row < rows; ++row) found.push_back(cell(b, reader, r, low, row));
                for (size_t i = 0; i < width && low + i < reader.data.size(); ++i) {
                    Lit value = found.back()[i];
                    for (size_t row = rows - 1; row-- > 0;)
                        value = m_.gates.choose(row_is(reader.address, row), found[row][i], value);
                    m_.gates.drive(reader.data[low + i], value);
                }
            }
        }
    }

private:
    /// Whether the address bits beyond one cell spell `row`.
    Lit row_is(const Bits& address, size_t row) {
        std::vector<Lit> same;
        const auto own = bits_of(cell_, read_->address).size();
        for (size_t k = own; k < address.size(); ++k)
            same.push_back((row >> (k - own)) & 1 ? address[k] : invert(address[k]));
        return m_.gates.all(same);
    }

    void connect(Box& box, const std::string& bus, const Bits& bits, size_t from) {
        const auto pins = bits_of(cell_, bus);
        for (size_t i = 0; i < pins.size(); ++i) box.inputs[pins[i]] = from + i < bits.size() ? bits[from + i] : zero;
    }

    Bits cell(const MemoryBlock& b, const MemoryRead& reader, size_t r, size_t low, size_t row) {
        Box box;
        box.cell = &cell_;
        box.wanted = false;
        box.name = b.name + "_mem" + std::to_string(r) + "_" + std::to_string(low) + "_" + std::to_string(row);
        connect(box, write_->address, b.address, 0);
        connect(box, write_->data, b.data, low);
        connect(box, read_->address, reader.address, 0);
        box.inputs[write_->clocked_on.inputs[0]] = b.clock;
        box.inputs[write_->enable.inputs[0]] = m_.gates.both(b.write, row_is(b.address, row));
        Bits out;
        for (const auto& pin : bits_of(cell_, read_->data)) {
            out.push_back(m_.gates.source());
            box.outputs[pin] = out.back();
        }
        m_.boxes.push_back(std::move(box));
        return out;
    }

    Mapping& m_;
    const LibraryCell& cell_;
    const MemoryPort *write_ = nullptr, *read_ = nullptr;
};

}  // namespace

Status place_memories(Mapping& m, const CellSet& cells) {
    for (auto& block : m.memories) {
        const auto refuse = [&](const std::string& why) {
            return Message{Severity::stop, Code::memory, said("The memory {} cannot be built: {}.", block.name, why)};
        };
        if (!cells.memory) return refuse("the library has no memory cell");
        Placer placer(m, *cells.memory);
        if (!placer.fits()) return refuse("the memory cell of the library has not one write and one read port");
        if (inverted(block.clock))
            return refuse("it is written at the falling edge; memory cells write at the rising one");
        placer.place(block);
    }
    return Done{};
}

}  // namespace kp::synthesis
