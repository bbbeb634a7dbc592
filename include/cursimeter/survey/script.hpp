#pragma once

#include <cursimeter/drill/drill.hpp>
#include <cursimeter/id_map.hpp>
#include <cursimeter/survey/take.hpp>
#include <optional>
#include <span>
#include <vector>

namespace cursimeter::survey {

/// What a run follows: a drill by ticks of one's choice, or a take by its own.
class Script {
  public:
    virtual ~Script() = default;

    struct Tick {
        double end = 0.0;         ///< s from the start of the run
        double seconds = 0.0;     ///< its length
        double world_time = 0.0;  ///< s, at its start: where moving parts of a course stand
        Intent intent;
    };
    /// Begins again, with the runner before the first tick.
    [[nodiscard]] virtual Runner begin(const Chart& chart) = 0;
    /// The tick that begins at a time, s from the start of the run; nothing at the end. May change the runner
    /// first, as the game did. Valid until the next call.
    [[nodiscard]] virtual std::optional<Tick> next(double begin, Runner& runner) = 0;
    /// s from the start of the run.
    [[nodiscard]] virtual double end() const = 0;
};

/// `drill` and `tick_ends` must live as long. These are in s on the drill's clock and ascend from after its begin; throws ChartError if they
/// begin before.
class DrillScript final : public Script {
  public:
    DrillScript(const Drill& drill, std::span<const double> tick_ends);
    /// From a runner that was saved: where it is, with what it has. The drill's own start does not count, and keys that the
    /// runner holds are let go.
    DrillScript(const Drill& drill, std::span<const double> tick_ends, const Runner& from);
    [[nodiscard]] Runner begin(const Chart& chart) override;
    [[nodiscard]] std::optional<Tick> next(double begin, Runner& runner) override;
    [[nodiscard]] double end() const override {
        return tick_ends_.empty() ? 0.0 : tick_ends_.back() - drill_.begin().value;
    }

  private:
    const Drill& drill_;
    std::span<const double> tick_ends_;
    std::optional<Runner> from_;
    std::size_t next_ = 0;
    std::optional<DrillPlayer> player_;
};

/// With the take's own chart exactly what happened, whatever the game did to the runner between two ticks; with
/// another, `own` names the actions of the take's, and the same keys are played from the same place. Both must live
/// as long.
class TakeScript final : public Script {
  public:
    explicit TakeScript(const Take& take, const Chart* own = nullptr) : take_(take), own_(own) {}
    /// Throws ChartError if the chart is not the take's and `own` is not either, or the fields are no runner of it.
    [[nodiscard]] Runner begin(const Chart& chart) override;
    [[nodiscard]] std::optional<Tick> next(double begin, Runner& runner) override;
    [[nodiscard]] double end() const override;

    /// The runner as the take has it after a tick, from 1; 0: before the first. Of the take's own chart.
    [[nodiscard]] Runner recorded(std::size_t tick) const;

  private:
    const Take& take_;
    const Chart* own_;
    std::size_t next_ = 0;
    std::optional<Chart> chart_;  ///< the take's
    std::optional<IdMap> ids_;    ///< to the one that is played, if it is another
    std::vector<Change> changes_;
};

}  // namespace cursimeter::survey
