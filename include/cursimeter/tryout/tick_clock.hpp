#pragma once

#include <array>
#include <cursimeter/units.hpp>

/// Which ticks are due, for a program that draws at its own pace.
namespace cursimeter::tryout {

/// Cuts real time into ticks of one length, at a pace of one's choice. A value; no clock is inside.
///
///     clock.tell_time(seconds_of_a_steady_clock);
///     while (clock.due()) { ... play a tick; clock.next(); }
///     draw(mix(before, after, clock.part()));
class TickClock {
  public:
    /// What a program may be late by: of a longer stall the rest is left out, and counted.
    static constexpr Seconds longest_stall{0.25};

    /// rate: ticks a second, above 0.
    explicit TickClock(double rate) : tick_(1.0 / rate) {}

    /// By a clock that counts real seconds and never goes back, from any start; once a frame, before all else.
    void tell_time(Seconds now);
    [[nodiscard]] bool due() const { return !paused_ && owed_ >= tick_ - 1e-9; }
    /// A due tick has been played.
    void next();
    /// The part of the next tick that has passed already, 0 to below 1: to draw between two ticks.
    [[nodiscard]] double part() const;
    /// Where an input of this moment lies in the next tick, s after its start, by the clock of `tell_time`.
    [[nodiscard]] double place(Seconds input) const;
    [[nodiscard]] Seconds tick() const { return Seconds{tick_}; }

    void pause(bool paused) { paused_ = paused; }
    [[nodiscard]] bool paused() const { return paused_; }
    /// Paces to choose among: simulated seconds in a real one, from full to slow motion.
    static constexpr std::array<double, 6> paces{1.0, 1.0 / 2, 1.0 / 5, 1.0 / 10, 1.0 / 20, 1.0 / 50};
    /// Any other above 0 will do as well.
    void set_pace(double pace) { pace_ = pace; }
    [[nodiscard]] double pace() const { return pace_; }
    /// To the next of `paces`, if there is one.
    void go_slower();
    void go_faster();
    /// Real seconds that were left out, all together, because the program stood still.
    [[nodiscard]] Seconds left_out() const { return Seconds{left_out_}; }

  private:
    double tick_, pace_ = 1.0;
    double told_ = 0.0;  ///< s
    bool begun_ = false, paused_ = false;
    double owed_ = 0.0;      ///< simulated s up to the time told, since the last tick that was played ended
    double left_out_ = 0.0;  ///< s
};

}  // namespace cursimeter::tryout
