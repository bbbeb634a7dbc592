#pragma once

#include "support/leaper_chart.hpp"

namespace support {

/// Every kind of motion in one chart, with a dash of 200 m/s. In the air and on a slide nothing adds
/// energy: no steering, one gravity, no boost.
inline ChartSpec all_ways() {
    ChartSpec spec = leaper();
    spec.name = "all_ways";
    spec.body.coyote = 0.08;
    spec.actions = {{.name = "jump", .press = PressMode::hold, .buffer = 0.1},
                    {.name = "crouch"},
                    {.name = "dash"},
                    {.name = "fly", .press = PressMode::toggle},
                    {.name = "sprint"}};
    spec.cooldowns = {{.name = "dash", .seconds = 2.0}};
    spec.meters = {stamina()};
    for (StateSpec& state : spec.states) {
        state.air.fall_gravity = 20.0;
        state.air.terminal = 80.0;
    }
    spec.states[1].wind = 1.0;
    StateSpec sprint = spec.states[0];
    sprint.name = "sprint";
    sprint.speed.forward = 9.0;
    sprint.enter = Condition{"sprint on", "grounded", "moving forward", "stamina > 5"};
    sprint.drain = {{"stamina", 10.0}};
    StateSpec crouch = spec.states[0];
    crouch.name = "crouch";
    crouch.low = true;
    crouch.speed.forward = 1.5;
    crouch.enter =
        Condition(std::vector<std::vector<std::string>>{{"crouch on", "grounded"}, {"not headroom"}});
    StateSpec slide = kind("slide", StateKind::slide);
    slide.low = true;
    slide.enter = Condition{"crouch on", "grounded", "speed > 6"};
    slide.stay = Condition{"crouch on", "grounded", "speed > 1"};
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst.along = std::vector<Along>{Along::input, Along::look, Along::velocity, Along::facing};
    dash.burst.speed = 200.0;
    dash.burst.seconds = 0.1;
    dash.burst.after = After::stop;
    dash.cooldown = "dash";
    dash.enter = Condition{"dash pressed"};
    StateSpec fly = kind("fly", StateKind::fly);
    fly.speed = {.forward = 8.0, .side = {}, .back = {}};
    fly.gain = ease(0.2, 0.2, 0.2);
    fly.fly = {.by_look = {}, .up = "jump", .down = "crouch", .climb = 4.0, .dive = 4.0, .sink = {}};
    fly.enter = Condition{"fly on"};
    StateSpec wall = kind("wallrun", StateKind::wall);
    wall.speed = {.forward = 7.0, .side = {}, .back = {}};
    wall.gain = ramp(5.0, 5.0, 5.0);
    wall.wall = {.reach = 0.3,
                 .least_speed = 2.0,
                 .most_angle = {},
                 .seconds = 1.0,
                 .climb = 1.0,
                 .gravity = 2.0,
                 .growth = 6.0};
    wall.enter = Condition{"moving forward", "not grounded"};
    StateSpec off = spec.states[2];
    off.name = "walljump";
    off.again = {};
    off.launch = {};
    off.launch.heights = std::vector<double>{1.2};
    off.launch.away = Degrees{60.0};
    off.launch.away_speed = 6.0;
    off.from = std::vector<std::string>{"wallrun"};
    spec.states.insert(spec.states.end(), {sprint, crouch, slide, dash, fly, wall, off});
    spec.rank = {"dash", "fly", "walljump", "wallrun", "jump", "fall", "slide", "crouch", "sprint", "run"};
    return spec;
}

}  // namespace support
