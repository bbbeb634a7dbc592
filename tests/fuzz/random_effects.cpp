#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/effects.hpp>
#include <random>

#include "support/bearer.hpp"

/// Random sequences of grants, removals, blocks, presses, spending and ticks. During each, meters, charges,
/// stacks and times stay in their bounds; after everything has ended, every quantity is the chart's own, bit
/// for bit, and no action is stuck. What is granted at one moment gives the same in any order.
///
/// usage: random_effects SEQUENCES [SEED]
namespace {

using namespace cursimeter;

struct Dice {
    std::mt19937 engine;
    double between(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(engine);
    }
    unsigned below(unsigned count) { return std::uniform_int_distribution<unsigned>(0, count - 1)(engine); }
    bool chance(double part) { return between(0.0, 1.0) < part; }
};

ModifierSpec modifier(const std::string& name, std::optional<double> seconds, const std::string& what,
                      double times, Stacking stacking) {
    ModifierSpec spec;
    spec.name = name;
    spec.seconds = seconds;
    spec.stacking = stacking;
    spec.affects = {{.what = what, .adds = times > 1.0 ? std::optional(0.25) : std::nullopt, .times = times}};
    return spec;
}

Chart everything() {
    ChartSpec spec = support::bearer(support::ramp(12.0, 16.0, 10.0));
    spec.actions.push_back({.name = "dash", .buffer = 0.15});
    spec.actions.push_back({.name = "oar"});
    spec.meters[0].spent->grants = "winded";
    spec.meters[0].thresholds = {{.name = "low", .level = 25.0}};
    spec.meters[0].refill->scale = {{.by = "broth", .factors = std::vector<double>{0.5, 1.5}}};
    spec.meters.push_back({.name = "broth", .capacity = 40.0, .refill = RefillSpec{.rate = 1.0}});
    spec.cooldowns = {{.name = "dash", .seconds = 0.8, .charges = 3, .also = "any"},
                      {.name = "any", .seconds = 0.2, .begins = Begins::end}};
    spec.modifiers = {modifier("winded", 1.5, "speed", 0.6, Stacking::refresh),
                      modifier("brisk", 1.0, "cooldown.dash", 2.0, Stacking::extend),
                      modifier("tide", std::nullopt, "speed", 1.2, Stacking::count),
                      modifier("cold", 2.0, "refill.stamina", 0.5, Stacking::strongest),
                      modifier("wet", 0.7, "gain", 0.8, Stacking::separate)};
    spec.modifiers[0].fade_out = 0.4;
    spec.modifiers[2].most = 4;
    spec.modifiers[3].fade_in = 0.3;
    spec.modifiers[4].affects[0].adds.reset();
    ModifierSpec thrust = modifier("thrust", std::nullopt, "speed", 1.0, Stacking::refresh);
    thrust.affects = {{.what = "speed", .adds = 0.5}};
    thrust.while_holds = Condition{"oar on"};
    thrust.build = 0.1;
    thrust.shed = 0.15;
    thrust.most = 5;
    spec.modifiers.push_back(thrust);
    spec.blocks = {{.name = "talk", .bans = {"sprint", "dash"}},
                   {.name = "narrow", .bans = {"oar"}, .resume = Resume::held},
                   {.name = "stun", .bans = {"movement"}}};
    StateSpec dash;
    dash.name = "dash";
    dash.kind = StateKind::burst;
    dash.burst.speed = 12.0;
    dash.burst.seconds = 0.15;
    dash.cost = {{"stamina", 9.0}};
    dash.cooldown = "dash";
    dash.enter = Condition{"dash pressed"};
    spec.states.push_back(dash);
    spec.rank = {"dash", "sprint", "walk"};
    return compile(spec);
}

class Sequence {
  public:
    Sequence(const Chart& chart, unsigned seed)
        : chart_(chart), runner_(spawn(chart)), dice_{std::mt19937(seed)} {}

    /// What went wrong, or nothing.
    std::string play() {
        const unsigned steps = 10 + dice_.below(40);
        for (unsigned i = 0; i < steps && wrong_.empty(); ++i) {
            step();
        }
        end();
        return wrong_;
    }

  private:
    void expect(bool holds, const char* what) {
        if (!holds && wrong_.empty()) {
            wrong_ = fmt::format("{} at {} s", what, runner_.clock().value);
        }
    }
    std::uint8_t any(std::size_t count) {
        return static_cast<std::uint8_t>(dice_.below(static_cast<unsigned>(count)));
    }

    void step() {
        switch (dice_.below(9)) {
            case 0:
                static_cast<void>(grant(chart_, runner_, ModifierId{any(5)},
                                        {.source = any(3), .strength = dice_.between(0.1, 2.0)}));
                break;
            case 1:
                static_cast<void>(remove(chart_, runner_, ModifierId{any(5)}, any(3),
                                         dice_.chance(0.5) ? Removal::fades : Removal::at_once));
                break;
            case 2:
                last_ = any(3);
                in_force_[last_] = block(chart_, runner_, BlockId{last_});
                break;
            case 3:
                last_ = any(3);
                in_force_[last_] -= unblock(chart_, runner_, BlockId{last_}) >= 0 ? 1 : 0;
                break;
            case 4:
                static_cast<void>(try_spend(chart_, runner_, MeterId{any(2)}, dice_.between(0.0, 60.0)));
                break;
            case 5:
                static_cast<void>(grant(chart_, runner_, MeterId{any(2)}, dice_.between(0.0, 60.0)));
                break;
            case 6:
                static_cast<void>(refund(chart_, runner_, CooldownId{any(2)}, static_cast<int>(any(4))));
                break;
            case 7:
                grant_in_two_orders();
                break;
            default:
                intent_.held = dice_.below(8);
                intent_.move = {dice_.chance(0.7) ? 1.0 : 0.0, dice_.between(-1.0, 1.0)};
        }
        const unsigned ticks = dice_.below(8);
        for (unsigned i = 0; i < ticks; ++i) {
            tick(dice_.between(0.0, 0.1));
        }
    }

    void grant_in_two_orders() {
        tick(0.0);  // what was removed at once leaves its place
        Runner other = runner_;
        const ModifierId first{any(5)}, second{any(5)};
        if (first == second || count() + 2 > limits::modifiers) {
            return;
        }
        const Grant a{.source = any(3), .strength = 1.0}, b{.source = any(3), .strength = 0.5};
        static_cast<void>(grant(chart_, runner_, first, a) && grant(chart_, runner_, second, b));
        static_cast<void>(grant(chart_, other, second, b) && grant(chart_, other, first, a));
        static_cast<void>(advance(chart_, other, intent_, Seconds{0.05}));
        tick(0.05);
        expect(digest(other) == digest(runner_), "the order of granting shows");
    }
    std::size_t count() const {
        std::size_t count = 0;
        for (std::uint8_t i = 0; i < chart_.modifier_count(); ++i) {
            count += static_cast<std::size_t>(read_modifier(chart_, runner_, ModifierId{i}).stacks);
        }
        return count;
    }

    void tick(double dt) {
        const Report report = advance(chart_, runner_, intent_, Seconds{dt});
        expect(report.events_lost == 0 && !report.instants_capped, "a tick was too full");
        for (std::uint8_t i = 0; i < chart_.meter_count(); ++i) {
            const MeterReading reading = read_meter(chart_, runner_, MeterId{i});
            expect(reading.level >= 0.0 && reading.level <= chart_.capacity(MeterId{i}),
                   "a meter is out of bounds");
        }
        for (std::uint8_t i = 0; i < chart_.cooldown_count(); ++i) {
            const CooldownReading reading = read_cooldown(chart_, runner_, CooldownId{i});
            expect(reading.charges >= 0 && reading.charges <= (i == 0 ? 3 : 1), "charges are out of bounds");
            expect(reading.left.value >= 0.0 && reading.fraction >= 0.0 && reading.fraction <= 1.0,
                   "a cooldown is out of bounds");
        }
        for (std::uint8_t i = 0; i < chart_.modifier_count(); ++i) {
            const ModifierReading reading = read_modifier(chart_, runner_, ModifierId{i});
            expect(reading.strength >= 0.0 && reading.strength <= 2.55 && reading.stacks <= 15,
                   "a modifier is out of bounds");
            expect(!reading.left || reading.left->value >= 0.0, "a time is negative");
        }
        for (std::uint8_t i = 0; i < 3; ++i) {
            expect(blocked(chart_, runner_, BlockId{i}) == in_force_[i], "blocks are miscounted");
        }
        expect(std::isfinite(runner_.speed()) && runner_.speed() < 100.0, "the speed is out of bounds");
    }

    void end() {
        for (std::uint8_t i = 0; i < 5; ++i) {
            for (std::uint8_t source = 0; source < 3; ++source) {
                static_cast<void>(remove(chart_, runner_, ModifierId{i}, source));
            }
        }
        for (std::uint8_t i = 0; i < 3; ++i) {
            while (in_force_[i] > 0) {
                in_force_[i] -= unblock(chart_, runner_, BlockId{i}) >= 0 ? 1 : 0;
            }
        }
        intent_ = {};
        for (int i = 0; i < 300; ++i) {
            tick(0.1);
        }
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            expect(!runner_.on(ActionId{i}), "an action is stuck");
        }
        expect(count() == 0, "a modifier has not ended");
        expect(read_cooldown(chart_, runner_, CooldownId{0}).charges == 3, "a charge has not come back");
        expect(read_meter(chart_, runner_, MeterId{0}).level == 100.0, "stamina has not come back");
        intent_.move = {1.0, 0.0};
        for (int i = 0; i < 10; ++i) {
            tick(0.1);
        }
        expect(runner_.speed() == 2.4, "the walking speed is not the chart's");
        intent_.held = 1;
        for (int i = 0; i < 10; ++i) {
            tick(0.1);
        }
        expect(runner_.speed() == 6.5, "the sprinting speed is not the chart's");
    }

    Chart chart_;
    Runner runner_;
    Dice dice_;
    Intent intent_;
    std::array<int, 3> in_force_{};
    std::uint8_t last_ = 0;
    std::string wrong_;
};

}  // namespace

int main(int argc, char** argv) {
    const long sequences = argc > 1 ? std::atol(argv[1]) : 1000;
    const auto seed = static_cast<unsigned>(argc > 2 ? std::atol(argv[2]) : 1);
    const Chart chart = everything();
    for (long i = 0; i < sequences; ++i) {
        const auto own = seed + static_cast<unsigned>(i);
        const std::string wrong = Sequence(chart, own).play();
        if (!wrong.empty()) {
            fmt::print("sequence {}: {}; again with: random_effects 1 {}\n", i, wrong, own);
            return 1;
        }
    }
    fmt::print("{} sequences: nothing wrong\n", sequences);
    return 0;
}
