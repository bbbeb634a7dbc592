#pragma once

#include <cursimeter/advance.hpp>
#include <cursimeter/terrain.hpp>
#include <optional>

#include "core/chart/chart_data.hpp"

/// Trying a chart out by hand: hold this, wait for that. What it measures is exact, since ticks are cut where
/// something happens: the runner is brought to the very instant of an event.
namespace cursimeter::survey {

/// What a player does to bring a state about.
struct Recipe {
    std::uint32_t held = 0;     ///< actions that must be on
    std::uint32_t pressed = 0;  ///< actions whose press is asked for
    Move move{1.0, 0.0};
};
/// By the first clause of the state's `enter` that input can bring about.
[[nodiscard]] Recipe recipe_of(const detail::ChartData& chart, std::uint8_t state);

class Probe {
  public:
    explicit Probe(const Chart& chart, const Terrain* terrain = nullptr, const Placement& placement = {});

    Move move;
    Look look;
    std::uint32_t held = 0;

    void pass(double seconds);
    /// Goes on until an event that `wanted` accepts, and stops there; nothing if it takes longer than `seconds`.
    template <class Wanted>
    std::optional<Event> until(Wanted wanted, double seconds) {
        for (const double end = now() + seconds; now() < end - 1e-9;) {
            const Runner before = runner_;
            const Report report = tick(std::min(step, end - now()));
            for (const Event& event : report.events()) {
                if (wanted(event)) {
                    go_to(before, event.at);
                    return event;
                }
            }
        }
        return std::nullopt;
    }
    [[nodiscard]] std::optional<Event> until_event(EventKind kind, std::uint8_t subject, double seconds) {
        return until([&](const Event& event) { return event.kind == kind && event.subject == subject; },
                     seconds);
    }
    /// Until the speed keeps still at its target, or `seconds` have passed.
    void settle_speed(double seconds);
    Report tick(double seconds);
    /// The moment `at` seconds after another, with what happens at it.
    void go_to(const Runner& before, double at) {
        runner_ = before;
        tick(at);
        tick(0.0);  // what happens at a tick's end is worked at the start of the next
    }
    [[nodiscard]] Runner& runner() { return runner_; }
    [[nodiscard]] double now() const { return runner_.clock().value; }
    [[nodiscard]] const Chart& chart() const { return chart_; }

  private:
    static constexpr double step = 1.0 / 60.0;

    const Chart& chart_;
    const Terrain* terrain_;
    Runner runner_;
};

}  // namespace cursimeter::survey
