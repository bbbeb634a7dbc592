#pragma once

#include <algorithm>
#include <cmath>
#include <cursimeter/units.hpp>

namespace cursimeter::link {

/// The time as the program around a client or a server tells it, s. It begins at 0, never goes back, and is always a
/// number, whatever is told.
class Clock {
  public:
    void tell(Seconds time) {
        if (!std::isfinite(time.value)) {
            return;
        }
        if (!told_) {
            told_ = true;
            first_ = time.value;
        }
        const double before = now_;
        now_ = std::max(now_, time.value - first_);
        const double gap = now_ - before;
        stood_still_ = gap >= std::max(least_stall, stall_times * usual_gap_);
        usual_gap_ += (std::min(gap, longest_gap) - usual_gap_) * gap_gain;
    }
    [[nodiscard]] bool told() const { return told_; }
    [[nodiscard]] double now() const { return now_; }
    /// Whether the program around has not told the time for much longer than usual. What came meanwhile has waited, nobody
    /// knows how long, and what was due is late: none of it says anything about the network.
    [[nodiscard]] bool stood_still() const { return stood_still_; }
    /// A time of it as the program counts.
    [[nodiscard]] Seconds outside(double time) const { return Seconds{first_ + time}; }

  private:
    static constexpr double least_stall = 0.05, stall_times = 4.0;  ///< s; and times the usual
    static constexpr double longest_gap = 0.25, gap_gain = 1.0 / 32.0;
    bool told_ = false, stood_still_ = false;
    double first_ = 0.0, now_ = 0.0, usual_gap_ = 0.0;  ///< s
};

}  // namespace cursimeter::link
