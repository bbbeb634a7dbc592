#include <algorithm>

#include "link/client/client_work.hpp"
#include "link/settings_check.hpp"

namespace cursimeter::link {
namespace {

/// s between two hellos.
constexpr double hello_every = 0.25;
/// Goodbyes said, since any may be lost.
constexpr int goodbyes = 3;
void check(const std::vector<Chart>& charts, const ClientConfig& config) {
    SettingsCheck settings;
    settings.shared(charts, config.tick_rate, config.runners, config.silence);
    settings.chosen("identity", config.identity, "give the number by which the game knows this player");
    settings.chosen("attempt", config.attempt,
                    "give a larger number for each attempt to join, such as the time in ms");
    settings.range("spare", config.spare, 0.0, 30.0, "0 to 30 ticks");
    settings.range("extrapolate", config.extrapolate.value, 0.0, 1.0, "0 to 1 s");
    settings.range("half_life", config.half_life.value, 0.0, 1.0, "0 to 1 s");
    settings.range("visible_limit", config.visible_limit, 0.0, 1e9, "0 m or more");
    settings.finish();
}

}  // namespace

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
            const std::uint32_t tick = w.prediction.now().value - static_cast<std::uint32_t>(i);
            w.phases[tick % ticks_kept] = w.lead.phase();
            w.behind[tick % ticks_kept] = 0;  // nobody looked
        }
    }
    w.prediction.tick(intent, stepper);
    w.phases[w.prediction.now().value % ticks_kept] = w.lead.phase();
    w.shown_time.tick(w.lead.time(), passed);
    if (w.shown_time.started()) {
        w.others.show(w.shown_time.now());
        w.statistics.view_delay = w.prediction.now().value - w.shown_time.now();
    }
    w.note_view();
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

}  // namespace cursimeter::link
