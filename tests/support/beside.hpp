#pragma once

#include <algorithm>
#include <cmath>
#include <cursimeter/advance.hpp>
#include <cursimeter/terrain.hpp>

/// Two ways through one tick, and what lies a millimetre beside it.
namespace support {

using namespace cursimeter;

/// The same events in the same order.
inline bool are_alike(const Report& one, const Report& other) {
    return std::equal(
        one.events().begin(), one.events().end(), other.events().begin(), other.events().end(),
        [](const Event& a, const Event& b) { return a.kind == b.kind && a.subject == b.subject; });
}

/// A world a little to one side.
class Beside final : public Terrain {
  public:
    Beside(const Terrain& world, const glm::dvec3& shift) : world_(world), shift_(shift) {}
    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        return world_.sweep({sweep.body, sweep.from + shift_, sweep.motion, sweep.at}, hit);
    }
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                               Overlap& overlap) const noexcept override {
        return world_.overlap(body, feet + shift_, at, overlap);
    }
    [[nodiscard]] ZoneReading zones(const glm::dvec3& point, double at) const noexcept override {
        return world_.zones(point + shift_, at);
    }

  private:
    const Terrain& world_;
    glm::dvec3 shift_;
};

/// Whether the plain way, a millimetre beside this one, is as the straight one was, and comes to within 3 mm of where that came:
/// the line leaves the path by up to a millimetre, and so may brush past an edge.
inline bool is_hair(const Chart& chart, const Runner& before, const Intent& intent, const Terrain& terrain,
                    Seconds dt, const Report& straight, const Runner& came) {
    for (int i = 0; i < 8; ++i) {
        const double angle = 0.7853981633974483 * i;
        const Beside beside(terrain, {1e-3 * std::cos(angle), 1e-3 * std::sin(angle), 0.0});
        Runner runner = before;
        const Report report = advance(chart, runner, intent, beside, dt);
        const glm::dvec3 apart = runner.position() - came.position();
        if (are_alike(straight, report) &&
            apart.x * apart.x + apart.y * apart.y + apart.z * apart.z < 3e-3 * 3e-3) {
            return true;
        }
    }
    return false;
}

}  // namespace support
