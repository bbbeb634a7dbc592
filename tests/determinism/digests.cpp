// Prints digests along a run that uses every gain law, both kinds of drain, sub-tick changes and odd
// tick lengths. compare_builds compiles this with several compilers and compares what is printed.
#include <cstdio>
#include <cursimeter/cursimeter.hpp>

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

}  // namespace

int main() {
    const NumericHealth health = numeric_self_test();
    std::printf("%s\n", health.text().c_str());
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
