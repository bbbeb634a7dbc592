#include "controls/controls_keys.hpp"

#include "core/chart/chart_keys.hpp"

namespace cursimeter::keys {
namespace {

constexpr Keys binding_keys{
    row<&BindingSpec::action>(plain_key(
        "action", "required", "an action of the chart, or move_forward, move_back, move_left, move_right")),
    row<&BindingSpec::inputs>(
        plain_key("inputs", "required",
                  "the game's names of what must be down together; none: the action is on nothing")),
    row<&BindingSpec::double_tap>(
        wait_key("double_tap", "0: once is enough",
                 "the last input counts only if it went down twice within this time", 2.0))};

constexpr Keys press_choice_keys{choice_row<&PressChoice::press>(
    plain_key("press", "hold", "in place of the chart's choice"), press_modes)};

constexpr Keys stick_keys{
    row<&StickSpec::dead_zone>({.name = "dead_zone",
                                .fallback = "0.15",
                                .meaning = "deflections below this are none",
                                .least = 0.0,
                                .most = 0.9}),
    row<&StickSpec::full_at>({.name = "full_at",
                              .fallback = "0.95",
                              .meaning = "deflections from this on are full",
                              .least = 0.1,
                              .most = 1.0}),
    row<&StickSpec::exponent>({.name = "exponent",
                               .fallback = "1",
                               .meaning = "of what lies between; above 1 is finer near the centre",
                               .least = 0.1,
                               .most = 10.0})};

constexpr Keys look_control_keys{
    row<&LookControlSpec::sensitivity>({.name = "sensitivity",
                                        .unit = "deg per unit of a mouse",
                                        .fallback = "0.15",
                                        .meaning = "how far the look turns",
                                        .least = 0.0,
                                        .most = 100.0}),
    row<&LookControlSpec::turn_rate>({.name = "turn_rate",
                                      .unit = "deg/s",
                                      .fallback = "180",
                                      .meaning = "of a stick at full deflection",
                                      .least = 0.0,
                                      .most = 3600.0}),
    row<&LookControlSpec::invert_pitch>(plain_key("invert_pitch", "false", "up turns the look down")),
    row<&LookControlSpec::most_pitch>({.name = "most_pitch",
                                       .unit = "deg",
                                       .fallback = "85",
                                       .meaning = "up and down",
                                       .least = 0.0,
                                       .most = 90.0}),
    row<&LookControlSpec::smoothing>(
        wait_key("smoothing", "0", "half of what is still to turn is turned in this time", 1.0))};

constexpr Keys controls_keys{
    row<&ControlsSpec::name>(plain_key("name", "required", "name of the settings")),
    named_row<&ControlsSpec::presses>(
        tables_key("actions", "none", "the player's choice how an action is pressed", limits::actions),
        press_choice_keys),
    inner_row<&ControlsSpec::stick>(plain_key("stick", "defaults", "how the move stick is read"), stick_keys),
    inner_row<&ControlsSpec::look>(plain_key("look", "defaults", "how mouse and look stick are read"),
                                   look_control_keys),
    listed_row<&ControlsSpec::bindings>(
        plain_key("bind", "none", "what presses what; several for one action are alternatives"),
        binding_keys)};

}  // namespace

Table<ControlsSpec> controls_table() {
    return controls_keys.table();
}

}  // namespace cursimeter::keys
