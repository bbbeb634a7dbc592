// Two players on one quay: a server, two clients, and a wire that loses every seventh packet.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/link/server.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    link::OpenGround quay;
    link::Server server({chart},
                        {.seats = 2, .secret = 4711});  // a real one: from the system's random source
    link::Client first({chart}, {.identity = 1, .attempt = 1});
    link::Client second({chart}, {.identity = 2, .attempt = 1});
    link::Client* clients[] = {&first, &second};
    int packets = 0;

    for (int frame = 0; frame < 600; ++frame) {
        const Seconds now{frame / 120.0};  // your steady clock
        Intent intent;
        intent.move = {.forward = 1.0, .side = 0.0};
        if (now > Seconds{2.0}) {
            intent.hold(chart.action("sprint"));
        }
        server.tell_time(now);
        for (std::size_t i = 0; i < 2; ++i) {
            clients[i]->tell_time(now);
            while (clients[i]->due()) {
                clients[i]->tick(i == 0 ? intent : Intent{}, quay);
            }
            while (const auto bytes = clients[i]->next_packet()) {
                if (++packets % 7 != 0) {
                    server.receive({i}, *bytes);
                }
            }
        }
        while (const auto event = server.next_event()) {
            if (event->kind == link::ServerEventKind::joined) {
                server.spawn(0, {{0.0, 2.0 * static_cast<double>(event->identity), 0.0}, 0.0}, event->seat);
            }
        }
        while (server.due()) {
            server.tick(quay);
        }
        while (const auto packet = server.next_packet()) {
            if (++packets % 7 != 0) {
                clients[packet->peer.value]->receive(packet->bytes, quay);
            }
        }
        while (const auto event = second.next_event()) {
            if (event->kind == EventKind::entered) {
                std::printf("the second sees the first enter %s\n",
                            chart.name(StateId{event->subject}).c_str());
            }
        }
    }
    const auto shown = second.shown(*first.own_key());
    std::printf("the first is predicted in %s, the second shows %s\n",
                chart.name(first.own().state()).c_str(), chart.name(shown->state).c_str());
    std::printf("corrections: %d and %d\n", static_cast<int>(first.statistics().corrections),
                static_cast<int>(second.statistics().corrections));
}
// expected output:
// the second sees the first enter sprint
// the first is predicted in sprint, the second shows sprint
// corrections: 0 and 0
