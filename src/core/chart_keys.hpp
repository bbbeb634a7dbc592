#pragma once

#include <array>
#include <cursimeter/chart_spec.hpp>

#include "core/key.hpp"
#include "core/state_keys.hpp"

/// Every key of a chart file, states apart.
namespace cursimeter::keys {

inline constexpr std::array<ChoiceName<PressMode>, 2> press_modes{
    {{"hold", PressMode::hold}, {"toggle", PressMode::toggle}}};

template <class Visitor, class Spec>
void describe_body(Visitor& visitor, Spec& body) {
    visitor.number(length_key("radius", "0.35", "of the upright capsule", 0.05, 10.0), body.radius);
    visitor.number(length_key("height", "1.8", "of the whole capsule; at least twice the radius", 0.1, 50.0),
                   body.height);
    visitor.number(length_key("low_height", "0.6 of the height",
                              "height in states with `low = true`; at least twice the radius", 0.1, 50.0),
                   body.low_height);
    visitor.number(length_key("step_height", "0.35",
                              "steps up to this height are walked over without slowing down, and steps "
                              "down to it are followed",
                              0.0, 5.0),
                   body.step_height);
    visitor.angle(angle_key("slope_limit", "50", "ground steeper than this is a wall", 1.0, 89.0),
                  body.slope_limit);
    visitor.number(speed_key("stick_speed", "12",
                             "up to this speed it keeps to ground that falls away; above it, it flies off a "
                             "crest"),
                   body.stick_speed);
    visitor.number({.name = "gravity",
                    .unit = "m/s^2",
                    .fallback = "20",
                    .meaning = "where a state says no other",
                    .least = 0.1,
                    .most = 1000.0},
                   body.gravity);
    visitor.number(wait_key("coyote", "0", "how long \"footing\" lasts after walking off an edge", 1.0),
                   body.coyote);
}

template <class Visitor, class Spec>
void describe_input(Visitor& visitor, Spec& input) {
    visitor.angle(
        {.name = "forward_within",
         .unit = "deg",
         .fallback = "60",
         .meaning = "\"moving forward\" holds while the move points within this angle of straight "
                    "ahead, \"moving backward\" within it of straight back, \"moving sideways\" between",
         .least = 1.0,
         .most = 89.0},
        input.forward_within);
}

template <class Visitor, class Spec>
void describe_action(Visitor& visitor, Spec& action) {
    visitor.choice(plain_key("press", "hold",
                             "hold: on while the key is down; toggle: each press switches it on or off. "
                             "A player may override it at run time"),
                   action.press, press_modes);
    visitor.number(
        wait_key("buffer", "0",
                 "how long a press waits for a state that it can bring about; at most 4 actions of "
                 "a chart can have one",
                 1.0),
        action.buffer);
}

template <class Visitor, class Spec>
void describe_refill(Visitor& visitor, Spec& refill) {
    visitor.number({.name = "rate",
                    .unit = "per second",
                    .fallback = "required",
                    .meaning = "how fast the meter refills while nothing drains it",
                    .least = 0.0,
                    .most = 1e6,
                    .above_least = true},
                   refill.rate);
    visitor.number({.name = "wait",
                    .unit = "s",
                    .fallback = "0",
                    .meaning = "how long after the last drain the refill begins",
                    .least = 0.0,
                    .most = 3600.0},
                   refill.wait);
}

template <class Visitor, class Spec>
void describe_spent(Visitor& visitor, Spec& spent) {
    visitor.number({.name = "at",
                    .fallback = "0",
                    .meaning = "the meter becomes spent when it falls to this level",
                    .least = 0.0,
                    .most = 1e6},
                   spent.at);
    visitor.number({.name = "until",
                    .fallback = "required",
                    .meaning = "it stays spent until it has refilled to this level; above `at`",
                    .least = 0.0,
                    .most = 1e6,
                    .above_least = true},
                   spent.until);
    visitor.truth(plain_key("bars", "true",
                            "states that drain this meter can neither be entered nor kept while it is spent"),
                  spent.bars);
}

template <class Visitor, class Spec>
void describe_meter(Visitor& visitor, Spec& meter) {
    visitor.number({.name = "capacity",
                    .fallback = "required",
                    .meaning = "level of the full meter, in a unit of your own",
                    .least = 0.001,
                    .most = 1e6},
                   meter.capacity);
    visitor.number({.name = "start",
                    .fallback = "the capacity",
                    .meaning = "level at spawn; at most the capacity",
                    .least = 0.0,
                    .most = 1e6},
                   meter.start);
    visitor.table(plain_key("refill", "none", "how the meter comes back"), meter.refill,
                  [](auto& v, auto& s) { describe_refill(v, s); });
    visitor.table(
        plain_key("spent", "none", "the latch that keeps a drained meter from being used again at once"),
        meter.spent, [](auto& v, auto& s) { describe_spent(v, s); });
}

template <class Visitor, class Spec>
void describe_cooldown(Visitor& visitor, Spec& cooldown) {
    visitor.number(
        {.name = "seconds",
         .unit = "s",
         .fallback = "required",
         .meaning = "from the entry of a state that uses it until such a state may be entered again",
         .least = 0.0,
         .most = 300.0,
         .above_least = true},
        cooldown.seconds);
}

template <class Visitor, class Spec>
void describe_chart(Visitor& visitor, Spec& chart) {
    visitor.text(plain_key("name", "required", "name of the chart"), chart.name);
    visitor.names(
        plain_key("rank", "required",
                  "all states, in the order in which they are tried; the first that may be is taken"),
        chart.rank);
    visitor.table(plain_key("body", "defaults", "the capsule, and how it stands on the ground"), chart.body,
                  [](auto& v, auto& s) { describe_body(v, s); });
    visitor.table(plain_key("input", "defaults", "how the intent is read"), chart.input,
                  [](auto& v, auto& s) { describe_input(v, s); });
    visitor.names(
        plain_key("zones", "none", "kinds of zones that conditions can tell apart, up to 6: \"in mud\""),
        chart.zones);
    visitor.each(plain_key("actions", "none", "what the player can press; keys are bound elsewhere"),
                 chart.actions, [](auto& v, auto& s) { describe_action(v, s); });
    visitor.each(plain_key("meters", "none", "bounded quantities such as stamina"), chart.meters,
                 [](auto& v, auto& s) { describe_meter(v, s); });
    visitor.each(plain_key("cooldowns", "none", "waits before something may be used again"), chart.cooldowns,
                 [](auto& v, auto& s) { describe_cooldown(v, s); });
    visitor.each(plain_key("states", "required", "ways of moving"), chart.states,
                 [](auto& v, auto& s) { describe_state(v, s); });
}

}  // namespace cursimeter::keys
