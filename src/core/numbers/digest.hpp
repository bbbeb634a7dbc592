#pragma once

#include <bit>
#include <cstdint>
#include <string_view>

namespace cursimeter::detail {

/// A 64-bit digest built word by word: each word is mixed by the finaliser of SplitMix64 (Steele, Lea
/// and Flood 2014). Words are values, not bytes in memory, so the digest is the same on machines of
/// either byte order and never reads padding.
class Digest {
  public:
    void add(std::uint64_t word) {
        std::uint64_t z = (state_ ^ word) + 0x9e3779b97f4a7c15U;
        z = (z ^ (z >> 30U)) * 0xbf58476d1ce4e5b9U;
        z = (z ^ (z >> 27U)) * 0x94d049bb133111ebU;
        state_ = z ^ (z >> 31U);
    }
    /// +0 and -0 are one value.
    void add(double value) { add(std::bit_cast<std::uint64_t>(value == 0.0 ? 0.0 : value)); }
    void add(std::string_view text) {
        add(std::uint64_t{text.size()});
        for (const char c : text) {
            add(std::uint64_t{static_cast<unsigned char>(c)});
        }
    }
    [[nodiscard]] std::uint64_t value() const { return state_; }

  private:
    std::uint64_t state_ = 0x6375727369'6d6574U;
};

}  // namespace cursimeter::detail
