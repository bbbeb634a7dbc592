#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/compile/compile.hpp"

/// Terms: text such as "not stamina >= 10%" becomes a fact that must, or must not, be set.
namespace cursimeter::detail {

/// A speed is compared this far off the chart's number, m/s: a state whose target is just that speed then meets
/// ">= 2.4" however its rounding falls. Far above the rounding of a speed, 1e-13 at most.
constexpr double speed_offset = 1e-11;

/// Words and operators of a term: "stamina>=10" is three.
[[nodiscard]] std::vector<std::string> split_term(const std::string& text);

/// Reads the terms of one chart and gives every comparison and latch a bit in Facts::derived.
class TermReader {
  public:
    TermReader(const ChartSpec& spec, const ChartData& chart, Findings& findings);

    /// The term, or nothing if it is wrong; then the findings say why.
    [[nodiscard]] std::optional<Term> read(const std::string& path, const std::string& text);
    /// The derived bit for a real speed above `speed`.
    [[nodiscard]] std::uint8_t speed_above(double speed);
    /// The terms that a state needs by its nature: a meter's level, a cooldown's end, what its kind asks for.
    [[nodiscard]] Term meter_at_least(std::uint8_t meter, double level);
    [[nodiscard]] Term time_below(double seconds);
    [[nodiscard]] Term latch_open(std::uint8_t meter);
    [[nodiscard]] Term cooldown_ready(std::uint8_t cooldown);
    [[nodiscard]] Term possible(std::uint8_t state);
    /// What each derived bit stands for, by bit.
    [[nodiscard]] const std::vector<DerivedFact>& derived_facts() const { return derived_; }

  private:
    std::optional<Term> read_fact(const std::string& path, const std::string& text,
                                  const std::vector<std::string>& words, const Term& term);
    std::optional<Term> read_action(const std::string& path, const std::string& text,
                                    const std::vector<std::string>& words, const Term& term);
    std::optional<Term> read_named(const std::string& path, const std::string& text,
                                   const std::vector<std::string>& words, const Term& term,
                                   Quantity quantity);
    std::optional<Term> read_zone(const std::string& path, const std::string& text,
                                  const std::vector<std::string>& words, const Term& term);
    std::optional<Term> read_latch(const std::string& path, const std::string& text,
                                   const std::vector<std::string>& words, const Term& term);
    std::optional<Term> read_comparison(const std::string& path, const std::string& text,
                                        const std::vector<std::string>& words, const Term& term);
    bool read_value(const std::string& path, const std::string& text, const std::vector<std::string>& words,
                    const DerivedFact& fact, double& value);
    bool read_unit(const std::string& path, const std::string& text, const DerivedFact& fact,
                   const std::string& unit, double& value);
    Term with_derived_bit(const Term& term, const DerivedFact& fact);

    const ChartData& chart_;
    Findings& findings_;
    std::vector<std::string> actions_, meters_, cooldowns_, modifiers_, states_, zones_, known_;
    std::vector<DerivedFact> derived_;
};

}  // namespace cursimeter::detail
