#pragma once

#include "core/numbers/lanes.hpp"

/// The commonest turn under the ramp law: at full speed, by a few degrees, to a target of the same length, which is reached within the
/// tick. Written for one runner and for several side by side (core/numbers/lanes.hpp).
namespace cursimeter::detail {

/// A velocity that is wanted ahead and to the right of the facing, in the world, m/s.
template <class Number>
struct LevelTarget {
    Number x, y;
};
template <class Number>
[[gnu::always_inline]] inline LevelTarget<Number> level_target_of(const Number& facing_x,
                                                                  const Number& facing_y, const Number& ahead,
                                                                  const Number& right) {
    return {facing_x * ahead + facing_y * right, facing_y * ahead + -facing_x * right};
}

template <class Number>
struct ArcAtSpeed {
    Number moved_x, moved_y;  ///< m
    Number walked;            ///< m, along the way
    Number speed;             ///< m/s, at its end
    Number half;              ///< m/s by which the speed falls, at most
    MaskOf<Number> fits;      ///< whether this is such a turn; if not, all else means nothing
};

/// From the velocity v over the gap g to the target: v.g = -g^2 / 2, so the speed falls up to the middle of the gap and rises from
/// there, and its mean on the way is that of sqrt(1 - q (1 - u^2)) over u from 0 to 1 with q = g^2 / 4v^2, whose series is
/// 1 - q/3 - q^2/15 - q^3/35 ... `down_inverse` and `up_inverse`: s for each m/s by which the gain lets the speed fall and
/// rise.
template <class Number>
[[gnu::always_inline]] inline ArcAtSpeed<Number> arc_at_speed(const Number& velocity_x,
                                                              const Number& velocity_y,
                                                              const Number& target_x, const Number& target_y,
                                                              const Number& speed, const Number& down_inverse,
                                                              const Number& up_inverse, double seconds) {
    const Number gap_x = target_x - velocity_x, gap_y = target_y - velocity_y;
    const Number speed_squared = speed * speed;
    const Number target_squared = target_x * target_x + target_y * target_y;
    const Number gap_squared = gap_x * gap_x + gap_y * gap_y;
    const Number half = 0.5 * square_root(gap_squared);
    const Number first = half * down_inverse, second = half * up_inverse;
    const Number steady = seconds - first - second;
    const Number q = 0.25 * gap_squared / speed_squared;
    const Number mean =
        speed *
        (1.0 - q * (1.0 / 3.0 + q * (1.0 / 15.0 + q * (1.0 / 35.0 + q * (1.0 / 63.0 + q * (1.0 / 99.0))))));
    const Number turning = first + second, share = 0.25 * first + 0.75 * second;
    const Number unlike = magnitude<Number>(target_squared - speed_squared);
    const MaskOf<Number> fits = all_hold<MaskOf<Number>>(
        gap_squared <= 0.01 * speed_squared, unlike <= 1e-13 * speed_squared, steady >= 0.0, speed > 0.0);
    return {velocity_x * turning + gap_x * share + target_x * steady,
            velocity_y * turning + gap_y * share + target_y * steady,
            speed * steady + mean * turning,
            square_root(target_squared),
            half,
            fits};
}

}  // namespace cursimeter::detail
