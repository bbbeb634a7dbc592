#include "link/wire/stated_intent.hpp"

#include <algorithm>
#include <cmath>

#include "link/wire/whole.hpp"

namespace cursimeter::link {
namespace {

void state_move(double forward, double side, std::int16_t& stated_forward, std::int16_t& stated_side) {
    const double length = std::max(1.0, std::hypot(forward, side));
    stated_forward = static_cast<std::int16_t>(
        whole(forward / length * stated_move_units, -stated_move_units, stated_move_units));
    stated_side = static_cast<std::int16_t>(
        whole(side / length * stated_move_units, -stated_move_units, stated_move_units));
}

void state_look(double yaw, double pitch, std::int16_t& stated_yaw, std::int16_t& stated_pitch) {
    const double turns = std::fabs(yaw) < 1e9 ? yaw / turn : 0.0;
    const double part = turns - std::floor(turns);
    stated_yaw = static_cast<std::int16_t>(static_cast<std::uint16_t>(
        static_cast<std::uint32_t>(whole(part * stated_yaw_units, -stated_yaw_units, stated_yaw_units)) &
        0xffffU));
    stated_pitch = static_cast<std::int16_t>(
        whole(pitch / (turn / 4.0) * stated_pitch_units, -stated_pitch_units, stated_pitch_units));
}

double yaw_of(std::int16_t yaw) {
    return yaw * (turn / stated_yaw_units);
}
double pitch_of(std::int16_t pitch) {
    return pitch * (turn / 4.0 / stated_pitch_units);
}

}  // namespace

StatedIntent StatedIntent::afterwards() const {
    StatedIntent next = *this;
    next.change_count = 0;
    next.extra = {};
    next.changes = {};
    for (std::size_t i = 0; i < change_count; ++i) {
        const StatedChange& change = changes[i];
        const std::uint32_t mask = key_bit(ActionId{change.action});
        switch (change.kind) {
            case ChangeKind::press:
                next.held |= mask;
                break;
            case ChangeKind::release:
                next.held &= ~mask;
                break;
            case ChangeKind::move:
                next.forward = change.x;
                next.side = change.y;
                break;
            case ChangeKind::look:
                next.yaw = change.x;
                next.pitch = change.y;
                break;
        }
    }
    return next;
}

StatedIntent state_intent(const Intent& intent, double dt, std::uint32_t actions) {
    StatedIntent stated;
    state_move(intent.move.forward, intent.move.side, stated.forward, stated.side);
    state_look(intent.look.yaw, intent.look.pitch, stated.yaw, stated.pitch);
    stated.held = intent.held & actions;
    stated.faces_movement = intent.facing == Facing::movement;
    if (intent.focus != nullptr) {
        stated.focused = true;
        for (int axis = 0; axis < 3; ++axis) {
            const auto i = static_cast<std::size_t>(axis);
            stated.focus.position[i] =
                whole(intent.focus->position[axis] / stated_focus_length, -2.0e9, 2.0e9);
            stated.focus.velocity[i] =
                whole(intent.focus->velocity[axis] / stated_focus_speed, -1.0e6, 1.0e6);
        }
        stated.focus.eye_height = static_cast<std::int16_t>(
            whole(intent.focus->eye_height / stated_focus_speed, -32767.0, 32767.0));
    }
    std::uint16_t earliest = 0;
    for (const Change& change : intent.changes) {
        const bool key = change.kind == ChangeKind::press || change.kind == ChangeKind::release;
        if (key && (key_bit(change.action) & actions) == 0) {
            continue;
        }
        if (stated.change_count == most_stated_changes) {
            break;
        }
        StatedChange& said = stated.changes[stated.change_count++];
        const double at = std::floor(change.at / dt * stated_time_units);
        said.at = static_cast<std::uint16_t>(std::max<std::int32_t>(
            earliest, at > 0.0 ? static_cast<std::int32_t>(std::min(at, stated_time_units - 1.0)) : 0));
        earliest = said.at;
        said.kind = change.kind;
        if (key) {
            said.action = change.action.index;
        } else if (change.kind == ChangeKind::move) {
            state_move(change.x, change.y, said.x, said.y);
        } else {
            state_look(change.x, change.y, said.x, said.y);
        }
    }
    return stated;
}

PlayedIntent::PlayedIntent(const StatedIntent& stated, double dt) {
    intent_.move = {stated.forward / stated_move_units, stated.side / stated_move_units};
    intent_.look = {yaw_of(stated.yaw), pitch_of(stated.pitch)};
    intent_.held = stated.held;
    intent_.facing = stated.faces_movement ? Facing::movement : Facing::look;
    if (stated.focused) {
        for (int axis = 0; axis < 3; ++axis) {
            const auto i = static_cast<std::size_t>(axis);
            focus_.position[axis] = stated.focus.position[i] * stated_focus_length;
            focus_.velocity[axis] = stated.focus.velocity[i] * stated_focus_speed;
        }
        focus_.eye_height = stated.focus.eye_height * stated_focus_speed;
        intent_.focus = &focus_;
    }
    for (std::size_t i = 0; i < stated.change_count; ++i) {
        const StatedChange& said = stated.changes[i];
        Change& change = changes_[i];
        change.at = said.at * (dt / stated_time_units);
        change.kind = said.kind;
        change.action = ActionId{said.action};
        if (said.kind == ChangeKind::move) {
            change.x = said.x / stated_move_units;
            change.y = said.y / stated_move_units;
        } else if (said.kind == ChangeKind::look) {
            change.x = yaw_of(said.x);
            change.y = pitch_of(said.y);
        }
    }
    intent_.changes = std::span(changes_.data(), stated.change_count);
}

namespace wire {

const IntentModels fresh_intent_models{};

}  // namespace wire
}  // namespace cursimeter::link
