#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/drill/drill.hpp>
#include <cursimeter/drill/sayable.hpp>
#include <limits>
#include <utility>

#include "core/chart/chart_data.hpp"
#include "core/chart/limits_check.hpp"
#include "core/chart/renamed.hpp"
#include "drill/drill_keys.hpp"

namespace cursimeter {
namespace {

/// Lays a drill's steps out for a chart.
class DrillCompiler {
  public:
    DrillCompiler(const DrillSpec& spec, const Chart& chart, detail::Findings& findings)
        : spec_(spec),
          chart_(chart.data()),
          names_(detail::names_of(chart.data().actions)),
          findings_(findings) {}

    std::vector<Change> run() {
        double last = 0.0;
        bool beyond = false;
        for (std::size_t i = 0; i < spec_.steps.size(); ++i) {
            const std::string path = fmt::format("step[{}]", i + 1);
            const double at = spec_.steps[i].at;
            const bool was_beyond = std::exchange(beyond, at > spec_.seconds);
            if (!beyond) {
                check_order(path, at, last);
            } else if (!was_beyond) {  // several in a row: the drill is too short, which is one mistake
                findings_.add(path + ".at", fmt::format("{} s lies beyond the drill's end", at),
                              fmt::format("the drill lasts `seconds` = {}", spec_.seconds));
            }
            add(path, spec_.steps[i], 0.0);
        }
        for (std::size_t i = 0; i < spec_.repeats.size(); ++i) {
            lay_out(fmt::format("repeat[{}]", i + 1), spec_.repeats[i]);
        }
        // Steps of one time keep the order of the file: single steps first, then repeats.
        std::stable_sort(changes_.begin(), changes_.end(),
                         [](const Change& a, const Change& b) { return a.at < b.at; });
        return std::move(changes_);
    }

    /// What can be said of expectations without a run. Their terms are read when they are held against one.
    void check_expectations() {
        const std::vector<std::string> states = detail::names_of(chart_.states);
        for (std::size_t i = 0; i < spec_.expects.size(); ++i) {
            const ExpectSpec& expect = spec_.expects[i];
            const std::string path = fmt::format("expect[{}]", i + 1);
            const bool of_state = expect.state || !expect.holds.empty() || !expect.never.empty();
            if (of_state == expect.leg.has_value()) {
                findings_.add_relation(
                    path, of_state ? "asks for a leg and for a state at once" : "asks for nothing",
                    "say `state`, `holds` or `never`, or `leg`");
            }
            if (expect.state && std::find(states.begin(), states.end(), *expect.state) == states.end()) {
                findings_.add(path + ".state",
                              fmt::format("the chart has no state named '{}'", *expect.state),
                              detail::advise_name(*expect.state, states));
            }
            const int ways =
                (expect.at ? 1 : 0) + (expect.from || expect.to ? 1 : 0) + (expect.after ? 1 : 0);
            if (ways > 1 || (ways > 0 && expect.leg)) {
                findings_.add_relation(path, "says in more than one way when",
                                       "say one of `at`, `from` and `to`, or `after`; of a leg none");
            }
            if (expect.within && !expect.at && !expect.after) {
                findings_.add_relation(path + ".within", "counts from nothing", "say `at` or `after` as well",
                                       {path});
            }
            if (expect.from.value_or(0.0) <= spec_.seconds &&
                expect.from.value_or(0.0) >= expect.to.value_or(spec_.seconds)) {
                findings_.add_relation(
                    path,
                    fmt::format("nothing lies between {} and {} s", expect.from.value_or(0.0),
                                expect.to.value_or(spec_.seconds)),
                    "let `from` come before `to`");
            }
            for (const auto& [key, time] :
                 {std::pair("at", expect.at), {"from", expect.from}, {"to", expect.to}}) {
                if (time && *time > spec_.seconds) {
                    findings_.add_relation(fmt::format("{}.{}", path, key),
                                           fmt::format("{} s lies beyond the drill's end", *time),
                                           fmt::format("the drill lasts `seconds` = {}", spec_.seconds),
                                           {"seconds"});
                }
            }
            if (expect.least.value_or(0.0) > expect.most.value_or(86400.0) ||
                (!expect.leg && (expect.least || expect.most))) {
                findings_.add_relation(
                    path, !expect.leg ? "bounds a time of no leg" : "asks for no time at all",
                    "`least` and `most` bound the time of a `leg`, from below and from above");
            }
        }
    }

    ActionId action(const std::string& path, const std::string& name) {
        const auto found = std::find(names_.begin(), names_.end(), name);
        if (found == names_.end()) {
            const auto now = detail::place_of_old(chart_.actions, name);
            findings_.add(
                path, fmt::format("the chart has no action named '{}'", name),
                now ? fmt::format("it is '{}' now", names_[*now]) : detail::advise_name(name, names_));
            return {};
        }
        return {static_cast<std::uint8_t>(found - names_.begin())};
    }

  private:
    static constexpr std::size_t most_moments = 1'000'000;  // a day of a step every 0.1 s
    std::size_t moments_ = 0;                               ///< steps of repeats, each pass counted

    /// Steps beyond their end are no part of the order: one mistake is told once.
    void check_order(const std::string& path, double at, double& last) {
        if (at < last) {
            findings_.add(path + ".at", fmt::format("{} s comes after a step at {} s", at, last),
                          "put the steps in order of time");
        }
        last = at;
    }

    void lay_out(const std::string& path, const RepeatSpec& repeat) {
        double last = 0.0;
        for (std::size_t k = 0; k < repeat.steps.size(); ++k) {
            const std::string step = fmt::format("{}.step[{}]", path, k + 1);
            const double at = repeat.steps[k].at;
            if (at >= repeat.every) {
                findings_.add(step + ".at", fmt::format("{} s lies beyond the pass", at),
                              fmt::format("a pass lasts `every` = {} s", repeat.every));
            } else {
                check_order(step, at, last);
            }
        }
        const double last_pass = repeat.from + (repeat.times - 1) * repeat.every;
        if (last_pass + last > spec_.seconds) {
            findings_.add(
                path, fmt::format("its last pass begins at {} s and lies beyond the drill's end", last_pass),
                fmt::format("the drill lasts `seconds` = {}", spec_.seconds));
        }
        moments_ += repeat.steps.size() * static_cast<std::size_t>(std::max(repeat.times, 0));
        if (moments_ > most_moments) {
            findings_.add(path, fmt::format("brings the drill to {} steps", moments_),
                          fmt::format("{} at most", most_moments));
            return;
        }
        for (int pass = 0; pass < repeat.times; ++pass) {
            for (std::size_t k = 0; k < repeat.steps.size(); ++k) {
                const std::size_t before = findings_.size();
                add(fmt::format("{}.step[{}]", path, k + 1), repeat.steps[k],
                    repeat.from + pass * repeat.every);
                if (pass > 0) {
                    findings_.shrink(before);  // the first pass has said it
                }
            }
        }
    }

    void add(const std::string& path, const StepSpec& step, double offset) {
        const double at =
            spec_.start.time ? sayable::later(*spec_.start.time, offset + step.at) : offset + step.at;
        keys(path + ".release", step.release,
             [&](ActionId id) { changes_.push_back(Change::release(id, at)); });
        keys(path + ".hold", step.hold, [&](ActionId id) { changes_.push_back(Change::press(id, at)); });
        keys(path + ".press", step.press, [&](ActionId id) {
            changes_.push_back(Change::press(id, at));
            changes_.push_back(Change::release(id, at + spec_.press_seconds));
        });
        if (step.move) {
            changes_.push_back(Change::move_to(*step.move, at));
        }
        if (step.look) {
            changes_.push_back(Change::look_to({step.look->yaw.radians(), step.look->pitch.radians()}, at));
        }
    }

    template <class Add>
    void keys(const std::string& path, const std::vector<std::string>& names, Add&& add_change) {
        for (std::size_t i = 0; i < names.size(); ++i) {
            add_change(action(fmt::format("{}[{}]", path, i + 1), names[i]));
        }
    }

    const DrillSpec& spec_;
    const detail::ChartData& chart_;
    std::vector<std::string> names_;
    detail::Findings& findings_;
    std::vector<Change> changes_;
};

}  // namespace

Drill::Drill(const DrillSpec& spec, const Chart& chart)
    : name_(spec.name),
      naming_(chart.naming()),
      seconds_(spec.seconds),
      begin_(spec.start.time.value_or(0.0)),
      facing_(spec.start.facing),
      start_(spec.start.place()),
      saved_text_(spec.start.runner.value_or("")),
      chart_digest_(chart.digest()) {
    detail::Findings findings;
    detail::check_limits(keys::drill_table(), spec, findings);
    if (findings.empty()) {
        DrillCompiler compiler(spec, chart, findings);
        for (std::size_t i = 0; i < spec.set_hold.size(); ++i) {
            press_modes_.emplace_back(compiler.action(fmt::format("set_hold[{}]", i + 1), spec.set_hold[i]),
                                      PressMode::hold);
        }
        for (std::size_t i = 0; i < spec.set_toggle.size(); ++i) {
            press_modes_.emplace_back(
                compiler.action(fmt::format("set_toggle[{}]", i + 1), spec.set_toggle[i]), PressMode::toggle);
        }
        changes_ = compiler.run();
        compiler.check_expectations();
        restore(spec.start, chart, findings);
    }
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
}

Placement StartSpec::place() const {
    const std::array<double, 3> at = position.value_or(std::array<double, 3>{});
    return {{at[0], at[1], at[2]}, yaw.value_or(Degrees{0.0}).radians()};
}

void Drill::restore(const StartSpec& start, const Chart& chart, detail::Findings& findings) {
    if (!start.runner) {
        return;
    }
    if (start.position || start.yaw) {
        findings.add_relation("start", "has a place, and a runner that has a place of its own",
                              "take out `position` and `yaw`, or `runner`");
        return;
    }
    try {
        saved_ = restore_runner(chart, saved_text_);
    } catch (const ChartError& error) {
        const Diagnostic& wrong = error.diagnostics().front();
        findings.add("start.runner", wrong.what, wrong.mend);
    }
}

Runner Drill::spawn(const Chart& chart) const {
    if (chart.naming() != naming_) {
        throw ChartError({{"drill",
                           fmt::format("'{}' was made for a chart with other names", name_),
                           "make it again: Drill(spec, chart)",
                           {},
                           0,
                           0}});
    }
    const bool same = chart.digest() == chart_digest_;
    Runner runner = !saved_ ? cursimeter::spawn(chart, start_)
                    : same  ? saved_->runner
                            : restore_runner(chart, saved_text_).runner;
    for (const auto& [action, mode] : press_modes_) {
        set_press_mode(runner, action, mode);
    }
    return runner;
}

void require_fresh_start(const Drill& drill) {
    if (drill.saved() || drill.begin() != Seconds{0.0}) {
        throw ChartError(
            {{"start",
              fmt::format("'{}' goes on from {}, and here runners begin at rest, at 0 s", drill.name(),
                          drill.saved() ? "a saved runner" : fmt::format("{} s", drill.begin().value)),
              "take out `runner` and `time`, and say `position`",
              {},
              0,
              0}});
    }
}

double tick_end(double rate, double begin, std::uint64_t tick) {
    const auto count = static_cast<double>(tick + 1);
    const double before = std::round(begin * rate);
    return std::fabs(begin * rate - before) < 1e-6 ? (before + count) / rate : begin + count / rate;
}

Intent empty_hands(const Runner& runner) {
    Intent hands;
    hands.look = {runner.yaw(), 0.0};
    return hands;
}

Intent hands_of(const Runner& runner) {
    const detail::RunnerState& state = detail::RunnerAccess::state(runner);
    Intent hands;
    hands.held = state.held;
    hands.move = {state.move_forward, state.move_side};
    hands.look = {state.look_yaw, state.look_pitch};
    return hands;
}

DrillPlayer::DrillPlayer(const Drill& drill, const Runner& runner) : drill_(&drill) {
    hands_ = drill.saved() ? hands_of(runner) : empty_hands(runner);
    hands_.facing = drill.facing();
    hands_.naming = drill.naming();
}

Intent DrillPlayer::intent(double begin, double end) {
    Intent intent = hands_;
    tick_changes_.clear();
    const std::span<const Change> changes = drill_->changes();
    for (; next_ < changes.size() && changes[next_].at < end; ++next_) {
        hands_.take_in(changes[next_]);
        tick_changes_.push_back(changes[next_]);
        tick_changes_.back().at = std::max(0.0, changes[next_].at - begin);
    }
    intent.changes = tick_changes_;
    return intent;
}

}  // namespace cursimeter
