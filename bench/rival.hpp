#pragma once

#include <cstdint>

/// The rival: what a competent programmer writes by hand for the same walk, sprint and stamina. An
/// enum, a switch, constants in place, doubles, libm's sine and cosine; a tick is one step, with no
/// instants inside it and no causes. Kept honest: the fastest plain code, never slowed down.
namespace rival {

struct Input {
    double forward = 0.0, side = 0.0, yaw = 0.0;
    bool sprint = false;
    bool tread_pressed = false;
};

enum class State : std::uint8_t { walk, tread, sprint };

struct Runner {
    double x = 0.0, y = 0.0, vx = 0.0, vy = 0.0;
    double stamina = 100.0, wait = 0.0, distance = 0.0, time_in_state = 0.0;
    State state = State::walk;
    bool spent = false, tread = false;
};

void advance(Runner& runner, const Input& input, double dt);

}  // namespace rival
