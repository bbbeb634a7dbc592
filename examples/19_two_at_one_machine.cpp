// Two players at one machine, each with half of the screen, and a third elsewhere: one connection for the two.
#include <array>
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/link/server.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    link::OpenGround quay;
    link::Server server({chart}, {.seats = 2, .players = 2, .secret = 4711});
    link::Client couch({chart}, {.identity = 1, .attempt = 1, .players = 2});
    link::Client elsewhere({chart}, {.identity = 2, .attempt = 1});
    link::Client* clients[] = {&couch, &elsewhere};

    for (int frame = 0; frame < 600; ++frame) {
        const Seconds now{frame / 120.0};
        std::array<Intent, 2> intents;  // of two gamepads
        intents[0].move = {.forward = 1.0, .side = 0.0};
        intents[1].move = {.forward = 0.0, .side = 1.0};
        server.tell_time(now);
        couch.tell_time(now);
        elsewhere.tell_time(now);
        while (couch.due()) {
            couch.tick_players(intents, quay);
        }
        while (elsewhere.due()) {
            elsewhere.tick({}, quay);
        }
        for (std::size_t i = 0; i < 2; ++i) {
            while (const auto bytes = clients[i]->next_packet()) {
                server.receive({i}, *bytes);
            }
        }
        while (const auto event = server.next_event()) {
            if (event->kind != link::ServerEventKind::joined) {
                continue;
            }
            for (std::size_t player = 0; player < server.read_seat(event->seat).players; ++player) {
                server.spawn(0, {{0.0, 2.0 * static_cast<double>(player), 0.0}, 0.0}, event->seat, player);
            }
        }
        while (server.due()) {
            server.tick(quay);
        }
        while (const auto packet = server.next_packet()) {
            clients[packet->peer.value]->receive(packet->bytes, quay);
        }
    }
    for (std::size_t player = 0; player < 2; ++player) {
        const glm::dvec3 place = couch.own(player).position();
        std::printf("player %d is at %.1f, %.1f\n", static_cast<int>(player) + 1, place.x, place.y);
    }
    std::printf("this machine shows %d other, the other %d\n", static_cast<int>(couch.others().size()),
                static_cast<int>(elsewhere.others().size()));
    std::printf("corrections: %d\n", static_cast<int>(couch.statistics().corrections));
}
// expected output:
// player 1 is at 11.6, 0.0
// player 2 is at 0.0, -8.2
// this machine shows 1 other, the other 2
// corrections: 0
