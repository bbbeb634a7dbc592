#include "core/world/open_box.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/contact_limits.hpp"
#include "core/contact/surroundings.hpp"
#include "core/world/asked_world.hpp"

namespace cursimeter::detail {
namespace {

/// As exactly as sweeps put the body a skin above a floor, m.
constexpr double stands_exactly = 1e-9;

/// Whether what is around is what an open box leaves around: anything else ends in one, and that has its moment.
bool is_as_in_open(const Surroundings& around) {
    return around.zones == 0 && around.pace == 1.0F && around.wind == glm::vec3(0.0F) && around.headroom &&
           !around.by_wall && !on_slope(around);
}

}  // namespace

bool goes_through_open(const ChartData& chart, RunnerState& runner, const Terrain& terrain,
                       const glm::dvec3& from, const glm::dvec3& motion, double bend) {
    Surroundings& around = runner.around;
    if (!is_as_in_open(around) || (around.grounded && motion.z != 0.0)) {
        return false;
    }
    const double reach = around.grounded ? lean_reach : std::max(chart.wall_reach, lean_reach) + skin;
    const double aside = chart.body.radius + reach + bend, below = skim_height + skin + bend;
    const glm::dvec3 to = from + motion;
    const glm::dvec3 low{std::min(from.x, to.x) - aside, std::min(from.y, to.y) - aside,
                         std::min(from.z, to.z) - below};
    const glm::dvec3 high{std::max(from.x, to.x) + aside, std::max(from.y, to.y) + aside,
                          std::max(from.z, to.z) + chart.body.height + lean_reach + bend};
    LevelFloor floor;
    if (!is_open(terrain, low, high, floor)) {
        return false;
    }
    if (!around.grounded) {
        return floor.height < low.z;
    }
    if (!(std::fabs(floor.height + skin - from.z) <= stands_exactly)) {
        return false;
    }
    around.ground = floor.surface;
    return true;
}

}  // namespace cursimeter::detail
