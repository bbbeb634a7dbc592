#include <catch2/catch.hpp>
#include <cursimeter/settle.hpp>
#include <functional>

#include "support/leaper_chart.hpp"
#include "support/play.hpp"

using namespace support;

/// One list of contacts through both doors: a world that the library asks, and a game that moves the runner itself and
/// tells what it met.
namespace {

/// A floor without end, at a height and with a velocity of its own, and a zone that pushes beyond x = 0.
class Floor final : public Terrain {
  public:
    std::function<glm::dvec3(double)> place = [](double) { return glm::dvec3(0.0); };  ///< m, after seconds
    double starts_at = -1e9, ends_at = 1e9;  ///< m along x, in its own frame
    const Push* push = nullptr;
    double begin = 0.0;  ///< s; of the tick

    [[nodiscard]] bool is_below(const glm::dvec3& feet, double at) const {
        const double x = feet.x - place(begin + at).x;
        return x >= starts_at && x <= ends_at;
    }
    bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        const double height = place(begin + sweep.at).z;
        const double from = sweep.from.z - height, to = from + sweep.motion.z;
        if (to > 0.0 || sweep.motion.z >= 0.0 || from < -0.5 ||
            !is_below(sweep.from + sweep.motion, sweep.at)) {
            return false;
        }
        hit.fraction = std::max(0.0, from / -sweep.motion.z);
        hit.normal = hit.face = {0.0, 0.0, 1.0};
        hit.surface = 7;
        return true;
    }
    bool overlap(const Capsule&, const glm::dvec3& feet, double at,
                 Overlap& overlap) const noexcept override {
        const double height = place(begin + at).z;
        overlap = {height - feet.z, {0.0, 0.0, 1.0}};
        return feet.z < height && feet.z > height - 1.0 && is_below(feet, at);
    }
    ZoneReading zones(const glm::dvec3& point, double) const noexcept override {
        ZoneReading reading;
        reading.zones = push != nullptr && point.x > 0.0 ? 1 : 0;
        reading.push = reading.zones != 0 ? push : nullptr;
        return reading;
    }
    bool moves(const glm::dvec3&, const glm::dvec3&) const noexcept override { return true; }
    glm::dvec3 surface_motion(std::uint32_t, double at, double seconds) const noexcept override {
        return place(begin + at + seconds) - place(begin + at);
    }
};

/// What a runner did.
struct Story {
    std::vector<Played> events;
    Runner runner;
    [[nodiscard]] std::vector<double> values(EventKind kind) const {
        std::vector<double> values;
        for (const Played& played : events) {
            if (played.event.kind == kind) {
                values.push_back(played.event.value);
            }
        }
        return values;
    }
};

enum class Door { library, game };

class Walker {
  public:
    Walker(const Chart& chart, Floor& floor, Door door, double rate, const Placement& placement = {})
        : chart_(chart), floor_(floor), door_(door), dt_(1.0 / rate), runner_(spawn(chart, placement)) {
        contacts_.grounded =
            placement.position.z <= floor.place(0.0).z + 1e-9 && floor.is_below(placement.position, 0.0);
        contacts_.ground_velocity = velocity_at(0.0);
    }
    Intent intent;

    void until(double time) {
        while (time - runner_.clock().value > 1e-9) {
            const double begin = runner_.clock().value;
            floor_.begin = begin;
            const Report report = tick();
            for (const Event& event : report.events()) {
                story_.events.push_back({begin + event.at, event});
            }
        }
        story_.runner = runner_;
    }
    [[nodiscard]] const Story& story() const { return story_; }
    [[nodiscard]] Runner& runner() { return runner_; }

  private:
    [[nodiscard]] glm::dvec3 velocity_at(double time) const {
        return (floor_.place(time + 1e-6) - floor_.place(time)) * 1e6;
    }
    Report tick() {
        const Seconds dt{dt_};
        if (door_ == Door::library) {
            return advance(chart_, runner_, intent, floor_, dt);
        }
        // As plain as a game would write it: go along, carried, and stop at the floor.
        const Plan plan = propose(chart_, runner_, intent, contacts_, dt);
        glm::dvec3 moved = plan.displacement + plan.carry;
        const glm::dvec3 feet = runner_.position() + moved;
        const double height = floor_.place(floor_.begin + dt_).z;
        const bool below = floor_.is_below(feet, dt_);
        contacts_ = {};
        contacts_.grounded =
            below && (feet.z <= height || (plan.keeps_to_ground && feet.z <= height + plan.step_height));
        if (contacts_.grounded) {
            moved.z = height - runner_.position().z;
            contacts_.ground_velocity = velocity_at(floor_.begin + dt_);
        }
        contacts_.zones = floor_.zones(runner_.position() + moved, dt_);
        return settle(chart_, runner_, plan, moved, contacts_);
    }

    const Chart& chart_;
    Floor& floor_;
    Door door_;
    double dt_;
    Runner runner_;
    Contacts contacts_;
    Story story_;
};

ChartSpec plain_leaper() {
    ChartSpec spec = leaper(ramp(50.0, 50.0, 50.0));
    spec.states[1].air.fall_gravity = spec.states[2].air.fall_gravity = 20.0;
    return spec;
}

const std::initializer_list<double> door_rates{20.0, 60.0, 240.0};
const std::initializer_list<Door> doors{Door::library, Door::game};

}  // namespace

TEST_CASE("hopping on ground that moves leaves the runner's own speed its own") {
    const Chart chart = compile(plain_leaper());
    for (const Door door : doors) {
        for (const double rate : door_rates) {
            CAPTURE(door == Door::game, rate);
            Floor train;
            train.place = [](double t) { return glm::dvec3(10.0 * t, 0.0, 0.0); };
            Walker walker(chart, train, door, rate);
            walker.intent.move = {1.0, 0.0};
            walker.until(0.5);
            for (int hop = 0; hop < 6; ++hop) {
                walker.intent.held = 1;
                walker.until(0.6 + hop);
                walker.intent.held = 0;
                walker.until(1.5 + hop);
            }
            CHECK(walker.story().values(EventKind::landed).size() == 6);
            CHECK(walker.runner().speed() == Approx(5.0).margin(1e-6));
            // 0.1 s to reach 5 m/s, and carried at 10 m/s all the way.
            CHECK(walker.runner().position().x == Approx(10.0 * 6.5 + 5.0 * 6.45).margin(0.02));
        }
    }
}

TEST_CASE("landing on a lift tells the speed against the lift") {
    const Chart chart = compile(plain_leaper());
    for (const Door door : doors) {
        for (const double rate : door_rates) {
            CAPTURE(door == Door::game, rate);
            Floor lift;
            lift.place = [](double t) { return glm::dvec3(0.0, 0.0, 2.0 * t); };
            Walker walker(chart, lift, door, rate, {{0.0, 0.0, 10.0}, 0.0});
            walker.until(0.9);
            walker.until(1.2);
            const std::vector<double> landed = walker.story().values(EventKind::landed);
            REQUIRE(landed.size() == 1);
            CHECK(landed[0] == Approx(std::sqrt(404.0)).epsilon(door == Door::library ? 1e-3 : 0.02));
        }
    }
}

TEST_CASE("running off five metres keeps the run and meets the floor at the speed of the fall") {
    ChartSpec spec = plain_leaper();
    spec.states[0].speed.forward = 7.0;
    spec.states[0].gain = {};
    const Chart chart = compile(spec);
    for (const Door door : doors) {
        for (const double rate : door_rates) {
            CAPTURE(door == Door::game, rate);
            Floor floor;
            floor.place = [](double) { return glm::dvec3(0.0, 0.0, -5.0); };
            Walker walker(chart, floor, door, rate);
            walker.intent.move = {1.0, 0.0};
            walker.until(1.0);
            const std::vector<double> landed = walker.story().values(EventKind::landed);
            REQUIRE(landed.size() == 1);
            CHECK(landed[0] ==
                  Approx(std::sqrt(2.0 * 20.0 * 5.0)).epsilon(door == Door::library ? 1e-3 : 5e-3));
            CHECK(walker.runner().velocity().x == Approx(7.0).margin(1e-9));
            CHECK(walker.runner().position().x == Approx(7.0).margin(1e-6));
        }
    }
}

TEST_CASE("who walks against ground that moves back stands in the world, not in his own speed") {
    const Chart chart = compile(plain_leaper());
    for (const Door door : doors) {
        for (const double rate : door_rates) {
            CAPTURE(door == Door::game, rate);
            Floor belt;
            belt.place = [](double t) { return glm::dvec3(-5.0 * t, 0.0, 0.0); };
            Walker walker(chart, belt, door, rate);
            walker.intent.move = {1.0, 0.0};
            walker.until(1.0);
            const double x = walker.runner().position().x;
            walker.until(2.0);
            CHECK(walker.runner().speed() == Approx(5.0).margin(1e-9));
            CHECK(walker.runner().position().x == Approx(x).margin(1e-6));
        }
    }
}

TEST_CASE("walking off ground that moves keeps what it moved by") {
    const Chart chart = compile(plain_leaper());
    for (const Door door : doors) {
        for (const double rate : door_rates) {
            CAPTURE(door == Door::game, rate);
            Floor raft;
            raft.place = [](double t) { return glm::dvec3(3.0 * t, 0.0, 0.0); };
            raft.ends_at = 2.0;
            Walker walker(chart, raft, door, rate);
            walker.intent.move = {1.0, 0.0};
            walker.until(1.0);
            CHECK_FALSE(walker.runner().grounded());
            CHECK(walker.runner().velocity().x == Approx(8.0).margin(1e-6));
        }
    }
}

TEST_CASE("a zone's push of no length is a gust through both doors") {
    ChartSpec spec = plain_leaper();
    spec.zones = {"gust"};
    const Chart chart = compile(spec);
    const Push gust{.direction = {0.0, 1.0, 0.0}, .strength = 10.0};
    for (const Door door : doors) {
        CAPTURE(door == Door::game);
        Floor floor;
        floor.push = &gust;
        Walker walker(chart, floor, door, 60.0, {{-0.5, 0.0, 0.0}, 0.0});
        walker.intent.move = {1.0, 0.0};
        walker.until(1.0);
        CHECK(walker.story().values(EventKind::pushed).size() == 1);
        CHECK(walker.runner().velocity().y == Approx(0.0).margin(1e-9));
        // 10 m/s that fade over 0.05 s: a quarter of a metre.
        CHECK(walker.runner().position().y == Approx(0.25).margin(0.01));
    }
}

TEST_CASE("nonsense about ground and zones moves nobody") {
    ChartSpec spec = plain_leaper();
    spec.zones = {"gust"};
    const Chart chart = compile(spec);
    const double bad[]{std::nan(""), HUGE_VAL, 1e300};
    for (const double value : bad) {
        CAPTURE(value);
        Push nonsense{.direction = {value, value, 0.0}, .strength = 10.0};
        Push strong{.direction = {1.0, 0.0, 0.0}, .strength = value};
        for (const Push* push : {&nonsense, &strong}) {
            for (const Door door : doors) {
                Floor floor;
                floor.push = value == 1e300 && push == &nonsense
                                 ? nullptr
                                 : push;  // a long direction is none the worse
                floor.place = [&](double t) { return glm::dvec3(t > 0.2 ? value : 0.0, 0.0, 0.0); };
                Floor still;
                still.push = floor.push;
                Walker walker(chart, door == Door::library ? floor : still, door, 60.0,
                              {{-0.5, 0.0, 0.0}, 0.0});
                walker.intent.move = {1.0, 0.0};
                walker.until(0.5);
                CHECK(std::isfinite(walker.runner().position().x));
                CHECK(std::isfinite(walker.runner().velocity().x));
                CHECK(walker.runner().speed() < 20.0);
            }
        }
    }
}
