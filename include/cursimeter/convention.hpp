#pragma once

#include <cstdint>
#include <cursimeter/intent.hpp>
#include <glm/vec3.hpp>

/// Games with other axes, units and angles than the library's: up along +y, centimetres, left-handed, yaw in degrees.
namespace cursimeter {

enum class Axis : std::int8_t { x = 1, y = 2, z = 3, minus_x = -1, minus_y = -2, minus_z = -3 };

/// How a game's own vectors and angles lie. The default is the library's own convention, which changes nothing.
struct Convention {
    Axis forward = Axis::x;       ///< that a character with the library's yaw 0 looks along
    Axis up = Axis::z;            ///< not along `forward`
    bool left_handed = false;     ///< of its axes x, y, z
    bool clockwise_yaw = false;   ///< yaw grows to the right, seen from above
    double metres = 1.0;          ///< of one unit of its length, above 0: 0.01 where it counts centimetres
    double yaw_at_forward = 0.0;  ///< its own yaw, in its own unit, of a character that looks along `forward`
    double radians = 1.0;         ///< of one unit of its angles, above 0: pi / 180 where it counts degrees
    friend bool operator==(const Convention&, const Convention&) = default;
};

/// Turns a game's vectors and angles into the library's, and back. A small value; each call costs some multiplications. What
/// is turned there and back is the same to the last bit but one, and the same bit for bit where `metres` is a power of two.
///
/// A double holds a place 10 km off to 2e-12 m, a float to 0.5 mm. A game of floats loses at the boundary only: the runner
/// itself keeps doubles, so a walk does not gather those losses.
class Converter {
  public:
    /// Throws ChartError if forward and up lie along one axis, or a unit is not above 0.
    explicit Converter(const Convention& convention = {});

    /// A place, velocity or acceleration.
    [[nodiscard]] glm::dvec3 from_game(const glm::dvec3& vector) const;
    [[nodiscard]] glm::dvec3 to_game(const glm::dvec3& vector) const;
    [[nodiscard]] glm::vec3 to_game_floats(const glm::dvec3& vector) const {
        return glm::vec3(to_game(vector));
    }
    /// A normal or another direction: turned, and not scaled.
    [[nodiscard]] glm::dvec3 direction_from_game(const glm::dvec3& vector) const;
    [[nodiscard]] glm::dvec3 direction_to_game(const glm::dvec3& vector) const;
    [[nodiscard]] double yaw_from_game(double yaw) const;  ///< rad
    [[nodiscard]] double yaw_to_game(double yaw) const;    ///< in the game's unit
    /// Pitch is positive upward in the library.
    [[nodiscard]] double pitch_from_game(double pitch) const { return pitch * convention_.radians; }
    [[nodiscard]] double pitch_to_game(double pitch) const { return pitch / convention_.radians; }

  private:
    Convention convention_;
    /// For each of the library's axes the game's axis, 0 to 2, and its sign.
    int from_[3]{};
    double sign_[3]{};
};

}  // namespace cursimeter
