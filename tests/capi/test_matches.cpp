#include <fstream>

#include "capi/link_games.hpp"

using namespace support;

TEST_CASE("a match is recorded and played again through the C interface", "[capi]") {
    Called called(false);
    std::ifstream file(demo + "courses/relay.toml");
    const std::string course{std::istreambuf_iterator<char>(file), {}};
    cursimeter_error* error = cursimeter_error_new();
    std::size_t length = 1;
    CHECK(cursimeter_server_recorded(called.server, &length) == nullptr);
    CHECK(length == 0);
    CHECK(cursimeter_server_record(called.server, "no course", nullptr, error) == CURSIMETER_BAD_INPUT);
    CHECK(std::string(cursimeter_error_text(error)).find("course_text:1:") != std::string::npos);
    REQUIRE(cursimeter_server_record(called.server, course.c_str(), "a night at the relay", error) ==
            CURSIMETER_OK);
    const Match played = play(called, 1200);
    REQUIRE(played.digests.size() > 2000);
    const void* recorded = cursimeter_server_recorded(called.server, &length);
    REQUIRE(length > 3000);
    const Packet match = Called::copied(recorded, length);
    CHECK(cursimeter_server_record_over(called.server) == 0);
    cursimeter_server_clear_recorded(called.server);
    CHECK(cursimeter_server_recorded(called.server, &length) == nullptr);

    cursimeter_match_replay told = CURSIMETER_MATCH_REPLAY_INIT;
    REQUIRE(cursimeter_replay_match(match.data(), match.size(), nullptr, &told, error) == CURSIMETER_OK);
    CHECK(told.ticks == cursimeter_server_now(called.server));
    CHECK(told.seconds == Approx(static_cast<double>(told.ticks) / 60.0));
    CHECK(told.runners == 2);
    CHECK(told.differing == 0);
    CHECK(cursimeter_replay_match(match.data(), match.size(), &called.advancer, nullptr, error) ==
          CURSIMETER_OK);

    // In another world it comes out otherwise, and where is said.
    cursimeter_advancer nowhere = CURSIMETER_ADVANCER_INIT;
    CHECK(cursimeter_replay_match(match.data(), match.size(), &nowhere, &told, error) == CURSIMETER_NO);
    CHECK(told.differing > 0);
    CHECK(std::string(cursimeter_error_text(error)).find("came out otherwise") != std::string::npos);

    CHECK(cursimeter_replay_match(match.data(), 20, nullptr, &told, error) == CURSIMETER_BAD_INPUT);
    CHECK(cursimeter_replay_match(nullptr, 0, nullptr, &told, error) == CURSIMETER_BAD_ARGUMENT);
    told.size = 1;
    CHECK(cursimeter_replay_match(match.data(), match.size(), nullptr, &told, error) ==
          CURSIMETER_BAD_ARGUMENT);
    nowhere.size = 0;
    told.size = sizeof(told);
    CHECK(cursimeter_replay_match(match.data(), match.size(), &nowhere, &told, error) ==
          CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_server_record(nullptr, nullptr, nullptr, error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_server_recorded(nullptr, nullptr) == nullptr);
    CHECK(cursimeter_server_record_over(nullptr) == 0);
    cursimeter_server_clear_recorded(nullptr);
    cursimeter_error_free(error);
}
