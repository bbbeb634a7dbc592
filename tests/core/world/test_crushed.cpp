#include "support/leaper.hpp"
#include "support/worlds.hpp"

/// Where solids leave a body no room.
using namespace support;

namespace {

/// No room at all from one second to another, and no ground.
class Vice final : public Terrain {
  public:
    double begin = 0.0;  ///< s; of the tick
    bool sweep(const Sweep& /*sweep*/, Hit& /*hit*/) const noexcept override { return false; }
    bool overlap(const Capsule& /*body*/, const glm::dvec3& /*feet*/, double at,
                 Overlap& overlap) const noexcept override {
        overlap = {5.0, {0.0, 0.0, 1.0}};
        return begin + at >= 1.0 && begin + at < 3.0;
    }
    bool moves(const glm::dvec3&, const glm::dvec3&) const noexcept override { return true; }
};

}  // namespace

TEST_CASE("a platform that comes down leaves no room: crushed, once, and never a hang") {
    const Chart chart = compile(leaper());
    CourseSpec course = floor_only();
    course.platforms.push_back({{4.0, 4.0, 0.5}, {{0.0, 0.0, 3.0}, {0.0, 0.0, 0.8}}, 2.0, 1.0});
    const survey::Run run = run_in(course, chart, Script(4.0), 60.0);
    CHECK(count(run, EventKind::crushed) == 1);
    CHECK(near(run.runner.position().z, 0.0, 2e-4));
    CHECK_FALSE(run.runner.crushed());  // it went up again
}

TEST_CASE("a runner that begins inside a box is put outside, or, deep inside, is crushed") {
    const Chart chart = compile(leaper());
    CourseSpec course = floor_only();
    course.boxes.push_back({{-1.0, -3.0, 0.0}, {1.0, 3.0, 3.0}, Degrees{0.0}});
    const survey::Run out = run_in(course, chart, Script(1.0), 60.0, {1.1, 0.0, 0.0});
    CHECK(near(out.runner.position().x, 1.35, 1e-3));
    CHECK(count(out, EventKind::crushed) == 0);
    const survey::Run inside = run_in(course, chart, Script(1.0).move(0.0, ahead), 60.0, {0.3, 0.0, 0.0});
    CHECK(count(inside, EventKind::crushed) == 1);
    CHECK(inside.runner.crushed());
    CHECK(inside.runner.position() == glm::dvec3(0.3, 0.0, 0.0));  // held until there is room
}

TEST_CASE(
    "whoever is crushed stands: no speed gathers, no way is counted, and it falls from rest once there is "
    "room") {
    ChartSpec spec = leaper();
    spec.meters = {{.name = "oil", .capacity = 1000.0, .start = {}, .refill = {}, .spent = {}}};
    for (StateSpec& state : spec.states) {
        state.drain_per_metre = {{"oil", 1.0}};
    }
    const Chart chart = compile(spec);
    for (const double rate : {20.0, 37.0, 60.0, 240.0}) {
        CAPTURE(rate);
        Vice vice;
        Runner runner = spawn(chart, {{0.0, 0.0, 100.0}, 0.0});
        Intent intent;
        intent.move = {1.0, 0.0};
        double height = 0.0, distance = 0.0, left = 0.0;
        int crushed = 0;
        for (int tick = 0; tick < static_cast<int>(4.0 * rate); ++tick) {
            vice.begin = tick / rate;
            crushed += static_cast<int>(
                count(advance(chart, runner, intent, vice, Seconds{1.0 / rate}), EventKind::crushed));
            if (vice.begin > 1.05 && vice.begin < 2.9) {
                CHECK(runner.crushed());
                CHECK(runner.speed() == 0.0);
                if (distance == 0.0) {
                    height = runner.position().z;
                    distance = runner.distance();
                    left = read_meter(chart, runner, chart.meter("oil")).level;
                }
                CHECK(runner.position().z == height);
                CHECK(runner.distance() == distance);
                CHECK(read_meter(chart, runner, chart.meter("oil")).level == left);
            }
        }
        CHECK(crushed == 1);
        CHECK_FALSE(runner.crushed());
        CHECK(
            near(runner.velocity().z, -25.0, 1e-9));  // the terminal speed, after 25/30 s of the last second
        CHECK(near(runner.position().z, height - 0.5 * 25.0 * 25.0 / 30.0 - 25.0 * (1.0 - 25.0 / 30.0),
                   30.0 / rate));
    }
}

TEST_CASE("a gap that is too narrow by less than a body gives is no crush") {
    const Chart chart = compile(leaper());
    CourseSpec course = floor_only();
    // 0.6996 m between the walls for a body of 0.7 m.
    course.walls.push_back({{-5.0, 0.4498, 0.0}, {5.0, 0.4498, 0.0}, 3.0, 0.2});
    course.walls.push_back({{-5.0, -0.4498, 0.0}, {5.0, -0.4498, 0.0}, 3.0, 0.2});
    const survey::Run run = run_in(course, chart, Script(0.5), 60.0);
    CHECK(count(run, EventKind::crushed) == 0);
    CHECK_FALSE(run.runner.crushed());
}
