#include "fuzz/decoders/decoder.hpp"
#include "link/wire/messages.hpp"

/// Intents of a client with a seat: whatever they are, its runner moves by the chart, one tick at a time.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace decoders;
    static Table table;
    static std::uint64_t key = 0;
    static link::RunnerKey runner;
    if (key == 0) {
        std::array<std::byte, link::wire::most_packet_bytes> packet{};
        link::wire::Hello hello;
        hello.body.identity = hello.body.attempt = 1;
        hello.body.rate = 60000;
        hello.body.chart_count = 1;
        hello.body.charts[0] = static_cast<std::uint32_t>(bearer_chart().digest());
        for (int k = 0; k < 2; ++k) {
            const std::size_t length = link::wire::write_message(packet, link::wire::Kind::hello, hello, 0);
            table.server.receive({9}, std::span(packet).first(length));
            const auto answer = table.server.next_packet();
            hello.cookie = k == 0 ? link::wire::read_message<link::wire::Challenge>(answer->bytes).cookie : 0;
            key = k == 1 ? link::wire::read_message<link::wire::Welcome>(answer->bytes).key : 0;
        }
        runner = *table.server.spawn(0, {}, link::SeatId{0});
    }
    const double clock = table.server.runner(runner).clock().value;
    const glm::dvec3 before = table.server.runner(runner).position();
    table.server.receive({9}, stamped(link::wire::Kind::intents, key, data, size));
    table.server.tick(table.ground);
    while (table.server.next_packet()) {
    }
    const glm::dvec3 way = table.server.runner(runner).position() - before;
    require(table.server.runner(runner).clock().value - clock < 0.0167);
    require(way.x * way.x + way.y * way.y + way.z * way.z < 1.0);  // 60 m/s at most
    if (clock > 3600.0) {
        table.server.despawn(runner);
        runner = *table.server.spawn(0, {}, link::SeatId{0});
    }
    return 0;
}
