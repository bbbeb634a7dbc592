#include "core/kinds/kind.hpp"
#include "core/motion/segment.hpp"

/// Kind fly: steered through space, by the state's gain.
namespace cursimeter::detail {

namespace {

void compile_fly(const Source& source, CompiledState& state) {
    state.traits.aims_in_space = true;
    CompiledFly& fly = state.fly;
    fly.by_look = source.state.fly.by_look.value_or(true);
    fly.up = source.action(source.state.fly.up, "fly.up");
    fly.down = source.action(source.state.fly.down, "fly.down");
    fly.climb = source.state.fly.climb.value_or(0.0);
    fly.dive = source.state.fly.dive.value_or(fly.climb);
    fly.sink = source.state.fly.sink.value_or(0.0);
}

void plan_fly(const ChartData& chart, RunnerState& runner) {
    plan_steered(chart, runner);
    plan_landing(chart, runner);
}

}  // namespace

const Kind fly_kind{.kind = StateKind::fly,
                    .name = "fly",
                    .needs_speed = true,
                    .wind = 1.0,
                    .compile = compile_fly,
                    .plan = plan_fly};

}  // namespace cursimeter::detail
