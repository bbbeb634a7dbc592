#pragma once

#include <cursimeter/units.hpp>

namespace cursimeter {

/// A number shown to people that runs after another: the gap halves every `half_life`, at any tick rate.
class Smoothed {
  public:
    explicit Smoothed(double start, Seconds half_life) : value_(start), half_life_(half_life) {}
    double follow(double target, Seconds dt);
    /// At once, as after a teleport.
    void set(double value) { value_ = value; }
    [[nodiscard]] double value() const { return value_; }

  private:
    double value_;
    Seconds half_life_;
};

}  // namespace cursimeter
