#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/tryout/yard.hpp>

namespace cursimeter::tryout {
namespace {

// Lengths in m. The ground reaches from -20 to 40 along x and 30 to either side of it.
constexpr double west = -20.0, east = 40.0, half = 30.0, pit = -2.5;

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
        box({west, -half, -1.0}, {east, half, 0.0});
        ramps();
        blocks();
        ceiling();
        gaps();
        walls();
        platforms();
        zones();
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

    void zones() {
        double x = -18.0;
        for (const std::string& kind : chart_.zones()) {
            ZoneSpec zone;
            zone.kind = kind;
            zone.from = {x, -28.0, 0.0};
            zone.to = {x + 4.0, -20.0, 4.0};
            yard_.course.zones.push_back(zone);
            sign({x + 2.0, -24.0, 1.5}, kind);
            x += 5.0;
        }
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
