#pragma once

#include "support/random_states.hpp"

/// Random valid charts, with drills for them, in numbers as people write them: 0.1 s, 5 m/s, half of it, so that
/// times, levels and speeds coincide as they do in real charts.
namespace support {

class RandomChart : public RandomStates {
  public:
    using RandomStates::RandomStates;

    /// A chart that `compile` takes.
    [[nodiscard]] ChartSpec chart() {
        for (;;) {
            ChartSpec spec = any_chart();
            try {
                static_cast<void>(compile(spec));
                return spec;
            } catch (const ChartError&) {
                continue;  // terms that contradict each other, and the like
            }
        }
    }

    /// A chart like that with states that need a wall: running along it, jumping off it, dashing away from it. Open ground has none.
    [[nodiscard]] ChartSpec chart_with_walls() {
        for (;;) {
            ChartSpec spec = chart();
            add_wall_states(spec);
            try {
                static_cast<void>(compile(spec));
                return spec;
            } catch (const ChartError&) {
                continue;
            }
        }
    }

    /// Presses, moves and turns on a grid of times.
    [[nodiscard]] DrillSpec drill(const ChartSpec& chart, double seconds) {
        DrillSpec drill;
        drill.name = "random";
        drill.seconds = seconds;
        drill.press_seconds = one_of({0.05, 0.1, 0.02});
        const double grid = one_of({0.05, 0.1, 0.25, 1.0 / 60.0, 0.01});
        std::vector<bool> down(chart.actions.size());
        StepSpec first;
        first.move = Move{1.0, 0.0};
        drill.steps.push_back(first);
        const double mouse = chance(15) ? one_of({1.0 / 60.0, 0.008, 0.02}) : 0.0;
        double yaw = 0.0;
        for (double at = 0.0; at < seconds;) {
            const double last = at;
            at += grid * (1 + below(8));
            for (double turned = last + mouse; mouse > 0.0 && turned < std::min(at, seconds);
                 turned += mouse) {
                yaw += one_of({-2.0, -0.5, 0.1, 0.5, 1.0, 3.0});
                drill.steps.push_back({});
                drill.steps.back().at = turned;
                drill.steps.back().look = LookSpec{Degrees{yaw}, Degrees{15.0}};
            }
            if (at >= seconds) {
                break;
            }
            drill.steps.push_back(step(chart, down, at));
        }
        return drill;
    }

  private:
    StepSpec step(const ChartSpec& chart, std::vector<bool>& down, double at) {
        StepSpec step;
        step.at = at;
        for (std::size_t i = 0; i < chart.actions.size(); ++i) {
            if (chance(25)) {
                (down[i] ? step.release : step.hold).push_back(chart.actions[i].name);
                down[i] = !down[i];
            } else if (!down[i] && chance(15)) {
                step.press.push_back(chart.actions[i].name);
            }
        }
        if (chance(40)) {
            const double diagonal = std::sqrt(0.5);
            const std::vector<Move> moves{{1.0, 0.0},  {1.0, 0.0}, {1.0, 0.0},
                                          {0.0, 0.0},  {0.0, 0.0}, {0.0, 1.0},
                                          {-1.0, 0.0}, {0.5, 0.0}, {diagonal, diagonal}};
            step.move = moves[below(static_cast<unsigned>(moves.size()))];
        }
        if (chance(25)) {
            step.look = LookSpec{Degrees{45.0 * below(8)}, Degrees{15.0 * below(3)}};
        }
        return step;
    }

    /// Before all others, since what runs along a wall would mostly fall as well.
    void add_wall_states(ChartSpec& spec) {
        StateSpec along = support::state("along", speeds(), gain());
        along.kind = StateKind::wall;
        along.wall.reach = one_of({0.1, 0.35, 1.0});
        along.wall.least_speed = one_of({0.0, 1.0, 3.0});
        along.wall.most_angle = Degrees{one_of({45.0, 60.0, 89.0})};
        along.wall.seconds = one_of({0.2, 0.5, 1.0, 2.0});
        along.wall.climb = one_of({0.0, 2.0, 4.0, 8.0});
        along.wall.gravity = one_of({0.0, 5.0, 10.0});
        along.wall.growth = one_of({0.0, 5.0, 20.0});
        along.enter = Condition({any({"moving", "moving forward", "sprint on", "wall"}), "not grounded"});
        drains(along, spec.meters);
        StateSpec off = support::state("off", speeds(), gain());
        off.kind = StateKind::air;
        off.launch.heights = std::vector<double>{one_of({0.5, 1.0})};
        off.launch.away = Degrees{one_of({30.0, 45.0, 90.0})};
        off.launch.away_speed = chance(60) ? std::optional(one_of({3.0, 6.5, 10.0})) : std::nullopt;
        off.air.steer = one_of({0.0, 5.0, 10.0});
        off.enter = Condition({any({"jump pressed", "jump on", "dash pressed"}), "wall"});
        off.stay = Condition({"not grounded", any({"rise > 0", "time < 0.5"})});
        off.again = chance(30) ? std::optional(true) : std::nullopt;
        StateSpec clear = support::state("clear", speeds(), gain());
        clear.kind = StateKind::burst;
        clear.burst.seconds = one_of({0.1, 0.25});
        clear.burst.speed = one_of({8.0, 15.0});
        clear.burst.along = std::vector<Along>{Along::away, Along::input};
        clear.burst.after = chance(50) ? After::keep : After::stop;
        clear.enter = Condition({any({"dash pressed", "sprint pressed"}), any({"wall", "not grounded"})});
        drains(clear, spec.meters);
        spec.states.insert(spec.states.end(), {along, off, clear});
        spec.rank.insert(spec.rank.begin(), {"off", "clear", "along"});
    }

    ChartSpec any_chart() {
        ChartSpec spec;
        spec.name = "random";
        spec.body.gravity = one_of({10.0, 20.0, 9.81});
        spec.body.coyote = one_of({0.0, 0.1});
        for (const char* name : {"sprint", "dash", "jump"}) {
            spec.actions.push_back({.name = name, .press = chance(20) ? PressMode::toggle : PressMode::hold});
            spec.actions.back().buffer = chance(30) ? one_of({0.1, 0.05, 0.2}) : 0.0;
        }
        const unsigned meters = below(3);
        for (unsigned i = 0; i < meters; ++i) {
            spec.meters.push_back(meter(i));
        }
        if (meters == 2 && chance(40)) {
            scale(spec.meters[0], "breath");
        }
        if (meters == 2 && chance(30)) {
            scale(spec.meters[1], "stamina");
        }
        if (chance(50)) {
            spec.cooldowns.push_back({.name = "wait", .seconds = one_of({0.5, 1.0, 0.3})});
            spec.cooldowns.back().charges = chance(30) ? 2 : 1;
            spec.cooldowns.back().begins = chance(30) ? Begins::end : Begins::entry;
            spec.cooldowns.back().recharge = chance(30) ? Recharge::all : Recharge::one;
            if (chance(30)) {
                spec.cooldowns.push_back({.name = "lull", .seconds = one_of({0.2, 0.5})});
                spec.cooldowns.front().also = "lull";
            }
        }
        if (chance(40)) {
            spec.modifiers.push_back(modifier(spec, "brisk"));
        }
        if (chance(25)) {
            spec.modifiers.push_back(modifier(spec, "laden"));
        }
        spec.states.push_back(walk());
        const unsigned others = 1 + below(5);
        for (unsigned i = 0; i < others; ++i) {
            spec.states.push_back(state(spec, i));
            spec.rank.push_back(spec.states.back().name);
        }
        for (std::size_t i = spec.rank.size(); i > 1; --i) {
            std::swap(spec.rank[i - 1], spec.rank[below(static_cast<unsigned>(i))]);
        }
        spec.rank.push_back("walk");
        for (ModifierSpec& modifier : spec.modifiers) {
            if (chance(50)) {
                modifier.while_holds = condition(spec, false);
                modifier.seconds.reset();
                if (chance(30)) {
                    modifier.stacking = Stacking::count;
                    modifier.most = 3;
                    modifier.build = one_of({0.1, 0.5, 0.25});
                    modifier.shed = chance(70) ? std::optional(one_of({0.1, 0.2})) : std::nullopt;
                    modifier.first = one_of({0.0, 0.5});
                }
            }
        }
        if (spec.modifiers.size() == 2 && spec.modifiers[0].seconds && chance(50)) {
            spec.modifiers[0].then = "laden";
        }
        for (MeterSpec& meter : spec.meters) {
            follow(spec, meter);
        }
        return spec;
    }

    /// What of a meter depends on the rest of the chart.
    void follow(const ChartSpec& spec, MeterSpec& meter) {
        meter.start = chance(20) ? std::optional(meter.capacity * one_of({0.0, 0.5, 0.1})) : std::nullopt;
        if (meter.refill && chance(20)) {
            meter.refill->in = std::vector<std::string>{"walk", spec.states.back().name};
        }
        if (meter.refill && chance(20)) {
            meter.refill->when = condition(spec, false);
        }
        if (meter.spent && !spec.modifiers.empty() && chance(40)) {
            meter.spent->grants = spec.modifiers.back().name;
        }
    }

    MeterSpec meter(unsigned index) {
        MeterSpec meter;
        meter.name = index == 0 ? "stamina" : "breath";
        meter.capacity = one_of({100.0, 10.0, 60.0});
        if (chance(70)) {
            meter.refill = RefillSpec{.rate = meter.capacity * one_of({0.1, 0.2, 0.25, 0.5}),
                                      .wait = one_of({0.0, 0.5, 1.0})};
        }
        if (chance(50)) {
            meter.spent = SpentSpec{.at = 0.0, .until = meter.capacity * one_of({0.1, 0.3, 0.5})};
            meter.spent->bars = chance(80);
        }
        if (chance(40)) {
            meter.thresholds = {{.name = "low", .level = meter.capacity * one_of({0.25, 0.5})}};
        }
        return meter;
    }

    void scale(MeterSpec& meter, const char* by) {
        ScaleSpec scale;
        scale.by = by;
        scale.factors = std::vector<double>{one_of({0.5, 0.25}), one_of({1.0, 1.5})};
        if (meter.refill && chance(50)) {
            meter.refill->scale.push_back(scale);
        } else {
            meter.drain_scale.push_back(scale);
        }
    }

    ModifierSpec modifier(const ChartSpec& spec, const char* name) {
        ModifierSpec modifier;
        modifier.name = name;
        modifier.seconds = one_of({0.5, 1.0, 2.0});
        modifier.fade_in = chance(30) ? one_of({0.1, 0.2}) : 0.0;
        modifier.fade_out = chance(30) ? one_of({0.1, 0.2}) : 0.0;
        std::vector<std::string> what{"speed", "gain", "burst", "jump", "gravity", "steer", "turn"};
        if (!spec.meters.empty()) {
            what.insert(what.end(), {"drain.stamina", "refill.stamina"});
        }
        if (!spec.cooldowns.empty()) {
            what.emplace_back("cooldown.wait");
        }
        AffectSpec affect;
        affect.what = what[below(static_cast<unsigned>(what.size()))];
        switch (below(6)) {
            case 0:
                affect.adds = one_of({0.5, 1.0});
                break;
            case 1:
                affect.at_most = one_of({1.0, 3.0});
                break;
            case 2:
                affect.at_least = one_of({2.0, 4.0});
                break;
            default:
                affect.times = one_of({0.5, 1.5, 2.0});
        }
        modifier.affects = {affect};
        return modifier;
    }
};

}  // namespace support
