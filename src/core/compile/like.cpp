#include <fmt/format.h>

#include <algorithm>

#include "core/chart/chart_keys.hpp"
#include "core/compile/compile.hpp"

/// `like`: a state takes over every key that it does not say. Which keys there are is told by the table of
/// keys, so a new one cannot be forgotten here.
namespace cursimeter::detail {
namespace {

/// Takes over from another spec what one does not say.
struct TakeOver {
    const void* theirs;

    template <class T>
    void meet(const keys::Key& /*key*/, const keys::Value<T>& value, void* mine) {
        const T* said = value.said(theirs);
        if (value.said(mine) == nullptr && said != nullptr) {
            value.say(mine) = *said;
        }
    }
    /// Meter by meter.
    void meet(const keys::Key& /*key*/, const keys::Value<keys::Rates>& value, void* mine) {
        keys::Rates& own = value.say(mine);
        for (const RateSpec& rate : *value.said(theirs)) {
            const bool said = std::any_of(own.begin(), own.end(), [&](const RateSpec& mine_too) {
                return mine_too.meter == rate.meter;
            });
            if (!said) {
                own.push_back(rate);
            }
        }
    }
    void meet(const keys::Key& /*key*/, const keys::Inner& inner, void* mine) {
        TakeOver within{inner.said(theirs)};
        keys::walk(inner.rows, inner.say(mine), within);
    }
    /// One word, or a list of them.
    template <class Words>
    void meet(const keys::Key& /*key*/, const Words& words, void* mine) {
        const auto said = words.said(theirs);
        if (!words.said(mine) && said) {
            words.say(mine, *said);
        }
    }
    /// A state holds no lists of tables.
    void meet(const keys::Key& /*key*/, const keys::Named& /*named*/, void* /*mine*/) {}
    void meet(const keys::Key& /*key*/, const keys::Listed& /*listed*/, void* /*mine*/) {}
};

void take_over(StateSpec& mine, StateSpec theirs) {
    if (mine.gain.law && theirs.gain.law && *mine.gain.law != *theirs.gain.law) {
        theirs.gain = {.turn = theirs.gain.turn};  // another law's numbers mean nothing here
    }
    if (mine.burst.speed || mine.burst.metres) {  // either of them says how far it goes
        theirs.burst.speed.reset();
        theirs.burst.metres.reset();
    }
    TakeOver taker{&theirs};
    keys::walk(keys::state_table().rows, static_cast<void*>(&mine), taker);
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
