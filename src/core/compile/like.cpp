#include <fmt/format.h>

#include <algorithm>
#include <type_traits>

#include "core/chart/state_keys.hpp"
#include "core/compile/compile.hpp"

/// `like`: a state takes over every key that it does not say. Which keys there are is told by the table of
/// keys, so a new one cannot be forgotten here.
namespace cursimeter::detail {
namespace {

/// Calls `each` with every value of a state, in the order of the table.
template <class Each>
class ValueWalk {
  public:
    explicit ValueWalk(Each each) : each_(std::move(each)) {}
    template <class Value>
    void number(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void angle(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void truth(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void text(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void numbers(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void names(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void condition(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void curve(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value>
    void rates(const keys::Key& /*key*/, Value& value) {
        each_(value);
    }
    template <class Value, class Names>
    void choice(const keys::Key& /*key*/, Value& value, const Names& /*names*/) {
        each_(value);
    }
    template <class Value, class Names>
    void choices(const keys::Key& /*key*/, Value& value, const Names& /*names*/) {
        each_(value);
    }
    template <class Spec, class Describe>
    void table(const keys::Key& /*key*/, Spec& spec, Describe describe) {
        describe(*this, spec);
    }

  private:
    Each each_;
};

template <class T>
void take_over(std::optional<T>& mine, const std::optional<T>& theirs) {
    if (!mine) {
        mine = theirs;
    }
}

void take_over(std::vector<RateSpec>& mine, const std::vector<RateSpec>& theirs) {
    for (const RateSpec& rate : theirs) {
        const bool said = std::any_of(mine.begin(), mine.end(),
                                      [&](const RateSpec& own) { return own.meter == rate.meter; });
        if (!said) {
            mine.push_back(rate);
        }
    }
}

void take_over(StateSpec& mine, StateSpec theirs) {
    if (mine.gain.law && theirs.gain.law && *mine.gain.law != *theirs.gain.law) {
        theirs.gain = {};  // another law's numbers mean nothing here
    }
    if (mine.burst.speed || mine.burst.metres) {  // either of them says how far it goes
        theirs.burst.speed.reset();
        theirs.burst.metres.reset();
    }
    // Both walks meet the same values in the same order, so each is of its partner's type.
    std::vector<const void*> values;
    ValueWalk donor([&](const auto& value) { values.push_back(&value); });
    keys::describe_state(donor, theirs);
    std::size_t next = 0;
    ValueWalk taker([&](auto& value) {
        using Value = std::remove_cvref_t<decltype(value)>;
        take_over(value, *static_cast<const Value*>(values[next++]));
    });
    keys::describe_state(taker, mine);
}

/// Resolves one state after the state it is like. `open` are the states being resolved.
class LikeResolver {
  public:
    LikeResolver(const ChartSpec& spec, Findings& findings)
        : states_(spec.states), names_(names_of(spec.states)), done_(states_.size()), findings_(findings) {}

    std::vector<StateSpec> run() {
        for (std::size_t i = 0; i < states_.size(); ++i) {
            resolve(i);
        }
        return std::move(states_);
    }

  private:
    void resolve(std::size_t index) {
        StateSpec& state = states_[index];
        if (done_[index] || !state.like) {
            done_[index] = true;
            return;
        }
        const std::string path = fmt::format("states.{}.like", state.name);
        const auto found = std::find(names_.begin(), names_.end(), *state.like);
        if (found == names_.end()) {
            findings_.add(path, fmt::format("no state is named '{}'", *state.like),
                          advise_name(*state.like, names_));
            give_up(index);
            return;
        }
        const auto other = static_cast<std::size_t>(found - names_.begin());
        const auto begin = std::find(open_.begin(), open_.end(), index);
        if (begin != open_.end()) {
            std::string ring;
            for (auto it = begin; it != open_.end(); ++it) {
                ring += names_[*it] + " is like ";
            }
            findings_.add(path, fmt::format("goes round in a circle: {}{}", ring, state.name),
                          "let one of them say everything itself");
            for (auto it = begin; it != open_.end(); ++it) {
                give_up(*it);
            }
            return;
        }
        open_.push_back(index);
        resolve(other);
        open_.pop_back();
        if (!done_[index]) {
            take_over(state, states_[other]);
            done_[index] = true;
        }
    }

    /// What the state would have taken over is unknown, and not missing: complain of nothing else.
    void give_up(std::size_t index) {
        StateSpec& state = states_[index];
        state.kind = state.kind.value_or(StateKind::ground);
        state.speed.forward = state.speed.forward.value_or(1.0);
        state.burst.seconds = state.burst.seconds.value_or(1.0);
        state.burst.speed = state.burst.speed.value_or(1.0);
        done_[index] = true;
    }

    std::vector<StateSpec> states_;
    std::vector<std::string> names_;
    std::vector<bool> done_;
    std::vector<std::size_t> open_;
    Findings& findings_;
};

}  // namespace

std::vector<StateSpec> resolve_like(const ChartSpec& spec, Findings& findings) {
    return LikeResolver(spec, findings).run();
}

}  // namespace cursimeter::detail
