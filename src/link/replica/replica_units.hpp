#pragma once

#include <array>

#include "link/replica/replica.hpp"
#include "link/wire/whole.hpp"

/// Between quantities and the whole numbers of replicas.
namespace cursimeter::link {

inline constexpr double move_units = 127.0;
inline constexpr double pace_units = 1024.0;
inline constexpr double rate_units = 64.0;
inline constexpr double posed_clock = 16.0;  ///< s; a posed runner's clock: later than any age
/// Below the reach of any runner: where a landing is not known.
inline constexpr double bottomless = -1e9;

inline std::int32_t whole_length(double metres) {
    return whole(metres / replica_length, -2.0e9, 2.0e9);
}
inline std::int32_t whole_speed(double speed) {
    return whole(speed / replica_speed, -1.6e7, 1.6e7);
}

inline double yaw_of(const Replica& replica) {
    const int yaw = replica.yaw >= replica_yaw_units / 2 ? replica.yaw - replica_yaw_units : replica.yaw;
    return yaw * (turn / replica_yaw_units);
}

inline glm::dvec3 vector_of(const std::array<std::int32_t, 3>& parts, double unit) {
    return {parts[0] * unit, parts[1] * unit, parts[2] * unit};
}

/// Whether two numbers are more than `most` apart.
inline bool off(std::int32_t a, std::int32_t b, std::int32_t most) {
    return a > b ? a - b > most : b - a > most;
}

}  // namespace cursimeter::link
