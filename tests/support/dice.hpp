#pragma once

#include <random>

namespace support {

/// Chances for a generator of test cases.
class Dice {
  public:
    explicit Dice(unsigned seed) : random_(seed) {}
    double between(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random_);
    }
    bool happens(double share) { return between(0.0, 1.0) < share; }

  private:
    std::mt19937 random_;
};

}  // namespace support
