#pragma once

#include <algorithm>
#include <cmath>
#include <cursimeter/rehearsal/human_hands.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <map>

namespace cursimeter::rehearsal {

using link::RunnerKey;

/// A plan's own, never 0, so that it is one game each time.
inline std::uint64_t secret_of(std::uint64_t seed) {
    return std::max<std::uint64_t>(seed + 1, 1);
}

/// What the server made of one runner.
struct Truth {
    struct Moment {
        glm::dvec3 place{0.0};
        std::uint64_t digest = 0;
        StateId state;
        Look look;
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
    /// Where it was and looked at a time between two ticks.
    struct Pose {
        glm::dvec3 place{0.0};
        Look look;
    };
    [[nodiscard]] std::optional<Pose> pose(double time) const {
        const double whole = std::floor(time);
        const Moment* before = at(static_cast<std::uint32_t>(whole));
        const Moment* after = at(static_cast<std::uint32_t>(whole) + 1);
        if (before == nullptr || after == nullptr) {
            return std::nullopt;
        }
        const double part = time - whole;
        const double turn = std::remainder(after->look.yaw - before->look.yaw, 2.0 * 3.14159265358979323846);
        return Pose{before->place + (after->place - before->place) * part,
                    {before->look.yaw + turn * part,
                     before->look.pitch + (after->look.pitch - before->look.pitch) * part}};
    }
};

/// What one player at a client does.
struct PlayerHands {
    std::unique_ptr<HumanHands> human;
    std::unique_ptr<DrillPlayer> drill;
    double drill_time = 0.0;
};

/// A stretch of time, its end left out, but for what happens at once.
struct Stretch {
    double begin, end, last;  ///< s; nothing after `last`
    [[nodiscard]] bool holds(double time) const { return (time < end || time <= begin) && time <= last; }
};

/// Server, clients and links, and what is noted about them.
struct Rehearsal::Work {
    struct Player {
        Player(const Plan& plan, Random& random)
            : up(plan.up, random.next()), down(plan.down, random.next()) {}
        std::unique_ptr<link::Client> client;
        std::unique_ptr<link::Advancer> world;
        std::unique_ptr<CourseTerrain> views;  ///< the course, for views of others
        SimulatedLink up, down;
        link::PeerId peer;
        double now = 0.0;                           ///< how far it has been played
        double wakes_at = 0.0;                      ///< its program's loop, next
        double stands_until = 0.0;                  ///< its program stands still until then
        double stalls_at = 0.0;                     ///< by plan
        std::vector<std::vector<std::byte>> inbox;  ///< packets that wait for it
        double joined_at = -1.0;
        std::vector<PlayerHands> hands;  ///< by player
        bool running = true;
        std::uint64_t attempts = 0;
        // What it saw.
        std::vector<double> errors, yaw_errors, pitch_errors;
        std::map<RunnerKey, std::pair<glm::dvec3, glm::dvec3>> last_places;  ///< shown, true
        std::map<RunnerKey, std::size_t> next_entered;
        std::map<RunnerKey, double> first_seen;  ///< ticks
        double input_delay = 0.0, view_delay = 0.0;
        std::size_t delays = 0;
        std::uint64_t missing_in_first_second = 0;
        bool first_second_over = false;
        ClientResult result;

        void forget_others() {
            last_places.clear();
            next_entered.clear();
            first_seen.clear();
        }
    };

    Work(Scene given, const Plan& p)
        : scene(std::move(given)),
          plan(p),
          random(p.seed),
          server_config(settings_of(p)),
          server({scene.chart}, server_config),
          world(make_world()) {
        server.tell_time(Seconds{0.0});
        for (std::size_t i = 0; i < plan.clients; ++i) {
            join();
        }
    }

    /// A server must have a secret.
    static link::ServerConfig settings_of(const Plan& plan) {
        link::ServerConfig config = plan.server;
        config.secret = config.secret != 0 ? config.secret : secret_of(plan.seed);
        config.players = std::max(config.players, plan.client.players);
        config.keys = plan.sealed && !config.keys ? link::make_key_pair() : config.keys;
        return config;
    }

    Scene scene;
    Plan plan;
    Random random;
    link::ServerConfig server_config;
    link::Server server;
    std::unique_ptr<link::Advancer> world;
    std::vector<std::unique_ptr<Player>> players;
    std::function<void(link::Server&)> act;
    link::Workers* workers = nullptr;
    double now = 0.0;  ///< how far the server has been played
    double server_stands_until = 0.0;
    std::vector<std::pair<link::PeerId, std::vector<std::byte>>> server_inbox;
    bool hushed = false;
    std::map<RunnerKey, Truth> truths;
    std::vector<Glimpse> seen;

    [[nodiscard]] double dt() const { return 1.0 / plan.server.tick_rate; }
    [[nodiscard]] std::unique_ptr<link::Advancer> make_world() const {
        if (scene.course) {
            return std::make_unique<OnCourse>(*scene.course, scene.chart, plan.server.tick_rate);
        }
        return std::make_unique<link::OpenGround>();
    }
    std::size_t join() {
        players.push_back(std::make_unique<Player>(plan, random));
        players.back()->world = make_world();
        players.back()->now = now;
        players.back()->wakes_at = now + random.part() * dt();
        players.back()->stalls_at = now + 5.0 + 0.7 * static_cast<double>(players.size());
        connect(players.size() - 1);
        return players.size() - 1;
    }
    void connect(std::size_t index) {
        Player& player = *players[index];
        link::ClientConfig config = plan.client;
        config.tick_rate = plan.server.tick_rate;
        config.identity = index + 1;
        config.attempt = ++player.attempts;
        if (server_config.keys) {
            config.server = server_config.keys->open;
        }
        player.client = std::make_unique<link::Client>(std::vector{scene.chart}, config);
        if (scene.course) {
            player.views = std::make_unique<CourseTerrain>(*scene.course, scene.chart);
            player.client->set_view_world(player.views.get());
        }
        player.peer = {(index + 1) << 16U | player.attempts};
        player.running = true;
        player.joined_at = -1.0;
        player.hands.clear();
        for (std::size_t i = 0; i < config.players; ++i) {
            player.hands.push_back({std::make_unique<HumanHands>(scene.chart, random.next()), nullptr, 0.0});
        }
        player.wakes_at = std::max(player.wakes_at, now);
        player.inbox.clear();
        player.forget_others();
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
    void run_server();
    void tick_server();
    void run_client(Player& player, std::size_t index);
    void tick_client(Player& player, std::size_t index);
    /// When its next tick is due.
    [[nodiscard]] double due_time(const Player& player, std::size_t index) const;
    void hand_over(Player& player, std::span<const std::byte> bytes);
    /// What its clock shows.
    [[nodiscard]] double clock_of(const Player& player, std::size_t index) const {
        return 1000.0 * static_cast<double>(index + 1) + player.now * (1.0 + plan.clock_drift);
    }
    /// Of all players, from 0.
    [[nodiscard]] std::size_t number_of(std::size_t client, std::size_t player) const {
        return client * plan.client.players + player;
    }
    /// What the player at a client wants next; `index` is the client's.
    [[nodiscard]] Intent next_intent(Player& client, std::size_t index, std::size_t player);
    void arrive_down(Player& player, std::size_t index);
    /// When something next happens at the server, and at a client. At one time its tick comes before a packet at the server, and
    /// after it at a client.
    struct Next {
        double at;
        Player* packet_of;  ///< nothing: a tick
    };
    [[nodiscard]] Next next_of_server();
    [[nodiscard]] Next next_of(Player& player) const;
    /// s for which server and clients know nothing of what the others do meanwhile.
    [[nodiscard]] double apart() const;
    /// All that happens at the server, or at a client, in a stretch.
    void play_server(const Stretch& stretch);
    void play_client(std::size_t index, const Stretch& stretch);
    void count_first_second(double time);
    void judge(Player& player, std::size_t index);
    void judge_events(Player& player);
    void count_missing(Player& player);
    void step_until(double seconds);
};

}  // namespace cursimeter::rehearsal
