#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/compile/compile.hpp"

/// The numbers of each kind of motion, with their defaults (docs/chart-reference.md lists them).
namespace cursimeter::detail {
namespace {

class KindCompiler {
  public:
    KindCompiler(const ChartSpec& spec, const StateSpec& state, const ChartData& chart, Findings& findings)
        : spec_(spec), state_(state), chart_(chart), findings_(findings), path_("states." + state.name) {}

    void compile(CompiledState& compiled) {
        compiled.kind = state_.kind.value_or(StateKind::ground);
        compiled.low = state_.low.value_or(false);
        compiled.again = state_.again.value_or(false);
        compiled.wind = state_.wind.value_or(compiled.kind == StateKind::fly ? 1.0 : 0.0);
        compiled.slope_up = state_.slope.up.value_or(1.0);
        compiled.slope_down = state_.slope.down.value_or(1.0);
        compiled.air = air();
        compiled.launch = launch(compiled.air);
        compiled.slide = slide();
        compiled.burst = burst(compiled);
        compiled.fly = fly();
        compiled.wall = wall();
        costs(compiled);
        if (state_.cooldown) {
            compiled.cooldown = named(*state_.cooldown, names_of(spec_.cooldowns), path_ + ".cooldown",
                                      "cooldown", no_cooldown);
        }
    }

  private:
    /// Index of a name, or `none` with a complaint.
    std::uint8_t named(const std::string& name, const std::vector<std::string>& names,
                       const std::string& path, const char* what, std::uint8_t none) {
        const auto found = std::find(names.begin(), names.end(), name);
        if (found == names.end()) {
            findings_.add(path, fmt::format("no {} is named '{}'", what, name), advise_name(name, names));
            return none;
        }
        return static_cast<std::uint8_t>(found - names.begin());
    }
    std::uint8_t action(const std::optional<std::string>& name, const char* key) {
        return name ? named(*name, names_of(spec_.actions), path_ + "." + key, "action", no_action)
                    : no_action;
    }

    CompiledAir air() const {
        const double rise = state_.air.rise_gravity.value_or(spec_.body.gravity);
        return {rise, state_.air.fall_gravity.value_or(rise), state_.air.terminal.value_or(55.0),
                state_.air.steer.value_or(0.0), state_.air.brake.value_or(0.0)};
    }

    CompiledLaunch launch(const CompiledAir& air) {
        const LaunchSpec& spec = state_.launch;
        CompiledLaunch launch;
        launch.by = action(spec.by, "launch.by");
        if (!spec.heights || spec.heights->empty()) {
            if (spec.heights || spec.least || spec.by || spec.away || spec.away_speed) {
                findings_.add(path_ + ".launch", "has no heights", "say heights = [...] in m");
            }
            return launch;
        }
        if (spec.heights->size() > limits::jumps) {
            findings_.add(path_ + ".launch.heights", fmt::format("has {} jumps", spec.heights->size()),
                          fmt::format("give up to {}", limits::jumps));
            return launch;
        }
        if (!(air.rise_gravity > 0.0)) {
            findings_.add(path_ + ".air.rise_gravity", "a jump without gravity has no height",
                          "give a gravity above 0");
            return launch;
        }
        launch.count = static_cast<std::uint8_t>(spec.heights->size());
        for (std::size_t i = 0; i < spec.heights->size(); ++i) {
            launch.speeds[i] = std::sqrt(2.0 * air.rise_gravity * std::max((*spec.heights)[i], 0.0));
        }
        const double full = spec.heights->front();
        if (spec.least && *spec.least > full) {
            findings_.add(path_ + ".launch.least",
                          fmt::format("{} is above the height {}", *spec.least, full),
                          "a jump that is cut short is the lower one");
        }
        if (spec.least && !spec.by) {
            findings_.add(path_ + ".launch.least", "no key's release cuts this jump short",
                          "say by = \"...\", the action");
        }
        if (spec.least && *spec.least > 0.0) {
            // v^2 / (2 g) is the height of a jump, so this gravity takes the same speed to `least`.
            launch.cut_gravity = air.rise_gravity * full / *spec.least;
        }
        if (spec.away) {
            const detmath::SineCosine turned = detmath::sine_cosine(spec.away->radians());
            launch.off_wall = true;
            launch.away_sine = turned.sine;
            launch.away_cosine = turned.cosine;
        }
        launch.away_speed = spec.away_speed;
        return launch;
    }

    CompiledSlide slide() const {
        return {state_.slide.boost.value_or(0.0), state_.slide.boost_limit.value_or(500.0),
                state_.slide.top.value_or(500.0), state_.slide.friction.value_or(4.0),
                state_.slide.slope.value_or(1.0) * spec_.body.gravity};
    }

    CompiledBurst burst(const CompiledState& compiled) {
        const BurstSpec& spec = state_.burst;
        CompiledBurst burst;
        if (compiled.kind != StateKind::burst) {
            return burst;
        }
        if (!spec.seconds) {
            findings_.add(path_ + ".burst", "a burst needs its seconds", "say seconds = ...");
        }
        if (spec.speed.has_value() == spec.metres.has_value()) {
            findings_.add(
                path_ + ".burst",
                spec.speed ? "speed and metres both say how far it goes" : "a burst needs a speed or metres",
                "say one of speed = ... (m/s) and metres = ...");
        }
        const std::vector<Along> along = spec.along.value_or(std::vector<Along>{Along::input, Along::facing});
        if (along.empty() || along.size() > burst.along.size()) {
            findings_.add(path_ + ".burst.along", fmt::format("has {} directions", along.size()),
                          "give one to five of input, facing, look, velocity, away");
        }
        for (std::size_t i = 0; i < std::min(along.size(), burst.along.size()); ++i) {
            burst.along[burst.along_count++] = along[i];
        }
        burst.seconds = spec.seconds.value_or(1.0);
        burst.speed = spec.speed ? *spec.speed : spec.metres.value_or(1.0) / std::max(burst.seconds, 1e-3);
        burst.after = spec.after.value_or(After::target);
        burst.gravity = spec.gravity.value_or(false) ? compiled.air.fall_gravity : 0.0;
        return burst;
    }

    CompiledFly fly() {
        CompiledFly fly;
        fly.by_look = state_.fly.by_look.value_or(true);
        fly.up = action(state_.fly.up, "fly.up");
        fly.down = action(state_.fly.down, "fly.down");
        fly.climb = state_.fly.climb.value_or(0.0);
        fly.dive = state_.fly.dive.value_or(fly.climb);
        fly.sink = state_.fly.sink.value_or(0.0);
        return fly;
    }

    CompiledWall wall() const {
        CompiledWall wall;
        wall.reach = state_.wall.reach.value_or(usual_wall_reach);
        wall.least_speed = state_.wall.least_speed.value_or(3.0);
        wall.most_sine = detmath::sine_cosine(state_.wall.most_angle.value_or(Degrees{60.0}).radians()).sine;
        wall.seconds = state_.wall.seconds.value_or(1.5);
        wall.climb = state_.wall.climb.value_or(0.0);
        wall.gravity = state_.wall.gravity.value_or(0.0);
        wall.growth = state_.wall.growth.value_or(0.0);
        return wall;
    }

    void costs(CompiledState& compiled) {
        const std::vector<std::string> meters = names_of(spec_.meters);
        for (const RateSpec& cost : state_.cost) {
            const std::string path = fmt::format("{}.cost.{}", path_, cost.meter);
            const std::uint8_t meter = named(cost.meter, meters, path, "meter", 0xff);
            if (meter >= limits::meters || meter >= chart_.meters.size()) {
                continue;
            }
            if (cost.rate > chart_.meters[meter].capacity) {
                findings_.add(path,
                              fmt::format("{} is more than {} can hold, {}", cost.rate, cost.meter,
                                          chart_.meters[meter].capacity),
                              "the state could never be entered; let it cost less");
                continue;
            }
            compiled.costs[meter] = cost.rate;
        }
    }

    const ChartSpec& spec_;
    const StateSpec& state_;
    const ChartData& chart_;
    Findings& findings_;
    std::string path_;
};

}  // namespace

void compile_kind(const ChartSpec& spec, const StateSpec& state, ChartData& chart, CompiledState& compiled,
                  Findings& findings) {
    KindCompiler(spec, state, chart, findings).compile(compiled);
    if (compiled.kind == StateKind::wall) {
        chart.wall_reach = std::max(chart.wall_reach, compiled.wall.reach);
    }
}

}  // namespace cursimeter::detail
