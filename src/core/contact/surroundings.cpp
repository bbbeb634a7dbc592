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

}  // namespace

glm::dvec3 met_normal(const Surroundings& around, const glm::dvec3& normal) {
    if (!around.grounded) {
        return normal;
    }
    const glm::dvec3 ground = ground_normal(around);
    const glm::dvec3 along = normal - ground * inner(normal, ground);
    const double size = length_of(along);
    return size > 1e-6 ? along * (1.0 / size) : normal;
}

glm::dvec3 met_barrier(const Surroundings& around, std::size_t index) {
    return met_normal(around, unpack(around.barriers[index]));
}

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

namespace {

bool leans_on(const PackedNormal& barrier, const glm::dvec3& velocity) {
    return inner(velocity, unpack(barrier)) <= leaving_speed;
}

/// The nearest to a vector of those that point into neither of two barriers. Each alone, one after the other, would lead
/// along the second away from the first although the vector points into both: who presses into a corner would be sent to
/// and fro.
glm::dvec3 without_both(const glm::dvec3& vector, const glm::dvec3& first, const glm::dvec3& second) {
    const glm::dvec3 by_first = without(vector, first);
    if (inner(by_first, second) >= -1e-12) {
        return by_first;
    }
    const glm::dvec3 by_second = without(vector, second);
    if (inner(by_second, first) >= -1e-12) {
        return by_second;
    }
    // Between the two only the way along both is open.
    const glm::dvec3 edge = cross(first, second);
    const double size = length_of(edge);
    if (size < 1e-6) {
        return {0.0, 0.0, 0.0};
    }
    const glm::dvec3 direction = edge * (1.0 / size);
    return direction * inner(vector, direction);
}

/// What barriers leave of a vector, each of which has a normal by `meet`; 0: it does not count.
template <class Meet>
glm::dvec3 open_part(const Surroundings& around, const glm::dvec3& vector, Meet meet) {
    if (around.cornered) {
        return {0.0, 0.0, 0.0};
    }
    const glm::dvec3 first = meet(around.barriers[0]);
    return around.barrier_count == 1 ? without(vector, first)
                                     : without_both(vector, first, meet(around.barriers[1]));
}

}  // namespace

glm::dvec3 without_barriers(const Surroundings& around, const glm::dvec3& vector) {
    return open_part(around, vector,
                     [&](const PackedNormal& barrier) { return met_normal(around, unpack(barrier)); });
}

glm::dvec2 level_without_barriers(const Surroundings& around, const glm::dvec2& level,
                                  const glm::dvec3& velocity) {
    const glm::dvec3 vector(level.x, level.y, 0.0);
    return flat(open_part(around, vector, [&](const PackedNormal& barrier) {
        const glm::dvec3 normal = unpack(barrier);
        const glm::dvec3 across(normal.x, normal.y, 0.0);
        const double size = length_of(across);
        return size > 1e-6 && leans_on(barrier, velocity) ? across * (1.0 / size) : glm::dvec3(0.0);
    }));
}

namespace {

bool is_same_barrier(const PackedNormal& barrier, const glm::dvec3& normal) {
    return inner(unpack(barrier), normal) > 0.999;
}

}  // namespace

bool is_barrier(const Surroundings& around, const glm::dvec3& normal) {
    bool found = false;
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        found = found || is_same_barrier(around.barriers[i], normal);
    }
    return found;
}

void add_barrier(Surroundings& around, const glm::dvec3& normal) {
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        if (is_same_barrier(around.barriers[i], normal)) {
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
        if (leans_on(around.barriers[i], runner.velocity)) {
            around.barriers[kept++] = around.barriers[i];
        }
    }
    around.cornered = around.cornered && kept == around.barrier_count;
    around.barrier_count = kept;
}

void stay_by_barriers(RunnerState& runner, const glm::dvec2& level) {
    for (std::uint8_t i = 0; i < runner.around.barrier_count; ++i) {
        const glm::dvec3 normal = unpack(runner.around.barriers[i]);
        const double leaving = inner(runner.velocity, normal);
        if (leaving > 0.0 && leaving <= leaving_speed && inner(level, flat(normal)) < 0.0) {
            set_velocity(runner, without_barriers(runner.around, runner.velocity - normal * leaving));
        }
    }
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
