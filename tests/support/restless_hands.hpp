#pragma once

#include <cmath>
#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <random>

namespace support {

using namespace cursimeter;

/// Keys every 0.1 to 0.4 s, a look that is never still.
class RestlessHands {
  public:
    RestlessHands(const Chart& chart, unsigned seed)
        : random_(seed), keys_((1U << chart.action_count()) - 1U) {}
    Intent next(double dt) {
        if ((pause_ -= dt) <= 0.0) {
            pause_ = between(0.1, 0.4);
            intent_.move = between(0.0, 1.0) < 0.15
                               ? Move{}
                               : Move{std::round(between(-1.0, 1.4)), 0.5 * std::round(between(-1.0, 1.0))};
            intent_.held =
                static_cast<std::uint32_t>(random_()) & static_cast<std::uint32_t>(random_()) & keys_;
            turn_ = between(0.0, 1.0) < 0.2 ? 1e-3 : between(-3.0, 3.0);
            intent_.facing = between(0.0, 1.0) < 0.1 ? Facing::movement : Facing::look;
        }
        intent_.look.yaw += turn_ * dt;
        intent_.look.pitch = 0.4 * std::sin(intent_.look.yaw);
        return intent_;
    }

  private:
    double between(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random_);
    }
    std::mt19937 random_;
    std::uint32_t keys_;
    Intent intent_;
    double pause_ = 0.0, turn_ = 0.0;
};

}  // namespace support
