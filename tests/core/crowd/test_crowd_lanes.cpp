#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/crowd.hpp>
#include <limits>
#include <random>
#include <string>
#include <vector>

#include "support/all_ways.hpp"
#include "support/bearer.hpp"
#include "support/deeds.hpp"
#include "support/random_chart.hpp"
#include "support/restless_hands.hpp"
#include "support/share.hpp"

using namespace support;

/// Those who walk on, look around or turn with a mouse are worked side by side: one lane, two, four and eight must give the bits of
/// `advance`, whatever a game does to them meanwhile.
namespace {

class Beside {
  public:
    Beside(const Chart& chart, std::size_t lanes, unsigned seed)
        : chart_(chart), random_(seed), crowd_(chart) {
        crowd_.use_lanes(lanes);
        for (unsigned i = 0; i < 21; ++i) {
            add(seed * 100 + i);
        }
    }

    void tick(Seconds dt) {
        intents_.clear();
        for (std::size_t i = 0; i < alone_.size(); ++i) {
            intents_.push_back(hands_[i].next(dt.value));
            if (i % 3 == 1) {  // a stick in one direction and a mouse that moves gently
                intents_[i].move = {1.0, 0.0};
                intents_[i].held = 0;
                intents_[i].look.yaw = 0.1 * intents_[i].look.yaw;
            }
            if (i % 5 == 4) {  // looks where it looks, and up and down
                intents_[i].look.yaw = alone_[i].yaw();
            }
            spoil(i);
            // Both ends' deeds are thrown alike.
            Deeds deeds(static_cast<unsigned>(random_()));
            Deeds same = deeds;
            if (i % 4 == 1) {
                deeds.perhaps(chart_, alone_[i], dt);
                crowd_.change(i, [&](Runner& runner) { same.perhaps(chart_, runner, dt); });
            }
        }
        CrowdReport report;
        const std::size_t cut = random_() % alone_.size();
        const std::span<const Intent> all(intents_);
        advance_part(crowd_, 0, all.first(cut), dt, report);
        std::size_t mended = report.intents_mended(), told = report.events().size();
        advance_part(crowd_, cut, all.subspan(cut), dt, report);
        mended += report.intents_mended();
        told += report.events().size();
        for (std::size_t i = 0; i < alone_.size(); ++i) {
            const Report one = advance(chart_, alone_[i], intents_[i], dt);
            mended -= one.intent_mended ? 1 : 0;
            told -= one.events().size();
            CAPTURE(i);
            REQUIRE(crowd_.position(i) == alone_[i].position());
            REQUIRE(crowd_.velocity(i) == alone_[i].velocity());
            REQUIRE(digest(crowd_.runner(i)) == digest(alone_[i]));
        }
        REQUIRE(mended == 0);
        REQUIRE(told == 0);
        if (random_() % 40 == 0) {
            const std::size_t gone = random_() % alone_.size();
            crowd_.remove(gone);
            alone_[gone] = alone_.back();
            hands_[gone] = hands_.back();
            alone_.pop_back();
            hands_.pop_back();
            add(static_cast<unsigned>(random_()));
        }
    }

  private:
    void add(unsigned seed) {
        const Placement placement{{0.5 * static_cast<double>(seed % 9), 0.0, 0.0}, 0.1 * (seed % 60)};
        crowd_.add(placement);
        alone_.push_back(spawn(chart_, placement));
        hands_.emplace_back(chart_, seed);
    }
    /// Now and then something that a lane may not take.
    void spoil(std::size_t i) {
        switch (random_() % 240) {
            case 0:
                intents_[i].look.yaw = std::numeric_limits<double>::quiet_NaN();
                break;
            case 1:
                intents_[i].look.pitch = 1e7;
                break;
            case 2:
                intents_[i].look.yaw = -0.0;
                break;
            case 3:
                intents_[i].focus = &focus_;
                break;
            case 4:
                intents_[i].look.yaw += 3.0;
                break;
            case 5:
                intents_[i].move.side = std::numeric_limits<double>::infinity();
                break;
            case 6:
                intents_[i].look.yaw = 1e7;
                break;
            default:
                break;
        }
    }

    Chart chart_;
    std::mt19937 random_;
    Crowd crowd_;
    Focus focus_{{3.0, 4.0, 1.0}, {0.5, 0.0, 0.0}, 1.6};
    std::vector<Runner> alone_;
    std::vector<RestlessHands> hands_;
    std::vector<Intent> intents_;
};

void play(const Chart& chart, unsigned seed, int ticks) {
    const double rates[] = {20.0, 64.0, 60.0, 32.0,
                            240.0};  // 64 and 32: round times come at the ends of ticks
    for (const std::size_t lanes : {1U, 2U, 4U, 8U}) {
        CAPTURE(seed, lanes);
        Beside both(chart, lanes, seed);
        for (int tick = 0; tick < ticks; ++tick) {
            both.tick(Seconds{tick % 8 == 7 ? 0.0 : 1.0 / rates[seed % 5]});
        }
    }
}

}  // namespace

TEST_CASE("lanes give the bits of one runner by itself, under mice that never rest") {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        play(compile(all_ways()), seed, 250);
    }
}

TEST_CASE("lanes give the bits of one runner by itself, by random charts") {
    for (unsigned seed = 200; seed < 200 + support::share_of(40); ++seed) {
        play(compile(RandomChart(seed).chart()), seed, 80);
    }
}

TEST_CASE("lanes leave a turn alone on which a speed is met that something compares") {
    for (const double mark : {1.9, 1.95, 1.99, 1.9999, 2.0}) {
        ChartSpec spec = walker({.forward = 2.0}, ramp(12.0, 16.0, 10.0));
        spec.states.push_back(state("brisk", {.forward = 2.0}, ramp(12.0, 16.0, 10.0)));
        spec.states[1].enter = Condition{"speed > " + std::to_string(mark)};
        spec.rank = {"brisk", "walk"};
        play(compile(spec), static_cast<unsigned>(mark * 1000.0), 200);
    }
}

TEST_CASE("a crowd takes as many lanes as there are, and as few as are asked for") {
    Crowd crowd(compile(all_ways()));
    const std::size_t most = crowd.lanes();
    CHECK((most == 2 || most == 4 || most == 8));
    crowd.use_lanes(1000);
    CHECK(crowd.lanes() == most);
    crowd.use_lanes(0);
    CHECK(crowd.lanes() == 1);
}
