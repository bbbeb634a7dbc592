#pragma once

#include <cstddef>
#include <cstdint>

/// The layout of a Crowd. It is visible because its readings are inline; reach it through Crowd's functions.
namespace cursimeter::detail {

inline constexpr std::size_t lanes_of_block = 8;

/// How a runner of a crowd goes on: from where its ticks are worked.
enum class GoingOn : std::uint8_t {
    whole,    ///< the whole runner, by the functions of `advance`
    evenly,   ///< its lane, as long as nothing is new
    looking,  ///< its lane; the look may turn, which changes no motion
    round,    ///< its lane; the look may turn, and the velocity turns with it within each tick
};

/// Of eight runners of a crowd that go on as they are, side by side: what their ticks read and write, so that one instruction works several of
/// them. Members have the names that they have in RunnerState.
struct alignas(64) LaneBlock {
    using Numbers = double[lanes_of_block];  // NOLINT(modernize-avoid-c-arrays): read by plain pointers
    // Of everyone: sixteen cache lines.
    Numbers clock{}, x{}, y{}, z{}, distance{};
    Numbers velocity_x{}, velocity_y{}, velocity_z{}, speed{};
    Numbers next_due{};
    Numbers move_forward{}, move_side{}, look_yaw{}, look_pitch{};
    std::uint64_t keys[lanes_of_block]{};    ///< `held`, and above it whether it faces its movement
    std::uint32_t naming[lanes_of_block]{};  ///< of the chart
    // Of those whose look turns.
    alignas(64) Numbers facing_x{};
    Numbers facing_y{}, wanted_x{}, wanted_y{};
    Numbers down_inverse{}, up_inverse{};  ///< s per m/s: the gain's rates
    Numbers clear_below{};                 ///< m/s: the speed may fall to this without meeting a mark
};

struct CrowdAccess;

}  // namespace cursimeter::detail
