// SPDX-License-Identifier: GPL-3.0-or-later
// A pattern is compared part by part with a table (as regular expressions are by their automaton), so that many stars
// cost their number times the length of a path and no more.
#include "core/inputs/source_list.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <set>
#include <span>

namespace kp {

namespace {

constexpr size_t most_files = 20'000, deepest = 32;

class ListExpander {
public:
    ListExpander(Disk& disk, const std::string& folder) : disk_(disk), folder_(folder) {}
    Result<std::vector<std::string>> run() {
        if (auto status = walk("", 0); !status) return status.messages();
        std::sort(paths_.begin(), paths_.end());
        return Result<std::vector<std::string>>(std::move(paths_), std::move(notes_));
    }

private:
    Status walk(const std::string& below, size_t level) {
        const auto here = below.empty() ? folder_ : join_path(folder_, below);
        if (level > deepest) {
            notes_.push_back(
                {Severity::caution, Code::folder, "What lies deeper than 32 folders is passed over.", here});
            return Done{};
        }
        for (const auto& full : disk_.list(here, "")) {
            const auto name = file_name_of(full);
            if (name.starts_with('.') || name.ends_with('~') || disk_.kind(full) != FileKind::file) continue;
            if (paths_.size() >= most_files)
                return Message{Severity::stop, Code::folder,
                               "There are more than 20,000 files in this folder; take one of the folders in it.",
                               folder_};
            paths_.push_back(below.empty() ? name : below + "/" + name);
        }
        for (const auto& name : disk_.folders(here)) {
            if (name.starts_with('.')) continue;
            if (auto status = walk(below.empty() ? name : below + "/" + name, level + 1); !status) return status;
        }
        return Done{};
    }

    Disk& disk_;
    const std::string& folder_;
    std::vector<std::string> paths_;
    std::vector<Message> notes_;
};

bool path_matches(std::span<const std::string_view> path, std::span<const std::string_view> pattern) {
    // By rows of a table, so that many ** cost no more than their number times the length of the path.
    std::vector<bool> now(path.size() + 1, false);
    now[0] = true;
    for (const auto part : pattern) {
        std::vector<bool> next(path.size() + 1, false);
        for (size_t i = 0; i <= path.size(); ++i) {
            if (part == "**")
                next[i] = now[i] || (i > 0 && next[i - 1]);
            else
                next[i] = i > 0 && now[i - 1] && glob_match(part, path[i - 1]);
        }
        now = std::move(next);
    }
    return now.back();
}

class Expansion {
public:
    Expansion(Disk& disk, const std::string& folder) : disk_(disk), folder_(folder) {}

    Status add(const std::string& path, size_t level) {
        if (path.ends_with(".f")) return list(path, level);
        if (is_pattern(path)) return pattern(path);
        put(path);
        return Done{};
    }
    SourceFiles out;

private:
    void put(const std::string& path) {
        if (seen_.insert(path).second) out.files.push_back(path);
    }

    Status pattern(const std::string& path) {
        // What stands in front of the first star is a folder; nothing else has to be looked at.
        const auto star = path.find_first_of("*?");
        const auto slash = path.rfind('/', star);
        const auto base = slash == std::string::npos ? std::string() : path.substr(0, slash);
        const auto root = base.empty() && path.starts_with('/') ? std::string("/")
                          : base.empty()                        ? folder_
                                                                : join_path(folder_, base);
        auto below = files_below(disk_, root);
        if (!below) return below.messages();
        out.messages.insert(out.messages.end(), below.messages().begin(), below.messages().end());
        const auto found = matching(below.value(), path.substr(slash == std::string::npos ? 0 : slash + 1));
        if (found.empty())
            return Message{Severity::stop, Code::source, said("The pattern '{}' matches no file.", path)};
        for (const auto& one : found) put(base.empty() ? one : base + "/" + one);
        return Done{};
    }

    Status list(const std::string& path, size_t level) {
        if (level > 16) return Message{Severity::stop, Code::source, "Lists of files name each other.", path};
        // What a list names the first time is all there is to it; read once more, a few of them would take for ever.
        const auto real = disk_.real_path(join_path(folder_, path));
        if (open_.contains(real)) return Message{Severity::stop, Code::source, "Lists of files name each other.", path};
        if (!read_.insert(real).second) return Done{};
        open_.insert(real);
        auto status = list_once(path, level);
        open_.erase(real);
        return status;
    }

    Status list_once(const std::string& path, size_t level) {
        auto text = disk_.read(join_path(folder_, path), size_t{1} << 20);
        if (!text) return text.messages();
        const auto read = read_file_list(text.value(), path);
        out.lists.push_back(path);
        out.messages.insert(out.messages.end(), read.messages.begin(), read.messages.end());
        out.folders.insert(out.folders.end(), read.folders.begin(), read.folders.end());
        for (const auto& [name, value] : read.defines) out.defines.try_emplace(name, value);
        for (const auto& one : read.files)
            if (auto status = add(one, level + 1); !status) return status;
        return Done{};
    }

    Disk& disk_;
    const std::string& folder_;
    std::set<std::string> seen_, open_, read_;  ///< files; lists on the way here, and all that were read
};

}  // namespace

Result<std::vector<std::string>> files_below(Disk& disk, const std::string& folder) {
    return ListExpander(disk, folder).run();
}

Result<SourceFiles> expand_sources(Disk& disk, const std::string& folder, const std::vector<std::string>& sources) {
    Expansion expansion(disk, folder);
    for (const auto& path : sources)
        if (auto status = expansion.add(path, 0); !status) return status.messages();
    return std::move(expansion.out);
}

FileList read_file_list(std::string_view text, const std::string& file) {
    FileList out;
    const auto folder = folder_of(file);
    const auto place = [&](std::string_view path) {
        return path.starts_with('/') || folder.empty() || folder == "." ? std::string(path)
                                                                        : join_path(folder, std::string(path));
    };
    int number = 0;
    for (auto line : split(without_mark(text), '\n')) {
        ++number;
        for (const std::string_view mark : {"//", "#"})
            if (const auto at = line.find(mark); at != std::string_view::npos) line = line.substr(0, at);
        line = trim(line);
        if (line.empty()) continue;
        if (line.find('$') != std::string_view::npos) {
            out.messages.push_back({Severity::caution, Code::list,
                                    said("'{}' holds a variable, which is not replaced; write the path.", line), file,
                                    number});
            continue;
        }
        if (line.starts_with("+incdir+")) {
            for (const auto one : split(line.substr(8), '+'))
                if (!one.empty()) out.folders.push_back(place(one));
        } else if (line.starts_with("+define+")) {
            for (const auto one : split(line.substr(8), '+')) {
                const auto equals = one.find('=');
                if (!one.empty())
                    out.defines[std::string(one.substr(0, equals))] =
                        equals == std::string_view::npos ? "1" : std::string(one.substr(equals + 1));
            }
        } else if (line.starts_with("-f ") || line.starts_with("-F ")) {
            out.files.push_back(place(trim(line.substr(3))));
        } else if (line.starts_with("-y") || line.starts_with("-v")) {
            const auto path = trim(line.substr(2));
            if (!path.empty()) (line[1] == 'y' ? out.folders : out.files).push_back(place(path));
        } else if (line.starts_with('-') || line.starts_with('+')) {
            out.messages.push_back(
                {Severity::note, Code::list, said("'{}' says nothing about files.", line), file, number});
        } else {
            out.files.push_back(place(line));
        }
    }
    return out;
}

std::vector<std::string> matching(const std::vector<std::string>& paths, std::string_view pattern) {
    std::vector<std::string> out;
    const auto wanted = split(pattern, '/');
    for (const auto& path : paths)
        if (path_matches(split(path, '/'), wanted)) out.push_back(path);
    std::sort(out.begin(), out.end());
    return out;
}

std::optional<Message> brought_from_outside(Disk& disk, const std::string& folder,
                                            const std::vector<std::string>& sources, const SourceFiles& expanded,
                                            const Reach& reach) {
    const std::set<std::string> named(sources.begin(), sources.end());
    for (const auto& path : expanded.files)
        if (const auto full = join_path(folder, path); !named.contains(path) && disk.exists(full))
            if (auto why = reach.refuse(full)) return why;
    return std::nullopt;
}

Result<SourceFiles> sources_within(Disk& disk, const std::string& folder, const std::vector<std::string>& sources,
                                   const Reach& reach) {
    auto expanded = expand_sources(disk, folder, sources);
    if (!expanded) return expanded.messages();
    auto out = expanded.take();
    if (auto why = brought_from_outside(disk, folder, sources, out, reach)) return std::move(*why);
    for (auto* list : {&out.files, &out.folders})
        for (auto& path : *list) path = join_path(folder, path);
    return out;
}

}  // namespace kp
