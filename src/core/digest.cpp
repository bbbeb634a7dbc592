#include "core/digest.hpp"

#include <cursimeter/runner.hpp>

#include "core/chart_data.hpp"

namespace cursimeter {

std::uint64_t digest(const Runner& runner) {
    const detail::RunnerState& s = detail::RunnerAccess::state(runner);
    detail::Digest digest;
    for (const double value :
         {s.clock,        s.next_due,   s.position.x,       s.position.y,     s.position.z,
          s.velocity.x,   s.velocity.y, s.velocity.z,       s.acceleration.x, s.acceleration.y,
          s.speed,        s.distance,   s.move_forward,     s.move_side,      s.look_yaw,
          s.look_pitch,   s.facing.x,   s.facing.y,         s.wanted.x,       s.wanted.y,
          s.target_speed, s.leg_due,    s.leg_last_squared, s.crossing_due,   s.other_due,
          s.retry_due,    s.state_since}) {
        digest.add(value);
    }
    for (const std::uint64_t word :
         {std::uint64_t{s.held}, std::uint64_t{s.chart_tag}, static_cast<std::uint64_t>(s.leg),
          static_cast<std::uint64_t>(s.trend), std::uint64_t{s.straight}, std::uint64_t{s.idle},
          std::uint64_t{s.state}, std::uint64_t{s.stale}, s.facts.fixed, s.facts.derived, std::uint64_t{s.on},
          std::uint64_t{s.toggles}, std::uint64_t{s.flowing}, std::uint64_t{s.by_distance},
          std::uint64_t{s.draining}, std::uint64_t{s.waiting}, std::uint64_t{s.spent},
          std::uint64_t{s.moving}, std::uint64_t{s.leg_arrives}}) {
        digest.add(word);
    }
    for (std::size_t i = 0; i < s.meter_count; ++i) {
        digest.add(s.meters[i].level);
        digest.add(s.meters[i].rate);
        digest.add(s.meters[i].due);
        digest.add(std::uint64_t{s.mark[i]});
    }
    return digest.value();
}

}  // namespace cursimeter
