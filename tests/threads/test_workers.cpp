#include <catch2/catch.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/link/thread_workers.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

#include "support/worlds.hpp"

using namespace support;

TEST_CASE("the snapshots of a server are written on several threads at once") {
    const Chart chart = compile(bearer(ease(0.1, 0.2, 0.3)));
    link::ThreadWorkers threads(4);
    link::Server server({chart}, {.seats = 12, .runners = 16, .secret = 5});
    server.set_workers(&threads);
    link::OpenGround ground;
    std::vector<std::unique_ptr<link::Client>> clients;
    for (std::uint64_t i = 1; i <= 12; ++i) {
        clients.push_back(std::make_unique<link::Client>(
            std::vector{chart}, link::ClientConfig{.identity = i, .attempt = 1, .server = {}, .ticket = {}}));
    }
    for (int tick = 0; tick < 240; ++tick) {
        const Seconds now{tick / 60.0};
        server.tell_time(now);
        for (std::size_t i = 0; i < clients.size(); ++i) {
            Intent intent;
            intent.move = {1.0, 0.0};
            intent.look.yaw = 0.02 * tick * static_cast<double>(i);
            clients[i]->tell_time(now);
            while (clients[i]->due()) {
                clients[i]->tick(intent, ground);
            }
            while (const auto packet = clients[i]->next_packet()) {
                server.receive({i}, *packet);
            }
        }
        while (const auto event = server.next_event()) {
            server.spawn(0, {{0.0, 2.0 * event->seat.index, 0.0}, 0.0}, event->seat);
        }
        server.tick(ground);
        while (const auto packet = server.next_packet()) {
            clients[packet->peer.value]->receive(packet->bytes, ground);
        }
    }
    for (const auto& client : clients) {
        CHECK(client->others().size() == 11);
        CHECK(client->statistics().corrections == 0);
    }
}

TEST_CASE("the clients of a rehearsal are played on several threads at once") {
    DrillSpec stand;
    stand.name = "stand";
    stand.seconds = 3.0;
    const Chart chart = compile(bearer(ease(0.1, 0.2, 0.3)));
    CourseSpec flat;
    flat.name = "flat";
    rehearsal::Scene scene{chart, {Drill(stand, chart)}, Course(flat), true};
    rehearsal::Plan plan;
    plan.clients = 8;
    plan.up.delay = plan.down.delay = Seconds{0.05};
    plan.keep_paths = true;
    plan.server.seats = plan.server.runners = 8;
    link::ThreadWorkers threads(4);
    rehearsal::Rehearsal game(scene, plan);
    game.set_workers(&threads);
    game.run_until(3.0);
    for (const rehearsal::ClientResult& client : game.finish().clients) {
        CHECK(client.joined);
        CHECK(client.digests_compared > 0);
        CHECK(client.digests_differing == 0);
    }
}
