#pragma once

#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/script.hpp>
#include <functional>
#include <limits>

#include "core/choose/looking_on.hpp"

/// The one loop that follows a script, with others looking on.
namespace cursimeter::survey {

struct TickWatch {
    detail::ChoiceWatch choices;  ///< told of every choice among the states
    std::function<void(const Runner&, const Script::Tick&, Seconds)> begin;
    std::function<void(const Runner&, const Report&)> end;
};

/// `course` may be null: open ground. The run ends at `until`, s, though it be inside a tick.
[[nodiscard]] Run run_watched(const Chart& chart, Script& script, const Course* course, bool keep_samples,
                              const TickWatch& watch, double until = std::numeric_limits<double>::infinity());
/// The part of an intent that counts before a time in its tick, s.
[[nodiscard]] Intent cut_intent(const Intent& intent, double seconds);

}  // namespace cursimeter::survey
