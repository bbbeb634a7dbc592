#pragma once

#include <cstddef>
#include <cursimeter/intent.hpp>

#include "capi/boundary.hpp"

namespace cursimeter::capi {

inline Focus focus_of(const cursimeter_focus& focus) noexcept {
    return {vector_of(focus.position), vector_of(focus.velocity), focus.eye_height};
}

/// A C intent, read into one of the library's. Allocates nothing.
class ReadIntent {
  public:
    /// False if it cannot be read: null, without its size, with changes that are null or more than a tick takes.
    bool take_in(const cursimeter_intent* given) noexcept {
        cursimeter_intent said = CURSIMETER_INTENT_INIT;
        if (!capi::take_in(given, said) || (said.changes == nullptr && said.change_count > 0)) {
            return false;
        }
        intent_.move = {said.forward, said.side};
        intent_.look = {said.yaw, said.pitch};
        intent_.held = said.held;
        intent_.facing = said.facing == 1 ? Facing::movement : Facing::look;
        const std::size_t count = said.change_count < most ? said.change_count : most;
        for (std::size_t i = 0; i < count; ++i) {
            const cursimeter_change& change = said.changes[i];
            const bool known = change.kind >= CURSIMETER_PRESS && change.kind <= CURSIMETER_LOOK;
            const bool is_action =
                change.action >= 0 && change.action < static_cast<int32_t>(limits::actions);
            new (changes() + i)
                Change{change.at, known ? static_cast<ChangeKind>(change.kind) : ChangeKind::release,
                       ActionId{static_cast<std::uint8_t>(known && is_action ? change.action : 255)},
                       change.x, change.y};
        }
        intent_.changes = {changes(), count};
        if (said.focus != nullptr) {
            focus_ = focus_of(*said.focus);
            intent_.focus = &focus_;
        }
        return said.change_count <= most;
    }
    /// Refers to this.
    [[nodiscard]] const Intent& intent() const { return intent_; }

  private:
    static constexpr std::size_t most = limits::changes_per_intent;
    [[nodiscard]] Change* changes() noexcept { return reinterpret_cast<Change*>(room_); }
    alignas(
        Change) std::byte room_[sizeof(Change) * most];  // unwritten where nothing changes, as in most ticks
    Focus focus_;
    Intent intent_;
};

/// An intent of the library as a C one. Allocates nothing.
class ToldIntent {
  public:
    /// Refers to this, until it tells another.
    [[nodiscard]] const cursimeter_intent& tell(const Intent& intent) noexcept {
        told_ = CURSIMETER_INTENT_INIT;
        told_.forward = intent.move.forward;
        told_.side = intent.move.side;
        told_.yaw = intent.look.yaw;
        told_.pitch = intent.look.pitch;
        told_.held = intent.held;
        told_.facing = intent.facing == Facing::movement ? 1 : 0;
        told_.changes = changes_;
        for (const Change& change : intent.changes) {
            if (told_.change_count == limits::changes_per_intent) {
                break;
            }
            changes_[told_.change_count++] = {change.at, static_cast<int32_t>(change.kind),
                                              change.action.index, change.x, change.y};
        }
        if (intent.focus != nullptr) {
            put(intent.focus->position, focus_.position);
            put(intent.focus->velocity, focus_.velocity);
            focus_.eye_height = intent.focus->eye_height;
            told_.focus = &focus_;
        }
        return told_;
    }

  private:
    cursimeter_intent told_ = CURSIMETER_INTENT_INIT;
    cursimeter_change changes_[limits::changes_per_intent];
    cursimeter_focus focus_{};
};

}  // namespace cursimeter::capi
