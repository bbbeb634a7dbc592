#pragma once

#include <cstddef>

namespace cursimeter::link {

/// Work in pieces that do not know of one another.
class Job {
  public:
    virtual ~Job() = default;
    virtual void piece(std::size_t index) noexcept = 0;
};

/// Something that does such work on several threads: a game's own, or `ThreadWorkers` (thread_workers.hpp).
class Workers {
  public:
    virtual ~Workers() = default;
    /// How many pieces can be worked at at the same time, 1 or more.
    [[nodiscard]] virtual std::size_t count() const noexcept = 0;
    /// Does pieces 0 to below `pieces`, each once, in any order, on any threads, and returns when all are done.
    virtual void run(std::size_t pieces, Job& job) noexcept = 0;
};

}  // namespace cursimeter::link
