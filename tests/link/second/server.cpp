#include <cstdio>
#include <iostream>
#include <sstream>
#include <string>

#include "link/scene.hpp"

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
    std::string line;
    while (std::getline(std::cin, line)) {
        std::istringstream words(line);
        std::string word, hex;
        words >> word >> hex;
        if (word == "packet") {
            std::vector<std::byte> bytes;
            for (std::size_t i = 0; i + 1 < hex.size(); i += 2) {
                bytes.push_back(static_cast<std::byte>(std::stoul(hex.substr(i, 2), nullptr, 16)));
            }
            server.receive({1}, bytes);
            continue;
        }
        while (const auto event = server.next_event()) {
            if (event->kind == link::ServerEventKind::joined) {
                runner = server.spawn(0, {}, event->seat);
            }
        }
        server.tick(ground);
        while (const auto packet = server.next_packet()) {
            std::printf("packet ");
            for (const std::byte byte : packet->bytes) {
                std::printf("%02x", std::to_integer<unsigned>(byte));
            }
            std::printf("\n");
        }
        std::printf("at %.6f\n", runner ? server.runner(*runner).position().x : 0.0);
        std::fflush(stdout);
    }
}
