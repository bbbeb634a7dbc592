#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <utility>

namespace cursimeter::detail {

/// A mask of 64 bits a word, worked like an unsigned number. Bits count from 0 in the first word on.
template <std::size_t Words>
struct Bits {
    std::array<std::uint64_t, Words> words{};

    [[nodiscard]] static constexpr Bits of(unsigned bit) {
        Bits bits;
        bits.set(bit);
        return bits;
    }
    [[nodiscard]] constexpr bool test(unsigned bit) const {
        return (words[bit / 64] >> (bit % 64) & 1U) != 0;
    }
    constexpr void set(unsigned bit) { words[bit / 64] |= std::uint64_t{1} << (bit % 64); }
    /// The same where something holds, without a branch.
    constexpr void set_if(bool holds, unsigned bit) { words[bit / 64] |= std::uint64_t{holds} << (bit % 64); }
    constexpr void clear(unsigned bit) { words[bit / 64] &= ~(std::uint64_t{1} << (bit % 64)); }
    [[nodiscard]] constexpr bool any() const {
        std::uint64_t all = 0;
        each([&](std::size_t i) { all |= words[i]; });
        return all != 0;
    }
    constexpr Bits& operator&=(const Bits& other) {
        each([&](std::size_t i) { words[i] &= other.words[i]; });
        return *this;
    }
    constexpr Bits& operator|=(const Bits& other) {
        each([&](std::size_t i) { words[i] |= other.words[i]; });
        return *this;
    }
    constexpr Bits& operator^=(const Bits& other) {
        each([&](std::size_t i) { words[i] ^= other.words[i]; });
        return *this;
    }
    friend constexpr Bits operator&(Bits a, const Bits& b) { return a &= b; }
    friend constexpr Bits operator|(Bits a, const Bits& b) { return a |= b; }
    friend constexpr Bits operator^(Bits a, const Bits& b) { return a ^= b; }
    friend constexpr Bits operator~(Bits a) {
        each([&](std::size_t i) { a.words[i] = ~a.words[i]; });
        return a;
    }
    friend constexpr bool operator==(const Bits& a, const Bits& b) { return !(a ^ b).any(); }

  private:
    /// Without a loop, which compilers keep as one at -O2.
    template <class Work>
    static constexpr void each(Work&& work) {
        [&]<std::size_t... I>(std::index_sequence<I...>) {
            (work(I), ...);
        }
        (std::make_index_sequence<Words>());
    }
};

}  // namespace cursimeter::detail
