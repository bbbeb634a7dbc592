#pragma once

#include <cstdint>

namespace cursimeter::survey {

/// Numbers by chance that are the same on every machine and in any order of work: a row of its own for each key.
/// SplitMix64 (Steele, Lea and Flood 2014).
class Dice {
  public:
    explicit Dice(std::uint64_t seed, std::uint64_t key = 0) : state_(mixed(seed ^ mixed(key))) {}

    [[nodiscard]] std::uint64_t next() {
        state_ += 0x9e3779b97f4a7c15U;
        return mixed(state_);
    }
    /// 0 to count - 1; count is at least 1.
    [[nodiscard]] std::uint32_t below(std::uint32_t count) {
        return static_cast<std::uint32_t>(((next() >> 32U) * count) >> 32U);
    }
    /// low to high, both included.
    [[nodiscard]] int between(int low, int high) {
        return low + static_cast<int>(below(static_cast<std::uint32_t>(high - low + 1)));
    }
    /// 0 to 1, below 1.
    [[nodiscard]] double part() { return static_cast<double>(next() >> 11U) * 0x1p-53; }
    /// True so many times in a hundred.
    [[nodiscard]] bool percent(std::uint32_t part) { return below(100) < part; }

  private:
    static std::uint64_t mixed(std::uint64_t z) {
        z = (z ^ (z >> 30U)) * 0xbf58476d1ce4e5b9U;
        z = (z ^ (z >> 27U)) * 0x94d049bb133111ebU;
        return z ^ (z >> 31U);
    }
    std::uint64_t state_;
};

}  // namespace cursimeter::survey
