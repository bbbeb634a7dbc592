#include "rival.hpp"

#include <algorithm>
#include <cmath>

namespace rival {
namespace {

constexpr double capacity = 100.0, refill_rate = 18.0, refill_wait = 0.7, drain = 12.0, recovered = 30.0;

State choose(const Runner& runner, const Input& input, double size) {
    const bool forward = size > 1e-6 && input.forward >= 0.5 * size;
    const bool enough = runner.state == State::sprint ? runner.stamina > 0.0 : runner.stamina >= 10.0;
    if (input.sprint && forward && enough && !runner.spent) {
        return State::sprint;
    }
    return runner.tread ? State::tread : State::walk;
}

void step_velocity(Runner& r, double tx, double ty, double rate, double dt) {
    const double dx = tx - r.vx, dy = ty - r.vy;
    const double gap = std::sqrt(dx * dx + dy * dy);
    const double step = rate * dt;
    if (gap <= step) {
        r.vx = tx;
        r.vy = ty;
    } else {
        r.vx += dx / gap * step;
        r.vy += dy / gap * step;
    }
}

}  // namespace

void advance(Runner& r, const Input& input, double dt) {
    if (input.tread_pressed) {
        r.tread = !r.tread;
    }
    const double size = std::sqrt(input.forward * input.forward + input.side * input.side);
    const State state = choose(r, input, size);
    r.time_in_state = state == r.state ? r.time_in_state + dt : 0.0;
    r.state = state;

    double ahead = 0.0, aside = 0.0, back = 0.0, up = 12.0, down = 16.0;
    switch (state) {
        case State::walk:
            ahead = 2.4, aside = 2.1, back = 1.6;
            break;
        case State::tread:
            ahead = 1.1, aside = 0.9, back = 0.8;
            break;
        case State::sprint:
            ahead = 6.5, aside = 2.1, back = 1.6;
            break;
    }
    double tx = 0.0, ty = 0.0, speed = 0.0;
    if (size > 1e-6) {
        const double f = input.forward / size, s = input.side / size;
        const double a = f / (f >= 0.0 ? ahead : back), b = s / aside;
        speed = std::min(size, 1.0) / std::sqrt(a * a + b * b);
        const double sine = std::sin(input.yaw), cosine = std::cos(input.yaw);
        tx = (cosine * f + sine * s) * speed;
        ty = (sine * f - cosine * s) * speed;
    }
    const double before = std::sqrt(r.vx * r.vx + r.vy * r.vy);
    step_velocity(r, tx, ty, size <= 1e-6 ? 10.0 : speed >= before ? up : down, dt);
    r.x += r.vx * dt;
    r.y += r.vy * dt;
    const double now = std::sqrt(r.vx * r.vx + r.vy * r.vy);
    r.distance += now * dt;

    if (state == State::sprint && now > 0.1) {
        r.stamina = std::max(0.0, r.stamina - drain * dt);
        r.wait = refill_wait;
        if (r.stamina <= 0.0) {
            r.spent = true;
        }
    } else if (r.wait > 0.0) {
        r.wait -= dt;
    } else {
        r.stamina = std::min(capacity, r.stamina + refill_rate * dt);
        if (r.stamina >= recovered) {
            r.spent = false;
        }
    }
}

}  // namespace rival
