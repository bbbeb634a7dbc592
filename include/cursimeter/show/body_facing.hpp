#pragma once

#include <cursimeter/intent.hpp>
#include <cursimeter/runner.hpp>

namespace cursimeter {

/// The direction in which the body stands: it turns after what it faces, the short way round, at a limited
/// rate, the same at any tick rate.
class BodyFacing {
  public:
    /// rad, and rad/s; a rate of 0 turns at once.
    explicit BodyFacing(double yaw, double rate) : yaw_(yaw), rate_(rate) {}
    /// Turns towards `target` (rad) for the time of a tick.
    double turn_to(double target, Seconds dt);
    /// Towards where the runner goes if it faces its movement (and stays where it is at rest), else towards its
    /// look.
    double follow(const Runner& runner, Facing facing, Seconds dt);
    [[nodiscard]] double yaw() const { return yaw_; }  ///< -pi to pi
    /// rad/s; 0 or more. `turn_rate` has what modifiers make of it.
    void set_rate(double rate) { rate_ = rate; }

  private:
    double yaw_, rate_;
};

}  // namespace cursimeter
