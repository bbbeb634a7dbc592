#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>
#include <optional>
#include <span>
#include <vector>

/// The last minutes of one runner, tick by tick: for turning time back, for timelines, for saving what was played.
namespace cursimeter::tryout {

/// A moment between two ticks: before tick number `value`, counted from 0 since the history began.
struct Moment {
    std::uint64_t value = 0;
    friend constexpr auto operator<=>(Moment, Moment) = default;
};

/// One tick: what it found and what was wanted.
struct PlayedTick {
    Runner before;
    Intent intent;         ///< its changes and focus live in the history, until the next call that changes it
    double at = 0.0;       ///< s from the beginning of the history to the tick's start
    double seconds = 0.0;  ///< its length
    double world_time = 0.0;  ///< s, at its start: where moving parts of the world stood
};

/// An event with its place in the history.
struct PlayedEvent {
    std::uint64_t tick = 0;
    double at = 0.0;  ///< s from the beginning of the history
    Event event{};
};

/// A ring of ticks. All memory is taken when it is made, `bytes_per_tick` for each (30 MB for two minutes at 60
/// ticks a second), and none later. The oldest ticks make room for new ones.
///
///     history.begin_tick(chart, runner, intent, dt);          // before `advance` ...
///     Report report = advance(chart, runner, intent, dt);
///     history.end_tick(runner, report);                       // ... and after it
class History {
  public:
    /// Changes of one tick's intent that are kept.
    static constexpr std::size_t most_changes = 48;
    /// Charts that are kept: with the next one the ticks of the oldest are forgotten.
    static constexpr std::size_t most_charts = 256;

    /// `length`: 1 s to an hour; `rate`: ticks a second, 10 to 1,000. Throws ChartError if one is out of range.
    History(Seconds length, double rate);

    /// `world_time`: see PlayedTick; the history's own time if it is left out. Changes beyond `most_changes` are not kept.
    void begin_tick(const Chart& chart, const Runner& runner, const Intent& intent, Seconds dt,
                    std::optional<double> world_time = std::nullopt) noexcept;
    void end_tick(const Runner& runner, const Report& report) noexcept;

    static const std::size_t bytes_per_tick;
    /// The oldest moment that is kept, and the newest: after the last tick. Equal while nothing has been played.
    [[nodiscard]] Moment first() const { return first_; }
    [[nodiscard]] Moment end() const { return end_; }
    [[nodiscard]] bool keeps(Moment moment) const { return moment >= first_ && moment <= end_; }
    /// Moments that it keeps at most.
    [[nodiscard]] std::size_t room() const { return ticks_.size() + 1; }
    [[nodiscard]] std::size_t size() const { return static_cast<std::size_t>(end_.value - first_.value); }

    /// The tick that begins at a moment from `first` to before `end`.
    [[nodiscard]] PlayedTick tick(Moment moment) const;
    /// The runner at a moment from `first` to `end`; there must have been a tick.
    [[nodiscard]] const Runner& runner(Moment moment) const;
    /// The runner as the tick that begins at a moment has left it.
    [[nodiscard]] const Runner& after(Moment moment) const { return kept(moment).after; }
    /// The chart to which the runner of a moment belongs.
    [[nodiscard]] const Chart& chart(Moment moment) const;
    /// s from the beginning of the history.
    [[nodiscard]] double time(Moment moment) const;
    /// The last moment at or before a time; the oldest for earlier ones.
    [[nodiscard]] Moment moment_at(double time) const;
    /// The first moment from which on, up to another after it, the chart is the same.
    [[nodiscard]] Moment chart_since(Moment until) const;
    /// The event with which a runner of this history came into the state that it is in, whatever was turned back since; null
    /// if none is kept: it began so, or that was too long ago.
    [[nodiscard]] const PlayedEvent* entry_of(const Runner& runner) const;

    /// Events of the ticks that are kept, oldest first; the newest 16,384 are. By number: 0 to below the count.
    [[nodiscard]] std::size_t event_count() const {
        return static_cast<std::size_t>(events_end_ - events_begin_);
    }
    [[nodiscard]] const PlayedEvent& event(std::size_t number) const;

    /// Forgets what was played after a moment: time goes on from there.
    void cut(Moment moment) noexcept;
    void clear() noexcept;

  private:
    struct Kept {
        Runner before, after;
        Intent intent;
        std::array<Change, most_changes> changes{};
        std::uint8_t change_count = 0;
        bool has_focus = false;
        Focus focus;
        double at = 0.0, seconds = 0.0, world_time = 0.0;
        std::uint64_t chart = 0;  ///< number of the chart since the history began
    };
    [[nodiscard]] Kept& kept(Moment moment) { return ticks_[moment.value % ticks_.size()]; }
    [[nodiscard]] const Kept& kept(Moment moment) const { return ticks_[moment.value % ticks_.size()]; }
    void forget_before(Moment moment) noexcept;
    void take_chart(const Chart& chart) noexcept;

    std::vector<Kept> ticks_;
    Moment first_, end_;
    double now_ = 0.0;           ///< s
    std::vector<Chart> charts_;  ///< a ring, by number
    std::uint64_t charts_end_ = 0;
    std::vector<PlayedEvent> events_;  ///< a ring
    std::uint64_t events_begin_ = 0, events_end_ = 0;
};

}  // namespace cursimeter::tryout
