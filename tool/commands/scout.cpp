#include <cursimeter/survey/scout.hpp>

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <cursimeter/survey/take.hpp>
#include <fstream>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "picture/scout.hpp"
#include "processes/processes.hpp"
#include "processes/units.hpp"
#include "scene/scene.hpp"
#include "text/progress.hpp"
#include "text/scout_summary.hpp"

namespace cursimeter::tool {
namespace {

/// "148,0,10" or, of a start, "0,0,0,90".
std::vector<double> read_numbers(const char* option, const std::string& text, std::size_t least,
                                 std::size_t most) {
    std::vector<double> numbers;
    const char* at = text.data();
    const char* const end = text.data() + text.size();
    bool whole = !text.empty();
    while (whole && at <= end) {
        while (at < end && *at == ' ') {
            ++at;
        }
        double value = 0.0;
        const auto [rest, error] = std::from_chars(at, end, value);
        whole = error == std::errc() && (rest == end || *rest == ',');
        numbers.push_back(value);
        at = rest + 1;
    }
    if (!whole || numbers.size() < least || numbers.size() > most) {
        throw ChartError({{option,
                           fmt::format("'{}' is no place", text),
                           most == 3 ? "write X,Y,Z in m, such as 148,0,10"
                                     : "write X,Y,Z in m, with the yaw in degrees behind if wanted: 0,0,0,90",
                           {},
                           0,
                           0}});
    }
    return numbers;
}

survey::ScoutPlan plan_of(const ScoutOptions& options, const std::optional<DrillFile>& drill) {
    survey::ScoutPlan plan;
    if (!options.start.empty()) {
        const std::vector<double> at = read_numbers("--start", options.start, 3, 4);
        plan.start.position = {at[0], at[1], at[2]};
        plan.start.yaw = Degrees{at.size() > 3 ? at[3] : 0.0};
        plan.start.facing = drill ? drill->spec.start.facing : Facing::look;
    } else if (drill) {
        plan.start = drill->spec.start;
    }
    if (!options.leg.empty()) {
        plan.leg = options.leg;
    }
    if (!options.goal.empty()) {
        const std::vector<double> at = read_numbers("--goal", options.goal, 3, 3);
        plan.place = {at[0], at[1], at[2]};
    }
    plan.distance = options.distance;
    plan.all_legs = options.all_legs;
    const bool has_goal = plan.leg || plan.place || plan.distance || plan.all_legs;
    if (options.scene.course.empty() && !has_goal) {
        plan.distance = 100.0;  // on open ground every place can be reached: how fast is the question
    }
    plan.without = options.without;
    plan.avoid = options.avoid;
    plan.seconds = options.scene.seconds.value_or(plan.seconds);
    plan.cell = options.cell;
    plan.rate = options.rate;
    plan.effort = options.effort;
    plan.seed = options.seed;
    plan.threads = options.threads;
    return plan;
}

/// Tells how far it has come, and ends the search when the time is up.
std::function<bool(const survey::ScoutProgress&)> progress_of(const ScoutOptions& options, Progress& line) {
    using Clock = std::chrono::steady_clock;
    const Clock::time_point begin = Clock::now();
    return [=, at_most = options.at_most, &line](const survey::ScoutProgress& progress) {
        line.tell(fmt::format("{:<10} {:3.0f} %  {} places{}", progress.doing, 100.0 * progress.part,
                              progress.cells,
                              progress.best ? fmt::format("  {:.2f} s", *progress.best) : ""));
        return !at_most || std::chrono::duration<double>(Clock::now() - begin).count() <= *at_most;
    };
}

bool can_play(const DrillSpec& drill, const Chart& chart) {
    try {
        static_cast<void>(Drill(drill, chart));
        return true;
    } catch (const ChartError&) {
        return false;
    }
}

/// What a chart has not, it is without.
bool has_action(const ChartSpec& spec, const std::string& name) {
    return std::any_of(spec.actions.begin(), spec.actions.end(),
                       [&](const ActionSpec& action) { return action.name == name; });
}

survey::Run run_of(const survey::FoundWay& way, const Chart& chart, const Course* course,
                   const survey::ScoutPlan& plan) {
    const Drill drill(way.drill, chart);
    const std::vector<double> ends = survey::even_ticks(plan.rate, drill);
    return course != nullptr ? survey::run(chart, drill, *course, ends) : survey::run(chart, drill, ends);
}

ScoutOutcome search(const Chart& chart, const Course* course, const ScoutOptions& options,
                    survey::ScoutPlan plan) {
    Progress line(options.quiet);
    plan.progress = progress_of(options, line);
    ScoutOutcome outcome{chart, survey::scout(chart, course, plan), std::nullopt, false, std::nullopt};
    if (outcome.found.way) {
        outcome.way = run_of(*outcome.found.way, chart, course, plan);
    }
    outcome.raced = course == nullptr && plan.distance && outcome.way;
    if (outcome.raced) {
        const bool walked = std::all_of(
            outcome.way->visits.begin(), outcome.way->visits.end(),
            [&](const survey::Visit& visit) { return chart.kind(visit.state) == StateKind::ground; });
        plan.on_foot = true;
        plan.effort = std::max(0.1, 0.5 * plan.effort);
        const std::optional<survey::FoundWay> on_foot =
            walked ? outcome.found.way : survey::scout(chart, course, plan).way;
        outcome.on_foot = on_foot ? std::optional(on_foot->seconds) : std::nullopt;
    }
    return outcome;
}

void write_way(const ScoutOptions& options, const ChartFile& chart, const std::optional<Course>& course,
               const ScoutOutcome& outcome, const survey::ScoutPlan& plan) {
    if (!outcome.found.way) {
        return;
    }
    DrillSpec spec = outcome.found.way->drill;
    spec.name = fmt::format("scouted by {}: {}", chart.spec.name, goal_text(plan));
    if (!options.out.empty()) {
        write_text(options.out, format_drill(spec));
    }
    if (!options.take.empty()) {
        const Drill drill(spec, chart.chart);
        const std::vector<std::byte> bytes = survey::record(
            chart.chart, drill, course ? &*course : nullptr, survey::even_ticks(plan.rate, drill),
            {format_chart(chart.spec), course ? format_course(course->spec()) : std::string(), spec.name});
        write_text(options.take, {reinterpret_cast<const char*>(bytes.data()), bytes.size()});
    }
}

/// One of several searches: what it came to, but for its places.
std::string search_with(const Chart& chart, const Course* course, survey::ScoutPlan plan,
                        const std::string& unit) {
    plan.seed = static_cast<std::uint64_t>(numbers_of(unit).front());
    return bytes_of(SeedSearch{plan.seed, survey::scout(chart, course, plan)});
}

/// Searches with several seeds, told in their order; the fastest way is that of the first seed that has it.
ScoutOutcome search_seeds(Processes& processes, const Chart& chart, const Course* course,
                          const ScoutOptions& options, const survey::ScoutPlan& plan,
                          std::vector<SeedSearch>& searches) {
    std::vector<std::string> units;
    for (std::size_t i = 0; i < options.seeds; ++i) {
        units.push_back(bytes_of(std::vector<double>{static_cast<double>(plan.seed + i)}));
    }
    searches.resize(options.seeds);
    Progress line(options.quiet);
    std::size_t done = 0;
    processes.deal(
        units, [&](const std::string& unit) { return search_with(chart, course, plan, unit); },
        [&](std::size_t i, const std::string& result) {
            searches[i] = search_of(result, chart);
            line.count(++done, units.size(), "searches");
        });
    ScoutOutcome outcome{chart, {}, std::nullopt, false, std::nullopt};
    const auto is_faster = [](const SeedSearch& a, const SeedSearch& b) {
        return a.found.way && (!b.found.way || a.found.way->seconds < b.found.way->seconds);
    };
    outcome.found = std::min_element(searches.begin(), searches.end(), is_faster)->found;
    if (outcome.found.way) {
        outcome.way = run_of(*outcome.found.way, chart, course, plan);
    }
    return outcome;
}

void refuse_with_seeds(const ScoutOptions& options, bool has_goal) {
    const char* const other = !options.compare.empty()   ? "--compare"
                              : !options.places.empty()  ? "--places"
                              : !options.picture.empty() ? "--picture"
                              : options.at_most          ? "--at-most"
                                                         : nullptr;
    if (other != nullptr) {
        throw ChartError(
            {{other, "is of one search, and --seeds asks for several", "leave one of them out", {}, 0, 0}});
    }
    if (!has_goal) {
        throw ChartError({{"--seeds",
                           "compares ways to a goal, and there is none",
                           "give --leg, --goal or --distance",
                           {},
                           0,
                           0}});
    }
}

int scout_seeds(const ScoutOptions& options, const ChartFile& chart, const std::optional<Course>& course,
                const survey::ScoutPlan& wanted, const CallFiles& files) {
    Processes* const processes = processes_of_call();
    survey::ScoutPlan plan = wanted;
    plan.threads = processes->count() > 1 ? 1 : plan.threads;  // a process is a core
    const Course* const world = course ? &*course : nullptr;
    if (!processes->leads()) {
        processes->serve(
            [&](const std::string& unit) { return search_with(chart.chart, world, plan, unit); });
        return 0;
    }
    std::vector<SeedSearch> searches;
    const ScoutOutcome best = search_seeds(*processes, chart.chart, world, options, plan, searches);
    std::vector<SearchLine> lines;
    for (const SeedSearch& one : searches) {
        lines.push_back({one.seed, one.found.way ? std::optional(one.found.way->seconds) : std::nullopt,
                         one.found.arrivals, one.found.ticks});
    }
    write_way(options, chart, course, best, plan);
    if (options.json) {
        fmt::print("{}", seeds_json(best, lines, plan, course ? course->spec().name : std::string()));
    } else {
        fmt::print(text_stream(files), "{}", seeds_text(best, lines, plan));
        tell_written(files);
    }
    return best.found.way ? 0 : 1;
}

}  // namespace

int scout_command(const ScoutOptions& options) {
    std::vector<InputFile> inputs = inputs_of(options.scene);
    inputs.push_back({"--compare", options.compare});
    for (const std::string& known : options.known) {
        inputs.push_back({"--known", known});
    }
    const CallFiles files{std::move(inputs),
                          {{"--out", options.out, FileKind::drill},
                           {"--take", options.take, FileKind::take},
                           {"--places", options.places, FileKind::table},
                           picture_output("--picture", options.picture)},
                          options.json};
    check_files(files);
    const ChartFile chart = open_chart(options.scene.chart);
    std::optional<Course> course;
    if (!options.scene.course.empty()) {
        course = open_course(options.scene.course);
    }
    std::optional<DrillFile> drill;
    if (!options.scene.drill.empty()) {
        drill = open_fresh_drill(options.scene.drill, chart.chart);
    }
    const Course* const world = course ? &*course : nullptr;
    survey::ScoutPlan plan = plan_of(options, drill);
    for (const std::string& known : options.known) {
        plan.known.push_back(open_fresh_hands(known, chart.chart).spec);
    }
    const bool has_goal = plan.leg || plan.place || plan.distance || plan.all_legs;
    if (Processes* const processes = processes_of_call(); options.seeds > 1) {
        refuse_with_seeds(options, has_goal);
        return scout_seeds(options, chart, course, plan, files);
    } else if (processes != nullptr && !processes->leads()) {
        return 0;  // one search is one process's, with threads
    }
    const ScoutOutcome outcome = search(chart.chart, world, options, plan);
    std::optional<ChartFile> other_chart;
    std::optional<ScoutOutcome> other;
    if (!options.compare.empty()) {
        other_chart = open_chart(options.compare);
        survey::ScoutPlan same = plan;
        std::erase_if(same.without,
                      [&](const std::string& name) { return !has_action(other_chart->spec, name); });
        std::erase_if(same.known,
                      [&](const DrillSpec& known) { return !can_play(known, other_chart->chart); });
        other.emplace(search(other_chart->chart, world, options, same));
    }
    write_way(options, chart, course, outcome, plan);
    if (!options.places.empty()) {
        write_text(options.places, places_csv(outcome.found));
    }
    if (!options.picture.empty()) {
        const std::string subject = fmt::format(
            "over \"{}\": {}{}", course ? course->spec().name : "open ground", goal_text(plan),
            outcome.found.way ? fmt::format(" in {:.2f} s", outcome.found.way->seconds) : std::string());
        draw_scout(
            {chart.chart, world, subject, plan.cell, outcome.found, outcome.way ? &*outcome.way : nullptr},
            options.picture);
    }
    const int code = has_goal && !outcome.found.way ? 1 : 0;
    if (options.json) {
        fmt::print("{}", scout_json(outcome, other ? &*other : nullptr, plan,
                                    course ? course->spec().name : std::string()));
        return code;
    }
    std::FILE* const to = text_stream(files);
    fmt::print(to, "{}", scout_text(outcome, plan));
    if (other) {
        fmt::print(to, "{}{}", scout_text(*other, plan), comparison_text(outcome, *other, plan));
    }
    if (code == 0) {
        tell_written(files);
    }
    return code;
}

}  // namespace cursimeter::tool
