#include <algorithm>
#include <cursimeter/tryout/tick_clock.hpp>

namespace cursimeter::tryout {

void TickClock::tell_time(Seconds now) {
    const double passed = begun_ ? std::max(now.value - told_, 0.0) : 0.0;
    const double counted = std::min(passed, longest_stall.value);
    begun_ = true;
    told_ = std::max(told_, now.value);
    if (!paused_) {
        left_out_ += passed - counted;
        owed_ += counted * pace_;
    }
}

void TickClock::next() {
    owed_ = std::max(owed_ - tick_, 0.0);
}

void TickClock::go_slower() {
    const auto next = std::find_if(paces.begin(), paces.end(), [&](double pace) { return pace < pace_; });
    pace_ = next != paces.end() ? *next : pace_;
}

void TickClock::go_faster() {
    const auto next = std::find_if(paces.rbegin(), paces.rend(), [&](double pace) { return pace > pace_; });
    pace_ = next != paces.rend() ? *next : pace_;
}

double TickClock::part() const {
    return std::clamp(owed_ / tick_, 0.0, 1.0);
}

double TickClock::place(Seconds input) const {
    // What is owed began that long ago, in real seconds, before the time that was told last.
    const double begin = told_ - owed_ / pace_;
    return std::clamp((input.value - begin) * pace_, 0.0, tick_);
}

}  // namespace cursimeter::tryout
