#pragma once

#include <random>

#include "support/bearer.hpp"

/// Playing a chart tick by tick, with calls of the game in between.
namespace support {

/// An event with the time on the runner's clock.
struct Played {
    double at = 0.0;
    Event event{};
};

class Play {
  public:
    /// Ticks of `dt` s; 0 for random lengths of 1 to 100 ms.
    explicit Play(const Chart& chart, double dt = 1.0 / 60.0)
        : chart_(chart), runner_(spawn(chart)), dt_(dt), dice_(7) {}

    Intent intent;

    /// Up to a time on the runner's clock.
    void until(double time) {
        while (time - runner_.clock().value > 1e-9) {
            const double wanted = dt_ > 0.0 ? dt_ : std::uniform_real_distribution<double>(0.001, 0.1)(dice_);
            const double begin = runner_.clock().value;
            note(begin, advance(chart_, runner_, intent, Seconds{std::min(wanted, time - begin)}));
        }
    }
    /// A tick of no length: what the game has done since the last one is taken in.
    void settle() { note(runner_.clock().value, advance(chart_, runner_, intent, Seconds{0.0})); }
    void note(double begin, const Report& report) {
        for (const Event& event : report.events()) {
            events_.push_back({begin + event.at, event});
        }
    }

    [[nodiscard]] Runner& runner() { return runner_; }
    [[nodiscard]] const std::vector<Played>& events() const { return events_; }
    [[nodiscard]] std::vector<double> times(EventKind kind) const {
        std::vector<double> times;
        for (const Played& played : events_) {
            if (played.event.kind == kind) {
                times.push_back(played.at);
            }
        }
        return times;
    }
    /// What entered last, and why: "walk: stay failed: sprint on".
    [[nodiscard]] std::string last_change() const {
        std::string text;
        for (const Played& played : events_) {
            if (played.event.kind == EventKind::entered) {
                text = subject_name(chart_, played.event) + ": " + chart_.describe(played.event.cause);
            }
        }
        return text;
    }

  private:
    Chart chart_;
    Runner runner_;
    double dt_;
    std::mt19937 dice_;
    std::vector<Played> events_;
};

/// Tick lengths at which everything must come out the same; 0 stands for random ones.
inline const std::vector<double> tick_lengths{1.0 / 20.0,  1.0 / 30.0,  1.0 / 60.0,
                                              1.0 / 144.0, 1.0 / 240.0, 0.0};

}  // namespace support
