// Two players and no server: each end plays both runners, and plays again what turns out otherwise.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/link/peer_game.hpp>
#include <deque>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    link::OpenGround quay;
    link::PeerGameConfig config;
    config.session = 4711;  // a real one: link::random_number() of whoever opens the game, told to the other
    config.players = {{0, {{0.0, 0.0, 0.0}, 0.0}}, {0, {{0.0, 2.0, 0.0}, 0.0}}};
    config.own = 0;
    link::PeerGame first({chart}, config);
    config.own = 1;
    link::PeerGame second({chart}, config);
    link::PeerGame* ends[] = {&first, &second};
    // A wire on which a packet takes ten frames, 83 ms.
    std::deque<std::pair<int, std::vector<std::byte>>> wires[2];

    for (int frame = 0; frame < 600; ++frame) {
        for (int i = 0; i < 2; ++i) {
            link::PeerGame& game = *ends[i];
            game.tell_time(Seconds{frame / 120.0});  // your steady clock
            for (; !wires[i].empty() && wires[i].front().first <= frame; wires[i].pop_front()) {
                game.receive(wires[i].front().second, quay);
            }
            Intent intent;
            intent.move.forward = i == 0 && frame > 120 ? 1.0 : 0.0;
            if (i == 0 && frame > 240) {
                intent.hold(chart.action("sprint"));
            }
            while (game.due()) {
                game.tick(intent, quay);
            }
            while (const auto packet = game.next_packet()) {
                wires[packet->player].emplace_back(frame + 10,
                                                   std::vector(packet->bytes.begin(), packet->bytes.end()));
            }
            while (const auto event = game.next_event()) {
                if (event->kind == EventKind::entered) {
                    std::printf("end %d: runner %d enters %s\n", i + 1, event->runner.place + 1,
                                chart.name(StateId{event->subject}).c_str());
                }
            }
        }
    }
    const link::Tick tick{std::min(first.confirmed().value, second.confirmed().value)};
    std::printf("the same to the bit: %s; played again: %d times at the second end, %d ticks deep\n",
                first.digest_at(tick) == second.digest_at(tick) ? "yes" : "no",
                static_cast<int>(second.statistics().rollbacks), second.statistics().deepest);
}
// expected output:
// end 1: runner 1 enters sprint
// end 2: runner 1 enters sprint
// the same to the bit: yes; played again: 2 times at the second end, 3 ticks deep
