#include "core/compile/term_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <string_view>

#include "core/chart/facts.hpp"

namespace cursimeter::detail {
namespace {

bool is_operator(char c) {
    return c == '<' || c == '>' || c == '=' || c == '!';
}

/// Facts that need no name: the words and the bit.
struct PlainFact {
    std::string_view text;
    unsigned bit;
};
constexpr std::array<PlainFact, 10> plain_facts{{{"grounded", fact::grounded},
                                                 {"headroom", fact::headroom},
                                                 {"wall", fact::wall},
                                                 {"footing", fact::footing},
                                                 {"pushed", fact::pushed},
                                                 {"locked", fact::locked},
                                                 {"moving", fact::moving},
                                                 {"moving forward", fact::moving_forward},
                                                 {"moving sideways", fact::moving_sideways},
                                                 {"moving backward", fact::moving_backward}}};

std::string joined(const std::vector<std::string>& words) {
    std::string text;
    for (const std::string& word : words) {
        text += (text.empty() ? "" : " ") + word;
    }
    return text;
}

/// Index of a name in a list, or nothing.
std::optional<std::uint8_t> index_in(const std::vector<std::string>& names, const std::string& name) {
    const auto found = std::find(names.begin(), names.end(), name);
    if (found == names.end()) {
        return std::nullopt;
    }
    return static_cast<std::uint8_t>(found - names.begin());
}

Term with_fixed_bit(const Term& term, unsigned bit) {
    Term with_bit = term;
    with_bit.bit = static_cast<std::uint8_t>(bit);
    return with_bit;
}

}  // namespace

std::vector<std::string> split_term(const std::string& text) {
    std::vector<std::string> words;
    char last = ' ';
    for (const char c : text) {
        const bool space = c == ' ' || c == '\t';
        if (!space) {
            if (last == ' ' || is_operator(c) != is_operator(last)) {
                words.emplace_back();
            }
            words.back() += c;
        }
        last = space ? ' ' : c;
    }
    return words;
}

TermReader::TermReader(const ChartSpec& spec, const ChartData& chart, Findings& findings)
    : chart_(chart),
      findings_(findings),
      actions_(names_of(spec.actions)),
      meters_(names_of(spec.meters)),
      cooldowns_(names_of(spec.cooldowns)),
      modifiers_(names_of(spec.modifiers)),
      states_(names_of(spec.states)),
      zones_(spec.zones),
      known_{"speed > ...", "time > ...", "rise > ..."} {
    for (const PlainFact& plain : plain_facts) {
        known_.emplace_back(plain.text);
    }
    for (const std::string& action : actions_) {
        known_.insert(known_.end(), {action + " on", action + " pressed", action + " released"});
    }
    for (const std::string& meter : meters_) {
        known_.insert(known_.end(), {meter + " spent", meter + " >= ..."});
    }
    for (const std::string& cooldown : cooldowns_) {
        known_.push_back(cooldown + " ready");
    }
    for (const std::string& modifier : modifiers_) {
        known_.push_back(modifier + " active");
    }
    for (const std::string& state : states_) {
        known_.push_back(state + " possible");
    }
    for (const std::string& zone : zones_) {
        known_.push_back("in " + zone);
    }
}

std::optional<Term> TermReader::read(const std::string& path, const std::string& text) {
    std::vector<std::string> words = split_term(text);
    Term term;
    if (!words.empty() && words[0] == "not") {
        term.negated = true;
        words.erase(words.begin());
    }
    if (words.size() >= 3 && is_operator(words[1][0])) {
        return read_comparison(path, text, words, term);
    }
    return read_fact(path, text, words, term);
}

std::optional<Term> TermReader::read_fact(const std::string& path, const std::string& text,
                                          const std::vector<std::string>& words, const Term& term) {
    const std::string fact_text = joined(words);
    for (const PlainFact& plain : plain_facts) {
        if (plain.text == fact_text) {
            return with_fixed_bit(term, plain.bit);
        }
    }
    if (words.size() == 2 && (words[1] == "on" || words[1] == "pressed" || words[1] == "released")) {
        return read_action(path, text, words, term);
    }
    if (words.size() == 2 && words[1] == "spent") {
        return read_latch(path, text, words, term);
    }
    if (words.size() == 2 && words[1] == "ready") {
        return read_named(path, text, words, term, Quantity::ready);
    }
    if (words.size() == 2 && words[1] == "active") {
        return read_named(path, text, words, term, Quantity::active);
    }
    if (words.size() == 2 && words[1] == "possible") {
        return read_named(path, text, words, term, Quantity::possible);
    }
    if (words.size() == 2 && words[0] == "in") {
        return read_zone(path, text, words, term);
    }
    findings_.add(path, fmt::format("'{}' is not a known fact or comparison", text),
                  advise_name(fact_text, known_));
    return std::nullopt;
}

std::optional<Term> TermReader::read_action(const std::string& path, const std::string& text,
                                            const std::vector<std::string>& words, const Term& term) {
    const std::optional<std::uint8_t> action = index_in(actions_, words[0]);
    if (!action) {
        findings_.add(path, fmt::format("'{}': no action is named '{}'", text, words[0]),
                      advise_name(words[0], actions_));
        return std::nullopt;
    }
    const unsigned first = words[1] == "on"        ? fact::on_first
                           : words[1] == "pressed" ? fact::pressed_first
                                                   : fact::released_first;
    return with_fixed_bit(term, first + *action);
}

/// "dash ready", "jump possible".
std::optional<Term> TermReader::read_named(const std::string& path, const std::string& text,
                                           const std::vector<std::string>& words, const Term& term,
                                           Quantity quantity) {
    const bool ready = quantity == Quantity::ready, active = quantity == Quantity::active;
    const std::vector<std::string>& names = ready ? cooldowns_ : active ? modifiers_ : states_;
    const std::optional<std::uint8_t> index = index_in(names, words[0]);
    if (!index) {
        findings_.add(path,
                      fmt::format("'{}': no {} is named '{}'", text,
                                  ready    ? "cooldown"
                                  : active ? "modifier"
                                           : "state",
                                  words[0]),
                      advise_name(words[0], names));
        return std::nullopt;
    }
    return with_derived_bit(term, {quantity, *index, 0.0, 0.0});
}

std::optional<Term> TermReader::read_zone(const std::string& path, const std::string& text,
                                          const std::vector<std::string>& words, const Term& term) {
    const std::optional<std::uint8_t> zone = index_in(zones_, words[1]);
    if (!zone) {
        findings_.add(path, fmt::format("'{}': the chart's zones have no '{}'", text, words[1]),
                      zones_.empty() ? fmt::format("say zones = [\"{}\"] at the top of the chart", words[1])
                                     : advise_name(words[1], zones_));
        return std::nullopt;
    }
    return with_fixed_bit(term, fact::zone_first + *zone);
}

std::optional<Term> TermReader::read_latch(const std::string& path, const std::string& text,
                                           const std::vector<std::string>& words, const Term& term) {
    const std::optional<std::uint8_t> meter = index_in(meters_, words[0]);
    if (!meter) {
        findings_.add(path, fmt::format("'{}': no meter is named '{}'", text, words[0]),
                      advise_name(words[0], meters_));
        return std::nullopt;
    }
    if (!chart_.meters[*meter].spent) {
        findings_.add(path, fmt::format("'{}': meter '{}' has no spent latch", text, words[0]),
                      fmt::format("say meters.{}.spent = {{ at = 0, until = ... }}", words[0]));
        return std::nullopt;
    }
    return with_derived_bit(term, {Quantity::latch, *meter, 0.0, 0.0});
}

std::optional<Term> TermReader::read_comparison(const std::string& path, const std::string& text,
                                                const std::vector<std::string>& words, const Term& term) {
    const std::string& name = words[0];
    const std::string& op = words[1];
    if (op != "<" && op != "<=" && op != ">" && op != ">=") {
        findings_.add(path, fmt::format("'{}': '{}' is not a comparison", text, op), "use <, <=, > or >=");
        return std::nullopt;
    }
    DerivedFact fact;
    if (name == "speed") {
        fact.quantity = Quantity::speed;
    } else if (name == "time") {
        fact.quantity = Quantity::time;
    } else if (name == "rise") {
        fact.quantity = Quantity::rise;
    } else if (const std::optional<std::uint8_t> meter = index_in(meters_, name)) {
        fact.index = *meter;
    } else {
        std::vector<std::string> quantities = meters_;
        quantities.insert(quantities.end(), {"speed", "rise", "time"});
        findings_.add(path, fmt::format("'{}': nothing that can be compared is named '{}'", text, name),
                      advise_name(name, quantities));
        return std::nullopt;
    }
    if (!read_value(path, text, words, fact, fact.level)) {
        return std::nullopt;
    }
    // "< x" is "not >= x", and "<= x" is "not > x", so each pair shares one bit.
    const bool strict = op == ">" || op == "<=";
    Term compared = term;
    compared.negated = term.negated != (op[0] == '<');
    fact.from = fact.level;
    if (fact.quantity == Quantity::meter) {
        const double capacity = chart_.meters[fact.index].capacity;
        if (capacity > 0.0 && (fact.level > capacity || (strict && fact.level == capacity))) {
            findings_.add_relation(path, fmt::format("'{}': {} holds at most {}", text, name, capacity),
                                   fmt::format("compare with less than {}", capacity),
                                   {fmt::format("meters.{}.capacity", chart_.meters[fact.index].name)});
            return std::nullopt;
        }
        fact.from += strict ? capacity * meter_quantum : 0.0;
    } else if (fact.quantity == Quantity::speed || fact.quantity == Quantity::rise) {
        fact.from += strict ? speed_offset : -speed_offset;
    }
    return with_derived_bit(compared, fact);
}

bool TermReader::read_value(const std::string& path, const std::string& text,
                            const std::vector<std::string>& words, const DerivedFact& fact, double& value) {
    const char* end = words[2].data() + words[2].size();
    const auto [rest, error] = std::from_chars(words[2].data(), end, value);
    const bool either_sign = fact.quantity == Quantity::rise;
    if (error != std::errc() || !(value >= (either_sign ? -1e9 : 0.0)) || !(value <= 1e9)) {
        findings_.add(
            path,
            fmt::format("'{}': '{}' is not a number{}", text, words[2], either_sign ? "" : " of 0 or more"),
            "write it such as 4.5");
        return false;
    }
    std::string unit(rest, end);
    for (std::size_t i = 3; i < words.size(); ++i) {
        unit += words[i];
    }
    return read_unit(path, text, fact, unit, value);
}

/// Units: m/s of a speed, s of a time, none or % (of the capacity) of a meter.
bool TermReader::read_unit(const std::string& path, const std::string& text, const DerivedFact& fact,
                           const std::string& unit, double& value) {
    if (fact.quantity == Quantity::meter && unit == "%") {
        value = chart_.meters[fact.index].capacity * value / 100.0;
        return true;
    }
    const bool is_speed = fact.quantity == Quantity::speed || fact.quantity == Quantity::rise;
    const char* own = is_speed ? "m/s" : fact.quantity == Quantity::time ? "s" : "";
    if (unit.empty() || unit == own) {
        return true;
    }
    findings_.add(path, fmt::format("'{}': '{}' is not a unit for this", text, unit),
                  is_speed                          ? "speeds are in m/s"
                  : fact.quantity == Quantity::time ? "times are in s"
                                                    : "levels have no unit, or % of the capacity");
    return false;
}

std::uint8_t TermReader::speed_above(double speed) {
    return with_derived_bit({}, {Quantity::speed, 0, speed + speed_offset, speed}).bit;
}

Term TermReader::meter_at_least(std::uint8_t meter, double level) {
    Term term = with_derived_bit({}, {Quantity::meter, meter, level, level});
    term.text = fmt::format("{} >= {}", meters_[meter], level);
    return term;
}

Term TermReader::time_below(double seconds) {
    Term term = with_derived_bit({}, {Quantity::time, 0, seconds, seconds});
    term.negated = true;
    term.text = fmt::format("time < {}", seconds);
    return term;
}

Term TermReader::latch_open(std::uint8_t meter) {
    Term term = with_derived_bit({}, {Quantity::latch, meter, 0.0, 0.0});
    term.negated = true;
    term.text = fmt::format("not {} spent", meters_[meter]);
    return term;
}

Term TermReader::cooldown_ready(std::uint8_t cooldown) {
    Term term = with_derived_bit({}, {Quantity::ready, cooldown, 0.0, 0.0});
    term.text = cooldowns_[cooldown] + " ready";
    return term;
}

Term TermReader::possible(std::uint8_t state) {
    Term term = with_derived_bit({}, {Quantity::possible, state, 0.0, 0.0});
    term.text = states_[state] + " possible";
    return term;
}

/// Past the limit the last bit is given again; the caller complains of the count.
Term TermReader::with_derived_bit(const Term& term, const DerivedFact& fact) {
    Term with_bit = term;
    auto found = std::find_if(derived_.begin(), derived_.end(), [&](const DerivedFact& known) {
        return known.quantity == fact.quantity && known.index == fact.index && known.from == fact.from;
    });
    if (found == derived_.end()) {
        derived_.push_back(fact);
        found = derived_.end() - 1;
    }
    with_bit.derived = true;
    with_bit.bit = static_cast<std::uint8_t>(
        std::min<std::size_t>(static_cast<std::size_t>(found - derived_.begin()), limits::derived_facts - 1));
    return with_bit;
}

}  // namespace cursimeter::detail
