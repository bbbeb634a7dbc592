#include "support/dice.hpp"
#include "support/hills.hpp"
#include "support/worlds.hpp"

using namespace support;

/// Worlds of triangles: each edge between two faces is a crest or a hollow of some degrees.
namespace {

/// Walks, sprints, leaps 1.1 m high, slides, and dashes at 13 or 20 m/s; faster than 12 m/s it does not stick to the ground.
Chart hill_chart(double dash_metres) {
    ChartSpec spec = walker({.forward = 2.6, .side = 2.3, .back = 1.8}, ramp(20.0, 20.0, 20.0));
    spec.actions = {{.name = "sprint"}, {.name = "jump"}, {.name = "dash"}, {.name = "crouch"}};
    spec.body.gravity = 20.0;
    spec.body.stick_speed = 12.0;
    spec.cooldowns = {{.name = "dash", .seconds = 0.6}};
    StateSpec sprint = state("sprint", {.forward = 7.0, .side = {}, .back = {}}, ramp(20.0, 20.0, 20.0));
    sprint.enter = Condition{"sprint on", "grounded", "moving"};
    StateSpec slide = state("slide", {.forward = 7.0, .side = {}, .back = {}});
    slide.kind = StateKind::slide;
    slide.slide.friction = 3.0;
    slide.slide.boost = 2.5;
    slide.slide.slope = 1.2;
    slide.enter = Condition{"crouch on", "grounded", "speed > 4"};
    slide.stay = Condition{"crouch on", "grounded", "speed > 1.5"};
    StateSpec jump = state("jump", {.forward = 4.5, .side = {}, .back = {}});
    jump.kind = StateKind::air;
    jump.air.steer = 9.0;
    jump.launch.heights = {1.1};
    jump.enter = Condition{"jump pressed", "grounded"};
    jump.stay = Condition{"not grounded"};
    StateSpec dash = state("dash", {.forward = 7.0, .side = {}, .back = {}});
    dash.kind = StateKind::burst;
    dash.burst.along = {{Along::input, Along::facing}};
    dash.burst.metres = dash_metres;
    dash.burst.seconds = 0.35;
    dash.cooldown = "dash";
    dash.enter = Condition{"dash pressed"};
    for (const StateSpec& one : {sprint, slide, jump, dash}) {
        add_first(spec, one);
    }
    return compile(spec);
}

struct HillHands {
    Move move;
    double yaw = 0.0;
    std::uint32_t held = 0;
};

}  // namespace

TEST_CASE("over hills of triangles it is one run at every rate, for walks, leaps and dashes of 20 m/s",
          "[long]") {
    int events = 0, dashes = 0;
    for (unsigned seed = 1; seed <= 16; ++seed) {
        Dice dice(seed);
        const double cell = dice.happens(0.5) ? 0.5 : 1.0;
        const double first = dice.between(0.2, 0.8), second = dice.between(0.2, 0.8),
                     third = dice.between(0.5, 1.6);
        const double high = dice.between(0.1, 0.5), higher = dice.between(0.1, 0.5),
                     low = dice.between(0.0, 0.12);
        const bool terraced = dice.happens(0.3);  // by 0.1 m
        const Hills hills(cell, [&](double x, double y) {
            const double z = high * std::sin(first * x + seed) + higher * std::sin(second * y) +
                             low * std::sin(third * (x + y));
            return terraced ? std::round(z * 10.0) / 10.0 : z;
        });
        const Chart chart = hill_chart(seed % 2 == 0 ? 7.0 : 4.55);
        std::vector<HillHands> hands;  // each for 0.1 s
        HillHands now;
        for (int i = 0; i < 50; ++i) {
            now.yaw += i % 5 == 0 ? dice.between(-1.0, 1.0) : 0.0;
            if (i % 4 == 0) {
                now.held = static_cast<std::uint32_t>(dice.between(0.0, std::exp2(chart.action_count())));
            }
            now.move = {dice.happens(0.9) ? 1.0 : 0.0, dice.happens(0.2) ? 0.5 : 0.0};
            hands.push_back(now);
        }
        std::string expected;
        glm::dvec3 place(0.0);
        for (const double rate : {20.0, 60.0, 240.0}) {
            Runner runner = spawn(chart, {{0.0, 0.0, hills.height(0.0, 0.0) + 0.3}, 0.0});
            std::string told;
            for (int tick = 0; tick < static_cast<int>(rate * 5.0); ++tick) {
                const HillHands& step = hands[static_cast<std::size_t>(tick * 10.0 / rate + 1e-9)];
                Intent intent;
                intent.move = step.move;
                intent.look.yaw = step.yaw;
                intent.held = step.held;
                const Report report = advance(chart, runner, intent, hills, Seconds{1.0 / rate});
                for (const Event& event : report.events()) {
                    if (event.kind == EventKind::entered || event.kind == EventKind::lifted ||
                        event.kind == EventKind::landed) {
                        told += std::string(to_string(event.kind)) + " " +
                                chart.name(StateId{event.subject}) + "; ";
                        dashes +=
                            event.kind == EventKind::entered && chart.name(StateId{event.subject}) == "dash"
                                ? 1
                                : 0;
                        ++events;
                    }
                }
                INFO("seed " << seed << ", " << rate << " ticks a second, at " << (tick + 1) / rate << " s");
                REQUIRE(runner.position().z > hills.height(runner.position().x, runner.position().y) - 0.1);
            }
            expected = expected.empty() ? told : expected;
            place = rate == 20.0 ? runner.position() : place;
            CAPTURE(seed, rate);
            CHECK(told == expected);
            CHECK(glm::distance(runner.position(), place) < 0.01);
        }
    }
    CHECK(events > 500);
    CHECK(dashes > 30);
}
