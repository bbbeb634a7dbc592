#include <algorithm>
#include <bit>
#include <cmath>

#include "link/client/client_work.hpp"
#include "link/wire/exact_runner.hpp"

/// What packets do to a client, and the packets that it sends.
namespace cursimeter::link {
namespace {

/// How far ahead of this client a snapshot can be that is still believed: after a silence it catches up by jumps.
constexpr std::int32_t most_ticks_ahead = 4096;
/// Part by which a reading of the delay moves the figure: jitter is averaged over some 16 news.
constexpr double delay_gain = 1.0 / 16.0;

}  // namespace

void Client::Work::show_others() {
    shown_time.go_on(clock.now() * config.tick_rate);
    if (phase == Phase::joined && shown_time.started()) {
        others.show(shown_time.now(), clock.now());
        statistics.view_delay = now().value - shown_time.now();
    }
}

void Client::Work::note_figures() {
    const auto in_hand = lead.usual_margin();
    statistics.in_hand = Seconds{in_hand.value_or(0.0)};
    statistics.jitter = Seconds{in_hand ? *in_hand - lead.expected() : 0.0};
    statistics.round_trip = Seconds{round_trips.shortest()};
    statistics.loss = 1.0 - std::popcount(came) / 64.0;
}

void Client::Work::take_sample() {
    const auto since = [&](std::uint64_t ClientStatistics::*count) {
        return statistics.*count - sampled.*count;
    };
    NetSample& sample = samples[samples_taken++ % samples.size()];
    sample.round_trip = statistics.round_trip;
    sample.in_hand = statistics.in_hand;
    sample.jitter = statistics.jitter;
    sample.loss = statistics.loss;
    sample.input_delay = statistics.input_delay;
    sample.view_delay = statistics.view_delay;
    sample.bytes_in = static_cast<std::uint32_t>(since(&ClientStatistics::bytes_in));
    sample.bytes_out = static_cast<std::uint32_t>(since(&ClientStatistics::bytes_out));
    sample.packets_in = static_cast<std::uint16_t>(since(&ClientStatistics::packets_in));
    sample.corrections = static_cast<std::uint16_t>(since(&ClientStatistics::corrections));
    sampled = statistics;
}

void Client::Work::note_input_delay(std::uint32_t intent, Tick tick) {
    round_trips.add(clock.now() - sent_times[intent % ticks_kept]);
    // Half of the way there and back, and the ticks that it has to wait at the server.
    const double reading = 0.5 * (now() - Tick{intent}) + (Tick{intent} - tick);
    double& delay = statistics.input_delay;
    delay = delay == 0.0 ? reading : delay + (reading - delay) * delay_gain;
}

bool Client::Work::read_runners(const wire::SnapshotHead& head, wire::Reader& reader,
                                std::array<std::optional<Runner>, most_players>& exact) const {
    for (std::size_t i = 0; i < head.players; ++i) {
        const wire::OwnHead& own = head.own[i];
        if (own.owned && own.exact &&
            (own.chart >= charts.size() ||
             !wire::read_runner(reader, charts[own.chart], exact[i].emplace()))) {
            return false;
        }
    }
    return true;
}

void Client::Work::take_own(const wire::SnapshotHead& head,
                            const std::array<std::optional<Runner>, most_players>& exact, Tick tick,
                            Advancer& advancer) {
    if (head.any_intent) {
        const std::uint32_t intent = expand(head.newest, now().value);
        if (keeps(Tick{intent})) {
            acked = intent;
            note_input_delay(intent, tick);
        }
    }
    if (head.heard) {
        const auto low = static_cast<std::uint16_t>(head.newest + head.beyond);
        const std::uint32_t intent = expand(low, now().value);
        if (keeps(Tick{intent})) {
            lead.observe(head.spare / wire::spare_steps, intent, clock.now());
        }
    }
    const std::uint64_t corrections = statistics.corrections;
    std::array<bool, most_players> corrected{};
    for (std::size_t i = 0; i < players.size(); ++i) {
        const wire::OwnHead& own = head.own[i];
        Prediction& player = players[i];
        if (!own.owned) {
            player.lose_runner();
        } else if (exact[i]) {
            const std::uint64_t before = statistics.corrections;
            player.take_exact({own.place, own.life}, own.chart, tick, *exact[i], advancer, statistics);
            corrected[i] = statistics.corrections != before;
        } else if (own.agreed != 0) {
            player.take_agreed(tick - (own.agreed - 1), statistics);
        }
    }
    if (statistics.corrections == corrections || !advancer.wants_others()) {
        return;
    }
    // Those at this client see each other: what one did otherwise the rest may have met.
    for (std::size_t i = 0; i < players.size(); ++i) {
        if (!corrected[i]) {
            players[i].play_again(tick + 1, advancer, statistics);
        }
    }
}

void Client::Work::take_snapshot(std::span<const std::byte> bytes, Advancer& advancer) {
    wire::Reader reader(bytes);
    wire::SnapshotHead head;
    head.players = players.size();
    wire::HeadModels models;
    wire::code(reader, models, head);
    const std::size_t head_bytes = reader.used();
    wire::MessageStream::Piece piece;
    wire::code(reader, piece);
    const std::size_t before_runner = reader.used();
    const SnapshotNumber near = newest ? *newest : now().value / snapshot_every;
    const SnapshotNumber number = expand(head.snapshot, near);
    const auto later = static_cast<std::int32_t>(number - near);
    bool is_newest = !newest || later > 0;
    if (!is_newest) {
        if (later <= -static_cast<std::int32_t>(wire::replicas_kept) / 2) {
            ++statistics.repeated;
            return;
        }
        if ((came >> static_cast<unsigned>(-later) & 1U) != 0) {
            ++statistics.repeated;
            return;
        }
    }
    const Tick tick{number * snapshot_every};
    // No snapshot is much later than what was played here, nor older than what is kept.
    if (std::uint64_t{number} * snapshot_every > UINT32_MAX || tick - now() > most_ticks_ahead ||
        tick - now() < -static_cast<std::int32_t>(wire::replicas_kept * snapshot_every + ticks_kept)) {
        ++statistics.malformed;
        return;
    }
    // First everything is read; only what makes sense as a whole is taken in.
    std::array<std::optional<Runner>, most_players> exact{};
    if (!read_runners(head, reader, exact)) {
        ++statistics.malformed;
        return;
    }
    const std::size_t before_entries = reader.used();
    const Others::Reading reading = others.read(reader, number, head.base, news);
    statistics.message_bytes_in += before_runner - head_bytes;
    statistics.own_bytes_in += head_bytes + before_entries - before_runner;
    statistics.others_bytes_in += bytes.size() - std::min(bytes.size(), before_entries);
    if (reading == Others::Reading::nonsense) {
        ++statistics.malformed;
        return;
    }
    messages.hear(piece);
    if (reading == Others::Reading::no_base) {
        // It is told by one that was lost: of no use for the others, and so not acknowledged.
        ++statistics.baseless;
        if (is_newest) {
            take_own(head, exact, tick, advancer);
        }
        return;
    }
    if (is_newest) {
        const double told = number * static_cast<double>(snapshot_every);
        const double last = newest ? *newest * static_cast<double>(snapshot_every) : told;
        if (clock.stood_still()) {
            shown_time.observe_late(told);
        } else {
            shown_time.observe(last, told, clock.now() * config.tick_rate);
        }
        came = newest && later < 64 ? came << static_cast<unsigned>(later) | 1U : 1U;
        newest = number;
        take_own(head, exact, tick, advancer);
    } else {
        came |= std::uint64_t{1} << static_cast<unsigned>(-later);
    }
    others.take(number, news, statistics);
    note_figures();
}

void Client::Work::note_view() {
    const double ticks = shown_time.started() ? now().value - shown_time.now() : 0.0;
    behind[now().value % ticks_kept] = static_cast<std::uint32_t>(
        std::clamp(ticks * wire::behind_units + 0.5, 0.0, double{wire::most_behind}));
}

/// An intent is told again as long as it can still come in time: after that nobody plays it.
std::uint32_t Client::Work::intents_in_time() const {
    const auto in_hand = lead.usual_margin();
    return in_hand ? std::min(wire::most_intents, 2U + static_cast<std::uint32_t>(std::ceil(
                                                           std::max(0.0, *in_hand) * config.tick_rate)))
                   : wire::most_intents;
}

std::size_t Client::Work::write_intents() {
    wire::IntentsHead head;
    head.players = players.size();
    const Tick last = now();
    head.newest = static_cast<std::uint16_t>(last.value);
    sent_times[last.value % ticks_kept] = clock.now();
    const std::uint32_t most = intents_in_time();
    std::uint32_t count = 1;
    while (count < most && players.front().played(last - count) &&
           (!acked || (last - count).value != *acked)) {
        ++count;
    }
    head.any_snapshot = newest.has_value();
    if (newest) {
        head.snapshot = static_cast<std::uint16_t>(*newest);
        for (unsigned i = 0; i < wire::acked_before; ++i) {
            head.before[i] = (came >> (i + 1) & 1U) != 0;
        }
    }
    // At a snapshot's tick, so that the snapshot answers.
    for (std::size_t i = 0; last.value % snapshot_every == 0 && i < players.size(); ++i) {
        if (players[i].key()) {
            head.predictions[i] = {true, players[i].note_told()};
        }
    }

    wire::MessageStream::Piece piece =
        messages.speak(wire::most_message_bytes, clock.now(), round_trips.shortest());
    // With many changes a tick not all may fit; then the oldest stay out, which most likely came with earlier
    // packets.
    for (;; count -= std::min(count - 1, (count + 3) / 4)) {
        head.count = count;
        if (const std::size_t size = write_intents(head, piece); size != 0) {
            return size;
        }
        if (count == 1) {
            piece = {};  // what it said is told again
        }
    }
}

/// The packet's length; 0 if the intents do not fit. One always does.
std::size_t Client::Work::write_intents(wire::IntentsHead& head, wire::MessageStream::Piece& piece) {
    const Tick first = now() - (head.count - 1);
    const std::uint32_t gap = acked ? first.value - *acked : 0;
    head.based = acked && gap >= 1 && gap <= wire::most_gap && keeps(Tick{*acked});
    head.gap = head.based ? gap : 1;
    const std::span<std::byte> room(packet);
    wire::Writer writer(room.subspan(channel.before_body()));
    wire::code(writer, head);
    const std::size_t head_bytes = writer.size();
    wire::code(writer, piece);
    const std::size_t piece_bytes = writer.size() - head_bytes;
    wire::PlayersModels models(players.size());
    wire::IntentRows rows;
    const auto put = [&](Tick tick, std::array<StatedIntent, most_players>& row) {
        for (std::size_t player = 0; player < players.size(); ++player) {
            row[player] = players[player].intent(tick);
        }
    };
    std::uint32_t behind_before = 0;
    if (head.based) {
        put(first - head.gap, rows.before());
        behind_before = behind[(first - head.gap).value % ticks_kept];
    }
    for (std::uint32_t i = 0; i < head.count; ++i, rows.next()) {
        put(first + i, rows.now());
        std::uint32_t said = behind[(first + i).value % ticks_kept];
        wire::code_intents(writer, models, std::span(rows.now()).first(players.size()), rows.before(),
                           i == 0 ? head.gap : 1, said, behind_before);
        behind_before = said;
    }
    const std::size_t size = channel.before_body() + writer.finish();
    if (writer.overflowed()) {
        return 0;
    }
    channel.close(room.first(size), wire::Kind::intents);
    statistics.message_bytes_out += piece_bytes;
    statistics.intent_bytes_out +=
        size - channel.before_body() - std::min(piece_bytes, size - channel.before_body());
    return size;
}

}  // namespace cursimeter::link
