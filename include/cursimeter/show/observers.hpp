#pragma once

#include <array>
#include <cstddef>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>

namespace cursimeter {

/// Calls functions with the events of each tick, in their order; for those who prefer that to reading the
/// report. A value of fixed size: nothing is allocated. Whatever the context points to must outlive it.
class Observers {
  public:
    using Call = void (*)(void* context, const Chart& chart, const Runner& runner, const Event& event);
    static constexpr std::size_t most = 16;
    /// Returns false if there is no place left; then nothing has changed.
    bool add(EventKind kind, Call call, void* context);
    /// Takes away what was added with this call and context. Returns how many there were.
    std::size_t remove(Call call, void* context);
    /// After a tick: every event in order of time, to every observer of its kind in the order of adding.
    void tell(const Chart& chart, const Runner& runner, const Report& report) const;

  private:
    struct Entry {
        EventKind kind = EventKind::left;
        Call call = nullptr;
        void* context = nullptr;
    };
    std::array<Entry, most> entries_{};
    std::size_t count_ = 0;
};

}  // namespace cursimeter
