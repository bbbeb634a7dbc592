#include "core/digest.hpp"

#include <cursimeter/runner.hpp>

#include "core/chart_data.hpp"

namespace cursimeter {
namespace {

void add(detail::Digest& digest, const glm::vec3& vector) {
    digest.add(double{vector.x});
    digest.add(double{vector.y});
    digest.add(double{vector.z});
}

void add(detail::Digest& digest, const detail::Surroundings& around) {
    digest.add(double{around.gradient.x});
    digest.add(double{around.gradient.y});
    for (std::size_t i = 0; i < around.barrier_count; ++i) {
        for (const std::int16_t part : {around.barriers[i].x, around.barriers[i].y, around.barriers[i].z}) {
            digest.add(static_cast<std::uint64_t>(static_cast<std::int64_t>(part)));
        }
    }
    add(digest, around.bearing);
    add(digest, around.wind);
    digest.add(double{around.pace});
    for (const std::uint64_t word :
         {std::uint64_t{around.ground}, std::uint64_t{around.beside}, std::uint64_t{around.barrier_count},
          std::uint64_t{around.zones}, std::uint64_t{around.grounded}, std::uint64_t{around.headroom},
          std::uint64_t{around.by_wall}, std::uint64_t{around.cornered}, std::uint64_t{around.crushed}}) {
        digest.add(word);
    }
}

}  // namespace

std::uint64_t digest(const Runner& runner) {
    const detail::RunnerState& s = detail::RunnerAccess::state(runner);
    detail::Digest digest;
    for (const double value :
         {s.clock,      s.next_due,     s.position.x,     s.position.y,     s.position.z,     s.velocity.x,
          s.velocity.y, s.velocity.z,   s.acceleration.x, s.acceleration.y, s.acceleration.z, s.speed,
          s.distance,   s.move_forward, s.move_side,      s.look_yaw,       s.look_pitch,     s.facing.x,
          s.facing.y,   s.wanted.x,     s.wanted.y,       s.leg_due,        s.condition_due,  s.state_since,
          s.floor,      s.metered_at}) {
        digest.add(value);
    }
    for (const std::uint64_t word : {std::uint64_t{s.held},
                                     std::uint64_t{s.chart_tag},
                                     static_cast<std::uint64_t>(s.leg),
                                     static_cast<std::uint64_t>(s.trend),
                                     std::uint64_t{s.straight},
                                     std::uint64_t{s.idle},
                                     std::uint64_t{s.state},
                                     std::uint64_t{s.stale},
                                     std::uint64_t{s.lasting},
                                     s.derived,
                                     std::uint64_t{s.on},
                                     std::uint64_t{s.toggles},
                                     std::uint64_t{s.flowing},
                                     std::uint64_t{s.by_distance},
                                     std::uint64_t{s.draining},
                                     std::uint64_t{s.used},
                                     std::uint64_t{s.spent},
                                     std::uint64_t{s.moving},
                                     static_cast<std::uint64_t>(s.leg_end),
                                     std::uint64_t{s.locks},
                                     std::uint64_t{s.jumps},
                                     std::uint64_t{s.cut},
                                     std::uint64_t{s.struck},
                                     std::uint64_t{s.carried},
                                     std::uint64_t{s.in_world},
                                     std::uint64_t{s.rooted},
                                     std::uint64_t{s.faces_movement},
                                     std::uint64_t{s.stride},
                                     std::uint64_t{s.last_wall},
                                     std::uint64_t{s.ticking}}) {
        digest.add(word);
    }
    add(digest, s.around);
    for (const glm::vec2& fading : s.fading) {
        digest.add(double{fading.x});
        digest.add(double{fading.y});
    }
    for (std::size_t i = 0; i < s.timers.size(); ++i) {
        if ((s.ticking >> i & 1U) != 0) {
            digest.add(std::uint64_t{s.timers[i]});
        }
    }
    for (const detail::ModifierState& m : s.modifiers) {
        for (const std::uint64_t word :
             {std::uint64_t{m.modifier}, std::uint64_t{m.source}, std::uint64_t{m.strength},
              std::uint64_t{m.stacks}, static_cast<std::uint64_t>(m.phase), std::uint64_t{m.timed},
              std::uint64_t{m.untold}, std::uint64_t{m.timed ? m.stamp : 0}}) {
            digest.add(word);
        }
    }
    for (const std::uint8_t count : s.blocks) {
        digest.add(std::uint64_t{count});
    }
    for (std::size_t i = 0; i < s.meter_count; ++i) {
        digest.add(s.meters[i].level);
        digest.add(s.meters[i].rate);
        digest.add(std::uint64_t{s.mark[i]});
    }
    return digest.value();
}

}  // namespace cursimeter
