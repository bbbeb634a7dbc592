#include <algorithm>
#include <cmath>
#include <cursimeter/settle.hpp>

#include "core/contact/contact_limits.hpp"
#include "core/contact/footing.hpp"
#include "core/contact/intake.hpp"
#include "core/contact/normals.hpp"
#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/instant.hpp"
#include "core/tick/tick.hpp"
#include "core/tick/work_instant.hpp"

namespace cursimeter {
namespace {

using detail::Instant;
using detail::is_unit;
using detail::RunnerState;
using detail::Surroundings;

/// A gap between what was planned and what was moved that counts, m and as a part.
constexpr double least_shortfall = 1e-3, least_part = 0.02;
/// How far a plan leans into barriers, m.
constexpr double lean_depth = 0.002;
/// Takes from the velocity what the runner was kept from along the way that it wanted to go. `along` is the ground that it
/// stands on or has come to: what points into that is the landing's, and steps and slopes move it up and down besides.
void lose_shortfall(RunnerState& runner, const glm::dvec3& wanted, const glm::dvec3& moved,
                    const glm::dvec3* ground) {
    const auto flattened = [&](const glm::dvec3& way) {
        return ground == nullptr ? way : glm::dvec3(way.x, way.y, 0.0);
    };
    const glm::dvec3 way = flattened(wanted);
    const double length = detail::length_of(way);
    if (length < least_shortfall) {
        return;
    }
    const glm::dvec3 direction = way * (1.0 / length);
    const double done = detail::inner(flattened(moved), direction);
    if (length - done < std::max(least_shortfall, least_part * length)) {
        return;
    }
    const double part = std::clamp(done / length, 0.0, 1.0);
    const double along = detail::inner(runner.velocity, direction);
    if (along > 0.0) {
        detail::set_velocity(runner, runner.velocity - direction * (along * (1.0 - part)));
    }
}

/// Speed at which the ground was met, m/s. Within the tick the runner has gone on falling to its end: it met the ground
/// after the part of the way that the game let it go, and under a constant pull the square of the speed is linear in the
/// way.
double impact_of(const glm::dvec3& before, const glm::dvec3& after, double part, const glm::dvec3& normal) {
    const double first = std::max(0.0, -detail::inner(before, normal));
    const double last = std::max(0.0, -detail::inner(after, normal));
    return std::sqrt(std::max(0.0, first * first + (last * last - first * first) * part));
}

/// What a tick has done to a runner.
struct Moved {
    glm::dvec3 wanted;    ///< m, with what moving ground carries it, without the lean
    glm::dvec3 done;      ///< m
    glm::dvec3 velocity;  ///< m/s at the tick's start
};

void take_ground(Instant& instant, const Contacts& contacts, const Moved& way) {
    RunnerState& runner = instant.runner;
    const glm::dvec3& normal = contacts.ground_normal;
    const glm::dvec3 ground = detail::plausible_velocity(contacts.ground_velocity);
    const bool leaving =
        !runner.around.grounded && detail::inner(runner.velocity - ground, normal) > detail::leaving_speed;
    const bool stands = contacts.grounded && !leaving && is_unit(normal) && normal.z > 0.05;
    if (contacts.grounded && !leaving && !stands) {
        instant.report.intent_mended = true;
        return;
    }
    if (!stands) {
        if (runner.around.grounded) {
            detail::take_lift(instant);
        }
        return;
    }
    const glm::vec2 gradient(-normal.x / normal.z, -normal.y / normal.z);
    const bool turned = gradient != runner.around.gradient;
    runner.around.gradient = gradient;
    if (!runner.around.grounded) {
        const double down = -detail::inner(way.wanted, normal), went = -detail::inner(way.done, normal);
        const double part = down > 1e-9 ? std::clamp(went / down, 0.0, 1.0) : 1.0;
        detail::take_landing(instant, ground,
                             impact_of(way.velocity - ground, runner.velocity - ground, part, normal));
    } else {
        detail::take_other_ground(instant, ground, false);
        if (turned) {
            detail::follow_ground(runner);
        }
    }
}

/// Barriers that the runner leant against and that held.
void keep_barriers(RunnerState& runner, const Plan& plan, const glm::dvec3& moved) {
    Surroundings& around = runner.around;
    const glm::dvec3 leant = moved - (plan.displacement - plan.lean);
    std::uint8_t kept = 0;
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        const glm::dvec3 normal = detail::met_barrier(around, i);
        if (-detail::inner(leant, normal) < 0.5 * lean_depth && detail::inner(moved, normal) < lean_depth) {
            around.barriers[kept++] = around.barriers[i];
        }
    }
    around.barrier_count = kept;
}

void take_barriers(Instant& instant, const Contacts& contacts) {
    RunnerState& runner = instant.runner;
    runner.around.cornered = false;
    const std::size_t count = std::min<std::size_t>(contacts.barrier_count, contacts.barriers.size());
    for (std::size_t i = 0; i < count; ++i) {
        if (!is_unit(contacts.barriers[i])) {
            instant.report.intent_mended = true;
            continue;
        }
        detail::take_barrier(instant, contacts.barriers[i]);
    }
}

/// s; how long a tick that began on the ground kept to it.
double standing_time(const Report& report) {
    for (const Event& event : report.events()) {
        if (event.kind == EventKind::jumped || event.kind == EventKind::lifted) {
            return event.at;
        }
    }
    return report.seconds;
}

}  // namespace

Plan propose(const Chart& chart, const Runner& runner, const Intent& intent, const Contacts& contacts,
             Seconds dt) noexcept {
    Plan plan;
    plan.after = runner;
    const detail::ChartData& data = chart.data();
    RunnerState& state = detail::RunnerAccess::state(plan.after);
    if (!detail::begin_tick(data, state, intent, dt, plan.report)) {
        return plan;
    }
    if (!state.in_world) {
        detail::change_world(state, false);
    }
    const glm::dvec3 before = state.position;
    const glm::dvec3 ground = detail::plausible_velocity(contacts.ground_velocity);
    const bool stood = state.around.grounded;
    detail::advance_busy(data, state, intent, {nullptr, ground}, plan.report.seconds, plan.report);
    for (std::uint8_t i = 0; i < state.around.barrier_count; ++i) {
        plan.lean -= detail::met_barrier(state.around, i) * lean_depth;
    }
    plan.displacement = state.position - before + plan.lean;
    plan.carry = stood ? ground * standing_time(plan.report) : glm::dvec3(0.0);
    plan.ground_velocity = stood && state.around.grounded ? ground : glm::dvec3(0.0);
    plan.full_body = {data.body.radius, data.body.height};
    plan.reach = data.wall_reach;
    plan.body = chart.body(plan.after.state());
    plan.keeps_to_ground = state.around.grounded;
    plan.sticks = detail::sticks(data.body, state.velocity);
    plan.step_height = data.body.step_height;
    plan.slope_cosine = data.body.limit_cosine;
    return plan;
}

Report settle(const Chart& chart, Runner& runner, const Plan& plan, const glm::dvec3& moved,
              const Contacts& contacts) noexcept {
    Report report = plan.report;
    if (report.refusal != Refusal::none) {
        return report;
    }
    const detail::ChartData& data = chart.data();
    RunnerState& state = detail::RunnerAccess::state(runner);
    const glm::dvec3 before = state.position;
    report.displacement = detail::is_finite(moved) ? moved : glm::dvec3(0.0);
    report.intent_mended = report.intent_mended || !detail::is_finite(moved);
    const glm::dvec3 velocity_then = detail::RunnerAccess::state(runner).velocity;
    state = detail::RunnerAccess::state(plan.after);
    state.position = before + report.displacement;

    Instant instant{data, state, report};
    instant.at = report.seconds;
    instant.ground_velocity = plan.ground_velocity;
    instant.momentary = state.momentary;
    const Surroundings around_before = state.around;
    const auto segment_before = state.segment;
    const glm::dvec3 velocity_before = state.velocity;
    const Moved way{plan.displacement - plan.lean + plan.carry, report.displacement, velocity_then};
    keep_barriers(state, plan, report.displacement - plan.carry);
    take_ground(instant, contacts, way);
    take_barriers(instant, contacts);
    // What barriers leave of the way, something that was not told may have stopped: one of a game that tells none, or a third.
    const bool on_ground = state.around.grounded || contacts.grounded;
    lose_shortfall(state, detail::without_barred(state.around, way.wanted), way.done,
                   on_ground ? &contacts.ground_normal : nullptr);
    const bool wall = contacts.by_wall && is_unit(contacts.wall_normal);
    detail::take_wall(instant, wall ? contacts.wall_normal : glm::dvec3(0.0), contacts.wall_surface);
    if (const Push* push = detail::take_zones(state.around, contacts.zones)) {
        detail::take_zone_push(instant, *push);
    }
    state.around.headroom = contacts.headroom || !data.states[state.state].low;
    const bool jolted = !(state.velocity == velocity_before) || state.segment != segment_before;
    if (jolted || !detail::same(state.around, around_before) || state.struck) {
        instant.dirty.note(detail::Changed::control);
        state.momentary = 0;
        detail::work_instant(instant);
        ++report.instants;
    }
    return report;
}

}  // namespace cursimeter
