#pragma once

#include <array>
#include <cursimeter/chart_spec.hpp>

#include "core/chart/key.hpp"

/// Every key of a state: speeds, gains, and what each kind of motion has.
namespace cursimeter::keys {

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
    visitor.number({.name = "stride",
                    .unit = "m",
                    .fallback = "none",
                    .meaning = "from one footstep to the next, on the ground; 0: no footsteps",
                    .least = 0.0,
                    .most = 100.0},
                   state.stride);
}

}  // namespace cursimeter::keys
