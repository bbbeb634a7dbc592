#include <cursimeter/adapters/bullet_course.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>

#include "support/worlds.hpp"

using namespace support;

namespace {

const std::string demo = std::string(CURSIMETER_SOURCE_DIR) + "/demo/";

struct Visited {
    std::string state;
    double at;
};

/// The states of a drill's first `seconds` in a terrain.
std::vector<Visited> visits_in(const Terrain& terrain, const Chart& chart, const Drill& drill, double seconds,
                               glm::dvec3& place) {
    Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    std::vector<Visited> visits;
    double begin = 0.0;
    for (const double end : survey::even_ticks(60.0, Seconds{seconds})) {
        const Report report =
            advance(chart, runner, player.intent(begin, end), terrain, Seconds{end - begin});
        for (const Event& event : report.events()) {
            if (event.kind == EventKind::entered) {
                visits.push_back({chart.name(StateId{event.subject}), begin + event.at});
            }
        }
        begin = end;
    }
    place = runner.position();
    return visits;
}

}  // namespace

TEST_CASE("the relay on Bullet: the same states, times within 5 ms") {
    const Course course = load_course(demo + "courses/relay.toml");
    // Up to the hoist, which the Bullet world does not hold; the gannet needs no hoist.
    for (const auto& [name, seconds] :
         {std::pair<std::string, double>("bearer", 40.0), {"eel", 20.0}, {"gannet", 40.0}}) {
        const Chart chart = load_chart(demo + "charts/" + name + ".toml").chart;
        const Drill drill = load_drill(demo + "drills/relay_" + name + ".toml", chart).drill;
        BulletCourse bullet(course);
        BulletTerrain on_bullet(bullet.world());
        CourseSpec spec = course.spec();
        spec.platforms.clear();
        const Course without_hoist(spec);
        const CourseTerrain exact(without_hoist, chart);
        on_bullet.zone_reader = [&](const glm::dvec3& point) { return exact.zones(point, 0.0); };
        glm::dvec3 place_exact(0.0), place_bullet(0.0);
        const std::vector<Visited> a = visits_in(exact, chart, drill, seconds, place_exact);
        const std::vector<Visited> b = visits_in(on_bullet, chart, drill, seconds, place_bullet);
        CAPTURE(name);
        REQUIRE(a.size() > 20);
        REQUIRE(b.size() == a.size());
        for (std::size_t i = 0; i < a.size(); ++i) {
            CAPTURE(i, a[i].state, b[i].state, a[i].at, b[i].at);
            CHECK(a[i].state == b[i].state);
            CHECK(near(a[i].at, b[i].at, 0.005));
        }
        CAPTURE(place_exact.x, place_bullet.x);
        CHECK(near(place_exact.x, place_bullet.x, 0.03));
        CHECK(near(place_exact.z, place_bullet.z, 0.01));
    }
}

TEST_CASE("Bullet's answers: a floor, a wall, an edge, an overlap") {
    CourseSpec spec = floor_only();
    spec.boxes.push_back({{5.0, -5.0, 0.0}, {10.0, 5.0, 0.3}, Degrees{0.0}});
    BulletCourse course{Course(spec)};
    const BulletTerrain terrain(course.world());
    CHECK_FALSE(terrain.moves({-100.0, -100.0, -100.0}, {100.0, 100.0, 100.0}));
    Hit hit;
    REQUIRE(terrain.sweep({{0.35, 1.8}, {0.0, 0.0, 1.0}, {0.0, 0.0, -2.0}, 0.0}, hit));
    CHECK(near(hit.fraction, 0.5, 1e-3));
    CHECK(hit.face.z > 0.999);
    CHECK(hit.surface == 1);
    // The lower half of the capsule meets the edge of the box: its upper side is what it would stand on.
    REQUIRE(terrain.sweep({{0.35, 1.8}, {3.0, 0.0, 0.01}, {3.0, 0.0, 0.0}, 0.0}, hit));
    CHECK(hit.normal.x < -0.5);
    CHECK(hit.face.z > 0.999);
    CHECK(hit.surface == 2);
    CHECK_FALSE(terrain.sweep({{0.35, 1.8}, {3.0, 0.0, 0.01}, {-3.0, 0.0, 0.0}, 0.0}, hit));
    Overlap overlap;
    REQUIRE(terrain.overlap({0.35, 1.8}, {0.0, 0.0, -0.1}, 0.0, overlap));
    CHECK(near(overlap.depth, 0.1, 1e-3));
    CHECK(overlap.normal.z > 0.99);
    CHECK_FALSE(terrain.overlap({0.35, 1.8}, {0.0, 0.0, 0.01}, 0.0, overlap));
}

TEST_CASE(
    "over a crest between two of Bullet's objects the upper face counts until the touch is on the slope") {
    CourseSpec spec;
    spec.name = "crest";
    spec.boxes.push_back({{-10.0, -5.0, -1.0}, {0.0, 5.0, 0.0}, Degrees{0.0}});
    spec.ramps.push_back({{0.0, 0.0, 0.0}, {10.0, 0.0, -2.0}, 10.0});
    BulletCourse course{Course(spec)};
    const BulletTerrain terrain(course.world());
    const double sine = 2.0 / std::sqrt(104.0), cosine = 10.0 / std::sqrt(104.0);
    for (int i = -100; i <= 200; ++i) {
        const double x = 0.001 * i;  // m
        Hit hit;
        CAPTURE(x);
        REQUIRE(terrain.sweep({{0.35, 1.8}, {x, 0.0, 0.5}, {0.0, 0.0, -1.0}, 0.0}, hit));
        // The foot's sphere leaves the edge where its middle is 0.35 m * sine beyond it.
        if (x < 0.35 * sine - 0.008) {
            CHECK(hit.face.z > 0.9999);
        } else if (x > 0.35 * sine + 0.008) {
            CHECK(near(hit.face.x, sine, 1e-3));
            CHECK(near(hit.face.z, cosine, 1e-3));
        }
    }
    // So a slide across takes its crossing as one change of the ground, not as dozens.
    const Chart chart = compile(leaper());
    Runner runner = spawn(chart, {{-3.0, 0.0, 0.0}, 0.0});
    Intent intent;
    intent.move = {1.0, 0.0};
    int instants = 0;
    for (int tick = 0; tick < 90; ++tick) {
        const Report report = advance(chart, runner, intent, terrain, Seconds{1.0 / 60.0});
        CHECK(runner.grounded());
        instants += report.instants;
    }
    CHECK(runner.position().x > 2.0);
    CHECK(instants <= 12);
}
