#include <catch2/catch.hpp>
#include <cursimeter/advance.hpp>
#include <random>

#include "support/share.hpp"
#include "support/worlds.hpp"

using namespace support;

namespace {

/// One face through the origin, met by the runner's feet alone.
class Face final : public Terrain {
  public:
    explicit Face(const glm::dvec3& normal) : normal_(normal) {}
    bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        const double from = dot(sweep.from), closing = -dot(sweep.motion);
        if (closing <= 0.0 || from < -0.1 || from - closing >= 0.0) {
            return false;
        }
        hit.fraction = std::max(0.0, from / closing);
        hit.normal = hit.face = normal_;
        return true;
    }
    bool overlap(const Capsule& /*body*/, const glm::dvec3& feet, double /*at*/,
                 Overlap& overlap) const noexcept override {
        overlap = {-dot(feet), normal_};
        return overlap.depth > 0.0;
    }

  private:
    [[nodiscard]] double dot(const glm::dvec3& v) const {
        return normal_.x * v.x + normal_.y * v.y + normal_.z * v.z;
    }
    glm::dvec3 normal_;
};

/// Steers, and brakes while nobody steers, harder than it falls: 40 against 30 m/s^2.
ChartSpec steerer() {
    ChartSpec spec = leaper();
    spec.states[1].air.steer = spec.states[1].air.brake = 40.0;
    spec.states[1].air.terminal = 200.0;
    spec.states[1].speed.forward = 5.0;
    return spec;
}

}  // namespace

TEST_CASE("who presses in the air against a face, upright or leaning, slides down it as if nobody pressed") {
    const Chart chart = compile(steerer());
    for (const double lean : {0.0, 3e-5, 6e-5, 1e-4, 1e-3, 0.01, 0.1, 0.3, 0.6}) {  // sine of it
        const double upright = std::sqrt(1.0 - lean * lean);
        const Face face({-upright, 0.0, lean});
        for (const double yaw : {0.0, 0.4, -1.0}) {  // rad off the face's normal
            for (const double rate : {20.0, 37.0, 60.0, 240.0, 1000.0}) {
                CAPTURE(lean, yaw, rate);
                Runner runner = spawn(chart, {{-0.0003, 0.0, 0.0}, 0.0});
                Intent intent;
                intent.move = {1.0, 0.0};
                intent.look.yaw = yaw;
                const int ticks = static_cast<int>(rate);
                int capped = 0;
                for (int tick = 0; tick < ticks; ++tick) {
                    capped +=
                        advance(chart, runner, intent, face, Seconds{1.0 / rate}).instants_capped ? 1 : 0;
                }
                CHECK(capped == 0);
                // The face takes what points into it: g sin^2 of its lean. The way to it is no part of that.
                CHECK(near(runner.velocity().z, -30.0 * upright * upright, 0.3));
                CHECK(near(runner.position().z, -15.0 * upright * upright, 0.1));
                CHECK(near(runner.velocity().y, 5.0 * std::sin(yaw), 0.02));
                CHECK(near(runner.velocity().x * upright, runner.velocity().z * lean, 0.02));
            }
        }
    }
}

TEST_CASE(
    "who leaves the stick alone, or pulls it back with little strength, slides down a leaning face all the "
    "same") {
    ChartSpec spec = steerer();
    for (const double steer : {40.0, 10.0}) {
        spec.states[1].air.steer = steer;
        const Chart chart = compile(spec);
        for (const double lean : {0.1, 0.45, 0.6}) {
            const double upright = std::sqrt(1.0 - lean * lean);
            const Face face({-upright, 0.0, lean});
            for (const double rate : {20.0, 37.0, 60.0, 240.0}) {
                CAPTURE(steer, lean, rate);
                Runner runner = spawn(chart, {{-0.0003, 0.0, 0.0}, 0.0});
                Intent intent;
                intent.move = {1.0, 0.0};
                bool capped = false;
                for (int tick = 0; tick < static_cast<int>(2.0 * rate); ++tick) {
                    // From half a second on: idle with 40, away from the face with 10, which does not lift it off where
                    // gravity presses it on by more.
                    intent.move.forward = tick < static_cast<int>(0.5 * rate) ? 1.0
                                          : steer > 30.0                      ? 0.0
                                                                              : -1.0;
                    capped =
                        capped || advance(chart, runner, intent, face, Seconds{1.0 / rate}).instants_capped;
                }
                CHECK_FALSE(capped);
                if (steer > 30.0 || steer * upright < 30.0 * lean) {
                    CHECK(near(runner.velocity().z, -60.0 * upright * upright, 0.5));
                    CHECK(near(runner.velocity().x * upright, runner.velocity().z * lean, 0.03));
                } else {
                    CHECK(near(runner.velocity().z, -60.0, 4.0));
                    CHECK(runner.velocity().x < -4.9);
                }
            }
        }
    }
}

TEST_CASE("who presses in the air against an overhang falls along it or from it, at any rate") {
    const Chart chart = compile(steerer());
    for (const double lean : {-3e-5, -6e-5, -1e-3, -0.01, -0.1, -0.3, -0.7}) {
        const Face face({-std::sqrt(1.0 - lean * lean), 0.0, lean});
        for (const double rate : {20.0, 37.0, 60.0, 240.0, 1000.0}) {
            CAPTURE(lean, rate);
            Runner runner = spawn(chart, {{-0.0003, 0.0, 0.0}, 0.0});
            Intent intent;
            intent.move = {1.0, 0.0};
            const int ticks = static_cast<int>(rate);
            int capped = 0, instants = 0;
            for (int tick = 0; tick < ticks; ++tick) {
                const Report report = advance(chart, runner, intent, face, Seconds{1.0 / rate});
                capped += report.instants_capped ? 1 : 0;
                instants += report.instants;
            }
            CHECK(capped == 0);
            CHECK(instants < 500);
            CHECK(runner.velocity().z < -29.9);
            CHECK(runner.position().z < -14.9);
            CHECK(runner.velocity().z > -32.0);
        }
    }
}

namespace {

/// A wall beside a body of 0.35 m whose middle is at the origin.
CourseWallSpec wall_beside(double yaw, double length) {
    const double x = std::cos(yaw), y = std::sin(yaw), aside = 0.35 + 0.5 + 2e-4;
    return {{y * aside - x * length, -x * aside - y * length, 0.0},
            {y * aside + x * length, -x * aside + y * length, 0.0},
            500.0,
            1.0};
}

/// Four seconds of pressing ahead from the origin, or high above it, in which no tick is given up.
Runner after_pressing_on(const Chart& chart, const Terrain& terrain, double height, double yaw, double rate) {
    Runner runner = spawn(chart, {{0.0, 0.0, height}, 0.0});
    Intent intent;
    intent.move = {1.0, 0.0};
    intent.look.yaw = yaw;
    int capped = 0;
    for (int tick = 0; tick < static_cast<int>(4.0 * rate); ++tick) {
        capped += advance(chart, runner, intent, terrain, Seconds{1.0 / rate}).instants_capped ? 1 : 0;
    }
    CHECK(capped == 0);
    return runner;
}

}  // namespace

TEST_CASE("along a wall of any heading, on the ground and in the air, nothing holds who presses against it") {
    const Chart chart = compile(steerer());
    std::mt19937 dice(23);
    std::uniform_real_distribution<double> heading(-3.14, 3.14), into(0.05, 1.5);
    for (unsigned i = 0; i < share_of(200); ++i) {
        const double yaw = heading(dice), angle = into(dice);
        const double rate = std::array{20.0, 37.0, 60.0, 240.0}[i % 4];
        CAPTURE(yaw, angle, rate);
        CourseSpec spec = floor_only();
        spec.walls.push_back(wall_beside(yaw, 100.0));
        const Course course(spec);
        const CourseTerrain terrain(course, chart);
        for (const double height : {0.0, 400.0}) {
            CAPTURE(height);
            const Runner runner = after_pressing_on(chart, terrain, height, yaw - angle, rate);
            // On the ground by 20 m/s^2, in the air by 40.
            const double along = 5.0 * std::cos(angle), gain = height > 0.0 ? 40.0 : 20.0;
            const double way = runner.position().x * std::cos(yaw) + runner.position().y * std::sin(yaw);
            CHECK(near(way, along * (4.0 - along / gain / 2.0), 0.05));
            CHECK(near(runner.position().z, height > 0.0 ? height - 15.0 * 16.0 : 0.0, 3e-3));
        }
    }
}

TEST_CASE(
    "between two walls of any headings a runner that presses on falls freely or stands, and loses no time") {
    const Chart chart = compile(steerer());
    std::mt19937 dice(29);
    std::uniform_real_distribution<double> heading(-3.14, 3.14);
    for (unsigned i = 0; i < share_of(200); ++i) {
        CourseSpec spec = floor_only();
        for (int wall = 0; wall < 2; ++wall) {
            spec.walls.push_back(wall_beside(heading(dice), 30.0));
        }
        const double rate = std::array{20.0, 37.0, 60.0, 240.0}[i % 4];
        const double yaw = heading(dice);
        CAPTURE(i, rate, yaw);
        const Course course(spec);
        const CourseTerrain terrain(course, chart);
        for (const double height : {0.0, 400.0}) {
            CAPTURE(height);
            const Runner runner = after_pressing_on(chart, terrain, height, yaw, rate);
            CHECK(near(runner.position().z, height > 0.0 ? height - 15.0 * 16.0 : 0.0, 3e-3));
        }
    }
}

TEST_CASE("who runs into a corner stays in it, blunt or sharp, on the ground and in the air") {
    const Chart chart = compile(steerer());
    for (const double blunt :
         {170.0, 150.0, 127.0, 100.0, 90.0, 60.0, 20.0}) {  // degrees between the two walls
        for (const double turned : {0.0, 0.02, -0.03}) {    // rad off the middle of the corner
            const double aside = Degrees{90.0 - 0.5 * blunt}.radians();
            CourseSpec spec = floor_only();
            // Both walls turn their sides to the origin, and the corner lies ahead.
            spec.walls.push_back(wall_beside(aside, 40.0));
            spec.walls.push_back(wall_beside(-aside, 40.0));
            const Course course(spec);
            const CourseTerrain terrain(course, chart);
            for (const double rate : {20.0, 37.0, 60.0, 240.0}) {
                for (const double height : {0.0, 400.0}) {
                    CAPTURE(blunt, turned, rate, height);
                    Runner runner = spawn(chart, {{0.0, 0.3, height}, 0.0});
                    Intent intent;
                    intent.move = {1.0, 0.0};
                    intent.look.yaw = -1.5707963267949 + turned;
                    bool capped = false;
                    glm::dvec3 before(0.0);
                    for (int tick = 0; tick < static_cast<int>(3.0 * rate); ++tick) {
                        before = runner.position();
                        capped = capped ||
                                 advance(chart, runner, intent, terrain, Seconds{1.0 / rate}).instants_capped;
                    }
                    CHECK_FALSE(capped);
                    // In the air nothing brakes what the first wall has turned aside: it goes to and fro at first.
                    const double moved =
                        std::hypot(runner.position().x - before.x, runner.position().y - before.y);
                    CHECK(std::hypot(runner.position().x, runner.position().y) <
                          (height > 0.0 ? 0.06 : 0.03));
                    CHECK(moved < 1e-6);
                }
            }
        }
    }
}
