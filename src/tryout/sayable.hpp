#pragma once

#include <cmath>
#include <cursimeter/intent.hpp>
#include <cursimeter/units.hpp>

/// What a drill can say: moves in ten-thousandths, looks in ten-thousandths of a degree, times in microseconds. What is played
/// is rounded to it before it is played, and written as it was played: so a drill is the same run to the bit.
namespace cursimeter::tryout::sayable {

inline constexpr double moves = 1e4, degrees = 1e4, microseconds = 1e6;

inline double rounded(double value, double steps) {
    return std::isfinite(value) ? std::round(value * steps) / steps : 0.0;
}
inline Degrees angle(double radians) {
    return Degrees(rounded(radians * (180.0 / 3.141592653589793), degrees));
}
inline Move move(const Move& wanted) {
    return {rounded(wanted.forward, moves), rounded(wanted.side, moves)};
}
inline Look look(const Look& wanted) {
    return {angle(wanted.yaw).radians(), angle(wanted.pitch).radians()};
}
inline double time(double seconds) {
    return rounded(seconds, microseconds);
}

}  // namespace cursimeter::tryout::sayable
