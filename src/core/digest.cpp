#include "core/digest.hpp"

#include <cursimeter/runner.hpp>

#include "core/chart_data.hpp"

namespace cursimeter {

std::uint64_t digest(const Runner& runner) {
    const detail::RunnerState& s = detail::RunnerAccess::state(runner);
    detail::Digest digest;
    for (const double value :
         {s.clock, s.next_due, s.position.x, s.position.y, s.position.z, s.velocity.x, s.velocity.y,
          s.velocity.z, s.acceleration.x, s.acceleration.y, s.speed, s.distance, s.move_forward,
          s.move_side, s.look_yaw, s.look_pitch, s.facing.x, s.facing.y, s.target.x, s.target.y,
          s.target_speed, s.half_life, s.full_speed, s.leg_due, s.crossing_due, s.time_due,
          s.state_since}) {
        digest.add(value);
    }
    for (const std::uint64_t word :
         {std::uint64_t{s.held}, std::uint64_t{s.chart_tag}, static_cast<std::uint64_t>(s.leg),
          static_cast<std::uint64_t>(s.trend), std::uint64_t{s.straight}, std::uint64_t{s.idle},
          std::uint64_t{s.state}, std::uint64_t{s.stale}, s.facts.fixed, s.facts.derived,
          std::uint64_t{s.on}, std::uint64_t{s.toggles}, std::uint64_t{s.draining},
          std::uint64_t{s.spent}}) {
        digest.add(word);
    }
    for (std::size_t i = 0; i < s.meter_count; ++i) {
        const detail::MeterState& meter = s.meters[i];
        for (const double value :
             {meter.level, meter.rate, meter.per_metre, meter.refill_from, meter.due}) {
            digest.add(value);
        }
        digest.add(std::uint64_t{s.mark[i]});
    }
    return digest.value();
}

}  // namespace cursimeter
