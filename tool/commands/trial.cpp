#include <fmt/format.h>

#include <cursimeter/survey/trial.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "json/trial_json.hpp"
#include "processes/processes.hpp"
#include "processes/units.hpp"
#include "scene/scene.hpp"
#include "scene/trials.hpp"
#include "text/progress.hpp"
#include "text/trial_output.hpp"

namespace cursimeter::tool {
namespace {

[[noreturn]] void refuse(const char* option, const char* what, const char* mend) {
    throw ChartError({{option, what, mend, {}, 0, 0}});
}

int record(const TrialOptions& options) {
    const Scene scene(options.scene);
    const DrillFile& drill = *scene.drill();
    const double rate = options.rates.empty() ? 20.0 : options.rates.front();
    const std::vector<double> ends = survey::even_ticks(rate, drill.drill);
    DrillSpec proposed;
    proposed.expects = survey::propose_expectations(scene.chart.spec, drill.spec, scene.world(), ends);
    const std::string text = format_drill(proposed);
    const std::size_t first = text.find("[[expect]]");
    fmt::print("# What the run does now. Read it, keep what is meant, and put it into the drill.\n\n{}",
               first == std::string::npos ? "" : text.substr(first));
    return 0;
}

/// A unit is the number of a run.
std::string judge_unit(const std::vector<survey::TrialRun>& runs, const std::string& unit) {
    const auto index = static_cast<std::size_t>(numbers_of(unit).front());
    return bytes_of(survey::judge_all({&runs[index], 1}, 1).front());
}

std::vector<survey::Judged> deal_runs(Processes& processes, const std::vector<survey::TrialRun>& runs,
                                      const survey::TrialProgress& progress) {
    std::vector<std::string> units;
    for (std::size_t i = 0; i < runs.size(); ++i) {
        units.push_back(bytes_of(std::vector<double>{static_cast<double>(i)}));
    }
    std::vector<survey::Judged> judged(runs.size());
    processes.deal(
        units, [&](const std::string& unit) { return judge_unit(runs, unit); },
        [&, done = std::size_t{0}](std::size_t i, const std::string& result) mutable {
            judged[i] = judged_of(result);
            progress(++done);
        });
    return judged;
}

void check_call(const TrialOptions& options, bool of_files) {
    const SceneOptions& scene = options.scene;
    if (of_files && (!scene.drill.empty() || !scene.course.empty() || options.record)) {
        refuse(!scene.drill.empty()    ? "--drill"
               : !scene.course.empty() ? "--course"
                                       : "--record",
               "goes with a chart, not with a trials file", "leave it out, or name a chart");
    }
    if (!of_files && scene.drill.empty()) {
        static_cast<void>(open_chart(scene.chart));  // a drill by itself is told as such
        refuse("--drill", "is missing", "give --drill FILE, with what is expected in it, or a trials file");
    }
}

}  // namespace

int trial_command(const TrialOptions& options) {
    const SceneOptions& scene = options.scene;
    const bool of_files = names_trials(scene.chart);
    CallFiles files{{}, {{"--junit", options.junit, FileKind::results}}, options.json};
    if (!of_files) {
        files.inputs = inputs_of(scene);
    }
    check_files(files);
    check_call(options, of_files);
    if (options.record) {
        return record(options);
    }
    const std::vector<double> usual{20.0, 60.0, 144.0};
    Trials trials = of_files ? Trials(scene.chart, options.rates)
                             : Trials(scene.chart, scene.drill, scene.course,
                                      options.rates.empty() ? usual : options.rates);
    for (const std::string& file : trials.files()) {
        files.inputs.push_back({"CHART", file});
    }
    check_files(files);  // no file that was read is written to
    const std::vector<survey::TrialRun> runs = trials.runs();
    Progress line(options.quiet);
    const survey::TrialProgress progress = [&](std::size_t done) { line.count(done, runs.size(), "runs"); };
    if (Processes* const processes = processes_of_call(); processes != nullptr && !processes->leads()) {
        processes->serve([&](const std::string& unit) { return judge_unit(runs, unit); });
        return 0;
    } else if (processes != nullptr && processes->count() > 1) {
        trials.take(deal_runs(*processes, runs, progress));
    } else {
        trials.take(survey::judge_all(runs, options.threads, progress));
    }
    line.clear();
    if (!options.junit.empty()) {
        write_text(options.junit, junit_text(suites_of(trials)));
    }
    if (options.json) {
        fmt::print("{}\n", trial_json(trials).dump(2));
    } else {
        print_trials(text_stream(files), trials);
        tell_written(files);
    }
    return trials.kept() ? 0 : 1;
}

}  // namespace cursimeter::tool
