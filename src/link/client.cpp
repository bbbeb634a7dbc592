#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/link/client.hpp>

#include "link/exact_runner.hpp"
#include "link/lead.hpp"
#include "link/others.hpp"
#include "link/prediction.hpp"

namespace cursimeter::link {
namespace {

/// s between two hellos.
constexpr double hello_every = 0.25;
/// Goodbyes said, since any may be lost.
constexpr int goodbyes = 3;
/// How far ahead of this client a snapshot can be that is still believed: after a silence it catches up by jumps.
constexpr std::int32_t most_ticks_ahead = 4096;
/// Ticks to be ahead of the server at first, besides the round trip; the lead finds its size by itself.
constexpr double first_lead = 10.0;

/// Four bits can say more than there are reasons.
Farewell known(Farewell why) {
    return why == Farewell::none || why > Farewell::moved ? Farewell::removed : why;
}

void check(const std::vector<Chart>& charts, const ClientConfig& config) {
    std::vector<Diagnostic> findings;
    const auto range = [&](const char* key, double value, double least, double most, const char* mend) {
        if (!(value >= least && value <= most)) {
            findings.push_back({key, fmt::format("{} is out of range", value), mend, {}, 0, 0});
        }
    };
    range("charts", static_cast<double>(charts.size()), 1.0, static_cast<double>(wire::most_charts),
          "give 1 to 16 charts");
    range("tick_rate", config.tick_rate, 10.0, 1000.0, "10 to 1000 ticks a second");
    range("silence", config.silence.value, 0.1, 3600.0, "0.1 to 3600 s");
    range("runners", static_cast<double>(config.runners), 1.0, 1024.0, "1 to 1024");
    range("spare", config.spare, 0.0, 30.0, "0 to 30 ticks");
    range("extrapolate", config.extrapolate.value, 0.0, 1.0, "0 to 1 s");
    range("half_life", config.half_life.value, 0.0, 1.0, "0 to 1 s");
    range("visible_limit", config.visible_limit, 0.0, 1e9, "0 m or more");
    if (!findings.empty()) {
        throw ChartError(std::move(findings));
    }
}

}  // namespace

struct Client::Work {
    Work(std::vector<Chart> given, const ClientConfig& c)
        : charts(std::move(given)),
          config(c),
          prediction(c, charts),
          lead(c.spare),
          others(c, charts),
          packet(packet_bytes) {
        news.reserve(config.runners);
    }

    std::vector<Chart> charts;
    ClientConfig config;
    Phase phase = Phase::joining;
    Farewell farewell = Farewell::none;
    std::uint32_t detail = 0;
    SeatId seat;
    std::uint64_t key = 0, cookie = 0;
    std::uint32_t snapshot_every = 1;
    Prediction prediction;
    Lead lead;
    ShownTime shown_time;
    Others others;
    ClientStatistics statistics;
    std::vector<News> news;
    std::array<double, ticks_kept> phases{};               ///< of the lead when each tick was played
    std::array<std::uint32_t, ticks_kept> sent_digests{};  ///< of the own runner, when each tick was sent
    double local = 0.0;  ///< tick lengths of real time since the client was made
    double heard = 0.0;  ///< on `local`
    double hello_due = 0.0, asked = 0.0;
    int goodbyes_left = 0;
    std::optional<SnapshotNumber> newest;  ///< snapshot
    std::uint64_t came = 0;                ///< bit i: the snapshot i before the newest has come
    std::optional<std::uint32_t> acked;    ///< newest intent that the server has
    std::optional<Tick> acknowledged;      ///< newest tick whose state is known to be the server's
    std::vector<std::byte> packet;
    enum class Due : std::uint8_t { nothing, hello, intents, goodbye } due = Due::nothing;

    void finish(Farewell why, std::uint32_t more, Phase end) {
        phase = end;
        farewell = why;
        detail = more;
        due = Due::nothing;
    }
    void take_challenge(std::span<const std::byte> bytes);
    void take_welcome(std::span<const std::byte> bytes);
    void take_refusal(std::span<const std::byte> bytes);
    void take_snapshot(std::span<const std::byte> bytes, Stepper& stepper, double since_tick);
    void take_own(const wire::SnapshotHead& head, wire::Reader& reader, Tick tick, bool is_newest,
                  Stepper& stepper);
    std::size_t write_intents();
};

void Client::Work::take_challenge(std::span<const std::byte> bytes) {
    const auto challenge = wire::read_message<wire::Challenge>(bytes);
    if (challenge.attempt == config.attempt && challenge.cookie != cookie) {
        cookie = challenge.cookie;
        hello_due = local;  // at once
    }
}

void Client::Work::take_refusal(std::span<const std::byte> bytes) {
    const auto refused = wire::read_message<wire::Refused>(bytes);
    if (refused.attempt == config.attempt) {
        finish(known(refused.why), refused.detail, Phase::refused);
    }
}

void Client::Work::take_welcome(std::span<const std::byte> bytes) {
    const auto welcome = wire::read_message<wire::Welcome>(bytes);
    if (welcome.attempt != config.attempt || welcome.snapshot_every == 0) {
        return;
    }
    if (welcome.runners > config.runners) {
        finish(Farewell::too_many, welcome.runners, Phase::refused);
        return;
    }
    phase = Phase::joined;
    seat = SeatId{welcome.seat};
    key = welcome.key;
    snapshot_every = welcome.snapshot_every;
    heard = local;
    const double ahead = std::min(local - asked, 100.0) + first_lead;
    prediction.start(Tick{welcome.tick} + static_cast<std::uint32_t>(ahead));
    lead.start();
    phases.fill(0.0);
    shown_time.start();
    others.start(snapshot_every);
    newest.reset();
    acked.reset();
    acknowledged.reset();
    due = Due::nothing;
}

void Client::Work::take_own(const wire::SnapshotHead& head, wire::Reader& reader, Tick tick, bool is_newest,
                            Stepper& stepper) {
    const RunnerKey own_key{head.place, head.life};
    if (head.any_intent && is_newest) {
        const std::uint32_t intent = expand(head.newest, prediction.now().value);
        if (prediction.keeps(Tick{intent})) {
            acked = intent;
            lead.observe(head.spare, phases[intent % ticks_kept]);
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
    if (is_newest) {
        acknowledged = tick;
        prediction.take_exact(own_key, head.chart, tick, exact, stepper, statistics);
    }
}

void Client::Work::take_snapshot(std::span<const std::byte> bytes, Stepper& stepper, double since_tick) {
    wire::Reader reader(bytes.subspan(wire::envelope_bytes));
    wire::SnapshotHead head;
    wire::HeadModels models;
    wire::code(reader, models, head);
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
    if (!others.read(entries, number, head.base, news)) {
        ++statistics.malformed;
        return;
    }
    const double time = lead.time() + since_tick;
    if (is_newest) {
        const double last = (newest ? *newest : number) * static_cast<double>(snapshot_every);
        shown_time.observe(last, number * static_cast<double>(snapshot_every), time);
        came = newest && later < 64 ? came << static_cast<unsigned>(later) | 1U : 1U;
        newest = number;
    } else {
        came |= std::uint64_t{1} << static_cast<unsigned>(-later);
    }
    take_own(head, reader, tick, is_newest, stepper);
    others.take(number, news, statistics);
}

std::size_t Client::Work::write_intents() {
    wire::IntentsHead head;
    const Tick now = prediction.now();
    head.newest = static_cast<std::uint16_t>(now.value);
    std::uint32_t count = 1;
    while (count < wire::most_intents && prediction.keeps(now - count) &&
           (!acked || (now - count).value != *acked)) {
        ++count;
    }
    head.count = count;
    const Tick first = now - (count - 1);
    head.based = acked && (first - 1).value == *acked;
    head.any_snapshot = newest.has_value();
    if (newest) {
        head.snapshot = static_cast<std::uint16_t>(*newest);
        for (unsigned i = 0; i < wire::acked_before; ++i) {
            head.before[i] = (came >> (i + 1) & 1U) != 0;
        }
    }
    if (prediction.key()) {
        head.predicted = true;
        head.digest = wire::told_digest(digest(prediction.runner()));
        sent_digests[now.value % ticks_kept] = head.digest;
    }
    const double behind = shown_time.started() ? now.value - shown_time.now() : 0.0;
    head.behind = static_cast<std::uint32_t>(std::clamp(behind * 16.0, 0.0, 8191.0));

    const std::span<std::byte> room(packet);
    wire::Writer writer(room.subspan(wire::envelope_bytes));
    wire::code(writer, head);
    wire::IntentModels models;
    StatedIntent before = head.based ? prediction.intent(first - 1) : StatedIntent{};
    for (std::uint32_t i = 0; i < count; ++i) {
        StatedIntent intent = prediction.intent(first + i);
        wire::code_intent(writer, models, intent, before);
        before = intent;
    }
    const std::size_t size = wire::envelope_bytes + writer.finish();
    if (writer.overflowed()) {
        return 0;  // more than any hand can press; the next packets start from what the server has by then
    }
    wire::seal(room.first(size), wire::Kind::intents, key);
    return size;
}

Client::Client(std::vector<Chart> charts, const ClientConfig& config) {
    check(charts, config);
    work_ = std::make_unique<Work>(std::move(charts), config);
}
Client::~Client() = default;
Client::Client(Client&&) noexcept = default;
Client& Client::operator=(Client&&) noexcept = default;

void Client::receive(std::span<const std::byte> bytes, Stepper& stepper, double since_tick) noexcept {
    Work& w = *work_;
    ++w.statistics.packets_in;
    w.statistics.bytes_in += bytes.size();
    if (w.phase != Phase::joining && w.phase != Phase::joined) {
        return;
    }
    const bool joined = w.phase == Phase::joined;
    if (!wire::is_sealed(bytes, joined ? w.key : 0)) {
        ++w.statistics.damaged;
        return;
    }
    w.heard = w.local;
    switch (static_cast<wire::Kind>(bytes[0])) {
        case wire::Kind::challenge:
            joined ? static_cast<void>(0) : w.take_challenge(bytes);
            break;
        case wire::Kind::welcome:
            joined ? static_cast<void>(0) : w.take_welcome(bytes);
            break;
        case wire::Kind::refusal:
            joined ? static_cast<void>(0) : w.take_refusal(bytes);
            break;
        case wire::Kind::snapshot:
            joined ? w.take_snapshot(bytes, stepper, since_tick)
                   : static_cast<void>(++w.statistics.malformed);
            break;
        case wire::Kind::goodbye:
            if (joined) {
                w.finish(known(wire::read_message<wire::Goodbye>(bytes).why), 0, Phase::ended);
            }
            break;
        default:
            ++w.statistics.malformed;
    }
}

void Client::tick(const Intent& intent, Stepper& stepper) noexcept {
    Work& w = *work_;
    w.local += w.lead.pace();
    const bool silent = w.local - w.heard > w.config.silence.value * w.config.tick_rate;
    if (w.phase == Phase::joining) {
        if (silent) {
            w.finish(Farewell::silent, 0, Phase::ended);
        } else if (w.local >= w.hello_due) {
            w.hello_due = w.local + hello_every * w.config.tick_rate;
            w.asked = w.local;
            w.due = Work::Due::hello;
        }
        return;
    }
    if (w.phase != Phase::joined) {
        w.due = w.goodbyes_left > 0 ? Work::Due::goodbye : Work::Due::nothing;
        return;
    }
    if (silent) {
        w.finish(Farewell::silent, 0, Phase::ended);
        return;
    }
    const double passed = w.lead.pace();
    w.lead.tick();
    if (const int skipped = w.lead.ticks_to_skip(); skipped > 0) {
        w.prediction.skip(static_cast<std::uint32_t>(skipped), stepper);
        w.lead.skip(skipped);
        for (int i = 0; i < skipped; ++i) {
            w.phases[(w.prediction.now().value - static_cast<std::uint32_t>(i)) % ticks_kept] =
                w.lead.phase();
        }
    }
    w.prediction.tick(intent, stepper);
    w.phases[w.prediction.now().value % ticks_kept] = w.lead.phase();
    w.shown_time.tick(w.lead.time(), passed);
    if (w.shown_time.started()) {
        w.others.show(w.shown_time.now());
        w.statistics.view_delay = w.prediction.now().value - w.shown_time.now();
    }
    w.due = Work::Due::intents;
}

std::optional<std::span<const std::byte>> Client::next_packet() noexcept {
    Work& w = *work_;
    std::size_t size = 0;
    switch (w.due) {
        case Work::Due::nothing:
            return std::nullopt;
        case Work::Due::hello: {
            wire::Hello hello;
            hello.identity = w.config.identity;
            hello.attempt = w.config.attempt;
            hello.cookie = w.cookie;
            hello.rate = wire::rate_of(w.config.tick_rate);
            hello.chart_count = static_cast<std::uint32_t>(w.charts.size());
            for (std::size_t i = 0; i < w.charts.size(); ++i) {
                hello.charts[i] = static_cast<std::uint32_t>(w.charts[i].digest());
            }
            size = wire::write_message(w.packet, wire::Kind::hello, hello, 0);
            w.due = Work::Due::nothing;
            break;
        }
        case Work::Due::intents:
            size = w.write_intents();
            w.due = Work::Due::nothing;
            break;
        case Work::Due::goodbye:
            size = wire::write_message(w.packet, wire::Kind::goodbye, wire::Goodbye{Farewell::left}, w.key);
            if (--w.goodbyes_left == 0) {
                w.due = Work::Due::nothing;
            }
            break;
    }
    if (size == 0) {
        return std::nullopt;
    }
    w.statistics.packets_out += 1;
    w.statistics.bytes_out += size;
    return std::span<const std::byte>(w.packet).first(size);
}

void Client::leave() noexcept {
    Work& w = *work_;
    if (w.phase == Phase::joined) {
        w.finish(Farewell::left, 0, Phase::ended);
        w.goodbyes_left = goodbyes;
        w.due = Work::Due::goodbye;
    } else if (w.phase == Phase::joining) {
        w.finish(Farewell::left, 0, Phase::ended);
    }
}

Phase Client::phase() const {
    return work_->phase;
}
Farewell Client::farewell() const {
    return work_->farewell;
}
std::uint32_t Client::farewell_detail() const {
    return work_->detail;
}
SeatId Client::seat() const {
    return work_->seat;
}
double Client::pace() const {
    return work_->lead.pace();
}
Tick Client::now() const {
    return work_->prediction.now();
}
std::optional<RunnerKey> Client::own_key() const {
    return work_->prediction.key();
}
const Runner& Client::own() const {
    return work_->prediction.runner();
}
const Chart& Client::own_chart() const {
    return work_->charts[work_->prediction.chart()];
}
glm::dvec3 Client::own_shown() const {
    return work_->prediction.shown();
}
std::optional<Tick> Client::acknowledged() const {
    return work_->acknowledged;
}
std::optional<std::uint64_t> Client::digest_at(Tick tick) const {
    return work_->prediction.digest_at(tick);
}
const Report& Client::report() const {
    return work_->prediction.report();
}
std::optional<Correction> Client::next_correction() {
    return work_->prediction.next_correction();
}
double Client::shown_time() const {
    return work_->shown_time.now();
}
std::span<const RunnerKey> Client::others() const {
    return work_->others.keys();
}
std::optional<Shown> Client::shown(RunnerKey runner) const {
    return work_->others.shown(runner);
}
std::optional<RemoteEvent> Client::next_event() {
    return work_->others.next_event();
}
const ClientStatistics& Client::statistics() const {
    return work_->statistics;
}

std::string describe_farewell(Farewell why, std::uint32_t detail) {
    switch (why) {
        case Farewell::none:
            return "connected";
        case Farewell::other_version:
            return fmt::format("the server speaks version {} of the protocol, this client {}", detail,
                               protocol_version);
        case Farewell::other_tick_rate:
            return fmt::format("the server plays {} ticks a second", detail / 1000.0);
        case Farewell::other_charts:
            return fmt::format("chart {} is not the server's", detail);
        case Farewell::full:
            return fmt::format("the server is full ({} seats)", detail);
        case Farewell::too_many:
            return fmt::format("the server has {} runners, more than ClientConfig::runners", detail);
        case Farewell::left:
            return "left";
        case Farewell::removed:
            return "removed by the server";
        case Farewell::silent:
            return "nothing was heard for too long";
        case Farewell::moved:
            return "the same identity has joined from elsewhere";
    }
    return "ended";
}

}  // namespace cursimeter::link
