#pragma once

#include <algorithm>
#include <atomic>
#include <thread>
#include <vector>

namespace cursimeter::survey {

/// How many threads a plan means: 0 stands for as many as there are cores.
[[nodiscard]] inline unsigned threads_of(unsigned wanted) {
    return wanted != 0 ? wanted : std::max(1U, std::thread::hardware_concurrency());
}

/// Does `task(worker, index)` for each index below `count`, on so many threads, of which the caller's is the first. Which worker does
/// what is left to chance, so results go by the index alone. Tasks do not throw.
template <class Task>
void work_in_parallel(std::size_t count, unsigned threads, Task&& task) {
    std::atomic<std::size_t> next{0};
    const auto work = [&](std::size_t worker) {
        for (std::size_t i = next++; i < count; i = next++) {
            task(worker, i);
        }
    };
    std::vector<std::thread> workers;
    for (std::size_t i = 1; i < std::min<std::size_t>(threads, count); ++i) {
        workers.emplace_back(work, i);
    }
    work(0);
    for (std::thread& worker : workers) {
        worker.join();
    }
}

}  // namespace cursimeter::survey
