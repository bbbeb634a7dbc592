#include <algorithm>
#include <bit>
#include <cmath>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <map>

namespace cursimeter::rehearsal {
namespace {

using link::RunnerKey;
using link::Tick;

/// s after joining from which on a client's view is judged.
constexpr double settling = 2.0;
/// m from which on a correction is seen.
constexpr double visible = 0.05;

double length_of(const glm::dvec3& v) {
    return std::sqrt(v.x * v.x + v.y * v.y + v.z * v.z);
}

/// What the server made of one runner.
struct Truth {
    struct Moment {
        glm::dvec3 place{0.0};
        std::uint64_t digest = 0;
        StateId state;
    };
    struct Entered {
        double at;  ///< ticks
        std::uint8_t state;
    };
    std::uint32_t first = 0;      ///< tick of the first moment
    std::vector<Moment> moments;  ///< one a tick
    std::vector<Entered> entered;

    [[nodiscard]] const Moment* at(std::uint32_t tick) const {
        return tick >= first && tick - first < moments.size() ? &moments[tick - first] : nullptr;
    }
    [[nodiscard]] std::optional<glm::dvec3> place(double time) const {
        const double whole = std::floor(time);
        const Moment* before = at(static_cast<std::uint32_t>(whole));
        const Moment* after = at(static_cast<std::uint32_t>(whole) + 1);
        if (before == nullptr || after == nullptr) {
            return std::nullopt;
        }
        return before->place + (after->place - before->place) * (time - whole);
    }
};

double percentile(std::vector<double>& values, double part) {
    if (values.empty()) {
        return 0.0;
    }
    const auto place = static_cast<std::size_t>(part * static_cast<double>(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(place), values.end());
    return values[place];
}

}  // namespace

Report OnCourse::step(const Chart& chart, Runner& runner, const Intent& intent, Tick tick,
                      Seconds dt) noexcept {
    terrain_.set_time((tick.value - 1) * dt_);
    return advance(chart, runner, intent, terrain_, dt);
}

struct Rehearsal::Work {
    struct Player {
        Player(const Plan& plan, Random& random)
            : up(plan.up, random.next()), down(plan.down, random.next()) {}
        std::unique_ptr<link::Client> client;
        std::unique_ptr<link::Stepper> world;
        SimulatedLink up, down;
        link::PeerId peer;
        double next_tick = 0.0, last_tick = 0.0;
        double joined_at = -1.0;
        std::unique_ptr<DrillPlayer> drill;
        double drill_time = 0.0;
        bool running = true;
        std::uint64_t attempts = 0;
        // What it saw.
        std::vector<double> errors;
        std::map<RunnerKey, std::pair<glm::dvec3, glm::dvec3>> last_places;  ///< shown, true
        std::map<RunnerKey, std::size_t> next_entered;
        std::map<RunnerKey, double> first_seen;  ///< ticks
        double input_delay = 0.0, view_delay = 0.0;
        std::size_t delays = 0;
        std::uint64_t missing_in_first_second = 0;
        bool first_second_over = false;
        ClientResult result;
    };

    Work(Scene given, const Plan& p)
        : scene(std::move(given)),
          plan(p),
          random(p.seed),
          server({scene.chart}, p.server),
          world(make_world()) {
        for (std::size_t i = 0; i < plan.clients; ++i) {
            join();
        }
    }

    Scene scene;
    Plan plan;
    Random random;
    link::Server server;
    std::unique_ptr<link::Stepper> world;
    std::vector<std::unique_ptr<Player>> players;
    std::function<void(link::Server&)> act;
    double now = 0.0, next_tick = 0.0;
    bool hushed = false;
    std::map<RunnerKey, Truth> truths;
    std::vector<Glimpse> seen;

    [[nodiscard]] double dt() const { return 1.0 / plan.server.tick_rate; }
    [[nodiscard]] std::unique_ptr<link::Stepper> make_world() const {
        if (scene.course) {
            return std::make_unique<OnCourse>(*scene.course, scene.chart, plan.server.tick_rate);
        }
        return std::make_unique<link::OpenGround>();
    }
    std::size_t join() {
        players.push_back(std::make_unique<Player>(plan, random));
        players.back()->world = make_world();
        players.back()->next_tick = now + random.part() * dt();
        connect(players.size() - 1);
        return players.size() - 1;
    }
    void connect(std::size_t index) {
        Player& player = *players[index];
        link::ClientConfig config = plan.client;
        config.tick_rate = plan.server.tick_rate;
        config.identity = index + 1;
        config.attempt = ++player.attempts;
        player.client = std::make_unique<link::Client>(std::vector{scene.chart}, config);
        player.peer = {(index + 1) << 16U | player.attempts};
        player.running = true;
        player.joined_at = -1.0;
        player.drill.reset();
        player.next_tick = std::max(player.next_tick, now);
        player.last_tick = player.next_tick;
        player.last_places.clear();
        player.next_entered.clear();
        player.first_seen.clear();
    }
    Player* player_of(link::PeerId peer) {
        for (const auto& player : players) {
            if (player->peer == peer) {
                return player.get();
            }
        }
        return nullptr;
    }

    void answer_events();
    void tick_server();
    void tick_client(Player& player, std::size_t index);
    [[nodiscard]] Intent next_intent(Player& player, std::size_t index);
    void arrive_up(Player& player);
    void arrive_down(Player& player);
    void judge(Player& player, std::size_t index);
    void judge_events(Player& player);
    void count_missing(Player& player);
    void step_until(double seconds);
};

void Rehearsal::Work::answer_events() {
    while (const auto event = server.next_event()) {
        if (event->kind != link::ServerEventKind::joined) {
            continue;
        }
        Placement start;
        const Runner placed = scene.drills[(event->identity - 1) % scene.drills.size()].spawn(scene.chart);
        start.position = placed.position();
        start.yaw = placed.yaw();
        if (!scene.course) {
            start.position.y += plan.start_apart * static_cast<double>(event->identity - 1);
        }
        static_cast<void>(server.spawn(0, start, event->seat));
    }
}

void Rehearsal::Work::tick_server() {
    answer_events();
    if (act) {
        act(server);
    }
    server.tick(*world);
    const std::uint32_t tick = server.now().value;
    for (const RunnerKey key : server.runners()) {
        const Runner& runner = server.runner(key);
        Truth& truth = truths[key];
        if (truth.moments.empty()) {
            truth.first = tick;
        }
        truth.moments.push_back({runner.position(), digest(runner), runner.state()});
        for (const Event& event : server.report(key).events()) {
            if (event.kind == EventKind::entered) {
                truth.entered.push_back({tick - 1 + event.at / dt(), event.subject});
            }
        }
    }
    while (const auto packet = server.next_packet()) {
        if (Player* player = player_of(packet->peer)) {
            player->down.send(now, packet->bytes);
        }
    }
    next_tick += dt();
}

Intent Rehearsal::Work::next_intent(Player& player, std::size_t index) {
    if (!player.client->own_key() || hushed) {
        return {};
    }
    const Drill& drill = scene.drills[index % scene.drills.size()];
    const double length = drill.length().value;
    if (!player.drill) {
        player.drill = std::make_unique<DrillPlayer>(drill, player.client->own());
        player.drill_time = scene.course || scene.drills.size() > 1
                                ? 0.0
                                : std::fmod(plan.drill_apart * static_cast<double>(index), length);
        if (player.drill_time > 0.0) {
            static_cast<void>(player.drill->intent(0.0, player.drill_time));
        }
    }
    if (player.drill_time + dt() > length) {
        if (scene.course) {
            return {};
        }
        player.drill = std::make_unique<DrillPlayer>(drill, player.client->own());
        player.drill_time = 0.0;
    }
    const double begin = player.drill_time;
    player.drill_time = begin + dt();
    return player.drill->intent(begin, player.drill_time);
}

void Rehearsal::Work::tick_client(Player& player, std::size_t index) {
    link::Client& client = *player.client;
    client.tick(next_intent(player, index), *player.world);
    while (const auto packet = client.next_packet()) {
        player.up.send(now, *packet);
    }
    player.last_tick = now;
    player.next_tick = now + client.pace() * dt();
    if (client.phase() == link::Phase::joined && client.own_key()) {
        judge(player, index);
    }
}

void Rehearsal::Work::judge(Player& player, std::size_t index) {
    link::Client& client = *player.client;
    if (player.joined_at < 0.0) {
        player.joined_at = now;
    }
    player.input_delay += client.now().value * dt() - now;
    player.view_delay += now - client.shown_time() * dt();
    ++player.delays;
    while (const auto correction = client.next_correction()) {
        player.result.corrections += 1;
        player.result.visible_corrections += correction->distance > visible ? 1 : 0;
        player.result.correction_max = std::max(player.result.correction_max, correction->distance);
    }
    if (plan.keep_paths) {
        player.result.own.push_back(
            {now, client.now().value * dt(), client.own_shown(), client.own().state()});
    }
    judge_events(player);
    for (const RunnerKey key : client.others()) {
        player.first_seen.try_emplace(key, client.shown_time());
        const auto shown = client.shown(key);
        const auto there = truths.find(key);
        const auto true_place =
            there == truths.end() ? std::nullopt : there->second.place(client.shown_time());
        if (!shown || !true_place || now - player.joined_at < settling ||
            client.shown_time() - there->second.first < settling / dt()) {
            player.last_places.erase(key);
            continue;
        }
        player.errors.push_back(length_of(shown->position - *true_place));
        if (const auto last = player.last_places.find(key); last != player.last_places.end()) {
            const glm::dvec3 moved = shown->position - last->second.first;
            const glm::dvec3 truly = *true_place - last->second.second;
            player.result.remote_jump_max = std::max(player.result.remote_jump_max, length_of(moved - truly));
        }
        player.last_places[key] = {shown->position, *true_place};
        if (plan.keep_paths && index == 1 && key == server.runners().front()) {
            seen.push_back({now, client.shown_time() * dt(), shown->position, shown->state});
        }
    }
}

void Rehearsal::Work::judge_events(Player& player) {
    while (const auto event = player.client->next_event()) {
        if (event->kind != EventKind::entered) {
            continue;
        }
        ++player.result.events_shown;
        const std::vector<Truth::Entered>& truth = truths[event->runner].entered;
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

void Rehearsal::Work::arrive_up(Player& player) {
    server.receive(player.peer, player.up.take());
}

void Rehearsal::Work::arrive_down(Player& player) {
    const std::vector<std::byte> bytes = player.down.take();
    if (!player.running) {
        return;
    }
    link::Client& client = *player.client;
    const double since = std::clamp((now - player.last_tick) / dt(), 0.0, 1.0);
    client.receive(bytes, *player.world, since);
    // What the server has acknowledged is the same at both ends.
    if (const auto tick = client.acknowledged(); tick && client.own_key()) {
        const auto truth = truths.find(*client.own_key());
        const Truth::Moment* moment = truth != truths.end() ? truth->second.at(tick->value) : nullptr;
        const auto mine = client.digest_at(*tick);
        if (moment != nullptr && mine) {
            ++player.result.digests_compared;
            player.result.digests_differing += *mine != moment->digest ? 1 : 0;
        }
    }
}

void Rehearsal::Work::step_until(double seconds) {
    for (;;) {
        // What comes first; at one time, packets before ticks and the server before clients.
        enum class What : std::uint8_t { server_tick, client_tick, up, down } what = What::server_tick;
        double at = next_tick;
        std::size_t who = 0;
        const auto consider = [&](double time, What kind, std::size_t index) {
            if (time < at) {
                at = time;
                what = kind;
                who = index;
            }
        };
        for (std::size_t i = 0; i < players.size(); ++i) {
            const Player& player = *players[i];
            consider(player.up.next_arrival().value_or(1e300), What::up, i);
            consider(player.down.next_arrival().value_or(1e300), What::down, i);
            if (player.running) {
                consider(player.next_tick, What::client_tick, i);
            }
        }
        if (at > seconds) {
            now = std::max(now, seconds);
            return;
        }
        now = std::max(now, at);
        switch (what) {
            case What::server_tick:
                tick_server();
                break;
            case What::client_tick:
                tick_client(*players[who], who);
                break;
            case What::up:
                arrive_up(*players[who]);
                break;
            case What::down:
                arrive_down(*players[who]);
                break;
        }
        for (const auto& player : players) {
            if (!player->first_second_over && player->joined_at >= 0.0 && now - player->joined_at > 1.0) {
                player->first_second_over = true;
                player->missing_in_first_second = server.read_seat(player->client->seat()).missing;
            }
        }
    }
}

Rehearsal::Rehearsal(Scene scene, const Plan& plan) : work_(std::make_unique<Work>(std::move(scene), plan)) {}
Rehearsal::~Rehearsal() = default;

void Rehearsal::before_tick(std::function<void(link::Server&)> act) {
    work_->act = std::move(act);
}
double Rehearsal::now() const {
    return work_->now;
}
void Rehearsal::run_until(double seconds) {
    work_->step_until(seconds);
}
link::Server& Rehearsal::server() {
    return work_->server;
}
std::size_t Rehearsal::client_count() const {
    return work_->players.size();
}
link::Client& Rehearsal::client(std::size_t index) {
    return *work_->players.at(index)->client;
}
bool Rehearsal::running(std::size_t index) const {
    return work_->players.at(index)->running;
}
SimulatedLink& Rehearsal::up(std::size_t index) {
    return work_->players.at(index)->up;
}
SimulatedLink& Rehearsal::down(std::size_t index) {
    return work_->players.at(index)->down;
}
std::size_t Rehearsal::join() {
    return work_->join();
}
void Rehearsal::rejoin(std::size_t index) {
    work_->connect(index);
}
void Rehearsal::drop(std::size_t index) {
    work_->players.at(index)->running = false;
}
void Rehearsal::leave(std::size_t index) {
    Work::Player& player = *work_->players.at(index);
    player.client->leave();
    while (const auto packet = player.client->next_packet()) {
        player.up.send(work_->now, *packet);
    }
    player.running = false;
}

void Rehearsal::hush() {
    work_->hushed = true;
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
        if (player->joined_at >= 0.0) {
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
        const double count = static_cast<double>(std::max<std::size_t>(player->delays, 1));
        one.input_delay = player->input_delay / count;
        one.view_delay = player->view_delay / count;
        w.count_missing(*player);
        told += one.seat.remotes_told;
        bits += one.seat.remote_bits;
        if (player->client->own_key()) {
            mix(digest(player->client->own()));
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

Result rehearse(Scene scene, const Plan& plan) {
    Rehearsal rehearsal(std::move(scene), plan);
    rehearsal.run_until(plan.seconds);
    return rehearsal.finish();
}

}  // namespace cursimeter::rehearsal
