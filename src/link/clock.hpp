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
        before_ = now_;
        now_ = std::max(now_, time.value - first_);
    }
    [[nodiscard]] bool told() const { return told_; }
    [[nodiscard]] double now() const { return now_; }
    /// What was told before that: what has come since then may have waited as long.
    [[nodiscard]] double before() const { return before_; }
    /// A time of it as the program counts.
    [[nodiscard]] Seconds outside(double time) const { return Seconds{first_ + time}; }

  private:
    bool told_ = false;
    double first_ = 0.0, now_ = 0.0, before_ = 0.0;
};

}  // namespace cursimeter::link
