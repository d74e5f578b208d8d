// SPDX-License-Identifier: GPL-3.0-or-later
// Joins by pin name. Linear in the pins; each kind of difference is told once, with the first pin it was found at.
#include "core/format/table/part_join.hpp"

#include "core/base/text.hpp"
#include "core/model/part_places.hpp"
#include "core/base/said.hpp"

#include <map>

namespace kp::table {

namespace {

class Joiner {
public:
    Joiner(Part part, const Part& more, std::vector<Message>& notes)
        : part_(std::move(part)), more_(more), notes_(notes) {}

    Result<Part> run() {
        for (size_t i = 0; i < part_.pins.size(); ++i) part_.by_name[part_.pins[i].name] = i;
        size_t common = 0;
        for (const auto& pin : more_.pins) common += part_.by_name.contains(pin.name);
        if (common == 0)
            return Message{Severity::stop, Code::part,
                           said("None of the pins of {} is one of {}; they are two parts.", more_.name, part_.name)};
        // Banks of who knows several; one bank of all pins is what is written when nothing is known.
        const bool other_banks = more_.banks.size() > part_.banks.size();
        if (other_banks) part_.banks = more_.banks;
        for (const auto& pin : more_.pins) join(pin, other_banks);
        if (part_.idcode <= 1) part_.idcode = more_.idcode;
        if (auto status = place_pins(part_); !status) return status.messages();
        for (const auto& [what, told] : told_)
            notes_.push_back({Severity::caution, Code::part,
                              said("{} at {}{}.", what, counted(told.first, "pin, ", "pins, first at "), told.second)});
        return std::move(part_);
    }

private:
    void tell(const std::string& what, const std::string& pin) {
        auto& t = told_[what];
        if (t.first++ == 0) t.second = pin;
    }

    static bool plain(PinKind kind) { return kind == PinKind::io; }

    void join(const Pin& other, bool other_banks) {
        const auto at = part_.by_name.find(other.name);
        if (at == part_.by_name.end()) {
            tell(said("Only {} has it:", more_.name), other.name);
            part_.by_name[other.name] = part_.pins.size();
            part_.pins.push_back(other);
            return;
        }
        auto& pin = part_.pins[at->second];
        if (pin.kind != other.kind) {
            if (plain(pin.kind) && !plain(other.kind))
                pin.kind = other.kind;
            else if (!plain(other.kind))
                tell("The sources give different kinds; the first was kept", pin.name);
        }
        if (pin.function.empty() || pin.function == pin.name) pin.function = other.function;
        if (other_banks || pin.bank.empty()) pin.bank = other.bank;
        if (!pin.usable() && pin.kind != PinKind::bank_supply && pin.kind != PinKind::reference) pin.bank.clear();
        if (pin.pair.empty()) {
            pin.pair = other.pair;
            pin.pair_true = other.pair_true;
        } else if (!other.pair.empty() && (pin.pair != other.pair || pin.pair_true != other.pair_true))
            tell("The sources pair it differently; the first was kept", pin.name);
        pin.reference |= other.reference;
        pin.strobe |= other.strobe;
        for (auto field : {&Pin::strobe_group, &Pin::supply_pair, &Pin::region, &Pin::job})
            if ((pin.*field).empty()) pin.*field = other.*field;
        if (pin.reaches.empty()) pin.reaches = other.reaches;
    }

    Part part_;
    const Part& more_;
    std::vector<Message>& notes_;
    std::map<std::string, std::pair<int, std::string>> told_;
};

}  // namespace

Result<Part> join_parts(Part part, const Part& more, std::vector<Message>& notes) {
    return Joiner(std::move(part), more, notes).run();
}

}  // namespace kp::table
