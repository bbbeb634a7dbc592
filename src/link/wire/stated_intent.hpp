#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <cursimeter/intent.hpp>
#include <cursimeter/link/protocol.hpp>
#include <optional>
#include <span>
#include <type_traits>

#include "link/wire/coder.hpp"
#include "link/wire/mask_coding.hpp"

/// Intents in whole numbers. A client plays what it will send, so that the server plays the same.
namespace cursimeter::link {

inline constexpr double stated_move_units = 127.0;
inline constexpr double stated_yaw_units = 65536.0;    ///< per turn
inline constexpr double stated_pitch_units = 32767.0;  ///< from level to straight up
inline constexpr double stated_time_units = 1024.0;    ///< per tick
inline constexpr double stated_focus_length = 0.001;   ///< m
inline constexpr double stated_focus_speed = 0.01;     ///< m/s
/// Changes in one tick; later ones are left to the next tick's `held`, `move` and `look`.
inline constexpr std::size_t most_stated_changes = 16;

struct StatedChange {
    std::uint16_t at = 0;  ///< in 1/1024 of the tick
    ChangeKind kind = ChangeKind::press;
    std::uint8_t action = 0;
    std::int16_t x = 0, y = 0;  ///< of a move in 1/127; of a look, its turn (as 16 bits) and its pitch
    friend bool operator==(const StatedChange&, const StatedChange&) = default;
};

struct StatedFocus {
    std::array<std::int32_t, 3> position{};
    std::array<std::int32_t, 3> velocity{};
    std::int16_t eye_height = 0;  ///< stated_focus_speed is its unit too: cm
    friend bool operator==(const StatedFocus&, const StatedFocus&) = default;
};

struct StatedIntent {
    std::int16_t forward = 0, side = 0;
    std::int16_t yaw = 0, pitch = 0;
    std::uint32_t held = 0;
    bool faces_movement = false;
    bool focused = false;
    std::uint8_t change_count = 0;
    StatedFocus focus;
    std::array<StatedChange, most_stated_changes> changes{};
    ExtraBytes extra;

    /// How things are after the changes: what the next tick begins with if nothing else happens.
    [[nodiscard]] StatedIntent afterwards() const;
    friend bool operator==(const StatedIntent&, const StatedIntent&) = default;
};

/// The nearest that can be said. What is not a number counts as 0; `dt` is the tick's length, s.
[[nodiscard]] StatedIntent state_intent(const Intent& intent, double dt, std::uint32_t actions);

/// A stated intent as `advance` takes it. The same bits on every machine.
class PlayedIntent {
  public:
    PlayedIntent(const StatedIntent& stated, double dt);
    PlayedIntent(const PlayedIntent&) = delete;
    PlayedIntent& operator=(const PlayedIntent&) = delete;
    [[nodiscard]] const Intent& intent() const { return intent_; }

  private:
    std::array<Change, most_stated_changes> changes_{};
    Focus focus_;
    Intent intent_;
};

namespace wire {

struct IntentModels {
    /// By which the look moved in the tick before: a hand mostly goes on as it does.
    std::int16_t yaw_change = 0, pitch_change = 0;
    Model changed{0x5000}, moved{0xf000}, turned{0x1000}, pitched{0x2000}, keyed{0xf000}, focused{0xf800},
        faced{0xf800}, more{0xe800}, extra{0xf800};
    NumberModel yaw{0x0400, 0x1600, 0x2c00, 0x4a00, 0x5400, 0x5200, 0x4400, 0x4000,
                    0x4800, 0x8000, 0x9800, 0x8000, 0xb000, 0xe000, 0xf800};
    NumberModel pitch{0x0400, 0x3800, 0x4200, 0x5000, 0x5800, 0x4800,
                      0x4000, 0x4800, 0x8c00, 0xc800, 0xb800, 0xf000};
    NumberModel move{0x2400, 0x0800, 0x0800, 0x0800, 0x0c00, 0x3400, 0x8400, 0xf000};
    NumberModel focus, behind{0x0800, 0x3c00, 0xe800, 0xc800};
    MaskModels keys{0x4000};
};
/// As a packet begins. Copy it: where a compiler sees the values, it sets each of the 500 instead.
extern const IntentModels fresh_intent_models;

template <class Coder>
void code_extra(Coder& coder, Model& model, ExtraBytes& extra) {
    bool any = !extra.bytes().empty();
    coder.bit(model, any);
    if (!any) {
        extra = {};
        return;
    }
    auto less = static_cast<std::uint32_t>(extra.bytes().size() - 1);
    coder.bits(less, 4);
    ExtraBytes read;
    for (std::uint32_t i = 0; i <= less; ++i) {
        std::uint32_t byte = Coder::reads ? 0U : std::to_integer<std::uint32_t>(extra.bytes()[i]);
        coder.bits(byte, 8);
        const auto one = static_cast<std::byte>(byte);
        read.add({&one, 1});
    }
    extra = read;
}

/// An intent by the one before it.
template <class Coder>
void code_intent(Coder& coder, IntentModels& models, StatedIntent& intent, const StatedIntent& before) {
    StatedIntent expected = before.afterwards();
    expected.yaw = static_cast<std::int16_t>(expected.yaw + models.yaw_change);
    expected.pitch =
        static_cast<std::int16_t>(std::clamp(expected.pitch + models.pitch_change, -32767, 32767));
    const auto note_change = [&] {
        models.yaw_change = static_cast<std::int16_t>(intent.yaw - before.yaw);
        models.pitch_change =
            static_cast<std::int16_t>(std::clamp(intent.pitch - before.pitch, -32767, 32767));
    };
    bool changed = !(intent == expected);
    coder.bit(models.changed, changed);
    if (!changed) {
        intent = expected;
        note_change();
        return;
    }
    const auto part = [&](Model& model, bool differs, auto&& code, auto&& keep) {
        coder.bit(model, differs);
        if (differs) {
            code();
        } else {
            keep();
        }
    };
    const auto narrow = [&](NumberModel& model, auto& value, auto from) {
        std::int32_t difference = static_cast<std::int16_t>(value - from);
        number(coder, model, difference);
        value = static_cast<std::remove_reference_t<decltype(value)>>(from + difference);
    };
    part(
        models.moved, intent.forward != expected.forward || intent.side != expected.side,
        [&] {
            narrow(models.move, intent.forward, expected.forward);
            narrow(models.move, intent.side, expected.side);
        },
        [&] {
            intent.forward = expected.forward;
            intent.side = expected.side;
        });
    part(
        models.turned, intent.yaw != expected.yaw, [&] { narrow(models.yaw, intent.yaw, expected.yaw); },
        [&] { intent.yaw = expected.yaw; });
    part(
        models.pitched, intent.pitch != expected.pitch,
        [&] { narrow(models.pitch, intent.pitch, expected.pitch); }, [&] { intent.pitch = expected.pitch; });
    part(
        models.keyed, intent.held != expected.held,
        [&] { code_mask(coder, models.keys, intent.held, expected.held, limits::actions); },
        [&] { intent.held = expected.held; });
    coder.bit(models.faced, intent.faces_movement);
    coder.bit(models.focused, intent.focused);
    if (intent.focused) {
        for (std::size_t i = 0; i < 3; ++i) {
            against(coder, models.focus, intent.focus.position[i], expected.focus.position[i]);
            against(coder, models.focus, intent.focus.velocity[i], expected.focus.velocity[i]);
        }
        narrow(models.focus, intent.focus.eye_height, expected.focus.eye_height);
    } else {
        intent.focus = expected.focus;
    }
    code_extra(coder, models.extra, intent.extra);
    std::size_t count = 0;
    for (std::uint16_t time = 0; count <= most_stated_changes; ++count) {
        bool more = count < intent.change_count;
        if constexpr (Coder::reads) {
            more = count < most_stated_changes;
        }
        if (count < most_stated_changes) {
            coder.bit(models.more, more);
        }
        if (!more || count == most_stated_changes) {
            break;
        }
        StatedChange& change = intent.changes[count];
        std::uint32_t later = static_cast<std::uint32_t>(change.at) - time;
        coder.bits(later, 10);
        change.at = static_cast<std::uint16_t>((time + later) & 1023U);
        time = change.at;
        auto kind = static_cast<std::uint32_t>(change.kind);
        coder.bits(kind, 2);
        change.kind = static_cast<ChangeKind>(kind);
        if (change.kind == ChangeKind::press || change.kind == ChangeKind::release) {
            coder.bits(change.action, 5);
            if constexpr (Coder::reads) {
                change.x = change.y = 0;
            }
        } else {
            auto x = static_cast<std::uint16_t>(change.x), y = static_cast<std::uint16_t>(change.y);
            coder.bits(x, 16);
            coder.bits(y, 16);
            change.x = static_cast<std::int16_t>(x);
            change.y = static_cast<std::int16_t>(y);
        }
    }
    if constexpr (Coder::reads) {
        intent.change_count = static_cast<std::uint8_t>(count);
        for (std::size_t i = count; i < intent.changes.size(); ++i) {
            intent.changes[i] = {};
        }
    }
    note_change();
}
/// After the first intent of a packet, which is told by one of so many ticks before it.
inline void after_gap(IntentModels& models, std::uint32_t ticks) {
    models.yaw_change = static_cast<std::int16_t>(models.yaw_change / static_cast<std::int32_t>(ticks));
    models.pitch_change = static_cast<std::int16_t>(models.pitch_change / static_cast<std::int32_t>(ticks));
}

/// How far behind a tick the others were shown in it, in parts of a tick: told with each intent, since the packet
/// that told it first may be lost.
inline constexpr double behind_units = 16.0;
inline constexpr std::uint32_t most_behind = 8191;

/// Learnt over a packet with the intents of a client. Models are made for those who are there: it is many bytes.
class PlayersModels {
  public:
    explicit PlayersModels(std::size_t players) {
        for (std::size_t i = 0; i < players; ++i) {
            models_[i].emplace(fresh_intent_models);
        }
    }
    [[nodiscard]] IntentModels& of(std::size_t player) { return *models_[player]; }

  private:
    std::array<std::optional<IntentModels>, most_players> models_;
};
/// What the players want in a tick, and in the one before: two rows that change places from tick to tick.
class IntentRows {
  public:
    [[nodiscard]] std::array<StatedIntent, most_players>& now() { return rows_[now_]; }
    [[nodiscard]] std::array<StatedIntent, most_players>& before() { return rows_[1 - now_]; }
    void next() { now_ = 1 - now_; }

  private:
    std::array<std::array<StatedIntent, most_players>, 2> rows_{};
    std::size_t now_ = 0;
};
/// What a client's players want in a tick, each by what it wanted `gap` ticks before; then how far behind the others
/// were shown.
template <class Coder>
void code_intents(Coder& coder, PlayersModels& models, std::span<StatedIntent> intents,
                  std::span<const StatedIntent> before, std::uint32_t gap, std::uint32_t& behind,
                  std::uint32_t behind_before) {
    for (std::size_t i = 0; i < intents.size(); ++i) {
        code_intent(coder, models.of(i), intents[i], before[i]);
        after_gap(models.of(i), gap);
    }
    against(coder, models.of(0).behind, behind, behind_before);
    behind = std::min(behind, most_behind);
}

}  // namespace wire
}  // namespace cursimeter::link
