#include "core/contact/pushes.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/surroundings.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/timers.hpp"
#include "core/runner/wake.hpp"

namespace cursimeter::detail {
namespace {

constexpr unsigned push_timer(std::size_t push) {
    return timer::push_first + static_cast<unsigned>(push);
}

glm::dvec3 fading_of(const RunnerState& runner, std::size_t push) {
    return {double{runner.fading[push].x}, double{runner.fading[push].y}, 0.0};
}

}  // namespace

double push_left(const RunnerState& runner, std::size_t push) {
    return ticks(runner, push_timer(push)) ? std::max(0.0, timer_due(runner, push_timer(push)) - runner.clock)
                                           : 0.0;
}

glm::dvec3 wind_on(const ChartData& chart, const RunnerState& runner) {
    return glm::dvec3(runner.around.wind) * chart.states[runner.state].wind;
}

// A push of d m/s that fades evenly over T seconds is d/T (T - t): what is kept is d/T.
glm::dvec3 carried_by(const ChartData& chart, const RunnerState& runner, double dt) {
    glm::dvec3 carried = wind_on(chart, runner) * dt;
    for (std::size_t i = 0; i < limits::pushes; ++i) {
        const double left = push_left(runner, i);
        const double acting = std::min(left, dt);
        carried += fading_of(runner, i) * (left * acting - 0.5 * acting * acting);
    }
    return carried;
}

glm::dvec3 carrying_velocity(const ChartData& chart, const RunnerState& runner) {
    glm::dvec3 velocity = wind_on(chart, runner);
    for (std::size_t i = 0; i < limits::pushes; ++i) {
        velocity += fading_of(runner, i) * push_left(runner, i);
    }
    return velocity;
}

void stop_pushes_against(RunnerState& runner, const glm::dvec3& normal) {
    const glm::dvec2 aside = flat(normal);
    const double squared = inner(aside, aside);
    for (glm::vec2& fading : runner.fading) {
        const glm::dvec2 push(fading);
        const double into = inner(push, aside);
        fading = into < 0.0 ? glm::vec2(push - aside * (into / squared)) : fading;
    }
}

void end_push(RunnerState& runner, std::size_t push) {
    runner.fading[push] = glm::vec2(0.0F);
    runner.locks = static_cast<std::uint8_t>(runner.locks & ~(1U << push)) & 3U;
    stop_timer(runner, push_timer(push));
}

void add_push(RunnerState& runner, const glm::dvec2& velocity, double seconds, bool locks) {
    std::size_t place = 0;
    for (std::size_t i = 1; i < limits::pushes; ++i) {
        if (push_left(runner, i) < push_left(runner, place)) {
            place = i;
        }
    }
    glm::dvec2 fading = velocity * (1.0 / seconds);
    const double left = push_left(runner, place);
    if (left > 0.0) {
        // All places are taken. The one that ends first is joined to the new push: it ends when the
        // later of them does, and carries as far as both would have.
        const double longer = std::max(left, seconds);
        fading = (fading * (seconds * seconds) + glm::dvec2(runner.fading[place]) * (left * left)) *
                 (1.0 / (longer * longer));
        locks = locks || (runner.locks >> place & 1U) != 0;
        seconds = longer;
    }
    runner.fading[place] = glm::vec2(fading);
    runner.locks = ((runner.locks & ~(1U << place)) | unsigned{locks} << place) & 3U;
    start_timer(runner, push_timer(place), seconds);
}

bool is_push(const Push& push) {
    const auto within = [](double value, double most) { return value >= 0.0 && value <= most; };
    return std::isfinite(push.direction.x) && std::isfinite(push.direction.y) &&
           std::isfinite(push.direction.z) && within(push.strength, 1e4) && within(push.lift, 1.0) &&
           within(push.seconds, 300.0);
}

bool apply_push(RunnerState& runner, const Push& push) {
    const double largest = std::max(
        {std::fabs(push.direction.x), std::fabs(push.direction.y), std::fabs(push.direction.z), 1e-300});
    const glm::dvec3 to = push.direction * (1.0 / largest);  // of any length, so that no square overflows
    const double heading = std::sqrt(to.x * to.x + to.y * to.y);
    const double size = length_of(to);
    // The upward part is the lift or, where none is said, the direction's own.
    const double lift = push.lift > 0.0 || size == 0.0 ? push.lift : to.z / size;
    const double aside = heading > 0.0 ? push.strength * std::sqrt(1.0 - lift * lift) : 0.0;
    const double upward = push.strength * lift;
    if (aside == 0.0 && upward == 0.0) {
        return false;
    }
    if (push.replaces) {
        for (std::size_t i = 0; i < limits::pushes; ++i) {
            end_push(runner, i);
        }
        set_velocity(runner, {0.0, 0.0, 0.0});
    }
    glm::dvec3 own(0.0, 0.0, upward);
    if (aside > 0.0) {
        const glm::dvec2 sideways(to.x / heading * aside, to.y / heading * aside);
        if (push.seconds > 0.0) {
            add_push(runner, sideways, push.seconds, push.locks);
        } else {
            own += glm::dvec3(sideways.x, sideways.y, 0.0);
        }
    }
    set_velocity(runner, runner.velocity + own);
    runner.struck = true;
    wake(runner);
    return true;
}

}  // namespace cursimeter::detail
