#pragma once

#include <cursimeter/chart_spec.hpp>
#include <cursimeter/diagnostics.hpp>
#include <span>
#include <string>
#include <vector>

#include "core/chart/chart_data.hpp"
#include "core/chart/findings.hpp"

/// The steps of `compile`. Each collects what is wrong and goes on, so that one call finds everything.
namespace cursimeter::detail {

/// The states with `like` resolved, in the spec's order. States in a cycle stay as they are.
[[nodiscard]] std::vector<StateSpec> resolve_like(const ChartSpec& spec, Findings& findings);

/// Kinds, speeds, gains, drains and `from` of the resolved states.
void compile_states(const ChartSpec& spec, const std::vector<StateSpec>& resolved, ChartData& chart,
                    Findings& findings);

/// What belongs to a state's kind, and what it costs; the rest of the state is compiled already.
void compile_kind(const ChartSpec& spec, const StateSpec& state, ChartData& chart, CompiledState& compiled,
                  Findings& findings);

/// What surrounds the states (compile_effects.cpp).
void compile_cooldowns(const ChartSpec& spec, ChartData& chart, Findings& findings);
void compile_scales(const ChartSpec& spec, const MeterSpec& meter, CompiledMeter& compiled,
                    Findings& findings);
void compile_modifiers(const ChartSpec& spec, ChartData& chart, Findings& findings);
void compile_blocks(const ChartSpec& spec, ChartData& chart, Findings& findings);

/// Terms, clauses, marks and derived facts; also the bars that spent meters put on states.
void compile_conditions(const ChartSpec& spec, const std::vector<StateSpec>& resolved, ChartData& chart,
                        Findings& findings);

/// Lays out what is tried from each state, so that choosing is one walk along a list.
void compile_attempts(ChartData& chart);

/// What `was` says of the names before.
void check_renames(const ChartSpec& spec, Findings& findings);
/// ChartData::naming.
[[nodiscard]] std::uint32_t naming_of(const ChartData& chart);

}  // namespace cursimeter::detail
