#include <fmt/format.h>

#include <cursimeter/link/match.hpp>

#include "core/chart/recording_bytes.hpp"
#include "link/match/match_coding.hpp"
#include "link/wire/packet.hpp"

namespace cursimeter::link {
namespace {

std::uint64_t block_length(detail::ByteReader& reader) {
    std::uint64_t value = 0;
    for (unsigned i = 0; i < match::most_length_bytes; ++i) {
        const std::uint64_t byte = reader.get(1);
        value |= (byte & 0x7fU) << (7 * i);
        if ((byte & 0x80U) == 0) {
            break;
        }
    }
    return value;
}

void read_heading(detail::ByteReader& reader, Match& match) {
    reader.expect({match::magic.data(), match::magic.size()}, match::version, "match",
                  "record one with MatchRecorder, or `cursimeter net --match`");
    const auto need_whole = [&] {
        if (reader.over()) {
            reader.refuse("is cut off in its heading", "the file is not whole");
        }
    };
    match.tick_rate = reader.get_real();
    match.game = reader.get(8);
    match.world = reader.get(8);
    match.places = reader.get(2);
    const std::uint64_t charts = reader.get(1);
    need_whole();
    if (!(match.tick_rate >= 10.0 && match.tick_rate <= 1000.0)) {
        reader.refuse(fmt::format("has {} ticks a second", match.tick_rate), "10 to 1000 are possible");
    }
    if (match.places < 1 || match.places > 1024 || charts < 1 || charts > 16) {
        reader.refuse(fmt::format("has {} places and {} charts", match.places, charts),
                      "the file is damaged");
    }
    for (std::uint64_t i = 0; i < charts; ++i) {
        match.chart_digests.push_back(reader.get(8));
        match.origin.charts.push_back(reader.text());
    }
    match.origin.course = reader.text();
    match.origin.note = reader.text();
    need_whole();
}

}  // namespace

Match read_match(std::span<const std::byte> bytes, const std::string& name) {
    detail::ByteReader reader(bytes, name);
    Match match;
    read_heading(reader, match);
    while (reader.left() > 0) {
        const std::size_t block = reader.at();
        const std::uint64_t told = block_length(reader), checksum = reader.get(match::checksum_bytes);
        if (reader.over() || told > reader.left()) {
            match.cut_short = true;
            break;
        }
        const auto size = static_cast<std::size_t>(told);
        const std::size_t begin = reader.at();
        const std::span<const std::byte> body = reader.skip(size);
        if ((wire::digest_of(body, match::version) & 0xffffU) != checksum) {
            reader.refuse(block, fmt::format("is damaged in tick {}", match.ticks + 1),
                          "what stands before it can be kept: cut the file off here");
        }
        match.blocks.push_back({begin, size});
        ++match.ticks;
    }
    match.bytes.assign(bytes.begin(), bytes.end());
    return match;
}

}  // namespace cursimeter::link
