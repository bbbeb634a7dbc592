#pragma once

#include <cursimeter/drill.hpp>

#include "core/chart/key.hpp"

/// Every key of a drill file.
namespace cursimeter::keys {

template <class Visitor, class Spec>
void describe_move(Visitor& visitor, Spec& move) {
    visitor.number({.name = "forward",
                    .fallback = "0",
                    .meaning = "+ ahead, - back; 1 is full stick",
                    .least = -1.0,
                    .most = 1.0},
                   move.forward);
    visitor.number({.name = "side",
                    .fallback = "0",
                    .meaning = "+ to the right, - to the left",
                    .least = -1.0,
                    .most = 1.0},
                   move.side);
}

template <class Visitor, class Spec>
void describe_look(Visitor& visitor, Spec& look) {
    visitor.angle({.name = "yaw",
                   .unit = "deg",
                   .fallback = "0",
                   .meaning = "0 looks along +x, growing towards +y",
                   .least = -3600.0,
                   .most = 3600.0},
                  look.yaw);
    visitor.angle({.name = "pitch",
                   .unit = "deg",
                   .fallback = "0",
                   .meaning = "positive upward",
                   .least = -90.0,
                   .most = 90.0},
                  look.pitch);
}

template <class Visitor, class Spec>
void describe_step(Visitor& visitor, Spec& step) {
    visitor.number({.name = "at",
                    .unit = "s",
                    .fallback = "required",
                    .meaning = "when; in a repeat, after the start of each pass",
                    .least = 0.0,
                    .most = 86400.0},
                   step.at);
    visitor.names(plain_key("release", "none", "keys that go up"), step.release);
    visitor.names(plain_key("hold", "none", "keys that go down and stay down"), step.hold);
    visitor.names(plain_key("press", "none", "keys that go down, and up again after `press_seconds`"),
                  step.press);
    visitor.table(plain_key("move", "as before", "the wanted move from now on"), step.move,
                  [](auto& v, auto& s) { describe_move(v, s); });
    visitor.table(plain_key("look", "as before", "the look from now on"), step.look,
                  [](auto& v, auto& s) { describe_look(v, s); });
}

template <class Visitor, class Spec>
void describe_repeat(Visitor& visitor, Spec& repeat) {
    visitor.number({.name = "from",
                    .unit = "s",
                    .fallback = "required",
                    .meaning = "start of the first pass",
                    .least = 0.0,
                    .most = 86400.0},
                   repeat.from);
    visitor.number({.name = "every",
                    .unit = "s",
                    .fallback = "required",
                    .meaning = "from the start of one pass to the next",
                    .least = 0.0,
                    .most = 86400.0,
                    .above_least = true},
                   repeat.every);
    visitor.count(
        {.name = "times", .fallback = "1", .meaning = "number of passes", .least = 1.0, .most = 100000.0},
        repeat.times);
    visitor.list(plain_key("step", "required", "what happens in each pass, in order of time"), repeat.steps,
                 [](auto& v, auto& s) { describe_step(v, s); });
}

template <class Visitor, class Spec>
void describe_start(Visitor& visitor, Spec& start) {
    visitor.vector3({.name = "position",
                     .unit = "m",
                     .fallback = "[0, 0, 0]",
                     .meaning = "of the feet",
                     .least = -1e6,
                     .most = 1e6},
                    start.position);
    visitor.angle({.name = "yaw",
                   .unit = "deg",
                   .fallback = "0",
                   .meaning = "the first look: 0 looks along +x, growing towards +y",
                   .least = -3600.0,
                   .most = 3600.0},
                  start.yaw);
}

template <class Visitor, class Spec>
void describe_drill(Visitor& visitor, Spec& drill) {
    visitor.text(plain_key("name", "required", "name of the drill"), drill.name);
    visitor.number({.name = "seconds",
                    .unit = "s",
                    .fallback = "required",
                    .meaning = "length of the drill",
                    .least = 0.0,
                    .most = 86400.0,
                    .above_least = true},
                   drill.seconds);
    visitor.number({.name = "press_seconds",
                    .unit = "s",
                    .fallback = "0.05",
                    .meaning = "how long a `press` keeps its key down",
                    .least = 0.0,
                    .most = 60.0},
                   drill.press_seconds);
    visitor.names(plain_key("set_hold", "none", "actions that this player has set to hold"), drill.set_hold);
    visitor.names(plain_key("set_toggle", "none", "actions that this player has set to toggle"),
                  drill.set_toggle);
    visitor.table(plain_key("start", "defaults", "where the runner begins"), drill.start,
                  [](auto& v, auto& s) { describe_start(v, s); });
    visitor.list(plain_key("step", "none", "what happens when, in order of time"), drill.steps,
                 [](auto& v, auto& s) { describe_step(v, s); });
    visitor.list(plain_key("repeat", "none", "steps that are repeated"), drill.repeats,
                 [](auto& v, auto& s) { describe_repeat(v, s); });
}

}  // namespace cursimeter::keys
