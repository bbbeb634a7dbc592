#include "survey/scout/trim.hpp"

#include <algorithm>
#include <cmath>

#include "survey/work.hpp"

namespace cursimeter::survey {
namespace {

constexpr std::uint32_t mark_ticks = 20;
constexpr std::size_t edits_a_round = 64;
constexpr double least_gain = 1e-3;      // s
constexpr double rate_tolerance = 0.01;  // of the time, by which it may differ at another rate
constexpr std::size_t most_begins = 64;  // ways that are tried at all rates

/// Changes at most one a tick, in order, none that changes nothing, none beyond the end.
void tidy(Way& way, const Hands& start) {
    std::stable_sort(way.changes.begin(), way.changes.end(),
                     [](const HandsAt& a, const HandsAt& b) { return a.tick < b.tick; });
    std::vector<HandsAt> kept;
    Hands before = start;
    for (const HandsAt& change : way.changes) {
        if (!kept.empty() && kept.back().tick == change.tick) {
            kept.pop_back();
            before = kept.empty() ? start : kept.back().hands;
        }
        if (change.tick < way.end && change.hands != before) {
            kept.push_back(change);
            before = change.hands;
        }
    }
    way.changes = std::move(kept);
}

}  // namespace

const std::vector<double>& scout_rates() {
    static const std::vector<double> rates{20.0,  30.0,  60.0,  90.0,  144.0, 37.0,
                                           100.0, 120.0, 240.0, 500.0, 1000.0};
    return rates;
}

Trimmer::Trimmer(const Errand& errand, unsigned threads)
    : errand_(errand), maker_(errand), threads_(threads) {
    for (unsigned i = 0; i < threads; ++i) {
        players_.emplace_back(errand);
    }
}

Trimmer::Rates Trimmer::try_rates(const Way& way, bool all) {
    const Drill drill(drill_of(way, errand_.chart, errand_.begin, errand_.plan.rate), errand_.chart);
    const std::vector<double>& list = scout_rates();
    std::vector<char> kept(list.size(), 2);  // 2: not tried
    std::vector<std::uint64_t> ticks(list.size(), 0);
    const auto arrives = [&](std::size_t i) {
        ScoutPlan plan = errand_.plan;
        plan.rate = list[i];
        const Errand there(errand_.chart, errand_.course, plan);
        Player player(there);
        Situation now = there.start();
        DrillPlayer hands(drill, now.runner);
        const double most = drill.length().value * (1.0 + rate_tolerance) + 0.05;
        Player::Outcome outcome = Player::Outcome::on;
        while (there.time_of(now.tick) < most && outcome == Player::Outcome::on) {
            const double begin = there.time_of(now.tick);
            outcome = player.tick(now, hands.intent(begin, there.time_of(now.tick + 1)));
        }
        ticks[i] = player.ticks();
        kept[i] = outcome == Player::Outcome::arrived ? 1 : 0;
    };
    // The cheap ones first: most that fail do so there.
    const std::size_t cheap = 5;
    work_in_parallel(cheap, threads_, [&](std::size_t, std::size_t i) { arrives(i); });
    if (all || std::find(kept.begin(), kept.begin() + cheap, 0) == kept.begin() + cheap) {
        work_in_parallel(list.size() - cheap, threads_,
                         [&](std::size_t, std::size_t i) { arrives(cheap + i); });
    }
    Rates rates;
    for (std::size_t i = 0; i < list.size(); ++i) {
        rate_ticks_ += ticks[i];
        if (kept[i] != 2) {
            (kept[i] == 1 ? rates.kept : rates.missed).push_back(list[i]);
        }
    }
    std::sort(rates.kept.begin(), rates.kept.end());
    std::sort(rates.missed.begin(), rates.missed.end());
    return rates;
}

void Trimmer::begin(const std::vector<Arrival>& arrivals) {
    for (std::size_t i = 0; i < std::min(arrivals.size(), most_begins); ++i) {
        const Rates rates = try_rates(arrivals[i].way, false);
        if (rates.missed.empty()) {
            rates_ = rates;
            settle(arrivals[i]);
            return;
        }
    }
    if (!arrivals.empty()) {
        rates_ = try_rates(arrivals.front().way, true);
        settle(arrivals.front());
    }
}

void Trimmer::settle(Arrival arrival) {
    marks_.clear();
    Situation now = errand_.start();
    Way part = arrival.way;
    while (now.tick < arrival.way.end) {
        marks_.push_back(now);
        part.end = now.tick + mark_ticks;
        if (players_[0].follow(now, part) != Player::Outcome::on) {
            break;
        }
    }
    best_ = std::move(arrival);
}

Way Trimmer::edited(Dice& dice) const {
    Way way = best_->way;
    const auto count = static_cast<std::uint32_t>(way.changes.size());
    const auto shift = [](std::uint32_t tick, int by) {
        return static_cast<std::uint32_t>(std::max<std::int64_t>(0, std::int64_t{tick} + by));
    };
    const std::uint32_t any = count == 0 ? 0 : dice.below(count);
    const std::uint32_t upto = std::min(count, any + 1 + dice.below(4));
    const int times = 1 + static_cast<int>(dice.below(3));
    for (int k = 0; k < times; ++k) {
        switch (count == 0 ? 6 : dice.below(8)) {
            case 0:  // one earlier or later
                way.changes[any].tick = shift(way.changes[any].tick, dice.between(-6, 6));
                break;
            case 1: {  // all from one on
                const int by = dice.between(-10, 4);
                for (std::uint32_t i = any; i < count; ++i) {
                    way.changes[i].tick = shift(way.changes[i].tick, by);
                }
                break;
            }
            case 2:
            case 3: {  // other headings
                const int by = dice.percent(50) ? dice.between(-4, 4) : dice.between(-30, 30);
                for (std::uint32_t i = any; i < upto; ++i) {
                    way.changes[i].hands.yaw = whole_degrees(way.changes[i].hands.yaw + by);
                }
                break;
            }
            case 4:  // left out
                for (std::uint32_t i = any; i < upto; ++i) {
                    way.changes[i].hands = any == 0 ? errand_.start().hands : way.changes[any - 1].hands;
                }
                break;
            case 5:  // other keys
                way.changes[any].hands.held = maker_.some_keys(way.changes[any].hands.held, dice);
                break;
            case 6: {  // a change more
                HandsAt change{dice.below(std::max(1U, way.end)), {}};
                auto next =
                    std::upper_bound(way.changes.begin(), way.changes.end(), change.tick,
                                     [](std::uint32_t t, const HandsAt& one) { return t < one.tick; });
                change.hands = next == way.changes.begin() ? errand_.start().hands : std::prev(next)->hands;
                change.hands.held = maker_.some_keys(change.hands.held, dice);
                if (dice.percent(40)) {
                    change.hands.yaw = whole_degrees(change.hands.yaw + dice.between(-40, 40));
                }
                way.changes.push_back(change);
                if (count > 0) {
                    tidy(way, errand_.start().hands);
                }
                return way;
            }
            default:  // the stick, ahead
                for (std::uint32_t i = any; i < upto; ++i) {
                    way.changes[i].hands.move = 1;
                }
                break;
        }
    }
    tidy(way, errand_.start().hands);
    return way;
}

void Trimmer::round() {
    std::vector<Arrival> tried(edits_a_round);
    work_in_parallel(edits_a_round, threads_, [&](std::size_t worker, std::size_t i) {
        Dice dice(errand_.plan.seed, edits_ + i);
        Arrival& one = tried[i];
        one.way = edited(dice);
        one.seconds = never;
        const auto differs = std::mismatch(one.way.changes.begin(), one.way.changes.end(),
                                           best_->way.changes.begin(), best_->way.changes.end());
        std::uint32_t from = best_->way.end;
        if (differs.first != one.way.changes.end()) {
            from = std::min(from, differs.first->tick);
        }
        if (differs.second != best_->way.changes.end()) {
            from = std::min(from, differs.second->tick);
        }
        Situation now = marks_[std::min<std::size_t>(from / mark_ticks, marks_.size() - 1)];
        if (players_[worker].follow(now, one.way) == Player::Outcome::arrived) {
            one.seconds = now.progress.arrived;
            one.way.end = now.tick;
        }
    });
    edits_ += edits_a_round;
    std::stable_sort(tried.begin(), tried.end(), [](const Arrival& a, const Arrival& b) {
        return std::isnan(b.seconds) ? !std::isnan(a.seconds) : a.seconds < b.seconds;
    });
    for (Arrival& one : tried) {
        const bool mends = !rates_.missed.empty() && one.seconds < best_->seconds + 0.5;
        if (!(one.seconds < best_->seconds - least_gain) && !mends) {
            break;
        }
        const Rates rates = try_rates(one.way, false);
        if (rates.missed.empty()) {
            rates_ = rates;
            settle(std::move(one));
            break;
        }
    }
}

std::uint64_t Trimmer::ticks() const {
    std::uint64_t sum = rate_ticks_;
    for (const Player& player : players_) {
        sum += player.ticks();
    }
    return sum;
}

std::optional<FoundWay> Trimmer::result() const {
    if (!best_) {
        return std::nullopt;
    }
    return FoundWay{best_->seconds, drill_of(best_->way, errand_.chart, errand_.begin, errand_.plan.rate),
                    rates_.kept, rates_.missed};
}

}  // namespace cursimeter::survey
