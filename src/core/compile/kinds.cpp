#include <fmt/format.h>

#include <algorithm>

#include "core/compile/compile.hpp"
#include "core/kinds/kind.hpp"

/// What belongs to a state's kind, and what it costs (docs/chart-reference.md lists the defaults).
namespace cursimeter::detail {

namespace {

void compile_costs(const Source& source, CompiledState& compiled) {
    const std::vector<std::string> meters = names_of(source.spec.meters);
    for (const RateSpec& cost : source.state.cost) {
        const std::string path = fmt::format("{}.cost.{}", source.path, cost.meter);
        const std::uint8_t meter = source.named(cost.meter, meters, path, "meter", 0xff);
        if (meter >= limits::meters || meter >= source.chart.meters.size()) {
            continue;
        }
        if (cost.rate > source.chart.meters[meter].capacity) {
            source.findings.add_relation(path,
                                         fmt::format("{} is more than {} can hold, {}", cost.rate, cost.meter,
                                                     source.chart.meters[meter].capacity),
                                         "the state could never be entered; let it cost less",
                                         {"meters." + cost.meter + ".capacity"});
            continue;
        }
        compiled.costs[meter] = cost.rate;
    }
}

}  // namespace

void compile_kind(const ChartSpec& spec, const StateSpec& state, ChartData& chart, CompiledState& compiled,
                  Findings& findings) {
    const Source source{spec, state, chart, findings, "states." + state.name};
    compiled.kind = state.kind.value_or(StateKind::ground);
    const Kind& kind = row_of(compiled.kind);
    compiled.low = state.low.value_or(false);
    compiled.again = state.again.value_or(false);
    compiled.wind = state.wind.value_or(kind.wind);
    compiled.slope_up = state.slope.up.value_or(1.0);
    compiled.slope_down = state.slope.down.value_or(1.0);
    compiled.air = compile_air(source);
    compiled.launch = compile_launch(source, compiled.air);
    chart.edge_gravity = std::max(
        {chart.edge_gravity, spec.body.gravity, compiled.air.rise_gravity, compiled.air.fall_gravity});
    kind.compile(source, compiled);
    compile_costs(source, compiled);
    if (state.cooldown) {
        compiled.cooldown = source.named(*state.cooldown, names_of(spec.cooldowns), source.path + ".cooldown",
                                         "cooldown", no_cooldown);
    }
    if (compiled.traits.follows_wall) {
        chart.wall_reach = std::max(chart.wall_reach, compiled.wall.reach);
    }
}

}  // namespace cursimeter::detail
