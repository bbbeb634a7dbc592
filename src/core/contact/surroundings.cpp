#include "core/contact/surroundings.hpp"

#include <algorithm>

#include "core/contact/contact_limits.hpp"
#include "core/numbers/space.hpp"

namespace cursimeter::detail {
namespace {

glm::dvec3 without(const glm::dvec3& vector, const glm::dvec3& normal) {
    const double into = inner(vector, normal);
    return into < 0.0 ? vector - normal * into : vector;
}

/// A barrier's normal as the runner meets it: on the ground, along the ground.
glm::dvec3 met_normal(const Surroundings& around, const glm::dvec3& normal) {
    if (!around.grounded) {
        return normal;
    }
    const glm::dvec3 ground = ground_normal(around);
    const glm::dvec3 along = normal - ground * inner(normal, ground);
    const double size = length_of(along);
    return size > 1e-6 ? along * (1.0 / size) : normal;
}

}  // namespace

PackedNormal pack(const glm::dvec3& normal) {
    const auto part = [](double value) {
        return static_cast<std::int16_t>(std::clamp(value, -1.0, 1.0) * 32767.0 + (value < 0.0 ? -0.5 : 0.5));
    };
    return {part(normal.x), part(normal.y), part(normal.z)};
}

glm::dvec3 unpack(const PackedNormal& normal) {
    const glm::dvec3 vector(normal.x, normal.y, normal.z);
    const double size = length_of(vector);
    return size > 0.0 ? vector * (1.0 / size) : glm::dvec3(0.0, 0.0, 1.0);
}

bool same(const Surroundings& a, const Surroundings& b) {
    return a.gradient == b.gradient && a.barrier_count == b.barrier_count && a.barriers == b.barriers &&
           a.wall_normal == b.wall_normal && a.wind == b.wind && a.pace == b.pace && a.beside == b.beside &&
           a.zones == b.zones && a.grounded == b.grounded && a.headroom == b.headroom &&
           a.by_wall == b.by_wall;
}

glm::dvec3 normal_of_slope(const Surroundings& around) {
    const double x = around.gradient.x, y = around.gradient.y;
    const double scale = 1.0 / std::sqrt(1.0 + x * x + y * y);
    return {-x * scale, -y * scale, scale};
}

glm::dvec3 along_slope(const Surroundings& around, const glm::dvec2& plane) {
    const double rise = around.gradient.x * plane.x + around.gradient.y * plane.y;
    const double squared = inner(plane, plane);
    if (squared <= 0.0) {
        return {0.0, 0.0, 0.0};
    }
    const double scale = std::sqrt(squared / (squared + rise * rise));
    return {plane.x * scale, plane.y * scale, rise * scale};
}

double incline(const Surroundings& around, const glm::dvec2& direction) {
    const double rise = around.gradient.x * direction.x + around.gradient.y * direction.y;
    return rise / std::sqrt(inner(direction, direction) + rise * rise);
}

glm::dvec3 without_barriers(const Surroundings& around, const glm::dvec3& vector) {
    if (around.cornered) {
        return {0.0, 0.0, 0.0};
    }
    const glm::dvec3 first = met_normal(around, unpack(around.barriers[0]));
    glm::dvec3 left = without(vector, first);
    if (around.barrier_count == 1) {
        return left;
    }
    const glm::dvec3 second = met_normal(around, unpack(around.barriers[1]));
    left = without(left, second);
    if (inner(left, first) >= -1e-12) {
        return left;
    }
    // A corner: only the line along both is open, and on the ground not even that.
    const glm::dvec3 crease = cross(first, second);
    const double size = length_of(crease);
    if (around.grounded || size < 1e-6) {
        return {0.0, 0.0, 0.0};
    }
    const glm::dvec3 direction = crease * (1.0 / size);
    return direction * inner(vector, direction);
}

void add_barrier(Surroundings& around, const glm::dvec3& normal) {
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        if (inner(unpack(around.barriers[i]), normal) > 0.999) {
            around.barriers[i] = pack(normal);
            return;
        }
    }
    if (around.barrier_count == around.barriers.size()) {
        around.cornered = true;
        around.barriers[0] = around.barriers[1];
        --around.barrier_count;
    }
    around.barriers[around.barrier_count++] = pack(normal);
}

void leave_barriers(RunnerState& runner) {
    Surroundings& around = runner.around;
    std::uint8_t kept = 0;
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        if (inner(runner.velocity, unpack(around.barriers[i])) <= leaving_speed) {
            around.barriers[kept++] = around.barriers[i];
        }
    }
    around.cornered = around.cornered && kept == around.barrier_count;
    around.barrier_count = kept;
}

void follow_ground(RunnerState& runner) {
    const glm::dvec2 plane = flat(runner.velocity);
    const double size = length_of(plane);
    if (size <= 0.0) {
        set_velocity(runner, {0.0, 0.0, 0.0});
        return;
    }
    set_velocity(runner, along_ground(runner.around, plane * (runner.speed / size)));
}

void stop_against(RunnerState& runner, const glm::dvec3& normal) {
    set_velocity(runner, without(runner.velocity, normal));
}

}  // namespace cursimeter::detail
