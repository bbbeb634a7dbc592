#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/chart.hpp>
#include <cursimeter/detail/runner_state.hpp>
#include <glm/vec3.hpp>
#include <type_traits>

namespace cursimeter {

/// Where a runner begins.
struct Placement {
    glm::dvec3 position{0.0};  ///< m; of the feet
    double yaw = 0.0;          ///< rad; see Look
};

/// A meter as a bar shows it.
struct MeterReading {
    double level = 0.0;     ///< 0 to the capacity, both reached exactly
    double fraction = 0.0;  ///< level / capacity
    bool spent = false;     ///< the latch
};

/// One character's live state: a trivially copyable value of 1,280 bytes. A quiet tick touches
/// the first 128. Copy it to save a
/// moment, assign it to restore one. It belongs to the chart it was spawned with. Distinct runners
/// may be advanced on distinct threads.
class Runner {
  public:
    [[nodiscard]] glm::dvec3 position() const { return state_.position; }  ///< m
    /// m/s; its own. Pushes, wind and moving ground are added to it, see `carrying_velocity`.
    [[nodiscard]] glm::dvec3 velocity() const { return state_.velocity; }
    [[nodiscard]] double speed() const { return state_.speed; }  ///< m/s, length of the velocity
    /// m/s; the speed that the state aims for now, after direction, stick, slope and zones.
    [[nodiscard]] double speed_target() const;
    [[nodiscard]] double distance() const { return state_.distance; }  ///< m moved by itself since spawning
    [[nodiscard]] bool grounded() const { return state_.around.grounded; }
    /// Whether the full body fits where the runner is.
    [[nodiscard]] bool headroom() const { return state_.around.headroom; }
    /// Whether a wall is at hand. Known only to charts that have use for it.
    [[nodiscard]] bool by_wall() const { return state_.around.by_wall; }
    /// Whether solids leave the body no room: it stays where it is until they do.
    [[nodiscard]] bool crushed() const { return state_.around.crushed; }
    /// Whether a push has taken control away.
    [[nodiscard]] bool locked() const { return state_.locks != 0; }
    /// Bit per zone of the chart in which it is.
    [[nodiscard]] std::uint8_t zones() const { return state_.around.zones; }
    /// Jumps since the ground was left.
    [[nodiscard]] int jumps() const { return state_.jumps; }
    [[nodiscard]] double yaw() const { return state_.look_yaw; }  ///< rad, as last looked
    [[nodiscard]] double pitch() const {
        return state_.look_pitch;
    }  ///< rad, as last looked; upward positive
    [[nodiscard]] StateId state() const { return StateId{state_.state}; }
    [[nodiscard]] Seconds time_in_state() const { return Seconds{state_.clock - state_.state_since}; }
    /// Time simulated since spawning. Respawn within a million seconds:
    /// beyond, the clock's rounding comes near the width of an instant.
    [[nodiscard]] Seconds clock() const { return Seconds{state_.clock + double{state_.lag}}; }
    /// Whether the action is on: held down, switched on in toggle mode, or held by the game. Blocks that ban it do not count here.
    [[nodiscard]] bool on(ActionId action) const {
        return ((state_.on | state_.held_by_game) & key_bit(action)) != 0;
    }
    /// The press mode in force for this runner.
    [[nodiscard]] PressMode press_mode(ActionId action) const {
        return (state_.toggles & key_bit(action)) != 0 ? PressMode::toggle : PressMode::hold;
    }

  private:
    friend struct detail::RunnerAccess;
    detail::RunnerState state_;
};

static_assert(std::is_trivially_copyable_v<Runner>);
static_assert(sizeof(Runner) <= 1280);

/// A runner at the start of its life, its state chosen for "nothing pressed". Throws ChartError if
/// the placement is not finite.
[[nodiscard]] Runner spawn(const Chart& chart, const Placement& placement = {});

/// Puts a runner elsewhere at once, as it is: at rest, pushes ended, its meters, waits and keys as before. In a
/// world, contacts are found in the next tick. Throws ChartError if the placement is not finite.
void place(const Chart& chart, Runner& runner, const Placement& placement);

/// The meter's level, fraction and latch. The id must be one of the chart's.
[[nodiscard]] MeterReading read_meter(const Chart& chart, const Runner& runner, MeterId meter);

/// The velocity with which pushes and the wind of zones carry the runner, m/s.
[[nodiscard]] glm::dvec3 carrying_velocity(const Chart& chart, const Runner& runner);
/// Normal of the ground underfoot; straight up in the air.
[[nodiscard]] glm::dvec3 ground_normal(const Runner& runner);
/// Seconds until the next charge of the cooldown comes back, though others may be ready; 0 if none is away or the wait has not begun.
[[nodiscard]] Seconds cooldown_left(const Chart& chart, const Runner& runner, CooldownId cooldown);

/// What a runner waits for, s from now on; 0 where it waits for nothing.
struct Waits {
    double coyote = 0.0;                            ///< until footing is lost: it may still jump
    double landing = 0.0;                           ///< until it may take off by itself again after a landing
    std::array<double, limits::actions> buffers{};  ///< by action: until its press is forgotten
    std::array<double, limits::meters> refills{};   ///< by meter: until its refill begins
    std::array<double, limits::cooldowns>
        cooldowns{};  ///< by cooldown: until its next charge; as `cooldown_left`
    friend bool operator==(const Waits&, const Waits&) = default;
};
[[nodiscard]] Waits read_waits(const Chart& chart, const Runner& runner);

/// An impulse from outside: knockback, recoil, a jump pad.
struct Push {
    glm::dvec3 direction{1.0, 0.0, 0.0};  ///< of any length; its upward part counts where `lift` is 0
    double strength = 0.0;                ///< m/s, 0 to 10,000
    double lift = 0.0;  ///< 0 to 1: the part of the strength that goes upward, into its own velocity
    double seconds =
        0.0;  ///< in which the rest fades evenly, 0 to 300; 0: all of it goes into its own velocity
    bool locks = false;     ///< whether moves are ignored until it has faded
    bool replaces = false;  ///< whether it ends other pushes and stops the runner first
};

/// Pushes the runner from the next tick's start on. On open ground it is carried strength * seconds / 2 m
/// along the direction; nothing is stored or restored afterwards. Two pushes act at once; a further one is
/// joined to the one that ends first, so that it carries as far. Throws ChartError if a value is out of
/// range. Returns whether it did anything (a direction of no length needs lift 1).
bool push(Runner& runner, const Push& push);

/// Overrides an action's press mode for this runner, as a player's setting. Changing it switches the
/// action to what its key says: on if the key is down, else off. Takes effect at the next tick.
void set_press_mode(Runner& runner, ActionId action, PressMode mode);

/// 64-bit digest of the whole state, the same on every machine for the same run.
[[nodiscard]] std::uint64_t digest(const Runner& runner);

/// 64-bit digest of the situation, whenever it comes about: as `digest`, but times count from the runner's clock, to a microsecond,
/// other quantities are rounded to a millionth, and neither the clock nor the distance walked counts. Two runners of the chart with one
/// such digest go on alike, to about that. For searches, which need not go on from one situation twice. Meters that scale one
/// another are looked at every 1/20 s of the clock, so with them its part of that counts.
[[nodiscard]] std::uint64_t situation_digest(const Chart& chart, const Runner& runner);

}  // namespace cursimeter
