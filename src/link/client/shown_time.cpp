#include "link/client/shown_time.hpp"

#include <algorithm>
#include <cmath>

namespace cursimeter::link {
namespace {

/// s by which the shown time may be off before it jumps.
constexpr double shown_jumps_from = 0.5;
/// Part of what it is off by that is made good in a tick, and the most that it may run faster or slower.
constexpr double made_good = 0.02, most_made_good = 0.08;
/// Arrivals of the window that may be later than planned for: news that come later still are bridged by the chart.
constexpr std::size_t late_ones = 3;
/// Ticks by which the others are shown later than the latest usual arrival.
constexpr double spare_ticks = 0.25;

}  // namespace

void ShownTime::observe(double last, double newest, double time) {
    if (!started_) {
        started_ = true;
        now_ = std::min(last, newest);
        time_ = time;
    }
    arrivals_[count_++ % window] = last - time;
}

void ShownTime::observe_late(double newest) {
    if (!started_) {
        started_ = true;
        now_ = newest;
    }
}

double ShownTime::planned() const {
    std::array<double, window> sorted{};
    const std::size_t count = std::min(count_, window);
    std::copy_n(arrivals_.begin(), count, sorted.begin());
    const std::size_t rank = count > 2 * late_ones ? late_ones : 0;
    const auto place = sorted.begin() + static_cast<std::ptrdiff_t>(rank);
    std::nth_element(sorted.begin(), place, sorted.begin() + static_cast<std::ptrdiff_t>(count));
    return *place - spare_ticks;
}

void ShownTime::go_on(double time) {
    const double passed = std::max(0.0, time - time_);
    time_ = std::max(time, time_);
    if (!started_ || count_ == 0) {
        return;
    }
    now_ += passed;
    const double off = time_ + planned() - now_;
    if (std::fabs(off) > shown_jumps_from * tick_rate_) {
        now_ += off;
        return;
    }
    now_ += std::clamp(off * std::min(1.0, made_good * passed), -most_made_good * passed,
                       most_made_good * passed);
}

}  // namespace cursimeter::link
