#pragma once

#include <cursimeter/drill/drill.hpp>

/// From intents to a drill: what was played, to be read and changed by a person.
namespace cursimeter {

/// Notes what the hands do in a row of ticks. Intents may tell of changes inside the tick, or only of how things are at its start; what
/// differs from before without being told counts as changed at the start.
class DrillRecorder {
  public:
    /// From this runner on, while the course's clock shows `begin`. A runner that has not just been spawned is saved in the drill. The drill
    /// gives the same run; to the bit, with ticks as `tick_end` has them, where each change is one of its tick's `changes`, and moves, looks
    /// and times are such as a drill can say (sayable.hpp).
    DrillRecorder(const Chart& chart, const Runner& runner, Seconds begin = Seconds{0.0});

    /// The tick that begins at `begin`, s on the same clock. Ticks follow one another. The chart may be another one
    /// than before, with the same actions. What the first tick faces is faced all through the drill; points that are looked at
    /// (`Intent::focus`) no drill can say.
    void tick(const Chart& chart, const Intent& intent, double begin, Seconds seconds);

    /// All of it so far. `seconds` is where the last tick ended.
    [[nodiscard]] DrillSpec drill(const std::string& name) const;

  private:
    void put(const Chart& chart, double at, const Change& change);
    void take(const Chart& chart, double at, const Change& change);

    DrillSpec drill_;
    double begin_ = 0.0;  ///< s on the course's clock
    std::uint32_t held_ = 0;
    Move move_;
    Look look_;
};

}  // namespace cursimeter
