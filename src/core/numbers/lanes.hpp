#pragma once

#include <cstddef>
#include <cstdint>
#include <type_traits>
#include <utility>

#if defined(__SSE2__)
#include <immintrin.h>
#endif

/// Numbers side by side in one register of the processor, worked by one instruction. What is written for a `Number` holds for a double
/// and for several of them alike, with the same bits in each lane: IEEE 754's operations and its square root are the same in both.
///
/// A source that is compiled for a newer processor includes this. Every function here is always inlined, so that no copy of one
/// can be linked in the place of another source's.
namespace cursimeter::detail {

#if defined(__GNUC__)
using TwoNumbers [[gnu::vector_size(16)]] = double;
using FourNumbers [[gnu::vector_size(32)]] = double;
using EightNumbers [[gnu::vector_size(64)]] = double;
#endif

template <class Number>
inline constexpr std::size_t lanes_of = sizeof(Number) / sizeof(double);
/// What a comparison gives: a bool, or a whole number of 64 bits for each lane, all of them set where it holds.
template <class Number>
using MaskOf = decltype(Number{} < Number{});

/// A whole number of 64 bits for each lane.
template <class Number>
using WholesOf = std::conditional_t<std::is_same_v<Number, double>, std::int64_t, MaskOf<Number>>;

/// The same number in every lane.
template <class Number>
[[gnu::always_inline]] inline Number in_every_lane(double value) {
    return value - Number{};  // of -0.0 too
}
template <class Number>
[[gnu::always_inline]] inline Number load_lanes(const double* from) {
    Number lanes;
    __builtin_memcpy(&lanes, from, sizeof lanes);
    return lanes;
}
template <class Number>
[[gnu::always_inline]] inline void store_lanes(double* to, const Number& lanes) {
    __builtin_memcpy(to, &lanes, sizeof lanes);
}
/// Whether two have the same bits, by lane: -0.0 and 0.0 have not.
template <class Number>
[[gnu::always_inline]] inline MaskOf<Number> same_bits(const Number& a, const Number& b) {
    if constexpr (std::is_same_v<Number, double>) {
        return __builtin_bit_cast(std::uint64_t, a) == __builtin_bit_cast(std::uint64_t, b);
    } else {
        return (MaskOf<Number>)a == (MaskOf<Number>)b;
    }
}
/// The bits of the number in a lane, which are those of a double.
template <class Number>
[[gnu::always_inline]] inline std::uint64_t bits_in_lane(const Number& number, std::size_t lane) {
    if constexpr (std::is_same_v<Number, double>) {
        return __builtin_bit_cast(std::uint64_t, number);
    } else {
        return static_cast<std::uint64_t>(((MaskOf<Number>)number)[lane]);
    }
}
/// What `entry(lane)` gives, for each lane.
template <class Number, class Entry, std::size_t... Lane>
[[gnu::always_inline]] inline Number gather_lanes(const Entry& entry,
                                                  std::index_sequence<Lane...> /*lanes*/) {
    return Number{entry(Lane)...};
}
template <class Number, class Entry>
[[gnu::always_inline]] inline Number gather_lanes(const Entry& entry) {
    return gather_lanes<Number>(entry, std::make_index_sequence<lanes_of<Number>>());
}
/// The same of whole numbers of 64 bits.
template <class Number, class Entry, std::size_t... Lane>
[[gnu::always_inline]] inline WholesOf<Number> gather_wholes(const Entry& entry,
                                                             std::index_sequence<Lane...> /*lanes*/) {
    return WholesOf<Number>{static_cast<std::int64_t>(entry(Lane))...};
}
template <class Number, class Entry>
[[gnu::always_inline]] inline WholesOf<Number> gather_wholes(const Entry& entry) {
    return gather_wholes<Number>(entry, std::make_index_sequence<lanes_of<Number>>());
}
/// Where all masks hold, or any of them; without a branch.
template <class Mask, class... Masks>
[[gnu::always_inline]] inline Mask all_hold(const Mask& mask, const Masks&... others) {
    if constexpr (std::is_same_v<Mask, bool>) {
        return (static_cast<unsigned>(mask) & ... & static_cast<unsigned>(others)) != 0;
    } else {
        return (mask & ... & others);
    }
}
template <class Mask, class... Masks>
[[gnu::always_inline]] inline Mask any_holds(const Mask& mask, const Masks&... others) {
    if constexpr (std::is_same_v<Mask, bool>) {
        return (static_cast<unsigned>(mask) | ... | static_cast<unsigned>(others)) != 0;
    } else {
        return (mask | ... | others);
    }
}
/// Where the mask does not hold.
template <class Mask>
[[gnu::always_inline]] inline Mask inverse_of(const Mask& mask) {
    if constexpr (std::is_same_v<Mask, bool>) {
        return !mask;
    } else {
        return ~mask;
    }
}
/// Bit i: whether it holds in lane i.
template <class Mask>
[[gnu::always_inline]] inline unsigned bits_of(const Mask& mask) {
    if constexpr (std::is_same_v<Mask, bool>) {
        return mask ? 1U : 0U;
    } else {
#if defined(__AVX512DQ__)
        if constexpr (sizeof mask == sizeof(__m512d)) {
            return _mm512_movepi64_mask((__m512i)mask);
        }
#endif
#if defined(__AVX__)
        if constexpr (sizeof mask == sizeof(__m256d)) {
            return static_cast<unsigned>(_mm256_movemask_pd((__m256d)mask));
        }
#endif
#if defined(__SSE2__)
        if constexpr (sizeof mask == sizeof(__m128d)) {
            return static_cast<unsigned>(_mm_movemask_pd((__m128d)mask));
        }
#endif
        unsigned bits = 0;
        for (unsigned lane = 0; lane < sizeof mask / sizeof mask[0]; ++lane) {
            bits |= (mask[lane] != 0 ? 1U : 0U) << lane;
        }
        return bits;
    }
}

template <class Number>
[[gnu::always_inline]] inline Number magnitude(const Number& number) {
    if constexpr (std::is_same_v<Number, double>) {
        return __builtin_fabs(number);
    } else {
        using Mask = MaskOf<Number>;
        return (Number)((Mask)number & ~(Mask)in_every_lane<Number>(-0.0));
    }
}
template <class Number>
[[gnu::always_inline]] inline Number square_root(const Number& number) {
    if constexpr (std::is_same_v<Number, double>) {
        return __builtin_sqrt(number);
    } else {
#if defined(__AVX512F__)
        if constexpr (lanes_of<Number> == 8) {
            return (Number)_mm512_maskz_sqrt_pd(0xff, (__m512d)number);  // gcc 12 warns of the plain one
        }
#endif
#if defined(__AVX__)
        if constexpr (lanes_of<Number> == 4) {
            return (Number)_mm256_sqrt_pd((__m256d)number);
        }
#endif
#if defined(__SSE2__)
        if constexpr (lanes_of<Number> == 2) {
            return (Number)_mm_sqrt_pd((__m128d)number);
        }
#endif
        Number roots;
        for (std::size_t lane = 0; lane < lanes_of<Number>; ++lane) {
            roots[lane] = __builtin_sqrt(number[lane]);
        }
        return roots;
    }
}

}  // namespace cursimeter::detail
