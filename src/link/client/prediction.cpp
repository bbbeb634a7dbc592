#include "link/client/prediction.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "link/neighbours.hpp"

namespace cursimeter::link {
namespace {}  // namespace

Prediction::Prediction(const ClientConfig& config, const std::vector<Chart>& charts, const Others& others,
                       const std::vector<Prediction>& all)
    : charts_(charts),
      others_(others),
      all_(all),
      dt_(1.0 / config.tick_rate),
      fade_(config.half_life.value > 0.0 ? detmath::power_of_two(-dt_ / config.half_life.value) : 0.0),
      visible_limit_(config.visible_limit),
      moments_(ticks_kept) {
    neighbours_.reserve(config.runners);
}

void Prediction::start(Tick tick) {
    now_ = first_ = tick;
    key_.reset();
    acknowledged_.reset();
    moments_[tick.value % ticks_kept].intent = {};
    offset_ = glm::dvec3(0.0);
}

void Prediction::play(const StatedIntent& intent, Advancer& advancer, bool first_time) {
    const Moment& before = moments_[now_.value % ticks_kept];
    now_ = now_ + 1;
    Moment& moment = moments_[now_.value % ticks_kept];
    moment.intent = intent;
    if (!key_) {
        return;
    }
    moment.runner = before.runner;
    const PlayedIntent played(intent, dt_);
    neighbours_.clear();
    if (advancer.wants_others()) {
        find_neighbours(now_ - 1);
    }
    const Report report =
        advancer.advance_runner(charts_[chart_], moment.runner, played.intent(),
                                {now_, Seconds{dt_}, *key_, !first_time, intent.extra.bytes(), neighbours_});
    if (first_time) {
        report_ = report;
    }
}

void Prediction::find_neighbours(Tick tick) {
    others_.find_at(tick.value, neighbours_);
    for (const Prediction& one : all_) {
        if (&one == this || !one.key_ || !one.keeps(tick) || tick - one.owned_since_ < 0) {
            continue;
        }
        const auto after = std::ranges::find_if(
            neighbours_, [&](const Neighbour& other) { return other.key.place > one.key_->place; });
        neighbours_.insert(
            after, neighbour(*one.key_, charts_[one.chart_], one.moments_[tick.value % ticks_kept].runner));
    }
}

void Prediction::tick(const Intent& intent, const ExtraBytes& extra, Advancer& advancer) {
    offset_ *= fade_;
    report_.event_count = 0;
    const std::size_t actions = key_ ? charts_[chart_].action_count() : limits::actions;
    StatedIntent stated = state_intent(intent, dt_, actions_below(actions));
    stated.extra = extra;
    play(stated, advancer, true);
}

void Prediction::hold(Advancer& advancer) {
    const StatedIntent held = intent(now_).afterwards();
    play(held, advancer, false);
}

void Prediction::leap(std::uint32_t ticks) {
    const StatedIntent held = intent(now_).afterwards();
    start(now_ + ticks);
    moments_[now_.value % ticks_kept].intent = held;
}

void Prediction::take_exact(RunnerKey key, std::size_t chart, Tick tick, const Runner& exact,
                            Advancer& advancer, ClientStatistics& statistics) {
    const bool fresh = !key_ || *key_ != key;
    if (!keeps(tick) || now_ - tick < 0) {
        return;  // the next one will do
    }
    Moment& then = moments_[tick.value % ticks_kept];
    if (!fresh && digest(then.runner) == digest(exact)) {
        ++statistics.confirmed;
        acknowledged_ = tick;
        return;
    }
    key_ = key;
    acknowledged_ = tick;
    chart_ = chart;
    if (fresh) {
        then.runner = exact;
        go_over(tick, advancer);
        owned_since_ = tick;
        offset_ = glm::dvec3(0.0);
        return;
    }
    const glm::dvec3 before = runner().position();
    then.runner = exact;
    go_over(tick, advancer);
    const double distance = fade_from(before);
    const int replayed = now_ - tick;
    ++statistics.corrections;
    statistics.largest_correction = std::max(statistics.largest_correction, distance);
    note_replayed(replayed, statistics);
    note({tick, distance, replayed});
}

void Prediction::play_again(Tick since, Advancer& advancer, ClientStatistics& statistics) {
    const Tick before = since - 1;
    if (!key_ || !keeps(before) || before - owned_since_ < 0 || now_ - before <= 0) {
        return;
    }
    const glm::dvec3 place = runner().position();
    go_over(before, advancer);
    static_cast<void>(fade_from(place));
    note_replayed(now_ - before, statistics);
}

void Prediction::go_over(Tick tick, Advancer& advancer) {
    const Tick last = now_;
    now_ = tick;
    while (now_ - last < 0) {
        const StatedIntent again = intent(now_ + 1);
        play(again, advancer, false);
    }
}

double Prediction::fade_from(const glm::dvec3& place) {
    const glm::dvec3 off = place - runner().position();
    offset_ += off;
    if (offset_.x * offset_.x + offset_.y * offset_.y + offset_.z * offset_.z >
        visible_limit_ * visible_limit_) {
        offset_ = glm::dvec3(0.0);
    }
    return std::sqrt(off.x * off.x + off.y * off.y + off.z * off.z);
}

void Prediction::note_replayed(int ticks, ClientStatistics& statistics) {
    statistics.replayed += static_cast<std::uint64_t>(ticks);
    statistics.deepest = std::max(statistics.deepest, ticks);
}

glm::dvec3 Prediction::shown(double part) const {
    const glm::dvec3 last = runner().position();
    if (now_ - owned_since_ <= 0 || !keeps(now_ - 1)) {
        return last + offset_;
    }
    const glm::dvec3 before = moments_[(now_ - 1).value % ticks_kept].runner.position();
    const glm::dvec3 way = last - before;
    const bool leapt = way.x * way.x + way.y * way.y + way.z * way.z > visible_limit_ * visible_limit_;
    return (leapt ? last : before + way * part) + offset_;
}

void Prediction::note(const Correction& correction) {
    if (corrections_count_ == corrections_kept) {
        corrections_begin_ = (corrections_begin_ + 1) % corrections_kept;
        --corrections_count_;
    }
    corrections_[(corrections_begin_ + corrections_count_++) % corrections_kept] = correction;
}

std::optional<std::uint64_t> Prediction::digest_at(Tick tick) const {
    if (!key_ || !keeps(tick) || tick - owned_since_ < 0) {
        return std::nullopt;
    }
    return digest(moments_[tick.value % ticks_kept].runner);
}

std::uint32_t Prediction::note_told() {
    Moment& moment = moments_[now_.value % ticks_kept];
    moment.told = wire::told_digest(digest(moment.runner));
    return moment.told;
}

void Prediction::take_agreed(Tick tick, ClientStatistics& statistics) {
    ++statistics.confirmed;
    // Unless it was played again since it was told: then the next news will tell.
    const auto mine = digest_at(tick);
    if (mine && wire::told_digest(*mine) == moments_[tick.value % ticks_kept].told) {
        acknowledged_ = tick;
    }
}

}  // namespace cursimeter::link
