#include "call_table.hpp"

#include <fmt/format.h>

#include <string>

#include "call_options.hpp"
#include "call_pages.hpp"
#include "commands/commands.hpp"

namespace cursimeter::tool {
namespace {

/// "5%" and "5 %" are 5, as people write parts of a hundred.
std::string without_percent_sign(std::string text) {
    if (text.ends_with('%')) {
        text.pop_back();
        text.erase(text.find_last_not_of(' ') + 1);
    }
    return text;
}

void add_run(CLI::App& app, Calls& calls) {
    add<RunOptions>(
        app, calls, "run", "Drive a chart through a drill and tell what happened", run_command,
        [](CLI::App& sub, RunOptions& run) {
            scene_options(sub, run.scene);
            sub.add_option("--trace", run.trace, "write the per-tick table to this CSV file");
            sub.add_option("--take", run.take, "record the run to this take file; `replay` plays it again");
            sub.add_option("--picture", run.picture, "draw the timeline to this .png or .svg file");
            sub.add_option("--map", run.map, "draw the path over the course to this .png or .svg file");
            sub.add_option("--movie", run.movie, "draw the run as it moves to this animated .png file");
            sub.add_option("--also-at", run.also_at,
                           "further tick rates, as 20,144: compare what the drill comes to at them")
                ->delimiter(',');
            json_flag(sub, run.json, "the summary");
        });
}

void add_draw(CLI::App& app, Calls& calls) {
    add<DrawOptions>(
        app, calls, "draw", "Draw a run over time, its path, or the chart's states", draw_command,
        [](CLI::App& sub, DrawOptions& draw) {
            sub.add_option("WHAT", draw.what, "timeline, path or diagram")
                ->required()
                ->check(CLI::IsMember({"timeline", "path", "diagram"}));
            scene_options(sub, draw.scene);
            sub.add_option("-o,--out", draw.out, "file: .png or .svg, of a diagram also .dot")->required();
        });
}

void add_try(CLI::App& app, Calls& calls) {
    add<TryOptions>(
        app, calls, "try", "Open a window and play a chart by hand: tune it, turn time back, see a ghost",
        try_command, [](CLI::App& sub, TryOptions& window) {
            chart_argument(sub, window.chart);
            sub.add_option("-c,--course", window.course,
                           "course file (TOML); a yard that fits the chart if not given");
            sub.add_option("-d,--drill", window.drill, "drill file (TOML) that plays until a key is pressed");
            sub.add_option("--controls", window.controls, "settings file (TOML) with the keys");
            sub.add_option("--against", window.against, "another chart, for the ghost that runs beside");
            sub.add_option("-r,--rate", window.rate, "ticks a second, 10 to 1000")->capture_default_str();
            sub.add_option("--facing", window.facing,
                           "what the character faces: look, or movement, the way it goes; as the drill says "
                           "if not given")
                ->check(CLI::IsMember({"look", "movement"}));
            sub.add_flag("--network", window.network, "begin over a simulated network");
            sub.add_option("--view", window.view, "camera: behind, \"own eyes\", side or above")
                ->capture_default_str();
            sub.add_option("--size", window.size, "of the window, in pixels")->capture_default_str();
            sub.add_option("--scale", window.scale, "of text; by the display if not given");
            sub.add_option(
                   "--tab", window.tab,
                   "open tab: numbers, keys, record or network; in a narrow window also runner or time")
                ->check(CLI::IsMember({"numbers", "keys", "record", "network", "runner", "time"}));
            sub.add_option("--find", window.look_for, "look for these numbers");
            sub.add_option("--set", window.set,
                           "PATH=NUMBER: turn it at once, beside a ghost of the chart as it is");
            sub.add_option("--frames", window.frames,
                           "close after as many frames of 1/60 s; needs no display");
            sub.add_option("--shot", window.shot, "with --frames: write the last picture to this PNG file");
            sub.add_option("--state-json", window.state_json,
                           "keep this file telling how things are, for programs that look on");
        });
}

void add_replay(CLI::App& app, Calls& calls) {
    add<ReplayOptions>(
        app, calls, "replay", "Play a take or a match again and compare it bit for bit", replay_command,
        [](CLI::App& sub, ReplayOptions& replay) {
            sub.add_option("FILE", replay.file, "take or match file")->required();
            sub.add_option("--chart", replay.charts,
                           "play a take with this chart instead of its own; the charts of a match "
                           "that has none in it, in their order");
            sub.add_option("--runner", replay.runner, "number of a match's runner whose take --take writes");
            sub.add_option("--take", replay.take, "take file to write, of --runner");
            json_flag(sub, replay.json, "text");
        });
}

void add_report(CLI::App& app, Calls& calls) {
    add<ReportOptions>(app, calls, "report", "Write one self-contained page about a chart and a run",
                       report_command, [](CLI::App& sub, ReportOptions& report) {
                           scene_options(sub, report.scene);
                           sub.add_option("-o,--out", report.out, "HTML file")->required();
                       });
}

void add_watch(CLI::App& app, Calls& calls) {
    add<WatchOptions>(app, calls, "watch", "Run again at each save and tell what has changed", watch_command,
                      [](CLI::App& sub, WatchOptions& watch) {
                          scene_options(sub, watch.scene);
                          sub.add_option("--saves", watch.saves,
                                         "end after so many saves; 0: go on until interrupted")
                              ->capture_default_str();
                      });
}

void add_net(CLI::App& app, Calls& calls) {
    add<NetOptions>(
        app, calls, "net", "Play a chart by a server and clients over a bad network", net_command,
        [](CLI::App& sub, NetOptions& net) {
            chart_argument(sub, net.chart);
            const auto option = [&](const char* name, auto& value, const char* meaning) {
                return sub.add_option(name, value, meaning)->capture_default_str();
            };
            const auto percent = [&](const char* name, double& value, const char* meaning) {
                option(name, value, meaning)->transform(without_percent_sign);
            };
            option("--clients", net.clients, "how many clients, 1 to 256");
            option("--players", net.players, "players at each client, 1 to 4, each with a runner");
            option("-s,--seconds", net.seconds, "how long to play, up to 3600");
            sub.add_option("-d,--drill", net.drill,
                           "drill file (TOML) that every client plays; hands if not given");
            sub.add_option(
                   "--hands", net.hands,
                   "whose hands: human (a key every 0.1 to 0.3 s, a mouse that moves in every tick) or "
                   "calm (changes every 0.3 to 1.5 s)")
                ->check(CLI::IsMember({"human", "calm"}))
                ->capture_default_str();
            sub.add_option("-c,--course", net.course, "course file (TOML); open flat ground if not given");
            option("-r,--rate", net.rate, "ticks a second, 10 to 1000");
            option("--snapshots", net.snapshots, "snapshots a second, at least 10");
            option("--delay", net.delay, "ms, one way: half of the round trip");
            option("--jitter", net.jitter, "ms by which each packet's delay is more or less");
            percent("--loss", net.loss, "% of packets that are lost");
            option("--burst", net.burst, "ms that a stretch of loss lasts at most; 0: each packet by itself");
            percent("--duplicate", net.duplicate, "% of packets that come twice");
            percent("--reorder", net.reorder, "% of packets that later ones overtake");
            percent("--corrupt", net.corrupt, "% of packets with a bit turned over");
            option("--bandwidth", net.bandwidth, "kB/s each way; 0: any");
            option("--frames", net.frames,
                   "frames a second of the clients' loops; 0: one whenever anything is due");
            option("--stall", net.stall, "ms for which each client's program stands still, every 10 s");
            sub.add_option("--match", net.match, "record the match to this file; `replay` plays it again");
            sub.add_flag("--sealed", net.sealed, "seal the connections: encrypted and authenticated");
            option("--seed", net.seed, "another number, other faults");
            sub.add_option("--picture", net.picture, "draw truth and views to this .png or .svg file");
            json_flag(sub, net.json, "the summary");
            CLI::Option* peers =
                sub.add_option("--peers", net.peers, "2 to 4 players without a server, instead of clients");
            for (const char* other :
                 {"--clients", "--players", "--drill", "--snapshots", "--match", "--sealed", "--picture"}) {
                peers->excludes(sub.get_option(other));
            }
        });
}

void add_formats(CLI::App& app, Calls& calls) {
    add<ReferenceOptions>(app, calls, "reference", "Print the reference of a file format (Markdown)",
                          reference_command, [](CLI::App& sub, ReferenceOptions& reference) {
                              sub.add_option("FORMAT", reference.format,
                                             "chart, drill, course, controls or trials")
                                  ->required()
                                  ->check(CLI::IsMember({"chart", "drill", "course", "controls", "trials"}));
                          });
    add<ReferenceOptions>(app, calls, "schema",
                          "Print the JSON Schema of a file format, or of what a command prints with --json",
                          schema_command, [](CLI::App& sub, ReferenceOptions& reference) {
                              sub.add_option(
                                     "FORMAT", reference.format,
                                     "of files: chart, drill, course, controls or trials; of output: the "
                                     "command's name, or errors")
                                  ->required()
                                  ->check(CLI::IsMember(schema_names()));
                          });
    add<NewOptions>(app, calls, "new", "Write a commented chart, drill and course to begin from", new_command,
                    [](CLI::App& sub, NewOptions& fresh) {
                        sub.add_option("NAME", fresh.name,
                                       "of the character: lower case, as in NAME.chart.toml")
                            ->required();
                        sub.add_option("--folder", fresh.folder, "where to")->capture_default_str();
                        sub.add_flag("--game", fresh.game,
                                     "a whole small game with window, keys and panels, in a folder NAME");
                    });
}

/// Pages that are made from this table itself, for whoever packages the program.
void add_pages(CLI::App& app, Calls& calls) {
    auto shell = std::make_shared<std::string>();
    CLI::App* completion =
        app.add_subcommand("completion", "Print the script by which a shell completes calls");
    completion->group("");
    completion->add_option("SHELL", *shell, "bash, zsh or fish")
        ->required()
        ->check(CLI::IsMember({"bash", "zsh", "fish"}));
    calls.emplace_back(completion, [&app, shell] {
        fmt::print("{}", completion_script(app, *shell));
        return 0;
    });
    CLI::App* manual = app.add_subcommand("manual", "Print the manual page, for `man`");
    manual->group("");
    calls.emplace_back(manual, [&app] {
        fmt::print("{}", manual_page(app));
        return 0;
    });
}

/// CLI11 reads -3 as a count of 2^64 - 3.
void refuse_negative_counts(CLI::App& app) {
    for (CLI::App* command : app.get_subcommands({})) {
        for (CLI::Option* option : command->get_options()) {
            if (option->get_type_name() == "UINT") {
                option->check([](const std::string& value) {
                    return value.starts_with('-') ? fmt::format("'{}' is not a whole number from 0 up", value)
                                                  : "";
                });
            }
        }
    }
}

}  // namespace

Calls add_calls(CLI::App& app) {
    Calls calls;
    add_run(app, calls);
    add_survey_calls(app, calls);
    add_draw(app, calls);
    add_try(app, calls);
    add_replay(app, calls);
    add_report(app, calls);
    add_watch(app, calls);
    add_net(app, calls);
    add_formats(app, calls);
    add_pages(app, calls);
    refuse_negative_counts(app);
    return calls;
}

}  // namespace cursimeter::tool
