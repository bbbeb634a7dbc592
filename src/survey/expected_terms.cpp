#include "survey/expected_terms.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/chart/chart_data.hpp"
#include "core/chart/facts.hpp"

namespace cursimeter::survey {
namespace {

std::string unused_name(const ChartSpec& spec) {
    std::string name = fmt::format("expected_{}", spec.states.size());
    while (std::any_of(spec.states.begin(), spec.states.end(),
                       [&](const StateSpec& state) { return state.name == name; })) {
        name += "_";
    }
    return name;
}

std::vector<Diagnostic> no_room() {
    return {{"states",
             "leave no room for the terms of expectations",
             fmt::format("{} states at most", limits::states - 1),
             {},
             0,
             0}};
}

/// Without the presses of one instant.
detail::Facts lasting(detail::Facts facts) {
    facts.fixed = detail::fact::fixed_of(detail::fact::lasting_of(facts.fixed));
    return facts;
}

}  // namespace

Flips settled(const Flips& flips) {
    Flips kept;
    for (const Flip& flip : flips) {
        if (!kept.empty() && flip.at <= kept.back().at + 1e-12) {
            kept.back().is_so = flip.is_so;
        } else {
            kept.push_back(flip);
        }
    }
    return kept;
}

bool is_so_at(const Flips& flips, double at, double width) {
    bool so = false;
    for (const Flip& flip : flips) {
        if (flip.at > at + width) {
            break;
        }
        so = flip.is_so;
    }
    return so;
}

std::optional<double> first_time(const Flips& flips, bool wanted, double from, double to) {
    if (is_so_at(flips, from) == wanted) {
        return from;
    }
    for (const Flip& flip : flips) {
        if (flip.at > from + time_width && flip.at < to - time_width && flip.is_so == wanted) {
            return flip.at;
        }
    }
    return std::nullopt;
}

int ExpectedTerms::add(std::string path, std::vector<std::string> terms) {
    if (terms.empty()) {
        return none;
    }
    lists_.push_back({std::move(path), std::move(terms), {}});
    return static_cast<int>(lists_.size()) - 1;
}

/// A state for each list, from `first` on as many as there is room for: for states, and for what `comparisons` more terms may
/// compare. Returns how many.
std::size_t ExpectedTerms::add_states(ChartSpec& spec, const Chart& base, std::size_t first) {
    const std::vector<detail::CompiledState>& states = base.data().states;
    const bool has_low_bodies = std::any_of(states.begin(), states.end(),
                                            [](const detail::CompiledState& state) { return state.low; });
    std::size_t comparisons = limits::derived_facts - base.data().derived_facts.size();
    std::size_t added = 0;
    while (first + added < lists_.size() && spec.states.size() < limits::states) {
        List& list = lists_[first + added];
        if (added != 0 && list.terms.size() > comparisons) {
            break;
        }
        comparisons -= std::min(comparisons, list.terms.size());
        ++added;
        StateSpec state;
        state.name = unused_name(spec);
        state.kind = StateKind::ground;
        state.speed.forward = 1.0;
        // In a chart with low bodies what is not low asks for headroom besides; a first low one would make all others ask for it.
        state.low = has_low_bodies;
        state.enter = Condition(std::vector<std::vector<std::string>>{list.terms});
        state.from = {state.name};
        list.state = StateId{static_cast<std::uint8_t>(spec.states.size())};
        spec.rank.push_back(state.name);
        spec.states.push_back(std::move(state));
    }
    return added;
}

/// What is wrong with a term is told at the expectation that says it.
Chart ExpectedTerms::compile_copy(const ChartSpec& spec, std::size_t first, std::size_t count) const {
    try {
        return compile(spec);
    } catch (const ChartError& error) {
        std::vector<Diagnostic> told = error.diagnostics();
        for (Diagnostic& diagnostic : told) {
            for (std::size_t i = first; i < first + count; ++i) {
                const std::string& name = spec.states[lists_[i].state.index].name;
                const std::string own = ", " + name + " possible";
                if (const std::size_t at = diagnostic.mend.find(own); at != std::string::npos) {
                    diagnostic.mend.erase(at, own.size());  // no advice
                }
                if (diagnostic.path.starts_with("states." + name + ".enter")) {
                    // "enter[1][2]" or "enter[2]": the last number is the term's. `after` is one term, and no list.
                    const std::size_t last = diagnostic.path.rfind('[');
                    const bool numbered = !lists_[i].path.ends_with(".after") && last != std::string::npos;
                    diagnostic.path = lists_[i].path + (numbered ? diagnostic.path.substr(last) : "");
                }
            }
        }
        throw ChartError(std::move(told));
    }
}

Chart compile_with_terms(const ChartSpec& spec, const std::string& path,
                         const std::vector<std::string>& terms) {
    ExpectedTerms one;
    one.add(path, terms);
    return one.first_copy(spec, compile(spec));
}

Chart ExpectedTerms::first_copy(const ChartSpec& spec, const Chart& base) {
    ChartSpec copy = spec;
    if (add_states(copy, base, 0) == 0) {
        throw ChartError(no_room());
    }
    return compile_copy(copy, 0, 1);
}

void ExpectedTerms::watch_all(const ChartSpec& spec, const Chart& base, const DrillSpec& drill_spec,
                              const Course* course, std::span<const double> tick_ends) {
    std::size_t first = 0;
    do {
        ChartSpec copy = spec;
        const std::size_t count = add_states(copy, base, first);
        if (count == 0 && first < lists_.size()) {
            throw ChartError(no_room());
        }
        Copy next{compile_copy(copy, first, count), first, count, {}};
        const Drill drill(drill_spec, next.chart);
        next.watched = watch(next.chart, drill, course, tick_ends);
        copies_.push_back(std::move(next));
        first += count;
    } while (first < lists_.size());
}

const ExpectedTerms::Copy& ExpectedTerms::copy_of(int list) const {
    const auto found = std::find_if(copies_.begin(), copies_.end(), [&](const Copy& copy) {
        return static_cast<std::size_t>(list) < copy.first + copy.count;
    });
    return *found;
}

bool ExpectedTerms::holds(int list, const detail::Facts& facts) const {
    const detail::ChartData& chart = copy_of(list).chart.data();
    return detail::holding_clause(chart, chart.states[state_of(list).index].enter, facts) != -1;
}

Flips ExpectedTerms::flips_of(int list) const {
    Flips flips;
    for (const Moment& moment : copy_of(list).watched.moments) {
        flips.push_back({moment.at, holds(list, lasting(moment.facts))});
    }
    return settled(flips);
}

std::vector<double> ExpectedTerms::beginnings(int list) const {
    std::vector<double> times;
    bool before = false;
    for (const Moment& moment : copy_of(list).watched.moments) {
        const bool now = holds(list, moment.facts);
        if (now && !before && (times.empty() || moment.at > times.back() + time_width)) {
            times.push_back(moment.at);
        }
        before = holds(list, lasting(moment.facts));
    }
    return times;
}

}  // namespace cursimeter::survey
