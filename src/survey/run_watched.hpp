#pragma once

#include <cursimeter/survey/run.hpp>
#include <functional>

#include "core/choose/looking_on.hpp"

/// The one loop that plays a drill, with others looking on.
namespace cursimeter::survey {

struct TickWatch {
    detail::ChoiceWatch choices;  ///< told of every choice among the states
    std::function<void(const Runner&, const Intent&, Seconds)> begin;
    std::function<void(const Runner&, const Report&)> end;
};

/// `course` may be null: open ground.
[[nodiscard]] Run run_watched(const Chart& chart, const Drill& drill, const Course* course,
                              std::span<const double> tick_ends, bool keep_samples, const TickWatch& watch);

}  // namespace cursimeter::survey
