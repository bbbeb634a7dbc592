#include "survey/scout/selection.hpp"

#include <algorithm>
#include <map>
#include <tuple>
#include <unordered_set>
#include <utility>

namespace cursimeter::survey {
namespace {

/// Ranks and indices.
using Order = std::vector<std::pair<std::uint64_t, std::size_t>>;

/// A cell; where something moves, at one part of its round. Who waits there is somewhere else by that.
std::uint64_t moment_of(const Candidate& one) {
    return one.cell ^ one.phase * 0x9e3779b97f4a7c15U;
}

/// Of two orders of the same indices the next of each in turn, each index once.
Order every_second(const Order& first, const Order& second) {
    Order merged;
    std::unordered_set<std::size_t> taken;
    for (std::size_t i = 0; i < first.size(); ++i) {
        for (const auto& one : {first[i], second[i]}) {
            if (taken.insert(one.second).second) {
                merged.push_back(one);
            }
        }
    }
    return merged;
}

/// As the places say, which hold indices in the order that is wanted.
template <class Place>
void put_in_order(std::vector<Candidate>& open, const std::vector<std::pair<Place, std::size_t>>& places) {
    std::vector<Candidate> ordered;
    ordered.reserve(places.size());
    for (const auto& [place, index] : places) {
        ordered.push_back(open[index]);
    }
    open = std::move(ordered);
}

}  // namespace

void Selection::order_by_share(std::vector<Candidate>& open, const WaveKind& kind) const {
    // Half of the places for the part of the world that leads to most, a quarter for the next, and so on, so that wide grounds from where
    // nothing leads on leave room for the others; in each a share for its quarters; in a quarter cells that are new first, then by chance.
    Order ranked(open.size());
    for (std::size_t i = 0; i < open.size(); ++i) {
        ranked[i] = {open[i].lot >> 1U | std::uint64_t{seen_.contains(moment_of(open[i]))} << 63U, i};
    }
    std::sort(ranked.begin(), ranked.end());
    // Each quarter's first, then each one's second ...; those come later that have had tries before.
    const auto in_turns = [&](const std::unordered_map<std::uint64_t, std::uint64_t>& before) {
        std::unordered_map<std::uint64_t, std::uint64_t> taken = before;
        Order order = ranked;
        for (auto& [rank, index] : order) {
            rank = taken[quarter_of(errand_, open[index].cell)]++;
        }
        std::sort(order.begin(), order.end());
        return order;
    };
    const Order even = in_turns({});
    // Few come to an islet, and a wave is soon past it: what is tried there has to be tried at once.
    ranked = kind.evens_out ? every_second(even, in_turns(tries_)) : even;
    std::map<std::pair<std::size_t, std::uint32_t>, std::vector<std::size_t>> parts;
    for (const auto& [rank, index] : ranked) {
        parts[{gates_of(open[index].cell), open[index].part}].push_back(index);
    }
    std::vector<LayerPart> here;
    for (const auto& [where, list] : parts) {
        here.push_back({where.first, map_.reach_of(where.second), where.second});
    }
    const std::vector<std::size_t> halvings = rank(here);
    std::vector<std::pair<std::size_t, std::size_t>> places;  // the lower the number, the sooner
    for (std::size_t k = 0; k < here.size(); ++k) {
        std::vector<std::size_t>& list = parts[{here[k].gates, here[k].part}];
        nearest_every_third(open, list);
        // From where little leads on a share is enough, even if there is room: the bed of a sea has no end.
        const bool leads_on = here[k].reach * 2 > map_.size_behind(here[k].gates);
        const std::size_t most = leads_on ? list.size() : std::min(list.size(), kind.width / 3 + 1);
        for (std::size_t i = 0; i < most; ++i) {
            places.emplace_back(i << std::min<std::size_t>(halvings[k], 8), list[i]);
        }
    }
    std::sort(places.begin(), places.end());
    put_in_order(open, places);
}

/// Behind each gate lies a world of its own, from which no way leads back through it. Half of the places are for those who have passed
/// most gates, a quarter for those who have passed one less, and so on; of these half for the part that leads to most.
std::vector<std::size_t> Selection::rank(std::vector<LayerPart>& parts) {
    std::sort(parts.begin(), parts.end(), [](const LayerPart& a, const LayerPart& b) {
        return std::tie(a.gates, a.reach, a.part) > std::tie(b.gates, b.reach, b.part);
    });
    std::vector<std::size_t> halvings;
    std::size_t behind = 0, within = 0;
    for (std::size_t k = 0; k < parts.size(); ++k) {
        const bool same_gates = k > 0 && parts[k].gates == parts[k - 1].gates;
        behind += k > 0 && !same_gates ? 1 : 0;
        within = same_gates ? within + 1 : 0;
        halvings.push_back(behind + within);
    }
    return halvings;
}

/// What to_goal leaves out is what there is to spend: who is ahead and has nothing left may never get over the next gap. So each
/// lot of means has an equal share.
void Selection::order_by_promise(std::vector<Candidate>& open) {
    std::sort(open.begin(), open.end(), [](const Candidate& a, const Candidate& b) {
        const std::uint64_t left = std::uint64_t{a.end} + a.to_goal, right = std::uint64_t{b.end} + b.to_goal;
        return left != right ? left < right : a.lot < b.lot;
    });
    std::unordered_map<std::uint64_t, std::uint64_t> taken;
    std::vector<std::pair<std::uint64_t, std::size_t>> ranked;
    for (std::size_t i = 0; i < open.size(); ++i) {
        ranked.emplace_back(taken[open[i].means]++, i);
    }
    std::sort(ranked.begin(), ranked.end());
    put_in_order(open, ranked);
}

void Selection::nearest_every_third(const std::vector<Candidate>& open,
                                    std::vector<std::size_t>& list) const {
    if (!errand_.has_goal()) {
        return;
    }
    std::vector<std::pair<float, std::size_t>> nearest;
    for (const std::size_t index : list) {
        nearest.emplace_back(open[index].to_next, index);
    }
    std::stable_sort(nearest.begin(), nearest.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<std::size_t> merged;
    std::unordered_set<std::size_t> taken;
    for (std::size_t i = 0, near = 0; i < list.size(); ++i) {
        if (taken.insert(list[i]).second) {
            merged.push_back(list[i]);
        }
        if (i % 2 == 1) {
            if (taken.insert(nearest[near].second).second) {
                merged.push_back(nearest[near].second);
            }
            ++near;
        }
    }
    list = std::move(merged);
}

std::vector<Candidate> Selection::select(std::vector<Candidate>& open, const WaveKind& kind) {
    kind.towards_goal ? order_by_promise(open) : order_by_share(open, kind);
    std::vector<Candidate> chosen;
    for (const Candidate& one : open) {
        if (chosen.size() >= kind.width) {
            break;
        }
        Seen& seen = seen_.try_emplace(moment_of(one), Seen{one.end, {}}).first->second;
        if (seen.likenesses.size() >= kind.cap || one.end > seen.first + kind.slack ||
            std::find(seen.likenesses.begin(), seen.likenesses.end(), one.likeness) !=
                seen.likenesses.end()) {
            continue;
        }
        seen.likenesses.push_back(one.likeness);
        seen.first = std::min(seen.first, one.end);
        chosen.push_back(one);
        ++tries_[quarter_of(errand_, one.cell)];
    }
    return chosen;
}

}  // namespace cursimeter::survey
