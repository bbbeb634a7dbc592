#include "drill/drill_keys.hpp"

namespace cursimeter::keys {
namespace {

constexpr Keys move_keys{row<&Move::forward>({.name = "forward",
                                              .fallback = "0",
                                              .meaning = "+ ahead, - back; 1 is full stick",
                                              .least = -1.0,
                                              .most = 1.0}),
                         row<&Move::side>({.name = "side",
                                           .fallback = "0",
                                           .meaning = "+ to the right, - to the left",
                                           .least = -1.0,
                                           .most = 1.0})};

constexpr Keys look_keys{row<&LookSpec::yaw>({.name = "yaw",
                                              .unit = "deg",
                                              .fallback = "0",
                                              .meaning = "0 looks along +x, growing towards +y",
                                              .least = -3600.0,
                                              .most = 3600.0}),
                         row<&LookSpec::pitch>({.name = "pitch",
                                                .unit = "deg",
                                                .fallback = "0",
                                                .meaning = "positive upward",
                                                .least = -90.0,
                                                .most = 90.0})};

constexpr Keys step_keys{
    row<&StepSpec::at>({.name = "at",
                        .unit = "s",
                        .fallback = "required",
                        .meaning = "when; in a repeat, after the start of each pass",
                        .least = 0.0,
                        .most = 86400.0}),
    row<&StepSpec::release>(plain_key("release", "none", "keys that go up")),
    row<&StepSpec::hold>(plain_key("hold", "none", "keys that go down and stay down")),
    row<&StepSpec::press>(
        plain_key("press", "none", "keys that go down, and up again after `press_seconds`")),
    inner_row<&StepSpec::move>(plain_key("move", "as before", "the wanted move from now on"), move_keys),
    inner_row<&StepSpec::look>(plain_key("look", "as before", "the look from now on"), look_keys)};

constexpr Keys repeat_keys{
    row<&RepeatSpec::from>({.name = "from",
                            .unit = "s",
                            .fallback = "required",
                            .meaning = "start of the first pass",
                            .least = 0.0,
                            .most = 86400.0}),
    row<&RepeatSpec::every>({.name = "every",
                             .unit = "s",
                             .fallback = "required",
                             .meaning = "from the start of one pass to the next",
                             .least = 0.0,
                             .most = 86400.0,
                             .above_least = true}),
    row<&RepeatSpec::times>(
        {.name = "times", .fallback = "1", .meaning = "number of passes", .least = 1.0, .most = 100000.0}),
    listed_row<&RepeatSpec::steps>(
        plain_key("step", "required", "what happens in each pass, in order of time"), step_keys)};

constexpr Key expected_time(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {
        .name = name, .unit = "s", .fallback = fallback, .meaning = meaning, .least = 0.0, .most = 86400.0};
}

constexpr Keys expect_keys{
    row<&ExpectSpec::state>(plain_key("state", "any", "the state that the runner is in")),
    row<&ExpectSpec::holds>(plain_key("holds", "none", "terms, as in conditions: all of them hold")),
    row<&ExpectSpec::never>(plain_key("never", "none", "terms that do not all hold together")),
    row<&ExpectSpec::leg>(plain_key("leg", "none", "a leg of the course: it is finished")),
    row<&ExpectSpec::least>(expected_time("least", "0", "the leg takes at least so long")),
    row<&ExpectSpec::most>(expected_time("most", "any", "the leg takes at most so long")),
    row<&ExpectSpec::at>(expected_time("at", "all the time", "when it is so")),
    row<&ExpectSpec::from>(expected_time("from", "the start", "it is so from then on, and up to `to`")),
    row<&ExpectSpec::to>(expected_time("to", "the end", "see `from`")),
    row<&ExpectSpec::after>(plain_key(
        "after", "none", "a term: it is so each time that this comes to hold, such as \"jump pressed\"")),
    row<&ExpectSpec::within>(expected_time(
        "within", "at once", "it is so at some time in so many seconds from `at` or `after` on"))};

constexpr std::array facings{Word("look", Facing::look), Word("movement", Facing::movement)};

constexpr Keys start_keys{
    row<&StartSpec::position>({.name = "position",
                               .unit = "m",
                               .fallback = "[0, 0, 0]",
                               .meaning = "of the feet",
                               .least = -1e6,
                               .most = 1e6}),
    row<&StartSpec::yaw>({.name = "yaw",
                          .unit = "deg",
                          .fallback = "0",
                          .meaning = "the first look: 0 looks along +x, growing towards +y",
                          .least = -3600.0,
                          .most = 3600.0}),
    row<&StartSpec::runner>({.name = "runner",
                             .fallback = "at rest, with full meters",
                             .meaning = "a saved runner, as text: it goes on from where it was with all that "
                                        "it had; then without `position` and `yaw`",
                             .most = 100'000.0}),
    row<&StartSpec::time>({.name = "time",
                           .unit = "s",
                           .fallback = "0",
                           .meaning = "what the course's clock shows then: moving parts stand accordingly",
                           .least = 0.0,
                           .most = 86400.0}),
    choice_row<&StartSpec::facing>(
        plain_key("facing", "look",
                  "what the runner faces all through: where it looks, and it goes sideways and back by the "
                  "chart's speeds for that; or the way that it goes, always at the forward speed"),
        facings)};

constexpr Keys drill_keys{
    row<&DrillSpec::name>(plain_key("name", "required", "name of the drill")),
    row<&DrillSpec::seconds>({.name = "seconds",
                              .unit = "s",
                              .fallback = "required",
                              .meaning = "length of the drill",
                              .least = 0.0,
                              .most = 86400.0,
                              .above_least = true}),
    row<&DrillSpec::press_seconds>({.name = "press_seconds",
                                    .unit = "s",
                                    .fallback = "0.05",
                                    .meaning = "how long a `press` keeps its key down",
                                    .least = 0.0,
                                    .most = 60.0}),
    row<&DrillSpec::set_hold>(plain_key("set_hold", "none", "actions that this player has set to hold")),
    row<&DrillSpec::set_toggle>(
        plain_key("set_toggle", "none", "actions that this player has set to toggle")),
    inner_row<&DrillSpec::start>(plain_key("start", "defaults", "where the runner begins"), start_keys),
    listed_row<&DrillSpec::steps>(plain_key("step", "none", "what happens when, in order of time"),
                                  step_keys),
    listed_row<&DrillSpec::repeats>(plain_key("repeat", "none", "steps that are repeated"), repeat_keys),
    listed_row<&DrillSpec::expects>(
        plain_key("expect", "none", "what is expected of its runs: `cursimeter trial` holds them against it"),
        expect_keys)};

}  // namespace

Table<DrillSpec> drill_table() {
    return drill_keys.table();
}

}  // namespace cursimeter::keys
