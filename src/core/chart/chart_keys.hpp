#pragma once

#include <array>
#include <cursimeter/chart_spec.hpp>

#include "core/chart/key.hpp"
#include "core/chart/state_keys.hpp"

/// Every key of a chart file, states apart.
namespace cursimeter::keys {

inline constexpr std::array<ChoiceName<Recharge>, 2> recharges{
    {{"one", Recharge::one}, {"all", Recharge::all}}};
inline constexpr std::array<ChoiceName<Begins>, 2> beginnings{
    {{"entry", Begins::entry}, {"end", Begins::end}}};
inline constexpr std::array<ChoiceName<Stacking>, 5> stackings{{{"refresh", Stacking::refresh},
                                                                {"extend", Stacking::extend},
                                                                {"count", Stacking::count},
                                                                {"strongest", Stacking::strongest},
                                                                {"separate", Stacking::separate}}};
inline constexpr std::array<ChoiceName<Resume>, 2> resumes{
    {{"held", Resume::held}, {"press", Resume::press}}};
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

/// Outside of what a state may take over from another.
template <class Visitor, class Spec>
void describe_was(Visitor& visitor, Spec& named) {
    visitor.text(plain_key("was", "none",
                           "its name in the version before: a running game that loads this one keeps what it "
                           "had under that name"),
                 named.was);
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
void describe_scale(Visitor& visitor, Spec& scale) {
    visitor.text(plain_key("by", "required", "the other meter"), scale.by);
    visitor.numbers({.name = "at",
                     .fallback = "[0, 1]",
                     .meaning = "how full the other meter is, as fractions of its capacity, rising",
                     .least = 0.0,
                     .most = 1.0},
                    scale.at);
    visitor.numbers({.name = "factors",
                     .fallback = "required",
                     .meaning = "the factor at each of them; straight in between, clamped at the ends",
                     .least = 0.0,
                     .most = 1000.0},
                    scale.factors);
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
                    .most = 500.0},
                   refill.wait);
    visitor.names(plain_key("in", "all", "the states in which it refills"), refill.in);
    visitor.condition(plain_key("when", "always", "it refills while this holds"), refill.when);
    visitor.list(plain_key("scale", "none", "how full other meters are scales the refill"), refill.scale,
                 [](auto& v, auto& s) { describe_scale(v, s); });
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
    visitor.text(plain_key("grants", "none", "the modifier that begins when the meter is spent"),
                 spent.grants);
}

template <class Visitor, class Spec>
void describe_level(Visitor& visitor, Spec& level) {
    visitor.number({.name = "level",
                    .fallback = "required",
                    .meaning = "at most the capacity",
                    .least = 0.0,
                    .most = 1e6},
                   level.level);
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
    visitor.list(plain_key("drain_scale", "none", "how full other meters are scales what drains this one"),
                 meter.drain_scale, [](auto& v, auto& s) { describe_scale(v, s); });
    visitor.each(
        tables_key("thresholds", "none", "levels that are told of when they are crossed", limits::thresholds),
        meter.thresholds, [](auto& v, auto& s) { describe_level(v, s); });
}

template <class Visitor, class Spec>
void describe_cooldown(Visitor& visitor, Spec& cooldown) {
    visitor.number({.name = "seconds",
                    .unit = "s",
                    .fallback = "required",
                    .meaning = "how long a charge is away, from its use by the entry of a state",
                    .least = 0.0,
                    .most = 300.0,
                    .above_least = true},
                   cooldown.seconds);
    visitor.count({.name = "charges",
                   .fallback = "1",
                   .meaning = "how often it can be used before it must be waited for",
                   .least = 1.0,
                   .most = 15.0},
                  cooldown.charges);
    visitor.choice(plain_key("recharge", "one",
                             "one: charges come back one after the other, each in its "
                             "seconds; all: all at once, in the seconds of one"),
                   cooldown.recharge, recharges);
    visitor.choice(plain_key("begins", "entry",
                             "entry: the wait begins as the state is entered; end: as it is "
                             "left"),
                   cooldown.begins, beginnings);
    visitor.text(
        plain_key("also", "none",
                  "another cooldown that begins whenever this one is used, and that is waited for too: "
                  "a common lock-out"),
        cooldown.also);
}

template <class Visitor, class Spec>
void describe_affect(Visitor& visitor, Spec& affect) {
    visitor.text(
        plain_key(
            "what", "required",
            "speed (m/s), gain (factor), jump (m of height), gravity (m/s^2), steer (m/s^2), turn (rad/s), "
            "burst (m/s), drain.METER or refill.METER (per second), cooldown.NAME (factor of "
            "its pace, which does not fade)"),
        affect.what);
    visitor.number({.name = "adds",
                    .fallback = "0",
                    .meaning = "added to the chart's number, once per stack",
                    .least = -1e6,
                    .most = 1e6},
                   affect.adds);
    visitor.number({.name = "times",
                    .fallback = "1",
                    .meaning = "factor of the sum, once per stack",
                    .least = 0.0,
                    .most = 1000.0},
                   affect.times);
    visitor.number({.name = "sets",
                    .fallback = "none",
                    .meaning = "this instead; the lowest, if several say so",
                    .least = 0.0,
                    .most = 1e6},
                   affect.sets);
    visitor.number(
        {.name = "at_least", .fallback = "none", .meaning = "no less than this", .least = 0.0, .most = 1e6},
        affect.at_least);
    visitor.number({.name = "at_most",
                    .fallback = "none",
                    .meaning = "no more than this; it wins over at_least",
                    .least = 0.0,
                    .most = 1e6},
                   affect.at_most);
}

template <class Visitor, class Spec>
void describe_modifier(Visitor& visitor, Spec& modifier) {
    visitor.number({.name = "seconds",
                    .unit = "s",
                    .fallback = "until removed",
                    .meaning = "from the grant until it begins to fade out",
                    .least = 0.0,
                    .most = 400.0,
                    .above_least = true},
                   modifier.seconds);
    visitor.number(
        wait_key("fade_in", "0", "it grows to its full strength over this time, in steps of 0.02 s", 60.0),
        modifier.fade_in);
    visitor.number(wait_key("fade_out", "0", "it fades away over this time, in steps of 0.02 s", 60.0),
                   modifier.fade_out);
    visitor.choice(
        plain_key("stacking", "refresh",
                  "what a further grant does. refresh: the time starts again, whoever grants it, and it "
                  "is at work until the last who granted it removes it. The others tell sources apart: "
                  "extend: the seconds are added to what is left; count: a stack more, up to `most`, "
                  "and the time starts again; strongest: the stronger grant stays; separate: both are "
                  "at work. Grants by several sources count once, at the strongest, for refresh, "
                  "extend and strongest, and each for itself for count and separate"),
        modifier.stacking, stackings);
    visitor.count({.name = "most", .fallback = "1", .meaning = "stacks at most", .least = 1.0, .most = 15.0},
                  modifier.most);
    visitor.condition(plain_key("while", "none", "at work by itself while this holds"), modifier.while_holds);
    visitor.number(wait_key("build", "all at once",
                            "with `while`: a stack more after each such time, up to `most`", 60.0),
                   modifier.build);
    visitor.number(
        wait_key("first", "0", "with `build`: the wait for the first stack; only then it has begun", 60.0),
        modifier.first);
    visitor.number(wait_key("shed", "all at once",
                            "with `while`: a stack less after each such time once it holds no longer", 60.0),
                   modifier.shed);
    visitor.text(plain_key("then", "none", "the modifier that begins when this one has ended"),
                 modifier.then);
    visitor.list(plain_key("affects", "none", "what it changes"), modifier.affects,
                 [](auto& v, auto& s) { describe_affect(v, s); });
}

template <class Visitor, class Spec>
void describe_block(Visitor& visitor, Spec& block) {
    visitor.names(plain_key("bans", "required", "actions, states, and \"movement\" for every wish to move"),
                  block.bans);
    visitor.choice(
        plain_key("resume", "press",
                  "how an action goes on whose key is down when the ban ends. held: it is on again at "
                  "once; press: after another press"),
        block.resume, resumes);
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
    visitor.each(
        tables_key("actions", "none", "what the player can press; keys are bound elsewhere", limits::actions),
        chart.actions, [](auto& v, auto& s) {
            describe_was(v, s);
            describe_action(v, s);
        });
    visitor.each(tables_key("meters", "none", "bounded quantities such as stamina", limits::meters),
                 chart.meters, [](auto& v, auto& s) {
                     describe_was(v, s);
                     describe_meter(v, s);
                 });
    visitor.each(
        tables_key("cooldowns", "none", "waits before something may be used again", limits::cooldowns),
        chart.cooldowns, [](auto& v, auto& s) {
            describe_was(v, s);
            describe_cooldown(v, s);
        });
    visitor.each(
        tables_key("modifiers", "none", "timed, stackable changes to quantities; up to 16 at work at once",
                   limits::modifier_kinds),
        chart.modifiers, [](auto& v, auto& s) {
            describe_was(v, s);
            describe_modifier(v, s);
        });
    visitor.each(tables_key("blocks", "none", "bans that the game puts into force and lifts, each counted",
                            limits::blocks),
                 chart.blocks, [](auto& v, auto& s) {
                     describe_was(v, s);
                     describe_block(v, s);
                 });
    visitor.each(tables_key("states", "required", "ways of moving", limits::states), chart.states,
                 [](auto& v, auto& s) {
                     describe_was(v, s);
                     describe_state(v, s);
                 });
}

}  // namespace cursimeter::keys
