#include "link/peers/rollback.hpp"

#include <algorithm>
#include <cursimeter/numbers/detmath.hpp>
#include <limits>

namespace cursimeter::link {
namespace {

/// Ticks for which a look whose news is missing goes on turning as it did.
constexpr std::uint32_t turns_on = 8;
constexpr std::uint32_t unchanged = std::numeric_limits<std::uint32_t>::max();

}  // namespace

Rollback::Rollback(const std::vector<Chart>& charts, const PeerGameConfig& config)
    : charts_(charts),
      dt_(1.0 / config.tick_rate),
      fade_(config.half_life.value > 0.0 ? detmath::power_of_two(-dt_ / config.half_life.value) : 0.0),
      visible_limit_(config.visible_limit),
      told_events_(config.events),
      neighbours_(config.players.size()),
      changed_(unchanged) {
    for (const PeerPlayer& one : config.players) {
        Player player;
        player.chart = one.chart;
        player.moments.resize(moments_kept);
        player.wanted.resize(moments_kept);
        player.moments[0].runner = spawn(charts_[one.chart], one.start);
        players_.push_back(std::move(player));
    }
}

std::uint32_t Rollback::confirmed() const {
    std::uint32_t confirmed = unchanged;
    for (const Player& player : players_) {
        confirmed = player.last ? confirmed : std::min(confirmed, player.known);
    }
    return std::min(confirmed, now_);
}

void Rollback::note_change(std::size_t player, std::uint32_t tick, const StatedIntent& intent) {
    if (tick <= now_ && !(players_[player].moments[tick % moments_kept].played == intent)) {
        changed_ = std::min(changed_, tick);
    }
}

void Rollback::take(std::size_t player, const StatedIntent& intent) {
    Player& one = players_[player];
    ++one.known;
    one.wanted[one.known % moments_kept] = intent;
    note_change(player, one.known, intent);
}

void Rollback::end(std::size_t player, std::uint32_t last) {
    players_[player].last = last;
    for (std::uint32_t tick = last + 1; tick <= now_; ++tick) {
        note_change(player, tick, StatedIntent{});
    }
}

StatedIntent Rollback::expected(const Player& player, std::uint32_t tick) const {
    if (player.last && tick > *player.last) {
        return {};
    }
    if (tick <= player.known) {
        return player.wanted[tick % moments_kept];
    }
    StatedIntent next = player.moments[(tick - 1) % moments_kept].played.afterwards();
    if (player.known > 0 && tick - player.known <= turns_on) {
        // A hand mostly goes on as it does.
        const StatedIntent& last = player.wanted[player.known % moments_kept];
        const StatedIntent& before = player.wanted[(player.known - 1) % moments_kept];
        next.yaw = static_cast<std::int16_t>(next.yaw + static_cast<std::int16_t>(last.yaw - before.yaw));
    }
    return next;
}

void Rollback::play(Advancer& advancer, bool first_time) {
    neighbours_.clear();
    for (std::size_t i = 0; advancer.wants_others() && i < players_.size(); ++i) {
        neighbours_.add(key(i), chart(i), runner(i, now_));
    }
    ++now_;
    for (std::size_t i = 0; i < players_.size(); ++i) {
        Player& player = players_[i];
        Moment& moment = player.moments[now_ % moments_kept];
        moment.played = expected(player, now_);
        moment.runner = runner(i, now_ - 1);
        const PlayedIntent played(moment.played, dt_);
        Report report;
        neighbours_.around(i, [&](std::span<const Neighbour> others) {
            report = advancer.advance_runner(
                chart(i), moment.runner, played.intent(),
                {Tick{now_}, Seconds{dt_}, key(i), !first_time, moment.played.extra.bytes(), others});
        });
        moment.event_count = 0;
        moment.events_lost = false;
        for (const Event& event : report.events()) {
            if ((told_events_ & event_bit(event.kind)) == 0) {
                continue;
            }
            if (moment.event_count == events_a_tick) {
                moment.events_lost = true;
                break;
            }
            moment.events[moment.event_count++] = {
                key(i),     now_ - 1 + event.at / dt_, event.kind, event.subject, event.which, event.rising,
                event.value};
        }
        if (first_time) {
            player.report = report;
        }
    }
}

void Rollback::tick(Advancer& advancer) {
    for (Player& player : players_) {
        player.offset *= fade_;
    }
    play(advancer, true);
}

void Rollback::settle(Advancer& advancer, PeerStatistics& statistics) {
    if (changed_ > now_) {
        changed_ = unchanged;
        return;
    }
    std::array<glm::dvec3, most_peers> before{};
    for (std::size_t i = 0; i < players_.size(); ++i) {
        before[i] = runner(i, now_).position();
    }
    const std::uint32_t last = now_;
    now_ = changed_ - 1;
    changed_ = unchanged;
    const auto replayed = static_cast<int>(last - now_);
    while (now_ < last) {
        play(advancer, false);
    }
    for (std::size_t i = 0; i < players_.size(); ++i) {
        glm::dvec3& offset = players_[i].offset;
        offset += before[i] - runner(i, now_).position();
        if (offset.x * offset.x + offset.y * offset.y + offset.z * offset.z >
            visible_limit_ * visible_limit_) {
            offset = glm::dvec3(0.0);
        }
    }
    ++statistics.rollbacks;
    statistics.replayed += static_cast<std::uint64_t>(replayed);
    statistics.deepest = std::max(statistics.deepest, replayed);
}

glm::dvec3 Rollback::shown(std::size_t player, double part) const {
    const glm::dvec3 last = runner(player, now_).position();
    const glm::dvec3& offset = players_[player].offset;
    if (now_ == 0) {
        return last;
    }
    const glm::dvec3 before = runner(player, now_ - 1).position();
    const glm::dvec3 way = last - before;
    const bool leapt = way.x * way.x + way.y * way.y + way.z * way.z > visible_limit_ * visible_limit_;
    return (leapt ? last : before + way * part) + offset;
}

std::optional<RemoteEvent> Rollback::next_event(PeerStatistics& statistics) {
    const std::uint32_t confirmed = this->confirmed();
    while (told_ < confirmed) {
        const std::uint32_t tick = told_ + 1;
        if (!keeps(tick)) {
            told_ = tick;  // nobody has asked for so long
            told_player_ = told_event_ = 0;
            ++statistics.events_lost;
            continue;
        }
        for (; told_player_ < players_.size(); ++told_player_, told_event_ = 0) {
            const Moment& moment = players_[told_player_].moments[tick % moments_kept];
            if (told_event_ < moment.event_count) {
                return moment.events[told_event_++];
            }
            statistics.events_lost += moment.events_lost ? 1 : 0;
        }
        told_ = tick;
        told_player_ = told_event_ = 0;
    }
    return std::nullopt;
}

}  // namespace cursimeter::link
