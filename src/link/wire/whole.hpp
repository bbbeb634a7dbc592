#pragma once

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace cursimeter::link {

inline constexpr double turn = 6.283185307179586;  ///< rad

/// The nearest whole number within the bounds; 0 for NaN.
[[nodiscard]] inline std::int32_t whole(double value, double least, double most) {
    if (!(value >= least)) {
        return value < least ? static_cast<std::int32_t>(least) : 0;
    }
    return static_cast<std::int32_t>(std::floor(std::min(value, most) + 0.5));
}

}  // namespace cursimeter::link
