#include <cstdio>

#include "link/scene.hpp"
#include "link/second/pipe.hpp"

/// A server behind two pipes, for a client that shares no line with it: "packet HEX" comes in, "tick" plays one tick;
/// "packet HEX" for each packet and "at METRES ...", how far each player's runner is, go out. "digest" prints the chart's
/// and ends.
int main(int argc, char**) {
    using namespace support;
    if (argc > 1) {
        std::printf("%016llx\n", static_cast<unsigned long long>(bearer_chart().digest()));
        return 0;
    }
    link::ServerConfig config = Table::usual_config();
    config.players = 2;
    link::Server server({bearer_chart()}, config);
    link::OpenGround ground;
    std::vector<link::RunnerKey> runners;
    std::optional<std::vector<std::byte>> packet;
    while (read_line(packet)) {
        if (packet) {
            server.receive({1}, *packet);
            continue;
        }
        while (const auto event = server.next_event()) {
            const std::size_t players = server.read_seat(event->seat).players;
            while (event->kind == link::ServerEventKind::joined && runners.size() < players) {
                runners.push_back(*server.spawn(0, {}, event->seat, runners.size()));
            }
        }
        server.tick(ground);
        while (const auto sent = server.next_packet()) {
            print_packet(sent->bytes);
        }
        std::printf("at");
        for (const link::RunnerKey runner : runners) {
            std::printf(" %.6f", server.runner(runner).position().x);
        }
        std::printf("\n");
        std::fflush(stdout);
    }
}
