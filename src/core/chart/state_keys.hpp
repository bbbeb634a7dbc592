#pragma once

#include "core/chart/key_table.hpp"

/// Every key of a state: speeds, gains, and what each kind of motion has. chart_keys.cpp makes them part of a chart's.
namespace cursimeter::keys {

inline constexpr std::array state_kinds{Word("ground", StateKind::ground), Word("air", StateKind::air),
                                        Word("slide", StateKind::slide),   Word("burst", StateKind::burst),
                                        Word("fly", StateKind::fly),       Word("wall", StateKind::wall)};
inline constexpr std::array directions{Word("input", Along::input), Word("facing", Along::facing),
                                       Word("look", Along::look), Word("velocity", Along::velocity),
                                       Word("away", Along::away)};
inline constexpr std::array afters{Word("target", After::target), Word("keep", After::keep),
                                   Word("stop", After::stop)};
inline constexpr std::array gain_laws{Word("instant", GainLaw::instant), Word("ramp", GainLaw::ramp),
                                      Word("ease", GainLaw::ease), Word("curve", GainLaw::curve)};
inline constexpr std::array turnings{Word("arc", Turning::arc), Word("at_once", Turning::at_once)};

inline constexpr Keys speed_keys{
    row<&SpeedSpec::forward>(
        speed_key("forward", "needed, or from `like`", "speed straight ahead at full stick")),
    row<&SpeedSpec::side>(speed_key("side", "forward",
                                    "speed straight to the side; in between, the directions "
                                    "blend as an ellipse")),
    row<&SpeedSpec::back>(speed_key("back", "side", "speed straight back"))};

inline constexpr Keys gain_keys{
    choice_row<&GainSpec::law>(
        plain_key("law", "instant",
                  "instant: the speed is the target; ramp: constant acceleration; ease: the "
                  "difference halves again and again; curve: along key points"),
        gain_laws),
    choice_row<&GainSpec::turn>(
        plain_key("turn", "arc",
                  "arc: the law holds for the whole velocity, so a turn is a curve; at_once: the "
                  "velocity has "
                  "the wanted direction at once, and the law changes the speed alone"),
        turnings),
    row<&GainSpec::up>(ramp_key("up", "required for ramp", "ramp: acceleration while the speed rises")),
    row<&GainSpec::down>(ramp_key("down", "up", "ramp: deceleration while the speed falls")),
    row<&GainSpec::idle>(ramp_key("idle", "down", "ramp: deceleration while no move is wanted")),
    row<&GainSpec::up_half_life>(ease_key("up_half_life", "required for ease",
                                          "ease: time in which the difference halves while the speed rises")),
    row<&GainSpec::down_half_life>(
        ease_key("down_half_life", "up_half_life", "ease: the same while the speed falls")),
    row<&GainSpec::idle_half_life>(
        ease_key("idle_half_life", "down_half_life", "ease: the same while no move is wanted")),
    row<&GainSpec::up_curve>(
        curve_key("up_curve", "required for curve",
                  "curve: fraction of the full speed over time while the speed rises; from "
                  "[0, 0] to fraction 1, both rising")),
    row<&GainSpec::down_curve>(curve_key("down_curve", "up_curve run backwards",
                                         "curve: the same while the speed falls, from [0, 1] to fraction 0")),
    row<&GainSpec::idle_curve>(
        curve_key("idle_curve", "down_curve", "curve: the same while no move is wanted"))};

inline constexpr Keys slope_keys{
    row<&SlopeSpec::up>({.name = "up",
                         .fallback = "1",
                         .meaning =
                             "factor of the speed target straight up the steepest ground that can be walked "
                             "on; flatter ground in proportion to the sine of its incline",
                         .least = 0.0,
                         .most = 10.0}),
    row<&SlopeSpec::down>(
        {.name = "down", .fallback = "1", .meaning = "the same straight down", .least = 0.0, .most = 10.0})};

inline constexpr Keys air_keys{
    row<&AirSpec::rise_gravity>(acceleration_key("rise_gravity", "body.gravity", "gravity while rising")),
    row<&AirSpec::fall_gravity>(acceleration_key("fall_gravity", "rise_gravity", "gravity while falling")),
    row<&AirSpec::terminal>(speed_key("terminal", "55", "falling gets no faster than this")),
    row<&AirSpec::steer>(
        acceleration_key("steer", "0",
                         "towards the wanted direction, up to the state's speed; speed beyond that "
                         "is kept, never added to")),
    row<&AirSpec::brake>(acceleration_key("brake", "0", "deceleration while no move is wanted"))};

inline constexpr Keys launch_keys{
    row<&LaunchSpec::heights>(
        {.name = "heights",
         .unit = "m",
         .fallback = "none",
         .meaning = "height of the jump, of the second jump in the air, of the third ...; without "
                    "footing the first is forfeited. Up to 8",
         .least = 0.01,
         .most = 200.0}),
    row<&LaunchSpec::least>(length_key("least", "the full height",
                                       "height that is reached if the key is released at once", 0.01, 200.0)),
    row<&LaunchSpec::by>(
        plain_key("by", "none", "the action whose release cuts the jump short, down to `least`")),
    row<&LaunchSpec::away>(
        angle_key("away", "none",
                  "jump off a wall: between the wall and the direction of the jump, 90 straight away "
                  "from it. Such a state needs a wall at hand",
                  1.0, 90.0)),
    row<&LaunchSpec::away_speed>(
        speed_key("away_speed", "the speed it has", "speed along the ground of a jump off a wall"))};

inline constexpr Keys slide_keys{
    row<&SlideSpec::boost>(speed_key("boost", "0", "added to the speed on entry")),
    row<&SlideSpec::boost_limit>(
        speed_key("boost_limit", "500", "the boost raises the speed to this at most")),
    row<&SlideSpec::friction>(acceleration_key("friction", "4", "deceleration on any ground")),
    row<&SlideSpec::slope>(
        {.name = "slope",
         .fallback = "1",
         .meaning = "part of gravity's pull along a slope that speeds it up or slows it down",
         .least = 0.0,
         .most = 10.0}),
    row<&SlideSpec::top>(speed_key("top", "500", "sliding downhill gets no faster than this"))};

inline constexpr Keys burst_keys{
    choices_row<&BurstSpec::along>(
        plain_key("along", "[\"input\", \"facing\"]",
                  "the first of these that has a direction: the move wanted, the facing, the look "
                  "with its pitch, the velocity, away from the wall at hand"),
        directions),
    row<&BurstSpec::speed>({.name = "speed",
                            .unit = "m/s",
                            .fallback = "from metres and seconds",
                            .meaning = "speed of the burst",
                            .least = 0.1,
                            .most = 50000.0}),
    row<&BurstSpec::metres>(
        length_key("metres", "from speed and seconds", "length of the burst on open ground", 0.01, 1000.0)),
    row<&BurstSpec::seconds>({.name = "seconds",
                              .unit = "s",
                              .fallback = "required for burst",
                              .meaning = "how long it lasts",
                              .least = 0.001,
                              .most = 60.0}),
    choice_row<&BurstSpec::after>(
        plain_key("after", "target",
                  "the speed afterwards. target: what the next state aims for then; keep: what it is; "
                  "stop: none"),
        afters),
    row<&BurstSpec::gravity>(plain_key("gravity", "false", "whether it falls meanwhile"))};

inline constexpr Keys fly_keys{
    row<&FlySpec::by_look>(
        plain_key("by_look", "true", "moving forward and back follows the look up and down")),
    row<&FlySpec::up>(plain_key("up", "none", "the action that climbs")),
    row<&FlySpec::down>(plain_key("down", "none", "the action that dives")),
    row<&FlySpec::climb>(speed_key("climb", "0", "upward speed while `up` is on")),
    row<&FlySpec::dive>(speed_key("dive", "climb", "downward speed while `down` is on")),
    row<&FlySpec::sink>(speed_key("sink", "0", "downward speed at all times: a glide"))};

inline constexpr Keys wall_keys{
    row<&WallSpec::reach>(length_key("reach", "0.3", "how near to the body a wall must be", 0.01, 5.0)),
    row<&WallSpec::least_speed>(speed_key("least_speed", "3", "speed along the wall that it takes to begin")),
    row<&WallSpec::most_angle>(
        angle_key("most_angle", "60", "between velocity and wall, to begin", 1.0, 89.0)),
    row<&WallSpec::seconds>({.name = "seconds",
                             .unit = "s",
                             .fallback = "1.5",
                             .meaning = "longest run along one wall",
                             .least = 0.01,
                             .most = 300.0}),
    row<&WallSpec::climb>(
        speed_key("climb", "0", "upward speed that it begins with, if it is not rising faster")),
    row<&WallSpec::gravity>(acceleration_key("gravity", "0", "gravity at the start")),
    row<&WallSpec::growth>({.name = "growth",
                            .unit = "m/s^2 per s",
                            .fallback = "0",
                            .meaning = "how gravity grows with time, in steps of 1/50 s",
                            .least = 0.0,
                            .most = 10000.0})};

inline constexpr Keys state_keys{
    row<&StateSpec::like>(
        plain_key("like", "none", "takes over from this state every key that is not said here")),
    choice_row<&StateSpec::kind>(
        plain_key("kind", "needed, or from `like`",
                  "how it moves. ground: steered along the ground; air: thrown, jumping and falling; "
                  "slide: by momentum; burst: one direction for a time; fly: in three dimensions; "
                  "wall: along a wall"),
        state_kinds),
    inner_row<&StateSpec::speed>(
        plain_key("speed", "needed, or from `like`", "speed targets by direction, relative to the facing"),
        speed_keys),
    inner_row<&StateSpec::gain>(plain_key("gain", "instant",
                                          "how the real speed approaches its target; taken over by "
                                          "`like` key by key unless the law differs"),
                                gain_keys),
    inner_row<&StateSpec::slope>(
        plain_key("slope", "defaults", "kind ground: what slopes do to the speed target"), slope_keys),
    inner_row<&StateSpec::air>(plain_key("air", "defaults", "kind air: gravity and steering"), air_keys),
    inner_row<&StateSpec::launch>(plain_key("launch", "none", "any kind: a jump on entry"), launch_keys),
    inner_row<&StateSpec::slide>(plain_key("slide", "defaults", "kind slide"), slide_keys),
    inner_row<&StateSpec::burst>(plain_key("burst", "needed for burst", "kind burst"), burst_keys),
    inner_row<&StateSpec::fly>(plain_key("fly", "defaults", "kind fly"), fly_keys),
    inner_row<&StateSpec::wall>(plain_key("wall", "defaults", "kind wall"), wall_keys),
    row<&StateSpec::low>(plain_key("low", "false", "the body is low; standing up again needs headroom")),
    row<&StateSpec::again>(
        plain_key("again", "false", "a press may enter it again from itself, as for a second jump")),
    row<&StateSpec::wind>({.name = "wind",
                           .fallback = "1 for fly, otherwise 0",
                           .meaning = "part of the wind of zones that carries it",
                           .least = 0.0,
                           .most = 10.0}),
    row<&StateSpec::enter>(plain_key("enter", "always", "when the state may be entered")),
    row<&StateSpec::stay>(plain_key("stay", "enter without its terms on presses, releases and time",
                                    "when the state may be kept")),
    row<&StateSpec::from>(plain_key("from", "any state", "the states from which it may be entered")),
    row<&StateSpec::cost>(
        {.name = "cost",
         .fallback = "none",
         .meaning = "amounts taken from meters on entry; without them the state cannot be entered",
         .least = 0.0,
         .most = 1e6}),
    row<&StateSpec::cooldown>(plain_key(
        "cooldown", "none", "begins on entry; until it is over no state that names it can be entered")),
    row<&StateSpec::drain>({.name = "drain",
                            .unit = "per second",
                            .fallback = "none",
                            .meaning = "meters that it drains, each with its rate; only while really moving",
                            .least = 0.0,
                            .most = 1e6}),
    row<&StateSpec::drain_per_metre>({.name = "drain_per_metre",
                                      .unit = "per metre",
                                      .fallback = "none",
                                      .meaning = "meters that it drains by the distance really moved",
                                      .least = 0.0,
                                      .most = 1e6}),
    row<&StateSpec::drain_above>(speed_key(
        "drain_above", "0.1", "\"really moving\": drains hold only above this real speed; 0: always")),
    row<&StateSpec::stride>({.name = "stride",
                             .unit = "m",
                             .fallback = "none",
                             .meaning = "from one footstep to the next, on the ground; 0: no footsteps",
                             .least = 0.0,
                             .most = 100.0})};

}  // namespace cursimeter::keys
