#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/chart/facts.hpp"
#include "core/compile/compile.hpp"
#include "core/compile/term_reader.hpp"
#include "core/kinds/kind.hpp"

namespace cursimeter::detail {
namespace {

/// Terms that a state needs by its nature (a meter's latch or cost, a cooldown, what its kind asks for),
/// beside those that its chart writes down. Each has the path of the key that it comes from.
using Needs = std::vector<Term>;

class ConditionCompiler {
  public:
    ConditionCompiler(const ChartSpec& spec, ChartData& chart, Findings& findings)
        : chart_(chart), findings_(findings), reader_(spec, chart, findings) {}

    /// Compiles a condition; every clause of it also needs `needs`.
    CompiledCondition compile(const std::string& path, const std::optional<Condition>& condition,
                              const Needs& needs) {
        CompiledCondition compiled;
        compiled.first_clause = static_cast<std::uint16_t>(chart_.clauses.size());
        std::vector<std::vector<std::string>> clauses;
        if (condition) {
            clauses = condition->any_of;
        }
        if (clauses.empty() && !needs.empty()) {
            clauses.emplace_back();
        }
        for (std::size_t i = 0; i < clauses.size(); ++i) {
            const bool single = clauses.size() == 1;
            const std::string place = single ? path : fmt::format("{}[{}]", path, i + 1);
            if (clauses[i].empty() && needs.empty()) {
                findings_.add(place, "this list of terms is empty",
                              "write [] alone for \"always\", or leave the empty list out");
            }
            Clause clause;
            clause.first_term = static_cast<std::uint16_t>(chart_.terms.size());
            for (std::size_t k = 0; k < clauses[i].size(); ++k) {
                add_term(clause, fmt::format("{}[{}]", place, k + 1), clauses[i][k]);
            }
            for (const Term& need : needs) {
                add_need(clause, need);
            }
            chart_.clauses.push_back(clause);
        }
        compiled.clause_count = static_cast<std::uint16_t>(clauses.size());
        return compiled;
    }

    [[nodiscard]] TermReader& reader() { return reader_; }

    void check_counts() {
        if (reader_.derived_facts().size() > limits::derived_facts) {
            findings_.add("states",
                          fmt::format("the conditions read {} different comparisons and latches",
                                      reader_.derived_facts().size()),
                          too_many(reader_.derived_facts().size(), limits::derived_facts));
        }
        if (chart_.terms.size() > limits::terms) {
            findings_.add("states", fmt::format("the conditions have {} terms together", chart_.terms.size()),
                          too_many(chart_.terms.size(), limits::terms));
        }
    }

  private:
    void add_term(Clause& clause, const std::string& path, const std::string& text) {
        std::optional<Term> term = reader_.read(path, text);
        if (!term) {
            return;
        }
        term->text = text;
        term->path = path;
        add_term(clause, *term);
    }
    void add_term(Clause& clause, const Term& term) {
        const bool known = term.is_set(clause.care);
        if (known && term.is_set(clause.want) == term.negated) {
            findings_.add(term.path, fmt::format("'{}' contradicts another term of this list", term.text),
                          "take one of them out; all terms of a list must hold together");
        }
        put_term(clause, term);
    }
    /// What is needed is not said twice; a term that rules it out could never hold.
    void add_need(Clause& clause, const Term& need) {
        for (std::uint16_t i = 0; i < clause.term_count; ++i) {
            const Term& other = chart_.terms[static_cast<std::size_t>(clause.first_term) + i];
            if (other.derived != need.derived || other.bit != need.bit) {
                continue;
            }
            if (other.negated != need.negated) {
                findings_.add(other.path,
                              fmt::format("'{}' contradicts '{}', which comes with {}", other.text, need.text,
                                          need.path),
                              "take it out: with it this list can never hold");
            }
            return;
        }
        put_term(clause, need);
    }
    void put_term(Clause& clause, const Term& term) {
        term.set(clause.care, true);
        term.set(clause.want, term.is_set(clause.want) || !term.negated);
        chart_.terms.push_back(term);
        ++clause.term_count;
    }

    ChartData& chart_;
    Findings& findings_;
    TermReader reader_;
};

/// Whether a term of `enter` speaks of the change alone: of a key that goes down or up then, or of the time in the state before.
bool is_of_the_change(const std::vector<std::string>& words) {
    const std::size_t first = !words.empty() && words[0] == "not" ? 1 : 0;
    const bool compares_time = words.size() > first + 1 && words[first] == "time" &&
                               (words[first + 1][0] == '<' || words[first + 1][0] == '>');
    return compares_time || (!words.empty() && (words.back() == "pressed" || words.back() == "released"));
}

/// `enter` without the terms that are of the change alone: what `stay` is if nothing is said.
std::optional<Condition> lasting_part(const std::optional<Condition>& enter) {
    if (!enter) {
        return std::nullopt;
    }
    std::vector<std::vector<std::string>> clauses;
    for (const std::vector<std::string>& clause : enter->any_of) {
        std::vector<std::string> lasting;
        for (const std::string& term : clause) {
            if (!is_of_the_change(split_term(term))) {
                lasting.push_back(term);
            }
        }
        if (lasting.empty()) {
            return std::nullopt;
        }
        clauses.push_back(lasting);
    }
    return Condition(clauses);
}

/// A condition that must hold over time cannot read what is true at one instant only.
void refuse_presses(const std::string& path, const Condition& condition, Findings& findings) {
    for (std::size_t i = 0; i < condition.any_of.size(); ++i) {
        for (std::size_t k = 0; k < condition.any_of[i].size(); ++k) {
            const std::vector<std::string> words = split_term(condition.any_of[i][k]);
            if (words.empty() || (words.back() != "pressed" && words.back() != "released")) {
                continue;
            }
            const std::string place =
                condition.any_of.size() == 1 ? path : fmt::format("{}[{}]", path, i + 1);
            findings.add(fmt::format("{}[{}]", place, k + 1),
                         fmt::format("'{}' is true for an instant only, and this holds over time",
                                     condition.any_of[i][k]),
                         fmt::format("say \"{} on\"", words[words.size() - 2]));
        }
    }
}

/// The marks of a meter: its bounds, its latch, and every level that a term reads.
void place_marks(const std::vector<DerivedFact>& derived, std::size_t index, CompiledMeter& meter) {
    const double quantum = meter.capacity * meter_quantum;
    const auto mark_at = [&](double from, double level) -> Mark& {
        const auto found = std::find_if(meter.marks.begin(), meter.marks.end(),
                                        [&](const Mark& mark) { return mark.from == from; });
        if (found != meter.marks.end()) {
            return *found;
        }
        Mark mark;
        mark.level = level;
        mark.from = from;
        return meter.marks.emplace_back(mark);
    };
    mark_at(quantum, 0.0).bottom = true;
    mark_at(meter.capacity, meter.capacity).top = true;
    if (meter.spent) {
        mark_at(meter.spent->at + quantum, meter.spent->at).latch = true;
        mark_at(meter.spent->until, meter.spent->until).release = true;
    }
    for (std::size_t i = 0; i < meter.thresholds.size(); ++i) {
        mark_at(meter.thresholds[i].level, meter.thresholds[i].level).threshold =
            static_cast<std::uint8_t>(i);
    }
    for (std::size_t bit = 0; bit < derived.size() && bit < limits::derived_facts; ++bit) {
        if (derived[bit].quantity == Quantity::meter && derived[bit].index == index) {
            // Everything is at or above 0: that mark is never crossed.
            mark_at(derived[bit].from, derived[bit].level).bit = static_cast<std::uint8_t>(bit);
        }
    }
    std::sort(meter.marks.begin(), meter.marks.end(),
              [](const Mark& a, const Mark& b) { return a.from < b.from; });
}

/// What a state needs to be entered and to be kept.
Needs lasting_needs(TermReader& reader, const ChartData& chart, const CompiledState& state,
                    const std::string& path) {
    Needs needs;
    for (std::uint8_t k = 0; k < chart.meters.size() && k < limits::meters; ++k) {
        const CompiledMeter& meter = chart.meters[k];
        if ((state.drained >> k & 1U) != 0 && meter.spent && meter.spent->bars) {
            const char* key = state.drains[k].per_second > 0.0 ? "drain" : "drain_per_metre";
            needs.push_back(reader.latch_open(k));
            needs.back().path = fmt::format("{}.{}.{}", path, key, meter.name);
        }
    }
    if (!state.low) {
        const bool any_low = std::any_of(chart.states.begin(), chart.states.end(),
                                         [](const CompiledState& other) { return other.low; });
        if (any_low) {
            Term term;
            term.bit = fact::headroom;
            term.text = "headroom";
            term.path = path + ".low";
            needs.push_back(term);
        }
    }
    return needs;
}

/// What a state needs to be entered.
Needs entry_needs(TermReader& reader, const ChartData& chart, std::uint8_t index, Needs needs) {
    const CompiledState& state = chart.states[index];
    const std::string path = "states." + state.name;
    for (std::uint8_t k = 0; k < chart.meters.size() && k < limits::meters; ++k) {
        if (state.costs[k] > 0.0) {
            needs.push_back(reader.meter_at_least(k, state.costs[k]));
            needs.back().path = fmt::format("{}.cost.{}", path, chart.meters[k].name);
        }
    }
    if (state.cooldown != no_cooldown) {
        for (const std::uint8_t cooldown : {state.cooldown, chart.cooldowns[state.cooldown].also}) {
            if (cooldown != no_cooldown) {
                needs.push_back(reader.cooldown_ready(cooldown));
                needs.back().path = path + ".cooldown";
            }
        }
    }
    const Kind& kind = row_of(state.kind);
    if (state.launch.count > 0 || kind.possible != nullptr) {
        needs.push_back(reader.possible(index));
        needs.back().path = path + "." + (kind.possible != nullptr ? std::string(kind.name) : "launch");
    }
    return needs;
}

/// What a state needs to be kept.
Needs stay_needs(TermReader& reader, const CompiledState& state, const std::string& path, Needs needs) {
    const std::string kind_path = path + "." + std::string(row_of(state.kind).name);
    if (state.traits.lasts < never) {
        needs.push_back(reader.time_below(state.traits.lasts));
        needs.back().path = kind_path + ".seconds";
    }
    if (state.traits.follows_wall) {
        Term term;
        term.bit = fact::wall;
        term.text = "wall";
        term.path = kind_path + ".reach";
        needs.push_back(term);
    }
    return needs;
}

/// Whether anything but a wall run needs to know of walls at hand: a term, a jump off one, a burst away.
bool knows_walls(const ChartData& chart) {
    const bool read = std::any_of(chart.clauses.begin(), chart.clauses.end(),
                                  [](const Clause& clause) { return clause.care.fixed.test(fact::wall); });
    return read || std::any_of(chart.states.begin(), chart.states.end(), [](const CompiledState& state) {
               const auto* end = state.burst.along.data() + state.burst.along_count;
               return state.launch.off_wall || std::find(state.burst.along.data(), end, Along::away) != end;
           });
}

}  // namespace

void compile_conditions(const ChartSpec& spec, const std::vector<StateSpec>& resolved, ChartData& chart,
                        Findings& findings) {
    ConditionCompiler compiler(spec, chart, findings);
    for (std::size_t i = 0; i < resolved.size(); ++i) {
        const StateSpec& state = resolved[i];
        CompiledState& compiled = chart.states[i];
        const std::string path = "states." + state.name;
        const Needs lasting = lasting_needs(compiler.reader(), chart, compiled, path);
        compiled.enter =
            compiler.compile(path + ".enter", state.enter,
                             entry_needs(compiler.reader(), chart, static_cast<std::uint8_t>(i), lasting));
        const std::size_t before = findings.size();
        compiled.stay = compiler.compile(path + (state.stay ? ".stay" : ".enter"),
                                         state.stay ? state.stay : lasting_part(state.enter),
                                         stay_needs(compiler.reader(), compiled, path, lasting));
        if (!state.stay) {
            findings.drop_repeated(before);  // the same terms were reported for `enter`
        }
        const double drain_above = state.drain_above.value_or(0.1);
        if (compiled.drained != 0 && drain_above > 0.0) {
            compiled.drain_gate = compiler.reader().speed_above(drain_above);
        }
    }
    for (std::size_t i = 0; i < spec.modifiers.size(); ++i) {
        const ModifierSpec& modifier = spec.modifiers[i];
        if (modifier.while_holds) {
            const std::string path = "modifiers." + modifier.name + ".while";
            chart.modifiers[i].holds_while = compiler.compile(path, modifier.while_holds, {});
            refuse_presses(path, *modifier.while_holds, findings);
        }
    }
    for (std::size_t i = 0; i < spec.meters.size() && i < chart.meters.size(); ++i) {
        const MeterSpec& meter = spec.meters[i];
        if (meter.refill && meter.refill->when) {
            const std::string path = "meters." + meter.name + ".refill.when";
            chart.meters[i].refill_when = compiler.compile(path, meter.refill->when, {});
            refuse_presses(path, *meter.refill->when, findings);
        }
    }
    compiler.check_counts();
    if (chart.wall_reach <= 0.0 && knows_walls(chart)) {
        chart.wall_reach = usual_wall_reach;
    }
    const std::vector<DerivedFact>& derived = compiler.reader().derived_facts();
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        place_marks(derived, i, chart.meters[i]);
    }
    chart.derived_facts = derived;
    const auto watch_always = [&](const CompiledCondition& condition) {
        for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
            chart.always_watched |=
                chart.clauses[static_cast<std::size_t>(condition.first_clause) + i].care.derived;
        }
    };
    for (const CompiledModifier& modifier : chart.modifiers) {
        watch_always(modifier.holds_while);
    }
    for (const CompiledMeter& meter : chart.meters) {
        watch_always(meter.refill_when);
    }
    for (std::size_t bit = 0; bit < derived.size() && bit < limits::derived_facts; ++bit) {
        const auto number = static_cast<std::uint8_t>(bit);
        switch (derived[bit].quantity) {
            case Quantity::speed:
                chart.speed_marks.push_back({derived[bit].from, number});
                chart.crossing_bits.set(number);
                break;
            case Quantity::time:
                chart.time_marks.push_back({derived[bit].from, number});
                chart.crossing_bits.set(number);
                break;
            case Quantity::rise:
                chart.rise_marks.push_back({derived[bit].from, number});
                chart.crossing_bits.set(number);
                break;
            case Quantity::ready:
                chart.cooldowns[derived[bit].index].ready_bit = number;
                chart.sudden_bits.set(number);
                break;
            case Quantity::active:
                chart.modifiers[derived[bit].index].active_bit = number;
                chart.sudden_bits.set(number);
                break;
            case Quantity::possible:
                chart.states[derived[bit].index].possible_bit = number;
                chart.needy.push_back(derived[bit].index);
                break;
            case Quantity::latch:
                chart.meters[derived[bit].index].spent_bit = number;
                chart.sudden_bits.set(number);
                chart.meter_bits.set(number);
                break;
            case Quantity::meter:
                chart.meter_bits.set(number);
                chart.crossing_bits.set(number);
                break;
        }
    }
}

}  // namespace cursimeter::detail
