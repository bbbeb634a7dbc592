#include "core/want/keys.hpp"

#include <bit>

#include "core/chart/facts.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/timers.hpp"
#include "core/want/blocks.hpp"
#include "core/want/move_and_look.hpp"

/// Taking in what the intent says.
namespace cursimeter::detail {
namespace {

void change_move(Instant& instant, const Move& move) {
    RunnerState& runner = instant.runner;
    runner.around.cornered = false;
    const glm::dvec2 before(runner.move_forward, runner.move_side);
    if (!take_move(runner, move.forward, move.side)) {
        instant.report.intent_mended = true;
    }
    instant.dirty.note(Changed::move, before != glm::dvec2(runner.move_forward, runner.move_side));
    const std::uint8_t moving = moving_facts(instant.chart, runner);
    instant.dirty.note(Changed::moving, moving != runner.moving);
    runner.moving = moving;
}

void change_look(Instant& instant, const Look& look) {
    RunnerState& runner = instant.runner;
    const glm::dvec2 before(runner.look_yaw, runner.look_pitch);
    if (!take_look(runner, look.yaw, look.pitch)) {
        instant.report.intent_mended = true;
    }
    runner.around.cornered = false;
    instant.dirty.note(Changed::look, before != glm::dvec2(runner.look_yaw, runner.look_pitch));
}

}  // namespace

void take_key(Instant& instant, std::uint8_t action, bool down) {
    if (action >= instant.chart.actions.size()) {
        instant.report.intent_mended = true;
        return;
    }
    RunnerState& runner = instant.runner;
    const ActionMask mask = ActionMask{1} << action;
    if (((runner.held & mask) != 0) == down) {
        return;
    }
    runner.held ^= mask;
    instant.emit(down ? EventKind::pressed : EventKind::released, action);
    const bool banned = (bans_of(instant.chart, runner).actions & mask) != 0;
    if (down && banned && forgets_press(instant.chart, runner, action)) {
        return;
    }
    if ((runner.toggles & mask) == 0) {
        runner.on = down ? runner.on | mask : runner.on & ~mask;
    } else if (down) {
        runner.on ^= mask;
    }
    instant.dirty.note(Changed::key);
    const CompiledState& state = instant.chart.states[runner.state];
    if (!down && state.launch.by == action && runner.velocity.z > 0.0) {
        runner.cut = true;
        instant.dirty.note(Changed::look);
    }
    if (state.traits.aims_in_space && (state.fly.up == action || state.fly.down == action)) {
        instant.dirty.note(Changed::look);
    }
    if (banned) {
        return;
    }
    instant.momentary |= down ? fact::press_bit(action) : fact::release_bit(action);
    const CompiledAction& compiled = instant.chart.actions[action];
    if (down && compiled.buffer_slot != no_buffer) {
        start_timer(runner, timer::buffer_first + compiled.buffer_slot, compiled.buffer);
    }
}

void take_change(Instant& instant, const Change& change) {
    switch (change.kind) {
        case ChangeKind::press:
            take_key(instant, change.action.index, true);
            break;
        case ChangeKind::release:
            take_key(instant, change.action.index, false);
            break;
        case ChangeKind::move:
            change_move(instant, {change.x, change.y});
            break;
        case ChangeKind::look:
            change_look(instant, {change.x, change.y});
            break;
        default:
            instant.report.intent_mended = true;
    }
}

void take_start(Instant& instant, const Intent& intent) {
    RunnerState& runner = instant.runner;
    if (intent.move.forward != runner.move_forward || intent.move.side != runner.move_side) {
        change_move(instant, intent.move);
    }
    if (intent.focus == nullptr &&
        (intent.look.yaw != runner.look_yaw || intent.look.pitch != runner.look_pitch)) {
        change_look(instant, intent.look);
    }
    const bool faces_movement = intent.facing == Facing::movement;
    if (faces_movement != runner.faces_movement) {
        runner.faces_movement = faces_movement;
        change_move(instant, {runner.move_forward, runner.move_side});
        instant.dirty.note(Changed::move);
    }
    std::uint32_t changed = intent.held ^ runner.held;
    while (changed != 0) {
        const auto action = static_cast<std::uint8_t>(std::countr_zero(changed));
        changed &= changed - 1;
        take_key(instant, action, (intent.held >> action & 1U) != 0);
    }
}

}  // namespace cursimeter::detail
