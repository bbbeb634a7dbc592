#include "support/leaper.hpp"
#include "support/random_drill.hpp"
#include "support/same_run.hpp"

using namespace support;

namespace {

/// The leaper with wings: 6 m/s by the look, 3 m/s up and 4 m/s down by keys.
ChartSpec flier(GainSpec gain = ramp(10.0, 10.0, 10.0)) {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "fly", .press = PressMode::toggle});
    spec.actions.push_back({.name = "climb"});
    spec.actions.push_back({.name = "dive"});
    StateSpec fly = kind("fly", StateKind::fly);
    fly.speed = {.forward = 6.0, .side = {}, .back = {}};
    fly.gain = std::move(gain);
    fly.fly = {.by_look = {}, .up = "climb", .down = "dive", .climb = 3.0, .dive = 4.0, .sink = {}};
    fly.enter = Condition{"fly on"};
    add_first(spec, fly);
    return spec;
}

Runner runner_at(const survey::Run& run) {
    return run.runner;
}

}  // namespace

TEST_CASE("flying follows the look up, climbs and dives by keys, and hovers") {
    const Chart chart = compile(flier());
    for (const double rate : rates) {
        CAPTURE(rate);
        const Runner looking = runner_at(
            run_at(chart, Script(2.0).hold(0.0, "fly").look(0.0, 90.0, 30.0).move(0.0, ahead), rate));
        CHECK(near(looking.velocity().z, 3.0, 1e-9));
        CHECK(near(looking.velocity().y, 6.0 * std::sqrt(0.75), 1e-9));
        CHECK(near(looking.velocity().x, 0.0, 1e-9));
        // 3 m/s at 10 m/s^2: 0.45 m in 0.3 s, then steady; then 0.3 s and 0.45 m more to the hover.
        const Runner hovering = runner_at(
            run_at(chart, Script(2.0).hold(0.0, "fly").hold(0.0, "climb").release(1.0, "climb"), rate));
        CHECK(near(hovering.position().z, 0.45 + 3.0 * 0.7 + 0.45, 1e-9));
        CHECK(hovering.speed() == 0.0);
        // Down again until the ground stops it.
        const survey::Run landed = run_at(
            chart, Script(3.0).hold(0.0, "fly").hold(0.0, "climb").release(1.0, "climb").hold(1.5, "dive"),
            rate);
        CHECK(landed.runner.position().z == 0.0);
        CHECK(landed.runner.grounded());
        CHECK(near(event(landed, EventKind::landed).event.value, 4.0, 1e-9));
        // 0.4 s and 0.8 m to 4 m/s, the other 2.2 m steadily.
        CHECK(near(event(landed, EventKind::landed).at, 1.5 + 0.4 + 2.2 / 4.0, 1e-9));
    }
}

TEST_CASE("a flier that has just come down takes off again, whatever turned it upward") {
    // Diving at 4 m/s from where half a second of climbing took it, it lands at some time; 20 ms later it may take off.
    for (const GainSpec& gain : {ramp(10.0, 10.0, 10.0), ease(0.1, 0.1, 0.2), GainSpec{}}) {
        const Chart chart = compile(flier(gain));
        const auto dive = [](double seconds) {
            return Script(seconds)
                .hold(0.0, "fly")
                .move(0.0, ahead)
                .hold(0.1, "climb")
                .release(0.6, "climb")
                .hold(0.6, "dive");
        };
        const double landed = event(run_at(chart, dive(3.0), 60.0), EventKind::landed).at;
        REQUIRE(landed > 0.7);
        for (const double after : {0.001, 0.0146, 0.019, 0.02, 0.05}) {
            for (const double rate : rates) {
                const survey::Run by_look = run_at(
                    chart, dive(3.0).release(landed + 5e-4, "dive").look(landed + after, 0.0, 15.0), rate);
                const survey::Run by_key = run_at(
                    chart, dive(3.0).release(landed + 5e-4, "dive").hold(landed + after, "climb"), rate);
                for (const survey::Run* run : {&by_look, &by_key}) {
                    CAPTURE(after, rate, run == &by_look);
                    const double lifted = event(*run, EventKind::lifted, 1).at;  // the first began the climb
                    CHECK(near(lifted, landed + std::max(after, 0.02), 1e-6));
                    CHECK(run->runner.position().z > 0.5);
                }
            }
        }
    }
}

TEST_CASE("a glide sinks at its rate, whatever the fall before") {
    ChartSpec spec = flier(ease(0.1, 0.1, 0.1));
    StateSpec& glide = spec.states.back();
    glide.fly = {.by_look = false, .up = {}, .down = {}, .climb = {}, .dive = {}, .sink = 1.5};
    glide.enter = Condition{"fly on", "not grounded", "rise < 0"};
    const Chart chart = compile(spec);
    survey::Run base;
    for (const double rate : rates) {
        CAPTURE(rate);
        const survey::Run run = run_at(
            chart, Script(3.0).move(0.0, ahead).hold(0.5, "jump").hold(1.0, "fly").look(1.0, 0.0, -80.0),
            rate);
        const survey::TimedEvent landed = event(run, EventKind::landed);
        CHECK(near(landed.event.value, 1.5, 0.01));
        if (base.events.empty()) {
            base = run;
        }
        check_same_run(chart, base, run);
    }
}

TEST_CASE("flight that burns fuel ends when it is spent, hovering included") {
    ChartSpec spec = flier();
    spec.meters = {{.name = "fuel",
                    .capacity = 10.0,
                    .start = {},
                    .refill = {},
                    .spent = SpentSpec{.at = 0.0, .until = 5.0}}};
    spec.states.back().drain = {{"fuel", 5.0}};
    spec.states.back().drain_above = 0.0;
    const Chart chart = compile(spec);
    for (const double rate : rates) {
        const survey::Run run =
            run_at(chart, Script(4.0).hold(0.0, "fly").hold(0.0, "climb").release(1.0, "climb"), rate);
        CHECK(near(event(run, EventKind::spent).at, 2.0, 1e-6));
        CHECK(chart.name(run.visits[2].state) == "fall");
        CHECK(chart.describe(run.visits[2].cause) == "stay failed: not fuel spent");
    }
}

TEST_CASE("a push carries strength * seconds / 2 and leaves nothing behind") {
    const Chart chart = compile(leaper());
    for (const double dt : {0.001, 1.0 / 60.0, 0.1}) {
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0, dt);
        const double before = runner.position().x;
        REQUIRE(push(runner, {.direction = {0.0, 2.0, 0.0}, .strength = 6.0, .seconds = 0.5}));
        pass(chart, runner, ahead, 1.0, dt);
        CHECK(near(runner.position().y, 1.5, 1e-6));
        CHECK(near(runner.position().x - before, 5.0, 1e-9));
        CHECK(runner.velocity() == glm::dvec3(5.0, 0.0, 0.0));
        CHECK(carrying_velocity(chart, runner) == glm::dvec3(0.0));
    }
}

TEST_CASE("pushes add up, lock control, replace one another, lift") {
    const Chart chart = compile(leaper());
    const auto pushed = [&](std::vector<Push> pushes, double seconds = 2.0) {
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0);
        for (const Push& each : pushes) {
            push(runner, each);
        }
        pass(chart, runner, ahead, seconds, 0.01);
        return runner;
    };
    const Push left{.direction = {0.0, 1.0, 0.0}, .strength = 4.0, .seconds = 0.5};
    const Push back{.direction = {-1.0, 0.0, 0.0}, .strength = 8.0, .seconds = 1.0};
    const double start = pushed({}, 0.0).position().x;
    const Runner two = pushed({left, back});
    CHECK(near(two.position().y, 1.0, 1e-6));
    CHECK(near(two.position().x, start + 10.0 - 4.0, 1e-6));
    const Runner three = pushed({left, back, left});  // the third is joined, and carries as far
    CHECK(near(three.position().y, 2.0, 1e-6));

    Push locking = left;
    locking.locks = true;
    const Runner locked = pushed({locking}, 0.4);
    CHECK(locked.locked());
    CHECK(near(locked.position().x, start + 25.0 / 40.0, 1e-9));  // 5 m/s braked at 20 m/s^2
    const Runner free = pushed({locking}, 1.0);
    CHECK_FALSE(free.locked());
    CHECK(near(free.velocity().x, 5.0, 1e-9));

    Push replacing = left;
    replacing.replaces = true;
    const Runner replaced = pushed({back, replacing}, 0.01);
    CHECK(replaced.velocity().x < 0.5);
    CHECK(near(carrying_velocity(chart, replaced).x, 0.0, 1e-12));

    const Runner launched = pushed({{.strength = 8.0, .lift = 1.0}}, 0.4);
    CHECK(near(launched.position().z, 1.6, 1e-9));
    CHECK_FALSE(launched.grounded());
    CHECK(near(launched.velocity().x, 5.0, 1e-9));
}

TEST_CASE("a knocked state holds while a push locks, its event tells how hard") {
    ChartSpec spec = leaper();
    StateSpec knocked = state("knocked", {.forward = 0.0, .side = {}, .back = {}}, ramp(5.0, 5.0, 5.0));
    knocked.enter = Condition{"locked"};
    add_first(spec, knocked);
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    push(runner, {.direction = {-3.0, 0.0, 0.0}, .strength = 5.0, .seconds = 0.25, .locks = true});
    const Report first = tick(chart, runner, ahead);
    REQUIRE(find(first, EventKind::pushed) != nullptr);
    CHECK(near(find(first, EventKind::pushed)->value, 5.0, 1e-6));
    CHECK(chart.name(runner.state()) == "knocked");
    const Report last = tick(chart, runner, ahead, {}, 0.1);
    CHECK(find(last, EventKind::left) == nullptr);
    pass(chart, runner, ahead, 0.2);
    CHECK(chart.name(runner.state()) == "run");
}

TEST_CASE("pushes out of range are refused and change nothing") {
    const Chart chart = compile(leaper());
    Runner runner = spawn(chart);
    const std::uint64_t before = digest(runner);
    for (const Push& bad : {Push{.strength = -1.0}, Push{.strength = 1.0, .lift = 1.5},
                            Push{.strength = 1.0, .seconds = 1e9}, Push{.direction = {NAN, 0.0, 0.0}}}) {
        CHECK(complaint([&] { push(runner, bad); }).starts_with("push: has a value that is out of range"));
    }
    CHECK_FALSE(push(runner, {.direction = {0.0, 0.0, 0.0}, .strength = 5.0}));
    CHECK(digest(runner) == before);
}

TEST_CASE("random input in a chart that flies: one run at every tick rate") {
    for (const GainSpec& gain : {ramp(10.0, 14.0, 8.0), ease(0.15, 0.1, 0.2)}) {
        const Chart chart = compile(flier(gain));
        std::mt19937 random(13);
        for (int round = 0; round < 3; ++round) {
            DrillSpec spec = random_drill(random, chart, 30.0, 0.5);
            for (std::size_t i = 0; i < spec.steps.size(); ++i) {
                if (spec.steps[i].look) {
                    spec.steps[i].look->pitch = Degrees{static_cast<double>(i * 37 % 170) - 85.0};
                }
            }
            const Drill drill(spec, chart);
            const survey::Run base =
                survey::run(chart, drill, survey::even_ticks(1000.0, Seconds{30.0}), false);
            for (const double rate : {20.0, 60.0, 240.0}) {
                CAPTURE(round, rate);
                check_same_run(chart, base,
                               survey::run(chart, drill, survey::even_ticks(rate, Seconds{30.0}), false));
            }
        }
    }
}

TEST_CASE("a dive that is pulled out of too late lands where it meets the ground") {
    // Half-lives of 0.1 s: the vertical speed eases towards 3, then 0, then -4, then 3 m/s again.
    constexpr double tau = 0.1 / 0.69314718055994531;
    struct Rise {
        double z, v;
        [[nodiscard]] Rise after(double t, double target) const {
            const double left = std::exp(-t / tau);
            return {z + target * t + (v - target) * tau * (1.0 - left), target + (v - target) * left};
        }
    };
    GainSpec gain;
    gain.law = GainLaw::ease;
    gain.up_half_life = gain.down_half_life = gain.idle_half_life = 0.1;
    const Chart chart = compile(flier(gain));
    const Rise top = Rise{0.0, 0.0}.after(1.0, 3.0).after(0.5, 0.0);
    int landed = 0;
    for (const double height : {0.002, 0.02, 0.1, 0.15, 0.2, 0.22, 0.3}) {
        // The dive ends at the height from which it is pulled out of.
        double dive = 0.0;
        for (double step = 1.0; step > 1e-12; step *= 0.5) {
            dive += top.after(dive + step, -4.0).z > height ? step : 0.0;
        }
        const Rise low = top.after(dive, -4.0);
        const double bottom = -tau * std::log(3.0 / (3.0 - low.v));
        double meets = -1.0;  // it does not
        if (low.after(bottom, 3.0).z < 0.0) {
            meets = 0.0;
            for (double step = bottom; step > 1e-12; step *= 0.5) {
                meets += meets + step < bottom && low.after(meets + step, 3.0).z > 0.0 ? step : 0.0;
            }
            ++landed;
        }
        for (const double rate : {20.0, 37.0, 60.0, 240.0, 1000.0}) {
            INFO(height << " m, " << rate << " ticks a second");
            const survey::Run run = run_at(
                chart,
                Script(1.5 + dive + 0.3)
                    .hold(0.0, "fly")
                    .hold(0.0, "climb")
                    .release(1.0, "climb")
                    .hold(1.5, "dive")
                    .move(
                        1.5,
                        ahead)  // it slows down as it turns upward: its speed is least after its lowest point
                    .move(1.5 + dive, Move{})
                    .release(1.5 + dive, "dive")
                    .hold(1.5 + dive, "climb"),
                rate);
            std::vector<survey::TimedEvent> touches;
            std::copy_if(run.events.begin(), run.events.end(), std::back_inserter(touches),
                         [](const survey::TimedEvent& e) { return e.event.kind == EventKind::landed; });
            REQUIRE(touches.size() == (meets >= 0.0 ? 1 : 0));
            if (meets >= 0.0) {
                CHECK(near(touches[0].at, 1.5 + dive + meets, 1e-8));
                CHECK(near(touches[0].event.value, -low.after(meets, 3.0).v, 1e-6));
            }
        }
    }
    CHECK(landed == 5);
}

TEST_CASE(
    "a flier whose look sinks leaves its state as its rise falls below a mark, though its speed stays") {
    ChartSpec spec = leaper();
    StateSpec soar = kind("soar", StateKind::fly);
    soar.speed.forward = 4.0;  // at once
    soar.fly.by_look = true;
    soar.enter = Condition{"not grounded", "rise >= 1"};
    add_first(spec, soar);
    const Chart chart = compile(spec);
    for (const bool plainly : {false, true}) {
        for (int k = 0; k < 60; ++k) {  // the speed comes out the same to the bit in some of them
            const double rate = k % 3 == 0 ? 20.0 : k % 3 == 1 ? 60.0 : 240.0;
            CAPTURE(plainly, rate, k);
            Runner runner = spawn(chart);
            Intent intent;
            intent.move.forward = 1.0;
            intent.look.yaw = 0.1 * k;
            intent.look.pitch = 0.5 + 0.0003 * k;
            intent.hold(chart.action("jump"));
            int left = -1, due = -1;
            for (int i = 0; left < 0 && i < 100; ++i) {
                intent.look.pitch -= 0.01;
                const Change same = Change::look_to(intent.look, 0.0);  // for which no short way is taken
                intent.changes = plainly ? std::span(&same, 1) : std::span<const Change>();
                due = due < 0 && 4.0 * std::sin(intent.look.pitch) < 1.0 ? i : due;
                const Report report = advance(chart, runner, intent, Seconds{1.0 / rate});
                for (const Event& event : report.events()) {
                    if (event.kind == EventKind::left && chart.name(StateId{event.subject}) == "soar") {
                        left = i;
                        CHECK(event.at == 0.0);
                    }
                }
            }
            CHECK(left == due);
            CHECK(due > 10);
        }
    }
}
