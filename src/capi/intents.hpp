#pragma once

#include <cstddef>
#include <cursimeter/intent.hpp>
#include <span>
#include <vector>

#include "capi/boundary.hpp"

namespace cursimeter::capi {

inline Focus focus_of(const cursimeter_focus& focus) noexcept {
    return {vector_of(focus.position), vector_of(focus.velocity), focus.eye_height};
}

inline Change change_of(const cursimeter_change& change) noexcept {
    const bool known = change.kind >= CURSIMETER_PRESS && change.kind <= CURSIMETER_LOOK;
    const bool is_action = change.action >= 0 && change.action < static_cast<int32_t>(limits::actions);
    return {change.at, known ? static_cast<ChangeKind>(change.kind) : ChangeKind::release,
            ActionId{static_cast<std::uint8_t>(known && is_action ? change.action : 255)}, change.x,
            change.y};
}
/// All of an intent but what it points to.
inline Intent plain_intent_of(const cursimeter_intent& said) noexcept {
    Intent intent;
    intent.move = {said.forward, said.side};
    intent.look = {said.yaw, said.pitch};
    intent.held = said.held;
    intent.facing = said.facing == 1 ? Facing::movement : Facing::look;
    return intent;
}
/// False if an intent cannot be read: null, without its size, with changes that are null or more than a tick takes.
inline bool take_in_intent(const cursimeter_intent* given, cursimeter_intent& said) noexcept {
    return take_in(given, said) && (said.changes != nullptr || said.change_count == 0) &&
           said.change_count <= limits::changes_per_intent;
}

/// A C intent, read into one of the library's. Allocates nothing.
class ReadIntent {
  public:
    /// False if it cannot be read.
    bool take_in(const cursimeter_intent* given) noexcept {
        cursimeter_intent said = CURSIMETER_INTENT_INIT;
        if (!take_in_intent(given, said)) {
            return false;
        }
        intent_ = plain_intent_of(said);
        for (std::size_t i = 0; i < said.change_count; ++i) {
            new (changes() + i) Change(change_of(said.changes[i]));
        }
        intent_.changes = {changes(), said.change_count};
        if (said.focus != nullptr) {
            focus_ = focus_of(*said.focus);
            intent_.focus = &focus_;
        }
        return true;
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

/// Those of a crowd. Allocates where there are more of them, or of their changes, than ever before.
class ReadIntents {
  public:
    /// Returns how many can be read: all, or the index of the first that cannot.
    std::size_t take_in(const cursimeter_intent* given, std::size_t count) {
        intents_.clear();
        changes_.clear();
        foci_.clear();
        intents_.reserve(count);
        std::size_t changes = 0, foci = 0;
        cursimeter_intent said = CURSIMETER_INTENT_INIT;
        for (std::size_t i = 0; i < count; ++i) {
            if (!take_in_intent(at(given, i), said)) {
                return i;
            }
            changes += said.change_count;
            foci += said.focus != nullptr ? 1 : 0;
        }
        changes_.reserve(changes);  // so that what points into them stays right
        foci_.reserve(foci);
        for (std::size_t i = 0; i < count; ++i) {
            static_cast<void>(take_in_intent(at(given, i), said));
            Intent& intent = intents_.emplace_back(plain_intent_of(said));
            for (std::size_t k = 0; k < said.change_count; ++k) {
                changes_.push_back(change_of(said.changes[k]));
            }
            intent.changes = {changes_.data() + changes_.size() - said.change_count, said.change_count};
            if (said.focus != nullptr) {
                intent.focus = &foci_.emplace_back(focus_of(*said.focus));
            }
        }
        return count;
    }
    /// Refer to this, until others are taken in.
    [[nodiscard]] std::span<const Intent> intents() const { return intents_; }

  private:
    /// They lie as far apart as the caller's struct is large, which may be an earlier one.
    static const cursimeter_intent* at(const cursimeter_intent* given, std::size_t i) noexcept {
        return reinterpret_cast<const cursimeter_intent*>(reinterpret_cast<const std::byte*>(given) +
                                                          i * given->size);
    }
    std::vector<Intent> intents_;
    std::vector<Change> changes_;
    std::vector<Focus> foci_;
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
