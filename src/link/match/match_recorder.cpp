#include "link/match/match_recorder.hpp"

#include <fmt/format.h>

#include <bit>

#include "core/chart/recording_bytes.hpp"
#include "link/server/server_work.hpp"
#include "link/wire/exact_runner.hpp"
#include "link/wire/packet.hpp"

namespace cursimeter::link {
namespace {

/// Bytes of one intent at most: 16 changes, extra bytes, and numbers that the models did not expect.
constexpr std::size_t most_intent_bytes = 1024;

}  // namespace

MatchRecorder::MatchRecorder(const Server& server, const MatchOrigin& origin, std::size_t room)
    : work_(std::make_unique<Work>()) {
    const Server::Work& played = *server.work_;
    if (!origin.charts.empty() && origin.charts.size() != played.charts.size()) {
        throw ChartError({{"charts",
                           fmt::format("{} texts for {} charts", origin.charts.size(), played.charts.size()),
                           "give the text of each of the server's charts, in their order, or none",
                           {},
                           0,
                           0}});
    }
    Work& w = *work_;
    const std::size_t places = played.config.runners;
    w.seen.resize(places);
    w.block.resize(places * (2 * wire::most_exact_bytes + most_intent_bytes) + 64);
    w.whole_every = static_cast<std::uint32_t>(match::whole_every * played.config.tick_rate);
    std::vector<std::byte> head;
    detail::put_letters(head, {match::magic.data(), match::magic.size()});
    detail::put_number(head, match::version, 4);
    detail::put_number(head, std::bit_cast<std::uint64_t>(played.config.tick_rate), 8);
    detail::put_number(head, played.config.game, 8);
    detail::put_number(head, played.config.world, 8);
    detail::put_number(head, places, 2);
    detail::put_number(head, played.charts.size(), 1);
    for (std::size_t i = 0; i < played.charts.size(); ++i) {
        detail::put_number(head, played.charts[i].digest(), 8);
        w.charts.push_back(played.charts[i].digest());
        detail::put_text(head, origin.charts.empty() ? std::string() : origin.charts[i]);
    }
    detail::put_text(head, origin.course);
    detail::put_text(head, origin.note);
    w.bytes = std::move(head);
    w.bytes.reserve(w.bytes.size() + std::max(room, 2 * w.block.size()));
}
MatchRecorder::~MatchRecorder() = default;
MatchRecorder::MatchRecorder(MatchRecorder&&) noexcept = default;
MatchRecorder& MatchRecorder::operator=(MatchRecorder&&) noexcept = default;

std::span<const std::byte> MatchRecorder::bytes() const {
    return work_->bytes;
}
void MatchRecorder::clear() noexcept {
    work_->bytes.clear();
}
std::uint32_t MatchRecorder::ticks() const {
    return work_->ticks;
}
bool MatchRecorder::over() const {
    return work_->over;
}

bool MatchRecorder::Work::fits(const Crowd& crowd, const std::vector<Chart>& others) const {
    return seen.size() == crowd.actors().size() &&
           std::equal(charts.begin(), charts.end(), others.begin(), others.end(),
                      [](std::uint64_t digest, const Chart& chart) { return digest == chart.digest(); });
}

void MatchRecorder::Work::begin(const Crowd& crowd, Tick tick) noexcept {
    if (over) {
        return;
    }
    writer.emplace(block);
    std::uint32_t number = tick.value;
    whole = ticks % whole_every == whole_every - 1;
    match::code_head(*writer, models, number, last_tick, whole);
    last_tick = number;
    bool more = true;
    std::uint32_t from = 0;
    for (std::uint32_t place = 0; place < seen.size(); ++place) {
        const Actor& actor = crowd.actors()[place];
        Seen& last = seen[place];
        match::Change change{place, match::What::touched, actor.life, actor.chart, actor.owner};
        if (!actor.used && !last.used) {
            continue;
        }
        if (!actor.used) {
            change.what = match::What::gone;
        } else if (!last.used || last.life != actor.life) {
            change.what = match::What::begins;
        } else if (last.digest == digest(actor.runner)) {
            continue;
        }
        writer->bit(models.more, more);
        match::code(*writer, models, change, from);
        from = place + 1;
        if (change.what != match::What::gone) {
            wire::write_runner(*writer, actor.runner);
        }
        if (change.what == match::What::begins) {
            last.intent = {};
        }
        last.used = actor.used;
        last.life = actor.life;
    }
    more = false;
    writer->bit(models.more, more);
}

void MatchRecorder::Work::end(const Crowd& crowd) noexcept {
    if (over) {
        return;
    }
    for (std::size_t place = 0; place < seen.size(); ++place) {
        const Actor& actor = crowd.actors()[place];
        Seen& last = seen[place];
        if (!actor.used) {
            continue;
        }
        StatedIntent played = actor.played;
        wire::code_intent(*writer, last.models, played, last.intent);
        last.intent = played;
        last.digest = digest(actor.runner);
        std::uint32_t told = match::short_digest(last.digest);
        writer->bits(told, match::told_digest_bits);
        if (whole) {
            wire::write_runner(*writer, actor.runner);
        }
    }
    const std::size_t size = writer->finish();
    over = writer->overflowed() ||
           bytes.capacity() - bytes.size() < size + match::most_length_bytes + match::checksum_bytes;
    writer.reset();
    if (over) {
        return;
    }
    const std::span<const std::byte> body = std::span(block).first(size);
    for (std::size_t left = size;; left >>= 7U) {
        const std::size_t more = left >= 0x80 ? 0x80 : 0;
        detail::put_number(bytes, (left & 0x7fU) | more, 1);
        if (more == 0) {
            break;
        }
    }
    detail::put_number(bytes, wire::digest_of(body, match::version), match::checksum_bytes);
    bytes.insert(bytes.end(), body.begin(), body.end());
    ++ticks;
}

}  // namespace cursimeter::link
