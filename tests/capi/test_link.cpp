#include "capi/link_games.hpp"

using namespace support;

/// The link through the C interface against the C++ one: the same match. Packets are not the same to the byte, since each
/// client draws a number as it joins, but of one length; and what they do is the same to the bit.
TEST_CASE("a match through the C interface is that through the C++ interface", "[capi]") {
    const bool own_step = GENERATE(false, true);
    Plain plain;
    Called called(own_step);
    const Match expected = play(plain, 1200);
    const Match got = play(called, 1200);
    REQUIRE(expected.packets.size() > 1000);
    REQUIRE(expected.digests.size() > 2000);
    CHECK(got.packets == expected.packets);
    CHECK(got.digests == expected.digests);
    CHECK(plain.corrections() > 0);
    CHECK(called.corrections() == plain.corrections());
    if (own_step) {
        CHECK(called.most_others == 1);
        CHECK(called.extras >= 4U * 2U * 600U);
        CHECK(called.again > 0);  // the push
    }

    // What the one shows the other shows, and the events of the other.
    cursimeter_runner_key others[4]{};
    REQUIRE(cursimeter_client_others(called.clients[1], others, 4) == 1);
    const auto there = plain.clients[1].others();
    REQUIRE(there.size() == 1);
    const auto expected_shown = *plain.clients[1].shown(there[0]);
    cursimeter_shown shown;
    shown.size = sizeof(shown);
    REQUIRE(cursimeter_client_shown(called.clients[1], others[0], &shown) == CURSIMETER_OK);
    CHECK(shown.position[0] == expected_shown.position.x);
    CHECK(shown.yaw == expected_shown.look.yaw);
    CHECK(shown.state == expected_shown.state.index);
    CHECK(cursimeter_digest(&shown.runner) == digest(expected_shown.runner));
    CHECK(cursimeter_client_shown_time(called.clients[1]) == plain.clients[1].shown_time());
    int events = 0;
    cursimeter_remote_event event = CURSIMETER_REMOTE_EVENT_INIT;
    while (const auto expected_event = plain.clients[1].next_event()) {
        REQUIRE(cursimeter_client_next_event(called.clients[1], &event) == CURSIMETER_OK);
        CHECK(event.at == expected_event->at);
        CHECK(event.kind == static_cast<int>(expected_event->kind));
        CHECK(event.subject == expected_event->subject);
        CHECK(event.value == expected_event->value);
        ++events;
    }
    CHECK(cursimeter_client_next_event(called.clients[1], &event) == CURSIMETER_NO);
    CHECK(events > 3);

    // Both ends agree at the tick that the server has told.
    std::uint32_t tick = 0;
    std::uint64_t mine = 0;
    REQUIRE(cursimeter_client_acknowledged(called.clients[0], &tick) == CURSIMETER_OK);
    REQUIRE(cursimeter_client_digest_at(called.clients[0], tick, &mine) == CURSIMETER_OK);
    CHECK(mine == plain.clients[0].digest_at({tick}));
    cursimeter_runner own;
    int chart = -1;
    REQUIRE(cursimeter_client_own(called.clients[0], &own, &chart) == CURSIMETER_OK);
    CHECK(cursimeter_digest(&own) == digest(plain.clients[0].own()));
    CHECK(chart == 0);
    double at[3]{};
    REQUIRE(cursimeter_client_own_shown(called.clients[0], at) == CURSIMETER_OK);
    CHECK(at[0] == plain.clients[0].own_shown().x);
    std::uint64_t told = 0;
    for (std::size_t i = 0; i < 2; ++i) {
        cursimeter_correction correction = CURSIMETER_CORRECTION_INIT;
        for (; cursimeter_client_next_correction(called.clients[i], &correction) == CURSIMETER_OK; ++told) {
            const auto same = plain.clients[i].next_correction();
            REQUIRE(same);
            CHECK(correction.tick == same->tick.value);
            CHECK(correction.distance == same->distance);
            CHECK(correction.replayed == same->replayed);
        }
    }
    CHECK(told == plain.corrections());
}
