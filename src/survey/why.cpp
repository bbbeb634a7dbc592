#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/why.hpp>

#include "core/chart/facts.hpp"
#include "survey/run_watched.hpp"

namespace cursimeter::survey {
namespace {

namespace fact = detail::fact;

TermReading read_term(const detail::ChartData& chart, std::uint16_t index, const detail::Facts& facts) {
    const detail::Term& term = chart.terms[index];
    return {index, term.text, term.path, term.holds(facts), term.is_momentary()};
}

std::vector<std::vector<TermReading>> read_clauses(const detail::ChartData& chart,
                                                   const detail::CompiledCondition& condition,
                                                   const detail::Facts& facts) {
    std::vector<std::vector<TermReading>> clauses;
    for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
        const detail::Clause& clause = chart.clauses[static_cast<std::size_t>(condition.first_clause) + i];
        std::vector<TermReading>& terms = clauses.emplace_back();
        for (std::uint16_t k = 0; k < clause.term_count; ++k) {
            terms.push_back(read_term(chart, static_cast<std::uint16_t>(clause.first_term + k), facts));
        }
    }
    return clauses;
}

std::ptrdiff_t failing_count(const std::vector<TermReading>& terms) {
    return std::count_if(terms.begin(), terms.end(), [](const TermReading& term) { return !term.holds; });
}

Moment moment_of(const detail::Choosing& made) {
    return {made.clock,       StateId{made.state},        made.now,           made.barred,
            made.bans.states, StateId{made.choice.state}, made.choice.change, made.choice.cause};
}

/// The state that a runner would be in: the core's own choice, asked with these facts.
detail::Choice chosen(const Chart& chart, const Moment& moment) {
    detail::RunnerState runner;
    runner.state = moment.state.index;
    return detail::choose(chart.data(), runner, moment.facts, moment.facts, moment.held_back,
                          {0, moment.banned, false});
}

}  // namespace

Standing standing(const Chart& chart, const Moment& moment, StateId state) {
    const detail::ChartData& data = chart.data();
    const detail::CompiledState& asked = data.states[state.index];
    Standing found;
    found.state = state;
    found.by_stay = state == moment.state;
    found.clauses = read_clauses(data, found.by_stay ? asked.stay : asked.enter, moment.facts);
    const StateId choice{chosen(chart, moment).state};
    if (choice == state) {
        found.kind = StandingKind::taken;
        return found;
    }
    if ((moment.banned >> state.index & 1U) != 0) {
        found.kind = StandingKind::banned;
        return found;
    }
    if (!found.by_stay && (asked.from >> moment.state.index & 1U) == 0) {
        found.kind = StandingKind::after;
        return found;
    }
    const auto nearest =
        std::min_element(found.clauses.begin(), found.clauses.end(),
                         [](const auto& a, const auto& b) { return failing_count(a) < failing_count(b); });
    if (nearest != found.clauses.end() && failing_count(*nearest) > 0) {
        found.failing = *std::find_if(nearest->begin(), nearest->end(),
                                      [](const TermReading& term) { return !term.holds; });
        return found;
    }
    found.first = choice;
    found.kind = !found.by_stay && (moment.held_back >> state.index & 1U) != 0 ? StandingKind::held_back
                                                                               : StandingKind::outranked;
    return found;
}

std::string describe(const Chart& chart, const Standing& standing, StateId current) {
    switch (standing.kind) {
        case StandingKind::taken:
            return "taken";
        case StandingKind::fails:
            return fmt::format("no: {} does not hold",
                               standing.failing ? standing.failing->text : "its condition");
        case StandingKind::after:
            return fmt::format("no: its `from` does not list {}", chart.name(current));
        case StandingKind::banned:
            return "no: a block bans it";
        case StandingKind::outranked:
            return fmt::format("no: it could be, but {} comes first", chart.name(standing.first));
        case StandingKind::held_back:
            return "no: it was left less than 10 ms ago, and nothing from outside has changed since";
    }
    return "";
}

Moment suppose(const Chart& chart, Moment moment, std::uint16_t term, bool holds) {
    const detail::Term& supposed = chart.data().terms.at(term);
    supposed.set(moment.facts, holds != supposed.negated);
    return moment;
}

WatchedRun watch(const Chart& chart, const Drill& drill, const Course* course,
                 std::span<const double> tick_ends, bool keep_samples) {
    DrillScript script(drill, tick_ends);
    return watch(chart, script, course, keep_samples);
}

WatchedRun watch(const Chart& chart, Script& script, const Course* course, bool keep_samples) {
    WatchedRun watched;
    TickWatch watching;
    watching.choices.to = &watched.moments;
    watching.choices.tell = [](void* to, const detail::Choosing& made) {
        auto& moments = *static_cast<std::vector<Moment>*>(to);
        const Moment moment = moment_of(made);
        const bool news = moments.empty() || moment.changed || moments.back().changed ||
                          moments.back().facts != moment.facts || moments.back().banned != moment.banned ||
                          moments.back().held_back != moment.held_back;
        if (news) {
            moments.push_back(moment);
        }
    };
    watched.run = run_watched(chart, script, course, keep_samples, watching);
    return watched;
}

bool is_by_hand(const Chart& chart, const Cause& cause) {
    const bool has_term =
        cause.kind == CauseKind::enter || cause.kind == CauseKind::stay || cause.kind == CauseKind::fails;
    if (!has_term || cause.term >= chart.data().terms.size()) {
        return false;
    }
    const detail::Term& term = chart.data().terms[cause.term];
    return !term.derived && (term.bit <= fact::moving_backward || fact::is_momentary(term.bit));
}

std::string read_term_value(const Chart& chart, const Runner& runner, std::uint16_t term) {
    const detail::Term& asked = chart.data().terms.at(term);
    if (!asked.derived || asked.bit >= chart.data().derived_facts.size()) {
        return {};
    }
    const detail::DerivedFact& derived = chart.data().derived_facts[asked.bit];
    switch (derived.quantity) {
        case detail::Quantity::meter: {
            const MeterId meter{derived.index};
            return fmt::format("{} {:.4g}", chart.name(meter), read_meter(chart, runner, meter).level);
        }
        case detail::Quantity::latch: {
            const MeterId meter{derived.index};
            return fmt::format("{} {:.4g}, latch opens at {:g}", chart.name(meter),
                               read_meter(chart, runner, meter).level,
                               chart.data().meters[derived.index].spent->until);
        }
        case detail::Quantity::speed:
            return fmt::format("speed {:.4g} m/s", runner.speed());
        case detail::Quantity::rise:
            return fmt::format("rise {:.4g} m/s", runner.velocity().z);
        case detail::Quantity::time:
            return fmt::format("time {:.4g} s", runner.time_in_state().value);
        case detail::Quantity::ready: {
            const double left = cooldown_left(chart, runner, CooldownId{derived.index}).value;
            return left > 0.0 ? fmt::format("ready in {:.4g} s", left) : std::string();
        }
        case detail::Quantity::possible:
        case detail::Quantity::active:
            break;
    }
    return {};
}

namespace {

/// The moments' facts hold from one to the next; presses do not.
bool holds_from(const Chart& chart, const Moment& moment, std::uint16_t term) {
    return chart.data().terms[term].holds(moment.facts);
}

Stretch stretch_of(const Chart& chart, const std::vector<Moment>& moments, std::size_t index,
                   const TermReading& term) {
    Stretch stretch{0.0, std::nan("")};
    for (std::size_t i = index + 1; i-- > 0;) {
        if (holds_from(chart, moments[i], term.term) != term.holds) {
            break;
        }
        stretch.since = i == 0 ? 0.0 : moments[i].at;
    }
    for (std::size_t i = index + 1; i < moments.size(); ++i) {
        if (holds_from(chart, moments[i], term.term) != term.holds) {
            stretch.until = moments[i].at;
            break;
        }
    }
    return stretch;
}

}  // namespace

Explanation explain(const Chart& chart, const Drill& drill, const Course* course,
                    std::span<const double> tick_ends, Seconds at) {
    DrillScript script(drill, tick_ends);
    return explain(chart, script, course, at);
}

namespace {

StateExplanation stand_and_read(const Chart& chart, const Moment& moment, const Runner& runner,
                                StateId state) {
    StateExplanation told;
    told.standing = standing(chart, moment, state);
    for (const std::vector<TermReading>& clause : told.standing.clauses) {
        std::vector<std::string>& values = told.values.emplace_back();
        for (const TermReading& term : clause) {
            values.push_back(read_term_value(chart, runner, term.term));
        }
    }
    return told;
}

}  // namespace

std::vector<StateExplanation> read_rank(const Chart& chart, const Runner& runner) {
    std::vector<StateExplanation> rank;
    Moment moment;
    detail::look_on_now(chart, runner, {&moment, [](void* to, const detail::Choosing& made) {
                                            *static_cast<Moment*>(to) = moment_of(made);
                                        }});
    for (const std::uint8_t state : chart.data().rank) {
        rank.push_back(stand_and_read(chart, moment, runner, StateId{state}));
    }
    return rank;
}

Explanation explain(const Chart& chart, Script& script, const Course* course, Seconds at) {
    const double end = script.end();
    if (!(at.value >= 0.0 && at.value <= end)) {
        throw ChartError({{"at",
                           fmt::format("{} s is outside the run", at.value),
                           fmt::format("give 0 to {:g}", end),
                           {},
                           0,
                           0}});
    }
    const WatchedRun watched = watch(chart, script, course);
    // The runner at the very time, by ticks up to there.
    const Run until = run_watched(chart, script, course, false, {}, at.value);

    constexpr double width = 1e-9;
    std::size_t index = 0;
    while (index + 1 < watched.moments.size() && watched.moments[index + 1].at <= at.value + width) {
        ++index;
    }
    if (watched.moments.empty()) {
        throw ChartError(
            {{"at", "nothing has been chosen yet", "give a time after the first tick", {}, 0, 0}});
    }
    // Of one instant, the first choice has the presses still to be used up; tell of the one that settled it.
    Moment moment = watched.moments[index];
    if (moment.at + width < at.value) {
        moment.facts.fixed = fact::fixed_of(fact::lasting_of(moment.facts.fixed));
        moment.held_back = 0;
    }
    moment.state = moment.taken;
    Explanation explanation;
    explanation.at = at.value;
    explanation.state = moment.state;
    for (const Visit& visit : watched.run.visits) {
        if (visit.at <= at.value + width) {
            explanation.since = visit.at;
            explanation.cause = visit.cause;
        }
    }
    for (const std::uint8_t state : chart.data().rank) {
        StateExplanation told = stand_and_read(chart, moment, until.runner, StateId{state});
        if (told.standing.failing && !told.standing.failing->momentary) {
            told.failing_stretch = stretch_of(chart, watched.moments, index, *told.standing.failing);
        }
        explanation.rank.push_back(std::move(told));
    }
    return explanation;
}

std::vector<Denial> denials(const Chart& chart, const WatchedRun& watched, StateId state) {
    double longest_buffer = 0.0;
    for (const detail::CompiledAction& action : chart.data().actions) {
        longest_buffer = std::max(longest_buffer, action.buffer);
    }
    const detail::ChartData& data = chart.data();
    const detail::CompiledState& asked = data.states[state.index];
    // Wanted: everything that some clause asks of keys is so, and it asks for one at least.
    const auto wanted = [&](const Moment& moment, bool& pressed) {
        for (std::uint16_t i = 0; i < asked.enter.clause_count; ++i) {
            const detail::Clause& clause =
                data.clauses[static_cast<std::size_t>(asked.enter.first_clause) + i];
            const detail::FixedFacts &want = clause.want.fixed, &now = moment.facts.fixed;
            const detail::ActionMask on = fact::on_of(want), presses = fact::pressed_of(want);
            if ((on | presses) != 0 && (on & ~fact::on_of(now)) == 0 &&
                (presses & ~fact::pressed_of(now)) == 0) {
                pressed = presses != 0;
                return true;
            }
        }
        return false;
    };
    const auto same = [](const Standing& a, const Standing& b) {
        return a.kind == b.kind && a.failing.has_value() == b.failing.has_value() &&
               (!a.failing || a.failing->term == b.failing->term) && a.first == b.first;
    };
    std::vector<Denial> found;
    bool open = false;
    const std::vector<Moment>& moments = watched.moments;
    for (std::size_t i = 0; i < moments.size(); ++i) {
        const Moment& moment = moments[i];
        const bool last_of_instant = i + 1 == moments.size() || moments[i + 1].at > moment.at;
        if (!last_of_instant) {
            continue;
        }
        bool pressed = false;
        const bool denied = wanted(moment, pressed) && moment.taken != state;
        if (!denied) {
            if (open) {
                found.back().until = moment.at;
            }
            open = false;
            continue;
        }
        Moment settled = moment;
        settled.state = moment.taken;
        const Standing now = standing(chart, settled, state);
        if (open && same(now, found.back().standing) && !pressed) {
            continue;
        }
        if (open) {
            found.back().until = moment.at;
        }
        open = !pressed;
        const bool waits = pressed && !found.empty() && same(now, found.back().standing) &&
                           moment.at - found.back().until <= longest_buffer;
        if (waits) {
            found.back().until = moment.at;  // the same press, in its buffer
            continue;
        }
        found.push_back({moment.at, moment.at, now});
    }
    if (open) {
        found.back().until = watched.run.seconds;
    }
    return found;
}

}  // namespace cursimeter::survey
