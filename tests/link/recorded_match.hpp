#pragma once

#include <cursimeter/effects.hpp>
#include <cursimeter/link/match.hpp>
#include <map>
#include <optional>
#include <vector>

#include "link/scene.hpp"

/// Matches for tests.
namespace support {

using link::Match;
using link::MatchPlayer;
using link::MatchRecorder;
using link::RunnerKey;

/// What a server's runners were after each tick, and the match that was recorded.
struct Recording {
    std::map<std::uint32_t, std::map<RunnerKey, std::uint64_t>> digests;
    Bytes bytes;
    std::optional<Course> course;
};

/// A game of human hands over a bad network, with a game that meddles.
inline Recording record(std::uint64_t seed, double seconds, bool on_course, double rate = 60.0) {
    Recording recording;
    rehearsal::Plan plan = usual_plan(4, seconds);
    plan.seed = seed;
    plan.server.runners = 8;
    plan.server.tick_rate = rate;
    plan.server.snapshot_every = std::max(1U, static_cast<std::uint32_t>(rate / 20.0));
    plan.client.tick_rate = rate;
    rehearsal::Scene scene = quay_scene();
    scene.human_hands = true;
    if (on_course) {
        recording.course = load_course(demo("courses/relay.toml"));
        scene.course = recording.course;
    }
    rehearsal::Rehearsal game(scene, plan);
    rehearsal::Random random(seed);
    std::optional<MatchRecorder> recorder;
    std::optional<RunnerKey> ghost;
    const auto note = [&](link::Server& server) {
        if (!recorder) {
            recorder.emplace(server, link::MatchOrigin{{}, {}, "meddled with"});
            server.record(&*recorder);
        } else {
            recording.digests[server.now().value];
            for (const RunnerKey key : server.runners()) {
                recording.digests[server.now().value][key] = digest(server.runner(key));
            }
            if (random.chance(0.3)) {
                recording.bytes.insert(recording.bytes.end(), recorder->bytes().begin(),
                                       recorder->bytes().end());
                recorder->clear();
            }
        }
    };
    game.before_tick([&](link::Server& server) {
        note(server);
        const std::vector<RunnerKey> keys = server.runners();
        if (keys.empty()) {
            return;
        }
        const RunnerKey any = keys[random.below(keys.size())];
        if (random.chance(0.02)) {
            push(server.runner(any), {.direction = {0.3, 1.0, 0.0}, .strength = 4.0, .seconds = 0.4});
        }
        if (random.chance(0.01)) {
            server.teleport(any, {{random.between(-5.0, 5.0), random.between(-5.0, 5.0), 0.0}, 1.0});
        }
        if (!ghost && random.chance(0.05)) {
            ghost = server.spawn(0, {{9.0, 9.0, 0.0}, 0.5});
        } else if (ghost && random.chance(0.01)) {
            server.despawn(*ghost);
            ghost.reset();
        } else if (ghost && random.chance(0.1)) {
            Intent intent;
            intent.move.forward = 1.0;
            intent.look.yaw = random.between(-3.0, 3.0);
            server.direct(*ghost, intent);
        }
    });
    game.run_until(seconds);
    note(game.server());  // the last tick
    game.server().record(nullptr);
    recording.bytes.insert(recording.bytes.end(), recorder->bytes().begin(), recorder->bytes().end());
    return recording;
}

}  // namespace support
