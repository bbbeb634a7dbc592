#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <optional>

#include "core/compile.hpp"
#include "core/facts.hpp"

namespace cursimeter::detail {
namespace {

enum class Quantity : std::uint8_t { meter, speed, time, latch };

/// A comparison or latch that has a bit of its own in Facts::derived. "above" means value >= from.
struct DerivedFact {
    Quantity quantity = Quantity::meter;
    std::uint8_t index = 0;
    double from = 0.0;
    double level = 0.0;  ///< as the chart says it
    friend bool operator==(const DerivedFact&, const DerivedFact&) = default;
};

/// A speed is compared a nanometre per second off the chart's number: a state whose target is just that
/// speed then meets ">= 2.4" however its rounding falls.
constexpr double speed_offset = 1e-9;

/// Levels that count as equal: this part of the capacity (about 1e-12).
constexpr double meter_quantum = 0x1p-40;

/// Words and operators of a term.
std::vector<std::string> split(const std::string& text) {
    std::vector<std::string> words;
    std::string word;
    const auto flush = [&] {
        if (!word.empty()) {
            words.push_back(word);
            word.clear();
        }
    };
    for (const char c : text) {
        const bool is_operator = c == '<' || c == '>' || c == '=' || c == '!';
        const bool in_operator = !word.empty() && std::string_view("<>=!").find(word[0]) != std::string_view::npos;
        if (c == ' ' || c == '\t') {
            flush();
            continue;
        }
        if (is_operator != in_operator) {
            flush();
        }
        word += c;
    }
    flush();
    return words;
}

class ConditionCompiler {
  public:
    ConditionCompiler(const ChartSpec& spec, ChartData& chart, Findings& findings)
        : chart_(chart), findings_(findings), actions_(names_of(spec.actions)), meters_(names_of(spec.meters)) {
        for (const std::string& action : actions_) {
            known_.push_back(action + " on");
            known_.push_back(action + " pressed");
            known_.push_back(action + " released");
        }
        for (const std::string& meter : meters_) {
            known_.push_back(meter + " spent");
            known_.push_back(meter + " >= ...");
        }
        for (const char* text : {"grounded", "moving", "moving forward", "moving sideways", "moving backward",
                                 "speed > ...", "time > ..."}) {
            known_.emplace_back(text);
        }
    }

    /// Compiles a condition; `bars` are spent meters that keep every clause from holding.
    CompiledCondition compile(const std::string& path, const std::optional<Condition>& condition,
                              const std::vector<std::pair<std::string, std::string>>& bars) {
        CompiledCondition compiled;
        compiled.first_clause = static_cast<std::uint16_t>(chart_.clauses.size());
        std::vector<std::vector<std::string>> clauses;
        if (condition) {
            clauses = condition->any_of;
        }
        if (clauses.empty() && !bars.empty()) {
            clauses.emplace_back();
        }
        for (std::size_t i = 0; i < clauses.size(); ++i) {
            const bool single = clauses.size() == 1;
            const std::string place = single ? path : fmt::format("{}[{}]", path, i + 1);
            if (clauses[i].empty() && bars.empty()) {
                findings_.add(place, "this list of terms is empty",
                              "write [] alone for \"always\", or leave the empty list out");
            }
            Clause clause;
            clause.first_term = static_cast<std::uint16_t>(chart_.terms.size());
            for (std::size_t k = 0; k < clauses[i].size(); ++k) {
                add_term(clause, fmt::format("{}[{}]", place, k + 1), clauses[i][k]);
            }
            for (const auto& [term, source] : bars) {
                if (std::find(clauses[i].begin(), clauses[i].end(), term) == clauses[i].end()) {
                    add_term(clause, source, term);
                }
            }
            chart_.clauses.push_back(clause);
        }
        compiled.clause_count = static_cast<std::uint16_t>(clauses.size());
        return compiled;
    }

    /// A derived bit for a real speed above `speed`.
    std::uint8_t speed_above(double speed) {
        return derived({Quantity::speed, 0, speed + speed_offset, speed});
    }

    [[nodiscard]] const std::vector<DerivedFact>& derived_facts() const { return derived_; }

    void check_counts() {
        if (derived_.size() > limits::derived_facts) {
            findings_.add("states", fmt::format("the conditions read {} different comparisons and latches",
                                                derived_.size()),
                          fmt::format("a chart can have {}", limits::derived_facts));
        }
        if (chart_.terms.size() > limits::terms) {
            findings_.add("states", fmt::format("the conditions have {} terms together", chart_.terms.size()),
                          fmt::format("a chart can have {}", limits::terms));
        }
    }

  private:
    void add_term(Clause& clause, const std::string& path, const std::string& text) {
        std::optional<Term> term = read(path, text);
        if (!term) {
            return;
        }
        term->text = text;
        term->path = path;
        std::uint64_t Facts::*word = term->derived ? &Facts::derived : &Facts::fixed;
        const std::uint64_t bit = fact::bit(term->bit);
        const bool known = (clause.care.*word & bit) != 0;
        if (known && ((clause.want.*word & bit) == 0) != term->negated) {
            findings_.add(path, fmt::format("'{}' contradicts another term of this list", text),
                          "take one of them out; all terms of a list must hold together");
        }
        clause.care.*word |= bit;
        clause.want.*word |= term->negated ? 0 : bit;
        chart_.terms.push_back(std::move(*term));
        ++clause.term_count;
    }

    std::optional<Term> read(const std::string& path, const std::string& text) {
        std::vector<std::string> words = split(text);
        Term term;
        if (!words.empty() && words[0] == "not") {
            term.negated = true;
            words.erase(words.begin());
        }
        if (words.size() >= 3 && std::string_view("<>=!").find(words[1][0]) != std::string_view::npos) {
            return read_comparison(path, text, words, term);
        }
        const bool momentary = words.size() == 2 && (words[1] == "pressed" || words[1] == "released");
        if (words.size() == 1 && words[0] == "grounded") {
            return fixed(term, fact::grounded);
        }
        if (words.size() == 1 && words[0] == "moving") {
            return fixed(term, fact::moving);
        }
        if (words.size() == 2 && words[0] == "moving") {
            if (words[1] == "forward") {
                return fixed(term, fact::moving_forward);
            }
            if (words[1] == "sideways") {
                return fixed(term, fact::moving_sideways);
            }
            if (words[1] == "backward") {
                return fixed(term, fact::moving_backward);
            }
        }
        if (words.size() == 2 && (words[1] == "on" || momentary)) {
            const auto action = std::find(actions_.begin(), actions_.end(), words[0]);
            if (action == actions_.end()) {
                findings_.add(path, fmt::format("'{}': no action is named '{}'", text, words[0]),
                              advise_name(words[0], actions_));
                return std::nullopt;
            }
            const unsigned first = words[1] == "on"        ? fact::on_first
                                   : words[1] == "pressed" ? fact::pressed_first
                                                           : fact::released_first;
            term.momentary = momentary;
            return fixed(term, first + static_cast<unsigned>(action - actions_.begin()));
        }
        if (words.size() == 2 && words[1] == "spent") {
            const auto meter = std::find(meters_.begin(), meters_.end(), words[0]);
            if (meter == meters_.end()) {
                findings_.add(path, fmt::format("'{}': no meter is named '{}'", text, words[0]),
                              advise_name(words[0], meters_));
                return std::nullopt;
            }
            const auto index = static_cast<std::uint8_t>(meter - meters_.begin());
            if (!chart_.meters[index].spent) {
                findings_.add(path, fmt::format("'{}': meter '{}' has no spent latch", text, words[0]),
                              fmt::format("say meters.{}.spent = {{ at = 0, until = ... }}", words[0]));
                return std::nullopt;
            }
            return with_bit(term, derived({Quantity::latch, index, 0.0, 0.0}));
        }
        findings_.add(path, fmt::format("'{}' is not a known fact or comparison", text), advise_name(text, known_));
        return std::nullopt;
    }

    std::optional<Term> read_comparison(const std::string& path, const std::string& text,
                                        const std::vector<std::string>& words, Term term) {
        const std::string& name = words[0];
        const std::string& op = words[1];
        if (op != "<" && op != "<=" && op != ">" && op != ">=") {
            findings_.add(path, fmt::format("'{}': '{}' is not a comparison", text, op), "use <, <=, > or >=");
            return std::nullopt;
        }
        DerivedFact fact;
        const auto meter = std::find(meters_.begin(), meters_.end(), name);
        if (name == "speed") {
            fact.quantity = Quantity::speed;
        } else if (name == "time") {
            fact.quantity = Quantity::time;
        } else if (meter != meters_.end()) {
            fact.index = static_cast<std::uint8_t>(meter - meters_.begin());
        } else {
            std::vector<std::string> quantities = meters_;
            quantities.insert(quantities.end(), {"speed", "time"});
            findings_.add(path, fmt::format("'{}': nothing that can be compared is named '{}'", text, name),
                          advise_name(name, quantities));
            return std::nullopt;
        }
        double value = 0.0;
        std::string unit;
        const char* end = words[2].data() + words[2].size();
        const auto [rest, error] = std::from_chars(words[2].data(), end, value);
        unit.assign(rest, end);
        for (std::size_t i = 3; i < words.size(); ++i) {
            unit += words[i];
        }
        if (error != std::errc() || !(value >= 0.0) || !(value <= 1e9)) {
            findings_.add(path, fmt::format("'{}': '{}' is not a number of 0 or more", text, words[2]),
                          "write it such as 4.5");
            return std::nullopt;
        }
        if (!read_unit(path, text, fact, unit, value)) {
            return std::nullopt;
        }
        // "< x" is "not >= x", and "<= x" is "not > x", so each pair shares one bit.
        const bool strict = op == ">" || op == "<=";
        fact.level = value;
        term.negated = term.negated != (op[0] == '<');
        switch (fact.quantity) {
            case Quantity::meter: {
                const double capacity = chart_.meters[fact.index].capacity;
                if (capacity > 0.0 && (value > capacity || (strict && value == capacity))) {
                    findings_.add(path, fmt::format("'{}': {} holds at most {}", text, name, capacity),
                                  fmt::format("compare with less than {}", capacity));
                    return std::nullopt;
                }
                fact.from = strict ? value + capacity * meter_quantum : value;
                break;
            }
            case Quantity::speed:
                fact.from = strict ? value + speed_offset : value - speed_offset;
                break;
            case Quantity::time:
            case Quantity::latch:
                fact.from = value;
                break;
        }
        return with_bit(term, derived(fact));
    }

    /// Units: m/s of a speed, s of a time, none or % (of the capacity) of a meter.
    bool read_unit(const std::string& path, const std::string& text, const DerivedFact& fact,
                   const std::string& unit, double& value) {
        if (fact.quantity == Quantity::meter && unit == "%") {
            value = chart_.meters[fact.index].capacity * value / 100.0;
            return true;
        }
        const char* own = fact.quantity == Quantity::speed ? "m/s" : fact.quantity == Quantity::time ? "s" : "";
        if (unit.empty() || unit == own) {
            return true;
        }
        findings_.add(path, fmt::format("'{}': '{}' is not a unit for this", text, unit),
                      fact.quantity == Quantity::speed  ? "speeds are in m/s"
                      : fact.quantity == Quantity::time ? "times are in s"
                                                        : "levels have no unit, or % of the capacity");
        return false;
    }

    static Term fixed(Term term, unsigned bit) {
        term.bit = static_cast<std::uint8_t>(bit);
        return term;
    }
    static Term with_bit(Term term, std::uint8_t bit) {
        term.derived = true;
        term.bit = bit;
        return term;
    }

    std::uint8_t derived(const DerivedFact& fact) {
        auto found = std::find(derived_.begin(), derived_.end(), fact);
        if (found == derived_.end()) {
            derived_.push_back(fact);
            found = derived_.end() - 1;
        }
        return static_cast<std::uint8_t>(std::min<std::ptrdiff_t>(found - derived_.begin(), 63));
    }

    ChartData& chart_;
    Findings& findings_;
    std::vector<std::string> actions_, meters_, known_;
    std::vector<DerivedFact> derived_;
};

/// `enter` without the terms that hold for one instant only: what `stay` is if nothing is said.
std::optional<Condition> lasting_part(const std::optional<Condition>& enter) {
    if (!enter) {
        return std::nullopt;
    }
    std::vector<std::vector<std::string>> clauses;
    for (const std::vector<std::string>& clause : enter->any_of) {
        std::vector<std::string> lasting;
        for (const std::string& term : clause) {
            const std::vector<std::string> words = split(term);
            if (words.empty() || (words.back() != "pressed" && words.back() != "released")) {
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
        mark.below = std::max(0.0, from - quantum);
        return meter.marks.emplace_back(mark);
    };
    mark_at(quantum, 0.0).bottom = true;
    mark_at(meter.capacity, meter.capacity).top = true;
    if (meter.spent) {
        mark_at(meter.spent->at + quantum, meter.spent->at).latch = true;
        mark_at(meter.spent->until, meter.spent->until).release = true;
    }
    for (std::size_t bit = 0; bit < derived.size(); ++bit) {
        if (derived[bit].quantity == Quantity::meter && derived[bit].index == index) {
            // Everything is at or above 0: that mark is never crossed.
            mark_at(derived[bit].from, derived[bit].level).derived_bit |= fact::bit(static_cast<unsigned>(bit));
        }
    }
    std::sort(meter.marks.begin(), meter.marks.end(),
              [](const Mark& a, const Mark& b) { return a.from < b.from; });
}

}  // namespace

void compile_conditions(const ChartSpec& spec, const std::vector<StateSpec>& resolved, ChartData& chart,
                        Findings& findings) {
    ConditionCompiler compiler(spec, chart, findings);
    for (std::size_t i = 0; i < resolved.size(); ++i) {
        const StateSpec& state = resolved[i];
        CompiledState& compiled = chart.states[i];
        const std::string path = "states." + state.name;
        std::vector<std::pair<std::string, std::string>> bars;
        for (std::size_t k = 0; k < chart.meters.size() && k < limits::meters; ++k) {
            const CompiledMeter& meter = chart.meters[k];
            if ((compiled.drained >> k & 1U) != 0 && meter.spent && meter.spent->bars) {
                const char* key = compiled.drains[k].per_second > 0.0 ? "drain" : "drain_per_metre";
                bars.emplace_back("not " + meter.name + " spent",
                                  fmt::format("{}.{}.{}", path, key, meter.name));
            }
        }
        compiled.enter = compiler.compile(path + ".enter", state.enter, bars);
        const std::size_t before = findings.size();
        compiled.stay = compiler.compile(path + (state.stay ? ".stay" : ".enter"),
                                         state.stay ? state.stay : lasting_part(state.enter), bars);
        if (!state.stay) {
            findings.shrink(before);  // the same terms were reported for `enter`
        }
        const double drain_above = state.drain_above.value_or(0.1);
        if (compiled.drained != 0 && drain_above > 0.0) {
            compiled.drain_gate = compiler.speed_above(drain_above);
        }
    }
    compiler.check_counts();
    const std::vector<DerivedFact>& derived = compiler.derived_facts();
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        place_marks(derived, i, chart.meters[i]);
    }
    for (std::size_t bit = 0; bit < derived.size() && bit < limits::derived_facts; ++bit) {
        const std::uint64_t mask = fact::bit(static_cast<unsigned>(bit));
        switch (derived[bit].quantity) {
            case Quantity::speed:
                chart.speed_marks.push_back({derived[bit].from, mask});
                break;
            case Quantity::time:
                chart.time_marks.push_back({derived[bit].from, mask});
                break;
            case Quantity::latch:
                chart.meters[derived[bit].index].spent_bit = mask;
                break;
            case Quantity::meter:
                break;
        }
    }
}

}  // namespace cursimeter::detail
