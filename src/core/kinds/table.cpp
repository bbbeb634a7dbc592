#include "core/kinds/kind.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <tuple>

#include "core/motion/segment.hpp"

/// The table of kinds, and what goes through it.
namespace cursimeter::detail {
namespace {

const std::array<const Kind*, 6> table{&ground_kind, &air_kind, &slide_kind,
                                       &burst_kind,  &fly_kind, &wall_kind};
static_assert(static_cast<std::size_t>(StateKind::wall) + 1 == std::tuple_size_v<decltype(table)>);

}  // namespace

const Kind& row_of(StateKind kind) {
    return *table[static_cast<std::size_t>(kind)];
}

std::uint8_t Source::named(const std::string& name, const std::vector<std::string>& names,
                           const std::string& at, const char* what, std::uint8_t none) const {
    const auto found = std::find(names.begin(), names.end(), name);
    if (found == names.end()) {
        findings.add(at, fmt::format("no {} is named '{}'", what, name), advise_name(name, names));
        return none;
    }
    return static_cast<std::uint8_t>(found - names.begin());
}

std::uint8_t Source::action(const std::optional<std::string>& name, const char* key) const {
    return name ? named(*name, names_of(spec.actions), path + "." + key, "action", no_action) : no_action;
}

bool possible(const RunnerState& runner, const CompiledState& state) {
    const Kind& kind = row_of(state.kind);
    return kind.possible != nullptr ? kind.possible(runner, state) : can_launch(runner, state);
}

void plan_segment(const ChartData& chart, RunnerState& runner) {
    if (runner.around.crushed) {
        keep_velocity(runner);  // which is none, until there is room
        return;
    }
    row_of(chart.states[runner.state].kind).plan(chart, runner);
}

}  // namespace cursimeter::detail
