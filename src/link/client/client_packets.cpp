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
        statistics.view_delay = prediction.now().value - shown_time.now();
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
    const double reading = 0.5 * (prediction.now() - Tick{intent}) + (Tick{intent} - tick);
    double& delay = statistics.input_delay;
    delay = delay == 0.0 ? reading : delay + (reading - delay) * delay_gain;
}

void Client::Work::take_own(const wire::SnapshotHead& head, wire::Reader& reader, Tick tick, bool is_newest,
                            Stepper& stepper) {
    const RunnerKey own_key{head.place, head.life};
    if (head.any_intent && is_newest) {
        const std::uint32_t intent = expand(head.newest, prediction.now().value);
        if (prediction.keeps(Tick{intent})) {
            acked = intent;
            note_input_delay(intent, tick);
        }
    }
    if (head.heard && is_newest) {
        const auto low = static_cast<std::uint16_t>(head.newest + head.beyond);
        const std::uint32_t intent = expand(low, prediction.now().value);
        if (prediction.keeps(Tick{intent})) {
            lead.observe(head.spare / wire::spare_steps, intent, clock.now());
        }
    }
    if (!head.owned) {
        if (is_newest) {
            prediction.lose_runner();
        }
        return;
    }
    if (!head.exact) {
        if (is_newest && head.agreed != 0) {
            ++statistics.confirmed;
            // Unless it was played again since it was sent: then the next news will tell.
            const Tick agreed = tick - (head.agreed - 1);
            const auto mine = prediction.digest_at(agreed);
            if (mine && wire::told_digest(*mine) == sent_digests[agreed.value % ticks_kept]) {
                acknowledged = agreed;
            }
        }
        return;
    }
    Runner exact;
    if (head.chart >= charts.size() || !wire::read_runner(reader, charts[head.chart], exact)) {
        return;
    }
    if (is_newest && prediction.take_exact(own_key, head.chart, tick, exact, stepper, statistics)) {
        acknowledged = tick;
    }
}

void Client::Work::take_snapshot(std::span<const std::byte> bytes, Stepper& stepper) {
    wire::Reader reader(bytes);
    wire::SnapshotHead head;
    wire::HeadModels models;
    wire::code(reader, models, head);
    const std::size_t head_bytes = reader.used();
    wire::MessageStream::Piece piece;
    wire::code(reader, piece);
    const std::size_t before_runner = reader.used();
    const SnapshotNumber near = newest ? *newest : prediction.now().value / snapshot_every;
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
    if (std::uint64_t{number} * snapshot_every > UINT32_MAX || tick - prediction.now() > most_ticks_ahead ||
        tick - prediction.now() <
            -static_cast<std::int32_t>(wire::replicas_kept * snapshot_every + ticks_kept)) {
        ++statistics.malformed;
        return;
    }
    // First everything is read; only what makes sense as a whole is taken in.
    wire::Reader entries = reader;
    if (head.exact) {
        Runner skipped;
        if (head.chart >= charts.size() || !wire::read_runner(entries, charts[head.chart], skipped)) {
            ++statistics.malformed;
            return;
        }
    }
    const std::size_t before_entries = entries.used();
    const Others::Reading reading = others.read(entries, number, head.base, news);
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
        take_own(head, reader, tick, is_newest, stepper);
        return;
    }
    if (is_newest) {
        const double now = number * static_cast<double>(snapshot_every);
        const double last = newest ? *newest * static_cast<double>(snapshot_every) : now;
        if (clock.stood_still()) {
            shown_time.observe_late(now);
        } else {
            shown_time.observe(last, now, clock.now() * config.tick_rate);
        }
        came = newest && later < 64 ? came << static_cast<unsigned>(later) | 1U : 1U;
        newest = number;
    } else {
        came |= std::uint64_t{1} << static_cast<unsigned>(-later);
    }
    take_own(head, reader, tick, is_newest, stepper);
    others.take(number, news, statistics);
    note_figures();
}

void Client::Work::note_view() {
    const Tick now = prediction.now();
    const double ticks = shown_time.started() ? now.value - shown_time.now() : 0.0;
    behind[now.value % ticks_kept] = static_cast<std::uint32_t>(
        std::clamp(ticks * wire::behind_steps + 0.5, 0.0, double{wire::most_behind}));
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
    const Tick now = prediction.now();
    head.newest = static_cast<std::uint16_t>(now.value);
    sent_times[now.value % ticks_kept] = clock.now();
    const std::uint32_t most = intents_in_time();
    std::uint32_t count = 1;
    while (count < most && prediction.played(now - count) && (!acked || (now - count).value != *acked)) {
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
    if (prediction.key() && now.value % snapshot_every == 0) {
        head.predicted = true;
        head.digest = wire::told_digest(digest(prediction.runner()));
        sent_digests[now.value % ticks_kept] = head.digest;
    }

    wire::MessageStream::Piece piece =
        messages.speak(wire::most_message_bytes, clock.now(), round_trips.shortest());
    // With many changes a tick not all may fit; then the oldest stay out, which most likely came with earlier
    // packets.
    for (;; count -= (count + 3) / 4) {
        head.count = count;
        if (const std::size_t size = write_intents(head, piece); size != 0) {
            return size;
        }
    }
}

/// The packet's length; 0 if the intents do not fit. One always does.
std::size_t Client::Work::write_intents(wire::IntentsHead& head, wire::MessageStream::Piece& piece) {
    const Tick first = prediction.now() - (head.count - 1);
    const std::uint32_t gap = acked ? first.value - *acked : 0;
    head.based = acked && gap >= 1 && gap <= wire::most_gap && prediction.keeps(Tick{*acked});
    head.gap = head.based ? gap : 1;
    const std::span<std::byte> room(packet);
    wire::Writer writer(room.subspan(channel.before_body()));
    wire::code(writer, head);
    const std::size_t head_bytes = writer.size();
    wire::code(writer, piece);
    const std::size_t piece_bytes = writer.size() - head_bytes;
    wire::IntentModels models;
    StatedIntent before = head.based ? prediction.intent(first - head.gap) : StatedIntent{};
    std::uint32_t behind_before = head.based ? behind[(first - head.gap).value % ticks_kept] : 0;
    for (std::uint32_t i = 0; i < head.count; ++i) {
        StatedIntent intent = prediction.intent(first + i);
        wire::code_intent(writer, models, intent, before);
        if (i == 0) {
            wire::after_gap(models, head.gap);
        }
        before = intent;
        std::uint32_t said = behind[(first + i).value % ticks_kept];
        wire::code_behind(writer, models.behind, said, behind_before);
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
