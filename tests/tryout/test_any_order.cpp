#include <catch2/catch.hpp>
#include <cursimeter/rehearsal/human_hands.hpp>
#include <cursimeter/survey/take.hpp>
#include <cursimeter/survey/values.hpp>
#include <cursimeter/tryout/tryout.hpp>
#include <cursimeter/tryout/tuning.hpp>
#include <cursimeter/tryout/yard.hpp>
#include <random>

#include "support/bearer.hpp"
#include "support/share.hpp"
#include "tryout/demo.hpp"

using namespace cursimeter;
using namespace support;
using tryout::Moment;
using tryout::Tryout;

namespace {

/// Somebody who does everything that the window lets one do, in any order.
class Restless {
  public:
    Restless(const std::string& chart, std::uint32_t seed)
        : random_(seed),
          tuning_(format_chart(demo_chart(chart).spec), chart),
          course_(seed % 2 == 0 ? std::optional(Course(tryout::make_yard(tuning_.chart()).course))
                                : std::nullopt),
          play_(tuning_.chart(), course_, options(seed)),
          hands_(tuning_.chart(), seed) {}

    void do_something() {
        switch (random_() % 14) {
            case 0:
                random_() % 4 == 0 ? play_.step_on(random_() % 50) : play_.step_back(random_() % 150);
                break;
            case 1:
                play_.go_to({random_() % (play_.history().end().value + 20)});
                break;
            case 2: {
                const std::uint64_t from = play_.history().first().value + random_() % 50;
                static_cast<void>(play_.loop({from}, {from + random_() % 60}));
                break;
            }
            case 3:
                play_.end_loop();
                break;
            case 4:
                play_.start_ghost(random_() % 2 == 0 ? tuning_.saved().chart : demo_chart("eel").chart,
                                  "ghost");
                break;
            case 5:
                play_.end_ghost();
                break;
            case 6:
                play_.respawn();
                break;
            case 7:
            case 8:
                turn_a_number();
                break;
            case 9:
                if (random_() % 2 == 0 ? tuning_.undo() : tuning_.redo()) {
                    play_.set_chart(tuning_.chart());
                }
                break;
            default:
                for (std::uint64_t i = random_() % 40; i > 0; --i) {
                    play_.tick(hands_.next(play_.tick_length()));
                    if (!play_.looped()) {
                        REQUIRE(play_.now() == play_.history().end());
                    }
                    REQUIRE(play_.history().after({play_.now().value - 1}).position() ==
                            play_.runner().position());
                }
                break;
        }
        look();
    }

    void save() {
        const tryout::History& history = play_.history();
        if (history.size() == 0 || play_.now() == history.first() ||
            history.chart({play_.now().value - 1}).digest() != play_.chart().digest()) {
            return;
        }
        const tryout::PlayedTake take = play_.take_since(history.first(), tuning_.spec(), "");
        const survey::Take read = survey::read_take(take.bytes);
        const survey::Replay replay = survey::replay(read, play_.chart(), course_ ? &*course_ : nullptr);
        REQUIRE_FALSE(replay.first);
        REQUIRE(replay.ticks == take.ticks);
        ++saved_;
    }
    [[nodiscard]] int saved() const { return saved_; }

  private:
    static Tryout::Options options(std::uint32_t seed) {
        Tryout::Options wanted;
        wanted.rate = std::array{20.0, 60.0, 144.0}[seed % 3];
        wanted.keep = Seconds{3.0};  // so that the oldest ticks make room again and again
        return wanted;
    }
    void turn_a_number() {
        const std::vector<survey::ChartValue>& values = tuning_.values();
        const survey::ChartValue& one = values[random_() % values.size()];
        const double part = 0.5 + static_cast<double>(random_() % 1000) / 1000.0;
        try {
            tuning_.set(std::string(one.path), one.whole ? 1.0 : one.value.value_or(1.0) * part);
            play_.set_chart(tuning_.chart());
        } catch (const ChartError&) {  // refused: nothing has changed
        }
        REQUIRE(play_.chart().digest() == tuning_.chart().digest());
    }
    /// What can be asked can be asked at any time.
    void look() {
        const tryout::History& history = play_.history();
        REQUIRE(history.size() <= history.room());
        REQUIRE(play_.now() >= history.first());
        REQUIRE(play_.now() <= history.end());
        REQUIRE(play_.begun() >= history.first());
        REQUIRE(play_.begun() <= play_.now());
        REQUIRE(std::isfinite(play_.runner().position().x));
        if (const auto ghost = play_.ghost()) {
            REQUIRE(std::isfinite(ghost->apart));
            REQUIRE((!ghost->earlier || std::isfinite(*ghost->earlier)));
        }
        for (std::size_t i = 0; i < history.event_count(); ++i) {
            const tryout::PlayedEvent& event = history.event(i);
            REQUIRE(event.tick >= history.first().value);
            REQUIRE(event.tick < history.end().value);
            REQUIRE_FALSE(subject_name(history.chart({event.tick}), event.event).empty());
        }
    }

    std::mt19937 random_;
    tryout::Tuning tuning_;
    std::optional<Course> course_;
    Tryout play_;
    rehearsal::HumanHands hands_;
    int saved_ = 0;
};

}  // namespace

TEST_CASE("in whatever order one plays, turns back, loops and tunes, what was played stays true",
          "[tryout]") {
    int saved = 0;
    for (std::uint32_t seed = 1; seed <= support::share_of(24); ++seed) {
        const std::string chart = std::array{"bearer", "eel", "gannet", "keeper"}[seed % 4];
        CAPTURE(seed, chart);
        Restless somebody(chart, seed);
        for (int i = 0; i < 150; ++i) {
            somebody.do_something();
            if (i % 10 == 9) {
                somebody.save();
            }
        }
        saved += somebody.saved();
    }
    CHECK(saved > static_cast<int>(support::share_of(100)));
}
