// SPDX-License-Identifier: GPL-3.0-or-later
// The thread starts with the first job. A job that was asked to stop still counts as running until it returns; the next
// one waits.
#include "core/session/jobs.hpp"

#include <algorithm>

namespace kp {

Jobs::~Jobs() {
    {
        const std::lock_guard guard(lock_);
        ended_ = true;
        waiting_.clear();
        if (running_stop_) running_stop_->request_stop();
    }
    come_.notify_all();
    if (thread_.joinable()) thread_.join();
}

/// With the lock held.
void Jobs::drop(const std::string& kind) {
    std::erase_if(waiting_, [&](const Job& j) { return j.kind == kind; });
    if (running_stop_ && running_kind_ == kind) running_stop_->request_stop();
}

void Jobs::start(const std::string& kind, Work work) {
    {
        const std::lock_guard guard(lock_);
        if (ended_) return;
        drop(kind);
        waiting_.push_back({kind, std::move(work), {}});
        if (!thread_.joinable()) thread_ = std::thread([this] { run(); });
    }
    come_.notify_one();
}

void Jobs::stop(const std::string& kind) {
    const std::lock_guard guard(lock_);
    drop(kind);
}

bool Jobs::busy(const std::string& kind) const {
    const std::lock_guard guard(lock_);
    if (running_stop_ && running_kind_ == kind && !running_stop_->stop_requested()) return true;
    return std::any_of(waiting_.begin(), waiting_.end(), [&](const Job& j) { return j.kind == kind; });
}

bool Jobs::idle() const {
    const std::lock_guard guard(lock_);
    return waiting_.empty() && !running_stop_;
}

void Jobs::run() {
    std::unique_lock guard(lock_);
    while (true) {
        come_.wait(guard, [&] { return ended_ || !waiting_.empty(); });
        if (ended_) return;
        auto job = std::move(waiting_.front());
        waiting_.pop_front();
        running_kind_ = job.kind;
        running_stop_ = job.stop;
        guard.unlock();
        job.work(job.stop.get_token());
        job.work = nullptr;  // what it held goes before the next one starts
        guard.lock();
        running_stop_.reset();
    }
}

}  // namespace kp
