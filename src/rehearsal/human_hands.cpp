#include <algorithm>
#include <cursimeter/rehearsal/human_hands.hpp>

namespace cursimeter::rehearsal {
namespace {

constexpr double degree = Degrees{1.0}.radians();
/// Parts of the time in which the mouse lies still, follows, flicks, by their mean lengths of 0.25, 0.9 and 0.15 s.
constexpr double chance_still = 0.3, chance_follows = 0.45;
/// Part of the difference that a hand makes good in a second.
constexpr double swiftness = 12.0;
constexpr double highest_pitch = 60.0 * degree;

}  // namespace

HumanHands::HumanHands(const Chart& chart, std::uint64_t seed) : random_(seed), down_(chart.action_count()) {
    look_.yaw = random_.between(-180.0, 180.0) * degree;
    keys_.start_look(look_);
}

void HumanHands::press_something(double at) {
    if (down_.empty() || random_.chance(0.45)) {
        // The four keys of movement, mostly ahead.
        const double ahead = random_.chance(0.7) ? 1.0 : random_.chance(0.5) ? 0.0 : -1.0;
        const double side = random_.chance(0.5) ? 0.0 : random_.chance(0.5) ? 1.0 : -1.0;
        static_cast<void>(keys_.move_to({ahead, side}, at));
        return;
    }
    const std::size_t which = random_.below(down_.size());
    const ActionId action{static_cast<std::uint8_t>(which)};
    static_cast<void>(down_[which] ? keys_.release(action, at) : keys_.press(action, at));
    down_[which] = !down_[which];
}

void HumanHands::move_mouse(double seconds) {
    to_turn_ -= seconds;
    if (to_turn_ <= 0.0) {
        const double what = random_.part();
        const double sign = random_.chance(0.5) ? 1.0 : -1.0;
        if (what < chance_still) {
            mouse_ = Mouse::still;
            to_turn_ = random_.between(0.1, 0.4);
            yaw_rate_ = pitch_rate_ = 0.0;
        } else if (what < chance_still + chance_follows) {
            mouse_ = Mouse::follows;
            to_turn_ = random_.between(0.3, 1.5);
        } else {
            mouse_ = Mouse::flicks;
            to_turn_ = random_.between(0.08, 0.22);
            yaw_rate_ = sign * random_.between(200.0, 600.0) * degree;
            pitch_rate_ = random_.between(-80.0, 80.0) * degree;
        }
        to_aim_ = 0.0;
    }
    if (mouse_ == Mouse::follows) {
        to_aim_ -= seconds;
        if (to_aim_ <= 0.0) {
            to_aim_ = random_.between(0.1, 0.3);
            wanted_yaw_rate_ = random_.between(-90.0, 90.0) * degree;
            wanted_pitch_rate_ = random_.between(-25.0, 25.0) * degree;
        }
        const double part = std::min(1.0, swiftness * seconds);
        yaw_rate_ += (wanted_yaw_rate_ - yaw_rate_) * part;
        pitch_rate_ += (wanted_pitch_rate_ - pitch_rate_) * part;
    }
    // No hand is quite steady while it moves.
    const double shake = mouse_ == Mouse::still ? 0.0 : random_.between(-0.05, 0.05) * degree;
    look_.yaw += yaw_rate_ * seconds + shake;
    look_.pitch = std::clamp(look_.pitch + pitch_rate_ * seconds, -highest_pitch, highest_pitch);
}

Intent HumanHands::next(Seconds tick) {
    keys_.next_tick();
    move_mouse(tick.value);
    keys_.start_look(look_);
    for (; to_key_ < tick.value; to_key_ += random_.between(0.1, 0.3)) {
        press_something(to_key_);
    }
    to_key_ -= tick.value;
    return keys_.intent();
}

}  // namespace cursimeter::rehearsal
