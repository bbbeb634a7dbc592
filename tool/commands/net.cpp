#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/link/match.hpp>
#include <cursimeter/link/thread_workers.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "json/net_json.hpp"
#include "picture/net.hpp"
#include "text/net_summary.hpp"

namespace cursimeter::tool {
namespace {

void check(const NetOptions& options) {
    std::vector<Diagnostic> findings;
    const auto range = [&](const char* option, double value, double least, double most, const char* unit) {
        if (!(value >= least && value <= most)) {
            findings.push_back({option,
                                fmt::format("{} is out of range", value),
                                fmt::format("give {:g} to {:g}{}", least, most, unit),
                                {},
                                0,
                                0});
        }
    };
    range("--peers", static_cast<double>(options.peers), options.peers == 0 ? 0 : 2, 4, " players");
    if (options.peers > 0 && options.hands != "human") {
        findings.push_back({"--hands", "peers have human hands only", "leave it out", {}, 0, 0});
    }
    if (options.peers > 0) {
        range("--rate", options.rate, 10, 240, " ticks a second among peers");
        range("--frames", options.frames, 10, 1000, " frames a second among peers");
    }
    range("--clients", static_cast<double>(options.clients), 1, 256, "");
    range("--players", static_cast<double>(options.players), 1, link::most_players, "");
    range("--seconds", options.seconds, 1, 3600, " s");
    range("--rate", options.rate, 10, 1000, " ticks a second");
    if (options.peers == 0 && options.rate >= 10 && options.rate <= 1000) {
        range("--snapshots", options.snapshots, 10, options.rate, " a second");
    }
    range("--delay", options.delay, 0, 1000, " ms");
    range("--jitter", options.jitter, 0, 1000, " ms");
    range("--loss", options.loss, 0, 95, " %");
    range("--burst", options.burst, 0, 10000, " ms");
    range("--duplicate", options.duplicate, 0, 100, " %");
    range("--reorder", options.reorder, 0, 100, " %");
    range("--corrupt", options.corrupt, 0, 100, " %");
    range("--bandwidth", options.bandwidth, 0, 1e6, " kB/s");
    range("--frames", options.frames, 0, 1000, " frames a second");
    range("--stall", options.stall, 0, 4000, " ms");
    if (!options.picture.empty() && options.clients < 2) {
        findings.push_back(
            {"--picture", "compares what two clients saw", "give --clients 2 or more", {}, 0, 0});
    }
    if (!findings.empty()) {
        throw ChartError(std::move(findings));
    }
}

rehearsal::LinkFaults faults_of(const NetOptions& options) {
    rehearsal::LinkFaults faults;
    faults.delay = Seconds{options.delay / 1000.0};
    faults.jitter = Seconds{options.jitter / 1000.0};
    faults.loss = options.loss / 100.0;
    faults.burst = Seconds{options.burst / 1000.0};
    faults.duplicate = options.duplicate / 100.0;
    faults.reorder = options.reorder / 100.0;
    faults.corrupt = options.corrupt / 100.0;
    faults.bandwidth = options.bandwidth * 1000.0;
    return faults;
}

/// Ticks from one snapshot to the next: a whole number, so the wish may not quite be met.
std::uint32_t snapshot_every(const NetOptions& options) {
    return static_cast<std::uint32_t>(std::max(1.0, std::floor(options.rate / options.snapshots + 0.5)));
}

rehearsal::Plan plan_of(const NetOptions& options) {
    rehearsal::Plan plan;
    plan.clients = options.clients;
    plan.seconds = options.seconds;
    plan.seed = options.seed;
    plan.up = plan.down = faults_of(options);
    plan.server.tick_rate = options.rate;
    plan.server.snapshot_every = snapshot_every(options);
    plan.server.seats = options.clients;
    plan.server.runners = options.clients * options.players;
    plan.client.players = options.players;
    plan.client.runners = std::max(plan.client.runners, plan.server.runners);
    plan.keep_paths = !options.picture.empty();
    plan.frame_rate = options.frames;
    plan.sealed = options.sealed;
    plan.stall = Seconds{options.stall / 1000.0};
    return plan;
}

/// Plays the whole of it, and keeps the match if that is wanted.
void play(rehearsal::Rehearsal& game, const ChartFile& chart, const rehearsal::Scene& scene,
          const NetOptions& options, std::string& match) {
    if (options.match.empty()) {
        game.run_until(options.seconds);
        return;
    }
    link::MatchRecorder recorder(
        game.server(), {{format_chart(chart.spec)},
                        scene.course ? format_course(scene.course->spec()) : std::string(),
                        fmt::format("{} clients, {}", options.clients, scene.drills.front().name())});
    game.server().record(&recorder);
    game.before_tick([&](link::Server&) {
        const auto bytes = recorder.bytes();
        match.append(reinterpret_cast<const char*>(bytes.data()), bytes.size());
        recorder.clear();
    });
    game.run_until(options.seconds);
    const auto bytes = recorder.bytes();
    match.append(reinterpret_cast<const char*>(bytes.data()), bytes.size());
    game.server().record(nullptr);
    game.before_tick({});
}

int play_peers(const NetOptions& options, const rehearsal::Scene& scene) {
    rehearsal::PeerPlan plan;
    plan.players = options.peers;
    plan.seconds = options.seconds;
    plan.seed = options.seed;
    plan.faults = faults_of(options);
    plan.config.tick_rate = options.rate;
    plan.frame_rate = options.frames;
    plan.stall = Seconds{options.stall / 1000.0};
    const PeersResult result{scene.chart, scene.course ? scene.course->spec().name : "", options,
                             rehearsal::rehearse_peers(scene, plan)};
    fmt::print("{}", options.json ? peers_json(result) : peers_summary(result));
    return result.result.same ? 0 : 1;
}

}  // namespace

int net_command(const NetOptions& options) {
    check(options);
    const CallFiles files{
        {{"CHART", options.chart}, {"--drill", options.drill}, {"--course", options.course}},
        {{"--match", options.match, FileKind::match}, picture_output("--picture", options.picture)},
        options.json};
    check_files(files);
    const ChartFile chart = open_chart(options.chart);
    rehearsal::Scene scene{chart.chart, {}, std::nullopt};
    if (!options.course.empty()) {
        scene.course = open_course(options.course);
    }
    if (options.drill.empty() && options.hands == "human") {
        DrillSpec start;  // of which only the place is taken
        start.name = "human hands";
        start.seconds = options.seconds;
        scene.drills.emplace_back(start, chart.chart);
        scene.human_hands = true;
    } else if (options.drill.empty()) {
        rehearsal::Random random(options.seed);
        for (std::size_t i = 0; i < options.clients * options.players; ++i) {
            scene.drills.emplace_back(rehearsal::random_hands(chart.chart, Seconds{options.seconds}, random),
                                      chart.chart);
        }
    } else {
        scene.drills.push_back(open_fresh_drill(options.drill, chart.chart).drill);
    }
    if (options.peers > 0) {
        return play_peers(options, scene);
    }
    NetOptions played = options;
    played.snapshots = options.rate / snapshot_every(options);
    link::ThreadWorkers workers(
        std::min<std::size_t>(options.clients, std::max(1U, std::thread::hardware_concurrency())));
    rehearsal::Rehearsal game(scene, plan_of(options));
    game.set_workers(&workers);
    std::string match;
    play(game, chart, scene, options, match);
    NetResult net{chart.chart, scene.drills.front().name(), scene.course ? scene.course->spec().name : "",
                  played, game.finish()};
    if (!options.match.empty()) {
        write_text(options.match, match);
    }
    if (!options.picture.empty()) {
        draw_net(net, options.picture);
    }
    if (options.json) {
        fmt::print("{}", net_json(net));
        return 0;
    }
    fmt::print(text_stream(files), "{}", net_summary(net));
    tell_written(files);
    return 0;
}

}  // namespace cursimeter::tool
