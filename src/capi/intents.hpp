#pragma once

#include <cstddef>
#include <cursimeter/intent.hpp>

#include "capi/boundary.hpp"

namespace cursimeter::capi {

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
            focus_ = {vector_of(said.focus->position), vector_of(said.focus->velocity),
                      said.focus->eye_height};
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

}  // namespace cursimeter::capi
