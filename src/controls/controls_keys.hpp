#pragma once

#include <cursimeter/controls.hpp>

#include "core/chart/chart_keys.hpp"

/// Every key of a controls file.
namespace cursimeter::keys {

template <class Visitor, class Spec>
void describe_binding(Visitor& visitor, Spec& binding) {
    visitor.text(plain_key("action", "required",
                           "an action of the chart, or move_forward, move_back, move_left, move_right"),
                 binding.action);
    visitor.names(plain_key("inputs", "required", "the game's names of what must be down together"),
                  binding.inputs);
    visitor.number(wait_key("double_tap", "0: once is enough",
                            "the last input counts only if it went down twice within this time", 2.0),
                   binding.double_tap);
}

template <class Visitor, class Spec>
void describe_press_choice(Visitor& visitor, Spec& choice) {
    visitor.choice(plain_key("press", "hold", "in place of the chart's choice"), choice.press, press_modes);
}

template <class Visitor, class Spec>
void describe_stick(Visitor& visitor, Spec& stick) {
    visitor.number({.name = "dead_zone",
                    .fallback = "0.15",
                    .meaning = "deflections below this are none",
                    .least = 0.0,
                    .most = 0.9},
                   stick.dead_zone);
    visitor.number({.name = "full_at",
                    .fallback = "0.95",
                    .meaning = "deflections from this on are full",
                    .least = 0.1,
                    .most = 1.0},
                   stick.full_at);
    visitor.number({.name = "exponent",
                    .fallback = "1",
                    .meaning = "of what lies between; above 1 is finer near the centre",
                    .least = 0.1,
                    .most = 10.0},
                   stick.exponent);
}

template <class Visitor, class Spec>
void describe_look_control(Visitor& visitor, Spec& look) {
    visitor.number({.name = "sensitivity",
                    .unit = "deg per unit of a mouse",
                    .fallback = "0.15",
                    .meaning = "how far the look turns",
                    .least = 0.0,
                    .most = 100.0},
                   look.sensitivity);
    visitor.number({.name = "turn_rate",
                    .unit = "deg/s",
                    .fallback = "180",
                    .meaning = "of a stick at full deflection",
                    .least = 0.0,
                    .most = 3600.0},
                   look.turn_rate);
    visitor.truth(plain_key("invert_pitch", "false", "up turns the look down"), look.invert_pitch);
    visitor.number({.name = "most_pitch",
                    .unit = "deg",
                    .fallback = "85",
                    .meaning = "up and down",
                    .least = 0.0,
                    .most = 90.0},
                   look.most_pitch);
    visitor.number(wait_key("smoothing", "0", "half of what is still to turn is turned in this time", 1.0),
                   look.smoothing);
}

template <class Visitor, class Spec>
void describe_controls(Visitor& visitor, Spec& controls) {
    visitor.text(plain_key("name", "required", "name of the settings"), controls.name);
    visitor.each(
        tables_key("actions", "none", "the player's choice how an action is pressed", limits::actions),
        controls.presses, [](auto& v, auto& s) { describe_press_choice(v, s); });
    visitor.table(plain_key("stick", "defaults", "how the move stick is read"), controls.stick,
                  [](auto& v, auto& s) { describe_stick(v, s); });
    visitor.table(plain_key("look", "defaults", "how mouse and look stick are read"), controls.look,
                  [](auto& v, auto& s) { describe_look_control(v, s); });
    visitor.list(plain_key("bind", "none", "what presses what; several for one action are alternatives"),
                 controls.bindings, [](auto& v, auto& s) { describe_binding(v, s); });
}

}  // namespace cursimeter::keys
