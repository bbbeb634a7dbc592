#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/ids.hpp>
#include <glm/vec3.hpp>
#include <span>

/// What the player or the AI wants during one tick.
namespace cursimeter {

/// The wanted movement, relative to where the runner looks. Length 1 is full stick; longer values are
/// shortened to 1, shorter ones walk slower in proportion, and below 1e-6 counts as none.
struct Move {
    double forward = 0.0;  ///< + ahead, - back
    double side = 0.0;     ///< + to the right, - to the left
    friend bool operator==(const Move&, const Move&) = default;
};

/// Where the runner looks, in radians. Up is +z. Yaw 0 looks along +x and grows towards +y
/// (counter-clockwise seen from above); any finite value is taken. Pitch is positive upward.
struct Look {
    double yaw = 0.0;
    double pitch = 0.0;
    friend bool operator==(const Look&, const Look&) = default;
};

enum class ChangeKind : std::uint8_t { press, release, move, look };

/// Something that changes inside a tick. Changes are handed over in the order of their time.
struct Change {
    double at = 0.0;  ///< seconds after the tick's start; values outside the tick are moved into it
    ChangeKind kind = ChangeKind::press;
    ActionId action;  ///< of press and release
    double x = 0.0;   ///< forward of a move, yaw of a look
    double y = 0.0;   ///< side of a move, pitch of a look

    static constexpr Change press(ActionId action, double at) {
        return {at, ChangeKind::press, action, 0.0, 0.0};
    }
    static constexpr Change release(ActionId action, double at) {
        return {at, ChangeKind::release, action, 0.0, 0.0};
    }
    static constexpr Change move_to(Move move, double at) {
        return {at, ChangeKind::move, {}, move.forward, move.side};
    }
    static constexpr Change look_to(Look look, double at) {
        return {at, ChangeKind::look, {}, look.yaw, look.pitch};
    }
};

/// What the character turns to, and with it which of the chart's speeds count.
enum class Facing : std::uint8_t {
    look,      ///< where it looks: it strafes, with the chart's side and back speeds
    movement,  ///< where it goes: every direction is ahead, at the forward speed
};

/// A point to look at: lock-on. The look follows it all through the tick, in slices of `focus_slice`, so that
/// circling it is the same run at every tick rate; the intent's own look is left out meanwhile.
struct Focus {
    glm::dvec3 position{0.0};  ///< m, at the tick's start
    glm::dvec3 velocity{0.0};  ///< m/s
    double eye_height = 0.0;   ///< m above the runner's feet, from where it looks: for the pitch
};
/// s of the runner's clock.
inline constexpr double focus_slice = 0.01;

/// The intent of one tick: how things are at its start, and what changes inside it.
///
/// A game that polls its devices once a frame fills `move`, `look` and `held` and leaves `changes`
/// empty. A game that knows when its input events happened hands them over as `changes` and gets the
/// same run at every tick rate. A key whose bit in `held` differs from what the runner remembers
/// counts as pressed or released at the tick's start, so that a lost change mends itself.
struct Intent {
    Move move;
    Look look;
    std::uint32_t held = 0;           ///< bit i: the key of action i is down at the tick's start
    std::uint32_t naming = 0;         ///< `Chart::naming` of the chart whose actions it means; 0: not said
    std::span<const Change> changes;  ///< must live until `advance` has returned
    Facing facing = Facing::look;
    const Focus* focus = nullptr;  ///< must live until `advance` has returned

    /// Marks the action's key as down at the tick's start.
    constexpr void hold(ActionId action) { held |= key_bit(action); }
    /// Takes a change in, as what holds from then on: with all changes of a tick, how the next one begins.
    constexpr void take_in(const Change& change) {
        switch (change.kind) {
            case ChangeKind::press:
                held |= key_bit(change.action);
                break;
            case ChangeKind::release:
                held &= ~key_bit(change.action);
                break;
            case ChangeKind::move:
                move = {change.x, change.y};
                break;
            case ChangeKind::look:
                look = {change.x, change.y};
                break;
        }
    }
};

/// Gathers input events between two ticks and hands them over as an intent. It remembers what is
/// held, so that the next tick starts from there. A value of fixed size: nothing is allocated.
///
///     IntentBuilder input;
///     input.press(sprint, 0.004);                  // 4 ms after the tick's start
///     advance(chart, runner, input.intent(), Seconds{1.0 / 60});
///     input.next_tick();
class IntentBuilder {
  public:
    /// Each returns false if the builder is full (limits::changes_per_intent). Then the change has no
    /// time of its own: it is part of the start of the next tick, so nothing sticks.
    bool press(ActionId action, double at = 0.0);
    bool release(ActionId action, double at = 0.0);
    bool move_to(Move move, double at = 0.0);
    bool look_to(Look look, double at = 0.0);

    /// The gathered intent; it refers to this builder and is valid until the builder changes.
    [[nodiscard]] Intent intent() const;
    /// Takes the state after all changes as the start of the next tick.
    void next_tick();
    /// Looks so from the present tick's start on.
    void start_look(Look look) { start_look_ = last_look_ = look; }

  private:
    bool add(const Change& change);
    std::array<Change, limits::changes_per_intent> changes_{};
    std::size_t count_ = 0;
    Move start_move_, last_move_;
    Look start_look_, last_look_;
    std::uint32_t start_held_ = 0, last_held_ = 0;
};

}  // namespace cursimeter
