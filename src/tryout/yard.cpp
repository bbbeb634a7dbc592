#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/advance.hpp>
#include <cursimeter/terrain.hpp>
#include <cursimeter/tryout/yard.hpp>

namespace cursimeter::tryout {
namespace {

// Lengths in m. The ground reaches from -20 to 40 along x and 30 to either side of it.
constexpr double west = -20.0, east = 40.0, half = 30.0, pit = -2.5;
constexpr double pool_south = -29.0, pool_north = -19.0, water = -0.3;

/// A zone of one kind, and nothing solid.
class ZoneAlone final : public Terrain {
  public:
    explicit ZoneAlone(std::uint8_t zones) { reading_.zones = zones; }
    [[nodiscard]] bool sweep(const Sweep& /*sweep*/, Hit& /*hit*/) const noexcept override { return false; }
    [[nodiscard]] bool overlap(const Capsule& /*body*/, const glm::dvec3& /*feet*/, double /*at*/,
                               Overlap& /*overlap*/) const noexcept override {
        return false;
    }
    [[nodiscard]] ZoneReading zones(const glm::dvec3& /*point*/, double /*at*/) const noexcept override {
        return reading_;
    }

  private:
    ZoneReading reading_;
};

/// Whether a character without input flies there after half a second.
bool flies_in(const Chart& chart, std::uint8_t zones) {
    const ZoneAlone world(zones);
    Runner runner = spawn(chart);
    for (int i = 0; i < 30; ++i) {
        static_cast<void>(advance(chart, runner, Intent{}, world, Seconds{1.0 / 60.0}));
    }
    return chart.kind(runner.state()) == StateKind::fly;
}

class YardBuilder {
  public:
    explicit YardBuilder(const Chart& chart) : chart_(chart) {
        yard_.course.name = "yard of " + chart.name();
        for (std::uint8_t i = 0; i < chart.state_count(); ++i) {
            const Capsule body = chart.body(StateId{i});
            full_ = std::max(full_, body.height);
            low_ = std::min(low_, body.height);
        }
    }

    Yard build() {
        zones();
        ramps();
        blocks();
        ceiling();
        gaps();
        walls();
        platforms();
        return std::move(yard_);
    }

  private:
    void box(const Point& from, const Point& to) { yard_.course.boxes.push_back({from, to, Degrees{0.0}}); }
    void sign(const Point& place, std::string text) { yard_.signs.push_back({place, std::move(text)}); }

    void ramps() {
        constexpr double rise = 2.5, width = 4.0;
        double side = 9.0;
        for (const double degrees : {10.0, 20.0, 30.0}) {
            const double run = rise / std::tan(degrees * 3.141592653589793 / 180.0);
            constexpr double top = 28.0;
            yard_.course.ramps.push_back({{top - run, side, 0.0}, {top, side, rise}, width, 0.5});
            box({top, side - width / 2.0, rise - 0.5}, {top + 4.0, side + width / 2.0, rise});
            sign({top - run, side, 0.6}, fmt::format("{:g} degrees", degrees));
            side += 6.5;
        }
    }

    void blocks() {
        double x = 6.0;
        for (const double height : {0.1, 0.2, 0.3, 0.4, 0.5, 0.75, 1.0, 1.5, 2.0}) {
            box({x, -10.0, 0.0}, {x + 2.0, -7.0, height});
            sign({x + 1.0, -8.5, height + 0.4}, fmt::format("{:g} m", height));
            x += 2.6;
        }
    }

    void ceiling() {
        const bool can_be_low = low_ < full_ - 0.05;
        const double height = can_be_low ? 0.5 * (low_ + full_) : full_ + 0.1;
        yard_.course.ceilings.push_back({{-14.0, -16.0, height}, {-4.0, -10.0, height}, 0.3});
        for (const double y : {-16.0, -10.0}) {
            box({-14.0, y - 0.15, 0.0}, {-4.0, y + 0.15, height});
        }
        sign({-4.0, -13.0, height + 0.7}, fmt::format("{:.2f} m high", height));
    }

    void gaps() {
        constexpr double lane = 3.0;
        double x = east;
        for (const double gap : {1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0}) {
            sign({x + gap / 2.0, 0.0, 0.5}, fmt::format("{:g} m", gap));
            box({x + gap, -lane, pit}, {x + gap + 6.0, lane, 0.0});
            x += gap + 6.0;
        }
        constexpr double back = 9.0;  // the way back up, beside the lane
        box({east, -lane - 1.0, pit - 1.0}, {x, lane + back, pit});
        yard_.course.ramps.push_back({{east + 9.0, lane + 3.0, pit}, {east, lane + 3.0, 0.0}, 4.0, 0.5});
    }

    void walls() {
        for (const double y : {-20.0, -26.0}) {
            yard_.course.walls.push_back({{4.0, y, 0.0}, {24.0, y, 0.0}, 4.0, 0.3});
        }
        sign({4.0, -23.0, 2.0}, "walls, 6 m apart");
    }

    void platforms() {
        yard_.course.platforms.push_back(
            {{4.0, 4.0, 0.4}, {{-12.0, 12.0, 0.4}, {-12.0, 26.0, 0.4}}, 2.0, 1.0});
        sign({-12.0, 11.0, 1.4}, "2 m/s");
        yard_.course.platforms.push_back({{4.0, 4.0, 0.4}, {{-4.0, 12.0, 0.2}, {-4.0, 12.0, 4.0}}, 1.5, 2.0});
        sign({-4.0, 9.5, 1.4}, "lift");
    }

    /// The ground, zones that stand on it, and pools in it for kinds of zones in which one swims.
    void zones() {
        constexpr double width = 3.0, apart = 3.8;
        double x = west + 0.8, ground_from = west;
        bool has_pools = false;
        for (std::size_t i = 0; i < chart_.zones().size(); ++i) {
            ZoneSpec zone;
            zone.kind = chart_.zones()[i];
            const bool pool =
                flies_in(chart_, static_cast<std::uint8_t>(1U << i)) && !flies_in(chart_, std::uint8_t{0});
            if (pool) {
                box({ground_from, pool_south, -1.0}, {x, pool_north, 0.0});
                ground_from = x + width;
                has_pools = true;
                dig({x, pool_south, pit}, {ground_from, pool_north, 0.0});
            }
            zone.from = {x, -28.0, 0.0};
            zone.to = {x + width, -20.0, 4.0};
            if (pool) {
                constexpr double off = 0.02;  // the walls: two faces in one place would flicker in a picture
                zone.from = {x + off, pool_south + off, pit + off};
                zone.to = {x + width - off, pool_north - off, water};
            }
            yard_.course.zones.push_back(zone);
            sign({x + width / 2.0, -24.0, pool ? 0.6 : 1.5}, zone.kind);
            x += apart;
        }
        if (has_pools) {
            box({ground_from, pool_south, -1.0}, {east, pool_north, 0.0});
            box({west, -half, -1.0}, {east, pool_south, 0.0});
            box({west, pool_north, -1.0}, {east, half, 0.0});
        } else {
            box({west, -half, -1.0}, {east, half, 0.0});
        }
    }
    /// A hole with walls, a ground, and a ramp up to its north side.
    void dig(const Point& from, const Point& to) {
        constexpr double rim = 0.4, slope = 5.0;
        const double middle = 0.5 * (from[0] + to[0]);
        box({from[0] - rim, from[1] - rim, from[2] - 1.0}, {to[0] + rim, to[1] + rim, from[2]});
        box({from[0] - rim, from[1] - rim, from[2]}, {from[0], to[1] + rim, -1.0});
        box({to[0], from[1] - rim, from[2]}, {to[0] + rim, to[1] + rim, -1.0});
        box({from[0], from[1] - rim, from[2]}, {to[0], from[1], -1.0});
        box({from[0], to[1], from[2]}, {to[0], to[1] + rim, -1.0});
        yard_.course.ramps.push_back(
            {{middle, to[1] - slope, from[2]}, {middle, to[1], 0.0}, to[0] - from[0], 0.5});
    }

    const Chart& chart_;
    Yard yard_;
    double full_ = 0.0, low_ = 1e9;  ///< m; heights of bodies
};

}  // namespace

Yard make_yard(const Chart& chart) {
    return YardBuilder(chart).build();
}

}  // namespace cursimeter::tryout
