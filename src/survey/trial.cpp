#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/trial.hpp>

#include "core/chart/chart_data.hpp"
#include "core/chart/findings.hpp"

/// Terms are the chart's own: they are compiled into a copy of it, each list as the `enter` of a state that nothing leads to. So
/// nothing waits for them and no run is changed, and whoever looks on a run sees them come and go like every other fact.
namespace cursimeter::survey {
namespace {

/// A time of an expectation is met to this, s.
constexpr double time_width = 1e-6;

/// A list of terms of an expectation, and the state that stands for it.
struct Probe {
    std::string path;  ///< "expect[2].holds"
    std::vector<std::string> terms;
    std::uint8_t state = 0;
};

/// The probes of one expectation: -1 where it has none.
struct Probes {
    int holds = -1, never = -1, after = -1;
};

std::string unused_name(const ChartSpec& spec, std::size_t number) {
    std::string name = fmt::format("expected_{}", number);
    while (std::any_of(spec.states.begin(), spec.states.end(),
                       [&](const StateSpec& state) { return state.name == name; })) {
        name += "_";
    }
    return name;
}

/// A copy of the chart with a state for each probe, from `first` on as many as there is room for: for states, and for what
/// `comparisons` more terms may compare. Returns how many.
std::size_t add_probes(ChartSpec& spec, std::vector<Probe>& probes, std::size_t first,
                       std::size_t comparisons) {
    std::size_t added = 0;
    while (first + added < probes.size() && spec.states.size() < limits::states) {
        Probe& probe = probes[first + added];
        if (added != 0 && probe.terms.size() > comparisons) {
            break;
        }
        comparisons -= std::min(comparisons, probe.terms.size());
        ++added;
        StateSpec state;
        state.name = unused_name(spec, spec.states.size());
        state.kind = StateKind::ground;
        state.speed.forward = 1.0;
        state.low = true;  // what is not asks for headroom besides
        state.enter = Condition(std::vector<std::vector<std::string>>{probe.terms});
        state.from = {state.name};
        probe.state = static_cast<std::uint8_t>(spec.states.size());
        spec.rank.push_back(state.name);
        spec.states.push_back(std::move(state));
    }
    return added;
}

/// Compiles the copy. What is wrong with a term is told at the expectation that says it.
Chart compile_probed(const ChartSpec& spec, const std::vector<Probe>& probes) {
    try {
        return compile(spec);
    } catch (const ChartError& error) {
        std::vector<Diagnostic> told = error.diagnostics();
        for (Diagnostic& diagnostic : told) {
            for (const Probe& probe : probes) {
                const std::string own = ", " + spec.states[probe.state].name + " possible";
                if (const std::size_t at = diagnostic.mend.find(own); at != std::string::npos) {
                    diagnostic.mend.erase(at, own.size());
                }
                if (diagnostic.path.starts_with("states." + spec.states[probe.state].name + ".enter")) {
                    // "enter[1][2]" or "enter[2]": the last number is the term's
                    const std::size_t last = diagnostic.path.rfind('[');
                    const bool of_list = probe.path.ends_with("holds") || probe.path.ends_with("never");
                    diagnostic.path =
                        probe.path +
                        (of_list && last != std::string::npos ? diagnostic.path.substr(last) : "");
                }
            }
        }
        throw ChartError(std::move(told));
    }
}

/// What is known of a probe, or a state, in a run: from each of these times on it is so, or not.
struct Turn {
    double at = 0.0;
    bool is_so = false;
};
using Turns = std::vector<Turn>;

bool is_so_at(const Turns& turns, double at) {
    bool so = false;
    for (const Turn& turn : turns) {
        if (turn.at > at + time_width) {
            break;
        }
        so = turn.is_so;
    }
    return so;
}

/// When it is first so from `from` on and before `to`; nothing if it is not.
std::optional<double> first_time(const Turns& turns, bool wanted, double from, double to) {
    if (is_so_at(turns, from) == wanted) {
        return from;
    }
    for (const Turn& turn : turns) {
        if (turn.at > from + time_width && turn.at < to - time_width && turn.is_so == wanted) {
            return turn.at;
        }
    }
    return std::nullopt;
}

std::string listed(const std::vector<std::string>& terms) {
    return fmt::format("{}", fmt::join(terms, ", "));
}

std::string what_text(const ExpectSpec& expect) {
    std::vector<std::string> parts;
    if (expect.state) {
        parts.push_back(*expect.state);
    }
    if (!expect.holds.empty()) {
        parts.push_back(listed(expect.holds));
    }
    if (!expect.never.empty()) {
        parts.push_back("never " + listed(expect.never));
    }
    return fmt::format("{}", fmt::join(parts, ", "));
}

std::string said_text(const ExpectSpec& expect, double seconds) {
    if (expect.leg) {
        std::string bounds = expect.least ? fmt::format(", in {:g} s at least", *expect.least) : "";
        bounds += expect.most ? fmt::format(", in {:g} s at most", *expect.most) : "";
        return fmt::format("leg {}{}", *expect.leg, bounds.empty() ? " finished" : bounds);
    }
    const std::string what = what_text(expect);
    if (expect.after) {
        return expect.within ? fmt::format("{} within {:g} s after {}", what, *expect.within, *expect.after)
                             : fmt::format("{} whenever {}", what, *expect.after);
    }
    if (expect.at) {
        return expect.within
                   ? fmt::format("{} within {:g} s from {:g} s on", what, *expect.within, *expect.at)
                   : fmt::format("{} at {:g} s", what, *expect.at);
    }
    return expect.from || expect.to ? fmt::format("{} from {:g} to {:g} s", what, expect.from.value_or(0.0),
                                                  expect.to.value_or(seconds))
                                    : fmt::format("{} all the time", what);
}

/// One copy of the chart with its run, watched.
struct Watched {
    Chart chart;
    std::size_t first = 0, count = 0;  ///< of the probes
    WatchedRun watched;
};

class Judge {
  public:
    Judge(const ChartSpec& spec, const DrillSpec& drill, const Course* course, std::span<const double> ends)
        : drill_spec_(drill), course_(course), ends_(ends), base_(compile(spec)), drill_(drill, base_) {
        check_legs();
        gather_probes();
        watch_all(spec);
    }

    std::vector<Verdict> run() {
        std::vector<Verdict> verdicts;
        for (std::size_t i = 0; i < drill_spec_.expects.size(); ++i) {
            const ExpectSpec& expect = drill_spec_.expects[i];
            Verdict verdict;
            verdict.expect = i;
            verdict.said = said_text(expect, drill_spec_.seconds);
            !expect.leg ? judge_states(verdict, expect, probes_of_[i]) : judge_leg(verdict, expect);
            verdicts.push_back(std::move(verdict));
        }
        return verdicts;
    }

  private:
    void check_legs() const {
        detail::Findings findings;
        std::vector<std::string> known;
        for (const LegSpec& leg : course_ != nullptr ? course_->spec().legs : std::vector<LegSpec>{}) {
            known.push_back(leg.name);
        }
        for (std::size_t i = 0; i < drill_spec_.expects.size(); ++i) {
            if (!drill_spec_.expects[i].leg) {
                continue;
            }
            const std::string& leg = *drill_spec_.expects[i].leg;
            if (std::find(known.begin(), known.end(), leg) == known.end()) {
                findings.add(fmt::format("expect[{}].leg", i + 1),
                             course_ == nullptr ? fmt::format("'{}' is a leg of no course", leg)
                                                : fmt::format("the course has no leg named '{}'", leg),
                             course_ == nullptr ? "give the course" : detail::advise_name(leg, known));
            }
        }
        if (!findings.empty()) {
            throw ChartError(findings.take());
        }
    }

    int add_probe(std::string path, std::vector<std::string> terms) {
        if (terms.empty()) {
            return -1;
        }
        probes_.push_back({std::move(path), std::move(terms)});
        return static_cast<int>(probes_.size()) - 1;
    }
    void gather_probes() {
        for (std::size_t i = 0; i < drill_spec_.expects.size(); ++i) {
            const ExpectSpec& expect = drill_spec_.expects[i];
            const std::string path = fmt::format("expect[{}]", i + 1);
            const std::vector<std::string> after =
                !expect.after ? std::vector<std::string>{} : std::vector<std::string>{*expect.after};
            probes_of_.push_back({add_probe(path + ".holds", expect.holds),
                                  add_probe(path + ".never", expect.never),
                                  add_probe(path + ".after", after)});
        }
    }

    /// Copies of the chart until every probe has its state; one copy at least, which tells of the chart's own states.
    void watch_all(const ChartSpec& spec) {
        std::size_t first = 0;
        do {
            ChartSpec probed = spec;
            const std::size_t used = base_.data().derived_facts.size();
            const std::size_t count = add_probes(probed, probes_, first, limits::derived_facts - used);
            if (count == 0 && first < probes_.size()) {
                throw ChartError({{"states",
                                   "leave no room for the terms of expectations",
                                   fmt::format("{} states at most", limits::states - 1),
                                   {},
                                   0,
                                   0}});
            }
            const std::vector<Probe> these(probes_.begin() + static_cast<std::ptrdiff_t>(first),
                                           probes_.begin() + static_cast<std::ptrdiff_t>(first + count));
            Watched next{compile_probed(probed, these), first, count, {}};
            const Drill drill(drill_spec_, next.chart);
            next.watched = watch(next.chart, drill, course_, ends_);
            runs_.push_back(std::move(next));
            first += count;
        } while (first < probes_.size());
    }
    [[nodiscard]] const Watched& run_of(int probe) const {
        for (const Watched& run : runs_) {
            if (probe < static_cast<int>(run.first + run.count)) {
                return run;
            }
        }
        return runs_.front();
    }

    [[nodiscard]] bool probe_holds(const Watched& run, int probe, const detail::Facts& facts) const {
        const detail::CompiledState& state =
            run.chart.data().states[probes_[static_cast<std::size_t>(probe)].state];
        return detail::holding_clause(run.chart.data(), state.enter, facts) != -1;
    }

    /// When the probe's terms hold, presses at their instants only; or, without a probe, when the runner is in the state.
    [[nodiscard]] Turns turns_of(int probe) const {
        const Watched& run = run_of(probe);
        Turns turns;
        for (const Moment& moment : run.watched.moments) {
            detail::Facts lasting = moment.facts;
            lasting.fixed = detail::fact::fixed_of(detail::fact::lasting_of(lasting.fixed));
            turns.push_back({moment.at, probe_holds(run, probe, lasting)});
        }
        return settled(turns);
    }
    [[nodiscard]] Turns turns_of_state(const std::string& name) const {
        const StateId state = base_.state(name);
        Turns turns;
        for (const Visit& visit : runs_.front().watched.run.visits) {
            turns.push_back({visit.at, visit.state == state});
        }
        return settled(turns);
    }
    /// Of several at one time the last is what counts.
    static Turns settled(const Turns& turns) {
        Turns kept;
        for (const Turn& turn : turns) {
            if (!kept.empty() && turn.at <= kept.back().at + 1e-12) {
                kept.back().is_so = turn.is_so;
            } else {
                kept.push_back(turn);
            }
        }
        return kept;
    }
    /// The times at which a term comes to hold, presses as well.
    [[nodiscard]] std::vector<double> beginnings(int probe) const {
        const Watched& run = run_of(probe);
        std::vector<double> times;
        bool before = false;
        for (const Moment& moment : run.watched.moments) {
            const bool now = probe_holds(run, probe, moment.facts);
            if (now && !before && (times.empty() || moment.at > times.back() + time_width)) {
                times.push_back(moment.at);
            }
            detail::Facts lasting = moment.facts;
            lasting.fixed = detail::fact::fixed_of(detail::fact::lasting_of(lasting.fixed));
            before = probe_holds(run, probe, lasting);
        }
        return times;
    }

    /// All that must hold, as one: from each time on.
    [[nodiscard]] Turns all_of(const ExpectSpec& expect, const Probes& probes) const {
        std::vector<Turns> parts;
        if (expect.state) {
            parts.push_back(turns_of_state(*expect.state));
        }
        if (probes.holds >= 0) {
            parts.push_back(turns_of(probes.holds));
        }
        if (probes.never >= 0) {
            parts.push_back(turns_of(probes.never));
            for (Turn& turn : parts.back()) {
                turn.is_so = !turn.is_so;
            }
        }
        std::vector<double> times;
        for (const Turns& part : parts) {
            for (const Turn& turn : part) {
                times.push_back(turn.at);
            }
        }
        std::sort(times.begin(), times.end());
        Turns together;
        for (const double at : times) {
            const bool so = std::all_of(parts.begin(), parts.end(),
                                        [&](const Turns& part) { return exactly_at(part, at); });
            if (together.empty() || together.back().is_so != so) {
                together.push_back({at, so});
            }
        }
        return together;
    }
    static bool exactly_at(const Turns& turns, double at) {
        bool so = false;
        for (const Turn& turn : turns) {
            if (turn.at > at) {
                break;
            }
            so = turn.is_so;
        }
        return so;
    }

    void judge_states(Verdict& verdict, const ExpectSpec& expect, const Probes& probes) const {
        const Turns turns = all_of(expect, probes);
        const double end = drill_spec_.seconds;
        std::optional<double> broken;
        if (expect.after) {
            const std::vector<double> begins = beginnings(probes.after);
            if (begins.empty()) {
                verdict.kept = false;
                verdict.at = end;
                verdict.instead = fmt::format("'{}' never came to hold", *expect.after);
                return;
            }
            for (const double begin : begins) {
                if (!first_time(turns, true, begin, begin + expect.within.value_or(0.0) + 2.0 * time_width)) {
                    broken = begin + expect.within.value_or(0.0);
                    break;
                }
            }
        } else if (expect.at) {
            const double until = *expect.at + expect.within.value_or(0.0);
            if (!first_time(turns, true, *expect.at, until + 2.0 * time_width)) {
                broken = until;
            }
        } else {
            broken = first_time(turns, false, expect.from.value_or(0.0), expect.to.value_or(end));
        }
        if (broken) {
            verdict.kept = false;
            verdict.at = std::min(*broken, end);
            tell(verdict, expect, probes);
        }
    }

    /// What was instead, and why: as `explain` finds it at that time.
    void tell(Verdict& verdict, const ExpectSpec& expect, const Probes& probes) const {
        std::vector<std::string> instead;
        if (expect.state) {
            const Explanation told = explained(runs_.front(), verdict.at);
            if (told.state != base_.state(*expect.state)) {
                instead.push_back(base_.name(told.state));
                verdict.why = why_not(runs_.front().chart, told, base_.state(*expect.state));
            }
        }
        for (const int probe : {probes.holds, probes.never}) {
            if (probe < 0) {
                continue;
            }
            const Watched& run = run_of(probe);
            const Explanation told = explained(run, verdict.at);
            for (const StateExplanation& state : told.rank) {
                if (state.standing.state.index != probes_[static_cast<std::size_t>(probe)].state ||
                    state.standing.clauses.empty()) {
                    continue;
                }
                const std::vector<TermReading>& terms = state.standing.clauses.front();
                const bool all =
                    std::all_of(terms.begin(), terms.end(), [](const TermReading& t) { return t.holds; });
                for (std::size_t k = 0; k < terms.size(); ++k) {
                    const std::string& value = state.values.front()[k];
                    if (probe == probes.holds ? !terms[k].holds : all) {
                        const bool negated = terms[k].text.starts_with("not ");
                        const std::string plain = terms[k].holds ? terms[k].text
                                                  : negated      ? terms[k].text.substr(4)
                                                                 : "not " + terms[k].text;
                        instead.push_back(value.empty() ? plain : value);
                    }
                }
            }
        }
        verdict.instead = listed(instead);
    }
    [[nodiscard]] Explanation explained(const Watched& run, double at) const {
        const Drill drill(drill_spec_, run.chart);
        return explain(run.chart, drill, course_, ends_, Seconds{std::clamp(at, 0.0, ends_.back())});
    }
    /// "sprint: no: stamina >= 10 does not hold (stamina 7.3)"; where nothing keeps the state out but the one that came, by what
    /// that came.
    static std::string why_not(const Chart& chart, const Explanation& told, StateId wanted) {
        for (const StateExplanation& state : told.rank) {
            const StandingKind kind = state.standing.kind;
            if (state.standing.state != wanted || kind == StandingKind::outranked ||
                kind == StandingKind::held_back) {
                continue;
            }
            return fmt::format("{}: {}{}", chart.name(wanted), describe(chart, state.standing, told.state),
                               failing_value(state));
        }
        return fmt::format("{}: {}", chart.name(told.state), chart.describe(told.cause));
    }
    static std::string failing_value(const StateExplanation& state) {
        for (std::size_t i = 0; state.standing.failing && i < state.values.size(); ++i) {
            for (std::size_t k = 0; k < state.values[i].size(); ++k) {
                const bool failing = state.standing.clauses[i][k].term == state.standing.failing->term;
                if (failing && !state.values[i][k].empty()) {
                    return fmt::format(" ({})", state.values[i][k]);
                }
            }
        }
        return "";
    }

    void judge_leg(Verdict& verdict, const ExpectSpec& expect) const {
        for (const LegTime& leg : runs_.front().watched.run.legs) {
            if (leg.name != *expect.leg) {
                continue;
            }
            const double seconds = leg.ended - leg.begun;
            verdict.kept = std::isfinite(seconds) && seconds >= expect.least.value_or(0.0) - time_width &&
                           seconds <= expect.most.value_or(1e300) + time_width;
            verdict.at = verdict.kept ? 0.0 : std::nan("");
            verdict.instead = verdict.kept             ? ""
                              : std::isfinite(seconds) ? fmt::format("{:.3f} s", seconds)
                              : std::isfinite(leg.begun)
                                  ? fmt::format("begun at {:.3f} s and not finished", leg.begun)
                                  : "not begun";
        }
    }

    const DrillSpec& drill_spec_;
    const Course* course_;
    std::span<const double> ends_;
    Chart base_;
    Drill drill_;
    std::vector<Probe> probes_;
    std::vector<Probes> probes_of_;  ///< by expectation
    std::vector<Watched> runs_;
};

}  // namespace

std::vector<Verdict> judge(const ChartSpec& chart, const DrillSpec& drill, const Course* course,
                           std::span<const double> tick_ends) {
    return Judge(chart, drill, course, tick_ends).run();
}

std::vector<ExpectSpec> propose_expectations(const ChartSpec& spec, const DrillSpec& drill_spec,
                                             const Course* course, std::span<const double> tick_ends) {
    constexpr double shortest = 0.2;  // s
    const Chart chart = compile(spec);
    const Drill drill(drill_spec, chart);
    const Run run = course != nullptr ? survey::run(chart, drill, *course, tick_ends, false)
                                      : survey::run(chart, drill, tick_ends, false);
    std::vector<ExpectSpec> proposed;
    for (const Visit& visit : run.visits) {
        const double middle = std::round((visit.at + 0.5 * visit.seconds) * 100.0) / 100.0;
        if (visit.seconds >= shortest && middle <= drill_spec.seconds) {
            ExpectSpec expect;
            expect.state = chart.name(visit.state);
            expect.at = middle;
            proposed.push_back(std::move(expect));
        }
    }
    for (const LegTime& leg : run.legs) {
        const double seconds = leg.ended - leg.begun;
        if (std::isfinite(seconds)) {
            ExpectSpec expect;
            expect.leg = leg.name;
            expect.most = std::ceil(seconds * 10.0 + 1e-9) / 10.0;
            proposed.push_back(std::move(expect));
        }
    }
    return proposed;
}

}  // namespace cursimeter::survey
