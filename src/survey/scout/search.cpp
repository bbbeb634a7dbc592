#include "survey/scout/search.hpp"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "survey/work.hpp"

namespace cursimeter::survey {
namespace {

constexpr double layer_seconds = 0.1;
constexpr std::size_t most_arrivals = 256;  // that are kept

}  // namespace

Way way_of(const std::vector<Branch>& branches, std::uint32_t branch, std::uint32_t end) {
    Way way;
    way.end = end;
    for (std::uint32_t at = branch; at != no_number; at = branches[at].parent) {
        for (std::size_t i = branches[at].count; i-- > 0;) {
            way.changes.push_back(branches[at].changes[i]);
        }
    }
    std::reverse(way.changes.begin(), way.changes.end());
    while (!way.changes.empty() && way.changes.back().tick >= end) {
        way.changes.pop_back();
    }
    return way;
}

Search::Search(const Errand& errand, unsigned threads)
    : errand_(errand),
      maker_(errand),
      threads_(threads),
      layer_ticks_(static_cast<std::uint32_t>(std::max(1L, std::lround(layer_seconds * errand.plan.rate)))),
      selection_(errand, map_) {
    for (unsigned i = 0; i < threads; ++i) {
        players_.emplace_back(errand);
    }
    branches_.emplace_back();
    const Situation start = errand.start();
    stood_[place_of(cell_of(errand, start))] = {0, 0, cell_of(errand, start)};
}

void Search::learn_from(const Drill& known) {
    require_fresh_start(known);
    Situation now;
    now.runner = known.spawn(errand_.chart);
    const CellKey start = cell_of(errand_, errand_.start()), first = cell_of(errand_, now);
    DrillPlayer hands(known, now.runner);
    std::vector<Standing> passed;
    Player::Outcome outcome = Player::Outcome::on;
    while (outcome == Player::Outcome::on && now.tick < errand_.last_tick &&
           errand_.time_of(now.tick) < known.length().value) {
        const Intent intent = hands.intent(errand_.time_of(now.tick), errand_.time_of(now.tick + 1));
        if (errand_.uses_barred(intent)) {
            break;
        }
        outcome = players_.front().tick(now, intent);
        const CellKey cell = cell_of(errand_, now);
        if (cell != (passed.empty() ? first : passed.back().cell)) {
            passed.push_back({cell, now.tick});
        }
    }
    count_ticks();
    if (passed.empty()) {
        return;
    }
    static_cast<void>(map_.number_of(start));  // the map's first cell
    const auto [last, last_tick] = add_passages(passed, map_.number_of(first), 0);
    if (outcome == Player::Outcome::arrived) {
        map_.add_arrival(last, now.tick - last_tick);
        known_ = std::min(known_, first == start ? now.progress.arrived : errand_.plan.seconds);
    }
}

void Search::survey_parts() {
    if (map_.size() > look_again_) {
        map_.find_parts();
        look_again_ = map_.size() + map_.size() / 3;
    }
}

void Search::explore(std::size_t width) {
    map_.settle();  // along what is known, up to the last gate that was passed
    // Neither order is the better one in all worlds, so they take turns.
    wave({width, 6, static_cast<std::uint32_t>(std::lround(2.0 * errand_.plan.rate)), false,
          explored_++ % 2 == 0});
}

void Search::narrow(std::size_t width) {
    map_.settle();
    wave({width, 10, static_cast<std::uint32_t>(std::lround(1.5 * errand_.plan.rate)), true, false});
}

void Search::wave(const WaveKind& kind) {
    ++pass_;
    layers_.assign(errand_.last_tick / layer_ticks_ + 1, {});
    kept_.clear();
    selection_.clear();
    const bool had_found = found();
    const Situation start = errand_.start();
    Candidate first;
    first.end = 0;
    first.cell = cell_of(errand_, start);
    first.likeness = likeness_of(errand_, start);
    first.phase = errand_.phase_of(start);
    layers_[0].push_back(first);
    std::uint32_t last = errand_.last_tick;
    for (std::uint32_t layer = 0; layer < layers_.size() && !ended_; ++layer) {
        std::vector<Candidate> open = std::move(layers_[layer]);
        layers_[layer].clear();
        if (open.empty() || layer * layer_ticks_ > last) {
            continue;
        }
        if (!kind.towards_goal) {
            survey_parts();
        }
        grow(layer, selection_.select(open, kind), kind);
        ended_ = going_on && !going_on();
        if (!had_found && found() && errand_.has_goal()) {  // a little more, for what comes right behind
            last = std::min(last, (layer + 10) * layer_ticks_);
        }
        if (kind.towards_goal) {
            last = static_cast<std::uint32_t>(bound() * errand_.plan.rate);
        }
    }
}

Search::Outcome Search::try_stint(Player& player, Situation& now, std::uint32_t branch,
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
    candidate.parent = branch;
    candidate.end = now.tick;
    candidate.changes = played.changes;
    candidate.count = played.count;
    candidate.cell = last;
    if (const auto next = errand_.next_place(now.progress)) {
        candidate.to_next = static_cast<float>(glm::distance(middle_of(errand_, last), *next));
    }
    candidate.likeness = likeness_of(errand_, now);
    candidate.means = means_of(errand_, now);
    candidate.phase = errand_.phase_of(now);
    candidate.lot = dice.next();
    return outcome;
}

void Search::grow(std::uint32_t layer, const std::vector<Candidate>& chosen, const WaveKind& kind) {
    Layer grown;
    grown.situations.resize(chosen.size());
    grown.branches.resize(chosen.size());
    for (std::size_t i = 0; i < chosen.size(); ++i) {
        const Candidate& one = chosen[i];
        if (one.parent == no_number) {
            grown.branches[i] = 0;
            continue;
        }
        grown.branches[i] = static_cast<std::uint32_t>(branches_.size());
        branches_.push_back({one.parent, one.end, one.changes, one.count});
    }
    const std::uint64_t before = stints_;
    stints_ += chosen.size() * stints_each;
    std::vector<std::array<Outcome, stints_each>> outcomes(chosen.size());
    work_in_parallel(chosen.size(), threads_, [&](std::size_t worker, std::size_t i) {
        const Candidate& one = chosen[i];
        Situation& now = grown.situations[i];
        if (one.parent == no_number) {
            now = errand_.start();
        } else {
            const Layer& parents = kept_[one.layer - kept_.front().first].second;
            now = parents.situations[one.slot];
            Way way;
            way.changes.assign(one.changes.begin(), one.changes.begin() + one.count);
            way.end = one.end;
            static_cast<void>(players_[worker].follow(now, way));
        }
        for (std::size_t k = 0; k < stints_each; ++k) {
            Situation copy = now;
            outcomes[i][k] =
                try_stint(players_[worker], copy, grown.branches[i], before + i * stints_each + k);
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
            offer(outcome, learn(outcome, from, chosen[i].end), from, kind);
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

std::pair<std::uint32_t, std::uint32_t> Search::add_passages(const std::vector<Standing>& passed,
                                                             std::uint32_t from_cell, std::uint32_t begin) {
    std::uint32_t last = from_cell, last_tick = begin;
    for (const Standing& next : passed) {
        const std::uint32_t cell = map_.number_of(next.cell);
        map_.add_passage(last, cell, std::max(1U, next.tick - last_tick));
        last = cell;
        last_tick = next.tick;
    }
    return {last, last_tick};
}

std::uint32_t Search::learn(const Outcome& outcome, std::uint32_t from_cell, std::uint32_t begin) {
    const Candidate& one = outcome.candidate;
    const auto [last, last_tick] = add_passages(outcome.passed, from_cell, begin);
    for (const Standing& stood : outcome.stood) {
        FirstStand& first = stood_[place_of(stood.cell)];
        if (stood.tick < first.tick) {
            if (first.branch == no_number) {
                first.branch = static_cast<std::uint32_t>(branches_.size());
                branches_.push_back({one.parent, one.end, one.changes, one.count});
            } else {
                branches_[first.branch] = {one.parent, one.end, one.changes, one.count};
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

void Search::offer(Outcome& outcome, std::uint32_t last_cell, std::uint32_t from_cell, const WaveKind& kind) {
    Candidate& one = outcome.candidate;
    const std::size_t layer = (one.end + layer_ticks_ - 1) / layer_ticks_;
    if (outcome.outcome != Player::Outcome::on || one.end >= errand_.last_tick) {
        return;
    }
    if (kind.towards_goal) {
        one.to_goal = map_.to_goal(last_cell);
        if (one.to_goal ==
            no_time) {  // nobody has gone on from there yet: not nearer than where it came from
            one.to_goal = map_.to_goal(from_cell);
        }
        if (one.to_goal == no_time ||
            static_cast<double>(one.end + one.to_goal) > bound() * errand_.plan.rate) {
            return;
        }
    }
    one.part = map_.part_of(last_cell).value_or(one.part);
    layers_[layer].push_back(one);
}

void Search::note_arrival(const Outcome& outcome) {
    ++arrival_count_;
    const Found found{outcome.arrived, static_cast<std::uint32_t>(branches_.size()), outcome.candidate.end};
    if (arrivals_.size() >= most_arrivals && found.seconds >= arrivals_.back().seconds) {
        return;
    }
    const Candidate& one = outcome.candidate;
    branches_.push_back({one.parent, one.end, one.changes, one.count});
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
        list.push_back({found.seconds, way_of(branches_, found.branch, found.end)});
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
                        first.branch,
                        first.tick});
    }
    std::sort(list.begin(), list.end(), [](const ReachedPlace& a, const ReachedPlace& b) {
        return a.ticks != b.ticks ? a.ticks < b.ticks : a.middle < b.middle;
    });
    return list;
}

}  // namespace cursimeter::survey
