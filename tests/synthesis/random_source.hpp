// SPDX-License-Identifier: GPL-3.0-or-later
// Random modules over all operators, for the mapper and the interpreter to disagree about. Only what the standard
// defines for all values: no index outside of its vector, no division by zero.
#pragma once

#include <random>
#include <string>
#include <vector>

namespace kp::synthesis {

class RandomSource {
public:
    explicit RandomSource(unsigned seed) : random_(seed) {}

    std::string module() {
        std::string ports = "input clk, input rst_n", body;
        for (int i = 0; i < 4; ++i) {
            const auto w = 1 + pick(9);
            const bool sign = pick(3) == 0;
            const auto name = "a" + std::to_string(i);
            ports += std::string(", input ") + (sign ? "signed " : "") + range(w) + name;
            names_.push_back({name, w, sign});
        }
        for (int i = 0; i < 4; ++i) {
            const auto w = 1 + pick(10);
            const bool sign = pick(3) == 0;
            const auto name = "w" + std::to_string(i);
            body += std::string("  wire ") + (sign ? "signed " : "") + range(w) + name + " = " + expression(3) + ";\n";
            names_.push_back({name, w, sign});
        }
        std::string reset, clocked, declared;
        for (int i = 0; i < 3; ++i) {
            const auto w = 1 + pick(8);
            const auto name = "r" + std::to_string(i);
            ports += ", output reg " + range(w) + name;
            names_.push_back({name, w, false});
            reset += "      " + name + " <= " + std::to_string(w) + "'d" +
                     std::to_string(pick(1 << std::min(w, 8)) % (1 << w)) + ";\n";
        }
        for (int i = 0; i < 3; ++i) clocked += statement("r" + std::to_string(i), "<=", 2);
        const auto w = 1 + pick(8);
        ports += ", output reg " + range(w) + "c0, output " + range(1 + pick(12)) + "y0";
        const auto logic = "    c0 = " + expression(2) + ";\n" + statement("c0", "=", 2);
        body += pick(2) ? "  always @(posedge clk or negedge rst_n)\n    if (!rst_n) begin\n" + reset +
                              "    end else begin\n" + clocked + "    end\n"
                        : "  always @(posedge clk) begin\n" + clocked + "    if (!rst_n) begin\n" + reset +
                              "    end\n  end\n";
        body += "  always @* begin\n" + logic + "  end\n  assign y0 = " + expression(3) + ";\n";
        return "module top (" + ports + ");\n" + body + "endmodule\n";
    }

private:
    struct Name {
        std::string name;
        int width;
        bool sign;
    };
    int pick(int n) { return static_cast<int>(random_() % static_cast<unsigned>(n)); }
    static std::string range(int w) { return w == 1 ? "" : "[" + std::to_string(w - 1) + ":0] "; }
    const Name& name() { return names_[static_cast<size_t>(pick(static_cast<int>(names_.size())))]; }

    std::string number() {
        const int w = 1 + pick(8);
        const auto v = std::to_string(pick(1 << w));
        if (pick(4) == 0) return v;
        return std::to_string(w) + (pick(4) == 0 ? "'sd" : "'d") + v;
    }

    std::string leaf() {
        if (pick(4) == 0) return number();
        const auto n = name();
        if (n.width > 2 && pick(3) == 0) {
            const int high = pick(n.width), low = pick(high + 1);
            return n.name + "[" + std::to_string(high) + ":" + std::to_string(low) + "]";
        }
        if (n.width == 4 || n.width == 8) {
            const int bits = n.width == 4 ? 2 : 3;
            for (const auto& other : names_)
                if (other.width == bits && !other.sign && pick(2)) return n.name + "[" + other.name + "]";
        }
        return n.name;
    }

    std::string expression(int depth) {
        if (depth == 0) return leaf();
        const auto a = [&] { return expression(depth - 1); };
        static const std::vector<std::string> binary{
            "+", "-", "*", "&", "|", "^", "~^", "<", "<=", ">", ">=", "==", "!=", "&&", "||", "<<", ">>", ">>>"};
        static const std::vector<std::string> unary{"~", "-", "!", "&", "|", "^", "~&", "~|", "~^"};
        switch (pick(9)) {
            case 0: return "(" + unary[static_cast<size_t>(pick(static_cast<int>(unary.size())))] + a() + ")";
            case 1: return "(" + a() + " ? " + a() + " : " + a() + ")";
            case 2: return "{" + sized() + ", " + sized() + "}";
            case 3: return "{" + std::to_string(1 + pick(3)) + "{" + sized() + "}}";
            case 4: return std::string(pick(2) ? "$signed(" : "$unsigned(") + a() + ")";
            case 5: return "(" + a() + (pick(2) ? " / " : " % ") + std::to_string(1 << pick(4)) + ")";
            default:
                return "(" + a() + " " + binary[static_cast<size_t>(pick(static_cast<int>(binary.size())))] + " " +
                       a() + ")";
        }
    }
    std::string sized() {
        const auto n = name();
        return n.name;
    }

    std::string statement(const std::string& to, const std::string& how, int depth) {
        const auto assign = [&] { return "      " + to + " " + how + " " + expression(2) + ";\n"; };
        if (depth == 0) return assign();
        switch (pick(4)) {
            case 0: return "      if (" + expression(1) + ") begin\n" + statement(to, how, depth - 1) + "      end\n";
            case 1:
                return "      if (" + expression(1) + ") begin\n" + statement(to, how, depth - 1) +
                       "      end else begin\n" + statement(to, how, depth - 1) + "      end\n";
            case 2: {
                std::string out = std::string("      ") + (pick(2) ? "case (" : "casez (") + name().name + ")\n";
                const int n = 1 + pick(5);
                for (int k = 0; k < n; ++k)
                    out += "        " + std::to_string(1 + pick(4)) + "'d" + std::to_string(k) + ": begin\n" +
                           statement(to, how, depth - 1) + "        end\n";
                if (pick(2)) out += "        default: begin\n" + assign() + "        end\n";
                return out + "      endcase\n";
            }
            default: return assign();
        }
    }

    std::mt19937 random_;
    std::vector<Name> names_;
};

}  // namespace kp::synthesis
