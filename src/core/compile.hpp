#pragma once

#include <cursimeter/chart_spec.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/drill.hpp>
#include <span>
#include <string>
#include <vector>

#include "core/chart_data.hpp"

/// The steps of `compile`. Each collects what is wrong and goes on, so that one call finds everything.
namespace cursimeter::detail {

/// Gathers diagnostics.
class Findings {
  public:
    void add(std::string path, std::string what, std::string mend) {
        list_.push_back({std::move(path), std::move(what), std::move(mend), {}, 0, 0});
    }
    [[nodiscard]] bool empty() const { return list_.empty(); }
    [[nodiscard]] std::size_t size() const { return list_.size(); }
    /// Forgets the findings after the first `count`.
    void shrink(std::size_t count) { list_.resize(count); }
    [[nodiscard]] std::vector<Diagnostic> take() { return std::move(list_); }

  private:
    std::vector<Diagnostic> list_;
};

/// Advice for an unknown name: the nearest of the candidates, or all of them.
[[nodiscard]] std::string advise_name(std::string_view name, const std::vector<std::string>& candidates);
template <class Named>
std::vector<std::string> names_of(const std::vector<Named>& list) {
    std::vector<std::string> names;
    names.reserve(list.size());
    for (const Named& item : list) {
        names.push_back(item.name);
    }
    return names;
}

/// Every number against its key's range, every name against the rules for names.
void check_limits(const ChartSpec& spec, Findings& findings);
void check_limits(const DrillSpec& spec, Findings& findings);

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

}  // namespace cursimeter::detail
