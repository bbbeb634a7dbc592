#include <cursimeter/link/match.hpp>

#include "fuzz/decoders/decoder.hpp"

/// Matches whose checksums are right and whose ticks say anything: they are refused, or play something finite.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace decoders;
    static link::OpenGround ground;
    link::Match match;
    match.chart_digests = {bearer_chart().digest()};
    match.places = 8;
    // Each tick begins with a byte for its length.
    for (std::size_t at = 0; at < size && match.ticks < 64;) {
        const std::size_t length = std::min<std::size_t>(data[at], size - at - 1);
        match.blocks.push_back({at + 1, length});
        ++match.ticks;
        at += length + 1;
    }
    const auto bytes = std::as_bytes(std::span(data, size));
    match.bytes.assign(bytes.begin(), bytes.end());
    link::MatchPlayer player(match, {bearer_chart()});
    try {
        while (player.next(ground)) {
            for (const link::RunnerKey key : player.runners()) {
                require(std::isfinite(player.runner(key).position().x));
            }
        }
    } catch (const ChartError&) {
    }
    return 0;
}
