// SPDX-License-Identifier: GPL-3.0-or-later
// A clean copy of the project profiler-closed into which a fault can be planted: in the plan, the constraints, the
// board, the part, the standards or the netlist. Whatever it is, the rules are run on it as they are in the program.
#pragma once

#include "core/format/sdc/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/rules/live.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

namespace kp {

struct Planted {
    std::shared_ptr<Session> session;  ///< keeps what was read
    Part part;
    Board board;
    StandardTable standards;
    Project project;
    std::optional<std::uint32_t> idcode;
    bool header_only = false;  ///< nothing is known of what lies behind the ports

    /// Reads the project once for all tests.
    explicit Planted(const std::string& path = "/demo/profiler/profiler-closed.kpeg")
        : session(opened(path)),
          part(world().part),
          board(world().board),
          standards(world().standards),
          project(session->project()) {}

    [[nodiscard]] const World& world() const { return session->world(); }
    Terminal& terminal(const std::string& ref, const std::string& name) {
        for (auto& p : board.parts)
            if (p.ref == ref)
                for (auto& t : p.terminals)
                    if (t.name == name) return t;
        throw std::runtime_error("no terminal " + name);
    }
    BoardNet& net(const std::string& terminal) {
        for (auto& n : board.nets)
            if (n.terminal == terminal) return n;
        throw std::runtime_error("no net " + terminal);
    }
    Pin& pin(const std::string& name) { return part.pins.at(part.by_name.at(name)); }
    Pin& pin_of(const std::string& port) { return pin(project.pegs.at(port).pin); }
    Bank& bank(const std::string& name) {
        for (auto& b : part.banks)
            if (b.name == name) return b;
        throw std::runtime_error("no bank " + name);
    }
    IoStandard& standard(const std::string& name) {
        for (auto& s : standards.rows)
            if (s.name == name) return s;
        throw std::runtime_error("no standard " + name);
    }
    PortAttributes& attributes(const std::string& port) { return project.attributes[port]; }
    void peg(const std::string& port, const std::string& pin) { project.pegs[port].pin = pin; }
    void swap(const std::string& a, const std::string& b) { std::swap(project.pegs.at(a).pin, project.pegs.at(b).pin); }
    /// A free user pin of a bank (of any, for an empty name) that the board leaves alone.
    [[nodiscard]] std::string free_pin(const std::string& bank,
                                       const std::function<bool(const Pin&)>& want = {}) const {
        for (const auto& p : part.pins)
            if (p.kind == PinKind::io && (bank.empty() || p.bank == bank) && !p.reference && p.job.empty() &&
                !board.at_pin(p.name) && (!want || want(p)) &&
                std::none_of(project.pegs.begin(), project.pegs.end(),
                             [&](const auto& entry) { return entry.second.pin == p.name; }))
                return p.name;
        throw std::runtime_error("no free pin");
    }
    void text(const std::string& from, const std::string& to) {
        for (auto& file : project.constraints)
            if (const auto at = file.text.find(from); at != std::string::npos) {
                file.text.replace(at, from.size(), to);
                analysed_.reset();
                return;
            }
        throw std::runtime_error("no '" + from + "' in the constraints");
    }
    void add(const std::string& line) {
        project.constraints.back().text += line + "\n";
        analysed_.reset();
    }
    void in_netlist(const std::string& from, const std::string& to) {
        if (source_.empty()) source_ = real_disk().read(KP_SOURCE "/demo/profiler/profiler.v").take();
        const auto at = source_.find(from);
        if (at == std::string::npos) throw std::runtime_error("no '" + from + "' in the netlist");
        source_.replace(at, from.size(), to);
        analysed_.reset();
    }

    [[nodiscard]] std::vector<Finding> findings() {
        board.index();
        analyse();
        const auto& ports = netlist_ ? netlist_->ports : world().netlist.ports;
        const DesignFacts nothing;
        RuleInput input(part, board, standards, ports, project, analysed_->constraints(), analysed_->timing(),
                        header_only ? nothing : analysed_->design());
        input.idcode_read = idcode;
        return run_rules(input);
    }
    /// "L02 stop; D06 caution ×2; …": which rules speak, notes too.
    [[nodiscard]] std::string dump() {
        std::vector<std::pair<std::string, int>> seen;
        for (const auto& f : findings()) {
            const std::string what = f.rule + " " + name_of(f.severity);
            if (!seen.empty() && seen.back().first == what)
                ++seen.back().second;
            else
                seen.emplace_back(what, 1);
        }
        std::string out;
        for (const auto& [what, n] : seen)
            out += (out.empty() ? "" : "; ") + what + (n > 1 ? " x" + std::to_string(n) : "");
        return out;
    }

private:
    static std::shared_ptr<Session> opened(const std::string& path) {
        static std::map<std::string, std::shared_ptr<Session>> known;
        auto& session = known[path];
        if (session) return session;
        auto result = Session::open(real_disk(), KP_SOURCE + path, KP_SOURCE "/data");
        if (!result) throw std::runtime_error(result.first().sentence());
        session = result.take();
        session->analyse_now();
        return session;
    }
    void analyse() {
        if (analysed_) return;
        if (source_.empty() && project.constraints == session->project().constraints) {
            analysed_ = std::make_shared<const Analysis>(session->analysis());
            return;
        }
        const auto& w = world();
        if (!source_.empty()) {
            const SourceText text{"profiler.v", source_};
            netlist_ = std::make_shared<Netlist>(read_netlist({&text, 1}, "profiler", w.library).take());
        }
        const auto& netlist = netlist_ ? *netlist_ : w.netlist;
        const NetlistIndex index(netlist);
        auto out = std::make_shared<Analysis>();
        std::vector<sdc::Script> scripts;
        for (const auto& file : project.constraints) scripts.push_back({file.path, file.path, file.text});
        auto read = std::make_shared<Interpretation>();
        read->constraints = read_sdc(scripts, netlist, index, w.library, {}, {});
        const auto& k = read->constraints;
        out->report = std::make_shared<const TimingReport>(
            analyse_timing({netlist, w.library, k, w.delays ? &*w.delays : nullptr}, {}, {}));
        out->facts = std::make_shared<const DesignFacts>(design_facts(netlist, w.library, k));
        out->interpretation = std::move(read);
        analysed_ = out;
    }
    std::string source_;
    std::shared_ptr<Netlist> netlist_;
    std::shared_ptr<const Analysis> analysed_;
};

struct Plant {
    const char* name;
    void (*fault)(Planted&);
    const char* expected;  ///< as Planted::dump() says it
};

class PlantedFault : public testing::TestWithParam<Plant> {};

inline std::string name_of_plant(const testing::TestParamInfo<Plant>& info) {
    return info.param.name;
}

inline std::string lamp_pin(Planted& p, int i) {
    return p.project.pegs.at("lamp[" + std::to_string(i) + "]").pin;
}

/// All outputs of a bank at the weakest drive, so that a test counts only those it speaks of.
inline void weak_outputs(Planted& p, const std::string& bank) {
    for (const auto& port : p.world().netlist.ports)
        if (const auto peg = p.project.pegs.find(port.name);
            port.direction != Direction::in && peg != p.project.pegs.end() && p.pin(peg->second.pin).bank == bank)
            p.attributes(port.name).drive = port.bus == "lamp" ? "4" : "2";  // a lamp draws 2.6 mA
}

}  // namespace kp
