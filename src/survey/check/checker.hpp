#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/survey/check.hpp>
#include <set>

#include "survey/check/passage_map.hpp"

namespace cursimeter::survey {

/// Goes through a chart and gathers what is wrong with it.
class Checker {
  public:
    explicit Checker(const ChartSpec& spec)
        : spec_(spec), chart_(compile(spec)), data_(chart_.data()), map_(data_) {}
    [[nodiscard]] std::vector<Finding> run();
    /// Bit per state that comes and goes many times a second, by itself or with others: what is told as flicker and left at once.
    [[nodiscard]] detail::StateMask restless();

  private:
    // conditions.cpp
    void states_never_entered();
    void states_never_left();
    void restless_states();
    void terms();
    // restless_levels.cpp
    void restless_levels();
    // alternatives.cpp
    void alternatives();
    void outranked_alternatives();
    // amounts.cpp
    void meters();
    void cooldowns();
    void modifiers();
    void unused();
    void implausible();

    void add(Finding finding) { findings_.push_back(std::move(finding)); }
    [[nodiscard]] std::string told(const Knowledge& moment, const std::vector<std::uint8_t>& states) const;
    [[nodiscard]] std::string why_never(const detail::CompiledCondition& condition) const;
    [[nodiscard]] std::string conflict_in(const detail::Clause& clause) const;
    [[nodiscard]] bool is_inert(std::uint8_t index) const;
    [[nodiscard]] bool reads_speed(const AllOf& demands) const;
    [[nodiscard]] std::vector<std::uint8_t> ring_of(std::uint8_t from, const detail::Facts& facts) const;
    void tell_ring(const std::vector<std::uint8_t>& ring, const Knowledge& moment);
    [[nodiscard]] bool can_begin(const detail::CompiledState& state, const detail::Clause& clause) const;
    [[nodiscard]] std::string first_in_rank(std::uint8_t index, const AllOf& terms) const;
    [[nodiscard]] bool to_and_fro(std::uint8_t draining, std::uint8_t refilling, unsigned level) const;
    [[nodiscard]] bool comes_back(std::uint8_t meter) const;

    const ChartSpec& spec_;
    Chart chart_;
    const detail::ChartData& data_;
    PassageMap map_;
    std::vector<Finding> findings_;
    std::set<std::uint8_t> restless_;  ///< states that were told of as not staying
};

}  // namespace cursimeter::survey
