#include "link/client/lead.hpp"

#include <algorithm>
#include <cmath>

namespace cursimeter::link {
namespace {

/// Part by which the pace changes per tick of lead that is missing, and its limits: 4 % faster is not seen,
/// and a lead that is too large only costs delay, so it is given up slowly.
constexpr double pace_per_tick = 0.02, most_faster = 0.04, most_slower = 0.015;
/// Ticks that a lead may be too large before it is reduced.
constexpr double slack = 1.5;
/// Ticks without news for which a lead is worth having. Longer silences are rare and would cost delay always.
constexpr double longest_burst = 15.0;
/// Ticks of missing lead from which on the client jumps.
constexpr double jump_from = 8.0;
/// Snapshots before a lead is found too large, and before one that is far too small is made good by a jump.
constexpr std::size_t few = 60, few_for_jump = 4;

/// Ticks by which the shown time may be off before it jumps.
constexpr double shown_jump = 30.0;
constexpr double shown_gain = 0.02, shown_most = 0.08;
/// Arrivals of a window that may be later than planned for: news that come later still are bridged by the chart.
constexpr std::size_t late_ones = 3;
/// Ticks by which the others are shown later than the latest usual arrival.
constexpr double shown_spare = 0.25;

}  // namespace

template <std::size_t Size>
double Window<Size>::low(std::size_t rank) const {
    std::array<double, Size> sorted{};
    const std::size_t count = size();
    std::copy_n(values_.begin(), count, sorted.begin());
    const std::size_t place = std::min(rank, count - 1);
    std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(place),
                     sorted.begin() + static_cast<std::ptrdiff_t>(count));
    return sorted[place];
}

template <std::size_t Size>
double Window<Size>::recent_high(std::size_t count) const {
    double high = values_[(count_ - 1) % Size];
    for (std::size_t i = 2; i <= count && i <= size(); ++i) {
        high = std::max(high, values_[(count_ - i) % Size]);
    }
    return high;
}

void Lead::start() {
    pace_ = 1.0;
    time_ = phase_ = 0.0;
    spares_.clear();
}

void Lead::tick() {
    time_ += pace_;
    phase_ += 1.0 - pace_;
    steer();
}

void Lead::observe(double spare, double phase) {
    spares_.add(spare - phase);
    worst_ = std::max(spares_.low(0), spares_.middle() - longest_burst);
    steer();
}

double Lead::missing() const {
    return spare_ - (worst_ + phase_);
}

void Lead::steer() {
    if (spares_.empty()) {
        return;
    }
    const double short_of = missing();
    double faster = 0.0;
    if (short_of > 0.0) {
        faster = std::min(short_of * pace_per_tick, most_faster);
    } else if (short_of < -slack && spares_.size() >= few) {
        faster = std::max((short_of + slack) * pace_per_tick, -most_slower);
    }
    pace_ = 1.0 / (1.0 + faster);
}

int Lead::ticks_to_skip() const {
    if (spares_.empty()) {
        return 0;
    }
    // Not after a silence that is over: only if it has been so for some snapshots.
    const double short_of = spare_ - (spares_.recent_high(few_for_jump) + phase_);
    return spares_.size() >= few_for_jump && short_of > jump_from ? static_cast<int>(std::min(short_of, 60.0))
                                                                  : 0;
}

void ShownTime::observe(double last, double newest, double time) {
    if (!started_) {
        started_ = true;
        now_ = last < newest ? last : newest;
    }
    arrivals_.add(last - time);
}

void ShownTime::tick(double time, double passed) {
    if (!started_ || arrivals_.empty()) {
        return;
    }
    const double wanted =
        time + arrivals_.low(arrivals_.size() > 2 * late_ones ? late_ones : 0) - shown_spare;
    const double off = wanted - now_;
    if (std::fabs(off) > shown_jump) {
        now_ = wanted;
        return;
    }
    now_ += std::max(0.0, passed + std::clamp(off * shown_gain, -shown_most, shown_most) * passed);
}

}  // namespace cursimeter::link
