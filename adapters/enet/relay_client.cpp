// A client without a screen: joins a relay_server and runs the relay by its drill.
//
//     relay_client PORT [IDENTITY [SECONDS [HOST [KEY]]]]
//
// It prints the digest of its runner at each tick that the server has acknowledged, then how it did.

#include <fmt/format.h>

#include <chrono>
#include <cstdlib>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <thread>

#include "cursimeter/enet_transport.hpp"

int main(int argc, char** argv) try {
    using namespace cursimeter;
    if (argc < 2) {
        fmt::print(stderr, "usage: relay_client PORT [IDENTITY [SECONDS [HOST [KEY]]]]\n");
        return 2;
    }
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    const Drill drill = load_drill("demo/drills/relay_bearer.toml", chart).drill;
    link::ClientConfig config;
    config.identity = argc > 2 ? std::strtoull(argv[2], nullptr, 16) : 1;
    config.attempt = static_cast<std::uint64_t>(std::chrono::duration_cast<std::chrono::milliseconds>(
                                                    std::chrono::system_clock::now().time_since_epoch())
                                                    .count());
    if (argc > 5 && !(config.server = link::public_key_from(argv[5]))) {
        fmt::print(stderr, "error: '{}' is no key: give the 64 hexadecimal digits that the server prints\n",
                   argv[5]);
        return 2;
    }
    const Course course = load_course("demo/courses/relay.toml");
    config.world = course.digest();
    const double seconds = argc > 3 ? std::atof(argv[3]) : drill.length().value;
    link::Client client({chart}, config);
    rehearsal::OnCourse world(course, chart, config.tick_rate);
    enet::ClientTransport transport(argc > 4 ? argv[4] : "127.0.0.1",
                                    static_cast<std::uint16_t>(std::atoi(argv[1])));

    std::optional<DrillPlayer> player;
    const double dt = 1.0 / config.tick_rate;
    double played = 0.0;
    std::uint32_t told = 0;
    using Clock = std::chrono::steady_clock;
    const auto begun = Clock::now();
    const auto clock = [&] { return Seconds{std::chrono::duration<double>(Clock::now() - begun).count()}; };
    client.tell_time(clock());
    while (clock().value < seconds) {
        // It has nothing to draw, so it sleeps until a tick is due; packets wait for that.
        std::this_thread::sleep_until(begun + std::chrono::duration<double>(client.due_at().value));
        client.tell_time(clock());
        while (const auto bytes = transport.receive()) {
            client.receive(*bytes, world);
        }
        if (client.phase() == link::Phase::refused || client.phase() == link::Phase::ended) {
            fmt::print(stderr, "error: {} {}\n",
                       link::describe_farewell(client.farewell(), client.farewell_detail()),
                       client.farewell_words());
            return 1;
        }
        while (client.due()) {
            Intent intent;
            if (client.own_key()) {
                if (!player) {
                    player.emplace(drill, client.own());
                }
                intent = player->intent(played, played + dt);
                played += dt;
            }
            client.tick(intent, world);
        }
        while (const auto bytes = client.next_packet()) {
            transport.send(*bytes);
        }
        transport.flush();
        if (const auto tick = client.acknowledged(); tick && tick->value != told && client.digest_at(*tick)) {
            told = tick->value;
            fmt::print("{} {} {:016x}\n", told, client.own_key()->place, *client.digest_at(*tick));
        }
    }
    client.leave();
    while (const auto bytes = client.next_packet()) {
        transport.send(*bytes);
    }
    transport.flush();
    const link::ClientStatistics& s = client.statistics();
    fmt::print("in {}, {} other runners seen, {} corrections, {} packets sent, {} received\n",
               client.own_key() ? chart.name(client.own().state()) : "nothing", client.others().size(),
               s.corrections, s.packets_out, s.packets_in);
    return 0;
} catch (const std::exception& error) {
    fmt::print(stderr, "error: {}\n", error.what());
    return 2;
}
