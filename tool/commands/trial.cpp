#include <fmt/format.h>

#include <cmath>
#include <cursimeter/survey/trial.hpp>
#include <nlohmann/json.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "scene/scene.hpp"
#include "text/junit.hpp"

namespace cursimeter::tool {
namespace {

using nlohmann::ordered_json;
using survey::Verdict;

/// What is wrong with an expectation is wrong in the drill's file.
void locate_in_drill(ChartError& error, const std::string& file, const SourceMap& sources) {
    std::vector<Diagnostic> told = error.diagnostics();
    for (Diagnostic& diagnostic : told) {
        if (diagnostic.path.starts_with("expect[")) {
            const SourcePosition at = sources.find(diagnostic.path);
            diagnostic.file = file;
            diagnostic.line = at.line;
            diagnostic.column = at.column;
        }
    }
    error = ChartError(std::move(told));
}

/// The verdicts at one rate.
struct Rated {
    double rate = 0.0;
    std::vector<Verdict> verdicts;
};

/// "walk at 12 s": what was instead, and when.
std::string instead_text(const Verdict& verdict) {
    const std::string when =
        std::isfinite(verdict.at) ? fmt::format(" at {:.10g} s", std::round(verdict.at * 1e6) / 1e6) : "";
    return verdict.instead + when;
}

void tell_failures(std::FILE* to, const TrialOptions& options, const DrillFile& drill,
                   const std::vector<Rated>& all) {
    for (std::size_t i = 0; i < drill.spec.expects.size(); ++i) {
        std::string last;
        for (const Rated& rated : all) {
            const Verdict& verdict = rated.verdicts[i];
            if (verdict.kept) {
                continue;
            }
            const std::string instead = instead_text(verdict);
            if (last.empty()) {
                fmt::print(to, "{}: not so: {}\n",
                           place_of(shown_name(options.scene.drill), drill.sources,
                                    fmt::format("expect[{}]", i + 1)),
                           verdict.said);
            }
            if (instead != last) {
                fmt::print(to, "    at {:g} ticks a second: {}\n", rated.rate, instead);
                if (!verdict.why.empty()) {
                    fmt::print(to, "        {}\n", verdict.why);
                }
            }
            last = instead;
        }
    }
}

std::string json_text(const Scene& scene, const DrillFile& drill, const std::vector<Rated>& all, bool kept) {
    ordered_json json{{"chart", scene.chart.chart.name()},
                      {"drill", scene.name},
                      {"course", scene.course ? ordered_json(scene.course->spec().name) : ordered_json()},
                      {"kept", kept},
                      {"runs", ordered_json::array()}};
    for (const Rated& rated : all) {
        ordered_json run{{"rate", rated.rate}, {"expectations", ordered_json::array()}};
        for (const Verdict& verdict : rated.verdicts) {
            ordered_json one{{"said", verdict.said}, {"kept", verdict.kept}};
            if (!verdict.kept) {
                const SourcePosition at = drill.sources.find(fmt::format("expect[{}]", verdict.expect + 1));
                one["line"] = at.line;
                one["at"] = std::isfinite(verdict.at) ? ordered_json(verdict.at) : ordered_json();
                one["instead"] = verdict.instead;
                one["why"] = verdict.why;
            }
            run["expectations"].push_back(std::move(one));
        }
        json["runs"].push_back(std::move(run));
    }
    return json.dump(2) + "\n";
}

std::string junit_of(const Scene& scene, const std::vector<Rated>& all) {
    std::vector<TestSuite> suites;
    for (const Rated& rated : all) {
        TestSuite& suite = suites.emplace_back();
        suite.name =
            fmt::format("{}, {} at {:g} ticks a second", scene.chart.chart.name(), scene.name, rated.rate);
        for (const Verdict& verdict : rated.verdicts) {
            std::string failure;
            if (!verdict.kept) {
                failure = instead_text(verdict);
                failure += verdict.why.empty() ? "" : "; " + verdict.why;
            }
            suite.cases.push_back({verdict.said, failure, !verdict.kept});
        }
    }
    return junit_text(suites);
}

int record(const Scene& scene, const DrillFile& drill, double rate) {
    const std::vector<double> ends = survey::even_ticks(rate, drill.drill.length());
    DrillSpec proposed;
    proposed.expects = survey::propose_expectations(scene.chart.spec, drill.spec, scene.world(), ends);
    const std::string text = format_drill(proposed);
    const std::size_t first = text.find("[[expect]]");
    fmt::print("# What the run does now. Read it, keep what is meant, and put it into the drill.\n\n{}",
               first == std::string::npos ? "" : text.substr(first));
    return 0;
}

}  // namespace

int trial_command(const TrialOptions& options) {
    const CallFiles files{
        inputs_of(options.scene), {{"--junit", options.junit, FileKind::results}}, options.json};
    check_files(files);
    if (options.scene.drill.empty()) {
        throw ChartError(
            {{"--drill", "is missing", "give --drill FILE, with what is expected in it", {}, 0, 0}});
    }
    const Scene scene(options.scene);
    const DrillFile drill = open_drill(options.scene.drill, scene.chart.chart);
    const std::vector<double> rates =
        options.rates.empty() ? std::vector<double>{20.0, 60.0, 144.0} : options.rates;
    if (options.record) {
        return record(scene, drill, rates.front());
    }
    if (drill.spec.expects.empty()) {
        throw ChartError(
            {{"expect", "is missing: nothing is expected of this drill",
              "add [[expect]] tables; --record proposes some", shown_name(options.scene.drill), 0, 0}});
    }
    std::vector<Rated> all;
    bool kept = true;
    for (const double rate : rates) {
        try {
            const std::vector<double> ends = survey::even_ticks(rate, drill.drill.length());
            all.push_back({rate, survey::judge(scene.chart.spec, drill.spec, scene.world(), ends)});
        } catch (ChartError& error) {
            locate_in_drill(error, shown_name(options.scene.drill), drill.sources);
            throw error;
        }
        for (const Verdict& verdict : all.back().verdicts) {
            kept = kept && verdict.kept;
        }
    }
    if (!options.junit.empty()) {
        write_text(options.junit, junit_of(scene, all));
    }
    if (options.json) {
        fmt::print("{}", json_text(scene, drill, all, kept));
        return kept ? 0 : 1;
    }
    std::FILE* const to = text_stream(files);
    tell_failures(to, options, drill, all);
    std::size_t broken = 0;
    for (std::size_t i = 0; i < drill.spec.expects.size(); ++i) {
        broken +=
            std::any_of(all.begin(), all.end(), [&](const Rated& rated) { return !rated.verdicts[i].kept; })
                ? 1
                : 0;
    }
    std::vector<std::string> shown;
    for (const double rate : rates) {
        shown.push_back(fmt::format("{:g}", rate));
    }
    fmt::print(to, "{}, {}: {} of {} expectations kept at {} ticks a second\n", scene.chart.chart.name(),
               scene.name, drill.spec.expects.size() - broken, drill.spec.expects.size(),
               fmt::join(shown, ", "));
    tell_written(files);
    return kept ? 0 : 1;
}

}  // namespace cursimeter::tool
