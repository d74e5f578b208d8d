// SPDX-License-Identifier: GPL-3.0-or-later
// Entries of one instance that follow each other share a CELL; nothing is sorted, so that writing is linear and
// needs no memory but the text.
#include "core/format/sdf/write.hpp"

#include "core/base/said.hpp"

#include <cstdio>

namespace kp {

namespace {

/// A name as IEEE 1497 writes it: what is not a letter, digit or underscore gets a backslash.
std::string escaped(std::string_view name) {
    std::string out;
    for (const char c : name) {
        const bool plain = (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_';
        if (!plain) out += '\\';
        out += c;
    }
    return out;
}

/// "instance/pin": only the last divider is one, the others belong to the name of the instance.
std::string pin_of_instance(std::string_view name) {
    const auto at = name.rfind('/');
    if (at == std::string_view::npos) return escaped(name);
    return escaped(name.substr(0, at)) + "/" + escaped(name.substr(at + 1));
}

std::string triple(const Triple& t) {
    char text[80];
    std::snprintf(text, sizeof text, "(%.4f:%.4f:%.4f)", t[0], t[1], t[2]);
    return text;
}

}  // namespace

SdfWriter::SdfWriter(const std::string& design, const std::string& program)
    : out_(said("(DELAYFILE\n  (SDFVERSION \"3.0\")\n  (DESIGN \"{}\")\n  (PROGRAM \"{}\")\n  (DIVIDER /)\n  "
                "(TIMESCALE 1ns)\n",
                design, program)) {}

void SdfWriter::take(const DelayEntry& e) {
    if (!open_ || e.instance != instance_) {
        end_block();
        out_ += said("  (CELL (CELLTYPE \"{}\") (INSTANCE{}{})\n    (DELAY (ABSOLUTE\n", e.cell_type,
                     e.instance.empty() ? "" : " ", escaped(e.instance));
        instance_ = e.instance;
        open_ = true;
    }
    if (e.kind == DelayEntry::interconnect) {
        out_ += said("      (INTERCONNECT {} {} {})\n", pin_of_instance(e.from), pin_of_instance(e.to), triple(e.rise));
        return;
    }
    auto from = escaped(e.from);
    if (e.from_edge == 'p') from = said("(posedge {})", from);
    if (e.from_edge == 'n') from = said("(negedge {})", from);
    out_ += said("      (IOPATH {} {} {} {})\n", from, escaped(e.to), triple(e.rise), triple(e.fall));
}

void SdfWriter::end_block() {
    if (open_) out_ += "    ))\n  )\n";
    open_ = false;
}

std::string SdfWriter::finish() {
    end_block();
    return std::move(out_) + ")\n";
}

}  // namespace kp
