#include "core/contact/intake.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/contact_limits.hpp"
#include "core/contact/footing.hpp"
#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/numbers/space.hpp"

namespace cursimeter::detail {

bool is_finite(const glm::dvec3& vector) {
    return std::isfinite(vector.x) && std::isfinite(vector.y) && std::isfinite(vector.z);
}

glm::dvec3 plausible_velocity(const glm::dvec3& velocity) {
    return is_finite(velocity) && length_of(velocity) <= fastest_world ? velocity : glm::dvec3(0.0);
}

const Push* take_zones(Surroundings& around, const ZoneReading& zones) {
    const bool entered = (zones.zones & ~around.zones) != 0;
    around.zones = zones.zones;
    around.pace = zones.pace >= 0.0 && zones.pace <= 10.0 ? static_cast<float>(zones.pace) : 1.0F;
    around.wind = glm::vec3(plausible_velocity(zones.wind));
    return entered && zones.push != nullptr && is_push(*zones.push) ? zones.push : nullptr;
}

void take_zone_push(Instant& instant, const Push& push) {
    if (is_pushed(instant.runner)) {
        return;
    }
    Push gust = push;
    gust.seconds = std::max(push.seconds, least_gust);
    apply_push(instant.runner, gust);
}

void take_landing(Instant& instant, const glm::dvec3& ground, double impact) {
    RunnerState& runner = instant.runner;
    set_velocity(runner, runner.velocity - ground);
    instant.ground_velocity = ground;
    runner.around.grounded = false;
    touch_down(instant, impact);
}

void take_lift(Instant& instant) {
    RunnerState& runner = instant.runner;
    leave_ground(instant);
    set_velocity(runner, runner.velocity + instant.ground_velocity);
    instant.ground_velocity = {0.0, 0.0, 0.0};
}

void take_other_ground(Instant& instant, const glm::dvec3& ground, bool other) {
    RunnerState& runner = instant.runner;
    const glm::dvec3 change = instant.ground_velocity - ground;
    if (other && !is_zero(change)) {
        const glm::dvec3 normal = ground_normal(runner.around);
        const glm::dvec3 own = runner.velocity + change;
        set_velocity(runner, own - normal * inner(own, normal));
        instant.dirty.note(Changed::control);
    }
    instant.ground_velocity = ground;
}

void take_barrier(Instant& instant, const glm::dvec3& normal) {
    RunnerState& runner = instant.runner;
    const glm::dvec3 met = met_normal(runner.around, normal);
    const double blow = -inner(runner.velocity, met);
    add_barrier(runner.around, normal);
    stop_against(runner, met);
    set_velocity(runner, without_barred(runner.around, runner.velocity));
    stop_pushes_against(runner, met);
    if (blow > least_blow) {
        instant.emit(EventKind::bumped, runner.state, blow);
    }
}

void take_wall(Instant& instant, const glm::dvec3& normal, std::uint32_t surface) {
    RunnerState& runner = instant.runner;
    Surroundings& around = runner.around;
    around.by_wall = !is_zero(normal) && !around.grounded;
    around.wall_normal = around.by_wall ? glm::vec3(normal) : glm::vec3(0.0F);
    around.beside = around.by_wall ? surface : 0;
    if (around.by_wall && instant.chart.states[runner.state].traits.follows_wall) {
        set_velocity(runner, runner.velocity - normal * inner(runner.velocity, normal));
    }
}

}  // namespace cursimeter::detail
