#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cstdio>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/version.hpp>
#include <string>
#include <vector>

#include "commands.hpp"

namespace {

constexpr int unusable = 2;

std::string advise(const std::string& word, const std::vector<std::string>& known) {
    const std::string_view near = cursimeter::nearest_name(word, known);
    return near.empty() ? fmt::format("known: {}", fmt::join(known, ", "))
                        : fmt::format("did you mean '{}'?", near);
}

/// A word of the call that nothing knows, with the nearest that is known; empty if there is none. CLI11
/// would rather complain of what is missing instead.
std::string unknown_word(CLI::App& app, int argc, char** argv) {
    std::vector<std::string> known;
    const CLI::App* command = &app;
    const std::string first = argc > 1 ? argv[1] : "";
    if (!first.empty() && first[0] != '-') {
        command = nullptr;
        for (const CLI::App* sub : app.get_subcommands({})) {
            command = sub->get_name() == first ? sub : command;
            known.push_back(sub->get_name());
        }
        if (command == nullptr) {
            return fmt::format("there is no subcommand '{}'; {}", first, advise(first, known));
        }
        known.clear();
    }
    for (const CLI::Option* option : command->get_options()) {
        for (const std::string& name : option->get_lnames()) {
            known.push_back("--" + name);
        }
    }
    for (int i = 1; i < argc; ++i) {
        const std::string word = std::string(argv[i]).substr(0, std::string(argv[i]).find('='));
        if (word.starts_with("--") && std::find(known.begin(), known.end(), word) == known.end()) {
            return fmt::format("there is no option '{}'; {}", word, advise(word, known));
        }
    }
    return {};
}

int run_program(int argc, char** argv) {
    using namespace cursimeter::tool;
    CLI::App app{"Builds, runs and explains character locomotion from charts.", "cursimeter"};
    app.set_version_flag("--version", CURSIMETER_VERSION_TEXT);
    app.require_subcommand(1);
    app.failure_message(CLI::FailureMessage::help);

    RunOptions run;
    CLI::App* run_app = app.add_subcommand("run", "Drive a chart through a drill and tell what happened");
    run_app->add_option("CHART", run.chart, "chart file (TOML)")->required();
    run_app->add_option("--drill", run.drill, "drill file (TOML)")->required();
    run_app->add_option("--course", run.course, "course file (TOML); open flat ground if not given");
    run_app->add_option("--rate", run.rate, "ticks a second, at least 10")->capture_default_str();
    run_app->add_option("--seconds", run.seconds, "how long to run; the drill's length if not given");
    run_app->add_option("--trace", run.trace, "write the per-tick table to this CSV file");
    run_app->add_option("--picture", run.picture, "draw the timeline to this .png or .svg file");
    run_app->add_option("--map", run.map, "draw the path over the course to this .png or .svg file");
    run_app->add_flag("--json", run.json, "print one JSON object instead of the summary");

    NetOptions net;
    CLI::App* net_app = app.add_subcommand("net", "Play a chart by a server and clients over a bad network");
    net_app->add_option("CHART", net.chart, "chart file (TOML)")->required();
    net_app->add_option("--clients", net.clients, "how many clients, 1 to 256")->capture_default_str();
    net_app->add_option("--seconds", net.seconds, "how long to play, up to 3600")->capture_default_str();
    net_app->add_option("--drill", net.drill,
                        "drill file (TOML) that every client plays; random hands if not given");
    net_app->add_option("--course", net.course, "course file (TOML); open flat ground if not given");
    net_app->add_option("--rate", net.rate, "ticks a second, 10 to 1000")->capture_default_str();
    net_app->add_option("--snapshots", net.snapshots, "snapshots a second, at least 10")
        ->capture_default_str();
    net_app->add_option("--delay", net.delay, "ms, one way: half of the round trip")->capture_default_str();
    net_app->add_option("--jitter", net.jitter, "ms by which each packet's delay is more or less")
        ->capture_default_str();
    net_app->add_option("--loss", net.loss, "% of packets that are lost")->capture_default_str();
    net_app
        ->add_option("--burst", net.burst,
                     "ms that a stretch of loss lasts at most; 0: each packet by itself")
        ->capture_default_str();
    net_app->add_option("--duplicate", net.duplicate, "% of packets that come twice")->capture_default_str();
    net_app->add_option("--reorder", net.reorder, "% of packets that later ones overtake")
        ->capture_default_str();
    net_app->add_option("--corrupt", net.corrupt, "% of packets with a bit turned over")
        ->capture_default_str();
    net_app->add_option("--bandwidth", net.bandwidth, "kB/s each way; 0: any")->capture_default_str();
    net_app->add_option("--seed", net.seed, "another number, other faults")->capture_default_str();
    net_app->add_option("--picture", net.picture, "draw truth and views to this .png or .svg file");
    net_app->add_flag("--json", net.json, "print one JSON object instead of the summary");

    std::string which;
    CLI::App* reference_app =
        app.add_subcommand("reference", "Print the reference of a file format (Markdown)");
    reference_app->add_option("FORMAT", which, "chart, drill, course or controls")
        ->required()
        ->check(CLI::IsMember({"chart", "drill", "course", "controls"}));

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == 0) {  // --help, --version
            return app.exit(error);
        }
        const CLI::App* asked = &app;
        for (const CLI::App* command : {run_app, net_app, reference_app}) {
            asked = command->parsed() ? command : asked;
        }
        const std::string unknown = unknown_word(app, argc, argv);
        fmt::print(stderr, "error: {}\n\n{}", unknown.empty() ? error.what() : unknown,
                   asked == &app ? app.help() : asked->help("cursimeter"));
        return unusable;
    }
    return run_app->parsed()   ? run_command(run)
           : net_app->parsed() ? net_command(net)
                               : reference_command(which);
}

}  // namespace

int main(int argc, char** argv) {
    try {
        return run_program(argc, argv);
    } catch (const cursimeter::ChartError& error) {
        for (const cursimeter::Diagnostic& diagnostic : error.diagnostics()) {
            fmt::print(stderr, "error: {}\n", diagnostic.text());
        }
    } catch (const std::exception& error) {
        fmt::print(stderr, "error: {}\n", error.what());
    }
    return unusable;
}
