#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/rehearsal/simulated_link.hpp>
#include <vector>

namespace cursimeter::rehearsal {

/// A player at keyboard and mouse, from a seed: a key goes down or up every 0.1 to 0.3 s, at any time inside a tick; the
/// mouse follows something at up to 90 degrees a second, flicks at 200 to 600, and lies still 15 % of the time.
class HumanHands {
  public:
    HumanHands(const Chart& chart, std::uint64_t seed);
    /// What they want in the next tick of this length; valid until the next call.
    [[nodiscard]] Intent next(Seconds tick);

  private:
    void press_something(double at);
    void move_mouse(double seconds);
    Random random_;
    IntentBuilder keys_;
    std::vector<bool> down_;
    double to_key_ = 0.2;                  ///< s until a key moves
    double to_turn_ = 0.0, to_aim_ = 0.0;  ///< s until the mouse does something else, or corrects its way
    enum class Mouse { still, follows, flicks } mouse_ = Mouse::still;
    double yaw_rate_ = 0.0, pitch_rate_ = 0.0;  ///< rad/s
    double wanted_yaw_rate_ = 0.0, wanted_pitch_rate_ = 0.0;
    Look look_;
};

}  // namespace cursimeter::rehearsal
