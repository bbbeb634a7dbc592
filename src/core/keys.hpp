#pragma once

#include <array>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/course/course_spec.hpp>
#include <cursimeter/drill.hpp>
#include <limits>
#include <string_view>

/// The one table of every key of the file formats. Each `describe` function lists the keys of one
/// table in the order in which people write them, bound to the members of the spec. Whoever walks a
/// spec is a visitor: the range check, the TOML reader and writer, and the generated reference all
/// read these same lines, so they cannot drift apart.
///
/// A visitor has one function per shape of value:
///   number(key, double or optional)     angle(key, Degrees)        truth(key, bool)
///   count(key, int)                     text(key, optional string) choice(key, enum or optional, names)
///   numbers(key, optional list)         choices(key, optional list of enums, names)
///   names(key, list of names)           condition(key, optional)   curve(key, optional)
///   rates(key, list of meter rates)     vector3(key, array)     points(key, list of arrays)
///   table(key, value or optional, describe)     one table
///   each(key, list, describe)                   tables by name: [states.walk]
///   list(key, list, describe)                   an array of tables: [[step]]
namespace cursimeter::keys {

inline constexpr double no_limit = std::numeric_limits<double>::infinity();

/// One key: everything that is said about it anywhere.
struct Key {
    std::string_view name;
    std::string_view unit{};
    std::string_view fallback{};  ///< what holds if it is not said; "required" if it must be
    std::string_view meaning;
    double least = -no_limit;
    double most = no_limit;
    bool above_least = false;  ///< `least` itself is out of range

    [[nodiscard]] constexpr bool required() const { return fallback == "required"; }
};

template <class Enum>
struct ChoiceName {
    std::string_view name;
    Enum value;
};

inline constexpr std::array<ChoiceName<PressMode>, 2> press_modes{
    {{"hold", PressMode::hold}, {"toggle", PressMode::toggle}}};
inline constexpr std::array<ChoiceName<StateKind>, 6> state_kinds{{{"ground", StateKind::ground},
                                                                   {"air", StateKind::air},
                                                                   {"slide", StateKind::slide},
                                                                   {"burst", StateKind::burst},
                                                                   {"fly", StateKind::fly},
                                                                   {"wall", StateKind::wall}}};
inline constexpr std::array<ChoiceName<Along>, 5> directions{{{"input", Along::input},
                                                              {"facing", Along::facing},
                                                              {"look", Along::look},
                                                              {"velocity", Along::velocity},
                                                              {"away", Along::away}}};
inline constexpr std::array<ChoiceName<After>, 3> afters{
    {{"target", After::target}, {"keep", After::keep}, {"stop", After::stop}}};
inline constexpr std::array<ChoiceName<GainLaw>, 4> gain_laws{{{"instant", GainLaw::instant},
                                                               {"ramp", GainLaw::ramp},
                                                               {"ease", GainLaw::ease},
                                                               {"curve", GainLaw::curve}}};

constexpr Key speed_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {
        .name = name, .unit = "m/s", .fallback = fallback, .meaning = meaning, .least = 0.0, .most = 500.0};
}
constexpr Key ramp_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name,
            .unit = "m/s^2",
            .fallback = fallback,
            .meaning = meaning,
            .least = 0.0,
            .most = 10000.0,
            .above_least = true};
}
constexpr Key ease_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {
        .name = name, .unit = "s", .fallback = fallback, .meaning = meaning, .least = 0.001, .most = 60.0};
}
constexpr Key curve_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name, .unit = "[s, fraction]", .fallback = fallback, .meaning = meaning};
}
constexpr Key acceleration_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name,
            .unit = "m/s^2",
            .fallback = fallback,
            .meaning = meaning,
            .least = 0.0,
            .most = 10000.0};
}
constexpr Key length_key(std::string_view name, std::string_view fallback, std::string_view meaning,
                         double least, double most) {
    return {
        .name = name, .unit = "m", .fallback = fallback, .meaning = meaning, .least = least, .most = most};
}
constexpr Key wait_key(std::string_view name, std::string_view fallback, std::string_view meaning,
                       double most) {
    return {.name = name, .unit = "s", .fallback = fallback, .meaning = meaning, .least = 0.0, .most = most};
}
constexpr Key angle_key(std::string_view name, std::string_view fallback, std::string_view meaning,
                        double least, double most) {
    return {
        .name = name, .unit = "deg", .fallback = fallback, .meaning = meaning, .least = least, .most = most};
}
constexpr Key plain_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name, .fallback = fallback, .meaning = meaning};
}

/// The first key of every file.
inline constexpr Key format_key{.name = "format",
                                .fallback = "required",
                                .meaning = "version of the file format",
                                .least = 1.0,
                                .most = 1.0};

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
void describe_speed(Visitor& visitor, Spec& speed) {
    visitor.number(speed_key("forward", "needed, or from `like`", "speed straight ahead at full stick"),
                   speed.forward);
    visitor.number(speed_key("side", "forward",
                             "speed straight to the side; in between, the directions "
                             "blend as an ellipse"),
                   speed.side);
    visitor.number(speed_key("back", "side", "speed straight back"), speed.back);
}

template <class Visitor, class Spec>
void describe_gain(Visitor& visitor, Spec& gain) {
    visitor.choice(plain_key("law", "instant",
                             "instant: the speed is the target; ramp: constant acceleration; ease: the "
                             "difference halves again and again; curve: along key points"),
                   gain.law, gain_laws);
    visitor.number(ramp_key("up", "required for ramp", "ramp: acceleration while the speed rises"), gain.up);
    visitor.number(ramp_key("down", "up", "ramp: deceleration while the speed falls"), gain.down);
    visitor.number(ramp_key("idle", "down", "ramp: deceleration while no move is wanted"), gain.idle);
    visitor.number(ease_key("up_half_life", "required for ease",
                            "ease: time in which the difference halves while the speed rises"),
                   gain.up_half_life);
    visitor.number(ease_key("down_half_life", "up_half_life", "ease: the same while the speed falls"),
                   gain.down_half_life);
    visitor.number(ease_key("idle_half_life", "down_half_life", "ease: the same while no move is wanted"),
                   gain.idle_half_life);
    visitor.curve(curve_key("up_curve", "required for curve",
                            "curve: fraction of the full speed over time while the speed rises; from "
                            "[0, 0] to fraction 1, both rising"),
                  gain.up_curve);
    visitor.curve(curve_key("down_curve", "up_curve run backwards",
                            "curve: the same while the speed falls, from [0, 1] to fraction 0"),
                  gain.down_curve);
    visitor.curve(curve_key("idle_curve", "down_curve", "curve: the same while no move is wanted"),
                  gain.idle_curve);
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
void describe_slope(Visitor& visitor, Spec& slope) {
    visitor.number(
        {.name = "up",
         .fallback = "1",
         .meaning = "factor of the speed target straight up the steepest ground that can be walked "
                    "on; flatter ground in proportion to the sine of its incline",
         .least = 0.0,
         .most = 10.0},
        slope.up);
    visitor.number(
        {.name = "down", .fallback = "1", .meaning = "the same straight down", .least = 0.0, .most = 10.0},
        slope.down);
}

template <class Visitor, class Spec>
void describe_air(Visitor& visitor, Spec& air) {
    visitor.number(acceleration_key("rise_gravity", "body.gravity", "gravity while rising"),
                   air.rise_gravity);
    visitor.number(acceleration_key("fall_gravity", "rise_gravity", "gravity while falling"),
                   air.fall_gravity);
    visitor.number(speed_key("terminal", "55", "falling gets no faster than this"), air.terminal);
    visitor.number(
        acceleration_key("steer", "0",
                         "towards the wanted direction, up to the state's speed; speed beyond that "
                         "is kept, never added to"),
        air.steer);
    visitor.number(acceleration_key("brake", "0", "deceleration while no move is wanted"), air.brake);
}

template <class Visitor, class Spec>
void describe_launch(Visitor& visitor, Spec& launch) {
    visitor.numbers(
        {.name = "heights",
         .unit = "m",
         .fallback = "none",
         .meaning = "height of the jump, of the second jump in the air, of the third ...; without "
                    "footing the first is forfeited. Up to 8",
         .least = 0.01,
         .most = 200.0},
        launch.heights);
    visitor.number(length_key("least", "the full height",
                              "height that is reached if the key is released at once", 0.01, 200.0),
                   launch.least);
    visitor.text(plain_key("by", "none", "the action whose release cuts the jump short, down to `least`"),
                 launch.by);
    visitor.angle(
        angle_key("away", "none",
                  "jump off a wall: between the wall and the direction of the jump, 90 straight away "
                  "from it. Such a state needs a wall at hand",
                  1.0, 90.0),
        launch.away);
    visitor.number(speed_key("away_speed", "the speed it has", "speed along the ground of a jump off a wall"),
                   launch.away_speed);
}

template <class Visitor, class Spec>
void describe_slide(Visitor& visitor, Spec& slide) {
    visitor.number(speed_key("boost", "0", "added to the speed on entry"), slide.boost);
    visitor.number(speed_key("boost_limit", "500", "the boost raises the speed to this at most"),
                   slide.boost_limit);
    visitor.number(acceleration_key("friction", "4", "deceleration on any ground"), slide.friction);
    visitor.number({.name = "slope",
                    .fallback = "1",
                    .meaning = "part of gravity's pull along a slope that speeds it up or slows it down",
                    .least = 0.0,
                    .most = 10.0},
                   slide.slope);
    visitor.number(speed_key("top", "500", "sliding downhill gets no faster than this"), slide.top);
}

template <class Visitor, class Spec>
void describe_burst(Visitor& visitor, Spec& burst) {
    visitor.choices(
        plain_key("along", "[\"input\", \"facing\"]",
                  "the first of these that has a direction: the move wanted, the facing, the look "
                  "with its pitch, the velocity, away from the wall at hand"),
        burst.along, directions);
    visitor.number({.name = "speed",
                    .unit = "m/s",
                    .fallback = "from metres and seconds",
                    .meaning = "speed of the burst",
                    .least = 0.1,
                    .most = 50000.0},
                   burst.speed);
    visitor.number(
        length_key("metres", "from speed and seconds", "length of the burst on open ground", 0.01, 1000.0),
        burst.metres);
    visitor.number({.name = "seconds",
                    .unit = "s",
                    .fallback = "required for burst",
                    .meaning = "how long it lasts",
                    .least = 0.001,
                    .most = 60.0},
                   burst.seconds);
    visitor.choice(
        plain_key("after", "target",
                  "the speed afterwards. target: what the next state aims for then; keep: what it is; "
                  "stop: none"),
        burst.after, afters);
    visitor.truth(plain_key("gravity", "false", "whether it falls meanwhile"), burst.gravity);
}

template <class Visitor, class Spec>
void describe_fly(Visitor& visitor, Spec& fly) {
    visitor.truth(plain_key("by_look", "true", "moving forward and back follows the look up and down"),
                  fly.by_look);
    visitor.text(plain_key("up", "none", "the action that climbs"), fly.up);
    visitor.text(plain_key("down", "none", "the action that dives"), fly.down);
    visitor.number(speed_key("climb", "0", "upward speed while `up` is on"), fly.climb);
    visitor.number(speed_key("dive", "climb", "downward speed while `down` is on"), fly.dive);
    visitor.number(speed_key("sink", "0", "downward speed at all times: a glide"), fly.sink);
}

template <class Visitor, class Spec>
void describe_wall(Visitor& visitor, Spec& wall) {
    visitor.number(length_key("reach", "0.3", "how near to the body a wall must be", 0.01, 5.0), wall.reach);
    visitor.number(speed_key("least_speed", "3", "speed along the wall that it takes to begin"),
                   wall.least_speed);
    visitor.angle(angle_key("most_angle", "60", "between velocity and wall, to begin", 1.0, 89.0),
                  wall.most_angle);
    visitor.number({.name = "seconds",
                    .unit = "s",
                    .fallback = "1.5",
                    .meaning = "longest run along one wall",
                    .least = 0.01,
                    .most = 300.0},
                   wall.seconds);
    visitor.number(speed_key("climb", "0", "upward speed that it begins with, if it is not rising faster"),
                   wall.climb);
    visitor.number(acceleration_key("gravity", "0", "gravity at the start"), wall.gravity);
    visitor.number({.name = "growth",
                    .unit = "m/s^2 per s",
                    .fallback = "0",
                    .meaning = "how gravity grows with time, in steps of 1/50 s",
                    .least = 0.0,
                    .most = 10000.0},
                   wall.growth);
}

template <class Visitor, class Spec>
void describe_state(Visitor& visitor, Spec& state) {
    visitor.text(plain_key("like", "none", "takes over from this state every key that is not said here"),
                 state.like);
    visitor.choice(
        plain_key("kind", "needed, or from `like`",
                  "how it moves. ground: steered along the ground; air: thrown, jumping and falling; "
                  "slide: by momentum; burst: one direction for a time; fly: in three dimensions; "
                  "wall: along a wall"),
        state.kind, state_kinds);
    visitor.table(
        plain_key("speed", "needed, or from `like`", "speed targets by direction, relative to the facing"),
        state.speed, [](auto& v, auto& s) { describe_speed(v, s); });
    visitor.table(plain_key("gain", "instant",
                            "how the real speed approaches its target; taken over by "
                            "`like` key by key unless the law differs"),
                  state.gain, [](auto& v, auto& s) { describe_gain(v, s); });
    visitor.table(plain_key("slope", "defaults", "kind ground: what slopes do to the speed target"),
                  state.slope, [](auto& v, auto& s) { describe_slope(v, s); });
    visitor.table(plain_key("air", "defaults", "kind air: gravity and steering"), state.air,
                  [](auto& v, auto& s) { describe_air(v, s); });
    visitor.table(plain_key("launch", "none", "any kind: a jump on entry"), state.launch,
                  [](auto& v, auto& s) { describe_launch(v, s); });
    visitor.table(plain_key("slide", "defaults", "kind slide"), state.slide,
                  [](auto& v, auto& s) { describe_slide(v, s); });
    visitor.table(plain_key("burst", "needed for burst", "kind burst"), state.burst,
                  [](auto& v, auto& s) { describe_burst(v, s); });
    visitor.table(plain_key("fly", "defaults", "kind fly"), state.fly,
                  [](auto& v, auto& s) { describe_fly(v, s); });
    visitor.table(plain_key("wall", "defaults", "kind wall"), state.wall,
                  [](auto& v, auto& s) { describe_wall(v, s); });
    visitor.truth(plain_key("low", "false", "the body is low; standing up again needs headroom"), state.low);
    visitor.truth(plain_key("again", "false", "a press may enter it anew from itself, as for a second jump"),
                  state.again);
    visitor.number({.name = "wind",
                    .fallback = "1 for fly, otherwise 0",
                    .meaning = "part of the wind of zones that carries it",
                    .least = 0.0,
                    .most = 10.0},
                   state.wind);
    visitor.condition(plain_key("enter", "always", "when the state may be entered"), state.enter);
    visitor.condition(
        plain_key("stay", "enter without its pressed and released terms", "when the state may be kept"),
        state.stay);
    visitor.names(plain_key("from", "any state", "the states from which it may be entered"), state.from);
    visitor.rates({.name = "cost",
                   .fallback = "none",
                   .meaning = "amounts taken from meters on entry; without them the state cannot be entered",
                   .least = 0.0,
                   .most = 1e6},
                  state.cost);
    visitor.text(plain_key("cooldown", "none",
                           "begins on entry; until it is over no state that names it can be entered"),
                 state.cooldown);
    visitor.rates({.name = "drain",
                   .unit = "per second",
                   .fallback = "none",
                   .meaning = "meters that it drains, each with its rate; only while really moving",
                   .least = 0.0,
                   .most = 1e6},
                  state.drain);
    visitor.rates({.name = "drain_per_metre",
                   .unit = "per metre",
                   .fallback = "none",
                   .meaning = "meters that it drains by the distance really moved",
                   .least = 0.0,
                   .most = 1e6},
                  state.drain_per_metre);
    visitor.number(speed_key("drain_above", "0.1",
                             "\"really moving\": drains hold only above this real speed; 0: always"),
                   state.drain_above);
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

constexpr Key point_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name, .unit = "m", .fallback = fallback, .meaning = meaning, .least = -1e6, .most = 1e6};
}
constexpr Key thickness_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return length_key(name, fallback, meaning, 0.001, 1e5);
}

template <class Visitor, class Spec>
void describe_box(Visitor& visitor, Spec& box) {
    visitor.vector3(point_key("from", "required", "a corner"), box.from);
    visitor.vector3(point_key("to", "required", "the opposite corner"), box.to);
    visitor.angle(angle_key("yaw", "0", "turned about the upright line through its middle", -3600.0, 3600.0),
                  box.yaw);
}

template <class Visitor, class Spec>
void describe_ramp(Visitor& visitor, Spec& ramp) {
    visitor.vector3(point_key("from", "required", "one end of the upper side's middle line"), ramp.from);
    visitor.vector3(point_key("to", "required", "the other end"), ramp.to);
    visitor.number(thickness_key("width", "required", "across"), ramp.width);
    visitor.number(thickness_key("thickness", "0.5", "below the upper side"), ramp.thickness);
}

template <class Visitor, class Spec>
void describe_barrier(Visitor& visitor, Spec& wall) {
    visitor.vector3(point_key("from", "required", "one end of its foot"), wall.from);
    visitor.vector3(point_key("to", "required", "the other end"), wall.to);
    visitor.number(thickness_key("height", "required", "above the lower end"), wall.height);
    visitor.number(thickness_key("thickness", "0.3", "half of it on either side of the foot"),
                   wall.thickness);
}

template <class Visitor, class Spec>
void describe_ceiling(Visitor& visitor, Spec& ceiling) {
    visitor.vector3(point_key("from", "required", "a corner; the underside is at the lower z of the two"),
                    ceiling.from);
    visitor.vector3(point_key("to", "required", "the opposite corner"), ceiling.to);
    visitor.number(thickness_key("thickness", "0.3", "above the underside"), ceiling.thickness);
}

template <class Visitor, class Spec>
void describe_platform(Visitor& visitor, Spec& platform) {
    visitor.vector3({.name = "size",
                     .unit = "m",
                     .fallback = "required",
                     .meaning = "along x, y and z",
                     .least = 0.0,
                     .most = 1e5},
                    platform.size);
    visitor.points(
        point_key("path", "required",
                  "two points or more through which the middle of its upper side moves, to and fro"),
        platform.path);
    visitor.number({.name = "speed",
                    .unit = "m/s",
                    .fallback = "required",
                    .meaning = "along the path",
                    .least = 0.001,
                    .most = 100.0},
                   platform.speed);
    visitor.number(wait_key("pause", "0", "at either end", 3600.0), platform.pause);
}

template <class Visitor, class Spec>
void describe_gust(Visitor& visitor, Spec& gust) {
    visitor.vector3({.name = "direction",
                     .fallback = "[1, 0, 0]",
                     .meaning = "where it pushes; only its heading counts",
                     .least = -1e6,
                     .most = 1e6},
                    gust.direction);
    visitor.number({.name = "strength",
                    .unit = "m/s",
                    .fallback = "required",
                    .meaning = "speed at the start",
                    .least = 0.0,
                    .most = 1e4},
                   gust.strength);
    visitor.number({.name = "lift",
                    .fallback = "0",
                    .meaning = "part of the strength that goes upward",
                    .least = 0.0,
                    .most = 1.0},
                   gust.lift);
    visitor.number(wait_key("seconds", "0",
                            "in which it fades evenly; 0: it goes into the runner's own velocity", 300.0),
                   gust.seconds);
    visitor.truth(plain_key("locks", "false", "whether moves are ignored until it has faded"), gust.locks);
    visitor.truth(plain_key("replaces", "false", "whether it ends other pushes and stops the runner first"),
                  gust.replaces);
}

template <class Visitor, class Spec>
void describe_zone(Visitor& visitor, Spec& zone) {
    visitor.text(plain_key("kind", "required", "what charts call it: \"in mud\""), zone.kind);
    visitor.vector3(point_key("from", "required", "a corner"), zone.from);
    visitor.vector3(point_key("to", "required", "the opposite corner"), zone.to);
    visitor.number({.name = "pace",
                    .fallback = "1",
                    .meaning = "factor of speed targets inside",
                    .least = 0.0,
                    .most = 10.0},
                   zone.pace);
    visitor.vector3({.name = "wind",
                     .unit = "m/s",
                     .fallback = "[0, 0, 0]",
                     .meaning = "carries states by their `wind`",
                     .least = -1000.0,
                     .most = 1000.0},
                    zone.wind);
    visitor.number(
        length_key("fade", "0", "how far inside the borders the wind is full; it rises in 16 steps", 0.0,
                   1000.0),
        zone.fade);
    visitor.table(plain_key("push", "none", "a push, once on entry"), zone.push,
                  [](auto& v, auto& s) { describe_gust(v, s); });
}

template <class Visitor, class Spec>
void describe_gate(Visitor& visitor, Spec& gate) {
    visitor.vector3(point_key("from", "required", "one end of the gate's foot; it is 6 m high"), gate.from);
    visitor.vector3(point_key("to", "required", "the other end"), gate.to);
}

template <class Visitor, class Spec>
void describe_leg(Visitor& visitor, Spec& leg) {
    visitor.text(plain_key("name", "required", "what it is called in results"), leg.name);
    visitor.table(plain_key("start", "required", "the gate where its time begins"), leg.start,
                  [](auto& v, auto& s) { describe_gate(v, s); });
    visitor.table(plain_key("finish", "required", "the gate where its time ends"), leg.finish,
                  [](auto& v, auto& s) { describe_gate(v, s); });
}

template <class Visitor, class Spec>
void describe_course(Visitor& visitor, Spec& course) {
    visitor.text(plain_key("name", "required", "name of the course"), course.name);
    visitor.list(plain_key("box", "none", "boxes"), course.boxes,
                 [](auto& v, auto& s) { describe_box(v, s); });
    visitor.list(plain_key("ramp", "none", "slabs with a sloping upper side"), course.ramps,
                 [](auto& v, auto& s) { describe_ramp(v, s); });
    visitor.list(plain_key("wall", "none", "upright slabs"), course.walls,
                 [](auto& v, auto& s) { describe_barrier(v, s); });
    visitor.list(plain_key("ceiling", "none", "flat slabs overhead"), course.ceilings,
                 [](auto& v, auto& s) { describe_ceiling(v, s); });
    visitor.list(plain_key("platform", "none", "boxes that move to and fro"), course.platforms,
                 [](auto& v, auto& s) { describe_platform(v, s); });
    visitor.list(plain_key("zone", "none", "boxes of air in which things are different"), course.zones,
                 [](auto& v, auto& s) { describe_zone(v, s); });
    visitor.list(plain_key("leg", "none", "stretches that are timed"), course.legs,
                 [](auto& v, auto& s) { describe_leg(v, s); });
}

}  // namespace cursimeter::keys
