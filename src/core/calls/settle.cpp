#include <algorithm>
#include <cmath>
#include <cursimeter/settle.hpp>

#include "core/contact/contact_limits.hpp"
#include "core/contact/footing.hpp"
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
/// Ground that the runner moves away from this fast, m/s, does not hold it: it has just jumped.
constexpr double leaving_speed = 0.01;

bool is_finite(const glm::dvec3& v) {
    return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z);
}

/// Takes from the velocity what the runner was kept from along the way that it wanted to go.
void lose_shortfall(RunnerState& runner, const glm::dvec3& wanted, const glm::dvec3& moved) {
    // On the ground, steps and slopes move it up and down besides.
    const bool level = runner.around.grounded;
    const glm::dvec3 way(wanted.x, wanted.y, level ? 0.0 : wanted.z);
    const double length = detail::length_of(way);
    if (length < least_shortfall) {
        return;
    }
    const glm::dvec3 direction = way * (1.0 / length);
    const double done = detail::inner(moved, direction);
    if (length - done < std::max(least_shortfall, least_part * length)) {
        return;
    }
    const double part = std::clamp(done / length, 0.0, 1.0);
    const double along = detail::inner(runner.velocity, direction);
    if (along > 0.0) {
        detail::set_velocity(runner, runner.velocity - direction * (along * (1.0 - part)));
    }
}

void take_zones(Instant& instant, const ZoneReading& zones) {
    Surroundings& around = instant.runner.around;
    const bool entered = (zones.zones & ~around.zones) != 0;
    around.zones = zones.zones;
    around.pace = zones.pace >= 0.0 && zones.pace <= 10.0 ? static_cast<float>(zones.pace) : 1.0F;
    around.wind = is_finite(zones.wind) ? glm::vec3(zones.wind) : glm::vec3(0.0F);
    if (entered && zones.push != nullptr && !detail::is_pushed(instant.runner)) {
        detail::apply_push(instant.runner, *zones.push);
    }
}

void take_ground(Instant& instant, const Contacts& contacts) {
    RunnerState& runner = instant.runner;
    const glm::dvec3& normal = contacts.ground_normal;
    const bool leaving = !runner.around.grounded && detail::inner(runner.velocity, normal) > leaving_speed;
    const bool stands = contacts.grounded && !leaving && is_unit(normal) && normal.z > 0.05;
    if (contacts.grounded && !leaving && !stands) {
        instant.report.intent_mended = true;
        return;
    }
    if (!stands) {
        if (runner.around.grounded) {
            detail::leave_ground(instant);
            detail::set_velocity(runner, runner.velocity + instant.ground_velocity);
        }
        return;
    }
    const glm::vec2 gradient(-normal.x / normal.z, -normal.y / normal.z);
    const bool turned = gradient != runner.around.gradient;
    runner.around.gradient = gradient;
    if (!runner.around.grounded) {
        detail::touch_down(instant);
    } else if (turned) {
        detail::follow_ground(runner);
    }
}

/// Barriers that the runner leant against and that held.
void keep_barriers(RunnerState& runner, const Plan& plan, const glm::dvec3& moved) {
    Surroundings& around = runner.around;
    const glm::dvec3 leant = moved - (plan.displacement - plan.lean);
    std::uint8_t kept = 0;
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        const glm::dvec3 normal = detail::unpack(around.barriers[i]);
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
        const double blow = -detail::inner(runner.velocity, contacts.barriers[i]);
        detail::add_barrier(runner.around, contacts.barriers[i]);
        detail::set_velocity(runner, detail::without_barred(runner.around, runner.velocity));
        detail::stop_pushes_against(runner, contacts.barriers[i]);
        if (blow > 0.1) {
            instant.emit(EventKind::bumped, runner.state, blow);
        }
    }
}

void take_wall(const detail::ChartData& chart, RunnerState& runner, const Contacts& contacts) {
    const glm::dvec3& normal = contacts.wall_normal;
    runner.around.by_wall = contacts.by_wall && !runner.around.grounded && is_unit(normal);
    runner.around.wall_normal = runner.around.by_wall ? glm::vec3(normal) : glm::vec3(0.0F);
    runner.around.beside = runner.around.by_wall ? contacts.wall_surface : 0;
    if (runner.around.by_wall && chart.states[runner.state].traits.follows_wall) {
        detail::set_velocity(runner, runner.velocity - normal * detail::inner(runner.velocity, normal));
    }
}

}  // namespace

Plan propose(const Chart& chart, const Runner& runner, const Intent& intent, const Contacts& contacts,
             Seconds dt) noexcept {
    Plan plan;
    plan.after = runner;
    const detail::ChartData& data = chart.data();
    RunnerState& state = detail::RunnerAccess::state(plan.after);
    if (!detail::begin_tick(data, state, dt, plan.report)) {
        return plan;
    }
    if (!state.in_world) {
        detail::change_world(state, false);
    }
    const glm::dvec3 before = state.position;
    const glm::dvec3 ground =
        is_finite(contacts.ground_velocity) ? contacts.ground_velocity : glm::dvec3(0.0);
    detail::advance_busy(data, state, intent, {nullptr, ground}, plan.report.seconds, plan.report);
    for (std::uint8_t i = 0; i < state.around.barrier_count; ++i) {
        plan.lean -= detail::unpack(state.around.barriers[i]) * lean_depth;
    }
    plan.displacement = state.position - before + plan.lean;
    plan.body = chart.body(plan.after.state());
    plan.keeps_to_ground = state.around.grounded;
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
    state = detail::RunnerAccess::state(plan.after);
    report.displacement = is_finite(moved) ? moved : glm::dvec3(0.0);
    report.intent_mended = report.intent_mended || !is_finite(moved);
    state.position = before + report.displacement;

    Instant instant{data, state, report};
    instant.at = report.seconds;
    instant.ground_velocity =
        is_finite(contacts.ground_velocity) ? contacts.ground_velocity : glm::dvec3(0.0);
    const Surroundings around_before = state.around;
    const auto leg_before = state.leg;
    const glm::dvec3 velocity_before = state.velocity;
    if (contacts.barrier_count == 0) {
        lose_shortfall(state, plan.displacement - plan.lean, report.displacement);
    }
    keep_barriers(state, plan, report.displacement);
    take_ground(instant, contacts);
    take_barriers(instant, contacts);
    take_wall(data, state, contacts);
    take_zones(instant, contacts.zones);
    state.around.headroom = contacts.headroom || !data.states[state.state].low;
    const bool jolted = !(state.velocity == velocity_before) || state.leg != leg_before;
    if (jolted || !detail::same(state.around, around_before) || state.struck) {
        instant.wanted_changed = true;
        detail::work_instant(instant);
        ++report.instants;
    }
    return report;
}

}  // namespace cursimeter
