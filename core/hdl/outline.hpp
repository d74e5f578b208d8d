// SPDX-License-Identifier: GPL-3.0-or-later
// What a text of HDL declares and uses, without reading what it means: for the order of files, the tree of modules, and
// to tell designs from netlists, cell models and test benches. Verilog, SystemVerilog and VHDL.
#pragma once

#include "core/base/source_text.hpp"

#include <map>
#include <string>
#include <vector>

namespace kp {

struct ModuleOutline {
    std::string name;
    int line = 0;
    bool has_ports = false;
    bool behaviour = false;      ///< always, processes, expressions: more than instances and wires
    bool cell = false;           ///< a specify block
    std::string only_simulated;  ///< what says that it is for simulation only, such as "calls $finish"; empty: nothing
    std::map<std::string, int> instances;  ///< types (VHDL: in lower case) and how often
};

struct TextOutline {
    bool vhdl = false;
    bool primitives = false;             ///< user-defined primitives of Verilog
    std::vector<ModuleOutline> modules;  ///< modules, or entities with what their architectures hold
    std::vector<std::string> packages;   ///< declared here
    std::vector<std::string> uses;       ///< packages that are imported or used
    std::vector<std::string> includes;   ///< names as written
};

/// Never fails: what is not understood is passed over. Linear in the text.
[[nodiscard]] TextOutline outline_of(const SourceText& source);

}  // namespace kp
