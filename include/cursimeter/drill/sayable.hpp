#pragma once

#include <cursimeter/intent.hpp>
#include <cursimeter/units.hpp>

/// What a drill can say: moves in ten-thousandths, looks in ten-thousandths of a degree, times in microseconds. What is rounded to it before
/// it is played, and written as it was played, is the same run to the bit when it is read back.
namespace cursimeter::sayable {

inline constexpr double microseconds = 1e6;  ///< in a second

[[nodiscard]] Degrees angle(double radians);
[[nodiscard]] Move move(const Move& wanted);
[[nodiscard]] Look look(const Look& wanted);
[[nodiscard]] double time(double seconds);
/// A time that counts from `begin`, and back: to the bit for a `time` in whole microseconds, to a rounding for any other.
[[nodiscard]] double since(double begin, double time);
[[nodiscard]] double later(double begin, double passed);

}  // namespace cursimeter::sayable
