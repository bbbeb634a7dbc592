#pragma once

#include <cursimeter/runner.hpp>

#include "survey/require/asked.hpp"

namespace cursimeter::survey {

/// How long it takes at least, whatever is pressed, until a state can be had: because of levels that have to be refilled, cooldowns, or
/// because nothing leads there.
class Soonest {
  public:
    explicit Soonest(const Asked& asked);
    /// s, from this moment on; 0 if nothing keeps it, infinite if it never can be.
    [[nodiscard]] double from(const Runner& runner) const;

  private:
    [[nodiscard]] double by_clause(const detail::Clause& way, const Runner& runner) const;
    [[nodiscard]] double until_level(std::uint8_t meter, double level, const Runner& runner) const;
    [[nodiscard]] bool is_modified(unsigned measure) const;

    const Asked& asked_;
    detail::StateMask leads_there_ = 0;  ///< bit per state from which some way leads to it
};

}  // namespace cursimeter::survey
