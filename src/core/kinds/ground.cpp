#include "core/kinds/kind.hpp"
#include "core/motion/segment.hpp"

/// Kind ground: steered along the ground, by the state's gain.
namespace cursimeter::detail {

namespace {

void compile_ground(const Source& /*source*/, CompiledState& state) {
    state.traits.stands = true;
}

void plan_ground(const ChartData& chart, RunnerState& runner) {
    runner.around.grounded ? plan_steered(chart, runner) : plan_thrown(chart, runner);
}

}  // namespace

const Kind ground_kind{.kind = StateKind::ground,
                       .name = "ground",
                       .needs_speed = true,
                       .compile = compile_ground,
                       .plan = plan_ground};

}  // namespace cursimeter::detail
