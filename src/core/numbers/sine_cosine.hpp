#pragma once

#include <array>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cursimeter/numbers/detmath.hpp>

#include "core/numbers/lanes.hpp"

/// Sine and cosine, for the hot path of a look that turns in every tick: inline, so only for sources that are compiled with the
/// core's flags. Elsewhere `detmath::sine_cosine`, which is this.
///
/// A turn has 128 parts. The angle is the nearest part's and a rest of up to pi/128, for which series of three terms are
/// enough; the part's sine and cosine come from a table, correctly rounded, and both are joined by the addition theorem: half
/// the work of series for an eighth of a turn, and off by an ulp or two at most.
namespace cursimeter::detmath {
namespace detail {

inline constexpr std::size_t parts_of_turn = 128;

/// sin(k pi / 64) for a quarter turn.
inline constexpr std::array<double, parts_of_turn / 4 + 1> quarter_sines{0x0.0p+0,
                                                                         0x1.91f65f10dd814p-5,
                                                                         0x1.917a6bc29b42cp-4,
                                                                         0x1.2c8106e8e613ap-3,
                                                                         0x1.8f8b83c69a60bp-3,
                                                                         0x1.f19f97b215f1bp-3,
                                                                         0x1.294062ed59f06p-2,
                                                                         0x1.58f9a75ab1fddp-2,
                                                                         0x1.87de2a6aea963p-2,
                                                                         0x1.b5d1009e15cc0p-2,
                                                                         0x1.e2b5d3806f63bp-2,
                                                                         0x1.073879922ffeep-1,
                                                                         0x1.1c73b39ae68c8p-1,
                                                                         0x1.30ff7fce17035p-1,
                                                                         0x1.44cf325091dd6p-1,
                                                                         0x1.57d69348ceca0p-1,
                                                                         0x1.6a09e667f3bcdp-1,
                                                                         0x1.7b5df226aafafp-1,
                                                                         0x1.8bc806b151741p-1,
                                                                         0x1.9b3e047f38741p-1,
                                                                         0x1.a9b66290ea1a3p-1,
                                                                         0x1.b728345196e3ep-1,
                                                                         0x1.c38b2f180bdb1p-1,
                                                                         0x1.ced7af43cc773p-1,
                                                                         0x1.d906bcf328d46p-1,
                                                                         0x1.e212104f686e5p-1,
                                                                         0x1.e9f4156c62ddap-1,
                                                                         0x1.f0a7efb9230d7p-1,
                                                                         0x1.f6297cff75cb0p-1,
                                                                         0x1.fa7557f08a517p-1,
                                                                         0x1.fd88da3d12526p-1,
                                                                         0x1.ff621e3796d7ep-1,
                                                                         0x1.0000000000000p+0};

/// Of each part of a turn; quarters mirror each other, so the functions are odd and even to the bit.
/// A plain array: its elements are read without a call, by sources that may define none (core/numbers/lanes.hpp).
struct PartTable {
    SineCosine parts[parts_of_turn];  // NOLINT(modernize-avoid-c-arrays)
};
inline constexpr PartTable part_table = [] {
    constexpr std::size_t quarter = parts_of_turn / 4;
    const auto sine_of = [](std::size_t part) {
        const std::size_t rest = part % quarter;
        switch (part / quarter % 4) {
            case 0:
                return quarter_sines[rest];
            case 1:
                return quarter_sines[quarter - rest];
            case 2:
                return -quarter_sines[rest];
            default:
                return -quarter_sines[quarter - rest];
        }
    };
    PartTable table{};
    for (std::size_t part = 0; part < parts_of_turn; ++part) {
        table.parts[part] = {sine_of(part), sine_of(part + quarter)};
    }
    return table;
}();

}  // namespace detail

/// Of numbers side by side, or of one.
template <class Number>
struct SineCosineOf {
    Number sine, cosine;
};

using cursimeter::detail::bits_in_lane, cursimeter::detail::gather_lanes;

/// For angles up to 1e9; any other gives something, and harms nothing.
template <class Number>
[[gnu::always_inline]] inline SineCosineOf<Number> sine_cosine_lanes(const Number& angle) {
    // pi/64 in three pieces, the first two of 28 bits (Cody and Waite 1980): the product of any number of parts below 2^25 with
    // each of them is exact, so the reduction loses nothing up to angles of 1e6.
    constexpr double parts_of_radian = 0x1.45f306dc9c883p+4;
    constexpr double part_high = 0x1.921fb54p-5, part_middle = 0x1.10b461p-35,
                     part_low = 0x1.a62633145c06ep-63;
    // Adding 1.5 * 2^52 rounds to a whole number and leaves it in the low bits of the sum. No branch depends on the angle: a
    // crowd looks everywhere.
    constexpr double rounder = 0x1.8p52;
    const Number shifted = angle * parts_of_radian + rounder;
    const auto part_of = [&](std::size_t lane) __attribute__((always_inline))->const SineCosine& {
        return detail::part_table.parts[bits_in_lane(shifted, lane) % detail::parts_of_turn];
    };
    const auto sine_of = [&](std::size_t lane) __attribute__((always_inline)) {
        return part_of(lane).sine;
    };
    const auto cosine_of = [&](std::size_t lane) __attribute__((always_inline)) {
        return part_of(lane).cosine;
    };
    const Number part_sine = gather_lanes<Number>(sine_of);
    const Number part_cosine = gather_lanes<Number>(cosine_of);
    const Number number = shifted - rounder;
    const Number rest = ((angle - number * part_high) - number * part_middle) - number * part_low;
    // Taylor series on [-pi/128, pi/128]; the first terms left out are below 1e-20 and 1e-17.
    const Number z = rest * rest;
    const Number sine = rest + rest * (z * (-1.0 / 6.0 + z * (1.0 / 120.0 - z * (1.0 / 5040.0))));
    const Number less = z * (0.5 - z * (1.0 / 24.0 - z * (1.0 / 720.0)));  // 1 - cosine
    return {part_sine + (part_cosine * sine - part_sine * less),
            part_cosine - (part_sine * sine + part_cosine * less)};
}

inline SineCosine sine_cosine_inline(double angle) {
    constexpr double largest_angle = 1e9;
    if (!(std::fabs(angle) <= largest_angle)) [[unlikely]] {
        return {};
    }
    const SineCosineOf<double> one = sine_cosine_lanes(angle);
    return {one.sine, one.cosine};
}

}  // namespace cursimeter::detmath
