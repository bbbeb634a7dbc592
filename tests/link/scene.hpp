#pragma once

#include <algorithm>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <functional>
#include <map>
#include <memory>
#include <string>
#include <vector>

/// What the tests of replication share.
namespace support {

using namespace cursimeter;

using Bytes = std::vector<std::byte>;

inline std::string demo(const std::string& file) {
    return CURSIMETER_SOURCE_DIR "/demo/" + file;
}

inline const Chart& bearer_chart() {
    static const Chart chart = load_chart(demo("charts/bearer.toml")).chart;
    return chart;
}

/// The bearer on open ground, by the quay drill.
inline rehearsal::Scene quay_scene() {
    return {
        bearer_chart(), {load_drill(demo("drills/quay_boards.toml"), bearer_chart()).drill}, std::nullopt};
}

/// Each client another player who tries everything.
inline rehearsal::Scene hands_scene(std::size_t clients, double seconds, std::uint64_t seed) {
    rehearsal::Scene scene{bearer_chart(), {}, std::nullopt};
    rehearsal::Random random(seed);
    for (std::size_t i = 0; i < clients; ++i) {
        scene.drills.emplace_back(rehearsal::random_hands(bearer_chart(), Seconds{seconds}, random),
                                  bearer_chart());
    }
    return scene;
}

/// Round trip 150 ms, jitter 20 ms, loss 5 %, duplication 1 %, reordering 2 %.
inline rehearsal::LinkFaults usual_faults() {
    rehearsal::LinkFaults faults;
    faults.delay = Seconds{0.075};
    faults.jitter = Seconds{0.020};
    faults.loss = 0.05;
    faults.duplicate = 0.01;
    faults.reorder = 0.02;
    return faults;
}

inline rehearsal::Plan usual_plan(std::size_t clients, double seconds) {
    rehearsal::Plan plan;
    plan.clients = clients;
    plan.seconds = seconds;
    plan.up = plan.down = usual_faults();
    plan.server.seats = clients;
    return plan;
}

/// A server and its clients with wires of no length between them.
class Table {
  public:
    explicit Table(link::ServerConfig config = usual_config(), const Chart& played = bearer_chart())
        : chart(played), server({played}, config), dt(1.0 / config.tick_rate) {}
    static link::ServerConfig usual_config() {
        link::ServerConfig config;
        config.seats = 4;
        config.secret = 77;
        return config;
    }

    link::Client& sit(std::uint64_t identity, std::uint64_t attempt = 1) {
        link::ClientConfig config;
        config.identity = identity;
        config.attempt = attempt;
        return sit(config, {chart});
    }
    link::Client& sit(const link::ClientConfig& config, std::vector<Chart> charts) {
        clients.push_back(std::make_unique<link::Client>(std::move(charts), config));
        intents.emplace_back();
        return *clients.back();
    }
    /// One tick of everybody; whoever joins gets a runner.
    void tick() {
        time += dt;
        server.tell_time(Seconds{time});
        for (std::size_t i = 0; i < clients.size(); ++i) {
            clients[i]->tell_time(Seconds{time});
            while (clients[i]->due()) {
                clients[i]->tick(intents[i], ground);
                if (ticked) {
                    ticked(*clients[i]);
                }
            }
            while (const auto packet = clients[i]->next_packet()) {
                sent_up.emplace_back(packet->begin(), packet->end());
                if (!cut_up) {
                    server.receive(peer_of(i), *packet);
                }
            }
        }
        while (const auto event = server.next_event()) {
            events.push_back(*event);
            if (event->kind == link::ServerEventKind::joined && spawns) {
                keys[event->identity] = *server.spawn(
                    0, {{0.0, 3.0 * static_cast<double>(event->identity), 0.0}, 0.0}, event->seat);
            }
        }
        server.tick(ground);
        while (const auto packet = server.next_packet()) {
            const auto index = static_cast<std::size_t>(packet->peer.value - 1);
            sent_down.emplace_back(packet->bytes.begin(), packet->bytes.end());
            if (index < clients.size() && !cut_down) {
                clients[index]->receive(packet->bytes, ground);
            }
        }
    }
    void ticks(int count) {
        for (int i = 0; i < count; ++i) {
            tick();
        }
    }
    static link::PeerId peer_of(std::size_t index) { return {index + 1}; }
    [[nodiscard]] std::size_t count(link::ServerEventKind kind) const {
        return static_cast<std::size_t>(std::count_if(events.begin(), events.end(),
                                                      [&](const auto& event) { return event.kind == kind; }));
    }

    Chart chart;
    link::Server server;
    std::vector<std::unique_ptr<link::Client>> clients;
    std::vector<Intent> intents;
    std::vector<link::ServerEvent> events;
    std::map<std::uint64_t, link::RunnerKey> keys;  ///< by identity
    std::vector<Bytes> sent_up, sent_down;
    link::OpenGround ground;
    bool spawns = true, cut_up = false, cut_down = false;
    double dt, time = 0.0;                      ///< s
    std::function<void(link::Client&)> ticked;  ///< after each tick of a client
};

}  // namespace support
