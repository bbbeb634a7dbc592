#include "survey/require/proof.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/chart/facts.hpp"
#include "survey/check/passage_map.hpp"
#include "survey/require/resting_hands.hpp"
#include "survey/require/visits.hpp"

namespace cursimeter::survey {
namespace {

namespace fact = detail::fact;

Literal literal(unsigned number, bool set) {
    return {static_cast<std::uint16_t>(number), set};
}

bool is_input(unsigned number) {
    return number < fact::grounded || fact::is_momentary(number);
}

class Proof {
  public:
    Proof(const Asked& asked, const PassageMap& map, detail::StateMask restless, const Speeds* speeds)
        : asked_(asked),
          data_(asked.data()),
          map_(map),
          reachable_(speeds != nullptr ? speeds->reachable() : map.reachable()),
          visits_(data_, map.solver(), restless, speeds) {}

    std::optional<std::string> run() {
        switch (asked_.requirement().kind) {
            case RequirementKind::never:
                return never();
            case RequirementKind::ends:
                return ends();
            case RequirementKind::possible:
                return possible();
        }
        return std::nullopt;
    }

  private:
    [[nodiscard]] bool is_reachable(std::uint8_t state) const {
        return state < asked_.states() && (reachable_ >> state & 1U) != 0;
    }
    [[nodiscard]] const std::string& name_of(std::uint8_t state) const { return data_.states[state].name; }

    std::optional<std::string> never() {
        bool any_reached = false;
        for (std::uint8_t state = 0; state < asked_.states(); ++state) {
            if ((asked_.state() && *asked_.state() != state) || !is_reachable(state)) {
                continue;
            }
            any_reached = true;
            if (asked_.terms() == nullptr) {
                return std::nullopt;
            }
            const AllOf during = visits_.during(state);
            for (AllOf moment : visits_.settled(state)) {
                append(moment, terms_of(data_, *asked_.terms()));
                append(moment, during);
                if (map_.solver().possible(moment)) {
                    return std::nullopt;
                }
            }
        }
        if (!any_reached) {
            return fmt::format("no moment brings {} about", asked_.requirement().state);
        }
        return asked_.state() ? fmt::format("what enters and keeps {} rules it out", name_of(*asked_.state()))
                              : std::string("what enters and keeps each state rules it out");
    }

    std::optional<std::string> ends() {
        const std::uint8_t state = *asked_.state();
        if (!is_reachable(state)) {
            return fmt::format("no moment brings {} about", name_of(state));
        }
        const std::optional<double> longest = visits_.longest(state);
        if (!longest || *longest > asked_.requirement().seconds) {
            return std::nullopt;
        }
        return fmt::format("what keeps {} is over after {:.6g} s", name_of(state), *longest);
    }

    std::optional<std::string> possible() {
        const std::uint8_t wanted = *asked_.state();
        const double waits = longest_waiting_press(data_, wanted);
        double most = 0.0;
        for (std::uint8_t state = 0; state < asked_.states(); ++state) {
            if (!is_reachable(state) || state == wanted || !asked_.begins_in(state)) {
                continue;
            }
            // Its keys may have to be let go first, which may bring another state about, as may presses that wait.
            const detail::StateMask after = after_letting_go(state, waits > 0.0);
            for (std::uint8_t next = 0; next < asked_.states(); ++next) {
                if ((after >> next & 1U) == 0) {
                    continue;
                }
                const std::optional<double> wait = longest_wait(next, 0);
                if (!wait || waits + *wait > asked_.requirement().seconds) {
                    return std::nullopt;
                }
                most = std::max(most, waits + *wait);
            }
        }
        return most > 0.0
                   ? fmt::format("its keys bring {} about after {:.6g} s at most", name_of(wanted), most)
                   : fmt::format("its keys bring {} about at once", name_of(wanted));
    }

    /// Where a runner may be once the keys were let go: at once, or after all that happens while presses still wait.
    [[nodiscard]] detail::StateMask after_letting_go(std::uint8_t state, bool presses_wait) const {
        detail::StateMask found = detail::StateMask{1} << state;
        const AllOf hands = hands_letting_go(data_);
        for (std::uint8_t next = 0; next < asked_.states(); ++next) {
            found |= next != state && may_take(state, next, hands) ? detail::StateMask{1} << next : 0U;
        }
        for (detail::StateMask before = 0; presses_wait && before != found;) {
            before = found;
            for (std::uint8_t from = 0; from < asked_.states(); ++from) {
                for (std::uint8_t to = 0; (before >> from & 1U) != 0 && to < asked_.states(); ++to) {
                    found |= from != to && map_.find(from, to, When::any, hands).has_value()
                                 ? detail::StateMask{1} << to
                                 : 0U;
                }
            }
        }
        return found;
    }

    /// s; until the keys of the wanted state bring it about for certain, if none is touched before.
    std::optional<double> longest_wait(std::uint8_t state, detail::StateMask passed) const {
        if (state == *asked_.state() || comes_at_once(state)) {
            return 0.0;
        }
        if ((passed >> state & 1U) != 0) {
            return std::nullopt;  // round and round
        }
        passed |= detail::StateMask{1} << state;
        const AllOf idle = hands_at_rest(data_);
        const std::optional<double> stays = visits_.longest(state, idle);
        if (!stays) {
            return std::nullopt;
        }
        double most = 0.0;
        for (std::uint8_t next = 0; next < asked_.states(); ++next) {
            if (next == state || !map_.find(state, next, When::any, idle)) {
                continue;
            }
            const std::optional<double> wait = longest_wait(next, passed);
            if (!wait) {
                return std::nullopt;
            }
            most = std::max(most, *wait);
        }
        return *stays + most;
    }

    /// Whether some hands take the runner from any moment in `state`, in which they were at rest, to the wanted one.
    [[nodiscard]] bool comes_at_once(std::uint8_t state) const {
        const std::uint8_t wanted = *asked_.state();
        const detail::CompiledState& compiled = data_.states[wanted];
        if ((compiled.from >> state & 1U) == 0) {
            return false;
        }
        for (std::uint16_t i = 0; i < std::max<std::uint16_t>(compiled.enter.clause_count, 1); ++i) {
            std::optional<AllOf> keys = hands_at_rest(data_);
            if (compiled.enter.clause_count != 0) {
                const detail::Clause& way =
                    data_.clauses[static_cast<std::size_t>(compiled.enter.first_clause) + i];
                keys = hands_for(data_, way);
            }
            if (keys && never_fails(state, *keys)) {
                return true;
            }
        }
        return false;
    }

    /// Whether, with such hands, no moment in `state` keeps the wanted one from being taken.
    [[nodiscard]] bool never_fails(std::uint8_t state, const AllOf& keys) const {
        std::vector<AllOf> failures;
        const std::uint8_t wanted = *asked_.state();
        AllOf before;
        for (const std::uint8_t tried : data_.rank) {
            if (tried == wanted) {
                break;
            }
            const detail::CompiledState& other = data_.states[tried];
            if (tried != state && (other.from >> state & 1U) == 0) {
                continue;
            }
            for (AllOf& way : ways_of(data_, tried == state ? other.stay : other.enter)) {
                failures.push_back(std::move(way));
            }
        }
        if (const std::optional<AllOf> none = none_of(data_, data_.states[wanted].enter)) {
            failures.push_back(*none);
        }
        return std::none_of(failures.begin(), failures.end(), [&](AllOf failure) {
            append(failure, keys);
            return can_follow(state, std::move(failure));
        });
    }

    /// Whether a runner that was settled in one state takes another as the hands become so.
    [[nodiscard]] bool may_take(std::uint8_t from, std::uint8_t to, const AllOf& keys) const {
        std::vector<AllOf> ways = map_.demands(from, to, When::any);
        return std::any_of(ways.begin(), ways.end(), [&](AllOf& way) {
            append(way, keys);
            return can_follow(from, std::move(way));
        });
    }

    /// Whether such a moment can follow on one in which the runner was settled in `state`, with other hands: all that no hand moves
    /// is then as it was.
    [[nodiscard]] bool can_follow(std::uint8_t state, AllOf moment) const {
        constexpr int most_tries = 256;
        append(moment, visits_.during(state));
        const std::vector<AllOf> settled = visits_.settled(state);
        for (int attempt = 0; attempt < most_tries; ++attempt) {
            const std::optional<Knowledge> found = map_.solver().solve(moment);
            if (!found) {
                return false;
            }
            AnyOf otherwise;
            AllOf rest;
            for (unsigned number = 0; number < derived_first + data_.derived_facts.size(); ++number) {
                if (!is_input(number) && found->knows(number)) {
                    rest.push_back({literal(number, found->is_set(number))});
                    otherwise.add(literal(number, !found->is_set(number)));
                }
            }
            const bool follows = std::any_of(settled.begin(), settled.end(), [&](AllOf before) {
                append(before, rest);
                return map_.solver().possible(before);
            });
            if (follows || rest.empty()) {
                return true;
            }
            moment.push_back(otherwise);
        }
        return true;  // not shown to be otherwise
    }

    const Asked& asked_;
    const detail::ChartData& data_;
    const PassageMap& map_;
    detail::StateMask reachable_;
    Visits visits_;
};

std::vector<VisitLimits> limits_of(const detail::ChartData& chart, const PassageMap& map,
                                   detail::StateMask restless) {
    const Visits visits(chart, map.solver(), restless, nullptr);
    std::vector<VisitLimits> all;
    for (std::uint8_t state = 0; state < chart.states.size(); ++state) {
        const std::vector<AllOf> settled = visits.settled(state);
        const bool aloft = std::any_of(settled.begin(), settled.end(), [&](AllOf moment) {
            moment.push_back({literal(fact::grounded, false)});
            return map.solver().possible(moment);
        });
        all.push_back({visits.longest(state).value_or(detail::never) + shortest_return.value, aloft});
    }
    return all;
}

}  // namespace

std::optional<Proven> prove(const Asked& asked, detail::StateMask restless) {
    const PassageMap map(asked.data());
    if (std::optional<std::string> because = Proof(asked, map, restless, nullptr).run()) {
        return Proven{std::move(*because), false};
    }
    const Speeds speeds(asked.data(), map, limits_of(asked.data(), map, restless));
    if (std::optional<std::string> because = Proof(asked, map, restless, &speeds).run()) {
        return Proven{std::move(*because), true};
    }
    return std::nullopt;
}

}  // namespace cursimeter::survey
