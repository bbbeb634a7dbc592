#pragma once

#include <array>
#include <cstddef>

namespace cursimeter::link {

/// The time of the server that is shown for others. It is counted in ticks, and so is the client's own clock.
class ShownTime {
  public:
    explicit ShownTime(double tick_rate) : tick_rate_(tick_rate) {}
    void start() {
        started_ = false;
        count_ = 0;
    }
    /// A newer snapshot than all before came at `time`; `last` is the newest before it.
    void observe(double last, double newest, double time);
    /// A newer one came, nobody knows when: this program stood still.
    void observe_late(double newest);
    /// It is `time` now.
    void go_on(double time);
    [[nodiscard]] bool started() const { return started_; }
    [[nodiscard]] double now() const { return now_; }

  private:
    [[nodiscard]] double planned() const;
    static constexpr std::size_t window = 64;
    double tick_rate_;
    bool started_ = false;
    double now_ = 0.0, time_ = 0.0;
    std::array<double, window> arrivals_{};  ///< how far ahead of the clock the server was known to be
    std::size_t count_ = 0;
};

}  // namespace cursimeter::link
