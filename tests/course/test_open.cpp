#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "support/dice.hpp"
#include "support/leaper.hpp"
#include "support/worlds.hpp"

using namespace support;

/// What a course says of a box is what its sweeps, overlaps and zones say of all that lies in it.
namespace {

constexpr double nothing = -std::numeric_limits<double>::infinity();

CourseSpec with_box(const Point& from, const Point& to, double yaw = 0.0) {
    CourseSpec spec = floor_only();
    spec.boxes.push_back({from, to, Degrees{yaw}});
    return spec;
}

/// The floor that it tells in a box, m: nothing for none, NaN where the box is not open.
double floor_in(const CourseSpec& spec, const glm::dvec3& low, const glm::dvec3& high) {
    const CourseTerrain terrain(Course(spec), compile(leaper()));
    LevelFloor floor;
    return terrain.is_open(low, high, floor) ? floor.height : std::nan("");
}

/// Floors in storeys, crates, slopes, zones and a platform, on round numbers.
CourseSpec storeys(Dice& dice) {
    CourseSpec spec;
    spec.name = "storeys";
    const auto place = [&] { return std::round(dice.between(-12.0, 12.0)); };
    for (int i = 0; i < 4; ++i) {
        const double x = place(), y = place(), top = 0.5 * std::round(dice.between(-2.0, 6.0));
        const double yaw = dice.between(0.0, 1.0) < 0.6 ? 0.0 : dice.between(-90.0, 90.0);
        spec.boxes.push_back({{x - 8.0, y - 8.0, top - 0.25}, {x + 8.0, y + 8.0, top}, Degrees{yaw}});
    }
    for (int i = 0; i < 6; ++i) {
        const double x = place(), y = place(), z = 0.5 * std::round(dice.between(-2.0, 6.0));
        spec.boxes.push_back({{x, y, z}, {x + 1.0, y + 1.0, z + 0.5}, Degrees{0.0}});
    }
    spec.ramps.push_back({{place(), 0.0, 0.0}, {place() + 30.0, 4.0, 2.0}, 3.0, 0.5});
    ZoneSpec zone;
    zone.kind = "mud";
    zone.from = {place(), place(), -1.0};
    zone.to = {zone.from[0] + 3.0, zone.from[1] + 3.0, 2.0};
    spec.zones.push_back(zone);
    const double x = place();
    spec.platforms.push_back({{2.0, 2.0, 0.5}, {{x, 0.0, 0.5}, {x, 6.0, 0.5}}, 1.5, 0.0});
    return spec;
}

/// A body that lies in the box with its whole way, and above a height.
bool sweep_in(Dice& dice, const glm::dvec3& low, const glm::dvec3& high, double above, Sweep& sweep) {
    const double radius = dice.between(0.05, 0.3), height = dice.between(2.0 * radius, 1.0);
    const auto at = [&] {
        return glm::dvec3{dice.between(low.x + radius, high.x - radius),
                          dice.between(low.y + radius, high.y - radius),
                          dice.between(std::max(low.z, above), high.z - height)};
    };
    if (high.x - low.x <= 2.0 * radius || high.y - low.y <= 2.0 * radius ||
        high.z - height <= std::max(low.z, above)) {
        return false;
    }
    sweep = {{radius, height}, at(), {}, 0.0};
    sweep.motion = at() - sweep.from;
    sweep.motion.z = dice.between(0.0, 1.0) < 0.5 ? 2.0 * (low.z - sweep.from.z) : sweep.motion.z;
    return true;
}

}  // namespace

TEST_CASE("a box over a floor is open up to what stands in it, and tells the floor") {
    const glm::dvec3 low{1.0, 1.0, -0.01}, high{2.0, 2.0, 2.0};
    CHECK(floor_in(floor_only(), low, high) == 0.0);
    CHECK(floor_in(floor_only(), {1.0, 1.0, 0.01}, high) == nothing);
    CHECK(floor_in(floor_only(), {-600.0, 1.0, 5.0}, {600.0, 2.0, 6.0}) == nothing);
    SECTION("what reaches into it closes it") {
        CHECK(std::isnan(floor_in(with_box({1.9, 1.9, 0.0}, {3.0, 3.0, 0.25}), low, high)));
        CHECK(std::isnan(floor_in(with_box({1.2, 1.2, 1.9}, {1.4, 1.4, 3.0}), low, high)));
        CHECK(std::isnan(floor_in(with_box({0.0, 0.0, 1.9}, {3.0, 3.0, 3.0}), low, high)));
        CHECK(std::isnan(
            floor_in(with_box({2.0, 1.0, 0.0}, {3.0, 2.0, 1.0}), low, high)));  // it touches the side
        CHECK(floor_in(with_box({2.001, 1.0, 0.0}, {3.0, 2.0, 1.0}), low, high) == 0.0);
        CHECK(floor_in(with_box({1.0, 1.0, 2.001}, {2.0, 2.0, 3.0}), low, high) == 0.0);
    }
    SECTION("what lies below the floor does not") {
        CHECK(floor_in(with_box({1.2, 1.2, -1.0}, {1.4, 1.4, 0.0}), low, high) == 0.0);
        CHECK(floor_in(with_box({1.2, 1.2, -1.0}, {1.4, 1.4, -0.005}), low, high) == 0.0);
    }
    SECTION("a higher floor is the one, where it goes from side to side") {
        CHECK(floor_in(with_box({0.0, 0.0, 0.0}, {3.0, 3.0, 0.5}), low, high) == 0.5);
        CHECK(floor_in(with_box({0.0, 0.0, 0.0}, {3.0, 3.0, 0.5}, 30.0), low, high) == 0.5);
        CHECK(std::isnan(floor_in(with_box({0.0, 0.0, 0.0}, {2.0, 3.0, 0.5}), low, high)));
        CHECK(std::isnan(
            floor_in(with_box({0.8, 0.8, 0.0}, {2.2, 2.2, 0.5}, 45.0), low, high)));  // its corners are cut
    }
    SECTION("zones and paths of platforms close it, wherever the platform is") {
        CourseSpec zoned = floor_only();
        ZoneSpec zone;
        zone.kind = "nobody knows this one";
        zone.from = {0.0, 0.0, 1.0};
        zone.to = {1.5, 1.5, 1.1};
        zoned.zones.push_back(zone);
        CHECK(std::isnan(floor_in(zoned, low, high)));
        CourseSpec moving = floor_only();
        moving.platforms.push_back({{1.0, 1.0, 0.5}, {{-40.0, 1.5, 0.5}, {40.0, 1.5, 0.5}}, 1.5, 0.0});
        CHECK(std::isnan(floor_in(moving, low, high)));
        CHECK(floor_in(moving, {1.0, 11.0, -0.01}, {2.0, 12.0, 2.0}) == 0.0);
    }
    SECTION("a box that is none is not asked for anything beyond it") {
        CHECK(floor_in(with_box({1.2, 1.2, 0.0}, {1.4, 1.4, 1.0}), {5.0, 5.0, 1.0}, {6.0, 6.0, 2.0}) ==
              nothing);
        CHECK(std::isnan(floor_in(floor_only(), {1.0, 1.0, -1.0}, {2.0, 2.0, -0.5})));  // within the floor
    }
}

TEST_CASE("in a box that is open sweeps meet its floor alone, and nothing else is there") {
    Dice dice(11);
    int open = 0, closed = 0, floors = 0, met = 0;
    for (int world = 0; world < 150; ++world) {
        const Course course(storeys(dice));
        CourseTerrain terrain(course, compile(leaper()));
        terrain.set_time(dice.between(0.0, 20.0));
        for (int box = 0; box < 60; ++box) {
            const glm::dvec3 low{dice.between(-14.0, 14.0), dice.between(-14.0, 14.0),
                                 0.5 * std::round(dice.between(-3.0, 6.0)) - 0.01};
            const glm::dvec3 high =
                low + glm::dvec3(dice.between(0.3, 3.0), dice.between(0.3, 3.0), dice.between(0.3, 3.0));
            LevelFloor floor;
            if (!terrain.is_open(low, high, floor)) {
                ++closed;
                continue;
            }
            ++open;
            CAPTURE(world, box, floor.height);
            CHECK_FALSE(terrain.moves(low, high));
            for (int i = 0; i < 10; ++i) {
                Sweep sweep;
                if (!sweep_in(dice, low, high, floor.height + 1e-6, sweep)) {
                    break;
                }
                const ZoneReading zones = terrain.zones(sweep.from, 0.0);
                CHECK((zones.zones == 0 && zones.pace == 1.0));
                Overlap overlap;
                CHECK_FALSE(terrain.overlap(sweep.body, sweep.from, 0.0, overlap));
                const double end = sweep.from.z + sweep.motion.z;
                Hit hit;
                const bool hits = terrain.sweep(sweep, hit);
                if (end > std::max(low.z, floor.height)) {
                    CHECK_FALSE(hits);
                } else if (floor.surface != 0 && end < floor.height) {
                    // On its way down it leaves the box nowhere but through the floor.
                    REQUIRE(hits);
                    CHECK(hit.fraction ==
                          Approx((sweep.from.z - floor.height) / -sweep.motion.z).margin(1e-9));
                    const Solid& solid = course.solids()[hit.surface - 1];
                    CHECK(near(solid.middle.z + solid.half.z, floor.height, 1e-12));  // it, or one as high
                    CHECK(hit.normal.z > 1.0 - 1e-12);  // of a floor that is turned, to rounding
                    CHECK(hit.face.z > 1.0 - 1e-12);
                    ++met;
                }
            }
            floors += floor.surface != 0 ? 1 : 0;
        }
    }
    CHECK(open > 1000);
    CHECK(closed > 1000);
    CHECK(floors > 300);
    CHECK(met > 500);
}
