#pragma once

#include <cstdint>
#include <cursimeter/units.hpp>

/// What changes all the time and has no closed form is taken as constant for a slice of time. Slices are counted from a fixed moment,
/// so that no tick rate sees other slices than another.
namespace cursimeter::detail {

struct Slice {
    double begin = 0.0, middle = 0.0, end = 0.0;  ///< s
};

/// The slice of `length` that goes on from `time` >= 0, s. A time that is an instant's width before its end is in the next.
[[nodiscard]] inline Slice slice_at(double time, double length) {
    const auto number = static_cast<double>(static_cast<std::int64_t>((time + instant_width.value) / length));
    return {number * length, (number + 0.5) * length, (number + 1.0) * length};
}

}  // namespace cursimeter::detail
