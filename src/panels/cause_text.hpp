#pragma once

#include <cursimeter/tryout/history.hpp>
#include <string>

namespace cursimeter::panels {

/// Why a runner of the history is in its state, for a person.
inline std::string cause_text(const tryout::History& history, const Runner& runner) {
    if (const tryout::PlayedEvent* entered = history.entry_of(runner)) {
        return history.chart({entered->tick}).describe(entered->event.cause);
    }
    const bool began_so = runner.clock().value - runner.time_in_state().value < instant_width.value;
    return began_so ? "start" : "why is kept no longer";
}

}  // namespace cursimeter::panels
