#include "fuzz/decoders/decoder.hpp"

/// Hellos: none takes a seat without the cookie that the server sent to the very address.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace decoders;
    static Table table;
    static std::uint64_t peer = 1000;
    table.server.receive({++peer}, stamped(link::wire::Kind::hello, 0, data, size, link::wire::hello_bytes));
    table.server.tick(table.ground);
    while (table.server.next_packet()) {
    }
    require(!table.server.next_event().has_value());
    return 0;
}
