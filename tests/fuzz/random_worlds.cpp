/// Random worlds with random input: nothing is ever inside a solid, out of the world, undefined, gaining
/// energy from nothing, or in a state that it may not enter.
///
///     random_worlds [worlds = 1000] [seconds = 60] [first seed = 1]
///
/// Exits with 1 and names the seed at the first violation. scripts/fuzz-worlds runs it.
#include <fmt/format.h>

#include <cstdlib>
#include <random>

#include "core/chart/facts.hpp"
#include "core/choose/choose.hpp"
#include "support/all_ways.hpp"
#include "support/worlds.hpp"

using namespace support;

namespace {

constexpr double half_world = 20.0, world_height = 12.0;

class Dice {
  public:
    explicit Dice(unsigned seed) : engine_(seed) {}
    double between(double low, double high) {
        return low + (high - low) * std::uniform_real_distribution<double>(0.0, 1.0)(engine_);
    }
    bool chance(double part) { return between(0.0, 1.0) < part; }
    int count(int most) { return static_cast<int>(between(0.0, most + 0.999)); }
    Point place() {
        return {between(-half_world, half_world), between(-half_world, half_world), between(0.0, 4.0)};
    }

  private:
    std::mt19937 engine_;
};

CourseSpec random_world(Dice& dice, bool moving) {
    CourseSpec spec;
    spec.name = "random";
    const double h = half_world + 1.0, top = world_height;
    spec.boxes.push_back({{-h, -h, -1.0}, {h, h, 0.0}, Degrees{0.0}});
    spec.boxes.push_back({{-h, -h, top}, {h, h, top + 1.0}, Degrees{0.0}});
    for (const auto& [from, to] :
         {std::pair(Point{-h, -h, 0.0}, Point{h, -h, 0.0}), std::pair(Point{h, -h, 0.0}, Point{h, h, 0.0}),
          std::pair(Point{h, h, 0.0}, Point{-h, h, 0.0}), std::pair(Point{-h, h, 0.0}, Point{-h, -h, 0.0})}) {
        spec.walls.push_back({from, to, top, 0.02});
    }
    for (int i = dice.count(12); i >= 0; --i) {
        const Point at = dice.place();
        const double height = dice.chance(0.5) ? dice.between(0.05, 0.5) : dice.between(0.5, 5.0);
        spec.boxes.push_back({{at[0], at[1], dice.chance(0.7) ? -0.5 : at[2]},
                              {at[0] + dice.between(0.2, 8.0), at[1] + dice.between(0.2, 8.0), 0.0},
                              Degrees{dice.chance(0.5) ? 0.0 : dice.between(0.0, 90.0)}});
        BoxSpec& box = spec.boxes.back();
        box.to[2] = box.from[2] + height + 0.5;
    }
    for (int i = dice.count(6); i > 0; --i) {
        const Point at = dice.place();
        spec.ramps.push_back(
            {{at[0], at[1], dice.between(-0.2, 0.2)},
             {at[0] + dice.between(-8.0, 8.0), at[1] + dice.between(1.0, 8.0), dice.between(0.3, 5.0)},
             dice.between(0.5, 5.0),
             dice.between(0.1, 0.8)});
    }
    for (int i = dice.count(3); i > 0; --i) {
        const Point at = dice.place();
        const double under = dice.between(1.15, 2.2);
        spec.ceilings.push_back({{at[0], at[1], under},
                                 {at[0] + dice.between(1.0, 8.0), at[1] + dice.between(1.0, 8.0), under},
                                 0.3});
    }
    for (int i = moving ? 1 + dice.count(3) : 0; i > 0; --i) {
        const Point at = dice.place(), to = dice.place();
        spec.platforms.push_back({{dice.between(1.0, 4.0), dice.between(1.0, 4.0), 0.4},
                                  {at, to},
                                  dice.between(0.5, 5.0),
                                  dice.between(0.0, 1.0)});
    }
    const auto corner = [&] {  // a zone's, opposite to one at the world's middle
        Point at = dice.place();
        at[0] += at[0] < 0.1 ? -0.2 : 0.2;
        at[1] += at[1] < 0.1 ? -0.2 : 0.2;
        return at;
    };
    spec.zones.push_back({"mud", corner(), {0.0, 0.0, 6.0}, 0.5, {0.0, 0.0, 0.0}, 0.0, {}});
    spec.zones.push_back({"gust",
                          corner(),
                          {0.1, 0.1, 7.0},
                          1.0,
                          {1.0, 0.5, 2.0},
                          0.0,
                          GustSpec{{1.0, 1.0, 0.0},
                                   dice.between(0.0, 12.0),
                                   dice.between(0.0, 1.0),
                                   dice.between(0.0, 1.0),
                                   dice.chance(0.5),
                                   false}});
    return spec;
}

bool enter_holds(const Chart& chart, const Runner& runner) {
    const detail::ChartData& data = chart.data();
    const detail::RunnerState& state = detail::RunnerAccess::state(runner);
    detail::Facts facts{detail::fact::fixed_of(state.lasting), state.derived};
    facts.fixed.words[1] = ~std::uint64_t{0};  // presses are used up by now
    // Entering itself uses the wall and the cooldown up.
    detail::set(facts.derived, data.states[state.state].possible_bit);
    for (const detail::CompiledCooldown& cooldown : data.cooldowns) {
        detail::set(facts.derived, cooldown.ready_bit);
    }
    return detail::holding_clause(data, data.states[state.state].enter, facts) != -1;
}

class World {
  public:
    World(const Chart& chart, unsigned seed) : chart_(chart), seed_(seed), dice_(seed) {}

    /// What went wrong, or nothing.
    std::string run(double seconds) {
        const bool moving = seed_ % 3 == 0;
        const Course course(random_world(dice_, moving));
        CourseTerrain terrain(course, chart_);
        Runner runner = spawn(chart_, {{dice_.between(-15.0, 15.0), dice_.between(-15.0, 15.0), 6.0}, 0.0});
        Overlap inside;
        for (int i = 0; i < 50 && terrain.overlap({0.35, 1.8}, runner.position(), 0.0, inside); ++i) {
            runner = spawn(chart_, {{dice_.between(-18.0, 18.0), dice_.between(-18.0, 18.0), 6.0}, 0.0});
        }
        IntentBuilder input;
        double time = 0.0;
        bool crushed = false;
        while (time < seconds) {
            const double dt = dice_.chance(0.8) ? 1.0 / 60.0 : dice_.between(0.001, 0.1);
            act(input, dt);
            if (dice_.chance(0.002)) {
                push(runner, {{dice_.between(-1, 1), dice_.between(-1, 1), 0.0},
                              dice_.between(0.0, 20.0),
                              dice_.between(0.0, 1.0),
                              dice_.between(0.0, 0.8),
                              dice_.chance(0.3),
                              false});
            }
            const Runner before = runner;
            terrain.set_time(time);
            const Report report = advance(chart_, runner, input.intent(), terrain, Seconds{dt});
            input.next_tick();
            time += dt;
            crushed = moving && (crushed || runner.crushed() || find(report, EventKind::crushed) != nullptr);
            terrain.set_time(time);
            const std::string fault = check(before, runner, report, terrain, moving, crushed);
            if (!fault.empty()) {
                return fmt::format("seed {}, {:.4f} s, dt {:.5f}, {}: {}", seed_, time, dt,
                                   chart_.name(runner.state()), fault);
            }
            if (crushed && !terrain.overlap({0.35, 1.8}, runner.position(), 0.0, inside)) {
                crushed = false;
            }
            instants_capped_ += report.instants_capped ? 1 : 0;
            ++ticks_;
        }
        return {};
    }
    [[nodiscard]] int ticks() const { return ticks_; }
    [[nodiscard]] int instants_capped() const { return instants_capped_; }

  private:
    void act(IntentBuilder& input, double dt) {
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            const double part = i == 3 ? 0.004 : 0.03;
            if (dice_.chance(part)) {
                down_ ^= 1U << i;
                (down_ >> i & 1U) != 0 ? input.press(ActionId{i}, dice_.between(0.0, dt))
                                       : input.release(ActionId{i}, dice_.between(0.0, dt));
            }
        }
        if (dice_.chance(0.02)) {
            const Move move{dice_.between(-1.0, 1.5), dice_.between(-1.0, 1.0)};
            input.move_to(move, dice_.between(0.0, dt));
        }
        if (dice_.chance(0.03)) {
            yaw_ = dice_.between(-3.2, 3.2);
            const Look look{yaw_, dice_.between(-1.6, 1.6)};
            input.look_to(look, dice_.between(0.0, dt));
        }
    }

    std::string check(const Runner& before, const Runner& runner, const Report& report,
                      const CourseTerrain& terrain, bool moving, bool crushed) {
        const glm::dvec3 at = runner.position(), v = runner.velocity();
        if (!std::isfinite(at.x + at.y + at.z + v.x + v.y + v.z)) {
            return "undefined";
        }
        double last = 0.0;
        for (const Event& event : report.events()) {
            if (event.at < last || event.at > report.seconds + 1e-9) {
                return fmt::format("an event at {} s after one at {} s:", event.at, last) + told(report);
            }
            last = event.at;
        }
        if (crushed) {
            return {};
        }
        if (std::fabs(at.x) > half_world + 1.0 || std::fabs(at.y) > half_world + 1.0 || at.z < -0.01 ||
            at.z > world_height) {
            return fmt::format("out of the world at {} {} {}", at.x, at.y, at.z);
        }
        Overlap inside;
        if (terrain.overlap(chart_.body(runner.state()), at, 0.0, inside) && inside.depth > 1e-3) {
            return fmt::format("{} m inside a solid at {} {} {}", inside.depth, at.x, at.y, at.z);
        }
        const std::string& name = chart_.name(runner.state());
        const bool free = (name == "fall" || name == "slide" || name == "jump") &&
                          runner.state() == before.state() && find(report, EventKind::entered) == nullptr &&
                          find(report, EventKind::pushed) == nullptr;
        if (free && !moving && !near_zones(terrain, before.position(), at)) {
            const auto energy = [&](const Runner& r) {
                return 0.5 * r.speed() * r.speed() + 20.0 * r.position().z;
            };
            if (energy(runner) > energy(before) + 0.05) {
                const double carried = length(carrying_velocity(chart_, before));
                if (carried == 0.0) {
                    return fmt::format("{} J/kg out of nothing", energy(runner) - energy(before));
                }
            }
        }
        if (report.instants == 1 && count(report, EventKind::entered) == 1 && !enter_holds(chart_, runner) &&
            find(report, EventKind::jumped) == nullptr) {
            return "entered although its condition does not hold:" + told(report);
        }
        return {};
    }
    /// Whether a zone may have been entered on the way, and left again: the runner's path bends beside the straight line.
    [[nodiscard]] static bool near_zones(const CourseTerrain& terrain, const glm::dvec3& from,
                                         const glm::dvec3& to) {
        constexpr double beside = 0.1;  // m
        for (int part = 0; part <= 8; ++part) {
            for (const glm::dvec3& aside :
                 {glm::dvec3(0.0), glm::dvec3(beside, 0.0, 0.0), glm::dvec3(-beside, 0.0, 0.0),
                  glm::dvec3(0.0, beside, 0.0), glm::dvec3(0.0, -beside, 0.0), glm::dvec3(0.0, 0.0, beside),
                  glm::dvec3(0.0, 0.0, -beside)}) {
                const glm::dvec3 middle = from + (to - from) * (part / 8.0) + glm::dvec3(0.0, 0.0, 0.9);
                if (terrain.zones(middle + aside, 0.0).zones != 0) {
                    return true;
                }
            }
        }
        return false;
    }
    [[nodiscard]] std::string told(const Report& report) const {
        std::string text;
        for (const Event& event : report.events()) {
            text += fmt::format(
                " {} {}{}", to_string(event.kind), subject_name(chart_, event),
                event.kind == EventKind::entered ? " (" + chart_.describe(event.cause) + ")" : "");
        }
        return text;
    }
    static double length(const glm::dvec3& v) { return std::sqrt(v.x * v.x + v.y * v.y + v.z * v.z); }

    const Chart& chart_;
    unsigned seed_;
    Dice dice_;
    std::uint32_t down_ = 0;
    double yaw_ = 0.0;
    int ticks_ = 0, instants_capped_ = 0;
};

}  // namespace

int main(int argc, char** argv) {
    const int worlds = argc > 1 ? std::atoi(argv[1]) : 1000;
    const double seconds = argc > 2 ? std::atof(argv[2]) : 60.0;
    const unsigned first = argc > 3 ? static_cast<unsigned>(std::atoi(argv[3])) : 1;
    ChartSpec spec = all_ways();
    for (StateSpec& state : spec.states) {
        state.stride = 1.0;
    }
    const Chart chart = compile(spec);
    long ticks = 0, capped = 0;
    for (int i = 0; i < worlds; ++i) {
        World world(chart, first + static_cast<unsigned>(i));
        const std::string fault = world.run(seconds);
        ticks += world.ticks();
        capped += world.instants_capped();
        if (!fault.empty()) {
            fmt::print("{}\n", fault);
            return 1;
        }
    }
    fmt::print("{} worlds, {} ticks, {} of them with more instants than allowed: nothing wrong\n", worlds,
               ticks, capped);
    return worlds > 0 ? 0 : 1;
}
