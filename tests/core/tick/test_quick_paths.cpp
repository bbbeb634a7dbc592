#include <catch2/catch.hpp>
#include <cstddef>
#include <cstring>
#include <random>

#include "support/bearer.hpp"
#include "support/leaper_chart.hpp"

using namespace cursimeter;
using namespace support;

namespace {

/// Walk, sprint and a crouch that brakes; a meter, marks of the speed, footsteps.
Chart chart_of(const GainSpec& gain, bool steps) {
    ChartSpec spec = bearer(gain);
    for (StateSpec& state : spec.states) {
        if (steps) {
            state.stride = 0.7;
        }
    }
    return compile(spec);
}

const std::vector<GainSpec> gains{ramp(12.0, 16.0, 10.0), ease(0.2, 0.1, 0.1), GainSpec(),
                                  at_once(ramp(12.0, 16.0, 10.0)), at_once(ease(0.2, 0.1, 0.1))};

/// Two runners of one chart with the same intents. One takes every short way that there is; the other is handed a change
/// that changes nothing, for which no short way is taken.
class Twins {
  public:
    explicit Twins(const Chart& chart) : chart_(chart), quick(spawn(chart)), plain(spawn(chart)) {}

    void tick(Intent intent, double dt) {
        const Report one = advance(chart_, quick, intent, Seconds{dt});
        const Change nothing = Change::look_to(intent.look, 0.0);
        intent.changes = std::span(&nothing, 1);
        const Report other = advance(chart_, plain, intent, Seconds{dt});
        REQUIRE(one.event_count == other.event_count);
        for (std::size_t i = 0; i < one.event_count; ++i) {
            REQUIRE(one.event_table[i].kind == other.event_table[i].kind);
            REQUIRE(one.event_table[i].subject == other.event_table[i].subject);
            worst = std::max(worst, std::fabs(one.event_table[i].at - other.event_table[i].at));
        }
    }

  private:
    const Chart& chart_;

  public:
    Runner quick, plain;
    double worst = 0.0;  ///< s between events
};

/// Keys every 0.1 to 0.3 s; a mouse that tracks, flicks and lies still.
class QuickHands {
  public:
    QuickHands(const Chart& chart, unsigned seed, std::vector<std::string> keys = {"sprint"})
        : chart_(chart), keys_held_(std::move(keys)), dice_(seed) {}

    Intent next(double dt, bool mouse) {
        if (keys_ <= 0.0) {
            keys_ = between(0.1, 0.3);
            intent_.move = between(0.0, 1.0) < 0.2 ? Move{} : Move{between(-1.0, 1.0), between(-1.0, 1.0)};
            intent_.held = 0;
            for (const std::string& key : keys_held_) {
                intent_.held |= between(0.0, 1.0) < 0.5 ? key_bit(chart_.action(key)) : 0;
            }
        }
        if (turns_ <= 0.0) {
            turns_ = between(0.2, 0.6);
            const double what = between(0.0, 1.0);
            rate_ = what < 0.15 ? 0.0 : what < 0.25 ? between(3.5, 10.5) : between(-1.6, 1.6);
        }
        keys_ -= dt;
        turns_ -= dt;
        intent_.look.yaw += mouse ? rate_ * dt : 0.0;
        return intent_;
    }

  private:
    double between(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(dice_);
    }
    const Chart& chart_;
    std::vector<std::string> keys_held_;
    std::mt19937 dice_;
    Intent intent_;
    double keys_ = 0.0, turns_ = 0.0, rate_ = 0.0;
};

}  // namespace

TEST_CASE("a quiet tick is the plain one, bit for bit") {
    for (const GainSpec& gain : gains) {
        for (const bool steps : {false, true}) {
            const Chart chart = chart_of(gain, steps);
            Twins twins(chart);
            QuickHands hands(chart, 3);
            Intent last;
            int compared = 0;
            for (int i = 0; i < 3000; ++i) {
                const double dt = i % 3 == 0 ? 1.0 / 60.0 : i % 3 == 1 ? 0.0071 : 1.0 / 144.0;
                const Intent intent = hands.next(dt, false);
                const bool quiet = intent.move.forward == last.move.forward &&
                                   intent.move.side == last.move.side && intent.held == last.held;
                twins.plain = twins.quick;
                twins.tick(intent, dt);
                REQUIRE((!quiet || digest(twins.quick) == digest(twins.plain)));
                compared += quiet ? 1 : 0;
                last = intent;
            }
            CHECK(compared > 2000);
        }
    }
}

TEST_CASE("a quiet tick writes one line and reads two, whatever else a runner holds") {
    STATIC_REQUIRE(offsetof(detail::RunnerState, next_due) == 64);
    STATIC_REQUIRE(offsetof(detail::RunnerState, acceleration) == 128);
    STATIC_REQUIRE(alignof(Runner) == 128);
    const Chart chart = chart_of(ramp(12.0, 16.0, 10.0), false);
    Runner runner = spawn(chart);
    Intent intent;
    intent.move = {1.0, 0.0};
    for (int i = 0; i < 300; ++i) {
        static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
    }
    std::array<unsigned char, sizeof(Runner)> before{}, after{};
    std::memcpy(before.data(), &runner, sizeof(Runner));
    static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
    std::memcpy(after.data(), &runner, sizeof(Runner));
    CHECK(std::equal(before.begin() + 64, before.end(), after.begin() + 64));
    CHECK_FALSE(std::equal(before.begin(), before.begin() + 64, after.begin()));
}

TEST_CASE("a look that follows a mouse takes the short way to the same place") {
    for (const GainSpec& gain : gains) {
        for (const double dt : {1.0 / 30.0, 1.0 / 60.0, 1.0 / 144.0}) {
            for (unsigned seed = 1; seed <= 4; ++seed) {
                CAPTURE(dt, seed);
                const Chart chart = chart_of(gain, seed % 2 == 0);
                Twins twins(chart);
                QuickHands hands(chart, seed);
                for (int i = 0; i * dt < 20.0; ++i) {
                    twins.tick(hands.next(dt, true), dt);
                    REQUIRE(twins.quick.state() == twins.plain.state());
                    const glm::dvec3 apart = twins.quick.position() - twins.plain.position();
                    REQUIRE(std::hypot(apart.x, apart.y, apart.z) <= 1e-10);
                    REQUIRE(near(twins.quick.distance(), twins.plain.distance(), 1e-10));
                    REQUIRE(near(twins.quick.speed(), twins.plain.speed(), 1e-10));
                }
                CHECK(twins.quick.distance() > 10.0);
                CHECK(twins.worst <= 1e-9);
            }
        }
    }
}

namespace {

/// Jumps twice, steers in the air, glides with a cape, by speeds of round numbers; something reads a speed and a fall.
Chart flying_chart(GainLaw law, Turning turn, double steer, double terminal) {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "cape", .press = PressMode::toggle});
    for (StateSpec& state : spec.states) {
        if (state.kind == StateKind::air) {
            state.speed = {.forward = 4.0, .side = 2.0, .back = 3.0};
            state.air.steer = steer;
            state.air.terminal = terminal;
        }
    }
    StateSpec glide = kind("glide", StateKind::fly);
    glide.speed = {.forward = 7.0, .side = 5.0, .back = 3.0};
    if (law == GainLaw::ramp) {
        glide.gain = ramp(12.0, 10.0, 8.0);
    } else if (law == GainLaw::ease) {
        glide.gain = ease(0.2, 0.1, 0.1);
    }
    glide.gain.turn = turn;
    glide.fly.sink = 1.0;
    glide.fly.by_look = true;
    glide.enter = Condition{"cape on", "not grounded", "rise < -1"};
    glide.stay = Condition{"cape on", "not grounded"};
    add_first(spec, glide);
    return compile(spec);
}

}  // namespace

TEST_CASE("a look that turns in the air takes the short way to the same place") {
    std::size_t aloft = 0;
    for (const GainLaw law : {GainLaw::ramp, GainLaw::ease, GainLaw::instant}) {
        for (const double dt : {1.0 / 20.0, 1.0 / 60.0, 1.0 / 240.0}) {
            for (unsigned seed = 1; seed <= 12; ++seed) {
                CAPTURE(dt, seed);
                const Turning turn = seed <= 6 ? Turning::arc : Turning::at_once;
                const Chart chart =
                    flying_chart(law, turn, seed % 3 == 0 ? 4.0 : 20.0, seed % 2 == 0 ? 6.0 : 30.0);
                Twins twins(chart);
                QuickHands hands(chart, seed, {"jump", "cape"});
                for (int i = 0; i * dt < 20.0; ++i) {
                    Intent intent = hands.next(dt, true);
                    intent.look.pitch = 0.3 * std::sin(0.7 * intent.look.yaw);
                    twins.tick(intent, dt);
                    REQUIRE(twins.quick.state() == twins.plain.state());
                    const glm::dvec3 apart = twins.quick.position() - twins.plain.position();
                    REQUIRE(std::hypot(apart.x, apart.y, apart.z) <= 1e-9);
                    REQUIRE(near(twins.quick.distance(), twins.plain.distance(), 1e-9));
                    REQUIRE(near(twins.quick.speed(), twins.plain.speed(), 1e-9));
                    aloft += twins.quick.grounded() ? 0 : 1;
                }
                CHECK(twins.worst <= 1e-8);
            }
        }
    }
    CHECK(aloft > 40000);
}
