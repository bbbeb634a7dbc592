#include <catch2/catch.hpp>
#include <deque>
#include <glm/geometric.hpp>

#include "link/scene.hpp"

using namespace support;

TEST_CASE("A hit test looks where the client saw its target: the time it was shown, not the present") {
    Table table;
    link::Client& shooter = table.sit(1);
    table.ticks(20);
    const auto target = table.server.spawn(0, {{0.0, 20.0, 0.0}, 0.0});
    Intent run;
    run.move = {1.0, 0.0};
    table.server.direct(*target, run);
    table.ticks(120);
    const auto shown = shooter.shown(*target);
    REQUIRE(shown);
    const link::Tick shot = shooter.now();
    const double shown_at = shooter.shown_time();
    while (table.server.now() - shot < 0) {
        table.tick();  // until the server has played it
    }
    const auto seen = table.server.seen_by(shooter.seat(), *target, shot);
    REQUIRE(seen);
    CHECK(std::fabs(seen->at - shown_at) <= 1.0 / 16);
    CHECK(std::fabs(seen->position.x - shown->position.x) < 0.02);
    CHECK(table.server.runner(*target).position().x - seen->position.x > 0.2);
    CHECK(seen->body.height == bearer_chart().body(seen->state).height);
    CHECK_FALSE(table.server.seen_by(shooter.seat(), *target, shot + 100).has_value());
    CHECK_FALSE(table.server.seen_by(shooter.seat(), *target, shot - 100).has_value());
}

TEST_CASE("Whatever of a client's packets is lost, its shots are judged by what it was shown") {
    for (const double loss : {0.0, 0.02, 0.2, 0.5}) {
        CAPTURE(loss);
        Table table;
        link::Client& shooter = table.sit(1);
        table.ticks(20);
        const auto target = table.server.spawn(0, {{0.0, 20.0, 0.0}, 0.0});
        rehearsal::Random random(9);
        std::map<std::uint32_t, double> shown;
        int judged = 0;
        double worst = 0.0, worst_look = 0.0;
        table.ticked = [&](link::Client& client) { shown[client.now().value] = client.shown_time(); };
        for (int i = 0; i < 900; ++i) {
            Intent run;
            run.move = {i / 40 % 2 == 0 ? 1.0 : -1.0, 0.0};
            run.look.yaw =
                0.05 * (table.server.now().value + 1.0);  // through many turns, 172 degrees a second
            table.server.direct(*target, run);
            table.cut_up = random.chance(loss);
            table.cut_down = random.chance(0.1);
            table.tick();
            const auto seen = table.server.seen_by(shooter.seat(), *target, table.server.now());
            if (i > 120 && seen) {
                ++judged;
                worst = std::max(worst, std::fabs(seen->at - shown.at(table.server.now().value)));
                worst_look = std::max(worst_look, std::fabs(std::remainder(seen->look.yaw - 0.05 * seen->at,
                                                                           2.0 * 3.14159265358979)));
            }
        }
        CHECK(judged > 770);
        CHECK(worst <= 0.1);
        CHECK(worst_look <= 0.001);  // a tick turns by 0.05
    }
}

TEST_CASE("Others look where they looked at the time that is shown, through turns, flicks and nods") {
    // A mouse that moves in every tick: a steady turn of 180 degrees a second, flicks of 500, nods, and rests.
    constexpr double degree = 3.14159265358979 / 180.0;
    const auto look_at = [&](double tick) {
        const double s = tick / 60.0, part = std::fmod(s, 2.0);
        const double turned = 180.0 * std::min(part, 1.0) + 500.0 * std::clamp(part - 1.4, 0.0, 0.15);
        return Look{(255.0 * std::floor(s / 2.0) + turned) * degree, 40.0 * std::sin(2.0 * s) * degree};
    };
    for (const double loss : {0.0, 0.05}) {
        CAPTURE(loss);
        Table table;
        link::Client& watcher = table.sit(1);
        table.ticks(20);
        const auto target = table.server.spawn(0, {{0.0, 5.0, 0.0}, 0.0});
        rehearsal::Random random(2);
        std::vector<double> yaw_off, pitch_off;
        for (int i = 0; i < 1200; ++i) {
            Intent intent;
            intent.move = {1.0, 0.0};
            intent.look = look_at(table.server.now().value + 1.0);
            table.server.direct(*target, intent);
            table.cut_down = random.chance(loss);
            table.tick();
            const auto shown = watcher.shown(*target);
            if (i < 60 || !shown) {
                continue;
            }
            // The look of a tick holds from its begin on: it is the one after the last that was played.
            const Look truth = look_at(watcher.shown_time());
            yaw_off.push_back(std::fabs(std::remainder(shown->look.yaw - truth.yaw, 360.0 * degree)) /
                              degree);
            pitch_off.push_back(std::fabs(shown->look.pitch - truth.pitch) / degree);
            CHECK(shown->runner.yaw() == shown->look.yaw);
            CHECK(shown->runner.pitch() == shown->look.pitch);
        }
        std::sort(yaw_off.begin(), yaw_off.end());
        std::sort(pitch_off.begin(), pitch_off.end());
        const auto at = [](const std::vector<double>& all, double part) {
            return all[static_cast<std::size_t>(part * static_cast<double>(all.size()))];
        };
        CHECK(at(yaw_off, 0.5) <= 0.5);
        CHECK(at(yaw_off, 0.9) <= 1.5);
        CHECK(at(pitch_off, 0.5) <= 0.5);
        CHECK(at(pitch_off, 0.99) <= 2.0);
        // Where a flick of 8 degrees a tick begins or ends between two news, nobody knows it for a tick.
        CHECK(at(yaw_off, 0.99) <= 10.0);
    }
}

TEST_CASE("A hand turns evenly, with bends between: they are shown where they were, lost packets or not") {
    constexpr double degree = 3.14159265358979 / 180.0;
    Table table;
    link::Client& watcher = table.sit(1);
    table.ticks(20);
    const auto target = table.server.spawn(0, {{0.0, 5.0, 0.0}, 0.0});
    rehearsal::Random random(4);
    std::vector<double> yaws(3000, 0.0);  // by tick
    double rate = 0.0;
    int until = 60;
    for (std::size_t i = 1; i < yaws.size(); ++i) {
        if (static_cast<int>(i) >= until) {
            rate = random.between(-5.0, 5.0) * degree;  // up to 300 degrees a second
            until += 20 + static_cast<int>(random.below(20));
        }
        yaws[i] = yaws[i - 1] + rate;
    }
    int shown_times = 0, off = 0;
    for (int i = 0; i < 2800; ++i) {
        Intent intent;
        intent.look.yaw = yaws[table.server.now().value + 1];
        table.server.direct(*target, intent);
        table.cut_down = random.chance(0.1);
        table.tick();
        const auto shown = watcher.shown(*target);
        if (i < 60 || !shown || shown->waiting) {
            continue;
        }
        const double at = watcher.shown_time();
        const auto tick = static_cast<std::size_t>(at);
        const double truth = yaws[tick] + (yaws[tick + 1] - yaws[tick]) * (at - std::floor(at));
        ++shown_times;
        off += std::fabs(std::remainder(shown->look.yaw - truth, 360.0 * degree)) > 2.0 * degree ? 1 : 0;
    }
    CHECK(shown_times > 2500);
    CHECK(off * 1000 / shown_times <= 12);  // where both ends of a bend were lost, nobody knows it
}

TEST_CASE("What a key brings about is shown when it came about, though a mouse moves in every tick") {
    for (const double loss : {0.0, 0.1}) {
        CAPTURE(loss);
        Table table;
        link::Client& watcher = table.sit(1);
        table.ticks(20);
        const auto target = table.server.spawn(0, {{0.0, 5.0, 0.0}, 0.0});
        const ActionId dash = table.chart.action("dash");
        rehearsal::Random random(5);
        std::map<std::uint32_t, glm::dvec3> places;  ///< of the truth, by tick
        double worst = 0.0;
        int shown_times = 0, off = 0, pressed_for = 0, dashing = 0;
        for (int i = 0; i < 3000; ++i) {
            Intent intent;
            intent.move = {1.0, 0.0};
            intent.look.yaw = 0.9 * std::sin(0.05 * table.server.now().value);
            // At any of a snapshot's three ticks, and far more often than it may be used.
            pressed_for = pressed_for > 0 ? pressed_for - 1 : random.chance(0.03) ? 4 : 0;
            if (pressed_for > 0) {
                intent.hold(dash);
            }
            table.server.direct(*target, intent);
            table.cut_down = random.chance(loss);
            table.tick();
            places[table.server.now().value] = table.server.runner(*target).position();
            const auto shown = watcher.shown(*target);
            if (i < 60 || !shown || shown->waiting) {
                continue;
            }
            const double at = watcher.shown_time();
            const auto tick = static_cast<std::uint32_t>(at);
            const glm::dvec3 way = places[tick + 1] - places[tick];
            const double wrong = glm::length(shown->position - (places[tick] + way * (at - std::floor(at))));
            worst = std::max(worst, wrong);
            ++shown_times;
            off += wrong > 0.1 ? 1 : 0;
            dashing += shown->state == table.chart.state("dash") ? 1 : 0;
        }
        CHECK(shown_times > 2700);
        CHECK(dashing > 100);
        CHECK(worst <= (loss == 0.0 ? 0.25 : 0.5));  // m; a dash goes 0.25 a tick
        CHECK(off <= (loss == 0.0 ? 2 : 30));
    }
}

TEST_CASE("Over jittering ways, too, an honest client's word on what it saw is taken") {
    for (const int jitter : {0, 2, 5}) {  // ticks, each packet anew, either way
        for (const double loss : {0.0, 0.1, 0.3}) {
            CAPTURE(jitter, loss);
            Table table;
            link::Client& client = table.sit(1);
            rehearsal::Random random(11);
            std::multimap<int, std::vector<std::byte>> up, down;  ///< by the tick in which they come
            const auto send = [&](auto& way, int now, std::span<const std::byte> bytes) {
                if (!random.chance(loss)) {
                    const auto later = static_cast<int>(random.below(static_cast<std::uint64_t>(jitter) + 1));
                    way.emplace(now + 5 + later, std::vector<std::byte>(bytes.begin(), bytes.end()));
                }
            };
            std::optional<link::RunnerKey> target;
            std::map<std::uint32_t, double> shown;
            int judged = 0, off = 0;
            for (int i = 0; i < 1800; ++i) {
                table.server.tell_time(Seconds{i / 60.0});
                client.tell_time(Seconds{i / 60.0});
                while (client.due()) {
                    client.tick({}, table.ground);
                    shown[client.now().value] = client.shown_time();
                    while (const auto packet = client.next_packet()) {
                        send(up, i, *packet);
                    }
                }
                for (; !up.empty() && up.begin()->first <= i; up.erase(up.begin())) {
                    table.server.receive(Table::peer_of(0), up.begin()->second);
                }
                while (const auto event = table.server.next_event()) {
                    target =
                        event->kind == link::ServerEventKind::joined ? table.server.spawn(0, {}) : target;
                }
                table.server.tick(table.ground);
                while (const auto packet = table.server.next_packet()) {
                    send(down, i, packet->bytes);
                }
                for (; !down.empty() && down.begin()->first <= i; down.erase(down.begin())) {
                    client.receive(down.begin()->second, table.ground);
                }
                const std::uint32_t played = table.server.now().value;
                if (i < 300 || !target || shown.count(played) == 0) {
                    continue;
                }
                if (const auto seen = table.server.seen_by(client.seat(), *target, table.server.now())) {
                    ++judged;
                    off += std::fabs(seen->at - shown.at(played)) > 0.1 ? 1 : 0;
                }
            }
            CHECK(judged > 1450);
            CHECK(off == 0);
        }
    }
}

TEST_CASE("A client knows how long its intents take to be played") {
    for (const std::size_t way : {0U, 3U, 9U, 30U}) {  // ticks, each way
        CAPTURE(way);
        Table table;
        link::Client& client = table.sit(1);
        std::deque<std::vector<std::vector<std::byte>>> up(way), down(way);
        for (int i = 0; i < 900; ++i) {
            client.tell_time(Seconds{i / 60.0});
            while (client.due()) {
                client.tick({}, table.ground);
            }
            up.emplace_back();
            while (const auto packet = client.next_packet()) {
                up.back().emplace_back(packet->begin(), packet->end());
            }
            for (const auto& packet : up.front()) {
                table.server.receive(Table::peer_of(0), packet);
            }
            up.pop_front();
            while (const auto event = table.server.next_event()) {
                if (event->kind == link::ServerEventKind::joined) {
                    REQUIRE(table.server.spawn(0, {}, event->seat));
                }
            }
            table.server.tick(table.ground);
            down.emplace_back();
            while (const auto packet = table.server.next_packet()) {
                down.back().emplace_back(packet->bytes.begin(), packet->bytes.end());
            }
            for (const auto& packet : down.front()) {
                client.receive(packet, table.ground);
            }
            down.pop_front();
        }
        CHECK(std::fabs(client.statistics().input_delay - (client.now() - table.server.now())) <= 1.0);
        CHECK(client.statistics().input_delay >= static_cast<double>(way));
    }
}

TEST_CASE(
    "Runners beyond a snapshot's budget take turns: none is left out for long, the near ones come more "
    "often") {
    link::ServerConfig config = Table::usual_config();
    config.runners = 120;
    config.budget = 700;
    Table table(config);
    link::Client& client = table.sit(1);
    table.ticks(20);
    std::vector<link::RunnerKey> crowd;
    rehearsal::Random random(5);
    for (int i = 0; i < 100; ++i) {
        crowd.push_back(*table.server.spawn(0, {{i * 2.0, 5.0, 0.0}, 0.0}));
    }
    std::vector<double> late(crowd.size(), 0.0);
    std::vector<int> row(crowd.size(), 0);
    int longest = 0;
    double filled = 0.0;  // bytes of all snapshots
    for (int i = 0; i < 240; ++i) {
        for (const link::RunnerKey key : crowd) {
            if (random.chance(0.7)) {
                Intent intent;
                intent.move = {random.between(-1.0, 1.0), random.between(-1.0, 1.0)};
                intent.look = {random.between(-3.0, 3.0), 0.0};
                table.server.direct(key, intent);
            }
        }
        table.tick();
        REQUIRE(table.sent_down.back().size() <= 700);
        filled += i > 60 && table.server.now().value % 3 == 0
                      ? static_cast<double>(table.sent_down.back().size())
                      : 0.0;
        for (std::size_t k = 0; i > 60 && k < crowd.size(); ++k) {
            const auto shown = client.shown(crowd[k]);
            REQUIRE(shown);
            late[k] += shown->waiting ? 1.0 : 0.0;
            row[k] = shown->waiting ? row[k] + 1 : 0;
            longest = std::max(longest, row[k]);
        }
    }
    const auto sum = [&](std::size_t from, std::size_t to) {
        double all = 0.0;
        for (std::size_t k = from; k < to; ++k) {
            all += late[k];
        }
        return all / static_cast<double>(to - from);
    };
    CHECK(sum(0, 20) <= sum(80, 100));
    CHECK(longest <= 30);  // half a second
    CHECK(filled / 60.0 > 0.88 * 700.0);
}

TEST_CASE("At any frame rate, evenly or not, the own runner and the others are drawn without judder") {
    for (const double frames : {50.0, 144.0, 240.0}) {
        CAPTURE(frames);
        Table table;
        link::Client& client = table.sit(1);
        table.intents[0].move = {1.0, 0.0};
        table.ticks(60);
        const auto bot = table.server.spawn(0, {{0.0, 20.0, 0.0}, 0.0});
        Intent walks;
        walks.move = {1.0, 0.0};
        table.server.direct(*bot, walks);
        table.ticks(400);  // both walk at 2.4 m/s, and the lead has settled
        rehearsal::Random random(3);
        double time = table.time, own_last = 0.0, other_last = 0.0, own_worst = 0.0, other_worst = 0.0;
        for (int i = 0; i < 600; ++i) {
            time += random.between(0.5, 1.5) / frames;
            const auto exchange = [&] {
                while (const auto packet = client.next_packet()) {
                    table.server.receive(Table::peer_of(0), *packet);
                }
                while (table.server.due()) {
                    table.server.tick(table.ground);
                }
                while (const auto packet = table.server.next_packet()) {
                    client.receive(packet->bytes, table.ground);
                }
            };
            table.server.tell_time(Seconds{time});
            client.tell_time(Seconds{time});
            exchange();
            while (client.due()) {
                client.tick(table.intents[0], table.ground);
            }
            exchange();
            // By how much more or less they move from frame to frame than they truly do.
            const double own = client.own_shown().x - 2.4 * time,
                         other = client.shown(*bot)->position.x - 2.4 * time;
            if (i > 100) {
                own_worst = std::max(own_worst, std::fabs(own - own_last));
                other_worst = std::max(other_worst, std::fabs(other - other_last));
            }
            own_last = own;
            other_last = other;
        }
        // Drawn where it was after the last tick it would be off by up to 4 cm. The clocks are steered by a few per cent.
        CHECK(own_worst < 0.004);
        CHECK(other_worst < 0.006);
    }
}
