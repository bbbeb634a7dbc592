#include <fmt/format.h>

#include <algorithm>

#include "survey/check/checker.hpp"

/// States that follow each other many times a second because a level goes to and fro between them: one drains a meter until its
/// `stay` fails, another refills it at once, and the first asks for no more than that to be entered again.
namespace cursimeter::survey {
namespace {

using detail::DerivedFact;
using detail::Quantity;

/// What is left of demands where a fact is known: those that it meets are dropped, and it is taken out of the others.
AllOf where(const AllOf& demands, unsigned bit, bool is_set) {
    AllOf left;
    for (AnyOf any : demands) {
        const bool meets = is_set ? any.set.derived.test(bit) : any.clear.derived.test(bit);
        if (!meets) {
            any.set.derived.clear(bit);
            any.clear.derived.clear(bit);
            left.push_back(any);
        }
    }
    return left;
}

}  // namespace

/// Whether there is a moment at which nothing but this level decides between the two.
bool Checker::to_and_fro(std::uint8_t draining, std::uint8_t refilling, unsigned level) const {
    const DerivedFact& fact = data_.derived_facts[level];
    AllOf both;  // that holds on either side of the level
    for (std::size_t bit = 0; bit < data_.derived_facts.size(); ++bit) {
        const DerivedFact& other = data_.derived_facts[bit];
        if (bit == level || other.index != fact.index) {
            continue;
        }
        if (other.quantity == Quantity::meter && other.from != fact.from) {
            both.push_back({derived(bit, other.from < fact.from)});
        } else if (other.quantity == Quantity::latch) {
            const detail::CompiledMeter& meter = data_.meters[fact.index];
            const double nearly = 2.0 * meter.capacity * detail::meter_quantum;
            if (fact.from <= meter.spent->at + nearly) {
                both.push_back({derived(bit, true)});  // it closes here, and stays so for a while
            } else if (fact.from >= meter.spent->until) {
                both.push_back({derived(bit, false)});
            }
        }
    }
    const std::vector<AllOf> away = map_.demands(draining, refilling, When::steady);
    const std::vector<AllOf> back = map_.demands(refilling, draining, When::steady);
    std::optional<AllOf> ended = none_of(data_, data_.states[draining].stay);
    if (!ended) {
        return false;
    }
    for (const AllOf& first : away) {
        for (const AllOf& second : back) {
            AllOf all = where(first, level, false);
            const AllOf returning = where(second, level, true);
            const AllOf leaving = where(*ended, level, false);
            all.insert(all.end(), returning.begin(), returning.end());
            all.insert(all.end(), leaving.begin(), leaving.end());
            all.insert(all.end(), both.begin(), both.end());
            if (map_.solver().possible(all)) {
                return true;
            }
        }
    }
    return false;
}

void Checker::restless_levels() {
    for (std::uint8_t draining = 0; draining < data_.states.size(); ++draining) {
        const detail::CompiledState& state = data_.states[draining];
        if ((map_.reachable() >> draining & 1U) == 0 || !is_inert(draining)) {
            continue;
        }
        for (unsigned level = 0; level < data_.derived_facts.size(); ++level) {
            const DerivedFact& fact = data_.derived_facts[level];
            if (fact.quantity != Quantity::meter || (state.drained >> fact.index & 1U) == 0) {
                continue;
            }
            const detail::CompiledMeter& meter = data_.meters[fact.index];
            for (std::uint8_t refilling = 0; refilling < data_.states.size(); ++refilling) {
                const bool refills = meter.refill_rate > 0.0 && meter.refill_wait == 0.0 &&
                                     (meter.refill_in >> refilling & 1U) != 0 &&
                                     (data_.states[refilling].drained >> fact.index & 1U) == 0;
                if (refilling == draining || !refills || !map_.leads(draining, refilling) ||
                    !map_.leads(refilling, draining) || !to_and_fro(draining, refilling, level) ||
                    !restless_.insert(draining).second) {
                    continue;
                }
                const std::string& other = data_.states[refilling].name;
                add({Severity::error,
                     FindingKind::flicker,
                     {"states." + state.name + ".stay", "states." + state.name + ".enter",
                      fmt::format("meters.{}.refill", meter.name)},
                     fmt::format("{} and {} follow each other many times a second once {} is down to {:g}: "
                                 "{} drains it, {} "
                                 "refills it at once, and {} asks for no more",
                                 state.name, other, meter.name, fact.level, state.name, other, state.name),
                     fmt::format(
                         "let {} need more to be entered than to be kept, or give {} a `spent` latch or "
                         "its refill a wait",
                         state.name, meter.name),
                     {state.name, other},
                     {},
                     {}});
            }
        }
    }
}

}  // namespace cursimeter::survey
