#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/rehearsal/simulated_link.hpp>
#include <numeric>
#include <optional>
#include <vector>

#include "link/scene.hpp"
#include "support/share.hpp"

using namespace support;

namespace {

/// A client that watches a runner which the game directs, goes away, and mostly makes room for another.
struct Watch {
    void go_on(int ticks) {
        for (int i = 0; i < ticks; ++i) {
            if (bot) {
                Intent intent;
                intent.move = {1.0, 0.0};
                intent.look.yaw = 0.05 * table.server.now().value;
                table.server.direct(*bot, intent);
            }
            table.tick();
        }
    }

    Table table;
    link::Client& client = table.sit(1);
    std::optional<link::RunnerKey> bot;
};

}  // namespace

TEST_CASE("Who is gone stays gone, and who comes into the place is seen, in whatever order news come") {
    int overtaken = 0;
    for (std::uint64_t seed = 1; seed <= support::share_of(300); ++seed) {
        CAPTURE(seed);
        rehearsal::Random random(seed);
        Watch watch;
        watch.go_on(20);
        // The client knows it already, or learns of it from what comes in disorder.
        const bool known = random.below(2) != 0;
        if (known) {
            watch.bot = watch.table.server.spawn(0, {{0.0, 5.0, 0.0}, 0.0});
            watch.go_on(60 + static_cast<int>(random.below(30)));
            REQUIRE(watch.client.others().size() == 1);
        }
        watch.table.cut_down = true;
        const std::size_t begin = watch.table.sent_down.size();
        if (!known) {
            watch.bot = watch.table.server.spawn(0, {{0.0, 5.0, 0.0}, 0.0});
        }
        const link::RunnerKey first = *watch.bot;
        watch.go_on(3 + static_cast<int>(random.below(9)));
        REQUIRE(watch.table.server.despawn(first));
        watch.bot.reset();
        watch.go_on(static_cast<int>(random.below(7)));
        if (seed % 3 != 0) {
            watch.bot = watch.table.server.spawn(0, {{0.0, -5.0, 0.0}, 1.0});
        }
        watch.go_on(3 + static_cast<int>(random.below(9)));
        std::vector<std::size_t> order(watch.table.sent_down.size() - begin);
        std::iota(order.begin(), order.end(), begin);
        for (std::size_t i = order.size(); i > 1; --i) {
            std::swap(order[i - 1], order[random.below(i)]);
        }
        overtaken += std::is_sorted(order.begin(), order.end()) ? 0 : 1;
        // One in five is lost; some come when what is said in them is long over.
        const auto receive = [&](std::size_t packet) {
            if (random.below(5) != 0) {
                watch.client.receive(watch.table.sent_down[packet], watch.table.ground);
            }
        };
        const auto held_up = order.begin() + static_cast<std::ptrdiff_t>(random.below(order.size() + 1));
        std::for_each(order.begin(), held_up, receive);
        watch.table.cut_down = random.below(2) != 0;
        watch.go_on(static_cast<int>(random.below(40)));
        watch.table.cut_down = false;
        std::for_each(held_up, order.end(), receive);
        watch.go_on(120);

        const auto others = watch.client.others();
        if (!watch.bot) {
            CHECK(others.empty());
            continue;
        }
        REQUIRE(others.size() == 1);
        CHECK(others[0] == *watch.bot);
        CHECK_FALSE(watch.client.shown(first));
        // Shown where it was a moment ago: longer ago, the later packets have come.
        const double ago = (watch.table.server.now().value - watch.client.shown_time()) * watch.table.dt;
        CHECK(ago < 1.0);
        const glm::dvec3 off =
            watch.client.shown(*watch.bot)->position - watch.table.server.runner(*watch.bot).position();
        CHECK(std::hypot(off.x, off.y) < 4.1 * ago + 0.05);  // it walks at 4 m/s
        CHECK(watch.client.statistics().malformed == 0);
    }
    CHECK(overtaken > static_cast<int>(support::share_of(100)));
}
