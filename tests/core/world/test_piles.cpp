#include <algorithm>
#include <glm/geometric.hpp>

#include "game_mover.hpp"
#include "support/all_ways.hpp"
#include "support/dice.hpp"
#include "support/share.hpp"
#include "support/worlds.hpp"

/// Random piles of turned boxes and ramps of any steepness, and hands that move the mouse in every tick.
using namespace support;

namespace {

class Pile : public Dice {
  public:
    using Dice::Dice;

    CourseSpec course(bool moving) {
        CourseSpec spec = floor_only();
        for (int i = 0; i < 25; ++i) {
            const double x = between(-12.0, 12.0), y = between(-12.0, 12.0);
            const double wide = between(0.5, 4.0), deep = between(0.5, 4.0);
            spec.boxes.push_back({{x - wide, y - deep, between(-1.0, 2.0)},
                                  {x + wide, y + deep, between(2.0, 9.0)},
                                  Degrees{between(-180.0, 180.0)}});
        }
        for (int i = 0; i < 15; ++i) {
            const double x = between(-12.0, 12.0), y = between(-12.0, 12.0), z = between(-1.0, 3.0);
            spec.ramps.push_back({{x, y, z},
                                  {x + between(-6.0, 6.0), y + between(-6.0, 6.0), z + between(0.1, 8.0)},
                                  between(1.0, 6.0),
                                  between(0.2, 1.0)});
        }
        for (int i = 0; moving && i < 8; ++i) {
            PlatformSpec platform;
            platform.size = {between(1.0, 5.0), between(1.0, 5.0), between(0.3, 1.5)};
            for (int corner = happens(0.5) ? 2 : 3; corner > 0; --corner) {
                platform.path.push_back({between(-12.0, 12.0), between(-12.0, 12.0), between(0.4, 6.0)});
            }
            platform.speed = between(0.5, 5.0);
            platform.pause = between(0.0, 1.0);
            spec.platforms.push_back(platform);
        }
        return spec;
    }
    /// Other keys, another stick and another look.
    void change(const Chart& chart, Intent& intent) {
        intent.look.yaw = between(-3.14, 3.14);
        intent.move = {happens(0.8) ? 1.0 : between(-1.0, 1.0), happens(0.7) ? 0.0 : between(-1.0, 1.0)};
        intent.held = 0;
        for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
            if (happens(0.3)) {
                intent.hold(ActionId{i});
            }
        }
    }
};

/// What became of all the runners of one chart.
struct Counts {
    long ticks = 0, capped = 0, moved = 0, falling = 0, crushed = 0;
    double deepest = 0.0, lowest = 0.0, gained = 0.0;  ///< m in solids, m, J/kg in one tick of falling
};

void play(const Chart& chart, CourseTerrain& terrain, Pile& pile, double rate, Counts& counts) {
    Runner runner = spawn(chart, {{pile.between(-12.0, 12.0), pile.between(-12.0, 12.0), 10.0}, 0.0});
    Intent intent;
    double change = 0.0, before = 1e9;
    for (int tick = 0; tick < static_cast<int>(20.0 * rate); ++tick) {
        if (tick / rate >= change) {
            change += pile.between(0.2, 1.5);
            pile.change(chart, intent);
        }
        intent.look.yaw += pile.between(-0.02, 0.02);
        terrain.set_time(tick / rate);
        const Report report = advance(chart, runner, intent, terrain, Seconds{1.0 / rate});
        counts.capped += report.instants_capped ? 1 : 0;
        counts.moved += glm::length(report.displacement) > 1e-3 ? 1 : 0;
        ++counts.ticks;
        counts.lowest = std::min(counts.lowest, runner.position().z);
        Overlap overlap;
        if (runner.crushed()) {
            ++counts.crushed;
        } else if (terrain.overlap(chart.body(runner.state()), runner.position(), 1.0 / rate, overlap)) {
            counts.deepest = std::max(counts.deepest, overlap.depth);
        }
        const bool falls = chart.name(runner.state()) == "fall" && !report.instants_capped &&
                           count(report, EventKind::landed) == 0;
        const double energy = 0.5 * runner.speed() * runner.speed() + 20.0 * runner.position().z;
        counts.gained = std::max(counts.gained, falls ? energy - before : 0.0);
        counts.falling += falls ? 1 : 0;
        before = falls ? energy : 1e9;
    }
}

}  // namespace

TEST_CASE(
    "in a pile of boxes, ramps and platforms next to no tick is given up, and nobody gets into solids or "
    "gains energy") {
    for (const bool moving : {false, true}) {
        for (const double steer : {0.0, 40.0}) {
            ChartSpec spec = all_ways();
            for (StateSpec& state : spec.states) {
                if (state.kind == StateKind::air && steer > 0.0) {
                    state.air.steer = steer;
                    state.speed.forward = 5.0;
                }
            }
            const Chart chart = compile(spec);
            Counts counts;
            for (unsigned seed = 0; seed < share_of(24); ++seed) {
                Pile pile(seed);
                const Course course(pile.course(moving));
                CourseTerrain terrain(course, chart);
                for (int life = 0; life < 6; ++life) {
                    play(chart, terrain, pile, std::array{20.0, 37.0, 60.0, 240.0}[seed % 4], counts);
                }
            }
            CAPTURE(moving, steer, counts.ticks, counts.capped, counts.moved, counts.crushed);
            CHECK(counts.moved > counts.ticks / 2);
            CHECK(counts.falling > counts.ticks / 50);
            CHECK(counts.capped <= counts.ticks / 50000);
            CHECK(counts.deepest <= 1.001e-3);  // what is left of less than a millimetre is no crush
            CHECK(counts.lowest > -2e-3);
            if (!moving && steer == 0.0) {
                CHECK(counts.gained < 0.05);
            }
        }
    }
}

namespace {

/// Where a runner is after 0.4 s at a tick rate, its hands as they are.
glm::dvec3 place_after(const Chart& chart, Runner runner, const Intent& intent, const Terrain& terrain,
                       double rate) {
    for (int tick = 0; tick < static_cast<int>(0.4 * rate); ++tick) {
        static_cast<void>(advance(chart, runner, intent, terrain, Seconds{1.0 / rate}));
    }
    return runner.position();
}

}  // namespace

TEST_CASE("in a pile a run of 0.4 s is the same at 20, 60 and 240 ticks a second, but where a hair decides") {
    const Chart chart = compile(all_ways());
    std::vector<double> apart;  // m
    for (unsigned seed = 0; seed < share_of(24); ++seed) {
        Pile pile(1000 + seed);
        const Course course(pile.course(false));
        const CourseTerrain terrain(course, chart);
        for (int life = 0; life < 10; ++life) {
            Runner runner = spawn(chart, {{pile.between(-12.0, 12.0), pile.between(-12.0, 12.0), 10.0}, 0.0});
            Intent intent;
            for (int round = 0; round < 12; ++round) {
                pile.change(chart, intent);
                for (int tick = 0; tick < 100; ++tick) {
                    static_cast<void>(advance(chart, runner, intent, terrain, Seconds{1.0 / 240.0}));
                }
                pile.change(chart, intent);
                const glm::dvec3 fine = place_after(chart, runner, intent, terrain, 240.0);
                apart.push_back(
                    std::max(glm::length(place_after(chart, runner, intent, terrain, 20.0) - fine),
                             glm::length(place_after(chart, runner, intent, terrain, 60.0) - fine)));
            }
        }
    }
    std::sort(apart.begin(), apart.end());
    const auto of = [&](double share) {
        return apart[static_cast<std::size_t>(share * static_cast<double>(apart.size() - 1))];
    };
    CAPTURE(apart.size(), of(0.5), of(0.99), of(0.999), apart.back());
    CHECK(of(0.5) < 1e-9);
    CHECK(of(0.9) < 1e-4);
    CHECK(of(0.98) < 1e-3);
}

TEST_CASE("in a pile a game's own mover stops whom it keeps where he is, whatever it tells of it") {
    const Chart chart = compile(all_ways());
    long ticks = 0, kept = 0, capped = 0;
    double fastest = 0.0;  // m/s downwards, of whom the mover has not moved for two ticks
    for (unsigned seed = 0; seed < share_of(24); ++seed) {
        Pile pile(seed);
        const Course course(pile.course(false));
        const CourseTerrain terrain(course, chart);
        const Seconds dt{1.0 / std::array{20.0, 37.0, 60.0, 240.0}[seed % 4]};
        const GameMover mover(terrain, dt);
        for (int life = 0; life < 6; ++life) {
            Runner runner = spawn(chart, {{pile.between(-12.0, 12.0), pile.between(-12.0, 12.0), 10.0}, 0.0});
            Intent intent;
            Contacts contacts;
            double change = 0.0, before = 1.0;
            for (double time = 0.0; time < 20.0; time += dt.value) {
                if (time >= change) {
                    change += pile.between(0.2, 1.5);
                    pile.change(chart, intent);
                }
                intent.look.yaw += pile.between(-0.02, 0.02);
                const Plan plan = propose(chart, runner, intent, contacts, dt);
                const glm::dvec3 moved = mover.move(plan, runner.position(), contacts);
                const Report report = settle(chart, runner, plan, moved, contacts);
                const double way = glm::length(moved);
                if (way < 1e-5 && before < 1e-5) {
                    ++kept;
                    fastest = std::max(fastest, -runner.velocity().z);
                }
                before = way;
                capped += report.instants_capped ? 1 : 0;
                ++ticks;
            }
        }
    }
    CAPTURE(ticks, kept, capped);
    CHECK(kept > 100);
    CHECK(fastest < 1.5);  // what gravity gives in one tick
    CHECK(capped == 0);
}
