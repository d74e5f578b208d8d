// SPDX-License-Identifier: GPL-3.0-or-later
// Faults on a disk in memory: the n-th call fails, the disk is full from there on, or the power goes in the middle of
// it.
#include "core/base/memory_disk.hpp"
#include "tests/campaign/campaign.hpp"

#include <algorithm>

namespace kp::campaign {

namespace {

MemoryDisk fresh_disk(const std::string& folder) {
    MemoryDisk disk;
    for (const auto& [name, text] : small_project()) disk.files[folder + "/" + name] = text;
    return disk;
}

OpenOptions options() {
    OpenOptions out;
    out.user = "/user";
    return out;
}

/// A life of one document under faults, told as it goes, so that a loss can be repeated by its seed.
class Life {
public:
    Life(std::uint64_t seed, Figures& figures) : random_(seed), figures_(figures), disk_(fresh_disk(folder_)) {}

    std::string run() {
        if (auto why = open(); !why.empty()) return why;
        promises_.begin(state_of(document_->project()));
        for (int i = 0; i < 30; ++i) {
            arm();
            bool cut = false;
            try {
                step();
            } catch (const PowerCut&) {
                cut = true;
                ++figures_.crashes;
            }
            if (disk_.fail_at > 0 || disk_.full_from > 0) ++figures_.faults;
            disk_.fail_at = disk_.full_from = disk_.crash_at = 0;
            if (!cut && random_() % 5 != 0) continue;
            if (auto why = crash(); !why.empty()) return why + " (step " + std::to_string(i) + ")";
        }
        return {};
    }

private:
    void arm() {
        disk_.calls = 0;
        const int n = 1 + static_cast<int>(random_() % 24);
        disk_.torn = random_() % 9;
        disk_.of = 8;
        switch (random_() % 4) {
            case 0: disk_.fail_at = n; break;
            case 1: disk_.full_from = n; break;
            case 2: disk_.crash_at = n; break;
            default: break;
        }
    }

    void step() {
        const auto what = random_() % 10;
        if (what < 6) {
            const auto edit = random_edit(document_->project(), random_);
            Project then = document_->project();
            if (!kp::apply(then, edit)) return;
            attempt(then, [&] { return document_->apply(edit); });
        } else if (what < 7 && !document_->done().empty()) {
            Project then = document_->project();
            if (!kp::apply(then, document_->undo_edit())) return;
            attempt(then, [&] { return document_->undo(); });
        } else if (what < 8 && !document_->undone().empty()) {
            Project then = document_->project();
            if (!kp::apply(then, document_->undone().back())) return;
            attempt(then, [&] { return document_->redo(); });
        } else {
            attempt(document_->project(), [&] { return document_->save(); });
        }
    }

    template <class Call>
    void attempt(const Project& then, Call call) {
        promises_.attempt(state_of(then));
        const Status status = call();
        if (status)
            promises_.done(!document_->risk());
        else
            promises_.refused();
    }

    /// Everything in memory is gone; sometimes the folder is moved or copied before it is opened again.
    std::string crash() {
        document_.reset();
        disk_.holders.clear();
        if (random_() % 6 == 0) move();
        // Opening can be cut short as well, as often as it likes.
        while (random_() % 3 == 0) {
            disk_.calls = 0;
            disk_.crash_at = 1 + static_cast<int>(random_() % 20);
            try {
                auto again = Document::open(disk_, folder_ + "/p.kpeg", options());
                if (!again) return "does not open: " + again.first().sentence();
            } catch (const PowerCut&) {
                ++figures_.crashes;
            }
            disk_.crash_at = 0;
            disk_.holders.clear();
        }
        return open();
    }

    void move() {
        const std::string next = folder_ == "x" ? "y" : "x";
        std::map<std::string, std::string> files;
        for (auto& [path, text] : disk_.files)
            files[folder_of(path) == folder_ ? next + path.substr(folder_.size()) : path] = text;
        disk_.files = std::move(files);
        folder_ = next;
        ++figures_.moves;
    }

    std::string open() {
        auto opened = Document::open(disk_, folder_ + "/p.kpeg", options());
        ++figures_.openings;
        if (!opened) return "does not open: " + opened.first().sentence();
        document_ = opened.take();
        // Where the user's secret could not be read or written, the journal is not sealed: it is asked about first, and
        // nothing is lost.
        if (document_->offer() && document_->offer()->foreign)
            if (const auto left = document_->take_offer(); !left || left.value() > 0)
                return "an unsealed journal could not be taken";
        const auto now = state_of(document_->project());
        if (document_->offer()) return "a journal of its own was not taken: " + document_->offer()->sentence;
        if (figures_.openings > 0 && started_ && !promises_.allows(now))
            return "a promise is broken; it opens as\n" + now + "\nand was last\n" + promises_.now();
        started_ = true;
        promises_.begin(now);
        return {};
    }

    Random random_;
    Figures& figures_;
    std::string folder_ = "x";
    MemoryDisk disk_;
    std::unique_ptr<Document> document_;
    Promises promises_;
    bool started_ = false;
};

}  // namespace

std::string live_through_faults(std::uint64_t seed, Figures& figures) {
    const auto why = Life(seed, figures).run();
    return why.empty() ? why : "faults, seed " + std::to_string(seed) + ": " + why;
}

/// A journal cut at every length, and with every byte damaged, opens with a state it went through.
std::string torn_tails(std::uint64_t seed, Figures& figures) {
    Random random(seed);
    auto disk = fresh_disk("x");
    std::vector<std::string> states;
    {
        auto document = Document::open(disk, "x/p.kpeg", options()).take();
        states.push_back(state_of(document->project()));
        for (int i = 0; i < 6; ++i) {
            if (!document->apply(random_edit(document->project(), random))) return "an edit was refused";
            states.push_back(state_of(document->project()));
        }
    }
    const auto whole = disk.files["x/p.kpeg.journal"];
    for (size_t n = 0; n <= whole.size(); ++n) {
        for (const bool damage : {false, true}) {
            auto copy = disk;
            auto& journal = copy.files["x/p.kpeg.journal"];
            if (!damage)
                journal.resize(n);
            else if (n < whole.size())
                journal[n] = static_cast<char>(journal[n] ^ 0x11);
            auto opened = Document::open(copy, "x/p.kpeg", options());
            ++figures.tears;
            const auto where = "torn tails, seed " + std::to_string(seed) + ", byte " + std::to_string(n) + ": ";
            if (!opened) return where + "does not open";
            const auto now = state_of(opened.value()->project());
            if (std::find(states.begin(), states.end(), now) == states.end())
                return where + "opens as something it never was";
            // What stands before the tear counts; what is added behind it counts as well.
            const auto more = random_edit(opened.value()->project(), random);
            if (!opened.value()->apply(more)) return where + "an edit was refused";
            const auto then = state_of(opened.value()->project());
            opened.value().reset();
            copy.holders.clear();
            auto again = Document::open(copy, "x/p.kpeg", options());
            if (!again || state_of(again.value()->project()) != then) return where + "an edit behind the tear is lost";
        }
    }
    return {};
}

/// Another program writes while a document is open: neither side's text is ever lost.
std::string outside_edits(std::uint64_t seed, Figures& figures) {
    Random random(seed);
    auto disk = fresh_disk("x");
    const auto where = "outside edits, seed " + std::to_string(seed) + ": ";
    auto document = Document::open(disk, "x/p.kpeg", options()).take();
    for (int i = 0; i < 12; ++i) {
        (void)document->apply(random_edit(document->project(), random));
        if (random() % 3 != 0) continue;
        ++figures.outside;
        const std::string name = random() % 2 ? "a.sdc" : "b.sdc";
        const auto theirs = disk.files["x/" + name] + "# by another hand " + std::to_string(random()) + "\n";
        disk.files["x/" + name] = theirs;
        const auto mine = state_of(document->project());
        const auto both = document->conflicts();
        const auto status = document->save();
        const bool edited = !status && status.first().code == Code::changed;
        if (edited == both.empty() || (!status && !edited)) return where + "save and conflicts() do not agree";
        if (disk.files["x/" + name] != theirs) return where + name + " was written over";
        if (state_of(document->project()) != mine) return where + "a refused save changed the document";
        if (!edited) {
            // Nothing was typed there: it is read again, as Site does.
            const auto& files = document->project().constraints;
            const auto at = std::find_if(files.begin(), files.end(), [&](const SdcFile& f) { return f.path == name; });
            if (!document->apply({"read again", {TextChange{name, 0, at->text, theirs}}}))
                return where + "not read again";
            document->seen({{name, theirs}});
            continue;
        }
        for (const auto& c : both) {
            const auto choice = random() % 3;
            const auto text = choice == 0 ? c.mine : choice == 1 ? c.theirs : c.mine + c.theirs;
            if (auto resolved = document->resolve(c, text); !resolved)
                return where + "not resolved: " + resolved.first().sentence();
        }
        const auto merged = state_of(document->project());
        if (random() % 2) {
            // A crash between the decision and the save.
            document.reset();
            disk.holders.clear();
            document = Document::open(disk, "x/p.kpeg", options()).take();
            if (state_of(document->project()) != merged) return where + "a decision is lost in a crash";
        }
        if (auto saved = document->save(); !saved)
            return where + "not saved after all was decided: " + saved.first().sentence();
        document.reset();
        disk.holders.clear();
        document = Document::open(disk, "x/p.kpeg", options()).take();
        if (state_of(document->project()) != merged) return where + "saved otherwise than decided";
    }
    return {};
}

/// A file that a journal speaks of changes after a crash: nothing is applied unasked, nothing is gone, and what fits
/// can be taken.
std::string changed_after_crash(std::uint64_t seed, Figures& figures) {
    Random random(seed);
    auto disk = fresh_disk("x");
    const auto where = "changed after a crash, seed " + std::to_string(seed) + ": ";
    std::vector<Edit> edits;
    {
        auto document = Document::open(disk, "x/p.kpeg", options()).take();
        for (int i = 0; i < 8; ++i) {
            edits.push_back(random_edit(document->project(), random));
            (void)document->apply(edits.back());
        }
        if (random() % 2) {
            disk.calls = 0;
            disk.fail_at = 1 + static_cast<int>(random() % 12);
            (void)document->save();
            disk.fail_at = 0;
        }
    }
    const auto theirs = disk.files["x/a.sdc"] = "# all new\n";
    ++figures.outside;
    const auto files = disk.files;
    auto look = options();
    look.purpose = OpenTo::look;
    { auto seen = Document::open(disk, "x/p.kpeg", look); }
    if (disk.files != files) return where + "looking wrote something";
    auto document = Document::open(disk, "x/p.kpeg", options()).take();
    if (disk.files["x/a.sdc"] != theirs) return where + "a.sdc was written over";
    if (!document->offer()) return {};
    if (const auto left = document->take_offer(); !left || disk.files["x/a.sdc"] != theirs)
        return where + "a.sdc was written over by taking the offer";
    bool aside = false;
    for (const auto& [path, text] : disk.files) aside = aside || path.find(".aside-") != std::string::npos;
    if (!aside) return where + "the journal is gone";
    // Pegs do not depend on the text: the last one of each port is there.
    std::map<std::string, std::optional<Peg>> pegs;
    for (const auto& e : edits)
        for (const auto& c : e.changes)
            if (const auto* peg = std::get_if<PegChange>(&c)) pegs[peg->port] = peg->after;
    for (const auto& [port, peg] : pegs) {
        const auto at = document->project().pegs.find(port);
        const auto now = at == document->project().pegs.end() ? std::nullopt : std::optional<Peg>(at->second);
        if (now != peg) return where + "the peg of " + port + " is lost";
    }
    return {};
}

}  // namespace kp::campaign
