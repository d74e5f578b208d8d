// SPDX-License-Identifier: GPL-3.0-or-later
// Tcl in a child process. Why a child: a command-count limit does not stop an empty loop, and an allocation that cannot
// be met aborts the process (both measured on Tcl 8.6.13). fork() gives the child the whole netlist without copying,
// the kernel enforces the limits, and what was asked comes back through a pipe. The child touches only Tcl, the heap
// and the pipe, and leaves by _exit, so locks that other threads held at the fork are never waited for.
#include "core/base/disk.hpp"
#include "core/base/process.hpp"
#include "core/base/text.hpp"
#include "core/format/sdc/library_query.hpp"
#include "core/format/sdc/pipe.hpp"
#include "core/format/sdc/query.hpp"
#include "core/format/sdc/table.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/base/said.hpp"

#include <array>
#include <cerrno>
#include <chrono>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <mutex>
#include <poll.h>
#include <signal.h>
#include <sstream>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <tcl.h>
#include <unistd.h>

namespace kp::sdc {

namespace {

// ---- the child
// --------------------------------------------------------------------------------------------------------

struct Child;
Child* child = nullptr;  // one per process, set after fork and only there: Tcl's object type has no user data

/// A Tcl value that remembers which object its name stands for.
extern const Tcl_ObjType object_type;

Tcl_Obj* new_object(ObjectKind kind, std::uint32_t id) {
    Tcl_Obj* o = Tcl_NewObj();
    Tcl_InvalidateStringRep(o);
    o->internalRep.twoPtrValue.ptr1 = reinterpret_cast<void*>(static_cast<std::uintptr_t>(kind));
    o->internalRep.twoPtrValue.ptr2 = reinterpret_cast<void*>(static_cast<std::uintptr_t>(id));
    o->typePtr = &object_type;
    return o;
}

struct Child {
    const Netlist& netlist;
    const NetlistIndex& index;
    const Library& library;
    const RunLimits& limits;
    Writer out;
    Tcl_Interp* interp = nullptr;
    std::vector<std::string> files, paths;
    std::vector<std::string> clocks;
    CommandSpan now;
    std::string_view verb;  ///< first word of the command that runs
    int nesting = 0;
    size_t calls = 0, misses = 0;

    void message(Severity severity, Code code, const std::string& text, int line = 0, const Subject& about = {}) {
        out.number(record_message);
        out.number(static_cast<std::uint64_t>(severity));
        out.number(static_cast<std::uint64_t>(code));
        out.text(text);
        out.number(static_cast<std::uint64_t>(about.kind));
        out.text(about.name);
        out.text(about.meant);
        span(line);
    }
    void span(int line = 0) {
        out.number(static_cast<std::uint64_t>(now.file));
        out.number(now.begin);
        out.number(now.end);
        out.number(static_cast<std::uint64_t>(line > 0 ? line : now.line));
    }
    void elements(Tcl_Obj* value, std::vector<Element>& list, int depth = 0) {
        if (value->typePtr == &object_type) {
            const auto kind = static_cast<int>(reinterpret_cast<std::uintptr_t>(value->internalRep.twoPtrValue.ptr1));
            const auto id =
                static_cast<std::uint32_t>(reinterpret_cast<std::uintptr_t>(value->internalRep.twoPtrValue.ptr2));
            list.push_back({kind, id, kind == static_cast<int>(ObjectKind::clock) ? clocks[id] : std::string()});
            return;
        }
        int n = 0;
        Tcl_Obj** items = nullptr;
        const bool list_already = value->typePtr && std::strcmp(value->typePtr->name, "list") == 0;
        if (depth < 8 && (list_already || depth == 0) && Tcl_ListObjGetElements(nullptr, value, &n, &items) == TCL_OK) {
            if (n == 1 && items[0] == value) n = 0;
            for (int i = 0; i < n; ++i) elements(items[i], list, depth + 1);
            if (n > 0 || depth > 0) return;
        }
        if (const std::string text = Tcl_GetString(value); !text.empty()) list.push_back({-1, 0, text});
    }
    void word(Tcl_Obj* value) {
        std::vector<Element> list;
        const bool object = value->typePtr == &object_type;
        const std::string text = object ? ""
                                 : (value->typePtr && std::strcmp(value->typePtr->name, "list") == 0 && !value->bytes)
                                     ? ""
                                     : Tcl_GetString(value);
        elements(value, list);
        out.text(text);
        out.number(list.size());
        for (const auto& e : list) {
            out.number(static_cast<std::uint64_t>(e.kind + 1));
            out.number(e.id);
            out.text(e.text);
        }
    }
    void call(const char* name, int objc, Tcl_Obj* const objv[]) {
        out.number(record_call);
        out.text(name);
        span();
        out.number(static_cast<std::uint64_t>(objc));
        for (int i = 0; i < objc; ++i) word(objv[i]);
    }
    bool too_many() { return ++calls > limits.calls; }
    void run_text(int file, const std::string& text);
};

void object_to_text(Tcl_Obj* o) {
    const auto kind = static_cast<ObjectKind>(reinterpret_cast<std::uintptr_t>(o->internalRep.twoPtrValue.ptr1));
    const auto id = static_cast<std::uint32_t>(reinterpret_cast<std::uintptr_t>(o->internalRep.twoPtrValue.ptr2));
    const std::string name = kind == ObjectKind::clock ? child->clocks[id] : object_name(child->netlist, kind, id);
    o->bytes = Tcl_Alloc(static_cast<unsigned>(name.size() + 1));
    std::memcpy(o->bytes, name.c_str(), name.size() + 1);
    o->length = static_cast<int>(name.size());
}

void copy_object(Tcl_Obj* from, Tcl_Obj* to) {
    to->internalRep = from->internalRep;
    to->typePtr = from->typePtr;
}

const Tcl_ObjType object_type{"kitepeg object", nullptr, copy_object, object_to_text, nullptr};

int give_up(Tcl_Interp* interp, const std::string& why) {
    Tcl_SetObjResult(interp, Tcl_NewStringObj(why.c_str(), -1));
    return TCL_ERROR;
}

/// A clock becomes known to later queries as soon as its command has run.
void note_clock(int objc, Tcl_Obj* const objv[]) {
    std::string name, positional;
    for (int i = 1; i < objc; ++i) {
        const std::string word = Tcl_GetString(objv[i]);
        if (word.starts_with('-') && !to_number(word)) {
            const bool takes_value = word != "-add" && word != "-invert" && word != "-combinational";
            if (word == "-name" && i + 1 < objc) name = Tcl_GetString(objv[i + 1]);
            if (takes_value) ++i;
        } else {
            std::vector<Element> list;
            child->elements(objv[i], list);
            if (!list.empty())
                positional = list[0].kind >= 0 && list[0].text.empty()
                                 ? object_name(child->netlist, static_cast<ObjectKind>(list[0].kind), list[0].id)
                                 : list[0].text;
        }
    }
    if (name.empty()) name = positional;
    if (!name.empty() && std::find(child->clocks.begin(), child->clocks.end(), name) == child->clocks.end())
        child->clocks.push_back(name);
}

int command(ClientData data, Tcl_Interp* interp, int objc, Tcl_Obj* const objv[]) {
    if (child->too_many()) return give_up(interp, "More commands than the limit of one run.");
    const auto* name = static_cast<const char*>(data);
    if (std::strncmp(name, "create_", 7) == 0) note_clock(objc, objv);
    child->call(name, objc - 1, objv + 1);
    return TCL_OK;
}

int unknown(ClientData, Tcl_Interp* interp, int objc, Tcl_Obj* const objv[]) {
    if (child->too_many()) return give_up(interp, "More commands than the limit of one run.");
    const std::string name = objc > 1 ? Tcl_GetString(objv[1]) : "";
    // An unbraced gray[*] or gray[3] makes Tcl run '*' or '3'; everybody who writes it means the index.
    if (objc == 2 && !name.empty() && name.find_first_not_of("0123456789:*?") == std::string::npos) {
        Tcl_SetObjResult(interp, Tcl_NewStringObj(("[" + name + "]").c_str(), -1));
        return TCL_OK;
    }
    const auto meant = ++child->misses > 20 ? std::nullopt : nearest(name, command_names());
    child->message(Severity::caution, Code::not_portable,
                   said("'{}' is not portable SDC; the line is kept and not used.{}", name,
                        meant ? said(" Did you mean '{}'?", *meant) : ""),
                   0, {Subject::called, name, meant.value_or("")});
    return TCL_OK;
}

/// The words of a query; false, with the interpreter's result set, when one of them is none.
struct QueryWords {
    QueryOptions options;
    bool quiet = false;
    std::vector<Element> patterns, of;

    /// The patterns of one word. A plain string of regular expressions is split at blanks only: splitting it as a Tcl
    /// list would take the backslashes off, and d\[2\] would become a set of characters.
    void add_patterns(Tcl_Obj* value) {
        const bool plain = value->typePtr == nullptr || std::strcmp(value->typePtr->name, "string") == 0;
        if (!options.regexp || !plain) return child->elements(value, patterns);
        std::istringstream parts{Tcl_GetString(value)};
        for (std::string part; parts >> part;) {
            const bool braced = part.size() > 1 && part.front() == '{' && part.back() == '}';
            patterns.push_back({-1, 0, braced ? part.substr(1, part.size() - 2) : part});
        }
    }
    /// The first expression that is none.
    [[nodiscard]] std::optional<std::string> broken_expression() const {
        for (const auto& p : patterns)
            if (options.regexp && p.kind < 0 && !NamePattern(p.text, options).usable()) return p.text;
        return std::nullopt;
    }

    bool read(Tcl_Interp* interp, int objc, Tcl_Obj* const objv[]) {
        for (int i = 1; i < objc; ++i)
            if (objv[i]->typePtr != &object_type && std::strcmp(Tcl_GetString(objv[i]), "-regexp") == 0)
                options.regexp = true;
        for (int i = 1; i < objc; ++i) {
            const std::string word = objv[i]->typePtr == &object_type ? "" : Tcl_GetString(objv[i]);
            if (word == "-regexp")
                continue;
            else if (word == "-nocase")
                options.no_case = true;
            else if (word == "-quiet")
                quiet = true;
            else if (word == "-hierarchical" || word == "-exact")
                continue;
            else if (word == "-hsc" && i + 1 < objc)
                ++i;  // SDC 1.x: the separator of this query; '/' is used
            else if (word == "-of_objects" && i + 1 < objc)
                child->elements(objv[++i], of);
            else if (word.starts_with('-') && word.size() > 1 && !to_number(word)) {
                give_up(interp, said("'{}' is not an option of {}.", word, Tcl_GetString(objv[0])));
                return false;
            } else
                add_patterns(objv[i]);
        }
        if (const auto bad = broken_expression()) {
            give_up(interp, said("'{}' is not a regular expression.", *bad));
            return false;
        }
        if (patterns.empty() && of.empty()) patterns.push_back({-1, 0, "*"});
        return true;
    }
};

int query(ClientData data, Tcl_Interp* interp, int objc, Tcl_Obj* const objv[]) {
    if (child->too_many()) return give_up(interp, "More commands than the limit of one run.");
    const auto kind = static_cast<ObjectKind>(reinterpret_cast<std::uintptr_t>(data));
    QueryWords words;
    if (!words.read(interp, objc, objv)) return TCL_ERROR;
    const auto& [options, quiet, patterns, of] = words;
    Tcl_Obj* result = Tcl_NewListObj(0, nullptr);
    const auto add = [&](std::uint32_t id) { Tcl_ListObjAppendElement(nullptr, result, new_object(kind, id)); };
    for (const auto& element : of)
        if (element.kind >= 0)
            for (const auto id : objects_of(child->netlist, kind, element)) add(id);
    for (const auto& p : patterns) {
        if (p.kind == static_cast<int>(kind)) {
            const auto at = std::find(child->clocks.begin(), child->clocks.end(), p.text);
            add(kind == ObjectKind::clock ? static_cast<std::uint32_t>(at - child->clocks.begin()) : p.id);
            continue;
        }
        const std::string pattern =
            p.kind >= 0 && p.text.empty() ? object_name(child->netlist, static_cast<ObjectKind>(p.kind), p.id) : p.text;
        size_t found = 0;
        if (kind == ObjectKind::clock) {
            const NamePattern matches(pattern, options);
            for (std::uint32_t i = 0; i < child->clocks.size(); ++i)
                if (matches(child->clocks[i])) {
                    add(i);
                    ++found;
                }
        } else {
            const auto ids = find_objects(child->netlist, child->index, kind, pattern, options);
            for (const auto id : ids) add(id);
            found = ids.size();
        }
        if (found == 0 && !quiet) {
            // An expression is near to no name.
            const bool guess = ++child->misses <= 20 && !options.regexp;
            const std::string near = !guess ? ""
                                     : kind == ObjectKind::clock
                                         ? nearest(pattern, child->clocks).value_or("")
                                         : nearest_object(child->netlist, kind, pattern, child->verb);
            child->message(Severity::stop, Code::no_match,
                           said("{} finds nothing for '{}'{}{}", Tcl_GetString(objv[0]), pattern,
                                (options.regexp ? " as a regular expression." : "."),
                                (near.empty() || near == pattern ? "" : " Did you mean '" + near + "'?")),
                           0, {Subject::called, pattern, near == pattern ? "" : near});
        }
    }
    Tcl_SetObjResult(interp, result);
    return TCL_OK;
}

/// get_lib_cells and get_lib_pins give plain names, which every command that takes library objects understands.
int library_query(ClientData data, Tcl_Interp* interp, int objc, Tcl_Obj* const objv[]) {
    if (child->too_many()) return give_up(interp, "More commands than the limit of one run.");
    const bool pins = data != nullptr;
    QueryWords words;
    if (!words.read(interp, objc, objv)) return TCL_ERROR;
    const auto& [options, quiet, patterns, of] = words;
    Tcl_Obj* result = Tcl_NewListObj(0, nullptr);
    const auto add = [&](const std::string& name) {
        Tcl_ListObjAppendElement(nullptr, result, Tcl_NewStringObj(name.c_str(), -1));
    };
    for (const auto& element : of)
        for (const auto& name : library_names_of(child->netlist, child->library, element, pins)) add(name);
    for (const auto& p : patterns) {
        const auto names = library_names(child->library, p.text, pins, options);
        for (const auto& name : names) add(name);
        if (names.empty() && !quiet)
            child->message(
                Severity::stop, Code::no_match,
                said("{} finds nothing for '{}' in library {}.", Tcl_GetString(objv[0]), p.text, child->library.name));
    }
    Tcl_SetObjResult(interp, result);
    return TCL_OK;
}

/// all_inputs, all_outputs, all_clocks, all_registers.
int all_of(ClientData data, Tcl_Interp* interp, int objc, Tcl_Obj* const objv[]) {
    const auto which = static_cast<int>(reinterpret_cast<std::uintptr_t>(data));
    const auto& n = child->netlist;
    Tcl_Obj* result = Tcl_NewListObj(0, nullptr);
    const auto add = [&](ObjectKind kind, std::uint32_t id) {
        Tcl_ListObjAppendElement(nullptr, result, new_object(kind, id));
    };
    if (which == 2) {
        for (std::uint32_t i = 0; i < child->clocks.size(); ++i) add(ObjectKind::clock, i);
    } else if (which == 3) {
        RegisterPins wanted = RegisterPins::none;
        for (int i = 1; i < objc; ++i) {
            const std::string word = Tcl_GetString(objv[i]);
            if (word == "-cells" || word == "-no_hierarchy" || word == "-edge_triggered" || word == "-level_sensitive")
                continue;
            wanted = word == "-clock_pins"    ? RegisterPins::clock
                     : word == "-data_pins"   ? RegisterPins::data
                     : word == "-async_pins"  ? RegisterPins::asynchronous
                     : word == "-output_pins" ? RegisterPins::output
                                              : RegisterPins::none;
            if (wanted == RegisterPins::none)
                return give_up(interp, said("'{}' is not an option of all_registers here; -clock_pins, -data_pins, "
                                            "-async_pins and -output_pins are.",
                                            word));
        }
        for (const auto& o : registers(n, child->library, wanted)) add(o.kind, o.id);
    } else {
        for (std::uint32_t i = 0; i < n.ports.size(); ++i)
            if (n.ports[i].direction == Direction::inout || (n.ports[i].direction == Direction::in) == (which == 0))
                add(ObjectKind::port, i);
    }
    Tcl_SetObjResult(interp, result);
    return TCL_OK;
}

std::string outside_of(const std::string& folder, const std::string& path) {
    return lies_in(real_disk().real_path(path), real_disk().real_path(folder))
               ? ""
               : path + ": lies outside the folder of the file that names it; source takes files beside or below it.";
}

int source(ClientData, Tcl_Interp* interp, int objc, Tcl_Obj* const objv[]) {
    if (objc != 2) return give_up(interp, "source takes one file.");
    const std::string name = Tcl_GetString(objv[1]);
    const std::string here = child->paths[static_cast<size_t>(child->now.file)];
    if (here.empty())
        return give_up(interp, "source takes files beside or below the one it stands in; this line stands in none.");
    if (child->nesting > 20) return give_up(interp, "source nests deeper than 20 files.");
    const std::string path = join_path(folder_of(here), name);
    const auto why = child->limits.refuse ? child->limits.refuse(path) : outside_of(folder_of(here), path);
    if (!why.empty()) {
        child->message(Severity::stop, Code::outside, why, 0, {Subject::file, path});
        return TCL_OK;
    }
    auto text = real_disk().read(path, size_t{16} << 20);
    if (!text) return give_up(interp, text.first().sentence());
    const auto file = static_cast<int>(child->files.size());
    child->files.push_back(path);
    child->paths.push_back(path);
    child->out.number(record_file);
    child->out.text(path);
    const CommandSpan back = child->now;
    child->verb = {};  // of a text that goes with the file
    ++child->nesting;
    child->run_text(file, text.value());
    --child->nesting;
    child->now = back;
    return TCL_OK;
}

void Child::run_text(int file, const std::string& given) {
    const auto text = as_tcl(given);
    const auto list = split_commands(text, files[static_cast<size_t>(file)]);
    int line = 1;
    size_t counted = 0;
    for (const auto& span : list.commands) {
        line += static_cast<int>(
            std::count(text.begin() + static_cast<long>(counted), text.begin() + static_cast<long>(span.begin), '\n'));
        counted = span.begin;
        now = {file, span.begin, span.end, line};
        verb = std::string_view(text).substr(span.begin, span.end - span.begin);
        verb = verb.substr(0, verb.find_first_of(" \t\n;"));
        out.number(record_begin);
        this->span();
        out.flush();
        if (Tcl_EvalEx(interp, text.data() + span.begin, static_cast<int>(span.end - span.begin), TCL_EVAL_GLOBAL) ==
            TCL_OK)
            continue;
        now = {file, span.begin, span.end, line};
        message(Severity::stop, Code::tcl,
                std::string(Tcl_GetStringResult(interp)) +
                    (std::strchr(".?", Tcl_GetStringResult(interp)[0]
                                           ? Tcl_GetStringResult(interp)[std::strlen(Tcl_GetStringResult(interp)) - 1]
                                           : '.')
                         ? ""
                         : "."),
                line + std::max(0, Tcl_GetErrorLine(interp) - 1));
    }
    if (list.trouble) {
        now = {file, text.size(), text.size(), list.trouble->line};
        message(Severity::stop, Code::syntax, list.trouble->text);
    }
}

size_t address_space() {
    size_t pages = 0;
    if (FILE* f = std::fopen("/proc/self/statm", "r")) {
        if (std::fscanf(f, "%zu", &pages) != 1) pages = 0;
        std::fclose(f);
    }
    return pages * static_cast<size_t>(::sysconf(_SC_PAGESIZE));
}

void cap(int what, size_t value) {
    const rlimit limit{value, value};
    ::setrlimit(static_cast<__rlimit_resource>(what), &limit);
}

[[noreturn]] void run_child(int fd, const std::vector<Script>& scripts, const Netlist& netlist,
                            const NetlistIndex& index, const Library& library, const RunLimits& limits) {
    end_as_ever();
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);  // nobody reads what an orphan writes
    const int nowhere = ::open("/dev/null", O_RDWR);
    for (const int standard : {0, 1, 2}) ::dup2(nowhere, standard);
    cap(RLIMIT_CORE, 0);
    cap(RLIMIT_CPU, static_cast<size_t>(limits.seconds) + 1);
    cap(RLIMIT_AS, address_space() + (limits.megabytes << 20));
    Child state{netlist, index, library, limits, Writer(fd)};
    child = &state;
    Tcl_FindExecutable(nullptr);
    Tcl_Interp* interp = state.interp = Tcl_CreateInterp();
    Tcl_MakeSafe(interp);
    for (const char* name : {"after", "vwait", "update", "interp", "encoding", "tell", "seek", "read", "gets", "eof",
                             "fblocked", "fcopy", "fileevent", "flush", "close"})
        Tcl_DeleteCommand(interp, name);
    for (const auto& row : commands())
        Tcl_CreateObjCommand(interp, row.name, command, const_cast<char*>(row.name), nullptr);
    const std::array<std::pair<const char*, ObjectKind>, 5> queries{{{"get_ports", ObjectKind::port},
                                                                     {"get_pins", ObjectKind::pin},
                                                                     {"get_cells", ObjectKind::cell},
                                                                     {"get_nets", ObjectKind::net},
                                                                     {"get_clocks", ObjectKind::clock}}};
    for (const auto& [name, kind] : queries)
        Tcl_CreateObjCommand(interp, name, query, reinterpret_cast<ClientData>(static_cast<std::uintptr_t>(kind)),
                             nullptr);
    Tcl_CreateObjCommand(interp, "get_lib_cells", library_query, nullptr, nullptr);
    Tcl_CreateObjCommand(interp, "get_lib_pins", library_query, reinterpret_cast<ClientData>(1), nullptr);
    const std::array<const char*, 4> all{"all_inputs", "all_outputs", "all_clocks", "all_registers"};
    for (std::uintptr_t i = 0; i < all.size(); ++i)
        Tcl_CreateObjCommand(interp, all[i], all_of, reinterpret_cast<ClientData>(i), nullptr);
    Tcl_CreateObjCommand(interp, "source", source, nullptr, nullptr);
    Tcl_CreateObjCommand(interp, "unknown", unknown, nullptr, nullptr);
    for (const auto& script : scripts) {
        state.files.push_back(script.file);
        state.paths.push_back(script.path);
    }
    for (size_t i = 0; i < scripts.size(); ++i) state.run_text(static_cast<int>(i), scripts[i].text);
    state.out.number(record_done);
    state.out.flush();
    _exit(0);
}

// ---- the parent
// -------------------------------------------------------------------------------------------------------

enum class Ending { done, time, size, stopped };

Ending collect(int fd, std::string& data, const RunLimits& limits, const std::stop_token& stop) {
    using Clock = std::chrono::steady_clock;
    const auto deadline = Clock::now() + std::chrono::duration<double>(limits.seconds);
    std::vector<char> buffer(1 << 18);
    for (;;) {
        if (stop.stop_requested()) return Ending::stopped;
        if (Clock::now() > deadline) return Ending::time;
        pollfd p{fd, POLLIN, 0};
        const int ready = ::poll(&p, 1, 20);
        if (ready <= 0) continue;
        const auto n = ::read(fd, buffer.data(), buffer.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return Ending::done;
        data.append(buffer.data(), static_cast<size_t>(n));
        if (data.size() > (limits.result_megabytes << 20)) return Ending::size;
    }
}

}  // namespace

RunResult run_scripts(const std::vector<Script>& scripts, const Netlist& netlist, const NetlistIndex& index,
                      const Library& library, const RunLimits& limits, std::stop_token stop) {
    static std::mutex one_at_a_time;  // the child must never be born while another thread is inside Tcl
    const std::lock_guard lock(one_at_a_time);
    RunResult result;
    for (const auto& script : scripts) result.files.push_back(script.file);
    int ends[2];
    const auto trouble = [&](const CommandSpan& at, const std::string& text) {
        Call call;
        call.span = at;
        call.message = {
            Severity::stop, Code::run, text,
            static_cast<size_t>(at.file) < result.files.size() ? result.files[static_cast<size_t>(at.file)] : "",
            at.line};
        result.calls.push_back(std::move(call));
    };
    if (::pipe2(ends, O_CLOEXEC) != 0) {
        trouble({}, said("The constraints could not be run: {}.", std::strerror(errno)));
        return result;
    }
    const pid_t pid = ::fork();
    if (pid == 0) {
        ::close(ends[0]);
        run_child(ends[1], scripts, netlist, index, library, limits);
    }
    ::close(ends[1]);
    std::string data;
    const auto ending = pid < 0 ? Ending::stopped : collect(ends[0], data, limits, stop);
    ::close(ends[0]);
    if (pid > 0) {
        if (ending != Ending::done) ::kill(pid, SIGKILL);
        while (::waitpid(pid, nullptr, 0) < 0 && errno == EINTR) {
        }
    }
    CommandSpan last;
    if (decode(data, result, last)) return result;
    if (ending == Ending::time)
        trouble(last, said("This command did not end within {} s and was stopped; what follows it was not read.",
                           shortest(limits.seconds)));
    else if (ending == Ending::size)
        trouble(last, "This command gives more than can be taken in; it was stopped.");
    else if (ending == Ending::done)
        trouble(last,
                "This command asked for more time or memory than a constraint file may have and was stopped; what "
                "follows it was not read.");
    else
        trouble(last, "The run was cancelled here.");
    return result;
}

}  // namespace kp::sdc
