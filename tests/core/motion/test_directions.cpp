#include <catch2/catch.hpp>
#include <cursimeter/numbers/detmath.hpp>

#include "support/bearer.hpp"

using namespace support;

namespace {

/// The velocity of an instant-gain walker for one move and look.
glm::dvec3 velocity_for(SpeedSpec speed, Move move, double yaw = 0.0) {
    const Chart chart = compile(walker(speed));
    Runner runner = spawn(chart);
    static_cast<void>(tick(chart, runner, move, {}, 0.01, yaw));
    return runner.velocity();
}

const SpeedSpec walk{.forward = 2.4, .side = 2.1, .back = 1.6};
constexpr double pi = 3.14159265358979323846;

}  // namespace

TEST_CASE("yaw 0 looks along +x, side is to the right, back is back") {
    CHECK(velocity_for(walk, {1.0, 0.0}) == glm::dvec3(2.4, 0.0, 0.0));
    CHECK(velocity_for(walk, {0.0, 1.0}) == glm::dvec3(0.0, -2.1, 0.0));
    CHECK(velocity_for(walk, {0.0, -1.0}) == glm::dvec3(0.0, 2.1, 0.0));
    CHECK(velocity_for(walk, {-1.0, 0.0}) == glm::dvec3(-1.6, 0.0, 0.0));
}

TEST_CASE("yaw turns counter-clockwise seen from above, all the way round") {
    for (const double yaw : {0.5 * pi, 2.5 * pi, -1.5 * pi}) {
        const glm::dvec3 v = velocity_for(walk, {1.0, 0.0}, yaw);
        CHECK(near(v.x, 0.0, 1e-14));
        CHECK(near(v.y, 2.4, 1e-14));
    }
}

TEST_CASE("between the axes the speed is the radius of the ellipse, and the direction is kept") {
    for (int degrees = 0; degrees < 360; degrees += 7) {
        const double angle = degrees * pi / 180.0;
        const double f = std::cos(angle), s = std::sin(angle);
        const double a = f >= 0.0 ? 2.4 : 1.6, b = 2.1;
        const double radius = 1.0 / std::sqrt(f * f / (a * a) + s * s / (b * b));
        const glm::dvec3 v = velocity_for(walk, {f, s});
        CAPTURE(degrees);
        CHECK(near(v.x, f * radius, 1e-13));
        CHECK(near(v.y, -s * radius, 1e-13));
    }
}

TEST_CASE("the length of the move scales the speed, more than 1 is 1, a trace of it is none") {
    CHECK(near(velocity_for(walk, {0.25, 0.0}).x, 0.6, 1e-15));
    CHECK(near(velocity_for(walk, {7.0, 0.0}).x, 2.4, 1e-15));
    CHECK(near(velocity_for(walk, {1e200, 0.0}).x, 2.4, 1e-15));
    CHECK(velocity_for(walk, {9e-7, 0.0}) == glm::dvec3(0.0));
    CHECK(velocity_for(walk, {1e-310, 1e-310}) == glm::dvec3(0.0));
    const glm::dvec3 diagonal = velocity_for({.forward = 2.0, .side = 2.0, .back = 2.0}, {1.0, 1.0});
    CHECK(near(std::hypot(diagonal.x, diagonal.y), 2.0, 1e-14));
}

TEST_CASE("a direction of no speed lets only the other component count") {
    const SpeedSpec no_side{.forward = 3.0, .side = 0.0, .back = 1.0};
    CHECK(velocity_for(no_side, {0.0, 1.0}) == glm::dvec3(0.0));
    CHECK(near(velocity_for(no_side, {std::sqrt(0.5), std::sqrt(0.5)}).x, 3.0 * std::sqrt(0.5), 1e-14));
    CHECK(velocity_for({.forward = 3.0, .side = 1.0, .back = 0.0}, {-1.0, 0.0}) == glm::dvec3(0.0));
    const SpeedSpec crab{.forward = 0.0, .side = 2.0, .back = 0.0};
    CHECK(velocity_for(crab, {std::sqrt(0.5), 0.0}) == glm::dvec3(0.0));
    CHECK(near(velocity_for(crab, {std::sqrt(0.5), std::sqrt(0.5)}).y, -2.0 * std::sqrt(0.5), 1e-14));
}

TEST_CASE("moving forward, sideways and backward share the circle out by forward_within") {
    ChartSpec spec;
    spec.name = "sectors";
    spec.rank = {"ahead", "aside", "back", "stand"};
    spec.input.forward_within = Degrees{50.0};
    for (const char* name : {"ahead", "aside", "back", "stand"}) {
        spec.states.push_back(state(name, {.forward = 1.0, .side = {}, .back = {}}));
    }
    spec.states[0].enter = Condition{"moving forward"};
    spec.states[1].enter = Condition{"moving sideways"};
    spec.states[2].enter = Condition{"moving backward"};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    CHECK(chart.name(runner.state()) == "stand");
    for (int degrees = -179; degrees <= 180; ++degrees) {
        const double angle = degrees * pi / 180.0;
        static_cast<void>(tick(chart, runner, {std::cos(angle), std::sin(angle)}));
        const int turned = std::abs(degrees);
        CAPTURE(degrees);
        if (turned != 50 && turned != 130) {
            CHECK(chart.name(runner.state()) == (turned < 50 ? "ahead" : turned > 130 ? "back" : "aside"));
        }
    }
    static_cast<void>(tick(chart, runner, {}));
    CHECK(chart.name(runner.state()) == "stand");
}
