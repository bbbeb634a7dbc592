#include <fmt/format.h>

#include <chrono>
#include <cmath>
#include <cursimeter/chartfile/saved_file.hpp>
#include <cursimeter/survey/compare.hpp>
#include <cursimeter/survey/figures.hpp>
#include <thread>
#include <vector>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/errors.hpp"
#include "files/files.hpp"
#include "scene/scene.hpp"
#include "text/figures_output.hpp"

namespace cursimeter::tool {
namespace {

using Clock = std::chrono::steady_clock;

/// One version of the files, run.
struct Version {
    Scene scene;
    survey::Run run;
    std::vector<survey::Figure> figures;
};

Version make_version(const SceneOptions& options) {
    Scene scene(options);
    survey::Run run = run_scene(scene).run;
    std::vector<survey::Figure> figures;
    for (const std::string& name : survey::figure_names(scene.chart.spec)) {
        if (!name.ends_with(".best_average")) {  // a search of its own: not for every save
            figures.push_back(survey::figure(scene.chart.spec, name));
        }
    }
    return {std::move(scene), std::move(run), std::move(figures)};
}

void tell_figures(const std::vector<survey::Figure>& before, const std::vector<survey::Figure>& after) {
    for (const survey::Figure& now : after) {
        const survey::Figure* old = nullptr;
        for (const survey::Figure& other : before) {
            old = other.name == now.name ? &other : old;
        }
        const bool same = old != nullptr && figure_text(*old) == figure_text(now);
        if (!same) {
            fmt::print("  figure  {:<28} {:>10} -> {:>10} {}\n", now.name,
                       old != nullptr ? figure_text(*old) : "", figure_text(now), now.unit);
        }
    }
}

void tell_run(const Version& before, const Version& after) {
    const std::vector<survey::RunChange> changes =
        survey::compare_runs(before.scene.chart.chart, before.run, after.scene.chart.chart, after.run);
    constexpr std::size_t most_lines = 12;
    for (std::size_t i = 0; i < std::min(changes.size(), most_lines); ++i) {
        const survey::RunChange& change = changes[i];
        switch (change.kind) {
            case survey::RunChangeKind::moved:
                fmt::print("  state   {:<12} {:>8.3f} s for {:>7.3f} s -> {:>8.3f} s for {:>7.3f} s\n",
                           change.state, change.at_before, change.seconds_before, change.at_after,
                           change.seconds_after);
                break;
            case survey::RunChangeKind::added:
                fmt::print("  state   {:<12} new: {:>8.3f} s for {:>7.3f} s\n", change.state, change.at_after,
                           change.seconds_after);
                break;
            case survey::RunChangeKind::removed:
                fmt::print("  state   {:<12} gone: {:>7.3f} s for {:>7.3f} s\n", change.state,
                           change.at_before, change.seconds_before);
                break;
        }
    }
    if (changes.size() > most_lines) {
        fmt::print("  and {} more changes of states\n", changes.size() - most_lines);
    }
    const double walked = after.run.distance - before.run.runner.distance();
    if (std::fabs(walked) > 1e-9) {
        fmt::print("  way     {:.2f} m -> {:.2f} m\n", before.run.distance, after.run.distance);
    }
    for (std::size_t i = 0; i < std::min(before.run.legs.size(), after.run.legs.size()); ++i) {
        const survey::LegTime &a = before.run.legs[i], &b = after.run.legs[i];
        const double old_time = a.ended - a.begun, new_time = b.ended - b.begun;
        if (!(std::fabs(old_time - new_time) <= 1e-6) && !(std::isnan(old_time) && std::isnan(new_time))) {
            fmt::print("  leg     {:<28} {:>10.3f} -> {:>10.3f} s\n", b.name, old_time, new_time);
        }
    }
}

class Files {
  public:
    explicit Files(const SceneOptions& scene) {
        for (const std::string& name : {scene.chart, scene.drill, scene.from, scene.course}) {
            if (!name.empty()) {
                files_.emplace_back(name);
            }
        }
    }
    /// Whether one of them has been saved, or is gone, since the last time it was asked.
    bool saved() {
        bool any = false;
        for (SavedFile& file : files_) {
            any = file.news() != FileNews::none || any;
        }
        return any;
    }

  private:
    std::vector<SavedFile> files_;
};

}  // namespace

int watch_command(const WatchOptions& options) {
    check_files({inputs_of(options.scene), {}});
    Files files(options.scene);
    Version last = make_version(options.scene);
    fmt::print("{}, {}: {} state changes in {:g} s, {:.2f} m; watching, end with Ctrl-C\n",
               last.scene.chart.spec.name, last.scene.name, last.run.visits.size() - 1, last.run.seconds,
               last.run.distance);
    std::fflush(stdout);
    for (unsigned saves = 0; options.saves == 0 || saves < options.saves;) {
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
        if (!files.saved()) {
            continue;
        }
        do {  // until the file is whole: some editors write it in pieces
            std::this_thread::sleep_for(std::chrono::milliseconds(10));
        } while (files.saved());
        ++saves;
        const Clock::time_point begun = Clock::now();
        try {
            Version now = make_version(options.scene);
            const double milliseconds =
                std::chrono::duration<double, std::milli>(Clock::now() - begun).count();
            const bool same = now.scene.chart.chart.digest() == last.scene.chart.chart.digest() &&
                              now.run.digest == last.run.digest;
            fmt::print("\nsave {}, {:.0f} ms: {}\n", saves, milliseconds,
                       same ? "nothing has changed" : "changed");
            tell_run(last, now);
            tell_figures(last.figures, now.figures);
            last = std::move(now);
        } catch (const ChartError& error) {  // the last version that was whole stays the one to compare with
            fmt::print("\nsave {}: not usable, the version before it stays\n", saves);
            for (const Diagnostic& diagnostic : error.diagnostics()) {
                fmt::print("  {}\n", error_text(diagnostic));
            }
        }
        std::fflush(stdout);
    }
    return 0;
}

}  // namespace cursimeter::tool
