#pragma once

#include <fmt/format.h>
#include <unistd.h>

#include <chrono>
#include <cstdio>
#include <mutex>
#include <string>

namespace cursimeter::tool {

/// How far a long command has come: one line that is written over, on a terminal only and not with --quiet. It is gone at the
/// end. May be told from several threads.
class Progress {
  public:
    explicit Progress(bool quiet) : shows_(!quiet && isatty(STDERR_FILENO) == 1) {}
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;
    ~Progress() { clear(); }

    /// At most five times a second.
    void tell(const std::string& line) {
        const std::lock_guard lock(mutex_);
        const Clock::time_point now = Clock::now();
        if (!shows_ || now - last_ < std::chrono::milliseconds(200)) {
            return;
        }
        last_ = now;
        fmt::print(stderr, "\r{:<{}}", line.substr(0, most), most);
        std::fflush(stderr);
        dirty_ = true;
    }
    /// "12 of 400 charts"
    void count(std::size_t done, std::size_t all, const char* what) {
        tell(fmt::format("{} of {} {}", done, all, what));
    }
    /// Before anything else is written to the terminal.
    void clear() {
        const std::lock_guard lock(mutex_);
        if (dirty_) {
            fmt::print(stderr, "\r{:{}}\r", "", most);
            std::fflush(stderr);
            dirty_ = false;
        }
    }

  private:
    using Clock = std::chrono::steady_clock;
    static constexpr std::size_t most = 70;  ///< columns
    std::mutex mutex_;
    Clock::time_point last_{};  // the first line comes at once
    bool shows_, dirty_ = false;
};

}  // namespace cursimeter::tool
