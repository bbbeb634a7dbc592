#include "call_options.hpp"
#include "commands/commands.hpp"

/// Calls that ask something of a chart.
namespace cursimeter::tool {
namespace {

void add_check(CLI::App& app, Calls& calls) {
    add<CheckOptions>(
        app, calls, "check", "Say whether a chart is sound, by reasoning over its conditions", check_command,
        [](CLI::App& sub, CheckOptions& check) {
            chart_argument(sub, check.chart);
            sub.add_option("--proof", check.proof,
                           "write the drill that shows the first finding to this file; those of further "
                           "findings get a number before the ending");
            sub.add_option("--require", check.requirements,
                           "what has to be so whatever is pressed, once or more: \"never sprint with "
                           "stamina spent\"; besides those of the chart")
                ->allow_extra_args(false);
            sub.add_option("--effort", check.effort,
                           "millions of ticks to play in search of a drill that breaks a requirement")
                ->capture_default_str();
            sub.add_option("--seed", check.seed, "another number, another search")->capture_default_str();
            json_flag(sub, check.json, "the findings");
        });
}

void add_figures(CLI::App& app, Calls& calls) {
    add<FiguresOptions>(
        app, calls, "figures", "Print the numbers that follow from a chart", figures_command,
        [](CLI::App& sub, FiguresOptions& figures) {
            chart_argument(sub, figures.chart);
            sub.add_option("-c,--course", figures.course, "course file (TOML): adds its legs");
            sub.add_option("--compare", figures.compare, "another chart, set beside the first");
            CLI::Option* csv = sub.add_flag("--csv", figures.csv, "print CSV instead of a table");
            sub.add_flag("-j,--json", figures.json, "print one JSON object instead of a table")
                ->excludes(csv);
        });
}

void add_why(CLI::App& app, Calls& calls) {
    add<WhyOptions>(app, calls, "why", "Say why a state is taken at a time of a run, and why others are not",
                    why_command, [](CLI::App& sub, WhyOptions& why) {
                        scene_options(sub, why.scene);
                        sub.add_option("--at", why.at,
                                       "s; without it: all stretches in which --state was denied");
                        sub.add_option("--state", why.state, "tell of this state only");
                        json_flag(sub, why.json, "text");
                    });
}

void add_trial(CLI::App& app, Calls& calls) {
    add<TrialOptions>(
        app, calls, "trial", "Say whether charts still do what was agreed", trial_command,
        [](CLI::App& sub, TrialOptions& trial) {
            sub.add_option("CHART", trial.scene.chart,
                           "chart file (TOML), or a trials file, or a folder with trials files")
                ->required();
            sub.add_option(
                "-d,--drill", trial.scene.drill,
                "drill file (TOML) with [[expect]]; of NAME.chart.toml, NAME.drill.toml if not given");
            sub.add_option("-c,--course", trial.scene.course,
                           "course file (TOML); open flat ground if not given");
            sub.add_option("-r,--rate", trial.rates,
                           "ticks a second, once or more; 20, 60 and 144, or those of the file, if not given")
                ->allow_extra_args(false);
            sub.add_option("--junit", trial.junit, "write the results to this XML file, for a build server");
            sub.add_option("--threads", trial.threads, "0: as many as there are cores")
                ->capture_default_str();
            CLI::Option* record = sub.add_flag("--record", trial.record,
                                               "print expectations that the run keeps now, to begin from");
            sub.add_flag("-j,--json", trial.json, "print one JSON object instead of text")->excludes(record);
            record->excludes(sub.get_option("--junit"));
            quiet_flag(sub, trial.quiet);
        });
}

void add_sweep(CLI::App& app, Calls& calls) {
    add<SweepOptions>(
        app, calls, "sweep", "Turn values over a range and tell what becomes of figures", sweep_command,
        [](CLI::App& sub, SweepOptions& sweep) {
            chart_argument(sub, sweep.chart);
            sub.add_option(
                   "--vary", sweep.vary,
                   "PATH=FROM:TO:STEP, once or more: states.sprint.speed.forward=5:9:0.5; of a sample "
                   "the step may be left out")
                ->required()
                ->allow_extra_args(false);
            sub.add_option("--figure", sweep.figures,
                           "figure to tell, once or more; see `figures`; with a drill also leg.NAME in s and "
                           "trial.kept, how many of its expectations are kept")
                ->required();
            sub.add_option("-d,--drill", sweep.drill, "drill file (TOML), run with each chart");
            sub.add_option("-c,--course", sweep.course,
                           "course file (TOML): where it runs, and whose legs there are");
            sub.add_option("-r,--rate", sweep.rate, "ticks a second of that run")->capture_default_str();
            sub.add_option(
                "-o,--out", sweep.out,
                "write the table to this CSV file; rows that it holds already are not found again");
            sub.add_option(
                "--picture", sweep.picture,
                "draw lines, a heat map, or of more values how much each moves a figure, to this .png "
                "or .svg file");
            sub.add_option("--sample", sweep.sample,
                           "so many rows by chance, spread evenly, in place of all combinations");
            sub.add_option("--seed", sweep.seed, "another number, another sample")->capture_default_str();
            sub.add_option(
                   "--best", sweep.preferences,
                   "\"more FIGURE\" or \"less FIGURE\", twice: only the rows that no other beats in both")
                ->allow_extra_args(false);
            sub.add_flag("--sensitivity", sweep.sensitivity,
                         "print how much each value moves each figure, instead of the rows");
            sub.add_option("--threads", sweep.threads, "0: as many as there are cores")
                ->capture_default_str();
            json_flag(sub, sweep.json, "CSV");
            quiet_flag(sub, sweep.quiet);
        });
}

void add_scout(CLI::App& app, Calls& calls) {
    add<ScoutOptions>(
        app, calls, "scout", "Search for what a character can reach, and how fast", scout_command,
        [](CLI::App& sub, ScoutOptions& scout) {
            chart_argument(sub, scout.scene.chart);
            sub.add_option("-c,--course", scout.scene.course,
                           "course file (TOML); open flat ground if not given");
            CLI::Option* drill =
                sub.add_option("-d,--drill", scout.scene.drill, "drill file (TOML): begin where it begins");
            sub.add_option("--start", scout.start,
                           "X,Y,Z in m, and the yaw in degrees if wanted: begin there")
                ->excludes(drill);
            CLI::Option* leg =
                sub.add_option("--leg", scout.leg, "look for the fastest way to the end of this leg");
            CLI::Option* goal =
                sub.add_option("--goal", scout.goal, "X,Y,Z in m: look for the fastest way there")
                    ->excludes(leg);
            sub.add_option("--distance", scout.distance,
                           "m: look for the fastest way so far ahead; 100 on open ground if nothing is said")
                ->excludes(leg)
                ->excludes(goal);
            sub.add_flag("--pass-all-legs", scout.all_legs, "through the start and the end of every leg");
            sub.add_option("--without", scout.without, "an action that is not used, once or more")
                ->allow_extra_args(false);
            sub.add_option("--avoid", scout.avoid, "a kind of zone that is not entered, once or more")
                ->allow_extra_args(false);
            sub.add_option("--known", scout.known,
                           "a drill that gets there, once or more: the search begins along where it leads")
                ->allow_extra_args(false);
            sub.add_option("-s,--seconds", scout.scene.seconds, "the longest way; 60 if not given");
            sub.add_option("--cell", scout.cell, "m: places so near are one")->capture_default_str();
            sub.add_option("-r,--rate", scout.rate, "ticks a second of the search")->capture_default_str();
            sub.add_option("--effort", scout.effort, "millions of ticks to play")->capture_default_str();
            sub.add_option("--at-most", scout.at_most,
                           "s: stop after so much time, with what has been found by then");
            sub.add_option("--seed", scout.seed, "another number, another search")->capture_default_str();
            sub.add_option("--seeds", scout.seeds,
                           "so many searches, with seeds from --seed on: tells how many found a way, and the "
                           "fastest")
                ->check(CLI::Range(1, 100000))
                ->capture_default_str();
            sub.add_option("--threads", scout.threads,
                           "0: as many as there are cores; the answer is the same")
                ->capture_default_str();
            sub.add_option("--compare", scout.compare, "another chart: tell what only one of them reaches");
            sub.add_option("-o,--out", scout.out, "write the fastest way as a drill to this file");
            sub.add_option("--take", scout.take, "write it as a take to this file");
            sub.add_option("--places", scout.places, "write all places to this CSV file");
            sub.add_option("--picture", scout.picture, "draw places and way to this .png or .svg file");
            json_flag(sub, scout.json, "text");
            quiet_flag(sub, scout.quiet);
        });
}

void add_fit(CLI::App& app, Calls& calls) {
    add<FitOptions>(
        app, calls, "fit", "Find chart values that give the figures that are wanted", fit_command,
        [](CLI::App& sub, FitOptions& fit) {
            chart_argument(sub, fit.chart);
            sub.add_option("--want", fit.want, "\"FIGURE = VALUE UNIT\", once or more")->required();
            sub.add_option("--vary", fit.vary, "PATH or PATH=FROM:TO, once or more")->required();
            sub.add_option("--keep-within", fit.keep_within,
                           "% by which each value may change at most, where --vary names no range");
            sub.add_option("-o,--out", fit.out, "write the chart with the values found to this file");
            json_flag(sub, fit.json, "text");
            quiet_flag(sub, fit.quiet);
        });
}

}  // namespace

void add_survey_calls(CLI::App& app, Calls& calls) {
    add_check(app, calls);
    add_figures(app, calls);
    add_why(app, calls);
    add_trial(app, calls);
    add_sweep(app, calls);
    add_scout(app, calls);
    add_fit(app, calls);
}

}  // namespace cursimeter::tool
