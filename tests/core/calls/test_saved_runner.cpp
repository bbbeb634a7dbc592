#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <cursimeter/cursimeter.hpp>

#include "support/bearer.hpp"
#include "support/deeds.hpp"
#include "support/random_chart.hpp"
#include "support/restless_hands.hpp"

using namespace support;

namespace {

constexpr Seconds sixtieth{1.0 / 60.0};

/// A runner in the middle of a game, with the hands that go on playing it.
struct Playing {
    ChartSpec spec;
    Chart chart;
    Runner runner;
    RestlessHands hands;
    Deeds deeds;

    explicit Playing(unsigned seed)
        : spec(RandomChart(seed).chart()),
          chart(compile(spec)),
          runner(spawn(chart)),
          hands(chart, seed),
          deeds(seed) {
        for (unsigned tick = 0; tick < 60 + seed * 37 % 600; ++tick) {
            deeds.perhaps(chart, runner, sixtieth);
            static_cast<void>(advance(chart, runner, hands.next(sixtieth.value), sixtieth));
        }
    }
    /// Goes on from a runner for three seconds, always in the same way.
    [[nodiscard]] std::uint64_t go_on(const Chart& with, Runner from) const {
        RestlessHands hands_on = hands;
        for (int tick = 0; tick < 180; ++tick) {
            static_cast<void>(advance(with, from, hands_on.next(sixtieth.value), sixtieth));
        }
        return digest(from);
    }
};

/// The text with its check made anew, as somebody would who means harm.
std::string with_bytes(std::vector<std::byte> bytes) {
    std::uint64_t check = 0x6375727369'6d6574U;  // each byte is mixed in by the finaliser of SplitMix64
    for (const std::byte byte : bytes) {
        check = (check ^ static_cast<std::uint64_t>(byte)) + 0x9e3779b97f4a7c15U;
        check = (check ^ (check >> 30U)) * 0xbf58476d1ce4e5b9U;
        check = (check ^ (check >> 27U)) * 0x94d049bb133111ebU;
        check ^= check >> 31U;
    }
    for (unsigned i = 0; i < 8; ++i) {
        bytes.push_back(static_cast<std::byte>(check >> (8 * i) & 0xffU));
    }
    std::string text = "runner-1-";
    for (const std::byte byte : bytes) {
        const auto number = static_cast<unsigned>(byte);
        text += "0123456789abcdef"[number / 16];
        text += "0123456789abcdef"[number % 16];
    }
    return text;
}
std::vector<std::byte> bytes_in(const std::string& text) {
    std::vector<std::byte> bytes;
    for (std::size_t i = std::string("runner-1-").size(); i + 16 < text.size(); i += 2) {
        bytes.push_back(static_cast<std::byte>(std::stoi(text.substr(i, 2), nullptr, 16)));
    }
    return bytes;
}

}  // namespace

TEST_CASE("a runner comes back from its text with every bit, and goes on as it would have") {
    std::size_t longest = 0, shortest = 100'000;
    for (unsigned seed = 1; seed <= 300; ++seed) {
        CAPTURE(seed);
        const Playing game(seed);
        const std::string saved = save_runner(game.chart, game.runner);
        const RestoredRunner restored = restore_runner(game.chart, saved);
        REQUIRE(restored.exact);
        CHECK(restored.lost.empty());
        CHECK(digest(restored.runner) == digest(game.runner));
        CHECK(restored.runner.state() == game.runner.state());
        CHECK(game.go_on(game.chart, restored.runner) == game.go_on(game.chart, game.runner));
        CHECK(save_runner(game.chart, restored.runner) == saved);
        longest = std::max(longest, saved.size());
        shortest = std::min(shortest, saved.size());
    }
    CAPTURE(shortest, longest);
    CHECK(shortest >= 600);  // as the header says
    CHECK(longest <= 1300);
}

TEST_CASE("a runner's text is read by another chart as carry_over takes it over") {
    std::size_t lost = 0;
    for (unsigned seed = 1; seed <= 300; ++seed) {
        CAPTURE(seed);
        const Playing game(seed);
        // Tuned, with a state renamed and one name gone; or another chart altogether.
        ChartSpec next = game.spec;
        next.body.gravity *= 0.9;
        for (MeterSpec& meter : next.meters) {
            meter.capacity *= 1.25;
        }
        const bool foreign = seed % 3 == 0;
        const Chart to = foreign ? compile(RandomChart(seed + 1000).chart()) : compile(next);
        const CarriedOver carried = carry_over(game.chart, game.runner, to);
        const RestoredRunner restored = restore_runner(to, save_runner(game.chart, game.runner));
        CHECK_FALSE(restored.exact);
        CHECK(restored.lost == carried.lost);
        CHECK(digest(restored.runner) == digest(carried.runner));
        CHECK(game.go_on(to, restored.runner) == game.go_on(to, carried.runner));
        lost += restored.lost.size();
    }
    CHECK(lost > 50);
}

TEST_CASE("what was renamed since is found by the name that it had") {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    const Chart before = compile(spec);
    Runner runner = spawn(before);
    Intent sprinting;
    sprinting.move = {1.0, 0.0};
    sprinting.hold(before.action("sprint"));
    static_cast<void>(advance(before, runner, sprinting, Seconds{1.0}));
    REQUIRE(before.name(runner.state()) == "sprint");
    const std::string saved = save_runner(before, runner);
    for (StateSpec& one : spec.states) {
        if (one.name == "sprint") {
            one.was = "sprint";
            one.name = "hurry";
        }
    }
    for (std::string& name : spec.rank) {
        name = name == "sprint" ? "hurry" : name;
    }
    const Chart after = compile(spec);
    const RestoredRunner restored = restore_runner(after, saved);
    CHECK_FALSE(restored.exact);
    CHECK(restored.lost.empty());
    CHECK(after.name(restored.runner.state()) == "hurry");
    CHECK(restored.runner.speed() == runner.speed());
    CHECK(read_meter(after, restored.runner, after.meter("stamina")).level ==
          Approx(read_meter(before, runner, before.meter("stamina")).level));
    // The first version knows nothing of the new name.
    const RestoredRunner back = restore_runner(before, save_runner(after, restored.runner));
    REQUIRE(back.lost.size() == 1);
    CHECK(back.lost[0] == "state 'hurry' is not in the new chart: 'walk' instead");
}

TEST_CASE("a text that is damaged in any place is refused") {
    const Playing game(7);
    const std::string saved = save_runner(game.chart, game.runner);
    for (std::size_t i = 0; i < saved.size(); ++i) {
        for (const char other : {'0', 'f', 'G', ' ', '\0'}) {
            std::string damaged = saved;
            if (damaged[i] == other) {
                continue;
            }
            damaged[i] = other;
            CAPTURE(i, other);
            CHECK_THROWS_AS(restore_runner(game.chart, damaged), ChartError);
        }
        CHECK_THROWS_AS(restore_runner(game.chart, saved.substr(0, i)), ChartError);
        CHECK_THROWS_AS(restore_runner(game.chart, saved.substr(i + 1)), ChartError);
    }
    CHECK_THROWS_AS(restore_runner(game.chart, saved + "00"), ChartError);
    CHECK_THROWS_AS(restore_runner(game.chart, saved + saved), ChartError);
}

TEST_CASE("what is wrong with a text is said") {
    const Playing game(7);
    const std::string saved = save_runner(game.chart, game.runner);
    const auto told = [&](const std::string& text) {
        return complaint([&] { static_cast<void>(restore_runner(game.chart, text)); });
    };
    CHECK(told("") == "saved runner: is none; save_runner writes them");
    CHECK(told("a runner") == "saved runner: is none; save_runner writes them");
    CHECK(told("runner-27-00") ==
          "saved runner: is of version '27'; this version of the library reads version 1");
    CHECK(told("runner-") == "saved runner: is of version ''; this version of the library reads version 1");
    CHECK(told("runner-1") ==
          "saved runner: is damaged; it has to be kept letter by letter, as save_runner wrote it");
    CHECK(told(std::string(200'000, 'x')) == "saved runner: is none; save_runner writes them");
    const Playing other(8);
    CHECK(complaint([&] { static_cast<void>(save_runner(other.chart, game.runner)); }).find("save_runner") !=
          std::string::npos);
}

TEST_CASE("a text that says to be of a chart whose things it does not have is refused") {
    std::size_t tried = 0;
    for (unsigned seed = 1; seed <= 200; ++seed) {
        const Playing game(seed);
        const Chart other = compile(RandomChart(seed + 700).chart());
        if (game.runner.state().index < other.state_count()) {
            continue;
        }
        CAPTURE(seed);
        std::vector<std::byte> bytes = bytes_in(save_runner(game.chart, game.runner));
        const std::vector<std::byte> heading = bytes_in(save_runner(other, spawn(other)));
        std::copy_n(heading.begin(), 12, bytes.begin());  // digest and naming
        const auto tag_of = [](const Chart& chart) {
            const std::uint64_t tag = (chart.digest() ^ (chart.digest() >> 32U)) & 0xffffffffU;
            std::array<std::byte, 4> letters{};
            for (unsigned i = 0; i < 4; ++i) {
                letters[i] = static_cast<std::byte>(tag >> (8 * i) & 0xffU);
            }
            return letters;
        };
        const std::array<std::byte, 4> own = tag_of(game.chart), its = tag_of(other);
        const auto at = std::search(bytes.begin() + 12, bytes.end(), own.begin(), own.end());
        if (at == bytes.end() || its[3] == std::byte{0}) {
            continue;
        }
        std::copy(its.begin(), its.end(), at);
        CHECK_THROWS_AS(restore_runner(other, with_bytes(bytes)), ChartError);
        ++tried;
    }
    CHECK(tried > 10);
}

TEST_CASE("a text by somebody who means harm gives a runner of the chart, or none") {
    std::mt19937 random(5);
    std::size_t taken = 0, refused = 0;
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const Playing game(seed);
        const Chart other = compile(RandomChart(seed + 500).chart());
        const std::vector<std::byte> bytes = bytes_in(save_runner(game.chart, game.runner));
        REQUIRE(with_bytes(bytes) == save_runner(game.chart, game.runner));
        for (int trial = 0; trial < 100; ++trial) {
            CAPTURE(seed, trial);
            std::vector<std::byte> bad = bytes;
            for (unsigned i = 0; i <= random() % 4; ++i) {
                bad[random() % bad.size()] = static_cast<std::byte>(random() % 256);
            }
            for (const Chart* chart : {&game.chart, &other}) {
                try {
                    Runner runner = restore_runner(*chart, with_bytes(bad)).runner;
                    RestlessHands hands(*chart, seed);
                    for (int tick = 0; tick < 60; ++tick) {
                        static_cast<void>(advance(*chart, runner, hands.next(sixtieth.value), sixtieth));
                    }
                    CHECK(runner.state().index < chart->state_count());
                    CHECK(std::isfinite(runner.position().x));
                    ++taken;
                } catch (const ChartError&) {
                    ++refused;
                }
            }
        }
    }
    CHECK(taken > 500);
    CHECK(refused > 500);
}
