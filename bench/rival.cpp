#include "rival.hpp"

#include <algorithm>
#include <cmath>

namespace rival {
namespace {

constexpr int capacity = 100, refill_rate = 18, drain = 12, recovered = 30;

template <class Real>
constexpr Real refill_wait = Real(0.7);

template <class Real>
struct Turned {
    Real sine, cosine;
};

/// By the quarter turn it is in and polynomials for what is left of it, to 1e-7: enough for a game.
template <class Real>
Turned<Real> polynomial(Real angle) {
    const Real quarter = std::floor(angle * Real(0.6366197723675814) + Real(0.5));
    const Real x = angle - quarter * Real(1.5707963267948966), z = x * x;
    const Real s =
        x *
        (1 + z * (Real(-1.0 / 6) + z * (Real(1.0 / 120) + z * (Real(-1.0 / 5040) + z * Real(1.0 / 362880)))));
    const Real c =
        1 + z * (Real(-0.5) + z * (Real(1.0 / 24) + z * (Real(-1.0 / 720) + z * Real(1.0 / 40320))));
    switch (static_cast<int>(quarter) & 3) {
        case 0:
            return {s, c};
        case 1:
            return {c, -s};
        case 2:
            return {-s, -c};
        default:
            return {-c, s};
    }
}

template <Sine sine, class Real>
Turned<Real> turned(Real angle) {
    if constexpr (sine == Sine::library) {
        return {std::sin(angle), std::cos(angle)};
    } else {
        return polynomial(angle);
    }
}

template <class Real>
State choose(Runner<Real>& r, const Input& input, bool jump_pressed, bool dash_pressed) {
    const bool forward = r.size > Real(1e-6) && r.forward >= Real(0.5) * r.size;
    if (r.state == State::dash ? r.time_in_state < Real(0.2)
                               : dash_pressed && r.dash_wait <= 0 && r.stamina >= 15) {
        return State::dash;
    }
    if (r.state == State::jump ? !r.grounded && r.vz > 0 : jump_pressed && r.grounded && r.stamina >= 8) {
        return State::jump;
    }
    if (!r.grounded) {
        const bool glides = input.cape && (r.state == State::glide || r.vz < 0);
        return glides ? State::glide : State::fall;
    }
    const Real squared = r.vx * r.vx + r.vy * r.vy;
    if (input.crouch && (r.state == State::slide ? squared > 4 : squared > 25 && r.slide_wait <= 0)) {
        return State::slide;
    }
    if (input.crouch) {
        return State::crouch;
    }
    const bool enough = r.state == State::sprint ? r.stamina > 0 : r.stamina >= 10;
    if (input.sprint && forward && enough && !r.spent) {
        return State::sprint;
    }
    return r.tread ? State::tread : State::walk;
}

template <class Real>
void step_velocity(Runner<Real>& r, Real tx, Real ty, Real rate, Real dt) {
    const Real dx = tx - r.vx, dy = ty - r.vy;
    const Real gap = std::sqrt(dx * dx + dy * dy);
    const Real step = rate * dt;
    if (gap <= step) {
        r.vx = tx;
        r.vy = ty;
    } else {
        r.vx += dx / gap * step;
        r.vy += dy / gap * step;
    }
}

/// Speed wanted in the direction of the stick: on an ellipse.
template <class Real>
Real wanted_speed(const Runner<Real>& r, Real ahead, Real aside, Real back) {
    if (r.size <= Real(1e-6)) {
        return 0;
    }
    if (r.side == 0) {
        return std::min(r.size, Real(1)) * (r.forward >= 0 ? ahead : back);
    }
    const Real a = r.forward / (r.forward >= 0 ? ahead : back), b = r.side / aside;
    return std::min(r.size, Real(1)) * r.size / std::sqrt(a * a + b * b);
}

template <class Real, Style style>
void enter(Runner<Real>& r, State state, const Input& input) {
    if (state == State::jump) {
        r.vz = Real(6.841052550594829);  // sqrt(2 * 18 * 1.3)
        r.grounded = false;
        r.stamina -= 8;
        r.wait = refill_wait<Real>;
    } else if (state == State::dash) {
        Real x = r.wish_x, y = r.wish_y;
        if (r.size <= Real(1e-6)) {
            const Turned<Real> ahead = turned<style.sine>(Real(input.yaw));
            x = ahead.cosine;
            y = ahead.sine;
        }
        r.vx = 15 * x;
        r.vy = 15 * y;
        r.vz = 0;
        r.stamina -= 15;
        r.wait = refill_wait<Real>;
        r.dash_wait = 3;
    } else if (state == State::slide) {
        const Real speed = std::sqrt(r.vx * r.vx + r.vy * r.vy);
        const Real factor = (speed + std::min(Real(1.5), std::max(Real(0), 8 - speed))) / speed;
        r.vx *= factor;
        r.vy *= factor;
        r.slide_wait = Real(1.2);
    }
}

template <class Real, Style style>
void move_ground(Runner<Real>& r, Real ahead, Real aside, Real back, Real dt) {
    const Real speed = wanted_speed(r, ahead, aside, back);
    const Real tx = r.wish_x * speed, ty = r.wish_y * speed;
    if constexpr (style.law == Law::instant) {
        r.vx = tx;
        r.vy = ty;
        return;
    }
    const Real before = std::sqrt(r.vx * r.vx + r.vy * r.vy);
    const bool idle = r.size <= Real(1e-6), faster = speed >= before;
    if constexpr (style.law == Law::ease) {
        // 1 - 2^(-1/60 s / half-life) for 0.1 and 0.07 s: the tick's length is known beforehand.
        const Real part = faster && !idle ? Real(0.10910128185966073) : Real(0.15212471960206484);
        r.vx += (tx - r.vx) * part;
        r.vy += (ty - r.vy) * part;
    } else {
        step_velocity(r, tx, ty, idle ? Real(10) : faster ? Real(12) : Real(16), dt);
    }
}

template <class Real>
void move_air(Runner<Real>& r, Real dt) {
    if (r.size > Real(1e-6)) {
        const Real speed = std::max(std::min(r.size, Real(1)) * 4, r.vx * r.wish_x + r.vy * r.wish_y);
        step_velocity(r, r.wish_x * speed, r.wish_y * speed, Real(10), dt);
    }
    r.vz = std::max(Real(-40), r.vz - (r.vz > 0 ? Real(18) : Real(26)) * dt);
}

/// What the stick and the look come to, while they are as they were.
template <class Real, Style style>
void take_input(Runner<Real>& r, const Input& input) {
    const Real forward = Real(input.forward), side = Real(input.side), yaw = Real(input.yaw);
    if (forward == r.forward && side == r.side && yaw == r.yaw) {
        return;
    }
    r.forward = forward;
    r.side = side;
    r.yaw = yaw;
    r.size = std::sqrt(forward * forward + side * side);
    if (r.size <= Real(1e-6)) {
        r.wish_x = r.wish_y = 0;
        return;
    }
    const Real f = forward / r.size, s = side / r.size;
    const Turned<Real> look = turned<style.sine>(yaw);
    r.wish_x = look.cosine * f + look.sine * s;
    r.wish_y = look.sine * f - look.cosine * s;
}

}  // namespace

template <class Real, Style style>
void steer(Runner<Real>& r, const Input& input, Real dt) {
    const bool jump_pressed = input.jump && !r.jump_before, dash_pressed = input.dash && !r.dash_before;
    r.jump_before = input.jump;
    r.dash_before = input.dash;
    if (input.tread_pressed) {
        r.tread = !r.tread;
    }
    r.dash_wait -= dt;
    r.slide_wait -= dt;
    take_input<Real, style>(r, input);
    const State state = choose(r, input, jump_pressed, dash_pressed);
    r.time_in_state = state == r.state ? r.time_in_state + dt : 0;
    if (state != r.state) {
        enter<Real, style>(r, state, input);
        r.state = state;
    }
    switch (state) {
        case State::walk:
            move_ground<Real, style>(r, Real(2.4), Real(2.1), Real(1.6), dt);
            break;
        case State::tread:
            move_ground<Real, style>(r, Real(1.1), Real(0.9), Real(0.8), dt);
            break;
        case State::sprint:
            move_ground<Real, style>(r, Real(6.5), Real(2.1), Real(1.6), dt);
            break;
        case State::crouch:
            move_ground<Real, style>(r, Real(1.6), Real(1.4), Real(1.2), dt);
            break;
        case State::slide: {
            const Real speed = std::sqrt(r.vx * r.vx + r.vy * r.vy);
            const Real factor = speed > 0 ? std::max(Real(0), speed - 5 * dt) / speed : Real(0);
            r.vx *= factor;
            r.vy *= factor;
            break;
        }
        case State::jump:
        case State::fall:
            move_air(r, dt);
            break;
        case State::dash:
            break;
        case State::glide: {
            const Real speed = wanted_speed(r, Real(7.5), Real(5), Real(3));
            step_velocity(r, r.wish_x * speed, r.wish_y * speed, Real(12), dt);
            r.vz += std::clamp(Real(-1.2) - r.vz, -12 * dt, 12 * dt);
            break;
        }
    }
}

template <class Real, Style style>
void finish(Runner<Real>& r, Real dt) {
    const Real now = std::sqrt(r.vx * r.vx + r.vy * r.vy + r.vz * r.vz);
    r.distance += now * dt;
    if constexpr (style.footsteps) {
        if (r.grounded) {
            r.to_step -= now * dt;
            if (r.to_step <= 0) {
                r.to_step += Real(0.7);
                r.left_foot = !r.left_foot;
                ++r.steps;
            }
        }
    }
    if (r.state == State::sprint && now > Real(0.1)) {
        r.stamina = std::max(Real(0), r.stamina - drain * dt);
        r.wait = refill_wait<Real>;
        if (r.stamina <= 0) {
            r.spent = true;
        }
    } else if (r.wait > 0) {
        r.wait -= dt;
    } else {
        r.stamina = std::min(Real(capacity), r.stamina + refill_rate * dt);
        if (r.stamina >= recovered) {
            r.spent = false;
        }
    }
}

template <class Real, Style style>
void advance(Runner<Real>& r, const Input& input, Real dt) {
    steer<Real, style>(r, input, dt);
    r.x += r.vx * dt;
    r.y += r.vy * dt;
    r.z += r.vz * dt;
    if (!r.grounded && r.z <= 0 && r.vz <= 0) {
        r.z = 0;
        r.vz = 0;
        r.grounded = true;
    }
    finish<Real, style>(r, dt);
}

// Each law with the library's sine; of the ramp the variants as well.
template void advance<double, Style{}>(Runner<double>&, const Input&, double);
template void advance<double, Style{Law::ramp, true}>(Runner<double>&, const Input&, double);
template void advance<double, Style{Law::ease}>(Runner<double>&, const Input&, double);
template void advance<double, Style{Law::instant}>(Runner<double>&, const Input&, double);
template void advance<double, Style{Law::ramp, false, Sine::polynomial}>(Runner<double>&, const Input&,
                                                                         double);
template void advance<float, Style{Law::ramp, false, Sine::polynomial}>(Runner<float>&, const Input&, float);
template void steer<double, Style{}>(Runner<double>&, const Input&, double);
template void finish<double, Style{}>(Runner<double>&, double);

}  // namespace rival
