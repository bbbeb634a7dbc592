#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <cursimeter/effects.hpp>
#include <set>

#include "link/scene.hpp"
#include "support/share.hpp"

/// A random game over a random network, from a seed: clients that join, leave, vanish and come back, links that lose,
/// delay, double, damage and fall silent, programs that stand still, run
/// at any frame rate and by wrong clocks, one to four players at each with calm or human hands, a game that pushes, blocks, spends, teleports, spawns and despawns. Then
/// everything calms down, and everybody must agree. The same seed plays the same game.
///
/// usage: random_link [COUNT [FIRST_SEED]]; prints each seed that fails, and how
namespace {

using namespace support;
using link::RunnerKey;

constexpr double lively = 9.0, calm = 5.0;  ///< s

struct Failures {
    std::string text;
    template <class... Args>
    void require(bool holds, fmt::format_string<Args...> format, Args&&... args) {
        if (!holds) {
            text += "    " + fmt::format(format, std::forward<Args>(args)...) + "\n";
        }
    }
};

rehearsal::LinkFaults random_faults(rehearsal::Random& random) {
    rehearsal::LinkFaults faults;
    faults.delay = Seconds{random.between(0.0, 0.2)};
    faults.jitter = Seconds{random.chance(0.7) ? random.between(0.0, 0.05) : 0.0};
    faults.loss = random.chance(0.7) ? random.between(0.0, 0.3) : 0.0;
    faults.burst = Seconds{random.chance(0.4) ? random.between(0.0, 0.15) : 0.0};
    faults.duplicate = random.chance(0.5) ? random.between(0.0, 0.1) : 0.0;
    faults.reorder = random.chance(0.5) ? random.between(0.0, 0.1) : 0.0;
    faults.corrupt = random.chance(0.3) ? random.between(0.0, 0.05) : 0.0;
    return faults;
}

/// What a game does to its runners.
class Game {
  public:
    Game(const Chart& chart, std::uint64_t seed) : chart_(chart), random_(seed) {}

    void act(link::Server& server) {
        const std::vector<RunnerKey> keys = server.runners();
        if (!on || keys.empty() || !random_.chance(0.02)) {
            return;
        }
        const RunnerKey key = keys[random_.below(keys.size())];
        Runner& runner = server.runner(key);
        switch (random_.below(8)) {
            case 0: {
                Push push;
                push.direction = {random_.between(-1.0, 1.0), random_.between(-1.0, 1.0), 0.2};
                push.strength = random_.between(0.0, 12.0);
                push.lift = random_.chance(0.5) ? 0.3 : 0.0;
                push.seconds = random_.between(0.0, 0.8);
                push.locks = random_.chance(0.3);
                cursimeter::push(runner, push);
                break;
            }
            case 1:
                static_cast<void>(try_spend(chart_, runner, MeterId{0}, random_.between(0.0, 40.0)));
                break;
            case 2:
                server.teleport(key,
                                {{random_.between(-40.0, 40.0), random_.between(-40.0, 40.0), 0.0}, 0.0});
                break;
            case 3:
                if (chart_.modifier_count() > 0) {
                    const auto kind = static_cast<std::uint8_t>(random_.below(chart_.modifier_count()));
                    grant(chart_, runner, ModifierId{kind});
                }
                break;
            case 4:
                if (chart_.block_count() > 0) {
                    const BlockId ban{static_cast<std::uint8_t>(random_.below(chart_.block_count()))};
                    static_cast<void>(blocked(chart_, runner, ban) > 0 ? unblock(chart_, runner, ban)
                                                                       : block(chart_, runner, ban));
                }
                break;
            case 5:
                bots_.push_back(
                    server.spawn(0, {{random_.between(-20.0, 20.0), -6.0, 0.0}, 0.0}).value_or(RunnerKey{}));
                break;
            case 6:
                if (!bots_.empty()) {
                    server.despawn(bots_[random_.below(bots_.size())]);
                }
                break;
            default:
                for (const RunnerKey bot : bots_) {
                    if (server.exists(bot)) {
                        Intent intent;
                        intent.move = {random_.between(-1.0, 1.0), random_.between(-1.0, 1.0)};
                        intent.held = static_cast<std::uint32_t>(random_.next());
                        server.direct(bot, intent);
                    }
                }
        }
    }
    bool on = true;

  private:
    Chart chart_;
    rehearsal::Random random_;
    std::vector<RunnerKey> bots_;
};

void check_agreement(rehearsal::Rehearsal& game, Failures& failures) {
    link::Server& server = game.server();
    const std::vector<RunnerKey> all = server.runners();
    for (std::size_t i = 0; i < game.client_count(); ++i) {
        link::Client& client = game.client(i);
        if (!game.running(i) || client.phase() != link::Phase::joined) {
            continue;
        }
        std::set<RunnerKey> own;
        for (std::size_t player = 0; player < server.read_seat(client.seat()).players; ++player) {
            const auto key = client.own_key(player);
            failures.require(key.has_value(), "client {} has no runner for player {}", i, player);
            failures.require(key && server.exists(*key), "client {} plays a runner that is not there", i);
            failures.require(server.read_seat(client.seat()).runners[player] == key,
                             "client {} plays the runner of another player", i);
            own.insert(key.value_or(RunnerKey{}));
        }
        std::size_t seen = 0;
        for (const RunnerKey key : all) {
            if (own.contains(key)) {
                continue;
            }
            const auto shown = client.shown(key);
            failures.require(shown.has_value(), "client {} does not see runner {}", i, key.place);
            if (!shown) {
                continue;
            }
            ++seen;
            const Runner& truth = server.runner(key);
            const glm::dvec3 off = shown->position - truth.position();
            // What has just changed is not shown yet.
            const bool still = truth.speed() < 0.01 && truth.time_in_state() > Seconds{1.0};
            failures.require(!still || std::sqrt(off.x * off.x + off.y * off.y + off.z * off.z) < 0.03,
                             "client {} sees runner {} at rest in another place", i, key.place);
            failures.require(!still || shown->state == truth.state(),
                             "client {} sees runner {} in another state", i, key.place);
        }
        failures.require(client.others().size() == seen, "client {} sees {} runners, there are {}", i,
                         client.others().size(), seen);
    }
}

std::string play(std::uint64_t seed) {
    rehearsal::Random random(seed);
    const bool keeper = random.chance(0.5);
    static const Chart charts[2] = {bearer_chart(), load_chart(demo("charts/keeper.toml")).chart};
    const Chart& chart = charts[keeper ? 1 : 0];
    rehearsal::Scene scene{chart, {}, std::nullopt};
    const std::size_t clients = 1 + random.below(5);
    for (std::size_t i = 0; i < clients + 3; ++i) {
        scene.drills.emplace_back(rehearsal::random_hands(chart, Seconds{lively}, random), chart);
    }
    rehearsal::Plan plan;
    plan.clients = clients;
    plan.seed = random.next();
    plan.server.tick_rate = random.chance(0.7) ? 60.0 : 30.0;
    plan.server.snapshot_every = static_cast<std::uint32_t>(1 + random.below(3));
    plan.server.seats = clients + 3;
    plan.client.players = random.chance(0.5) ? 1 : 1 + random.below(link::most_players);
    plan.server.runners = (clients + 3) * plan.client.players + 12;
    plan.server.silence = Seconds{random.between(0.5, 3.0)};
    plan.server.keep = Seconds{random.between(0.2, 20.0)};
    plan.client.silence = plan.server.silence;
    plan.up = random_faults(random);
    plan.down = random_faults(random);
    scene.human_hands = random.chance(0.5);
    plan.sealed = random.chance(0.3);
    plan.frame_rate = random.chance(0.3) ? 0.0 : random.between(20.0, 240.0);
    // Enough to keep up with, at least.
    const double needed = std::ceil(1.1 * plan.server.tick_rate / std::max(plan.frame_rate, 1.0));
    plan.most_ticks_a_frame =
        plan.frame_rate > 0.0 && random.chance(0.3) ? static_cast<int>(needed + random.between(0.0, 3.0)) : 0;
    plan.clock_drift = random.chance(0.3) ? random.between(-0.01, 0.01) : 0.0;

    rehearsal::Rehearsal rehearsal(scene, plan);
    Game game(chart, random.next());
    rehearsal.before_tick([&](link::Server& server) { game.act(server); });
    std::vector<bool> here(clients, true);
    for (double time = 0.3; time < lively; time += random.between(0.1, 0.6)) {
        rehearsal.run_until(time);
        const std::size_t who = random.below(rehearsal.client_count());
        switch (random.below(12)) {
            case 0:
                if (rehearsal.client_count() < clients + 3) {
                    rehearsal.join();
                    here.push_back(true);
                }
                break;
            case 1:
                here[who] ? rehearsal.leave(who) : rehearsal.rejoin(who);
                here[who] = !here[who];
                break;
            case 2:
                here[who] ? rehearsal.drop(who) : rehearsal.rejoin(who);
                here[who] = !here[who];
                break;
            case 3:
                rehearsal.up(who).be_silent_until(time + random.between(0.05, 1.0));
                break;
            case 4:
                rehearsal.down(who).be_silent_until(time + random.between(0.05, 1.0));
                break;
            case 5:
                rehearsal.stall(who, Seconds{random.between(0.02, 2.0)});
                break;
            case 6:
                if (random.chance(0.3)) {
                    rehearsal.stall_server(Seconds{random.between(0.02, 1.5)});
                }
                break;
            default:
                break;
        }
    }
    rehearsal.run_until(lively);
    game.on = false;
    rehearsal.hush();
    for (std::size_t i = 0; i < rehearsal.client_count(); ++i) {
        for (rehearsal::SimulatedLink* link : {&rehearsal.up(i), &rehearsal.down(i)}) {
            rehearsal::LinkFaults mended;
            mended.delay = Seconds{0.05};
            link->set_faults(mended);
            link->be_silent_until(0.0);
        }
    }
    rehearsal.run_until(lively + calm);
    // Seats that are forgotten take their runners along: wait until that has got round, too.
    for (std::vector<RunnerKey> before; before != rehearsal.server().runners();) {
        before = rehearsal.server().runners();
        rehearsal.run_until(rehearsal.now() + 1.0);
    }

    Failures failures;
    check_agreement(rehearsal, failures);
    const rehearsal::Result result = rehearsal.finish();
    for (std::size_t i = 0; i < result.clients.size(); ++i) {
        const rehearsal::ClientResult& client = result.clients[i];
        failures.require(client.digests_differing == 0, "client {}: {} acknowledged states differ", i,
                         client.digests_differing);
        failures.require(client.events_out_of_order == 0, "client {}: {} changes out of order ({} rejoins)",
                         i, client.events_out_of_order, client.statistics.rejoins);
        failures.require(client.events_missing == 0, "client {}: {} changes never shown", i,
                         client.events_missing);
        failures.require(client.statistics.events_skipped == 0, "client {}: {} events skipped", i,
                         client.statistics.events_skipped);
        failures.require(client.statistics.malformed == 0, "client {}: {} packets without sense", i,
                         client.statistics.malformed);
    }
    failures.require(result.server.malformed + result.server.false_acks == 0,
                     "server: {} packets without sense, {} false acknowledgements", result.server.malformed,
                     result.server.false_acks);
    return failures.text;
}

}  // namespace

int main(int argc, char** argv) {
    const std::uint64_t count =
        support::share_of(argc > 1 ? static_cast<unsigned>(std::strtoul(argv[1], nullptr, 10)) : 2000U);
    const std::uint64_t first = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
    std::uint64_t failed = 0;
    for (std::uint64_t seed = first; seed < first + count; ++seed) {
        const std::string failure = play(seed);
        if (!failure.empty()) {
            ++failed;
            fmt::print("seed {} fails; again alone: random_link 1 {}\n{}", seed, seed, failure);
            std::fflush(stdout);
        }
    }
    fmt::print("{} games from seed {} on, {} failed\n", count, first, failed);
    return failed == 0 ? 0 : 1;
}
