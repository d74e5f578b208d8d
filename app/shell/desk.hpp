// SPDX-License-Identifier: GPL-3.0-or-later
// What all stations share: the open session, the one selection with its history, and the news of changes.
#pragma once

#include "app/shell/fact_sheet.hpp"
#include "app/shell/news.hpp"
#include "app/shell/places.hpp"
#include "app/shell/services.hpp"
#include "core/session/session.hpp"

#include <QFileSystemWatcher>
#include <QObject>
#include <QPointer>
#include <QString>
#include <QStringList>
#include <QTimer>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kp::app {

/// An object the user looks at: "port", "bus", "pin", "bank", "terminal", "part", "clock", "line", "link", "endpoint"
/// (its check and its name), "finding" (its identity), "cell"; or several of one kind, the first in front.
struct Selection {
    QString kind, name;
    QStringList also{};
    /// What is known of it, where the session does not know it, such as a cell of a build; null: ask the session.
    std::shared_ptr<const FactSheet> facts{};
    bool operator==(const Selection&) const = default;
    [[nodiscard]] bool empty() const { return name.isEmpty(); }
    [[nodiscard]] bool has(const QString& of_kind, const QString& one) const {
        return kind == of_kind && (name == one || also.contains(one));
    }
    /// With one more, or without it when it is there.
    [[nodiscard]] Selection toggled(const QString& of_kind, const QString& one) const;
    /// With one more of the same kind; back by one when it is the last but one.
    [[nodiscard]] Selection extended(const QString& one) const;
};

class Desk : public QObject {
    Q_OBJECT
public:
    explicit Desk(QObject* parent = nullptr);
    ~Desk() override;

    /// Opens a project. On an error nothing changes and the sentence is said. A path is bytes; a name need not be
    /// Unicode.
    bool open(const std::string& path, bool take_over = false);
    bool open(const QString& path) { return open(path.toStdString()); }
    void serve(Services services) { services_ = std::move(services); }
    /// See Services.
    void choose(const QString& prompt, std::vector<Chooser::Item> items, Services::Typed typed = {},
                const QString& begin_with = {}) const {
        services_.choose(prompt, std::move(items), std::move(typed), begin_with);
    }
    void run_command(const QString& id) const { services_.run(id); }
    /// The same on a thread of its own; opening() tells that it is under way, and opened() or said() how it ended.
    void open_later(const std::string& path, bool take_over = false);
    /// Forgets about the project that is being opened.
    void give_up_opening();
    [[nodiscard]] bool opening() const { return opening_ != nullptr; }
    /// True while a thread still reads a project that nobody waits for.
    [[nodiscard]] static bool still_reading();
    void close();
    /// Files outside its folder that a project names and that this user has not allowed it, when opening failed for
    /// that.
    [[nodiscard]] const std::vector<std::string>& outside() const { return outside_; }
    /// Remembers that they may be read, and opens the project.
    void allow_outside();
    /// Remembers paths for the open project.
    bool allow(const std::vector<std::string>& paths);
    /// Opens the project again as its owner, although another program works on it.
    void take_over();
    void take_offer();
    void leave_offer();
    /// Takes a text for a file that another program changed too.
    bool resolve(const Conflict& conflict, const std::string& text);

    /// Whoever holds text that was typed and is not an edit yet hands in how to make it one.
    void add_typist(std::function<void()> commit) { typists_.push_back(std::move(commit)); }
    /// What is typed becomes an edit; called before anything else happens.
    void settle();
    [[nodiscard]] bool has_session() const { return session_ != nullptr; }
    [[nodiscard]] Session& session() { return *session_; }
    [[nodiscard]] const Session& session() const { return *session_; }

    /// Applies an edit, tells everybody, and starts the analysis where one is needed. False (and a sentence) when it
    /// cannot be applied. An edit of inputs is read beside the window first: true then means that it is on its way.
    /// `then` runs when it was taken, `otherwise` when it was refused.
    bool apply(const Edit& edit, std::function<void()> then = {}, std::function<void()> otherwise = {});
    /// Reads all inputs again beside the window; `then` gets what is different.
    void reread(QObject* receiver, std::function<void(Rereading)> then);
    /// True while an edit of inputs is being read.
    [[nodiscard]] bool preparing() const { return preparing_; }
    /// Takes a rereading of the inputs over, with the renames that were accepted.
    bool accept(const Rereading& reading, const std::vector<PortRename>& renames,
                const std::vector<std::string>& constraints);
    /// Inputs and constraint files that changed on disk since they were read.
    [[nodiscard]] std::vector<std::string> changed_on_disk() const;
    void undo();
    void redo();
    bool save();
    /// Starts what is stale; all of it when `everything`.
    void analyse(bool everything = false);
    /// Runs `then` when the analysis is of the present state: now, or once when it has become so.
    void when_analysed(std::function<void()> then);
    /// What a chip at the cable answered when it was asked who it is; for rule P01, until the project is closed.
    void note_idcode(std::uint32_t idcode);

    /// Work on a snapshot beside the window. `done` gets the result on the window's thread, unless `receiver` has gone,
    /// the project was closed, or work of the same kind was started meanwhile.
    template <class T>
    void later(const char* kind, QObject* receiver,
               std::function<T(const std::shared_ptr<const Snapshot>&, const std::stop_token&)> work,
               std::function<void(T)> done);
    /// Drops the work of a kind, and its answer.
    void forget(const char* kind);

    void select(const Selection& selection);
    [[nodiscard]] const Selection& selection() const { return selection_; }
    /// The ports that are selected, in the order of the design: one, several, or the bits of a bus; those on a selected
    /// pin.
    [[nodiscard]] std::vector<std::string> chosen_ports() const;
    void back();
    void forward();
    [[nodiscard]] bool can_back() const { return at_ > 0; }
    [[nodiscard]] bool can_forward() const { return at_ + 1 < history_.size(); }

    /// Tells everybody what changed; `what` as in News.
    void tell(unsigned what);
    void say(const QString& sentence, bool trouble = false) { emit said(sentence, trouble); }
    /// Something to decide that can wait: it stands in the window until `run` was chosen or it was put away.
    struct Question {
        QString sentence, way;
        std::function<void()> run;
        QString other_way = {};  ///< a second way out, may be empty
        std::function<void()> other_run = {};
    };
    void ask(Question question);
    [[nodiscard]] const std::optional<Question>& question() const { return question_; }
    enum class Answer { no, yes, other };
    void answer(Answer answer);
    void answer(bool yes) { answer(yes ? Answer::yes : Answer::no); }
    /// Asks the window to show a station.
    void go_to(Place place) { emit station_wanted(number_of(place)); }

signals:
    void opened();
    void disk_changed();                      ///< a watched file is other than it was
    void changed(const kp::app::News& news);  ///< the project changed, or what follows from it
    void analysed();                          ///< the analysis is of the present state
    void selected(const kp::app::Selection& selection);
    void said(const QString& sentence, bool trouble);
    void station_wanted(int station);
    void opening_changed();
    void asked();
    void conflicts_found();  ///< a save met files that another program changed

private:
    /// A project on its way in; the thread that reads it holds it too.
    struct Opening;
    bool let_go();
    void finish_analysis();
    void watch();
    /// What runs when an edit was taken, and when it was refused.
    struct After {
        std::function<void()> then = {}, otherwise = {};
    };
    bool took(const Status& status, const Edit& edit, const After& after);
    bool waits(std::function<void()> then);
    enum class Step { apply, undo, redo };
    Status step(Step which, const Edit& edit, Prepared prepared);
    void prepare_then(Step which, const Edit& edit, After after);
    bool take_in(Result<std::unique_ptr<Session>> session, const std::string& path);
    [[nodiscard]] static OpenOptions options(bool take_over);
    Services services_;
    std::unique_ptr<Session> session_;
    std::shared_ptr<Opening> opening_;
    std::string refused_path_;  ///< of the project that outside_ speaks of
    std::vector<std::string> outside_;
    std::vector<std::function<void()>> typists_;
    std::optional<Question> question_;
    bool settling_ = false, preparing_ = false;
    std::vector<std::function<void()>> when_analysed_, after_prepare_;
    std::map<std::string, unsigned long long> tickets_;  ///< of the newest work of each kind
    Selection selection_;
    std::vector<Selection> history_;
    size_t at_ = 0;
    QFileSystemWatcher watcher_;
    QTimer told_;       ///< several changes of one file are told once
    QTimer note_soon_;  ///< a run is logged when edits pause
};

template <class T>
void Desk::later(const char* kind, QObject* receiver,
                 std::function<T(const std::shared_ptr<const Snapshot>&, const std::stop_token&)> work,
                 std::function<void(T)> done) {
    if (!session_) return;
    const auto ticket = ++tickets_[kind];
    const QPointer<QObject> guard(receiver);
    session_->jobs().start(kind, [this, kind = std::string(kind), ticket, guard, work = std::move(work),
                                  done = std::move(done), now = session_->snapshot()](const std::stop_token& stop) {
        auto result = std::make_shared<T>(work(now, stop));
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, kind, ticket, guard, done, result] {
            if (guard && session_ && ticket == tickets_[kind]) done(std::move(*result));
        });
    });
}

}  // namespace kp::app
