#pragma once

#include <cursimeter/chart.hpp>

#include "core/chart/chart_data.hpp"
#include "survey/require/requirement.hpp"

/// A requirement with a chart that knows its terms.
namespace cursimeter::survey {

/// The terms stand in a copy of the chart, as the `enter` of one more state that nothing leads to: they are facts like all others there,
/// and no run is changed.
class Asked {
  public:
    /// Throws ChartError, whose path is "require", for terms that are wrong and a chart without room.
    Asked(const ChartSpec& spec, Requirement requirement);

    [[nodiscard]] const Requirement& requirement() const { return requirement_; }
    [[nodiscard]] const Chart& chart() const { return chart_; }
    [[nodiscard]] const detail::ChartData& data() const { return chart_.data(); }
    /// How many states the chart has of its own.
    [[nodiscard]] std::uint8_t states() const { return states_; }
    /// That it is about; nothing for any.
    [[nodiscard]] std::optional<std::uint8_t> state() const { return state_; }
    [[nodiscard]] bool begins_in(std::uint8_t state) const { return (from_ >> state & 1U) != 0; }
    /// The terms, which must hold together; null if there are none.
    [[nodiscard]] const detail::Clause* terms() const;

  private:
    [[nodiscard]] std::uint8_t index_of(const std::string& name) const;

    Requirement requirement_;
    std::uint8_t states_ = 0;
    Chart chart_;
    std::optional<std::uint8_t> state_;
    detail::StateMask from_ = 0;
};

}  // namespace cursimeter::survey
