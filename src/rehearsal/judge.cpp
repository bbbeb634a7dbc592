#include <algorithm>
#include <bit>
#include <cmath>
#include <span>

#include "rehearsal/rehearsal_work.hpp"

/// How what clients saw compares with the truth.
namespace cursimeter::rehearsal {
namespace {

/// s after joining from which on a client's view is judged.
constexpr double settling = 2.0;
/// m from which on a correction is seen.
constexpr double visible = 0.05;

double length_of(const glm::dvec3& v) {
    return std::sqrt(v.x * v.x + v.y * v.y + v.z * v.z);
}

double percentile(std::vector<double>& values, double part) {
    if (values.empty()) {
        return 0.0;
    }
    const auto place = static_cast<std::size_t>(part * static_cast<double>(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(place), values.end());
    return values[place];
}

}  // namespace

void Rehearsal::Work::judge(Player& player, std::size_t index) {
    link::Client& client = *player.client;
    if (player.joined_at < 0.0) {
        player.joined_at = player.now;
    }
    // The server's tick of number n is played at (n - 1) tick lengths.
    player.input_delay += (client.now().value - 1.0) * dt() - player.now;
    player.view_delay += player.now - (client.shown_time() - 1.0) * dt();
    ++player.delays;
    while (const auto correction = client.next_correction()) {
        player.result.corrections += 1;
        player.result.visible_corrections += correction->distance > visible ? 1 : 0;
        player.result.correction_max = std::max(player.result.correction_max, correction->distance);
    }
    if (plan.keep_paths) {
        player.result.own.push_back({player.now, (client.now().value - 1.0 + client.tick_part()) * dt(),
                                     client.own_shown(), client.own().state()});
    }
    judge_events(player);
    for (const RunnerKey key : client.others()) {
        player.first_seen.try_emplace(key, client.shown_time());
        const auto shown = client.shown(key);
        const auto there = truths.find(key);
        const auto pose = there == truths.end() ? std::nullopt : there->second.pose(client.shown_time());
        if (!shown || !pose || player.now - player.joined_at < settling ||
            client.shown_time() - there->second.first < settling / dt()) {
            player.last_places.erase(key);
            continue;
        }
        player.errors.push_back(length_of(shown->position - pose->place));
        player.yaw_errors.push_back(
            std::fabs(std::remainder(shown->look.yaw - pose->look.yaw, Degrees{360.0}.radians())) /
            Degrees{1.0}.radians());
        player.pitch_errors.push_back(std::fabs(shown->look.pitch - pose->look.pitch) /
                                      Degrees{1.0}.radians());
        if (const auto last = player.last_places.find(key); last != player.last_places.end()) {
            const glm::dvec3 moved = shown->position - last->second.first;
            const glm::dvec3 truly = pose->place - last->second.second;
            player.result.remote_jump_max = std::max(player.result.remote_jump_max, length_of(moved - truly));
        }
        player.last_places[key] = {shown->position, pose->place};
        if (plan.keep_paths && index == 1 && key == truths.begin()->first) {
            seen.push_back({player.now, client.shown_time() * dt(), shown->position, shown->state});
        }
    }
}

void Rehearsal::Work::judge_events(Player& player) {
    while (const auto event = player.client->next_event()) {
        if (event->kind != EventKind::entered) {
            continue;
        }
        ++player.result.events_shown;
        const auto there = truths.find(event->runner);
        const std::span<const Truth::Entered> truth =
            there != truths.end() ? std::span<const Truth::Entered>(there->second.entered)
                                  : std::span<const Truth::Entered>{};
        const auto known = player.next_entered.find(event->runner);
        std::size_t place = known != player.next_entered.end() ? known->second : 0;
        if (known == player.next_entered.end()) {
            // Where it came in: the first one that is not before this.
            while (place < truth.size() && truth[place].at < event->at - 0.001) {
                ++place;
            }
        }
        const bool right = place < truth.size() && truth[place].state == event->subject &&
                           std::fabs(truth[place].at - event->at) < 0.1;
        player.result.events_out_of_order += right ? 0 : 1;
        player.next_entered[event->runner] = place + 1;
    }
}

/// Changes of others that were due by the time shown and did not come.
void Rehearsal::Work::count_missing(Player& player) {
    if (!player.running || player.client->phase() != link::Phase::joined) {
        return;
    }
    for (const RunnerKey key : player.client->others()) {
        const std::vector<Truth::Entered>& truth = truths[key].entered;
        const auto known = player.next_entered.find(key);
        const auto since = player.first_seen.find(key);
        if (known == player.next_entered.end() && since == player.first_seen.end()) {
            continue;
        }
        const auto due = [&](const Truth::Entered& entered) {
            return entered.at < player.client->shown_time() - 1.0 &&
                   (known != player.next_entered.end() || entered.at > since->second + 1.0);
        };
        const std::size_t from = known != player.next_entered.end() ? known->second : 0;
        for (std::size_t i = from; i < truth.size(); ++i) {
            player.result.events_missing += due(truth[i]) ? 1 : 0;
        }
    }
}

Result Rehearsal::finish() {
    Work& w = *work_;
    const double seconds = w.now;
    Result result;
    std::uint64_t told = 0, bits = 0;
    std::uint64_t hash = 0;
    const auto mix = [&](std::uint64_t value) { hash = Random(hash ^ value).next(); };
    for (const auto& player : w.players) {
        ClientResult& one = player->result;
        one.statistics = player->client->statistics();
        one.joined = player->joined_at >= 0.0;
        if (one.joined) {
            one.seat = w.server.read_seat(player->client->seat());
        }
        one.missing_after_first_second = one.seat.missing - player->missing_in_first_second;
        const double joined = std::max(seconds - std::max(player->joined_at, 0.0), 1e-9);
        one.bytes_up_per_s = static_cast<double>(one.statistics.bytes_out) / joined;
        one.bytes_down_per_s = static_cast<double>(one.seat.bytes_down) / joined;
        one.packets_up_per_s = static_cast<double>(one.statistics.packets_out) / joined;
        one.packets_down_per_s = static_cast<double>(one.seat.packets_down) / joined;
        one.remote_error_median = percentile(player->errors, 0.5);
        one.remote_error_p99 = percentile(player->errors, 0.99);
        one.remote_error_max = percentile(player->errors, 1.0);
        one.yaw_error_median = percentile(player->yaw_errors, 0.5);
        one.yaw_error_p99 = percentile(player->yaw_errors, 0.99);
        one.pitch_error_median = percentile(player->pitch_errors, 0.5);
        one.pitch_error_p99 = percentile(player->pitch_errors, 0.99);
        const double count = static_cast<double>(std::max<std::size_t>(player->delays, 1));
        one.input_delay = player->input_delay / count;
        one.view_delay = player->view_delay / count;
        w.count_missing(*player);
        told += one.seat.remotes_told;
        bits += one.seat.remote_bits;
        for (std::size_t i = 0; i < w.plan.client.players; ++i) {
            if (player->client->own_key(i)) {
                mix(digest(player->client->own(i)));
            }
        }
        for (const RunnerKey key : player->client->others()) {
            const glm::dvec3 place = player->client->shown(key)->position;
            for (const double part : {place.x, place.y, place.z}) {
                mix(std::bit_cast<std::uint64_t>(part + 0.0));
            }
        }
        result.clients.push_back(std::move(one));
    }
    for (const auto& [key, truth] : w.truths) {
        mix(truth.moments.back().digest);
    }
    if (w.plan.keep_paths && !w.truths.empty()) {
        const Truth& first = w.truths.begin()->second;
        for (std::size_t i = 0; i < first.moments.size(); ++i) {
            const double at = (first.first + static_cast<double>(i)) * w.dt();
            result.truth.push_back({at, at, first.moments[i].place, first.moments[i].state});
        }
        result.seen = std::move(w.seen);
    }
    result.server = w.server.statistics();
    result.seconds = seconds;
    result.bytes_per_remote_snapshot =
        told == 0 ? 0.0 : static_cast<double>(bits) / 8.0 / static_cast<double>(told);
    result.digest = hash;
    return result;
}

}  // namespace cursimeter::rehearsal
