#pragma once

#include <cstdint>

/// The rival: what a competent programmer writes by hand for the same ways of moving (walk, tread, sprint,
/// crouch, slide, jump, fall, dash, glide) with stamina and cooldowns. An enum, an if-chain, switches,
/// constants in place, doubles, libm's sine and cosine; a tick is one step, with no instants inside it and
/// no causes. Kept honest: the fastest plain code, never slowed down.
namespace rival {

struct Input {
    double forward = 0.0, side = 0.0, yaw = 0.0;
    bool sprint = false, tread_pressed = false, crouch = false, jump = false, dash = false, cape = false;
};

enum class State : std::uint8_t { walk, tread, sprint, crouch, slide, jump, fall, dash, glide };

struct Runner {
    double x = 0.0, y = 0.0, z = 0.0, vx = 0.0, vy = 0.0, vz = 0.0;
    double stamina = 100.0, wait = 0.0, distance = 0.0, time_in_state = 0.0;
    double dash_wait = 0.0, slide_wait = 0.0;
    State state = State::walk;
    bool spent = false, tread = false, grounded = true, jump_before = false, dash_before = false;
};

/// On open flat ground.
void advance(Runner& runner, const Input& input, double dt);
/// The velocity and the state of a tick; then the place is the caller's to change.
void steer(Runner& runner, const Input& input, double dt);
/// Ends a tick by the velocity that came of it.
void finish(Runner& runner, double dt);

}  // namespace rival
