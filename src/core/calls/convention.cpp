#include <cmath>
#include <cstdlib>
#include <cursimeter/convention.hpp>
#include <cursimeter/diagnostics.hpp>

namespace cursimeter {
namespace {

glm::dvec3 unit(Axis axis) {
    glm::dvec3 vector(0.0);
    const int number = static_cast<int>(axis);
    vector[std::abs(number) - 1] = number > 0 ? 1.0 : -1.0;
    return vector;
}

bool is_axis(Axis axis) {
    const int number = std::abs(static_cast<int>(axis));
    return number >= 1 && number <= 3;
}

void check(const Convention& convention) {
    const auto refuse = [](const char* path, const char* what, const char* mend) {
        throw ChartError({{path, what, mend, {}, 0, 0}});
    };
    const bool known = is_axis(convention.forward) && is_axis(convention.up);
    if (!known ||
        std::abs(static_cast<int>(convention.forward)) == std::abs(static_cast<int>(convention.up))) {
        refuse("convention", "forward and up do not span a world", "name two different axes");
    }
    const auto is_unit = [](double value) { return std::isfinite(value) && value > 0.0; };
    if (!is_unit(convention.metres) || !is_unit(convention.radians)) {
        refuse("convention", "a unit is not above 0",
               "say how many metres, or radians, one of the game's units is");
    }
    if (!std::isfinite(convention.yaw_at_forward)) {
        refuse("convention.yaw_at_forward", "is not a finite number", "give the game's yaw along `forward`");
    }
}

}  // namespace

Converter::Converter(const Convention& convention) : convention_(convention) {
    check(convention);
    const glm::dvec3 forward = unit(convention.forward), up = unit(convention.up);
    // In right-handed axes left is up x forward; the mirror image of the axes turns the sign.
    const glm::dvec3 left =
        glm::dvec3(up.y * forward.z - up.z * forward.y, up.z * forward.x - up.x * forward.z,
                   up.x * forward.y - up.y * forward.x) *
        (convention.left_handed ? -1.0 : 1.0);
    const glm::dvec3 own[3]{forward, left, up};
    for (int i = 0; i < 3; ++i) {
        for (int k = 0; k < 3; ++k) {
            if (own[i][k] != 0.0) {
                from_[i] = k;
                sign_[i] = own[i][k];
            }
        }
    }
}

glm::dvec3 Converter::direction_from_game(const glm::dvec3& vector) const {
    return {vector[from_[0]] * sign_[0], vector[from_[1]] * sign_[1], vector[from_[2]] * sign_[2]};
}

glm::dvec3 Converter::direction_to_game(const glm::dvec3& vector) const {
    glm::dvec3 turned(0.0);
    for (int i = 0; i < 3; ++i) {
        turned[from_[i]] = vector[i] * sign_[i];
    }
    return turned;
}

glm::dvec3 Converter::from_game(const glm::dvec3& vector) const {
    return direction_from_game(vector) * convention_.metres;
}

glm::dvec3 Converter::to_game(const glm::dvec3& vector) const {
    return direction_to_game(vector) / convention_.metres;
}

double Converter::yaw_from_game(double yaw) const {
    const double turned = (yaw - convention_.yaw_at_forward) * convention_.radians;
    return convention_.clockwise_yaw ? -turned : turned;
}

double Converter::yaw_to_game(double yaw) const {
    const double turned = (convention_.clockwise_yaw ? -yaw : yaw) / convention_.radians;
    return turned + convention_.yaw_at_forward;
}

}  // namespace cursimeter
