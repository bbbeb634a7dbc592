#pragma once

#include <cstdint>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/ids.hpp>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace cursimeter {

namespace detail {
struct ChartData;
}

/// An upright capsule; its place is that of its lowest point.
struct Capsule {
    double radius = 0.35;  ///< m
    double height = 1.8;   ///< m, at least twice the radius
};

/// Why a state was entered.
enum class CauseKind : std::uint8_t {
    start,    ///< the first state after spawning
    enter,    ///< a term of its `enter` became true
    stay,     ///< a term of the left state's `stay` became false
    follows,  ///< its `enter` held already and the state just entered leaves the way open
    blocked,  ///< a block bans what the left state needs
    forced,   ///< the game said so: `force_state`
    from,     ///< of `could_enter`: it may not follow the present state
    fails,    ///< of a refused press: the first term of its `enter` that does not hold
};

/// The cause of a state change. `term` names the term for `enter`, `stay` and `fails`, the block for `blocked`;
/// see `Chart::describe`.
struct Cause {  // without initialisers, so that a report's event table stays unwritten
    CauseKind kind;
    std::uint16_t term;
    friend bool operator==(const Cause&, const Cause&) = default;
};

/// A level that some condition compares a meter with.
struct MeterThreshold {
    double level = 0.0;
    std::string term;  ///< the first term that does: "stamina >= 10"
};

/// The immutable definition of one kind of character: a cheap handle, copied freely and read from
/// any number of threads at once. The only way to one is `compile` (or a file: cursimeter/chartfile).
class Chart {
  public:
    [[nodiscard]] const std::string& name() const;
    [[nodiscard]] std::size_t state_count() const;
    [[nodiscard]] std::size_t action_count() const;
    [[nodiscard]] std::size_t meter_count() const;
    [[nodiscard]] std::size_t cooldown_count() const;
    [[nodiscard]] std::size_t modifier_count() const;
    [[nodiscard]] std::size_t block_count() const;

    /// Names by index; throws ChartError for an id that the chart has not.
    [[nodiscard]] const std::string& name(StateId id) const;
    [[nodiscard]] const std::string& name(ActionId id) const;
    [[nodiscard]] const std::string& name(MeterId id) const;
    [[nodiscard]] const std::string& name(CooldownId id) const;
    [[nodiscard]] const std::string& name(ModifierId id) const;
    [[nodiscard]] const std::string& name(BlockId id) const;

    /// Ids by name, for set-up code. Throws ChartError that names the nearest valid name.
    [[nodiscard]] StateId state(std::string_view name) const;
    [[nodiscard]] ActionId action(std::string_view name) const;
    [[nodiscard]] MeterId meter(std::string_view name) const;
    [[nodiscard]] CooldownId cooldown(std::string_view name) const;
    [[nodiscard]] ModifierId modifier(std::string_view name) const;
    [[nodiscard]] BlockId block(std::string_view name) const;

    /// Kinds of zones that the chart tells apart, by bit of `ZoneReading::zones`.
    [[nodiscard]] const std::vector<std::string>& zones() const;
    /// The capsule in a state.
    [[nodiscard]] Capsule body(StateId id) const;
    [[nodiscard]] StateKind kind(StateId id) const;

    /// The meter's bounds and latch, in its own unit.
    [[nodiscard]] double capacity(MeterId id) const;
    [[nodiscard]] std::optional<SpentSpec> spent(MeterId id) const;
    /// The levels that conditions compare the meter with, each once, ascending.
    [[nodiscard]] std::vector<MeterThreshold> thresholds(MeterId id) const;
    /// Named thresholds of the meter, by `Event::which`.
    [[nodiscard]] const std::vector<LevelSpec>& named_levels(MeterId id) const;
    /// The action's own press mode, before any player's override.
    [[nodiscard]] PressMode press_mode(ActionId id) const;

    /// "start", "enter: sprint on", "stay failed: stamina > 0", "follows".
    [[nodiscard]] std::string describe(Cause cause) const;
    /// Path in the spec of the term behind a cause ("states.sprint.stay[2]"); empty if it has none.
    [[nodiscard]] std::string term_path(Cause cause) const;

    /// 64-bit digest of everything that shapes a run. Two charts with one digest give the same runs.
    [[nodiscard]] std::uint64_t digest() const;

    /// 32-bit digest of the names of everything that has an id, in order; never 0. Two charts with the same have the same
    /// ids, whatever their numbers are.
    [[nodiscard]] std::uint32_t naming() const;

    /// For the library's own sources; the type is not installed.
    [[nodiscard]] const detail::ChartData& data() const { return *data_; }
    explicit Chart(std::shared_ptr<const detail::ChartData> data) : data_(std::move(data)) {}
    // Copied even where it could be moved, so that no chart is ever empty.
    Chart(const Chart&) = default;
    Chart& operator=(const Chart&) = default;
    ~Chart() = default;

  private:
    std::shared_ptr<const detail::ChartData> data_;
};

/// Checks a spec and compiles it. Throws ChartError with every diagnostic. Well under a millisecond;
/// not for the tick.
[[nodiscard]] Chart compile(const ChartSpec& spec);

}  // namespace cursimeter
