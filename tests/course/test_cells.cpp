#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "support/dice.hpp"
#include "support/leaper.hpp"
#include "support/worlds.hpp"

using namespace support;

/// Courses list what is in them by cells. Whatever is asked, the answer must be that of asking every box by itself.
namespace {

/// Places on a grid of whole metres, many of them on the borders of cells, some far out; boxes from a plank to a plain.
class GridDice : public Dice {
  public:
    using Dice::Dice;
    double place() {
        const double metres = between(0.0, 1.0) < 0.8 ? between(-40.0, 40.0) : between(-3000.0, 3000.0);
        const double rounded = std::round(metres / 4.0) * 4.0;
        return between(0.0, 1.0) < 0.5 ? rounded : metres;
    }
    BoxSpec box() {
        const double size = between(0.0, 1.0) < 0.03  ? 2000.0
                            : between(0.0, 1.0) < 0.3 ? 4.0
                                                      : between(0.2, 6.0);
        const Point from{place(), place(), between(-2.0, 2.0)};
        const double yaw = between(0.0, 1.0) < 0.7 ? 0.0 : between(-180.0, 180.0);
        return {from, {from[0] + size, from[1] + size, from[2] + between(0.1, 3.0)}, Degrees{yaw}};
    }
    Sweep sweep() {
        const double reach = between(0.0, 1.0) < 0.9 ? 0.3 : 60.0;
        return {{0.35, 1.8},
                {place(), place(), between(-1.0, 3.0)},
                {between(-reach, reach), between(-reach, reach), between(-reach, reach)},
                0.0};
    }
};

CourseSpec only(const BoxSpec& box) {
    CourseSpec spec;
    spec.name = "boxes";
    spec.boxes = {box};
    return spec;
}

}  // namespace

TEST_CASE("a course of many boxes answers as each box by itself") {
    const Chart chart = compile(leaper());
    int hits = 0, overlaps = 0;
    for (unsigned seed = 1; seed <= 8; ++seed) {
        CAPTURE(seed);
        GridDice dice(seed);
        CourseSpec spec;
        spec.name = "boxes";
        std::vector<CourseTerrain> alone;
        for (int i = 0; i < 300; ++i) {
            spec.boxes.push_back(dice.box());
            alone.emplace_back(Course(only(spec.boxes.back())), chart);
        }
        const CourseTerrain together(Course(spec), chart);
        for (int i = 0; i < 2000; ++i) {
            CAPTURE(i);
            const Sweep sweep = dice.sweep();
            Hit first;
            std::uint32_t surface = 0;
            Overlap deepest;
            bool inside = false;
            for (std::size_t k = 0; k < alone.size(); ++k) {
                Hit hit;
                // Of those that are touched at the start the last one is told.
                if (alone[k].sweep(sweep, hit) &&
                    (surface == 0 || hit.fraction == 0.0 || hit.fraction < first.fraction)) {
                    first = hit;
                    surface = static_cast<std::uint32_t>(k + 1);
                }
                Overlap overlap;
                if (alone[k].overlap(sweep.body, sweep.from, 0.0, overlap) && overlap.depth > deepest.depth) {
                    deepest = overlap;
                    inside = true;
                }
            }
            Hit hit;
            REQUIRE(together.sweep(sweep, hit) == (surface != 0));
            if (surface != 0) {
                ++hits;
                REQUIRE(hit.fraction == first.fraction);
                REQUIRE(hit.normal == first.normal);
                REQUIRE(hit.surface == surface);
            }
            Overlap overlap;
            REQUIRE(together.overlap(sweep.body, sweep.from, 0.0, overlap) == inside);
            if (inside) {
                ++overlaps;
                REQUIRE(overlap.depth == deepest.depth);
            }
        }
    }
    CHECK(hits > 1000);
    CHECK(overlaps > 500);
}

TEST_CASE("zones of a course answer as each zone by itself, on their borders as well") {
    const Chart chart = compile(leaper());
    int inside = 0;
    GridDice dice(5);
    CourseSpec spec = floor_only();
    std::vector<CourseTerrain> alone;
    for (int i = 0; i < 200; ++i) {
        const BoxSpec box = dice.box();
        ZoneSpec zone;
        zone.kind = "mud";
        zone.from = box.to;  // corners in any order
        zone.to = box.from;
        zone.wind = {dice.between(-1.0, 1.0), 0.0, 1.0};
        spec.zones.push_back(zone);
        CourseSpec one = floor_only();
        one.zones = {zone};
        alone.emplace_back(Course(one), chart);
    }
    const CourseTerrain together(Course(spec), chart);
    for (int i = 0; i < 20000; ++i) {
        const glm::dvec3 point(dice.place(), dice.place(), dice.between(-2.0, 4.0));
        glm::dvec3 wind(0.0);
        for (const CourseTerrain& zone : alone) {
            wind += zone.zones(point, 0.0).wind;
        }
        inside += wind.z > 0.0 ? 1 : 0;
        REQUIRE(together.zones(point, 0.0).wind == wind);
    }
    CHECK(inside > 2000);
}

TEST_CASE("a course moves where the path of a platform leads, and nowhere else") {
    CourseSpec spec = floor_only();
    spec.platforms.push_back(
        {{2.0, 2.0, 0.5}, {{10.0, 0.0, 1.0}, {10.0, 20.0, 1.0}, {30.0, 20.0, 5.0}}, 2.0, 0.0});
    const CourseTerrain terrain(Course(spec), compile(leaper()));
    const auto at = [&](double x, double y, double z) {
        return terrain.moves({x - 0.1, y - 0.1, z - 0.1}, {x + 0.1, y + 0.1, z + 0.1});
    };
    CHECK(at(10.0, 10.0, 0.8));
    CHECK(at(30.9, 20.9, 4.9));
    CHECK(at(9.0, -1.0, 0.5));  // a corner
    CHECK_FALSE(at(8.8, 0.0, 0.8));
    CHECK_FALSE(at(10.0, 10.0, 5.2));
    CHECK_FALSE(at(40.0, 0.0, 1.0));
    const CourseTerrain still(Course(floor_only()), compile(leaper()));
    CHECK_FALSE(still.moves({-1e6, -1e6, -1e6}, {1e6, 1e6, 1e6}));
}

TEST_CASE("places that are no numbers, or further out than any course, are answered") {
    CourseSpec spec = floor_only();
    spec.boxes.push_back({{99990.0, 0.0, 0.0}, {100000.0, 10.0, 1.0}, Degrees{0.0}});
    const CourseTerrain terrain(Course(spec), compile(leaper()));
    Hit hit;
    const double nan = std::numeric_limits<double>::quiet_NaN();
    CHECK_FALSE(terrain.sweep({{0.35, 1.8}, {nan, 0.0, 1.0}, {0.0, 0.0, -2.0}, 0.0}, hit));
    CHECK_FALSE(terrain.sweep({{0.35, 1.8}, {1e300, 0.0, 1.0}, {0.0, 0.0, -2.0}, 0.0}, hit));
    REQUIRE(terrain.sweep({{0.35, 1.8}, {99995.0, 5.0, 3.0}, {0.0, 0.0, -4.0}, 0.0}, hit));
    CHECK(hit.surface == 2);
    CHECK(terrain.sweep({{0.35, 1.8}, {1e4, 5.0, 0.5}, {2e5, 0.0, 0.0}, 0.0}, hit));  // from far
}
