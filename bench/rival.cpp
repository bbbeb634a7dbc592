#include "rival.hpp"

#include <algorithm>
#include <cmath>

namespace rival {
namespace {

constexpr double capacity = 100.0, refill_rate = 18.0, refill_wait = 0.7, drain = 12.0, recovered = 30.0;

State choose(Runner& r, const Input& input, double size, bool jump_pressed, bool dash_pressed) {
    const bool forward = size > 1e-6 && input.forward >= 0.5 * size;
    if (r.state == State::dash ? r.time_in_state < 0.2
                               : dash_pressed && r.dash_wait <= 0.0 && r.stamina >= 15.0) {
        return State::dash;
    }
    if (r.state == State::jump ? !r.grounded && r.vz > 0.0 : jump_pressed && r.grounded && r.stamina >= 8.0) {
        return State::jump;
    }
    if (!r.grounded) {
        const bool glides = input.cape && (r.state == State::glide || r.vz < 0.0);
        return glides ? State::glide : State::fall;
    }
    const double squared = r.vx * r.vx + r.vy * r.vy;
    if (input.crouch && (r.state == State::slide ? squared > 4.0 : squared > 25.0 && r.slide_wait <= 0.0)) {
        return State::slide;
    }
    if (input.crouch) {
        return State::crouch;
    }
    const bool enough = r.state == State::sprint ? r.stamina > 0.0 : r.stamina >= 10.0;
    if (input.sprint && forward && enough && !r.spent) {
        return State::sprint;
    }
    return r.tread ? State::tread : State::walk;
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

struct Wish {
    double x = 0.0, y = 0.0, speed = 0.0;
};

Wish wish_of(const Input& input, double size, double ahead, double aside, double back) {
    if (size <= 1e-6) {
        return {};
    }
    const double f = input.forward / size, s = input.side / size;
    const double a = f / (f >= 0.0 ? ahead : back), b = s / aside;
    const double speed = std::min(size, 1.0) / std::sqrt(a * a + b * b);
    const double sine = std::sin(input.yaw), cosine = std::cos(input.yaw);
    return {(cosine * f + sine * s), (sine * f - cosine * s), speed};
}

void enter(Runner& r, State state, const Input& input, double size) {
    if (state == State::jump) {
        r.vz = 6.841052550594829;  // sqrt(2 * 18 * 1.3)
        r.grounded = false;
        r.stamina -= 8.0;
        r.wait = refill_wait;
    } else if (state == State::dash) {
        const Wish wish = wish_of(input, size, 1.0, 1.0, 1.0);
        const bool wanted = size > 1e-6;
        r.vx = 15.0 * (wanted ? wish.x : std::cos(input.yaw));
        r.vy = 15.0 * (wanted ? wish.y : std::sin(input.yaw));
        r.vz = 0.0;
        r.stamina -= 15.0;
        r.wait = refill_wait;
        r.dash_wait = 3.0;
    } else if (state == State::slide) {
        const double speed = std::sqrt(r.vx * r.vx + r.vy * r.vy);
        const double factor = (speed + std::min(1.5, std::max(0.0, 8.0 - speed))) / speed;
        r.vx *= factor;
        r.vy *= factor;
        r.slide_wait = 1.2;
    }
}

void move_ground(Runner& r, const Input& input, double size, double ahead, double aside, double back,
                 double dt) {
    const Wish wish = wish_of(input, size, ahead, aside, back);
    const double before = std::sqrt(r.vx * r.vx + r.vy * r.vy);
    step_velocity(r, wish.x * wish.speed, wish.y * wish.speed,
                  size <= 1e-6           ? 10.0
                  : wish.speed >= before ? 12.0
                                         : 16.0,
                  dt);
}

void move_air(Runner& r, const Input& input, double size, double dt) {
    if (size > 1e-6) {
        const Wish wish = wish_of(input, size, 4.0, 4.0, 4.0);
        const double speed = std::max(wish.speed, r.vx * wish.x + r.vy * wish.y);
        step_velocity(r, wish.x * speed, wish.y * speed, 10.0, dt);
    }
    r.vz = std::max(-40.0, r.vz - (r.vz > 0.0 ? 18.0 : 26.0) * dt);
}

}  // namespace

void steer(Runner& r, const Input& input, double dt) {
    const bool jump_pressed = input.jump && !r.jump_before, dash_pressed = input.dash && !r.dash_before;
    r.jump_before = input.jump;
    r.dash_before = input.dash;
    if (input.tread_pressed) {
        r.tread = !r.tread;
    }
    r.dash_wait -= dt;
    r.slide_wait -= dt;
    const double size = std::sqrt(input.forward * input.forward + input.side * input.side);
    const State state = choose(r, input, size, jump_pressed, dash_pressed);
    r.time_in_state = state == r.state ? r.time_in_state + dt : 0.0;
    if (state != r.state) {
        enter(r, state, input, size);
        r.state = state;
    }
    switch (state) {
        case State::walk:
            move_ground(r, input, size, 2.4, 2.1, 1.6, dt);
            break;
        case State::tread:
            move_ground(r, input, size, 1.1, 0.9, 0.8, dt);
            break;
        case State::sprint:
            move_ground(r, input, size, 6.5, 2.1, 1.6, dt);
            break;
        case State::crouch:
            move_ground(r, input, size, 1.6, 1.4, 1.2, dt);
            break;
        case State::slide: {
            const double speed = std::sqrt(r.vx * r.vx + r.vy * r.vy);
            const double factor = speed > 0.0 ? std::max(0.0, speed - 5.0 * dt) / speed : 0.0;
            r.vx *= factor;
            r.vy *= factor;
            break;
        }
        case State::jump:
        case State::fall:
            move_air(r, input, size, dt);
            break;
        case State::dash:
            break;
        case State::glide: {
            const Wish wish = wish_of(input, size, 7.5, 5.0, 3.0);
            step_velocity(r, wish.x * wish.speed, wish.y * wish.speed, 12.0, dt);
            r.vz += std::clamp(-1.2 - r.vz, -12.0 * dt, 12.0 * dt);
            break;
        }
    }
}

void finish(Runner& r, double dt) {
    const double now = std::sqrt(r.vx * r.vx + r.vy * r.vy + r.vz * r.vz);
    r.distance += now * dt;
    if (r.state == State::sprint && now > 0.1) {
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

void advance(Runner& r, const Input& input, double dt) {
    steer(r, input, dt);
    r.x += r.vx * dt;
    r.y += r.vy * dt;
    r.z += r.vz * dt;
    if (!r.grounded && r.z <= 0.0 && r.vz <= 0.0) {
        r.z = 0.0;
        r.vz = 0.0;
        r.grounded = true;
    }
    finish(r, dt);
}

}  // namespace rival
