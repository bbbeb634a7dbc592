#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>
#include <cursimeter/present.hpp>

#include "core/contact/surroundings.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/leg.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/pair.hpp"
#include "core/want/move_and_look.hpp"

namespace cursimeter {
namespace {

constexpr double pi = 3.141592653589793;

/// -pi to pi.
double wrapped(double angle) {
    const double turns = std::floor((angle + pi) / (2.0 * pi));
    return angle - turns * 2.0 * pi;
}

double usual_speed(const detail::ChartData& chart) {
    const auto usual = std::find_if(chart.rank.rbegin(), chart.rank.rend(), [&](std::uint8_t state) {
        return chart.states[state].traits.stands && chart.states[state].forward > 0.0;
    });
    return usual != chart.rank.rend() ? chart.states[*usual].forward : 0.0;
}

}  // namespace

Presentation present(const Chart& chart, const Runner& runner) {
    const detail::RunnerState& state = detail::paired(chart, runner, "present");
    const bool goes = state.faces_movement && detail::length_of(detail::flat(state.velocity)) > 0.01;
    const glm::dvec2 ahead = goes ? detail::flat(state.velocity) : state.facing;
    return present(chart, runner, detmath::arc_tangent(ahead.y, ahead.x));
}

Presentation present(const Chart& chart, const Runner& runner, double yaw) {
    const detail::ChartData& data = chart.data();
    const detail::RunnerState& state = detail::paired(chart, runner, "present");
    const detmath::SineCosine turned = detmath::sine_cosine(yaw);
    const glm::dvec2 ahead(turned.cosine, turned.sine), right(turned.sine, -turned.cosine);
    Presentation shown;
    const double usual = usual_speed(data);
    shown.pace = usual > 0.0 ? state.speed / usual : 0.0;
    const glm::dvec2 velocity = detail::flat(state.velocity);
    shown.heading = detmath::arc_tangent(-detail::inner(velocity, right), detail::inner(velocity, ahead));
    shown.rise = state.velocity.z;
    if (state.around.grounded) {
        const double rise = state.around.gradient.x * ahead.x + state.around.gradient.y * ahead.y;
        shown.slope = detmath::arc_tangent(rise, 1.0);
    }
    const glm::dvec2 gaining = detail::flat(detail::acceleration_now(data, state));
    shown.lean_forward = detail::inner(gaining, ahead);
    shown.lean_side = detail::inner(gaining, right);
    const detail::CompiledState& now = data.states[state.state];
    if (now.strides_per_metre > 0.0) {
        const double strides = detail::strides_at(state, now, state.distance);
        shown.stride = strides - std::floor(strides);
        shown.cadence = state.around.grounded ? 2.0 * now.strides_per_metre * state.speed : 0.0;
    }
    shown.time_in_state = runner.time_in_state();
    return shown;
}

void Blend::follow(const Report& report) {
    since_ += report.seconds;
    for (const Event& event : report.events()) {
        if (event.kind == EventKind::entered) {
            // Turned round on the way it goes back from where it is; on to a third state it goes from the heavier one.
            const double since = report.seconds - event.at;
            const double then = std::clamp((since_ - since) / seconds_.value, 0.0, 1.0);
            const StateId entered{event.subject};
            since_ = since;
            if (entered == from_) {
                from_ = to_;
                since_ += (1.0 - then) * seconds_.value;
            } else if (then >= 0.5) {
                from_ = to_;
            }
            to_ = entered;
        }
    }
}

void Blend::carry_over(const IdMap& ids, StateId now) {
    from_ = ids(from_).value_or(now);
    to_ = ids(to_).value_or(now);
}

double Blend::weight() const {
    return std::clamp(since_ / seconds_.value, 0.0, 1.0);
}

double Smoothed::follow(double target, Seconds dt) {
    if (half_life_.value <= 0.0) {
        value_ = target;
    } else if (dt.value > 0.0) {
        value_ = target + (value_ - target) * detmath::power_of_two(-dt.value / half_life_.value);
    }
    return value_;
}

double BodyFacing::turn_to(double target, Seconds dt) {
    const double gap = wrapped(target - yaw_);
    const double most = rate_ > 0.0 ? rate_ * std::max(dt.value, 0.0) : 2.0 * pi;
    yaw_ = std::fabs(gap) <= most ? wrapped(target) : wrapped(yaw_ + (gap > 0.0 ? most : -most));
    return yaw_;
}

double BodyFacing::follow(const Runner& runner, Facing facing, Seconds dt) {
    const glm::dvec3 velocity = runner.velocity();
    if (facing == Facing::look) {
        return turn_to(runner.yaw(), dt);
    }
    const bool goes = velocity.x * velocity.x + velocity.y * velocity.y > 1e-4;
    return goes ? turn_to(detmath::arc_tangent(velocity.y, velocity.x), dt) : yaw_;
}

LockOn::Status LockOn::follow(const Runner& runner, const Focus& focus) {
    const glm::dvec2 to = detail::flat(focus.position - runner.position());
    const double distance = detail::length_of(to);
    if (status_ == Status::lost || !(distance <= lost_beyond_)) {
        status_ = Status::lost;  // also where the target is nowhere
    } else if (distance <= reach_ * (status_ == Status::reached ? 1.1 : 1.0)) {
        status_ = Status::reached;
    } else {
        status_ = Status::held;
    }
    return status_;
}

bool Observers::add(EventKind kind, Call call, void* context) {
    if (count_ == entries_.size() || call == nullptr) {
        return false;
    }
    entries_[count_++] = {kind, call, context};
    return true;
}

std::size_t Observers::remove(Call call, void* context) {
    const auto end = entries_.begin() + static_cast<std::ptrdiff_t>(count_);
    const auto kept = std::remove_if(entries_.begin(), end, [&](const Entry& entry) {
        return entry.call == call && entry.context == context;
    });
    const auto gone = static_cast<std::size_t>(end - kept);
    count_ -= gone;
    return gone;
}

void Observers::tell(const Chart& chart, const Runner& runner, const Report& report) const {
    for (const Event& event : report.events()) {
        for (std::size_t i = 0; i < count_; ++i) {
            if (entries_[i].kind == event.kind) {
                entries_[i].call(entries_[i].context, chart, runner, event);
            }
        }
    }
}

}  // namespace cursimeter
