#pragma once

#include <cstdint>

/// The rival: what a competent programmer writes by hand for the same ways of moving (walk, tread, sprint,
/// crouch, slide, jump, fall, dash, glide) with stamina and cooldowns. An enum, an if-chain, switches and
/// constants in place; a tick is one step, with no instants inside it and no causes. Kept honest: the fastest plain code,
/// never slowed down. What stays while stick, look and state stay is kept.
namespace rival {

enum class Sine : std::uint8_t { library, polynomial };
enum class Law : std::uint8_t { ramp, ease, instant };

/// How it is written. Each is compiled for itself, so none pays for another.
struct Style {
    Law law = Law::ramp;
    bool footsteps = false;
    Sine sine = Sine::library;
};

struct Input {
    double forward = 0.0, side = 0.0, yaw = 0.0;
    bool sprint = false, tread_pressed = false, crouch = false, jump = false, dash = false, cape = false;
};

enum class State : std::uint8_t { walk, tread, sprint, crouch, slide, jump, fall, dash, glide };

template <class Real>
struct Runner {
    Real x = 0, y = 0, z = 0, vx = 0, vy = 0, vz = 0;
    Real stamina = 100, wait = 0, distance = 0, time_in_state = 0;
    Real dash_wait = 0, slide_wait = 0;
    Real forward = 0, side = 0, yaw = 0;  ///< of the tick before
    Real size = 0, wish_x = 0,
         wish_y = 0;   ///< what they come to: length of the stick, direction in the world
    Real to_step = 1;  ///< m
    State state = State::walk;
    bool spent = false, tread = false, grounded = true, jump_before = false, dash_before = false;
    bool left_foot = false;
    std::uint32_t steps = 0;
};

/// On open flat ground.
template <class Real, Style style>
void advance(Runner<Real>& runner, const Input& input, Real dt);
/// The velocity and the state of a tick; then the place is the caller's to change.
template <class Real, Style style>
void steer(Runner<Real>& runner, const Input& input, Real dt);
/// Ends a tick by the velocity that came of it.
template <class Real, Style style>
void finish(Runner<Real>& runner, Real dt);

}  // namespace rival
