#include "core/runner/holders.hpp"

#include <algorithm>
#include <tuple>

namespace cursimeter::detail {
namespace {

bool is(const Holder& holder, std::uint8_t modifier, std::uint8_t source) {
    return holder.strength != 0 && holder.modifier == modifier && holder.source == source;
}

/// So that equal sets lie equally.
void sort(RunnerState& runner) {
    std::sort(runner.holders.begin(), runner.holders.end(), [](const Holder& a, const Holder& b) {
        return std::tuple(a.strength == 0, a.modifier, a.source) <
               std::tuple(b.strength == 0, b.modifier, b.source);
    });
}

}  // namespace

bool is_holder(const RunnerState& runner, const ModifierState& state, std::uint8_t source) {
    return state.source == source ||
           std::any_of(runner.holders.begin(), runner.holders.end(),
                       [&](const Holder& holder) { return is(holder, state.modifier, source); });
}

void add_holder(RunnerState& runner, ModifierState& state, std::uint8_t source, std::uint8_t strength) {
    if (state.source == source) {
        state.strength = strength;
        return;
    }
    auto holder = std::find_if(runner.holders.begin(), runner.holders.end(),
                               [&](const Holder& known) { return is(known, state.modifier, source); });
    if (holder == runner.holders.end()) {
        holder = runner.holders.end() - 1;
        if (holder->strength != 0) {
            return;
        }
    }
    *holder = {state.modifier, source, strength};
    sort(runner);
}

Hold drop_holder(RunnerState& runner, ModifierState& state, std::uint8_t source) {
    const bool named = state.source == source;
    const auto holder = std::find_if(runner.holders.begin(), runner.holders.end(), [&](const Holder& known) {
        return named ? known.strength != 0 && known.modifier == state.modifier
                     : is(known, state.modifier, source);
    });
    if (holder == runner.holders.end()) {
        return named ? Hold::last : Hold::none;
    }
    if (named) {  // another takes its place
        state.source = holder->source;
        state.strength = holder->strength;
    }
    *holder = {};
    sort(runner);
    return Hold::others;
}

void drop_others(RunnerState& runner, std::uint8_t modifier) {
    for (Holder& holder : runner.holders) {
        holder = holder.modifier == modifier ? Holder{} : holder;
    }
    sort(runner);
}

std::uint8_t strength_of(const RunnerState& runner, const ModifierState& state) {
    std::uint8_t strength = state.strength;
    for (const Holder& holder : runner.holders) {
        if (holder.strength == 0) {
            break;
        }
        strength = holder.modifier == state.modifier ? std::max(strength, holder.strength) : strength;
    }
    return strength;
}

}  // namespace cursimeter::detail
