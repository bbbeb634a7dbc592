#include <algorithm>
#include <array>
#include <cmath>

#include "rehearsal/rehearsal_work.hpp"

namespace cursimeter::rehearsal {

namespace {

/// s from one standstill to the next.
constexpr double stall_every = 10.0;
/// s for which server and clients go their ways at most.
constexpr double longest_apart = 0.25;
constexpr double never = 1e300;

}  // namespace

void Rehearsal::Work::answer_events() {
    while (const auto event = server.next_event()) {
        if (event->kind != link::ServerEventKind::joined) {
            continue;
        }
        for (std::size_t i = 0; i < server.read_seat(event->seat).players; ++i) {
            const std::size_t number = number_of(event->identity - 1, i);
            Placement start;
            const Runner placed = scene.drills[number % scene.drills.size()].spawn(scene.chart);
            start.position = placed.position();
            start.yaw = placed.yaw();
            if (!scene.course) {
                start.position.y += plan.start_apart * static_cast<double>(number);
            }
            static_cast<void>(server.spawn(0, start, event->seat, i));
        }
    }
}

void Rehearsal::Work::run_server() {
    server.tell_time(Seconds{now});
    for (const auto& [peer, bytes] : server_inbox) {
        server.receive(peer, bytes);
    }
    server_inbox.clear();
    while (server.due()) {
        tick_server();
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
        truth.moments.push_back(
            {runner.position(), digest(runner), runner.state(), {runner.yaw(), runner.pitch()}});
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
}

Intent Rehearsal::Work::next_intent(Player& client, std::size_t index, std::size_t player) {
    if (!client.client->own_key(player) || hushed) {
        return {};
    }
    PlayerHands& hands = client.hands[player];
    if (scene.human_hands) {
        return hands.human->next(Seconds{dt()});
    }
    const std::size_t number = number_of(index, player);
    const Drill& drill = scene.drills[number % scene.drills.size()];
    const double length = drill.length().value;
    if (!hands.drill) {
        hands.drill = std::make_unique<DrillPlayer>(drill, client.client->own(player));
        hands.drill_time = scene.course || scene.drills.size() > 1
                               ? 0.0
                               : std::fmod(plan.drill_apart * static_cast<double>(number), length);
        if (hands.drill_time > 0.0) {
            static_cast<void>(hands.drill->intent(0.0, hands.drill_time));
        }
    }
    if (hands.drill_time + dt() > length) {
        if (scene.course) {
            return {};
        }
        hands.drill = std::make_unique<DrillPlayer>(drill, client.client->own(player));
        hands.drill_time = 0.0;
    }
    const double begin = hands.drill_time;
    hands.drill_time = begin + dt();
    return hands.drill->intent(begin, hands.drill_time);
}

/// The loop of a game, once.
void Rehearsal::Work::run_client(Player& player, std::size_t index) {
    link::Client& client = *player.client;
    if (player.views) {
        player.views->set_time(client.shown_time() * dt());
    }
    client.tell_time(Seconds{clock_of(player, index)});
    for (const std::vector<std::byte>& bytes : player.inbox) {
        hand_over(player, bytes);
    }
    player.inbox.clear();
    for (int ticks = 0; client.due() && (plan.most_ticks_a_frame == 0 || ticks < plan.most_ticks_a_frame);
         ++ticks) {
        tick_client(player, index);
    }
    while (const auto packet = client.next_packet()) {
        player.up.send(player.now, *packet);
    }
    if (plan.stall.value > 0.0 && player.now >= player.stalls_at) {
        player.stalls_at += stall_every;
        player.stands_until = player.now + plan.stall.value;
    }
    player.wakes_at = plan.frame_rate > 0.0 ? player.now + 1.0 / plan.frame_rate : due_time(player, index);
}

double Rehearsal::Work::due_time(const Player& player, std::size_t index) const {
    const double clock = player.client->due_at().value - clock_of(player, index);
    return player.now + std::max(0.0, clock / (1.0 + plan.clock_drift)) + 1e-9;
}

void Rehearsal::Work::tick_client(Player& player, std::size_t index) {
    link::Client& client = *player.client;
    std::array<Intent, link::most_players> intents{};
    for (std::size_t i = 0; i < plan.client.players; ++i) {
        intents[i] = next_intent(player, index, i);
    }
    client.tick_players(std::span(intents).first(plan.client.players), *player.world);
    if (client.phase() == link::Phase::joined && client.own_key()) {
        judge(player, index);
    }
}

void Rehearsal::Work::arrive_down(Player& player, std::size_t index) {
    std::vector<std::byte> bytes = player.down.take();
    if (!player.running) {
        return;
    }
    player.inbox.push_back(std::move(bytes));
    if (plan.frame_rate == 0.0 && player.now >= player.stands_until) {
        run_client(player, index);
    }
}

void Rehearsal::Work::hand_over(Player& player, std::span<const std::byte> bytes) {
    link::Client& client = *player.client;
    const std::uint64_t rejoins = client.statistics().rejoins;
    client.receive(bytes, *player.world);
    if (client.statistics().rejoins != rejoins) {
        player.forget_others();  // the server had forgotten it: what it sees begins anew
    }
    // What the server has acknowledged is the same at both ends.
    for (std::size_t i = 0; i < plan.client.players; ++i) {
        const auto tick = client.acknowledged(i);
        if (!tick || !client.own_key(i)) {
            continue;
        }
        const auto truth = truths.find(*client.own_key(i));
        const Truth::Moment* moment = truth != truths.end() ? truth->second.at(tick->value) : nullptr;
        const auto mine = client.digest_at(*tick, i);
        if (moment != nullptr && mine) {
            ++player.result.digests_compared;
            player.result.digests_differing += *mine != moment->digest ? 1 : 0;
        }
    }
}

Rehearsal::Work::Next Rehearsal::Work::next_of_server() {
    Next next{std::max(server.due_at().value, server_stands_until), nullptr};
    for (const auto& player : players) {
        const double at = player->up.next_arrival().value_or(never);
        if (at < next.at) {
            next = {at, player.get()};
        }
    }
    return next;
}

Rehearsal::Work::Next Rehearsal::Work::next_of(Player& player) const {
    const double packet = player.down.next_arrival().value_or(never);
    const double tick = player.running ? std::max(player.wakes_at, player.stands_until) : never;
    return packet <= tick ? Next{packet, &player} : Next{tick, nullptr};
}

double Rehearsal::Work::apart() const {
    double least = longest_apart;
    for (const auto& player : players) {
        least = std::min({least, player->up.least_delay(), player->down.least_delay()});
    }
    return least;
}

void Rehearsal::Work::count_first_second(double time) {
    for (const auto& player : players) {
        if (!player->first_second_over && player->joined_at >= 0.0 && time - player->joined_at > 1.0) {
            player->first_second_over = true;
            player->missing_in_first_second = server.read_seat(player->client->seat()).missing;
        }
    }
}

void Rehearsal::Work::play_server(const Stretch& stretch) {
    for (Next next = next_of_server(); stretch.holds(next.at); next = next_of_server()) {
        count_first_second(next.at);
        now = std::max(now, next.at);
        if (next.packet_of != nullptr) {
            server_inbox.emplace_back(next.packet_of->peer, next.packet_of->up.take());
        }
        if (now >= server_stands_until) {
            run_server();
        }
    }
}

void Rehearsal::Work::play_client(std::size_t index, const Stretch& stretch) {
    Player& player = *players[index];
    for (Next next = next_of(player); stretch.holds(next.at); next = next_of(player)) {
        player.now = std::max(player.now, next.at);
        if (next.packet_of != nullptr) {
            arrive_down(player, index);
        } else {
            run_client(player, index);
        }
    }
}

/// For as long as any packet takes, server and clients go their ways: what one sends meanwhile comes later. The server
/// goes first, for the truth by which clients are judged.
void Rehearsal::Work::step_until(double seconds) {
    const double together = apart();
    for (;;) {
        double begin = next_of_server().at;
        for (const auto& player : players) {
            begin = std::min(begin, next_of(*player).at);
        }
        if (begin > seconds) {
            break;
        }
        const Stretch stretch{begin, begin + together, seconds};
        play_server(stretch);
        struct Clients final : link::Job {
            Clients(Work& w, const Stretch& s) : work(w), part(s) {}
            void piece(std::size_t index) noexcept override { work.play_client(index, part); }
            Work& work;
            const Stretch& part;
        } clients(*this, stretch);
        // Where they are apart for less than a tick there is too little to hand out.
        if (workers != nullptr && together >= dt()) {
            workers->run(players.size(), clients);
        } else {
            for (std::size_t i = 0; i < players.size(); ++i) {
                clients.piece(i);
            }
        }
    }
    now = std::max(now, seconds);
    for (const auto& player : players) {
        player->now = std::max(player->now, seconds);
    }
}

namespace {

Scene checked(Scene scene) {
    for (const Drill& drill : scene.drills) {
        require_fresh_start(drill);
    }
    return scene;
}

}  // namespace

Rehearsal::Rehearsal(Scene scene, const Plan& plan)
    : work_(std::make_unique<Work>(checked(std::move(scene)), plan)) {}
Rehearsal::~Rehearsal() = default;

void Rehearsal::before_tick(std::function<void(link::Server&)> act) {
    work_->act = std::move(act);
}
void Rehearsal::set_workers(link::Workers* workers) {
    work_->workers = workers;
    work_->server.set_workers(workers);
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

void Rehearsal::stall(std::size_t index, Seconds time) {
    work_->players.at(index)->stands_until = work_->now + time.value;
}
void Rehearsal::stall_server(Seconds time) {
    work_->server_stands_until = work_->now + time.value;
}

void Rehearsal::hush() {
    work_->hushed = true;
}

Result rehearse(Scene scene, const Plan& plan) {
    Rehearsal rehearsal(std::move(scene), plan);
    rehearsal.run_until(plan.seconds);
    return rehearsal.finish();
}

}  // namespace cursimeter::rehearsal
