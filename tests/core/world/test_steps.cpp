#include "support/worlds.hpp"

using namespace support;

/// Steps and edges at which round numbers meet: the step height itself, a body's radius, a wall beside.
namespace {

Chart walker_at(double speed) {
    return compile(walker({.forward = speed, .side = {}, .back = {}}));
}

/// Walks straight on from a place, with a yaw in degrees.
survey::Run walk_from(const CourseSpec& course, const Chart& chart, std::array<double, 3> from, double yaw,
                      double seconds, double rate) {
    return run_in(course, chart, Script(seconds).look(0.0, yaw).move(0.0, ahead), rate, from);
}

/// Stairs down as a height above each place, without faces between: what a game with a height map answers.
class HeightMap final : public Terrain {
  public:
    bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        const glm::dvec3 end = sweep.from + sweep.motion;
        const double ground = -0.35 * std::floor(std::clamp(end.x, 0.0, 20.0));
        if (sweep.motion.z >= 0.0 || sweep.from.z < ground || end.z > ground) {
            return false;
        }
        hit = {(sweep.from.z - ground) / -sweep.motion.z, {0.0, 0.0, 1.0}, {0.0, 0.0, 1.0}, 1};
        return true;
    }
    bool overlap(const Capsule& /*body*/, const glm::dvec3& /*feet*/, double /*at*/,
                 Overlap& /*overlap*/) const noexcept override {
        return false;
    }
};

}  // namespace

TEST_CASE("steps are told in order with what ends them, and none of the way through the air") {
    // A foot comes down every half metre; a wall stops the body 0.35 m before it. From the ledge it falls a metre.
    ChartSpec spec = walker({.forward = 5.0, .side = {}, .back = {}});
    spec.states[0].stride = 1.0;
    StateSpec fall = state("fall", {.forward = 5.0, .side = {}, .back = {}});
    fall.kind = StateKind::air;
    fall.stride = 1.0;
    fall.enter = Condition{"not grounded"};
    add_first(spec, fall);
    const Chart chart = compile(spec);
    for (int i = 0; i < 50; ++i) {
        const double wall = 9.6 + 0.01 * i, rate = i % 3 == 0 ? 10.0 : i % 3 == 1 ? 60.0 : 240.0;
        CAPTURE(wall, rate);
        CourseSpec course = floor_only();
        course.boxes.push_back({{-2.0, -5.0, 0.0}, {3.0, 5.0, 1.0}, Degrees{0.0}});
        course.boxes.push_back({{wall, -5.0, 0.0}, {wall + 1.0, 5.0, 3.0}, Degrees{0.0}});
        const survey::Run run = walk_from(course, chart, {0.0, 0.0, 1.0}, 0.0, 3.0, rate);
        const double lifted = event(run, EventKind::lifted).at, landed = event(run, EventKind::landed).at;
        const double bumped = event(run, EventKind::bumped).at;
        REQUIRE((lifted > 0.5 && landed > lifted && bumped > landed));
        double last = 0.0;
        for (const survey::TimedEvent& timed : run.events) {
            CHECK(timed.at >= last);
            last = timed.at;
            if (timed.event.kind == EventKind::footstep) {
                CHECK((timed.at <= lifted + 1e-9 || timed.at >= landed - 1e-9));
            }
        }
        const double walked = 5.0 * lifted, to_wall = 5.0 * (bumped - landed);
        CHECK(count(run, EventKind::footstep) >= static_cast<int>(2.0 * walked));
        CHECK(count(run, EventKind::footstep) <= static_cast<int>(2.0 * (walked + to_wall)) + 2);
    }
}

TEST_CASE("who walks off a step of exactly the step height keeps the ground at every rate") {
    // At 4 m/s from 0 a tick of 1/240 s ends at 2.85 m, the body's radius behind the edge: it brushes the face below.
    CourseSpec course = floor_only();
    course.boxes.push_back({{2.0, -1.5, -0.5}, {2.5, 0.5, 0.35}, Degrees{0.0}});
    for (const double speed : {2.0, 4.0, 8.0}) {
        for (const double rate : all_rates) {
            CAPTURE(speed, rate);
            const survey::Run run =
                walk_from(course, walker_at(speed), {0.0, 0.0, 0.0}, 0.0, 5.0 / speed, rate);
            CHECK(count(run, EventKind::lifted) == 0);
            CHECK(run.runner.position().x > 4.5);
        }
    }
}

TEST_CASE("steps of exactly the step height are followed down a height map at every rate") {
    const Chart chart = walker_at(4.0);
    const HeightMap stairs;
    for (const double rate : all_rates) {
        CAPTURE(rate);
        Runner runner = spawn(chart, {{-2.0, 0.0, 0.0}, 0.0});
        Intent intent;
        intent.move = ahead;
        for (int tick = 0; tick < static_cast<int>(6.0 * rate); ++tick) {
            intent.look.yaw = 0.02 * std::sin(9.0 * tick / rate);  // a mouse that never rests
            const Report report = advance(chart, runner, intent, stairs, Seconds{1.0 / rate});
            CHECK(count(report, EventKind::lifted) == 0);
        }
        CHECK(near(runner.position().z, -7.0, 2e-4));
    }
}

TEST_CASE("off the end of a ramp onto another, less than a step below, the ground is kept at every rate") {
    CourseSpec course = floor_only();
    course.ramps.push_back({{2.0, -1.0, 0.0}, {6.0, -1.0, 0.5}, 2.0, 0.5});
    course.ramps.push_back({{5.5, -0.5, 0.0}, {7.5, -0.5, 1.0}, 2.0, 0.5});
    for (const double rate : all_rates) {
        CAPTURE(rate);
        const survey::Run run = walk_from(course, walker_at(5.0), {1.0, 0.0, 0.0}, 0.0, 1.2, rate);
        CHECK(run.runner.position().x > 6.4);
        CHECK(count(run, EventKind::lifted) == 0);
    }
}

TEST_CASE("over the side of a ramp the way is free at every rate, however far a tick leads") {
    CourseSpec course = floor_only();
    course.ramps.push_back({{3.0, 1.0, 0.0}, {5.0, 1.0, 2.0}, 2.0, 0.5});
    for (const double rate : all_rates) {
        for (int i = 0; i < 20; ++i) {
            CAPTURE(rate, i);
            const survey::Run run =
                walk_from(course, walker_at(8.0), {3.17, -1.2 + 0.02 * i, 0.0}, 90.0, 0.3, rate);
            CHECK(count(run, EventKind::bumped) == 0);
            CHECK(run.runner.position().y > 0.7);
        }
    }
}

TEST_CASE("who meets a step and something beside it at once goes on along what is beside it") {
    // A step of 0.35 m, exactly the step height, and a beam overhead whose upright edge the shoulder meets on the way up.
    const Chart chart = walker_at(4.0);
    CourseSpec course = floor_only();
    course.boxes.push_back({{-2.5, -5.0, -0.5}, {-2.0, -1.0, 0.35}, Degrees{0.0}});
    course.boxes.push_back({{-1.5, -2.5, 1.0}, {2.5, -1.5, 1.5}, Degrees{0.0}});
    for (int i = 0; i < 60; ++i) {
        for (const double rate : all_rates) {
            const glm::dvec3 end =
                walk_from(course, chart, {-0.9 + 0.01 * i, -0.3, 0.0}, 225.0, 1.5, rate).runner.position();
            CAPTURE(i, rate, end.x, end.y, end.z);
            CHECK((end.x < -2.5 || end.y < -3.0));
        }
    }
}
