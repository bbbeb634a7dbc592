#include "scene/scene.hpp"

#include <fmt/format.h>

#include <filesystem>

#include "files/files.hpp"
#include "scene/cautions.hpp"
#include "scene/take_file.hpp"

namespace cursimeter::tool {
namespace {

std::optional<survey::Take> take_of(const SceneOptions& options) {
    std::optional<survey::Take> take;
    if (!options.from.empty()) {
        take.emplace(load_take(options.from));
    }
    return take;
}

std::optional<ChartFile> chart_of(const std::optional<survey::Take>& take, const std::string& file) {
    std::optional<ChartFile> chart;
    if (take && !take->origin.chart.empty()) {
        chart.emplace(parse_chart(take->origin.chart, file + ": chart"));
    }
    return chart;
}

ChartFile played_chart(const SceneOptions& options, const std::optional<ChartFile>& own) {
    if (options.chart.empty() && own) {
        return *own;
    }
    if (options.chart.empty() && options.from.empty()) {
        throw ChartError({{"CHART", "is missing", "give a chart file, or a take by --from FILE", {}, 0, 0}});
    }
    if (options.chart.empty()) {
        throw ChartError({{"CHART", "is missing, and there is none in the take",
                           "give the chart that it was recorded with", options.from, 0, 0}});
    }
    return open_chart(options.chart);
}

}  // namespace

Scene::Scene(const SceneOptions& options)
    : take_(take_of(options)),
      own_(chart_of(take_, options.from)),
      chart(played_chart(options, own_)),
      chart_name(shown_name(options.chart)),
      rate(options.rate) {
    if (options.chart.empty()) {
        chart_name = options.from + ": chart";
        chart_text = take_->origin.chart;
    } else {
        chart_text = read_text(options.chart);
    }
    if (take_) {
        name = take_->origin.note.empty() ? "a take" : take_->origin.note;
        rate = take_->ticks.empty() ? 0.0 : 1.0 / take_->ticks.front().seconds;
        if (!take_->origin.course.empty()) {
            course = parse_course(take_->origin.course, options.from + ": course");
        }
    } else {
        if (options.drill.empty()) {
            throw ChartError(
                {{"--drill", "is missing", "give --drill FILE, or a take by --from FILE", {}, 0, 0}});
        }
        drill_ = open_drill(options.drill, chart.chart);
        name = drill_->drill.name();
        const Seconds length = options.seconds ? Seconds{*options.seconds} : drill_->drill.length();
        ends_ = survey::even_ticks(options.rate, length, drill_->drill.begin());
    }
    if (!options.course.empty()) {
        course = open_course(options.course);
    }
    if (take_) {
        warn_of_difference(options);
    } else if (course) {
        const glm::dvec3 at = drill_->drill.spawn(chart.chart).position();
        for (const std::string& caution : cautions_of(chart.chart, *course, at)) {
            fmt::print(stderr, "{}: caution: {}\n", shown_name(options.course), caution);
        }
    }
}

void Scene::warn_of_difference(const SceneOptions& options) const {
    const survey::Replay again = survey::replay(*take_, chart.chart, world(), own_ ? &own_->chart : nullptr);
    if (again.exact && again.first) {
        fmt::print(stderr,
                   "{}: caution: it comes out otherwise from tick {} on ({}): it was recorded in another "
                   "world, or by "
                   "another version\n",
                   options.from, again.first->tick, again.first->field);
    }
}

std::unique_ptr<survey::Script> Scene::script() const {
    if (drill_) {
        return std::make_unique<survey::DrillScript>(drill_->drill, ends_);
    }
    return std::make_unique<survey::TakeScript>(*take_, own_ ? &own_->chart : nullptr);
}

RunResult run_scene(const Scene& scene) {
    const std::unique_ptr<survey::Script> script = scene.script();
    return {scene.chart.chart, scene.name, scene.rate, survey::run(scene.chart.chart, *script, scene.world()),
            scene.course,      {}};
}

void run_also_at(const Scene& scene, const std::vector<double>& rates, RunResult& result) {
    if (rates.empty()) {
        return;
    }
    if (scene.drill() == nullptr) {
        throw ChartError({{"--also-at",
                           "cannot be used with a take: its ticks are part of it",
                           "give the drill in place of the take",
                           {},
                           0,
                           0}});
    }
    const Chart& chart = scene.chart.chart;
    const auto ticks_at = [&](double rate) {
        try {
            return survey::even_ticks(rate, Seconds{result.run.seconds}, scene.drill()->drill.begin());
        } catch (const ChartError& error) {
            std::vector<Diagnostic> told = error.diagnostics();
            told.front().path = "--also-at";  // and not --rate
            throw ChartError(std::move(told));
        }
    };
    for (const double rate : rates) {
        const std::vector<double> ends = ticks_at(rate);
        const Drill& drill = scene.drill()->drill;
        survey::Run run = scene.world() != nullptr ? survey::run(chart, drill, *scene.world(), ends, false)
                                                   : survey::run(chart, drill, ends, false);
        const survey::RateGap gap = survey::rate_gap(chart, result.run, run);
        result.also.push_back({rate, std::move(run), gap});
    }
}

void find_companions(SceneOptions& options) {
    constexpr std::string_view ending = ".chart.toml";
    if (!options.chart.ends_with(ending) || !options.drill.empty() || !options.from.empty()) {
        return;
    }
    const std::string name = options.chart.substr(0, options.chart.size() - ending.size());
    const auto find = [&](const char* other, std::string& file) {
        if (file.empty() && std::filesystem::exists(name + other)) {
            file = name + other;
        }
    };
    find(".drill.toml", options.drill);
    find(".course.toml", options.course);
}

std::vector<InputFile> inputs_of(const SceneOptions& options) {
    return {{"CHART", options.chart},
            {"--drill", options.drill},
            {"--from", options.from},
            {"--course", options.course}};
}

std::string place_of(const std::string& file, const SourceMap& sources, const std::string& path) {
    const SourcePosition at = sources.find(path);
    return at.line > 0 ? fmt::format("{}:{}:{}", file, at.line, at.column) : file;
}

}  // namespace cursimeter::tool
