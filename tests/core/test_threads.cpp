#include <array>
#include <catch2/catch.hpp>
#include <thread>

#include "support/bearer.hpp"

using namespace support;

TEST_CASE("one chart serves runners on several threads at once, each as if alone") {
    const Chart chart = compile(bearer(ease(0.1, 0.2, 0.3)));
    const auto run = [&chart](Runner& runner) {
        for (int i = 0; i < 3000; ++i) {
            static_cast<void>(tick(chart, runner, {1.0, 0.001 * (i % 500)}, {ActionId{0}}, 0.01, 0.002 * i));
        }
    };
    Runner alone = spawn(chart);
    run(alone);
    std::array<Runner, 4> crowd{spawn(chart), spawn(chart), spawn(chart), spawn(chart)};
    std::vector<std::thread> threads;
    for (Runner& runner : crowd) {
        threads.emplace_back([&run, &runner] { run(runner); });
    }
    for (std::thread& thread : threads) {
        thread.join();
    }
    for (const Runner& runner : crowd) {
        CHECK(digest(runner) == digest(alone));
    }
}
