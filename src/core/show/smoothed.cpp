#include <cursimeter/numbers/detmath.hpp>
#include <cursimeter/show/smoothed.hpp>

namespace cursimeter {

double Smoothed::follow(double target, Seconds dt) {
    if (half_life_.value <= 0.0) {
        value_ = target;
    } else if (dt.value > 0.0) {
        value_ = target + (value_ - target) * detmath::power_of_two(-dt.value / half_life_.value);
    }
    return value_;
}

}  // namespace cursimeter
