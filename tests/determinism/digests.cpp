// Prints digests along a run that uses every gain law, both kinds of drain, sub-tick changes and odd
// tick lengths. digests.txt has what is printed; every preset compares it, and compare_builds other compilers and flags.
#include <cstdio>
#include <cursimeter/course/course.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

#include "support/all_ways.hpp"
#include "support/random_chart.hpp"

using namespace cursimeter;

namespace {

/// A generator of its own: the standard's distributions differ between libraries.
class Dice {
  public:
    double next() {
        state_ = state_ * 6364136223846793005U + 1442695040888963407U;
        return static_cast<double>(state_ >> 11U) * 0x1p-53;
    }

  private:
    std::uint64_t state_ = 42;
};

ChartSpec chart_spec() {
    ChartSpec spec;
    spec.name = "determinism";
    spec.rank = {"sprint", "tread", "sidle", "walk"};
    spec.actions = {{.name = "sprint"}, {.name = "tread", .press = PressMode::toggle}};
    spec.meters = {{.name = "stamina",
                    .capacity = 20.0,
                    .start = {},
                    .refill = RefillSpec{.rate = 7.3, .wait = 0.31},
                    .spent = SpentSpec{.at = 0.0, .until = 6.1}}};
    StateSpec walk, sprint, tread, sidle;
    walk.name = "walk";
    walk.kind = StateKind::ground;
    walk.speed = {.forward = 2.4, .side = 2.1, .back = 1.6};
    walk.gain.law = GainLaw::ramp;
    walk.gain.up = 12.0;
    walk.gain.down = 16.0;
    walk.gain.idle = 9.0;
    sprint.name = "sprint";
    sprint.like = "walk";
    sprint.speed.forward = 6.5;
    sprint.gain.law = GainLaw::curve;
    sprint.gain.up_curve = {{0.0, 0.0}, {0.25, 0.45}, {0.9, 1.0}};
    sprint.gain.down_curve = {{0.0, 1.0}, {0.2, 0.5}, {0.6, 0.0}};
    sprint.enter = Condition{"sprint on", "moving forward", "stamina >= 2"};
    sprint.stay = Condition{"sprint on", "moving forward", "stamina > 0"};
    sprint.drain = {{"stamina", 5.0}};
    sprint.drain_per_metre = {{"stamina", 0.7}};
    tread.name = "tread";
    tread.like = "walk";
    tread.speed = {.forward = 1.1, .side = 0.9, .back = 0.8};
    tread.gain.law = GainLaw::ease;
    tread.gain.up_half_life = 0.15;
    tread.gain.down_half_life = 0.1;
    tread.enter = Condition{"tread on", "speed < 3"};
    tread.stay = Condition{"tread on", "time < 2.5"};
    sidle.name = "sidle";
    sidle.like = "walk";
    sidle.speed.forward = 0.7;
    sidle.gain.law = GainLaw::instant;
    sidle.enter = Condition{"moving sideways"};
    spec.states = {walk, sprint, tread, sidle};
    return spec;
}

/// Every kind of motion in a world with steps, slopes, a wall, a low ceiling, an updraft and a platform.
void run_in_world() {
    const Chart chart = compile(support::all_ways());
    CourseSpec spec;
    spec.name = "determinism";
    spec.boxes.push_back({{-40.0, -40.0, -1.0}, {40.0, 40.0, 0.0}, Degrees{0.0}});
    spec.boxes.push_back({{5.0, -4.0, 0.0}, {9.0, 4.0, 0.3}, Degrees{17.0}});
    spec.ramps.push_back({{-5.0, -5.0, 0.0}, {-12.0, -9.0, 3.0}, 4.0, 0.5});
    spec.walls.push_back({{-10.0, 6.0, 0.0}, {12.0, 7.0, 0.0}, 8.0, 0.3});
    spec.ceilings.push_back({{-8.0, -2.0, 1.3}, {-3.0, 3.0, 1.3}, 0.3});
    spec.platforms.push_back({{3.0, 3.0, 0.4}, {{12.0, 0.0, 0.5}, {18.0, 5.0, 3.0}}, 1.7, 0.4});
    spec.zones.push_back({"updraft", {-15.0, 10.0, 0.0}, {0.0, 20.0, 9.0}, 0.7, {0.3, 0.0, 4.0}, 1.0, {}});
    const Course course(spec);
    CourseTerrain terrain(course, chart);
    Runner runner = spawn(chart);
    Dice dice;
    IntentBuilder input;
    double time = 0.0;
    for (int tick = 1; tick <= 20000; ++tick) {
        const double dt = 0.001 + 0.04 * dice.next();
        const ActionId action{static_cast<std::uint8_t>(dice.next() * 5.0)};
        const double choice = dice.next(), at = dt * dice.next();
        if (choice < 0.05) {
            input.press(action, at);
        } else if (choice < 0.12) {
            input.release(action, at);
        } else if (choice < 0.15) {
            const double forward = 1.5 * dice.next() - 0.4;
            input.move_to({.forward = forward, .side = dice.next() - 0.5}, at);
        } else if (choice < 0.20) {
            const double yaw = 6.3 * dice.next();
            input.look_to({.yaw = yaw, .pitch = dice.next() - 0.5}, at);
        }
        if (tick % 701 == 0) {
            push(runner, {.direction = {1.0, 2.0, 0.0}, .strength = 5.0, .lift = 0.4, .seconds = 0.3});
        }
        if (runner.position().z < -5.0) {
            runner = spawn(chart);
        }
        terrain.set_time(time);
        static_cast<void>(advance(chart, runner, input.intent(), terrain, Seconds{dt}));
        input.next_tick();
        time += dt;
        if (tick % 1000 == 0) {
            std::printf("world %5d %016llx %s\n", tick, static_cast<unsigned long long>(digest(runner)),
                        chart.name(runner.state()).c_str());
        }
    }
}

/// Modifiers, charges, blocks, meters that shape one another, a focus, footsteps.
void run_effects() {
    ChartSpec spec = chart_spec();
    spec.name = "effects";
    spec.meters[0].refill->scale = {
        {.by = "broth", .at = std::vector<double>{0.1, 0.7}, .factors = std::vector<double>{0.3, 1.7}}};
    spec.meters[0].spent->grants = "winded";
    spec.meters.push_back({.name = "broth", .capacity = 9.0, .refill = RefillSpec{.rate = 0.37}});
    spec.cooldowns = {{.name = "dash", .seconds = 1.3, .charges = 3}};
    const auto modifier = [](const char* name, double seconds, AffectSpec affect) {
        ModifierSpec made;
        made.name = name;
        made.seconds = seconds;
        made.affects = {std::move(affect)};
        return made;
    };
    spec.modifiers = {modifier("winded", 1.1, {.what = "speed", .times = 0.61}),
                      modifier("soaked", 2.3, {.what = "gain", .times = 0.77}),
                      modifier("brisk", 0.9, {.what = "cooldown.dash", .times = 1.9}),
                      modifier("fed", 3.1, {.what = "refill.stamina", .adds = 1.3})};
    spec.modifiers[0].fade_out = 0.7;
    spec.modifiers[1].fade_in = 0.4;
    spec.modifiers[2].stacking = Stacking::extend;
    spec.blocks = {{.name = "talk", .bans = {"sprint"}}, {.name = "stun", .bans = {"movement"}}};
    spec.states[0].stride = 0.73;
    StateSpec dash;
    dash.name = "dash";
    dash.kind = StateKind::burst;
    dash.burst.speed = 11.0;
    dash.burst.seconds = 0.13;
    dash.cooldown = "dash";
    dash.enter = Condition{"tread pressed"};
    spec.states.push_back(dash);
    spec.rank.insert(spec.rank.begin(), "dash");
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    Dice dice;
    Focus lamp{{6.0, 2.0, 1.0}, {0.3, -0.2, 0.0}, 1.6};
    Intent intent;
    std::size_t events = 0;
    for (int tick = 1; tick <= 20000; ++tick) {
        const double choice = dice.next();
        const auto which = static_cast<std::uint8_t>(dice.next() * 4.0);
        if (choice < 0.02) {
            static_cast<void>(grant(chart, runner, ModifierId{which}, {.source = which, .strength = 0.7}));
        } else if (choice < 0.03) {
            static_cast<void>(remove(chart, runner, ModifierId{which}, which));
        } else if (choice < 0.04) {
            static_cast<void>(block(chart, runner, BlockId{static_cast<std::uint8_t>(which / 2)}));
        } else if (choice < 0.06) {
            static_cast<void>(unblock(chart, runner, BlockId{static_cast<std::uint8_t>(which / 2)}));
        } else if (choice < 0.07) {
            static_cast<void>(try_spend(chart, runner, MeterId{static_cast<std::uint8_t>(which / 2)}, 2.3));
        } else if (choice < 0.15) {
            intent.held = which;
        } else if (choice < 0.20) {
            intent.move = {2.0 * dice.next() - 0.6, dice.next() - 0.5};
        }
        intent.focus = tick / 500 % 2 == 0 ? &lamp : nullptr;
        intent.facing = tick / 300 % 3 == 0 ? Facing::movement : Facing::look;
        const Report report = advance(chart, runner, intent, Seconds{0.001 + 0.04 * dice.next()});
        events += report.event_count;
        if (tick % 1000 == 0) {
            std::printf("effects %5d %016llx %zu\n", tick, static_cast<unsigned long long>(digest(runner)),
                        events);
        }
    }
    // The text ends in a check of all of it.
    const std::string saved = save_runner(chart, runner);
    std::printf("saved %zu %s\n", saved.size(), saved.substr(saved.size() - 16).c_str());
}

/// Charts that nobody wrote, which reach what the others leave out; the generator is the same whatever built it, too.
void run_random_charts() {
    Dice dice;
    std::uint64_t charts = 0, runs = 0;
    for (unsigned seed = 1; seed <= 200; ++seed) {
        support::RandomChart random(seed);
        const ChartSpec spec = random.chart();
        const Chart chart = compile(spec);
        const Drill drill(random.drill(spec, 5.0), chart);
        Runner runner = drill.spawn(chart);
        DrillPlayer player(drill, runner);
        for (double at = 0.0; at < 5.0;) {
            const double begun = at;
            at = std::min(5.0, at + 0.001 + 0.06 * dice.next());
            static_cast<void>(advance(chart, runner, player.intent(begun, at), Seconds{at - begun}));
        }
        charts = charts * 31 + chart.digest();
        runs = runs * 31 + digest(runner);
        if (seed % 20 == 0) {
            std::printf("random %3u %016llx %016llx\n", seed, static_cast<unsigned long long>(charts),
                        static_cast<unsigned long long>(runs));
        }
    }
}

/// Server and clients: what is predicted, replicated and shown is the same wherever it is computed.
void run_link() {
    const Chart chart = compile(support::all_ways());
    rehearsal::Random random(5);
    rehearsal::Scene scene{chart, {}, std::nullopt};
    for (int i = 0; i < 3; ++i) {
        scene.drills.emplace_back(rehearsal::random_hands(chart, Seconds{20.0}, random), chart);
    }
    rehearsal::Plan plan;
    plan.seconds = 20.0;
    plan.up.delay = plan.down.delay = Seconds{0.06};
    plan.up.jitter = plan.down.jitter = Seconds{0.02};
    plan.up.loss = plan.down.loss = 0.1;
    const rehearsal::Result result = rehearsal::rehearse(scene, plan);
    std::printf("link %016llx %d\n", static_cast<unsigned long long>(result.digest),
                static_cast<int>(result.clients[0].statistics.bytes_in));
}

}  // namespace

int main() {
    const NumericHealth health = numeric_self_test();
    std::printf("%s\n", health.text().c_str());
    run_in_world();
    run_effects();
    run_random_charts();
    run_link();
    const Chart chart = compile(chart_spec());
    std::printf("chart %016llx\n", static_cast<unsigned long long>(chart.digest()));
    Runner runner = spawn(chart);
    Dice dice;
    IntentBuilder input;
    for (int tick = 1; tick <= 40000; ++tick) {
        const double dt = 0.001 + 0.06 * dice.next();
        // One throw per statement: the order in which arguments are evaluated is the compiler's choice.
        const ActionId action{static_cast<std::uint8_t>(dice.next() * 2.0)};
        const double share = dice.next();
        if (dice.next() < 0.1) {
            input.press(action, dt * 0.3 * share);
        }
        if (dice.next() < 0.1) {
            input.release(action, dt * (0.4 + 0.2 * share));
        }
        if (dice.next() < 0.1) {
            input.move_to({dice.next() < 0.6 ? 1.0 : 2.0 * dice.next() - 1.0, 1.4 * dice.next() - 0.7},
                          dt * 0.7);
        }
        if (dice.next() < 0.3) {
            input.look_to({.yaw = 20.0 * dice.next(), .pitch = 0.0}, dt * 0.9);
        }
        static_cast<void>(advance(chart, runner, input.intent(), Seconds{dt}));
        input.next_tick();
        if (tick % 2000 == 0) {
            std::printf("%d %016llx %a %a\n", tick, static_cast<unsigned long long>(digest(runner)),
                        runner.position().x, runner.distance());
        }
    }
    return health.ok() ? 0 : 1;
}
