#pragma once

#include <cursimeter/detail/runner_state.hpp>

#include "core/runner/timers.hpp"

/// Every field of a runner's state that means something, once, in a fixed order. Digests, the wire and whoever
/// compares two runners go through the same list, so that none of them can forget a field.
namespace cursimeter::detail {

/// Calls `visitor.real(name, double)` for quantities and `visitor.word(name, unsigned, bits)` for everything
/// else; each returns the value to keep, so that a visitor may also fill a runner in. `ahead` is a word that
/// comes again in its place: a reader needs it before. Whoever fills in sets `meter_count` first.
template <class Visitor>
void visit_fields(RunnerState& s, Visitor& visitor) {
    const auto real = [&](const char* name, double& value) { value = visitor.real(name, value); };
    const auto narrow = [&](const char* name, float& value) {
        value = static_cast<float>(visitor.real(name, double{value}));
    };
    const auto word = [&](const char* name, auto value, unsigned bits) {
        return static_cast<decltype(value)>(visitor.word(name, static_cast<std::uint64_t>(value), bits));
    };
    const auto words = [&](const char* name, auto& bits) {
        for (std::uint64_t& part : bits.words) {
            part = word(name, part, 64);
        }
    };
    const auto flag = [&](const char* name, bool value) { return word(name, value, 1); };
    const auto vector = [&](const char* name, glm::dvec3& v) {
        real(name, v.x);
        real(name, v.y);
        real(name, v.z);
    };
    const auto narrow_vector = [&](const char* name, glm::vec3& v) {
        narrow(name, v.x);
        narrow(name, v.y);
        narrow(name, v.z);
    };

    real("clock", s.clock);
    real("next_due", s.next_due);
    vector("position", s.position);
    vector("velocity", s.velocity);
    vector("acceleration", s.acceleration);
    real("speed", s.speed);
    real("distance", s.distance);
    real("move_forward", s.move_forward);
    real("move_side", s.move_side);
    real("look_yaw", s.look_yaw);
    real("look_pitch", s.look_pitch);
    real("facing", s.facing.x);
    real("facing", s.facing.y);
    real("wanted", s.wanted.x);
    real("wanted", s.wanted.y);
    real("segment_due", s.segment_due);
    real("condition_due", s.condition_due);
    real("state_since", s.state_since);
    real("landed_at", s.landed_at);
    real("switched_at", s.switched_at);
    real("floor", s.floor);
    real("metered_at", s.metered_at);
    real("scaled_until", s.scaled_until);
    narrow("lag", s.lag);

    s.held = word("held", s.held, 32);
    s.chart_tag = word("chart_tag", s.chart_tag, 32);
    s.segment = word("segment", s.segment, 2);
    s.trend = word("trend", s.trend, 2);
    s.straight = flag("straight", s.straight);
    s.idle = flag("idle", s.idle);
    s.state = word("state", s.state, 6);
    s.stale = flag("stale", s.stale);
    words("lasting", s.lasting);
    words("derived", s.derived);
    words("watched", s.watched);
    s.momentary = word("momentary", s.momentary, 64);
    s.on = word("on", s.on, 32);
    s.held_by_game = word("held_by_game", s.held_by_game, 32);
    s.toggles = word("toggles", s.toggles, 32);
    s.flowing = word("flowing", s.flowing, 12);
    s.by_distance = word("by_distance", s.by_distance, 12);
    s.draining = word("draining", s.draining, 12);
    s.used = word("used", s.used, 64);
    s.spent = word("spent", s.spent, 12);
    s.moving = word("moving", s.moving, 8);
    s.segment_end = word("segment_end", s.segment_end, 2);
    s.locks = word("locks", std::uint8_t{s.locks}, 2) & 3U;
    s.jumps = word("jumps", s.jumps, 8);
    s.cut = flag("cut", s.cut);
    s.struck = flag("struck", s.struck);
    s.levels_moved = word("levels_moved", s.levels_moved, 12);
    s.carried = flag("carried", s.carried);
    s.in_world = flag("in_world", s.in_world);
    s.rooted = flag("rooted", s.rooted);
    s.faces_movement = flag("faces_movement", s.faces_movement);
    real("stride", s.stride);
    s.lately_switched = word("lately_switched", s.lately_switched, 32);
    s.lately_left = word("lately_left", s.lately_left, 64);
    s.undoing = flag("undoing", s.undoing);
    s.last_wall = word("last_wall", s.last_wall, 32);
    s.ticking = word("ticking", s.ticking, static_cast<unsigned>(limits::timers));

    Surroundings& around = s.around;
    narrow("gradient", around.gradient.x);
    narrow("gradient", around.gradient.y);
    around.barrier_count = static_cast<std::uint8_t>(visitor.ahead("barrier_count", around.barrier_count, 2));
    for (std::size_t i = 0; i < around.barrier_count && i < around.barriers.size(); ++i) {
        for (std::int16_t* part : {&around.barriers[i].x, &around.barriers[i].y, &around.barriers[i].z}) {
            *part = static_cast<std::int16_t>(
                visitor.word("barriers", static_cast<std::uint64_t>(std::int64_t{*part}), 64));
        }
    }
    narrow_vector("wall_normal", around.wall_normal);
    narrow_vector("wind", around.wind);
    narrow("pace", around.pace);
    around.ground = word("ground", around.ground, 32);
    around.beside = word("beside", around.beside, 32);
    around.barrier_count = word("barrier_count", around.barrier_count, 2);
    around.zones = word("zones", around.zones, 8);
    around.grounded = flag("grounded", around.grounded);
    around.headroom = flag("headroom", around.headroom);
    around.by_wall = flag("by_wall", around.by_wall);
    around.cornered = flag("cornered", around.cornered);
    around.crushed = flag("crushed", around.crushed);

    for (glm::vec2& fading : s.fading) {
        narrow("fading", fading.x);
        narrow("fading", fading.y);
    }
    for (std::size_t i = 0; i < s.timers.size(); ++i) {
        if ((s.ticking >> i & 1U) != 0) {
            s.timers[i] = stamp_from(word("timers", word_of(s.timers[i]), stamp_bits));
        }
    }
    s.modifier_count = word("modifier_count", s.modifier_count, 8);
    for (std::size_t i = 0; i < s.modifier_count && i < s.modifiers.size(); ++i) {
        ModifierState& m = s.modifiers[i];
        m.modifier = word("modifiers.modifier", m.modifier, 8);
        m.source = word("modifiers.source", m.source, 8);
        m.strength = word("modifiers.strength", m.strength, 8);
        m.stacks = word("modifiers.stacks", std::uint8_t{m.stacks}, 4) & 15U;
        m.phase = word("modifiers.phase", m.phase, 2);
        m.timed = flag("modifiers.timed", m.timed);
        m.untold = flag("modifiers.untold", m.untold);
        m.stamp = stamp_from(word("modifiers.stamp", m.timed ? word_of(m.stamp) : 0U, stamp_bits));
    }
    for (Holder& holder : s.holders) {
        holder.strength = word("holders.strength", holder.strength, 8);
        if (holder.strength == 0) {
            break;  // free, as are all after it
        }
        holder.modifier = word("holders.modifier", holder.modifier, 8);
        holder.source = word("holders.source", holder.source, 8);
    }
    for (std::uint8_t& count : s.blocks) {
        count = word("blocks", count, 8);
    }
    for (std::size_t i = 0; i < s.meter_count && i < s.meters.size(); ++i) {
        real("meters.level", s.meters[i].level);
        real("meters.rate", s.meters[i].rate);
        real("meters.scale", s.scales[i]);
        s.above[i] = word("meters.above", s.above[i], 8);
    }
    s.due_on_segment = true;  // follows from the fields: whoever filled them in has it found anew
}

}  // namespace cursimeter::detail
