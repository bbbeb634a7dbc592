#pragma once

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

/// One character's live state: a trivially copyable value of a few hundred bytes. Copy it to save a
/// moment, assign it to restore one. It belongs to the chart it was spawned with. Distinct runners
/// may be advanced on distinct threads.
class Runner {
  public:
    [[nodiscard]] glm::dvec3 position() const { return state_.position; }  ///< m
    [[nodiscard]] glm::dvec3 velocity() const { return state_.velocity; }  ///< m/s
    [[nodiscard]] double speed() const { return state_.speed; }            ///< m/s, of the velocity
    /// m/s; the length of the velocity that the state aims for now.
    [[nodiscard]] double speed_target() const { return state_.target_speed; }
    [[nodiscard]] double distance() const { return state_.distance; }  ///< m walked since spawning
    [[nodiscard]] double yaw() const { return state_.look_yaw; }       ///< rad, as last looked
    [[nodiscard]] StateId state() const { return StateId{state_.state}; }
    [[nodiscard]] Seconds time_in_state() const { return Seconds{state_.clock - state_.state_since}; }
    /// Time simulated since spawning. Respawn within a million seconds:
    /// beyond, the clock's rounding comes near the width of an instant.
    [[nodiscard]] Seconds clock() const { return Seconds{state_.clock}; }
    /// Whether the action is on: held down, or switched on in toggle mode.
    [[nodiscard]] bool on(ActionId action) const { return (state_.on & key_bit(action)) != 0; }
    /// The press mode in force for this runner.
    [[nodiscard]] PressMode press_mode(ActionId action) const {
        return (state_.toggles & key_bit(action)) != 0 ? PressMode::toggle : PressMode::hold;
    }

  private:
    friend struct detail::RunnerAccess;
    detail::RunnerState state_;
};

static_assert(std::is_trivially_copyable_v<Runner>);
static_assert(sizeof(Runner) <= 512);

/// A runner at the start of its life, its state chosen for "nothing pressed". Throws ChartError if
/// the placement is not finite.
[[nodiscard]] Runner spawn(const Chart& chart, const Placement& placement = {});

/// The meter's level, fraction and latch. The id must be one of the chart's.
[[nodiscard]] MeterReading read_meter(const Chart& chart, const Runner& runner, MeterId meter);

/// Overrides an action's press mode for this runner, as a player's setting. Changing it switches the
/// action to what its key says: on if the key is down, else off. Takes effect at the next tick.
void set_press_mode(Runner& runner, ActionId action, PressMode mode);

/// 64-bit digest of the whole state, the same on every machine for the same run.
[[nodiscard]] std::uint64_t digest(const Runner& runner);

}  // namespace cursimeter
