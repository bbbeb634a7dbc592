#include <array>
#include <chrono>
#include <cstdio>
#include <cursimeter/enet_transport.hpp>

int main() {
    using namespace cursimeter;
    enet::ServerTransport server(0);
    enet::ClientTransport client("127.0.0.1", server.port());
    const std::array<std::byte, 3> bytes{std::byte{1}, std::byte{2}, std::byte{3}};
    const auto begun = std::chrono::steady_clock::now();
    while (std::chrono::steady_clock::now() - begun < std::chrono::seconds(20)) {
        static_cast<void>(client.receive());
        client.send(bytes);
        client.flush();
        if (const auto packet = server.receive(); packet && !packet->gone) {
            std::printf("a packet of %d bytes came over\n", static_cast<int>(packet->bytes.size()));
            return 0;
        }
    }
    return 1;
}
