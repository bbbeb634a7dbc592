#include <cstdio>

#include "link/scene.hpp"
#include "link/second/pipe.hpp"

/// A server behind two pipes, for a client that shares no line with it: "packet HEX" comes in, "tick" plays one tick;
/// "packet HEX" for each packet and "at METRES", where the runner is, go out. "digest" prints the chart's and ends.
int main(int argc, char**) {
    using namespace support;
    if (argc > 1) {
        std::printf("%016llx\n", static_cast<unsigned long long>(bearer_chart().digest()));
        return 0;
    }
    link::Server server({bearer_chart()}, Table::usual_config());
    link::OpenGround ground;
    std::optional<link::RunnerKey> runner;
    std::optional<std::vector<std::byte>> packet;
    while (read_line(packet)) {
        if (packet) {
            server.receive({1}, *packet);
            continue;
        }
        while (const auto event = server.next_event()) {
            if (event->kind == link::ServerEventKind::joined) {
                runner = server.spawn(0, {}, event->seat);
            }
        }
        server.tick(ground);
        while (const auto sent = server.next_packet()) {
            print_packet(sent->bytes);
        }
        std::printf("at %.6f\n", runner ? server.runner(*runner).position().x : 0.0);
        std::fflush(stdout);
    }
}
