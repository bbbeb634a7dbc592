#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/trial.hpp>
#include <mutex>

#include "core/chart/findings.hpp"
#include "survey/expected_terms.hpp"
#include "survey/work.hpp"

namespace cursimeter::survey {
namespace {

/// The lists of terms of one expectation.
struct Lists {
    int holds = ExpectedTerms::none, never = ExpectedTerms::none, after = ExpectedTerms::none;
};

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

class Judge {
  public:
    Judge(const ChartSpec& spec, const DrillSpec& drill, const Course* course, std::span<const double> ends)
        : drill_spec_(drill), course_(course), ends_(ends), base_(compile(spec)), drill_(drill, base_) {
        check_legs();
        gather_terms();
        terms_.watch_all(spec, base_, drill_spec_, course_, ends_);
    }

    std::vector<Verdict> run() {
        std::vector<Verdict> verdicts;
        for (std::size_t i = 0; i < drill_spec_.expects.size(); ++i) {
            const ExpectSpec& expect = drill_spec_.expects[i];
            Verdict verdict;
            verdict.expect = i;
            verdict.said = said_text(expect, drill_spec_.seconds);
            !expect.leg ? judge_states(verdict, expect, lists_of_[i]) : judge_leg(verdict, expect);
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

    void gather_terms() {
        for (std::size_t i = 0; i < drill_spec_.expects.size(); ++i) {
            const ExpectSpec& expect = drill_spec_.expects[i];
            const std::string path = fmt::format("expect[{}]", i + 1);
            const std::vector<std::string> after =
                !expect.after ? std::vector<std::string>{} : std::vector<std::string>{*expect.after};
            lists_of_.push_back({terms_.add(path + ".holds", expect.holds),
                                 terms_.add(path + ".never", expect.never),
                                 terms_.add(path + ".after", after)});
        }
    }

    [[nodiscard]] Flips flips_of_state(const std::string& name) const {
        const StateId state = base_.state(name);
        Flips flips;
        for (const Visit& visit : terms_.run().visits) {
            flips.push_back({visit.at, visit.state == state});
        }
        return settled(flips);
    }
    /// All that must hold, as one: from each time on.
    [[nodiscard]] Flips all_of(const ExpectSpec& expect, const Lists& lists) const {
        std::vector<Flips> parts;
        if (expect.state) {
            parts.push_back(flips_of_state(*expect.state));
        }
        if (lists.holds != ExpectedTerms::none) {
            parts.push_back(terms_.flips_of(lists.holds));
        }
        if (lists.never != ExpectedTerms::none) {
            parts.push_back(terms_.flips_of(lists.never));
            for (Flip& flip : parts.back()) {
                flip.is_so = !flip.is_so;
            }
        }
        std::vector<double> times;
        for (const Flips& part : parts) {
            for (const Flip& flip : part) {
                times.push_back(flip.at);
            }
        }
        std::sort(times.begin(), times.end());
        Flips together;
        for (const double at : times) {
            const bool so = std::all_of(parts.begin(), parts.end(),
                                        [&](const Flips& part) { return is_so_at(part, at, 0.0); });
            if (together.empty() || together.back().is_so != so) {
                together.push_back({at, so});
            }
        }
        return together;
    }
    void judge_states(Verdict& verdict, const ExpectSpec& expect, const Lists& lists) const {
        const Flips flips = all_of(expect, lists);
        const double end = drill_spec_.seconds;
        std::optional<double> broken;
        if (expect.after) {
            const std::vector<double> begins = terms_.beginnings(lists.after);
            if (begins.empty()) {
                verdict.kept = false;
                verdict.at = end;
                verdict.instead = fmt::format("'{}' never came to hold", *expect.after);
                return;
            }
            for (const double begin : begins) {
                if (!first_time(flips, true, begin, begin + expect.within.value_or(0.0) + 2.0 * time_width)) {
                    broken = begin + expect.within.value_or(0.0);
                    break;
                }
            }
        } else if (expect.at) {
            const double until = *expect.at + expect.within.value_or(0.0);
            if (!first_time(flips, true, *expect.at, until + 2.0 * time_width)) {
                broken = until;
            }
        } else {
            broken = first_time(flips, false, expect.from.value_or(0.0), expect.to.value_or(end));
        }
        if (broken) {
            verdict.kept = false;
            verdict.at = std::min(*broken, end);
            tell(verdict, expect, lists);
        }
    }

    /// What was instead, and why: as `explain` finds it at that time.
    void tell(Verdict& verdict, const ExpectSpec& expect, const Lists& lists) const {
        std::vector<std::string> instead;
        if (expect.state) {
            const Explanation told = explained(terms_.any_chart(), verdict.at);
            if (told.state != base_.state(*expect.state)) {
                instead.push_back(base_.name(told.state));
                verdict.why = why_not(terms_.any_chart(), told, base_.state(*expect.state));
            }
        }
        for (const int list : {lists.holds, lists.never}) {
            if (list == ExpectedTerms::none) {
                continue;
            }
            const Explanation told = explained(terms_.chart_of(list), verdict.at);
            for (const StateExplanation& state : told.rank) {
                if (state.standing.state != terms_.state_of(list) || state.standing.clauses.empty()) {
                    continue;
                }
                const std::vector<TermReading>& terms = state.standing.clauses.front();
                const bool all =
                    std::all_of(terms.begin(), terms.end(), [](const TermReading& t) { return t.holds; });
                for (std::size_t k = 0; k < terms.size(); ++k) {
                    const std::string& value = state.values.front()[k];
                    if (list == lists.holds ? !terms[k].holds : all) {
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
    [[nodiscard]] Explanation explained(const Chart& chart, double at) const {
        const Drill drill(drill_spec_, chart);
        return explain(chart, drill, course_, ends_, Seconds{std::clamp(at, 0.0, ends_.back())});
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
        for (const LegTime& leg : terms_.run().legs) {
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
    ExpectedTerms terms_;
    std::vector<Lists> lists_of_;  ///< by expectation
};

}  // namespace

std::vector<Verdict> judge(const ChartSpec& chart, const DrillSpec& drill, const Course* course,
                           std::span<const double> tick_ends) {
    return Judge(chart, drill, course, tick_ends).run();
}

std::vector<Judged> judge_all(std::span<const TrialRun> runs, unsigned threads,
                              const TrialProgress& progress) {
    std::vector<Judged> judged(runs.size());
    std::mutex mutex;
    std::size_t done = 0;
    work_in_parallel(runs.size(), threads_of(threads), [&](std::size_t, std::size_t i) {
        const TrialRun& run = runs[i];
        try {
            const std::vector<double> ends = even_ticks(run.rate, Seconds{run.drill->seconds},
                                                        Seconds{run.drill->start.time.value_or(0.0)});
            judged[i].verdicts = judge(*run.chart, *run.drill, run.course, ends);
        } catch (const ChartError& error) {
            judged[i].wrong = error.diagnostics();
        }
        const std::lock_guard lock(mutex);
        ++done;
        if (progress) {
            progress(done);
        }
    });
    return judged;
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
