#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/check.hpp>
#include <cursimeter/survey/run.hpp>
#include <functional>

#include "survey/probe.hpp"

/// Drills that show a finding: the first of a family, shortest first, whose run shows it, cut off where it has.
namespace cursimeter::survey {
namespace {

/// When a run has shown the finding, s; nothing if it has not.
using Shows = std::function<std::optional<double>(const Run&)>;

std::optional<double> flickers(const Run& run, const std::vector<StateId>& ring) {
    constexpr std::size_t times = 6;
    constexpr double within = 0.2;
    std::vector<double> entries;
    for (const Visit& visit : run.visits) {
        if (std::find(ring.begin(), ring.end(), visit.state) == ring.end() || visit.at <= 0.0) {
            continue;
        }
        entries.push_back(visit.at);
        if (entries.size() >= times && entries.back() - entries[entries.size() - times] < within) {
            return visit.at;
        }
    }
    return std::nullopt;
}

std::optional<double> first_event(const Run& run, EventKind kind, std::uint8_t subject) {
    for (const TimedEvent& event : run.events) {
        if (event.event.kind == kind && event.event.subject == subject) {
            return event.at;
        }
    }
    return std::nullopt;
}

/// The state was entered, and not again in the last minute although it was asked for all along.
std::optional<double> shut_out(const Run& run, StateId state) {
    double last = -1.0;
    for (const Visit& visit : run.visits) {
        last = visit.state == state ? visit.at + visit.seconds : last;
    }
    return last >= 0.0 && run.seconds - last >= 60.0 ? std::optional(last + 60.0) : std::nullopt;
}

std::optional<double> stays_in(const Run& run, StateId state) {
    const Visit& last = run.visits.back();
    return last.state == state && last.seconds >= 10.0 ? std::optional(last.at + 10.0) : std::nullopt;
}

/// A visit of no length: left in the instant in which it was entered.
std::optional<double> visited_for_nothing(const Run& run, StateId state) {
    for (std::size_t i = 0; i + 1 < run.visits.size(); ++i) {
        if (run.visits[i].state == state && run.visits[i].at > 0.0 && run.visits[i].seconds < 1e-6) {
            return run.visits[i].at;
        }
    }
    return std::nullopt;
}

class Prover {
  public:
    explicit Prover(const ChartSpec& spec) : chart_(compile(spec)) {}

    void prove(Finding& finding) {
        std::vector<StateId> states;
        for (const std::string& name : finding.states) {
            states.push_back(chart_.state(name));
        }
        switch (finding.kind) {
            case FindingKind::flicker:
                attempt(
                    finding, states, [&](const Run& run) { return flickers(run, states); },
                    "the states change six times within 0.2 s");
                break;
            case FindingKind::left_at_once:
                attempt(
                    finding, states, [&](const Run& run) { return visited_for_nothing(run, states[0]); },
                    fmt::format("{} is entered and left at one instant", finding.states[0]));
                break;
            case FindingKind::never_left:
                attempt(
                    finding, states, [&](const Run& run) { return stays_in(run, states[0]); },
                    fmt::format("{} goes on whatever key is pressed", finding.states[0]));
                break;
            case FindingKind::never_entered:
            case FindingKind::hidden:
                attempt(
                    finding, states,
                    [&](const Run& run) { return first_event(run, EventKind::refused, states[0].index); },
                    fmt::format("a press that asks for {} is refused", finding.states[0]));
                break;
            case FindingKind::never_refills:
            case FindingKind::latch_never_opens:
                attempt(
                    finding, states, [&](const Run& run) { return shut_out(run, states[0]); },
                    fmt::format("{} is asked for and not entered for a minute", finding.states[0]));
                break;
            case FindingKind::short_cooldown:
                attempt(
                    finding, states, [&](const Run& run) { return ready_during(run, states[0]); },
                    fmt::format("the cooldown is over while {} still lasts", finding.states[0]));
                break;
            case FindingKind::never_true:
            case FindingKind::always_true:
            case FindingKind::contradiction:
            case FindingKind::needless:
            case FindingKind::piles_up:
            case FindingKind::endless:
            case FindingKind::unused:
            case FindingKind::implausible:
                break;
        }
    }

  private:
    std::optional<double> ready_during(const Run& run, StateId state) const {
        const std::uint8_t cooldown = chart_.data().states[state.index].cooldown;
        for (const TimedEvent& event : run.events) {
            for (const Visit& visit : run.visits) {
                const bool during =
                    visit.state == state && event.at > visit.at && event.at <= visit.at + visit.seconds;
                if (during && event.event.kind == EventKind::ready && event.event.subject == cooldown) {
                    return event.at;
                }
            }
        }
        return std::nullopt;
    }

    [[nodiscard]] std::vector<std::string> names_of(std::uint32_t actions) const {
        std::vector<std::string> names;
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            if ((actions >> i & 1U) != 0) {
                names.push_back(chart_.name(ActionId{i}));
            }
        }
        return names;
    }

    /// Asks for a state from 0.5 s on: keys held, or pressed again and again.
    [[nodiscard]] DrillSpec asking_for(std::uint8_t state, double seconds, bool hammer,
                                       bool try_all_keys) const {
        const Recipe recipe = recipe_of(chart_.data(), state);
        DrillSpec drill;
        drill.name = "proof";
        drill.seconds = seconds;
        drill.set_hold = names_of(~0U);  // on means held, whatever the chart's own mode
        StepSpec begin;
        begin.at = 0.5;
        begin.move = recipe.move;
        begin.hold = names_of(recipe.held);
        if (!hammer) {
            begin.press = names_of(recipe.pressed);
        }
        drill.steps.push_back(begin);
        if (hammer && recipe.pressed != 0) {
            RepeatSpec repeat;
            repeat.from = 1.0;
            repeat.every = 0.5;
            repeat.times = static_cast<int>((seconds - 1.0) / 0.5);
            StepSpec press;
            press.press = names_of(recipe.pressed);
            repeat.steps = {press};
            drill.repeats.push_back(repeat);
        }
        if (try_all_keys) {
            double at = 2.0;
            for (const std::string& key : names_of(~recipe.held)) {
                StepSpec press;
                press.at = at;
                press.press = {key};
                drill.steps.push_back(press);
                at += 0.5;
            }
            for (const Move move : {Move{}, Move{-1.0, 0.0}, Move{0.0, 1.0}, Move{1.0, 0.0}}) {
                StepSpec turn;
                turn.at = at;
                turn.move = move;
                drill.steps.push_back(turn);
                at += 0.5;
            }
        }
        return drill;
    }

    void attempt(Finding& finding, const std::vector<StateId>& states, const Shows& shows,
                 const std::string& shown) {
        std::optional<DrillSpec> best;
        for (const double seconds : {3.0, 20.0, 150.0}) {
            for (const StateId state : states) {
                for (const bool hammer : {false, true}) {
                    const DrillSpec drill = shortened(
                        asking_for(state.index, seconds, hammer, finding.kind == FindingKind::never_left),
                        seconds);
                    const std::optional<double> at = shows(run_of(drill));
                    if (!at || (best && best->seconds <= *at)) {
                        continue;
                    }
                    DrillSpec cut =
                        shortened(drill, std::min(drill.seconds, std::ceil(*at * 10.0 + 0.5) / 10.0));
                    if (shows(run_of(cut))) {
                        best = std::move(cut);
                    }
                }
            }
            if (best) {
                finding.proof = std::move(best);
                finding.proof->name = fmt::format("proof: {}", to_string(finding.kind));
                finding.shown = shown;
                return;
            }
        }
    }

    static DrillSpec shortened(DrillSpec drill, double seconds) {
        drill.seconds = seconds;
        std::erase_if(drill.steps, [&](const StepSpec& step) { return step.at >= seconds; });
        for (RepeatSpec& repeat : drill.repeats) {
            repeat.times = std::clamp(static_cast<int>(std::ceil((seconds - repeat.from) / repeat.every)), 1,
                                      repeat.times);
        }
        std::erase_if(drill.repeats, [&](const RepeatSpec& repeat) { return repeat.from >= seconds; });
        return drill;
    }

    [[nodiscard]] Run run_of(const DrillSpec& spec) const {
        const Drill drill(spec, chart_);
        return run(chart_, drill, even_ticks(60.0, drill.length()), false);
    }

    Chart chart_;
};

}  // namespace

void prove(const ChartSpec& spec, std::vector<Finding>& findings) {
    Prover prover(spec);
    for (Finding& finding : findings) {
        prover.prove(finding);
    }
}

}  // namespace cursimeter::survey
