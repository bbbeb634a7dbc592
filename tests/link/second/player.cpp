#include <cstdio>
#include <cursimeter/link/peer_game.hpp>

#include "link/scene.hpp"
#include "link/second/pipe.hpp"

/// One end of a game of peers behind two pipes, for another that shares no line with it: "packet HEX" comes in, "tick" lets a
/// 60th of a second pass; "packet HEX" for each packet and "at ...": where the other's runner is, the newest tick that is known for
/// good, the phase, and whether the other has gone.
int main() {
    using namespace support;
    using link::PeerPhase;
    link::PeerGameConfig config;
    config.session = 77;
    config.game = 9;
    config.players = {{0, {}}, {0, {{0.0, 2.0, 0.0}, 0.0}}};
    link::PeerGame game({bearer_chart()}, config);
    link::OpenGround ground;
    Intent half;
    half.move.forward = 0.5;
    bool gone = false;
    double now = 0.0;
    std::optional<std::vector<std::byte>> packet;
    while (read_line(packet)) {
        if (packet) {
            game.receive(*packet, ground);
            continue;
        }
        now += 1.0 / 60.0;
        game.tell_time(Seconds{now});
        while (game.due()) {
            game.tick(half, ground);
        }
        while (const auto event = game.next_peer_event()) {
            gone = gone || event->kind == link::PeerEventKind::gone;
        }
        while (const auto sent = game.next_packet()) {
            print_packet(sent->bytes);
        }
        const char* phases[] = {"joining", "playing", "refused", "split", "ended"};
        std::printf("at %.6f %u %s %s\n", game.runner(1).position().x, game.confirmed().value,
                    phases[static_cast<std::size_t>(game.phase())], gone ? "gone" : "there");
        std::fflush(stdout);
    }
}
