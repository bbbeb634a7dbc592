#pragma once

#include <array>
#include <string_view>

#include "core/chart/chart_data.hpp"
#include "core/chart/findings.hpp"
#include "core/runner/instant.hpp"

/// A kind of state is one file of this folder and one row of the table in table.cpp.
namespace cursimeter::detail {

/// What a state's numbers are read from.
struct Source {
    const ChartSpec& spec;
    const StateSpec& state;
    const ChartData& chart;
    Findings& findings;
    std::string path;  ///< of the state

    /// Index of a name, or `none` with a complaint.
    [[nodiscard]] std::uint8_t named(const std::string& name, const std::vector<std::string>& names,
                                     const std::string& at, const char* what, std::uint8_t none) const;
    /// Index of the action that a key names.
    [[nodiscard]] std::uint8_t action(const std::optional<std::string>& name, const char* key) const;
};

struct Kind {
    StateKind kind = StateKind::ground;
    std::string_view name;
    bool needs_speed = false;  ///< its chart must say a forward speed
    double wind = 0.0;         ///< part of the zones' wind that carries it, if its chart says no other
    /// Fills in the kind's numbers and traits; the state's gravities are there already.
    void (*compile)(const Source& source, CompiledState& state) = nullptr;
    /// Whether what the kind needs is at hand; nothing: it needs nothing.
    bool (*possible)(const RunnerState& runner, const CompiledState& state) = nullptr;
    /// What entering does, once it is paid for; nothing: nothing.
    void (*enter)(Instant& instant, const CompiledState& state) = nullptr;
    /// Chooses the next segment.
    void (*plan)(const ChartData& chart, RunnerState& runner) = nullptr;
};

/// The rows, each where its kind's number says.
[[nodiscard]] const Kind& row_of(StateKind kind);

extern const Kind ground_kind, air_kind, slide_kind, burst_kind, fly_kind, wall_kind;

/// Gravities and steering in the air, of any kind.
[[nodiscard]] CompiledAir compile_air(const Source& source);
/// A segment through the air, which every kind has that has lost the ground.
void plan_thrown(const ChartData& chart, RunnerState& runner);

/// The jump on entry that a state of any kind can have.
[[nodiscard]] CompiledLaunch compile_launch(const Source& source, const CompiledAir& air);
void launch(Instant& instant, const CompiledState& state);
/// Whether a jump is left, or a wall to jump off.
[[nodiscard]] bool can_launch(const RunnerState& runner, const CompiledState& state);

/// The velocity along the wall at hand, level.
[[nodiscard]] glm::dvec2 along_wall(const RunnerState& runner);

/// Whether what the state needs by its nature is there.
[[nodiscard]] bool possible(const RunnerState& runner, const CompiledState& state);

}  // namespace cursimeter::detail
