#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/compile/compile.hpp"
#include "survey/figures/leaps.hpp"
#include "survey/probe.hpp"

/// Jumps, bursts, slides, wall runs and flight.
namespace cursimeter::survey {
namespace {

const std::string on_world = "simulated on a plain world, contacts to 2 ms";

/// Brings a probe to the top speed of a ground state.
bool run_up(Probe& probe, const FigureSource& source, std::uint8_t ground) {
    const Recipe recipe = recipe_of(source.data(), ground);
    probe.move = recipe.move;
    probe.held = recipe.held | recipe.pressed;
    probe.settle_speed(5.0);
    return probe.runner().state().index == ground;
}

double level_distance(const glm::dvec3& from, const glm::dvec3& to) {
    return std::hypot(to.x - from.x, to.y - from.y);
}

struct Flight {
    double seconds = no_figure, metres = no_figure;
};

/// A jump on level ground, out of a run or, without one, from standing.
Flight jump_from(const FigureSource& source, std::uint8_t index, const std::uint8_t* ground,
                 const Move& move) {
    Probe probe(source.chart);
    if (ground != nullptr && !run_up(probe, source, *ground)) {
        return {};
    }
    probe.move = move;
    const Recipe recipe = recipe_of(source.data(), index);
    probe.held |= recipe.held | recipe.pressed;
    if (!probe.until_event(EventKind::jumped, index, 0.2)) {
        return {};
    }
    const double begun = probe.now();
    const glm::dvec3 from = probe.runner().position();
    if (!probe.until([](const Event& event) { return event.kind == EventKind::landed; }, 60.0)) {
        return {};
    }
    return {probe.now() - begun, level_distance(from, probe.runner().position())};
}

void add_launch_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const detail::CompiledState& state = source.state(index);
    detail::Findings findings;
    const StateSpec spec = detail::resolve_like(source.spec, findings)[index];
    const std::vector<double> heights = spec.launch.heights.value_or(std::vector<double>{});
    for (std::size_t i = 0; i < heights.size(); ++i) {
        const double height = heights[i];
        table.push_back({state.name + (i == 0 ? ".height" : fmt::format(".height_{}", i + 1)), "m",
                         i == 0 ? "how high it goes, key held" : fmt::format("the same of jump {}", i + 1),
                         [height] {
                             return Answer{height, "closed form: the chart's"};
                         }});
    }
    if (state.launch.off_wall) {
        return;
    }
    const auto add = [&](const std::string& name, const char* unit, const std::string& meaning,
                         std::optional<std::uint8_t> ground, const Move& move, auto part) {
        table.push_back(
            {state.name + "." + name, unit, meaning, [&source, index, ground, move, part] {
                 const double value = part(jump_from(source, index, ground ? &*ground : nullptr, move));
                 return Answer{value, value == value ? simulated : "input alone does not bring it about"};
             }});
    };
    const Move still, ahead{1.0, 0.0};
    add("air_time", "s", "from standing, back to the same level", {}, still,
        [](const Flight& flight) { return flight.seconds; });
    add("length_from_standing", "m", "stick forward from the jump on: how far it carries", {}, ahead,
        [](const Flight& flight) { return flight.metres; });
    for (const std::uint8_t ground : run_up_states(source)) {
        const std::string& from = source.state(ground).name;
        add("length_from_" + from, "m", fmt::format("at the top speed of {}: how far it carries", from),
            ground, ahead, [](const Flight& flight) { return flight.metres; });
    }
    add_gap_figure(table, source, index);
    add_ledge_figure(table, source, index);
}

void add_burst_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const detail::CompiledState& state = source.state(index);
    const detail::CompiledBurst& burst = state.burst;
    const auto add = [&](const char* name, const char* unit, const char* meaning, double value,
                         const char* how) {
        table.push_back({state.name + "." + name, unit, meaning, [value, how] {
                             return Answer{value, how};
                         }});
    };
    add("length", "m", "how far it goes", burst.speed * burst.seconds, "closed form: speed x seconds");
    add("seconds", "s", "how long it lasts", burst.seconds, "closed form: the chart's");
    if (state.cooldown != detail::no_cooldown) {
        add("cooldown", "s", "the wait for a charge", source.data().cooldowns[state.cooldown].seconds,
            "closed form: the chart's");
    }
    table.push_back({state.name + ".per_minute", "",
                     "how many a minute, its key hammered from full meters on", [&source, index] {
                         Probe probe(source.chart);
                         const Recipe recipe = recipe_of(source.data(), index);
                         probe.move = recipe.move;
                         double entered = 0.0;
                         bool down = false;
                         while (probe.now() < 60.0 - 1e-9) {
                             down = !down;
                             probe.held = recipe.held | (down ? recipe.pressed : 0);
                             const Report report = probe.tick(0.01);
                             for (const Event& event : report.events()) {
                                 entered +=
                                     event.kind == EventKind::entered && event.subject == index ? 1.0 : 0.0;
                             }
                         }
                         return Answer{entered, "simulated: 50 presses a second for a minute"};
                     }});
    add_burst_gap_figure(table, source, index);
    add_burst_ledge_figure(table, source, index);
}

/// Level ground, or a slope that falls along +x, and a wall on the right of whoever runs along +x.
Course plain_world(double fall_degrees, std::optional<double> wall_at) {
    CourseSpec spec;
    spec.name = "plain";
    if (fall_degrees == 0.0) {
        spec.boxes = {{.from = {-100, -50, -1}, .to = {1000, 50, 0}}};
    } else {
        const double slope = std::tan(fall_degrees * 3.141592653589793 / 180.0);
        spec.ramps = {{.from = {-100, 0, 100 * slope}, .to = {1000, 0, -1000 * slope}, .width = 100}};
    }
    if (wall_at) {
        spec.walls = {{.from = {-100, *wall_at - 0.15, 0}, .to = {1000, *wall_at - 0.15, 0}, .height = 60}};
    }
    return Course(spec);
}

Answer slide_length(const FigureSource& source, std::uint8_t index, double fall_degrees) {
    const Course course = plain_world(fall_degrees, std::nullopt);
    const CourseTerrain terrain(course, source.chart);
    const Terrain* world = fall_degrees == 0.0 ? nullptr : &terrain;
    Probe probe(source.chart, world, {{0.0, 0.0, fall_degrees == 0.0 ? 0.0 : 0.1}, 0.0});
    probe.pass(fall_degrees == 0.0 ? 0.0 : 1.0);
    const std::optional<std::uint8_t> run = fastest_run(source);
    if (!run || !run_up(probe, source, *run)) {
        return {no_figure, "no run leads to it"};
    }
    const Recipe recipe = recipe_of(source.data(), index);
    probe.held |= recipe.held | recipe.pressed;
    if (!probe.until_event(EventKind::entered, index, 0.5)) {
        return {no_figure, "a run does not lead to it"};
    }
    const double from = probe.runner().distance();
    if (!probe.until_event(EventKind::left, index, 60.0)) {
        return {no_figure, "it does not end by itself"};
    }
    return {probe.runner().distance() - from, world == nullptr ? simulated : on_world};
}

struct WallRun {
    double metres = no_figure, seconds = no_figure, highest = no_figure;
};

WallRun wall_run(const FigureSource& source, std::uint8_t index) {
    const double aside = source.data().body.radius + 0.5 * source.state(index).wall.reach;
    const Course course = plain_world(0.0, -aside);
    const CourseTerrain terrain(course, source.chart);
    Probe probe(source.chart, &terrain, {{0.0, 0.0, 0.0}, 0.0});
    probe.pass(0.1);
    const std::optional<std::uint8_t> run = fastest_run(source);
    if (!run || !run_up(probe, source, *run)) {
        return {};
    }
    const Recipe along = recipe_of(source.data(), index);
    if (const std::optional<std::uint8_t> jump = first_jump(source)) {
        probe.held |= recipe_of(source.data(), *jump).pressed;
    }
    probe.held |= along.held;
    if (!probe.until_event(EventKind::entered, index, 2.0)) {
        return {};
    }
    const double begun = probe.now(), from = probe.runner().position().x;
    double highest = probe.runner().position().z;
    while (probe.runner().state().index == index && probe.now() - begun < 300.0) {
        const Runner before = probe.runner();
        const Report report = probe.tick(1.0 / 240.0);
        for (const Event& event : report.events()) {
            if (event.kind == EventKind::left && event.subject == index) {
                probe.go_to(before, event.at);
                return {probe.runner().position().x - from, probe.now() - begun,
                        std::max(highest, probe.runner().position().z)};
            }
        }
        highest = std::max(highest, probe.runner().position().z);
    }
    return {};
}

void add_wall_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const auto add = [&](const char* name, const char* unit, const char* meaning, auto part) {
        table.push_back(
            {source.state(index).name + "." + name, unit, meaning, [&source, index, part] {
                 const double value = part(wall_run(source, index));
                 return Answer{value, value == value ? on_world : "a run and a jump do not lead to it"};
             }});
    };
    add("length", "m", "along a straight wall, after a run and a jump",
        [](const WallRun& run) { return run.metres; });
    add("seconds", "s", "how long that takes", [](const WallRun& run) { return run.seconds; });
    add("highest", "m", "how high it gets, above the ground", [](const WallRun& run) { return run.highest; });
    add_wall_ledge_figure(table, source, index);
}

void add_fly_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const detail::CompiledState& state = source.state(index);
    const auto add = [&](const char* name, const char* unit, const char* meaning, double value,
                         const char* how) {
        table.push_back({state.name + "." + name, unit, meaning, [value, how] {
                             return Answer{value, how};
                         }});
    };
    add("top_forward", "m/s", "top speed ahead", state.forward, "closed form: the chart's");
    if (state.fly.sink > 0.0) {
        add("ratio", "m/m", "metres ahead for each metre it sinks", state.forward / state.fly.sink,
            "closed form: speed / sink");
    }
    if (state.fly.climb > 0.0) {
        add("climb", "m/s", "upward, its key held", state.fly.climb - state.fly.sink,
            "closed form: climb - sink");
    }
}

}  // namespace

void add_kind_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const detail::CompiledState& state = source.state(index);
    if (state.launch.count > 0) {
        add_launch_figures(table, source, index);
    }
    switch (state.kind) {
        case StateKind::burst:
            add_burst_figures(table, source, index);
            break;
        case StateKind::slide:
            table.push_back({state.name + ".length", "m", "on level ground, after the fastest run",
                             [&source, index] { return slide_length(source, index, 0.0); }});
            for (const double fall : {10.0, -10.0}) {
                table.push_back({fmt::format("{}.length_{}_10", state.name, fall > 0.0 ? "down" : "up"), "m",
                                 fmt::format("the same {} a slope of 10 degrees", fall > 0.0 ? "down" : "up"),
                                 [&source, index, fall] { return slide_length(source, index, fall); }});
            }
            break;
        case StateKind::wall:
            add_wall_figures(table, source, index);
            break;
        case StateKind::fly:
            add_fly_figures(table, source, index);
            break;
        case StateKind::ground:
        case StateKind::air:
            break;
    }
}

}  // namespace cursimeter::survey
