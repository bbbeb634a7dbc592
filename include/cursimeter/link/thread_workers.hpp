#pragma once

#include <algorithm>
#include <atomic>
#include <condition_variable>
#include <cstdint>
#include <cursimeter/link/workers.hpp>
#include <mutex>
#include <thread>
#include <vector>

namespace cursimeter::link {

/// Workers on threads of their own, for programs that have none. The caller of `run` works, too. Between two jobs
/// the threads sleep. One `run` at a time. Nothing in the library includes this: it needs threads.
class ThreadWorkers final : public Workers {
  public:
    /// `count` with the caller's, 1 or more; 0: as many as there are processors.
    explicit ThreadWorkers(std::size_t count = 0)
        : count_(count != 0 ? count : std::max(1U, std::thread::hardware_concurrency())) {
        for (std::size_t i = 1; i < count_; ++i) {
            threads_.emplace_back([this] { work(); });
        }
    }
    ~ThreadWorkers() override {
        {
            const std::lock_guard lock(mutex_);
            ends_ = true;
        }
        begins_.notify_all();
        for (std::thread& thread : threads_) {
            thread.join();
        }
    }
    ThreadWorkers(const ThreadWorkers&) = delete;
    ThreadWorkers& operator=(const ThreadWorkers&) = delete;

    [[nodiscard]] std::size_t count() const noexcept override { return count_; }
    void run(std::size_t pieces, Job& job) noexcept override {
        {
            const std::lock_guard lock(mutex_);
            job_ = &job;
            pieces_ = pieces;
            next_ = 0;
            working_ = threads_.size();
            ++round_;
        }
        begins_.notify_all();
        take_pieces(job, pieces);
        std::unique_lock lock(mutex_);
        done_.wait(lock, [this] { return working_ == 0; });
    }

  private:
    void take_pieces(Job& job, std::size_t pieces) {
        for (std::size_t i = next_++; i < pieces; i = next_++) {
            job.piece(i);
        }
    }
    void work() {
        std::uint64_t round = 0;
        for (;;) {
            Job* job = nullptr;
            std::size_t pieces = 0;
            {
                std::unique_lock lock(mutex_);
                begins_.wait(lock, [&] { return ends_ || round_ != round; });
                if (ends_) {
                    return;
                }
                round = round_;
                job = job_;
                pieces = pieces_;
            }
            take_pieces(*job, pieces);
            const std::lock_guard lock(mutex_);
            if (--working_ == 0) {
                done_.notify_one();
            }
        }
    }

    std::size_t count_;
    std::vector<std::thread> threads_;
    std::mutex mutex_;
    std::condition_variable begins_, done_;
    Job* job_ = nullptr;
    std::size_t pieces_ = 0, working_ = 0;
    std::atomic<std::size_t> next_{0};
    std::uint64_t round_ = 0;
    bool ends_ = false;
};

}  // namespace cursimeter::link
