// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/hostile/corpus.hpp"

#include "core/base/checksum.hpp"
#include "core/format/json/json_text.hpp"

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <sys/stat.h>

namespace kp::hostile {

namespace {

namespace fs = std::filesystem;

void put_of_corpus(const std::string& path, const std::string& text) {
    fs::remove_all(path);
    std::ofstream(path, std::ios::binary) << text;
}
std::string get(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}
void pipe_at(const std::string& path) {
    fs::remove_all(path);
    (void)!::mkfifo(path.c_str(), 0600);
}
void link_at(const std::string& path, const std::string& to) {
    fs::remove_all(path);
    fs::create_symlink(to, path);
}

/// Changes one thing of the project.
void project(const std::string& folder, const std::function<void(Json&)>& change) {
    auto j = Json::parse(get(folder + "/vane.kpeg"));
    change(j);
    put_of_corpus(folder + "/vane.kpeg", j.dump());
}
void constraints(const std::string& folder, const std::string& path) {
    project(folder, [&](Json& j) { j["constraints"][0]["path"] = path; });
}
/// Only a header, no netlist.
void header(const std::string& folder, const std::string& file, const std::string& text, const std::string& top = "") {
    put_of_corpus(folder + "/" + file, text);
    project(folder, [&](Json& j) {
        j["netlists"] = Json::array();
        j["sources"] = Json::array({file});
        j["top"] = top;
        j["delays"] = "";
    });
}
std::string times(const std::string& text, size_t n) {
    std::string out;
    for (size_t i = 0; i < n; ++i) out += text;
    return out;
}
template <class Make>
std::string each_of_corpus(size_t n, Make make) {
    std::string out;
    for (size_t i = 0; i < n; ++i) out += make(std::to_string(i));
    return out;
}
std::string old_line(const Json& j) {
    const auto body = j.dump();
    return sha256(body).substr(0, 16) + " " + body + "\n";
}
std::string doubling(int levels) {
    std::string out = "module m0(input a); SK_BUFFER u(.A(a)); endmodule\n";
    for (int i = 1; i <= levels; ++i)
        out += "module m" + std::to_string(i) + "(input a); m" + std::to_string(i - 1) + " x(.a(a)); m" +
               std::to_string(i - 1) + " y(.a(a)); endmodule\n";
    return out;
}

using S = const std::string&;

std::vector<Trap> journal_and_lock() {
    return {
        {"journal: an old one names a file of the user's",
         [](S f, S s) {
             put_of_corpus(f + "/vane.kpeg.journal", old_line({{"schema", "kitepeg.journal/1"}, {"base", ""}}) +
                                                         old_line({{"saving", {{s, "owned"}}}}));
         }},
        {"journal: a header of the wrong type",
         [](S f, S) {
             put_of_corpus(f + "/vane.kpeg.journal", old_line(Json::array({1, 2})));
         }},
        {"journal: base is a number",
         [](S f, S) {
             put_of_corpus(f + "/vane.kpeg.journal", old_line({{"schema", 7}, {"base", 7}}));
         }},
        {"journal: a pipe", [](S f, S) { pipe_at(f + "/vane.kpeg.journal"); }},
        {"journal: a folder", [](S f, S) { fs::create_directories(f + "/vane.kpeg.journal"); }},
        {"journal: a link to the user's file", [](S f, S s) { link_at(f + "/vane.kpeg.journal", s); }},
        {"journal: deep nesting",
         [](S f, S) {
             put_of_corpus(f + "/vane.kpeg.journal",
                           sha256(times("[", 200000)).substr(0, 16) + " " + times("[", 200000) + "\n");
         }},
        {"temporary files: links to the user's file",
         [](S f, S s) {
             for (const char* name : {".new", ".bak", ".bak.new", ".journal.new", ".log.new"})
                 link_at(f + "/vane.kpeg" + name, s);
         }},
        {"lock: of another machine",
         [](S f, S) { put_of_corpus(f + "/vane.kpeg.lock", "elsewhere\nnobody\n<b>window</b>\x01\n\n"); }},
        {"lock: a link to the user's file", [](S f, S s) { link_at(f + "/vane.kpeg.lock", s); }},
        {"lock: a pipe", [](S f, S) { pipe_at(f + "/vane.kpeg.lock"); }},
        {"log: a pipe", [](S f, S) { pipe_at(f + "/vane.kpeg.log"); }},
        {"log: a link to the user's file", [](S f, S s) { link_at(f + "/vane.kpeg.log", s); }},
        {"log: a hundred thousand lines of nothing",
         [](S f, S) {
             put_of_corpus(f + "/vane.kpeg.log", each_of_corpus(100000, [](S i) {
                               return "{\"number\":" + i + "}\n{\"from\":" + i + "}\n";
                           }));
         }},
    };
}

std::vector<Trap> odd_inputs() {
    return {
        {"netlist: a pipe", [](S f, S) { pipe_at(f + "/vane.v"); }},
        {"delays: a pipe", [](S f, S) { pipe_at(f + "/vane.sdf"); }},
        {"delays: an endless device", [](S f, S) { link_at(f + "/vane.sdf", "/dev/zero"); }},
        {"constraints: a pipe", [](S f, S) { pipe_at(f + "/clocks.sdc"); }},
        {"constraints: an endless device", [](S f, S) { link_at(f + "/clocks.sdc", "/dev/zero"); }},
        {"board: a pipe", [](S f, S) { pipe_at(f + "/tussock.board.json"); }},
        {"board: a folder", [](S f, S) { fs::create_directories(f + "/tussock.board.json"); }},
        {"part: a pipe", [](S f, S) { pipe_at(f + "/a.part.json"); }},
        {"pin report: a pipe",
         [](S f, S) {
             pipe_at(f + "/r.csv");
             project(f, [](Json& j) { j["pin_report"] = "r.csv"; });
         }},
        {"constraints: outside by dots", [](S f, S s) { constraints(f, "../" + fs::path(s).filename().string()); }},
        {"constraints: outside from the root", [](S f, S s) { constraints(f, s); }},
        {"constraints: outside by a link",
         [](S f, S s) {
             link_at(f + "/inside.sdc", s);
             constraints(f, "inside.sdc");
         }},
        {"source: outside from the root", [](S f, S s) { put_of_corpus(f + "/clocks.sdc", "source " + s + "\n"); }},
        {"source: outside by a link",
         [](S f, S s) {
             link_at(f + "/inside.sdc", s);
             put_of_corpus(f + "/clocks.sdc", "source inside.sdc\n");
         }},
        {"source: a pipe",
         [](S f, S) {
             pipe_at(f + "/inside.sdc");
             put_of_corpus(f + "/clocks.sdc", "source inside.sdc\n");
         }},
        {"source: itself", [](S f, S) { put_of_corpus(f + "/clocks.sdc", "source clocks.sdc\n"); }},
        {"include: outside",
         [](S f, S s) { header(f, "h.sv", "`include \"" + s + "\"\nmodule m(input a); endmodule\n"); }},
        {"include: outside by a link",
         [](S f, S s) {
             link_at(f + "/inside.vh", s);
             header(f, "h.sv", "`include \"inside.vh\"\nmodule m(input a); endmodule\n");
         }},
        {"include: itself", [](S f, S) { header(f, "h.sv", "`include \"h.sv\"\nmodule m(input a); endmodule\n"); }},
        {"constraints: the project itself", [](S f, S) { constraints(f, "vane.kpeg"); }},
        {"constraints: one file twice", [](S f, S) { constraints(f, "./ports.sdc"); }},
    };
}

std::vector<Trap> bombs() {
    return {
        {"bomb: twenty thousand wrong values",
         [](S f, S) {
             project(f, [](Json& j) {
                 j["pegs"] = Json::array();
                 for (int i = 0; i < 20000; ++i) j["pegs"].push_back({{"port", i}, {"pin", 3}});
             });
         }},
        {"bomb: a hundred thousand keys",
         [](S f, S) {
             const auto text = get(f + "/vane.kpeg");
             put_of_corpus(f + "/vane.kpeg", "{" + each_of_corpus(100000, [](S i) { return "\"k" + i + "\":1,"; }) +
                                                 text.substr(text.find('{') + 1));
         }},
        {"bomb: thirty thousand nets on one pin",
         [](S f, S) {
             put_of_corpus(
                 f + "/bomb.board.json",
                 "{\"schema\":\"kitepeg.board/"
                 "1\",\"name\":\"b\",\"part\":\"p\",\"width_mm\":1,\"height_mm\":1,\"parts\":[],\"rails\":[],\"nets\":"
                 "[" +
                     each_of_corpus(30000,
                                    [](S i) {
                                        return std::string(i == "0" ? "" : ",") +
                                               "{\"pin\":\"1\",\"terminal\":\"X.1\"}";
                                    }) +
                     "]}");
             project(f, [](Json& j) { j["board"] = "bomb"; });
         }},
        {"bomb: modules that double",
         [](S f, S) {
             put_of_corpus(f + "/vane.v", doubling(22));
             project(f, [](Json& j) { j["top"] = "m22"; });
         }},
        {"bomb: modules that double without end",
         [](S f, S) {
             put_of_corpus(f + "/vane.v",
                           doubling(40) + "module big(input a); m40 x(.a(a)); big y(.a(a)); endmodule\n");
             project(f, [](Json& j) { j["top"] = "big"; });
         }},
        {"bomb: a million ports in twenty words",
         [](S f, S) {
             header(f, "h.sv",
                    "module m(" +
                        each_of_corpus(20,
                                       [](S i) { return std::string(i == "0" ? "" : ",") + "input [49999:0] a" + i; }) +
                        "); endmodule",
                    "m");
         }},
        {"bomb: two hundred thousand ports by name",
         [](S f, S) {
             header(f, "h.sv",
                    "module m(" +
                        each_of_corpus(200000, [](S i) { return std::string(i == "0" ? "" : ",") + "input a" + i; }) +
                        "); endmodule",
                    "m");
         }},
        {"bomb: two hundred thousand ports in VHDL",
         [](S f, S) {
             header(f, "h.vhd",
                    "entity m is port(" +
                        each_of_corpus(200000,
                                       [](S i) { return std::string(i == "0" ? "" : ";") + "a" + i + ": in bit"; }) +
                        "); end;",
                    "m");
         }},
        {"bomb: a hundred thousand assignments of nothing",
         [](S f, S) {
             put_of_corpus(f + "/vane.v", "module vane(input osc_20);" + each_of_corpus(100000, [](S i) {
                                              return "wire w" + i + "; assign w" + i + " = nobody" + i + ";\n";
                                          }) + "endmodule\n");
         }},
        {"bomb: names that match nothing, without end",
         [](S f, S) {
             put_of_corpus(f + "/clocks.sdc", "set i 0\nwhile 1 { set_false_path -from nosuch$i; incr i }\n");
         }},
        {"bomb: exceptions without end",
         [](S f, S) { put_of_corpus(f + "/clocks.sdc", "while 1 { set_false_path -from [get_ports *] }\n"); }},
        {"bomb: three hundred thousand names",
         [](S f, S) {
             put_of_corpus(f + "/clocks.sdc", "set_false_path -from {" +
                                                  each_of_corpus(300000, [](S i) { return "u" + i + " "; }) + "}\n");
         }},
        {"bomb: three hundred clocks on one port",
         [](S f, S) {
             put_of_corpus(f + "/clocks.sdc", each_of_corpus(300, [](S i) {
                               return "create_clock -name c" + i + " -period 1" + i + " -add [get_ports osc_20]\n";
                           }));
         }},
        {"bomb: fifty thousand unknown commands",
         [](S f, S) {
             put_of_corpus(f + "/clocks.sdc", each_of_corpus(50000, [](S i) { return "nonsense_" + i + " a\n"; }));
         }},
        {"bomb: brackets in brackets",
         [](S f, S) {
             put_of_corpus(f + "/clocks.sdc", "set x " + times("[list ", 50000) + times("]", 50000) + "\n");
         }},
        {"bomb: open brackets", [](S f, S) { put_of_corpus(f + "/clocks.sdc", times("[", 200000)); }},
        {"bomb: braces in braces",
         [](S f, S) { put_of_corpus(f + "/clocks.sdc", "set x " + times("{", 100000) + times("}", 100000) + "\n"); }},
        {"bomb: a netlist of open braces",
         [](S f, S) { put_of_corpus(f + "/vane.v", "module vane(input a); assign a = " + times("{", 200000)); }},
        {"bomb: a header of open brackets",
         [](S f, S) {
             header(f, "h.sv", "module m(input [" + times("(", 200000) + "1" + times(")", 200000) + ":0] a); endmodule",
                    "m");
         }},
        {"bomb: a VHDL range of brackets",
         [](S f, S) {
             header(f, "h.vhd",
                    "entity m is port(a: in bit_vector(" + times("(", 200000) + "1" + times(")", 200000) +
                        " downto 0)); end;",
                    "m");
         }},
        {"bomb: macros that double",
         [](S f, S) {
             header(f, "h.sv",
                    "`define m0 1\n" +
                        each_of_corpus(60,
                                       [](S i) {
                                           return "`define m" + std::to_string(std::stoi(i) + 1) + " `m" + i + "+`m" +
                                                  i + "\n";
                                       }) +
                        "module m(input [`m60:0] a); endmodule\n",
                    "m");
         }},
        {"bomb: delays of open brackets", [](S f, S) { put_of_corpus(f + "/vane.sdf", times("(", 2000000)); }},
        {"bomb: a project that nests", [](S f, S) { put_of_corpus(f + "/vane.kpeg", times("{\"a\":", 100000)); }},
        {"bomb: a project that is one long name",
         [](S f, S) { project(f, [](Json& j) { j["name"] = times("x", 3000000); }); }},
    };
}

std::vector<Trap> odd_bytes() {
    return {
        {"bytes: NUL everywhere",
         [](S f, S) {
             for (const char* name : {"vane.v", "vane.sdf", "clocks.sdc"})
                 put_of_corpus(f + "/" + name, get(f + "/" + name) + std::string(100, '\0'));
         }},
        {"bytes: Latin-1 in comments",
         [](S f, S) {
             put_of_corpus(f + "/clocks.sdc", "# caf\xE9\n" + get(f + "/clocks.sdc"));
             put_of_corpus(f + "/vane.v", "// caf\xE9\n" + get(f + "/vane.v"));
         }},
        {"bytes: a mark and CRLF in all texts",
         [](S f, S) {
             for (const char* name : {"vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"}) {
                 std::string text = "\xEF\xBB\xBF";
                 for (const char c : get(f + "/" + name)) text += c == '\n' ? std::string("\r\n") : std::string(1, c);
                 put_of_corpus(f + "/" + name, text);
             }
         }},
        {"bytes: names that are markup",
         [](S f, S) {
             put_of_corpus(f + "/clocks.sdc", get(f + "/clocks.sdc") + "set_false_path -from {<img src=\"x\">}\n");
             project(f, [](Json& j) { j["name"] = "<b>=cmd|' /c calc'!A1</b>\n]]>"; });
         }},
        {"bytes: none at all",
         [](S f, S) {
             for (const char* name : {"vane.v", "vane.sdf", "clocks.sdc"}) put_of_corpus(f + "/" + name, "");
         }},
        {"bytes: a picture for a netlist",
         [](S f, S) {
             std::string noise;
             std::uint32_t x = 1;
             for (int i = 0; i < 200000; ++i) noise += static_cast<char>((x = x * 1664525 + 1013904223) >> 24);
             for (const char* name : {"vane.v", "vane.sdf", "clocks.sdc"}) put_of_corpus(f + "/" + name, noise);
         }},
    };
}

}  // namespace

const std::vector<Trap>& traps() {
    static const std::vector<Trap> all = [] {
        std::vector<Trap> out;
        for (auto part : {journal_and_lock(), odd_inputs(), bombs(), odd_bytes()})
            out.insert(out.end(), part.begin(), part.end());
        return out;
    }();
    return all;
}

std::string lay(const Trap& trap, const std::string& folder, const std::string& secret_file) {
    fs::remove_all(folder);
    fs::create_directories(folder);
    for (const char* name : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"})
        put_of_corpus(folder + "/" + name, get(std::string(KP_SOURCE "/demo/vane/") + name));
    put_of_corpus(secret_file, secret + " " + secret + "=x\n" + secret + "\n");
    trap.lay(folder, secret_file);
    return folder + "/vane.kpeg";
}

std::string contents(const std::string& folder) {
    std::vector<std::string> lines;
    for (const auto& e : fs::recursive_directory_iterator(folder)) {
        const auto status = e.symlink_status();
        const std::string what = fs::is_symlink(status)        ? "link to " + fs::read_symlink(e.path()).string()
                                 : fs::is_regular_file(status) ? sha256(get(e.path().string()))
                                                               : "other";
        lines.push_back(e.path().string() + ": " + what + "\n");
    }
    std::sort(lines.begin(), lines.end());
    std::string out;
    for (const auto& line : lines) out += line;
    return out;
}

}  // namespace kp::hostile
