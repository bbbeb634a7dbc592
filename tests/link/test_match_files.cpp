#include <catch2/catch.hpp>
#include <cstring>
#include <fstream>

#include "link/recorded_match.hpp"

/// Recordings of matches that are none, or not whole, or not of this server.
using namespace support;

namespace {

std::string complaint_of(const Bytes& bytes) {
    try {
        static_cast<void>(link::read_match(bytes, "night.match"));
    } catch (const ChartError& error) {
        return error.what();
    }
    return {};
}

}  // namespace

TEST_CASE("What is no match, of another version, damaged or cut off is told with its byte") {
    const Recording recording = record(5, 3.0, false);
    const Bytes& good = recording.bytes;
    const Match whole = link::read_match(good);
    CHECK(complaint_of({}) ==
          "night.match: byte 0: is no match; record one with MatchRecorder, or `cursimeter net --match`");
    Bytes other = good;
    other[8] = std::byte{9};
    CHECK(complaint_of(other) ==
          "night.match: byte 12: is a match of version 9; this program reads version 1");
    for (std::size_t size = 12; size < whole.blocks[0].begin - 4; ++size) {
        CHECK_THAT(complaint_of(Bytes(good.begin(), good.begin() + static_cast<std::ptrdiff_t>(size))),
                   Catch::Contains("is cut off in its heading"));
    }
    for (const double rate : {5.0, 2000.0, std::nan("")}) {
        other = good;
        std::memcpy(&other[12], &rate, sizeof rate);  // on a machine whose lowest byte comes first
        CHECK_THAT(complaint_of(other), Catch::Contains(" ticks a second; 10 to 1000 are possible"));
    }
    for (const auto& [at, value] : {std::pair{36, 0}, {38, 0}, {38, 17}}) {
        other = good;
        other[static_cast<std::size_t>(at)] = static_cast<std::byte>(value);
        CHECK_THAT(complaint_of(other), Catch::Contains(" charts; the file is damaged"));
    }
    Bytes damaged = good;
    damaged[whole.blocks[7].begin] ^= std::byte{4};
    CHECK_THAT(complaint_of(damaged),
               Catch::Contains("byte " + std::to_string(whole.blocks[6].begin + whole.blocks[6].size) +
                               ": is damaged in tick 8; what stands before it can be kept"));
    // Cut off anywhere it is a match up to there.
    rehearsal::Random random(1);
    for (int i = 0; i < 200; ++i) {
        const std::size_t size = whole.blocks[0].begin + random.below(good.size() - whole.blocks[0].begin);
        const Match cut =
            link::read_match(Bytes(good.begin(), good.begin() + static_cast<std::ptrdiff_t>(size)));
        REQUIRE(cut.ticks <= whole.ticks);
        MatchPlayer player(cut, {bearer_chart()});
        link::OpenGround ground;
        while (player.next(ground)) {
            REQUIRE(player.differences().empty());
        }
    }
    CHECK_THROWS_WITH(MatchPlayer(whole, {}),
                      Catch::Contains("chart 0: is not the match's; give the 1 charts"));
    CHECK_THROWS_WITH(MatchPlayer(whole, {load_chart(demo("charts/eel.toml")).chart}),
                      Catch::Contains("chart 0: is not the match's"));
    Table table;
    CHECK_THROWS_WITH(MatchRecorder(table.server, {{"a", "b"}, {}, {}}),
                      Catch::Contains("charts: 2 texts for 1 charts"));
}

TEST_CASE("Bytes that a checksum vouches for and that make no sense harm nobody") {
    const Recording recording = record(6, 2.0, false);
    const Match whole = link::read_match(recording.bytes);
    rehearsal::Random random(2);
    std::size_t refused = 0;
    for (int i = 0; i < 400; ++i) {
        Match wild = whole;
        for (std::uint64_t k = 1 + random.below(30); k > 0; --k) {
            const Match::Block& block = wild.blocks[random.below(wild.blocks.size())];
            if (block.size > 0) {
                wild.bytes[block.begin + random.below(block.size)] = static_cast<std::byte>(random.next());
            }
        }
        MatchPlayer player(wild, {bearer_chart()});
        link::OpenGround ground;
        try {
            while (player.next(ground)) {
                for (const RunnerKey key : player.runners()) {
                    REQUIRE(std::isfinite(player.runner(key).position().x));
                }
            }
        } catch (const ChartError&) {
            ++refused;
        }
    }
    CHECK(refused > 20);
}

TEST_CASE("A recorder that was made for another server is refused, and the page has this version") {
    Table table;
    link::ServerConfig config = Table::usual_config();
    config.runners = 9;
    link::Server larger({bearer_chart()}, config);
    MatchRecorder recorder(larger);
    CHECK_THROWS_WITH(
        table.server.record(&recorder),
        "recorder: was made for a server with other places or charts; make one for this server: "
        "MatchRecorder(server)");
    link::Server eels({load_chart(demo("charts/eel.toml")).chart}, Table::usual_config());
    MatchRecorder of_eels(eels);
    CHECK_THROWS_AS(table.server.record(&of_eels), ChartError);
    MatchRecorder own(table.server);
    table.server.record(&own);
    table.ticks(3);
    table.server.record(nullptr);
    table.ticks(3);
    CHECK(own.ticks() == 3);

    std::ifstream file(CURSIMETER_SOURCE_DIR "/docs/match-format.md");
    const std::string page{std::istreambuf_iterator<char>(file), {}};
    CHECK(page.find("| 8 | `curmatch` |") != std::string::npos);
    CHECK(page.find("Version 1. ") != std::string::npos);
    CHECK(page.find("| 4 | version, 1 |") != std::string::npos);
    const std::string text(reinterpret_cast<const char*>(own.bytes().data()), own.bytes().size());
    CHECK(text.starts_with(std::string("curmatch\x01\0\0\0", 12)));
}
