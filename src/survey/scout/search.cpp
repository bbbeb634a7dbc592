#include "survey/scout/search.hpp"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <unordered_set>

#include "survey/scout/work.hpp"

namespace cursimeter::survey {
namespace {

constexpr double layer_seconds = 0.1;
constexpr std::size_t most_arrivals = 256;  // that are kept

}  // namespace

Way way_of(const std::vector<Step>& steps, std::uint32_t step, std::uint32_t end) {
    Way way;
    way.end = end;
    for (std::uint32_t at = step; at != no_step; at = steps[at].parent) {
        for (std::size_t i = steps[at].count; i-- > 0;) {
            way.turns.push_back(steps[at].turns[i]);
        }
    }
    std::reverse(way.turns.begin(), way.turns.end());
    while (!way.turns.empty() && way.turns.back().tick >= end) {
        way.turns.pop_back();
    }
    return way;
}

Search::Search(const Errand& errand, unsigned threads)
    : errand_(errand),
      maker_(errand),
      threads_(threads),
      layer_ticks_(static_cast<std::uint32_t>(std::max(1L, std::lround(layer_seconds * errand.plan.rate)))) {
    for (unsigned i = 0; i < threads; ++i) {
        players_.emplace_back(errand);
    }
    steps_.emplace_back();
    const Situation start = errand.start();
    stood_[place_of(cell_of(errand, start))] = {0, 0, cell_of(errand, start)};
}

void Search::survey_parts() {
    if (map_.size() > look_again_) {
        map_.find_parts();
        look_again_ = map_.size() + map_.size() / 3;
    }
}

void Search::explore(std::size_t width) {
    wave({width, 6, static_cast<std::uint32_t>(std::lround(2.0 * errand_.plan.rate)), false});
}

void Search::narrow(std::size_t width) {
    map_.settle();
    wave({width, 10, static_cast<std::uint32_t>(std::lround(1.5 * errand_.plan.rate)), true});
}

void Search::wave(const Limits& limits) {
    ++pass_;
    layers_.assign(errand_.last_tick / layer_ticks_ + 1, {});
    kept_.clear();
    seen_.clear();
    const bool had_found = found();
    const Situation start = errand_.start();
    Candidate first;
    first.end = 0;
    first.cell = cell_of(errand_, start);
    first.likeness = likeness_of(errand_, start);
    layers_[0].push_back(first);
    std::uint32_t last = errand_.last_tick;
    for (std::uint32_t layer = 0; layer < layers_.size() && !ended_; ++layer) {
        std::vector<Candidate> open = std::move(layers_[layer]);
        layers_[layer].clear();
        if (open.empty() || layer * layer_ticks_ > last) {
            continue;
        }
        if (!limits.towards_goal) {
            survey_parts();
        }
        grow(layer, select(open, limits), limits);
        ended_ = going_on && !going_on();
        if (!had_found && found() && errand_.has_goal()) {  // a little more, for what comes right behind
            last = std::min(last, (layer + 10) * layer_ticks_);
        }
        if (limits.towards_goal) {
            last = static_cast<std::uint32_t>(best() * errand_.plan.rate);
        }
    }
}

void Search::order(std::vector<Candidate>& open, const Limits& limits) {
    if (limits.towards_goal) {
        order_by_promise(open);
        return;
    }
    // Half of the places for the part of the world that leads to most, a quarter for the next, and so on, so that wide grounds from where
    // nothing leads on leave room for the others; in each an equal share for its quarters; in a quarter cells that are new
    // first, then by chance.
    std::vector<std::pair<std::uint64_t, std::size_t>> ranked(open.size());
    for (std::size_t i = 0; i < open.size(); ++i) {
        ranked[i] = {open[i].lot >> 1U | std::uint64_t{seen_.contains(open[i].cell)} << 63U, i};
    }
    const auto rank_within = [&](auto&& group_of) {
        std::sort(ranked.begin(), ranked.end());
        std::unordered_map<std::uint64_t, std::uint64_t> taken;
        for (auto& [rank, index] : ranked) {
            rank = taken[group_of(open[index])]++;
        }
    };
    rank_within([&](const Candidate& one) { return quarter_of(errand_, one.cell); });
    std::sort(ranked.begin(), ranked.end());
    std::map<std::uint32_t, std::vector<std::size_t>> parts;
    for (const auto& [rank, index] : ranked) {
        parts[open[index].part].push_back(index);
    }
    std::vector<std::pair<std::size_t, std::uint32_t>> by_reach;
    for (const auto& [part, list] : parts) {
        by_reach.emplace_back(map_.reach_of(part), part);
    }
    std::sort(by_reach.rbegin(), by_reach.rend());
    std::vector<std::pair<std::size_t, std::size_t>> places;  // the lower the number, the sooner
    for (std::size_t rank = 0; rank < by_reach.size(); ++rank) {
        std::vector<std::size_t>& list = parts[by_reach[rank].second];
        nearest_every_third(open, list);
        // From where little leads on a share is enough, even if there is room: the bed of a sea has no end.
        const bool leads_on = by_reach[rank].first * 2 > map_.size();
        const std::size_t most = leads_on ? list.size() : std::min(list.size(), limits.width / 3 + 1);
        for (std::size_t i = 0; i < most; ++i) {
            places.emplace_back(i << std::min<std::size_t>(rank, 8), list[i]);
        }
    }
    std::sort(places.begin(), places.end());
    std::vector<Candidate> ordered;
    ordered.reserve(open.size());
    for (const auto& [place, index] : places) {
        ordered.push_back(open[index]);
    }
    open = std::move(ordered);
}

/// What to_goal leaves out is what there is to spend: who is ahead and has nothing left may never get over the next gap. So each
/// lot of means has an equal share.
void Search::order_by_promise(std::vector<Candidate>& open) {
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
    std::vector<Candidate> ordered;
    ordered.reserve(open.size());
    for (const auto& [rank, index] : ranked) {
        ordered.push_back(open[index]);
    }
    open = std::move(ordered);
}

void Search::nearest_every_third(const std::vector<Candidate>& open, std::vector<std::size_t>& list) const {
    const std::optional<glm::dvec3> goal = errand_.goal_place();
    if (!goal) {
        return;
    }
    std::vector<std::pair<double, std::size_t>> nearest;
    for (const std::size_t index : list) {
        nearest.emplace_back(glm::distance(middle_of(errand_, open[index].cell), *goal), index);
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

std::vector<Search::Candidate> Search::select(std::vector<Candidate>& open, const Limits& limits) {
    order(open, limits);
    std::vector<Candidate> chosen;
    for (const Candidate& one : open) {
        if (chosen.size() >= limits.width) {
            break;
        }
        Seen& seen = seen_.try_emplace(one.cell, Seen{one.end, {}}).first->second;
        if (seen.likenesses.size() >= limits.cap || one.end > seen.first + limits.slack ||
            std::find(seen.likenesses.begin(), seen.likenesses.end(), one.likeness) !=
                seen.likenesses.end()) {
            continue;
        }
        seen.likenesses.push_back(one.likeness);
        seen.first = std::min(seen.first, one.end);
        chosen.push_back(one);
    }
    return chosen;
}

Search::Outcome Search::try_stint(Player& player, Situation& now, std::uint32_t step,
                                  std::uint64_t number) const {
    Dice dice(errand_.plan.seed * 1000 + pass_, number);
    std::optional<glm::dvec3> ahead = errand_.next_place(now.progress);
    if (const auto cell = map_.find(cell_of(errand_, now)); cell && dice.percent(70)) {
        if (const auto next = map_.next(*cell)) {
            ahead = middle_of(errand_, *next);
        }
    }
    Stint stint = maker_.make(now, ahead, dice);
    stint.ticks =
        static_cast<std::uint16_t>(std::min<std::uint32_t>(stint.ticks, errand_.last_tick - now.tick));
    Outcome outcome;
    CellKey last = cell_of(errand_, now);
    CellKey last_stood = last;
    const Played played = play(player, now, stint, [&](const Situation& there) {
        const CellKey cell = cell_of(errand_, there);
        if (cell != last) {
            outcome.passed.push_back({cell, there.tick});
            last = cell;
        }
        if (cell != last_stood && there.runner.grounded()) {
            outcome.stood.push_back({cell, there.tick});
            last_stood = cell;
        }
    });
    outcome.outcome = played.outcome;
    outcome.arrived = now.progress.arrived;
    Candidate& candidate = outcome.candidate;
    candidate.parent = step;
    candidate.end = now.tick;
    candidate.turns = played.turns;
    candidate.count = played.count;
    candidate.cell = last;
    candidate.likeness = likeness_of(errand_, now);
    candidate.means = means_of(errand_, now);
    candidate.lot = dice.next();
    return outcome;
}

void Search::grow(std::uint32_t layer, const std::vector<Candidate>& chosen, const Limits& limits) {
    Layer grown;
    grown.situations.resize(chosen.size());
    grown.steps.resize(chosen.size());
    for (std::size_t i = 0; i < chosen.size(); ++i) {
        const Candidate& one = chosen[i];
        if (one.parent == no_step) {
            grown.steps[i] = 0;
            continue;
        }
        grown.steps[i] = static_cast<std::uint32_t>(steps_.size());
        steps_.push_back({one.parent, one.end, one.turns, one.count});
    }
    const std::uint64_t before = stints_;
    stints_ += chosen.size() * stints_each;
    std::vector<std::array<Outcome, stints_each>> outcomes(chosen.size());
    work_in_parallel(chosen.size(), threads_, [&](std::size_t worker, std::size_t i) {
        const Candidate& one = chosen[i];
        Situation& now = grown.situations[i];
        if (one.parent == no_step) {
            now = errand_.start();
        } else {
            const Layer& parents = kept_[one.layer - kept_.front().first].second;
            now = parents.situations[one.slot];
            Way way;
            way.turns.assign(one.turns.begin(), one.turns.begin() + one.count);
            way.end = one.end;
            static_cast<void>(players_[worker].follow(now, way));
        }
        for (std::size_t k = 0; k < stints_each; ++k) {
            Situation copy = now;
            outcomes[i][k] = try_stint(players_[worker], copy, grown.steps[i], before + i * stints_each + k);
        }
    });
    while (!kept_.empty() && kept_.front().first + layers_kept < layer) {
        kept_.pop_front();
    }
    if (!kept_.empty()) {  // layers without anything have their place too
        for (std::uint32_t at = kept_.back().first + 1; at < layer; ++at) {
            kept_.emplace_back(at, Layer{});
        }
    }
    for (std::size_t i = 0; i < chosen.size(); ++i) {
        const std::uint32_t from = map_.number_of(chosen[i].cell);
        for (Outcome& outcome : outcomes[i]) {
            outcome.candidate.layer = layer;
            outcome.candidate.slot = static_cast<std::uint32_t>(i);
            outcome.candidate.part = chosen[i].part;
            offer(outcome, learn(outcome, from, chosen[i].end), from, limits);
        }
    }
    kept_.emplace_back(layer, std::move(grown));
    count_ticks();
}

void Search::count_ticks() {
    ticks_ = 0;
    for (const Player& player : players_) {
        ticks_ += player.ticks();
    }
}

std::uint32_t Search::learn(const Outcome& outcome, std::uint32_t from_cell, std::uint32_t begin) {
    const Candidate& one = outcome.candidate;
    std::uint32_t last = from_cell, last_tick = begin;
    for (const Standing& passed : outcome.passed) {
        const std::uint32_t cell = map_.number_of(passed.cell);
        map_.add_passage(last, cell, std::max(1U, passed.tick - last_tick));
        last = cell;
        last_tick = passed.tick;
    }
    for (const Standing& stood : outcome.stood) {
        FirstStand& first = stood_[place_of(stood.cell)];
        if (stood.tick < first.tick) {
            if (first.step == no_step) {
                first.step = static_cast<std::uint32_t>(steps_.size());
                steps_.push_back({one.parent, one.end, one.turns, one.count});
            } else {
                steps_[first.step] = {one.parent, one.end, one.turns, one.count};
            }
            first.tick = stood.tick;
            first.cell = stood.cell;
        }
    }
    if (outcome.outcome == Player::Outcome::arrived) {
        map_.add_arrival(last, one.end - last_tick);
        note_arrival(outcome);
    }
    return last;
}

void Search::offer(Outcome& outcome, std::uint32_t last_cell, std::uint32_t from_cell, const Limits& limits) {
    Candidate& one = outcome.candidate;
    const std::size_t layer = (one.end + layer_ticks_ - 1) / layer_ticks_;
    if (outcome.outcome != Player::Outcome::on || one.end >= errand_.last_tick) {
        return;
    }
    if (limits.towards_goal) {
        one.to_goal = map_.to_goal(last_cell);
        if (one.to_goal ==
            no_time) {  // nobody has gone on from there yet: not nearer than where it came from
            one.to_goal = map_.to_goal(from_cell);
        }
        if (one.to_goal == no_time ||
            static_cast<double>(one.end + one.to_goal) > best() * errand_.plan.rate) {
            return;
        }
    }
    one.part = map_.part_of(last_cell).value_or(one.part);
    layers_[layer].push_back(one);
}

void Search::note_arrival(const Outcome& outcome) {
    ++arrival_count_;
    const Found found{outcome.arrived, static_cast<std::uint32_t>(steps_.size()), outcome.candidate.end};
    if (arrivals_.size() >= most_arrivals && found.seconds >= arrivals_.back().seconds) {
        return;
    }
    const Candidate& one = outcome.candidate;
    steps_.push_back({one.parent, one.end, one.turns, one.count});
    arrivals_.insert(std::upper_bound(arrivals_.begin(), arrivals_.end(), found,
                                      [](const Found& a, const Found& b) { return a.seconds < b.seconds; }),
                     found);
    if (arrivals_.size() > most_arrivals) {
        arrivals_.pop_back();
    }
}

std::vector<Arrival> Search::arrivals() const {
    std::vector<Arrival> list;
    for (const Found& found : arrivals_) {
        list.push_back({found.seconds, way_of(steps_, found.step, found.end)});
    }
    return list;
}

std::vector<ReachedPlace> Search::places() {
    map_.find_parts();
    std::vector<ReachedPlace> list;
    for (const auto& [cell, first] : stood_) {
        const glm::dvec3 at = middle_of(errand_, cell);
        const std::optional<std::uint32_t> number = map_.find(first.cell);
        list.push_back({{at.x, at.y, at.z},
                        errand_.time_of(first.tick),
                        number && map_.returns(*number),
                        first.step,
                        first.tick});
    }
    std::sort(list.begin(), list.end(), [](const ReachedPlace& a, const ReachedPlace& b) {
        return a.ticks != b.ticks ? a.ticks < b.ticks : a.middle < b.middle;
    });
    return list;
}

}  // namespace cursimeter::survey
