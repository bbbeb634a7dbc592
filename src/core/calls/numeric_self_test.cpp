#include <cfenv>
#include <cmath>
#include <cursimeter/advance.hpp>
#include <cursimeter/numbers/numeric_self_test.hpp>
#include <limits>

namespace cursimeter {
namespace {

/// Digest of the built-in run. It changes only when the arithmetic or the digest's fields change.
constexpr std::uint64_t known_digest = 0x4B13BE2589466C8CU;

std::uint64_t run_digest() {
    ChartSpec spec;
    spec.name = "self_test";
    spec.rank = {"sprint", "walk"};
    spec.actions = {{.name = "sprint"}};
    spec.meters = {{.name = "breath",
                    .capacity = 10.0,
                    .start = {},
                    .refill = RefillSpec{.rate = 7.0, .wait = 0.3},
                    .spent = SpentSpec{.at = 0.0, .until = 3.0}}};
    StateSpec walk;
    walk.name = "walk";
    walk.kind = StateKind::ground;
    walk.speed = {.forward = 2.4, .side = 2.1, .back = 1.6};
    walk.gain.law = GainLaw::ease;
    walk.gain.up_half_life = 0.1;
    StateSpec sprint;
    sprint.name = "sprint";
    sprint.like = "walk";
    sprint.speed.forward = 6.5;
    sprint.enter = Condition{"sprint on", "moving forward"};
    sprint.drain = {{"breath", 12.0}};
    sprint.drain_per_metre = {{"breath", 0.3}};
    spec.states = {walk, sprint};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    IntentBuilder input;
    for (int tick = 0; tick < 120; ++tick) {
        if (tick % 30 == 0) {
            input.press(chart.action("sprint"), 0.003);
        }
        if (tick % 30 == 25) {
            input.release(chart.action("sprint"), 0.011);
        }
        input.move_to({.forward = 1.0, .side = tick % 40 < 20 ? 0.4 : -0.3}, 0.002);
        input.look_to({.yaw = 0.1 * tick, .pitch = 0.0}, 0.007);
        static_cast<void>(advance(chart, runner, input.intent(), Seconds{1.0 / 60.0}));
        input.next_tick();
    }
    return digest(runner);
}

}  // namespace

NumericHealth numeric_self_test() {
    NumericHealth health;
    health.rounding_ok = std::fegetround() == FE_TONEAREST;
    // The square of 1 + 2^-30 loses its last bit when rounded; fused with the subtraction it does not.
    const volatile double probe = 1.0 + 0x1p-30;
    const double x = probe;
    const double square_minus_one = x * x - (1.0 + 0x1p-29);
    health.contraction_ok = square_minus_one == 0.0;
    const volatile double tiny = std::numeric_limits<double>::min();
    const volatile double half = tiny * 0.5;
    health.denormals_ok = half > 0.0;
    health.digest_ok = run_digest() == known_digest;
    return health;
}

std::string NumericHealth::text() const {
    if (ok()) {
        return "numeric self-test passed";
    }
    std::string text = "numeric self-test failed:";
    text += rounding_ok ? "" : " rounding is not to nearest;";
    text += contraction_ok ? ""
                           : " the library was built with fused multiply-add (-ffp-contract=off is missing);";
    text += denormals_ok ? "" : " denormals are flushed to zero (was the program linked with -ffast-math?);";
    text += digest_ok ? "" : " the built-in run gave another digest than on other machines;";
    text.pop_back();
    return text;
}

}  // namespace cursimeter
