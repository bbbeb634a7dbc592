// A dedicated server of the Lantern Relay: whoever joins gets a bearer at the harbour light.
//
//     relay_server [--port N] [--seconds S] [--record FILE] [--match FILE] [--seal yes]
//
// It prints the port, with --seal the key that clients must be given, then who comes and goes. --record writes the
// digest of every runner after every tick, --match the whole match, for `cursimeter replay`.

#include <fmt/format.h>
#include <fmt/os.h>

#include <chrono>
#include <cstdlib>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/link/match.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <fstream>
#include <map>
#include <string_view>
#include <thread>

#include "cursimeter/enet_transport.hpp"

int main(int argc, char** argv) try {
    using namespace cursimeter;
    std::map<std::string_view, std::string> options{
        {"--port", "0"}, {"--seconds", "0"}, {"--record", ""}, {"--match", ""}, {"--seal", ""}};
    for (int i = 1; i + 1 < argc; i += 2) {
        if (!options.contains(argv[i])) {
            fmt::print(
                stderr,
                "error: there is no option '{}'; known: --port, --seconds, --record, --match, --seal\n",
                argv[i]);
            return 2;
        }
        options[argv[i]] = argv[i + 1];
    }
    const double seconds = std::atof(options["--seconds"].c_str());

    const ChartFile file = load_chart("demo/charts/bearer.toml");
    const Chart& chart = file.chart;
    link::ServerConfig config;
    config.secret = link::random_number();
    const Course course = load_course("demo/courses/relay.toml");
    config.world = course.digest();
    if (options["--seal"] == "yes") {
        config.keys = link::make_key_pair();  // a game keeps one, and ships the open half with its clients
        fmt::print("key {}\n", link::to_text(config.keys->open));
    }
    link::Server server({chart}, config);
    rehearsal::OnCourse world(course, chart, config.tick_rate);
    enet::ServerTransport transport(static_cast<std::uint16_t>(std::atoi(options["--port"].c_str())));
    fmt::print("listening on port {}\n", transport.port());
    std::fflush(stdout);

    std::unique_ptr<fmt::ostream> record;
    if (!options["--record"].empty()) {
        record = std::make_unique<fmt::ostream>(fmt::output_file(options["--record"]));
    }
    std::ofstream match_file;
    std::optional<link::MatchRecorder> match;
    if (!options["--match"].empty()) {
        match_file.open(options["--match"], std::ios::binary);
        if (!match_file) {
            throw std::runtime_error(options["--match"] + " cannot be written");
        }
        match.emplace(
            server, link::MatchOrigin{{format_chart(file.spec)}, format_course(course.spec()), "the relay"});
        server.record(&*match);
    }
    using Clock = std::chrono::steady_clock;
    const auto begun = Clock::now();
    const auto clock = [&] { return Seconds{std::chrono::duration<double>(Clock::now() - begun).count()}; };
    while (seconds <= 0.0 || clock().value < seconds) {
        // Packets are taken in as they come, so that clients need not be further ahead than the network asks for.
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
        server.tell_time(clock());
        while (const auto packet = transport.receive()) {
            packet->gone ? server.disconnected(packet->from) : server.receive(packet->from, packet->bytes);
        }
        while (const auto event = server.next_event()) {
            static constexpr const char* words[] = {"joined", "is back", "left", "is forgotten"};
            fmt::print("{:x} {}\n", event->identity, words[static_cast<std::size_t>(event->kind)]);
            if (event->kind == link::ServerEventKind::joined) {
                server.spawn(0, {{0.0, 0.4 * event->seat.index, 0.0}, 0.0}, event->seat);
            }
        }
        while (server.due()) {
            server.tick(world);
            if (match) {
                match_file.write(reinterpret_cast<const char*>(match->bytes().data()),
                                 static_cast<std::streamsize>(match->bytes().size()));
                match->clear();
                if (!match_file) {  // what stands there is a match up to its last whole tick
                    fmt::print(stderr, "error: {} cannot be written any more: the game goes on unrecorded\n",
                               options["--match"]);
                    server.record(nullptr);
                    match.reset();
                }
            }
            for (const link::RunnerKey key : server.runners()) {
                if (record) {
                    record->print("{} {} {:016x}\n", server.now().value, key.place,
                                  digest(server.runner(key)));
                }
            }
        }
        while (const auto packet = server.next_packet()) {
            transport.send(packet->peer, packet->bytes);
        }
        transport.flush();
    }
    const link::Statistics& s = server.statistics();
    fmt::print("{} packets came, {} bytes; {} damaged, {} without sense\n", s.packets, s.bytes, s.damaged,
               s.malformed);
    return 0;
} catch (const std::exception& error) {
    fmt::print(stderr, "error: {}\n", error.what());
    return 2;
}
