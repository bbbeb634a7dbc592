#include "core/chart/chart_keys.hpp"

#include "core/chart/state_keys.hpp"

namespace cursimeter::keys {
namespace {

constexpr std::array recharges{Word("one", Recharge::one), Word("all", Recharge::all)};
constexpr std::array beginnings{Word("entry", Begins::entry), Word("end", Begins::end)};
constexpr std::array stackings{Word("refresh", Stacking::refresh), Word("extend", Stacking::extend),
                               Word("count", Stacking::count), Word("strongest", Stacking::strongest),
                               Word("separate", Stacking::separate)};
constexpr std::array resumes{Word("held", Resume::held), Word("press", Resume::press)};

template <class Spec>
constexpr RowOf<Spec> was_row = row<&Spec::was>(plain_key(
    "was", "none",
    "its name in the version before: a running game that loads this one keeps what it had under that name"));

constexpr Keys body_keys{
    row<&BodySpec::radius>(length_key("radius", "0.35", "of the upright capsule", 0.05, 10.0)),
    row<&BodySpec::height>(
        length_key("height", "1.8", "of the whole capsule; at least twice the radius", 0.1, 50.0)),
    row<&BodySpec::low_height>(length_key("low_height", "0.6 of the height",
                                          "height in states with `low = true`; at least twice the radius",
                                          0.1, 50.0)),
    row<&BodySpec::step_height>(
        length_key("step_height", "0.35",
                   "steps up to this height are walked over without slowing down, and steps "
                   "down to it are followed",
                   0.0, 5.0)),
    row<&BodySpec::slope_limit>(
        angle_key("slope_limit", "50", "ground steeper than this is a wall", 1.0, 89.0)),
    row<&BodySpec::stick_speed>(
        speed_key("stick_speed", "12",
                  "up to this speed it keeps to ground that falls away; above it, it flies off a "
                  "crest")),
    row<&BodySpec::gravity>({.name = "gravity",
                             .unit = "m/s^2",
                             .fallback = "20",
                             .meaning = "where a state says no other",
                             .least = 0.1,
                             .most = 1000.0}),
    row<&BodySpec::coyote>(
        wait_key("coyote", "0", "how long \"footing\" lasts after walking off an edge", 1.0))};

constexpr Keys input_keys{row<&InputSpec::forward_within>(
    {.name = "forward_within",
     .unit = "deg",
     .fallback = "60",
     .meaning = "\"moving forward\" holds while the move points within this angle of straight "
                "ahead, \"moving backward\" within it of straight back, \"moving sideways\" between",
     .least = 1.0,
     .most = 89.0})};

constexpr Keys action_keys{
    was_row<ActionSpec>,
    choice_row<&ActionSpec::press>(
        plain_key("press", "hold",
                  "hold: on while the key is down; toggle: each press switches it on or off. "
                  "A player may override it at run time"),
        press_modes),
    row<&ActionSpec::buffer>(
        wait_key("buffer", "0",
                 "how long a press waits for a state that it can bring about; at most 4 actions of "
                 "a chart can have one",
                 1.0))};

constexpr Keys scale_keys{
    row<&ScaleSpec::by>(plain_key("by", "required", "the other meter")),
    row<&ScaleSpec::at>({.name = "at",
                         .fallback = "[0, 1]",
                         .meaning = "how full the other meter is, as fractions of its capacity, rising",
                         .least = 0.0,
                         .most = 1.0}),
    row<&ScaleSpec::factors>(
        {.name = "factors",
         .fallback = "required",
         .meaning = "the factor at each of them; straight in between, clamped at the ends",
         .least = 0.0,
         .most = 1000.0})};

constexpr Keys refill_keys{
    row<&RefillSpec::rate>({.name = "rate",
                            .unit = "per second",
                            .fallback = "required",
                            .meaning = "how fast the meter refills while nothing drains it",
                            .least = 0.0,
                            .most = 1e6,
                            .above_least = true}),
    row<&RefillSpec::wait>({.name = "wait",
                            .unit = "s",
                            .fallback = "0",
                            .meaning = "how long after the last drain the refill begins",
                            .least = 0.0,
                            .most = 500.0}),
    row<&RefillSpec::in>(plain_key("in", "all", "the states in which it refills")),
    row<&RefillSpec::when>(plain_key("when", "always", "it refills while this holds")),
    listed_row<&RefillSpec::scale>(plain_key("scale", "none", "how full other meters are scales the refill"),
                                   scale_keys)};

constexpr Keys spent_keys{
    row<&SpentSpec::at>({.name = "at",
                         .fallback = "0",
                         .meaning = "the meter becomes spent when it falls to this level",
                         .least = 0.0,
                         .most = 1e6}),
    row<&SpentSpec::until>({.name = "until",
                            .fallback = "required",
                            .meaning = "it stays spent until it has refilled to this level; above `at`",
                            .least = 0.0,
                            .most = 1e6,
                            .above_least = true}),
    row<&SpentSpec::bars>(plain_key(
        "bars", "true", "states that drain this meter can neither be entered nor kept while it is spent")),
    row<&SpentSpec::grants>(plain_key("grants", "none", "the modifier that begins when the meter is spent"))};

constexpr Keys level_keys{row<&LevelSpec::level>(
    {.name = "level", .fallback = "required", .meaning = "at most the capacity", .least = 0.0, .most = 1e6})};

constexpr Keys meter_keys{
    was_row<MeterSpec>,
    row<&MeterSpec::capacity>({.name = "capacity",
                               .fallback = "required",
                               .meaning = "level of the full meter, in a unit of your own",
                               .least = 0.001,
                               .most = 1e6}),
    row<&MeterSpec::start>({.name = "start",
                            .fallback = "the capacity",
                            .meaning = "level at spawn; at most the capacity",
                            .least = 0.0,
                            .most = 1e6}),
    inner_row<&MeterSpec::refill>(plain_key("refill", "none", "how the meter comes back"), refill_keys),
    inner_row<&MeterSpec::spent>(
        plain_key("spent", "none", "the latch that keeps a drained meter from being used again at once"),
        spent_keys),
    listed_row<&MeterSpec::drain_scale>(
        plain_key("drain_scale", "none", "how full other meters are scales what drains this one"),
        scale_keys),
    named_row<&MeterSpec::thresholds>(
        tables_key("thresholds", "none", "levels whose crossing is an event", limits::thresholds),
        level_keys)};

constexpr Keys cooldown_keys{
    was_row<CooldownSpec>,
    row<&CooldownSpec::seconds>({.name = "seconds",
                                 .unit = "s",
                                 .fallback = "required",
                                 .meaning = "how long a charge is away, from its use by the entry of a state",
                                 .least = 0.0,
                                 .most = 300.0,
                                 .above_least = true}),
    row<&CooldownSpec::charges>({.name = "charges",
                                 .fallback = "1",
                                 .meaning = "how often it can be used before it must be waited for",
                                 .least = 1.0,
                                 .most = 15.0}),
    choice_row<&CooldownSpec::recharge>(plain_key("recharge", "one",
                                                  "one: charges come back one after the other, each in its "
                                                  "seconds; all: all at once, in the seconds of one"),
                                        recharges),
    choice_row<&CooldownSpec::begins>(
        plain_key("begins", "entry",
                  "entry: the wait begins as the state is entered; end: as it is "
                  "left"),
        beginnings),
    row<&CooldownSpec::also>(
        plain_key("also", "none",
                  "another cooldown that begins whenever this one is used, and that is waited for too: "
                  "a common lock-out"))};

constexpr Keys affect_keys{
    row<&AffectSpec::what>(plain_key(
        "what", "required",
        "speed (m/s), gain (factor), jump (m of height), gravity (m/s^2), steer (m/s^2), turn (rad/s), "
        "burst (m/s), drain.METER or refill.METER (per second), cooldown.NAME (factor of "
        "its pace, which does not fade)")),
    row<&AffectSpec::adds>({.name = "adds",
                            .fallback = "0",
                            .meaning = "added to the chart's number, once per stack",
                            .least = -1e6,
                            .most = 1e6}),
    row<&AffectSpec::times>({.name = "times",
                             .fallback = "1",
                             .meaning = "factor of the sum, once per stack",
                             .least = 0.0,
                             .most = 1000.0}),
    row<&AffectSpec::sets>({.name = "sets",
                            .fallback = "none",
                            .meaning = "this instead; the lowest, if several say so",
                            .least = 0.0,
                            .most = 1e6}),
    row<&AffectSpec::at_least>(
        {.name = "at_least", .fallback = "none", .meaning = "no less than this", .least = 0.0, .most = 1e6}),
    row<&AffectSpec::at_most>({.name = "at_most",
                               .fallback = "none",
                               .meaning = "no more than this; it wins over at_least",
                               .least = 0.0,
                               .most = 1e6})};

constexpr Keys modifier_keys{
    was_row<ModifierSpec>,
    row<&ModifierSpec::seconds>({.name = "seconds",
                                 .unit = "s",
                                 .fallback = "until removed",
                                 .meaning = "from the grant until it begins to fade out",
                                 .least = 0.0,
                                 .most = 400.0,
                                 .above_least = true}),
    row<&ModifierSpec::fade_in>(
        wait_key("fade_in", "0", "it grows to its full strength over this time, in steps of 0.02 s", 60.0)),
    row<&ModifierSpec::fade_out>(
        wait_key("fade_out", "0", "it fades away over this time, in steps of 0.02 s", 60.0)),
    choice_row<&ModifierSpec::stacking>(
        plain_key("stacking", "refresh",
                  "what a further grant does. refresh: the time starts again, by any source, and it "
                  "is at work until its last source removes it. The others keep sources apart: "
                  "extend: the seconds are added to what is left; count: a stack more, up to `most`, "
                  "and the time starts again; strongest: the stronger grant stays; separate: both are "
                  "at work. Grants by several sources count once, at the strongest, for refresh, "
                  "extend and strongest, and each for itself for count and separate"),
        stackings),
    row<&ModifierSpec::most>(
        {.name = "most", .fallback = "1", .meaning = "stacks at most", .least = 1.0, .most = 15.0}),
    row<&ModifierSpec::while_holds>(plain_key("while", "none", "at work by itself while this holds")),
    row<&ModifierSpec::build>(wait_key(
        "build", "all at once", "with `while`: a stack more after each such time, up to `most`", 60.0)),
    row<&ModifierSpec::first>(
        wait_key("first", "0", "with `build`: the wait for the first stack; only then it has begun", 60.0)),
    row<&ModifierSpec::shed>(
        wait_key("shed", "all at once",
                 "with `while`: a stack less after each such time once it holds no longer", 60.0)),
    row<&ModifierSpec::then>(plain_key("then", "none", "the modifier that begins when this one has ended")),
    listed_row<&ModifierSpec::affects>(plain_key("affects", "none", "what it changes"), affect_keys)};

constexpr Keys block_keys{
    was_row<BlockSpec>,
    row<&BlockSpec::bans>(
        plain_key("bans", "required", "actions, states, and \"movement\" for every wish to move")),
    choice_row<&BlockSpec::resume>(
        plain_key("resume", "press",
                  "how an action goes on whose key is down when the ban ends. held: it is on again at "
                  "once; press: after another press"),
        resumes)};

/// Outside of what a state may take over from another.
constexpr Keys named_state_keys(was_row<StateSpec>, state_keys);

constexpr Keys require_keys{row<&RequirementSpec::that>(
    plain_key("that", "required", "the requirement, such as \"never sprint with stamina spent\""))};

constexpr Keys chart_keys{
    row<&ChartSpec::name>(plain_key("name", "required", "name of the chart")),
    row<&ChartSpec::rank>(
        plain_key("rank", "required",
                  "all states, in the order in which they are tried; the first that may be is taken")),
    inner_row<&ChartSpec::body>(plain_key("body", "defaults", "the capsule, and how it stands on the ground"),
                                body_keys),
    inner_row<&ChartSpec::input>(plain_key("input", "defaults", "how the intent is read"), input_keys),
    row<&ChartSpec::zones>(
        plain_key("zones", "none", "kinds of zones that conditions can tell apart, up to 6: \"in mud\"")),
    named_row<&ChartSpec::actions>(
        tables_key("actions", "none", "what the player can press; keys are bound elsewhere", limits::actions),
        action_keys),
    named_row<&ChartSpec::meters>(
        tables_key("meters", "none", "bounded quantities such as stamina", limits::meters), meter_keys),
    named_row<&ChartSpec::cooldowns>(
        tables_key("cooldowns", "none", "waits before something may be used again", limits::cooldowns),
        cooldown_keys),
    named_row<&ChartSpec::modifiers>(
        tables_key("modifiers", "none", "timed, stackable changes to quantities; up to 16 at work at once",
                   limits::modifier_kinds),
        modifier_keys),
    named_row<&ChartSpec::blocks>(
        tables_key("blocks", "none", "bans that the game puts into force and lifts, each counted",
                   limits::blocks),
        block_keys),
    named_row<&ChartSpec::states>(tables_key("states", "required", "ways of moving", limits::states),
                                  named_state_keys),
    listed_row<&ChartSpec::requirements>(
        plain_key("require", "none", "what has to be so whatever is pressed; `cursimeter check` rules on it"),
        require_keys)};

}  // namespace

Table<ChartSpec> chart_table() {
    return chart_keys.table();
}
Table<StateSpec> state_table() {
    return state_keys.table();
}

}  // namespace cursimeter::keys
