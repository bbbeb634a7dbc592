#include <benchmark/benchmark.h>
#include <malloc.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/link/match.hpp>
#include <cursimeter/link/thread_workers.hpp>
#include <cursimeter/rehearsal/human_hands.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

#include "link/wire/exact_runner.hpp"
#include "link/wire/replica_coding.hpp"

/// What replication costs: a server's tick with everybody in sight of everybody, the coding of one runner, and a
/// client that plays eight ticks again.
namespace {

using namespace cursimeter;

const Chart& bearer() {
    static const Chart chart = load_chart(CURSIMETER_SOURCE_DIR "/demo/charts/bearer.toml").chart;
    return chart;
}

constexpr double tick = 1.0 / 60.0;

/// A server and clients, wired without delay, until all have joined.
struct Hall {
    Hall(std::size_t count, double interest, bool by_human)
        : random(1), human(by_human), server({bearer()}, config(count, interest)) {
        for (std::size_t i = 0; i < count; ++i) {
            link::ClientConfig mine;
            mine.identity = mine.attempt = i + 1;
            mine.runners = count;
            clients.push_back(std::make_unique<link::Client>(std::vector{bearer()}, mine));
            intents.emplace_back();
            hands.emplace_back(bearer(), i + 1);
        }
        for (int i = 0; i < 90; ++i) {
            send_up();
            serve();
            bring_down();
        }
    }
    static link::ServerConfig config(std::size_t count, double interest) {
        link::ServerConfig config;
        config.seats = config.runners = count;
        config.secret = 1;
        config.interest = interest;
        return config;
    }
    void send_up() {
        begin_tick();
        for (std::size_t i = 0; i < clients.size(); ++i) {
            show_frame(i, time);
            play(i);
        }
    }
    void begin_tick() {
        time += tick;
        server.tell_time(Seconds{time});
        for (std::size_t i = 0; i < clients.size(); ++i) {
            if (human) {
                intents[i] = hands[i].next(Seconds{tick});
            } else if (random.chance(0.02)) {
                intents[i].move = {random.between(-1.0, 1.0), random.between(-1.0, 1.0)};
                intents[i].look = {random.between(-3.0, 3.0), 0.0};
                intents[i].held = static_cast<std::uint32_t>(random.below(64));
            }
        }
    }
    void show_frame(std::size_t i, double at) { clients[i]->tell_time(Seconds{at}); }
    /// A client's ticks that are due, and its packets.
    void play(std::size_t i) {
        while (clients[i]->due()) {
            clients[i]->tick(intents[i], ground);
        }
        while (const auto packet = clients[i]->next_packet()) {
            up.emplace_back(i, std::vector<std::byte>(packet->begin(), packet->end()));
        }
    }
    /// What the server does in a tick, packets and all.
    void serve() {
        for (const auto& [who, bytes] : up) {
            server.receive({who + 1}, bytes);
        }
        up.clear();
        while (const auto event = server.next_event()) {
            if (event->kind == link::ServerEventKind::joined) {
                const double place = 4.0 * static_cast<double>(event->seat.index);
                server.spawn(0, {{place, 0.0, 0.0}, 0.0}, event->seat);
            }
        }
        server.tick(ground);
        while (const auto packet = server.next_packet()) {
            bytes_down += packet->bytes.size();
            down.emplace_back(packet->peer.value - 1,
                              std::vector<std::byte>(packet->bytes.begin(), packet->bytes.end()));
        }
    }
    void bring_down() {
        for (const auto& [who, bytes] : down) {
            clients[who]->receive(bytes, ground);
        }
        down.clear();
    }

    rehearsal::Random random;
    bool human;
    std::vector<rehearsal::HumanHands> hands;
    link::Server server;
    link::OpenGround ground;
    std::vector<std::unique_ptr<link::Client>> clients;
    std::vector<Intent> intents;
    std::vector<std::pair<std::size_t, std::vector<std::byte>>> up, down;
    std::size_t bytes_down = 0;
    double time = 0.0;  ///< s
};

/// One snapshot interval of the server: three ticks and all snapshots. 50 ms are to be had.
void server_interval(benchmark::State& state) {
    const auto count = static_cast<std::size_t>(state.range(0));
    Hall hall(count, static_cast<double>(state.range(1)), state.range(2) != 0);
    link::ThreadWorkers workers(static_cast<std::size_t>(state.range(3)));
    if (state.range(3) > 1) {
        hall.server.set_workers(&workers);
    }
    for (auto _ : state) {
        for (int i = 0; i < 3; ++i) {
            state.PauseTiming();
            hall.send_up();
            state.ResumeTiming();
            hall.serve();
            state.PauseTiming();
            hall.bring_down();
            state.ResumeTiming();
        }
    }
    state.counters["of_50_ms"] =
        benchmark::Counter(static_cast<double>(state.iterations()) * 0.05,
                           benchmark::Counter::kIsRate | benchmark::Counter::kInvert);
}
BENCHMARK(server_interval)
    ->ArgNames({"clients", "metres", "human", "threads"})
    ->Args({64, 100000, 1, 1})
    ->Args({200, 100000, 1, 1})
    ->Args({200, 100, 1, 1})
    ->Args({64, 100000, 0, 1})
    ->Args({64, 100000, 1, 2})
    ->Args({200, 100000, 1, 2})
    ->UseRealTime()
    ->Unit(benchmark::kMillisecond);

/// One snapshot interval of a client that sees everybody: three ticks of its own, a snapshot, and its frames. 50 ms are to be had.
void client_interval(benchmark::State& state) {
    const auto frames = static_cast<int>(state.range(1));
    Hall hall(static_cast<std::size_t>(state.range(0)), 1e5, true);
    std::vector<std::pair<std::size_t, std::vector<std::byte>>> mine;
    for (auto _ : state) {
        for (int i = 0; i < 3; ++i) {
            state.PauseTiming();
            hall.begin_tick();
            for (std::size_t other = 1; other < hall.clients.size(); ++other) {
                hall.show_frame(other, hall.time);
                hall.play(other);
            }
            state.ResumeTiming();
            for (int frame = frames - 1; frame >= 0; --frame) {
                hall.show_frame(0, hall.time - tick * frame / frames);
            }
            hall.play(0);
            state.PauseTiming();
            hall.serve();
            mine.clear();
            std::erase_if(hall.down, [&](auto& packet) {
                if (packet.first == 0) {
                    mine.push_back(std::move(packet));
                }
                return packet.first == 0;
            });
            hall.bring_down();
            state.ResumeTiming();
            for (const auto& [who, bytes] : mine) {
                hall.clients[who]->receive(bytes, hall.ground);
            }
        }
    }
    state.counters["of_50_ms"] =
        benchmark::Counter(static_cast<double>(state.iterations()) * 0.05,
                           benchmark::Counter::kIsRate | benchmark::Counter::kInvert);
}
BENCHMARK(client_interval)
    ->ArgNames({"clients", "frames_a_tick"})
    ->Args({64, 1})
    ->Args({64, 4})
    ->Args({200, 4})
    ->UseRealTime()
    ->Unit(benchmark::kMicrosecond);

/// Runners in the middle of all kinds of things.
std::vector<Runner> moments() {
    rehearsal::Random random(3);
    const Drill drill(rehearsal::random_hands(bearer(), Seconds{20.0}, random), bearer());
    Runner runner = drill.spawn(bearer());
    DrillPlayer player(drill, runner);
    std::vector<Runner> all;
    for (int i = 0; i < 1100; ++i) {
        static_cast<void>(advance(bearer(), runner, player.intent(i * tick, (i + 1) * tick), Seconds{tick}));
        all.push_back(runner);
    }
    return all;
}

void code_sixteen(benchmark::State& state, bool reads) {
    const link::Cast cast(bearer());
    const std::vector<Runner> all = moments();
    std::vector<link::Replica> told;
    for (const Runner& runner : all) {
        told.push_back(link::rounded(link::observe(cast, runner, 0.0, 0)));
    }
    std::vector<std::byte> buffer(1200);
    std::size_t i = 0;
    for (auto _ : state) {
        // Sixteen in a packet, each by its replica of four ticks before.
        link::wire::Writer writer(buffer);
        link::wire::ReplicaModels models;
        for (int k = 0; k < 16; ++k, i = i + 5 < told.size() ? i + 1 : 0) {
            link::Replica one = told[i + 4];
            link::wire::code_replica(writer, models, one, told[i], 0, 0,
                                     [&](const link::Replica*) { return told[i]; });
        }
        const std::size_t size = writer.finish();
        if (reads) {
            link::wire::Reader reader({buffer.data(), size});
            link::wire::ReplicaModels again;
            link::Replica one;
            for (int k = 0; k < 16; ++k) {
                link::wire::code_replica(
                    reader, again, one, told[static_cast<std::size_t>(k)], 0, 0,
                    [&](const link::Replica*) { return told[static_cast<std::size_t>(k)]; });
            }
            benchmark::DoNotOptimize(one);
        }
    }
    state.SetItemsProcessed(state.iterations() * 16);
}
BENCHMARK_CAPTURE(code_sixteen, write, false);
BENCHMARK_CAPTURE(code_sixteen, write_and_read, true);

void predict_one_replica(benchmark::State& state) {
    const link::Cast cast(bearer());
    const std::vector<Runner> all = moments();
    std::size_t i = 0;
    for (auto _ : state) {
        const link::Replica from = link::observe(cast, all[i], 0.0, 0);
        benchmark::DoNotOptimize(link::predict(cast, from, 0.05, from.on));
        i = i + 1 < all.size() ? i + 1 : 0;
    }
}
BENCHMARK(predict_one_replica)->Name("observe_and_predict_a_replica");

void exact_runner(benchmark::State& state) {
    const std::vector<Runner> all = moments();
    std::vector<std::byte> buffer(1200);
    std::size_t i = 0, bytes = 0;
    for (auto _ : state) {
        link::wire::Writer writer(buffer);
        link::wire::write_runner(writer, all[i]);
        const std::size_t size = writer.finish();
        bytes += size;
        link::wire::Reader reader({buffer.data(), size});
        Runner read;
        benchmark::DoNotOptimize(link::wire::read_runner(reader, bearer(), read));
        i = i + 1 < all.size() ? i + 1 : 0;
    }
    state.counters["bytes"] = static_cast<double>(bytes) / static_cast<double>(state.iterations());
}
BENCHMARK(exact_runner)->Name("write_and_read_an_exact_runner");

/// A tick of a server of 64 runners and no clients, recorded (1) or not: the difference is what recording costs.
void recorded_tick(benchmark::State& state) {
    link::ServerConfig config;
    config.secret = 1;
    link::Server server({bearer()}, config);
    std::vector<rehearsal::HumanHands> hands;
    for (std::size_t i = 0; i < config.runners; ++i) {
        server.spawn(0, {{2.0 * static_cast<double>(i), 0.0, 0.0}, 0.0});
        hands.emplace_back(bearer(), i + 1);
    }
    link::MatchRecorder recorder(server);
    server.record(state.range(0) != 0 ? &recorder : nullptr);
    const std::vector<link::RunnerKey> keys = server.runners();
    link::OpenGround ground;
    std::size_t bytes = 0;
    for (auto _ : state) {
        state.PauseTiming();
        for (std::size_t i = 0; i < keys.size(); ++i) {
            server.direct(keys[i], hands[i].next(Seconds{tick}));
        }
        bytes += recorder.bytes().size();
        recorder.clear();
        state.ResumeTiming();
        server.tick(ground);
    }
    state.counters["bytes"] = static_cast<double>(bytes) / static_cast<double>(state.iterations() * 64);
}
BENCHMARK(recorded_tick)->ArgName("recorded")->Arg(0)->Arg(1)->Unit(benchmark::kMicrosecond);

/// Restore, then eight ticks again, each saved: what a correction costs.
void replay_eight(benchmark::State& state) {
    const std::vector<Runner> all = moments();
    std::array<Runner, 9> ring{};
    Intent intent;
    intent.move = {1.0, 0.0};
    std::size_t i = 0;
    for (auto _ : state) {
        ring[0] = all[i];
        intent.held = static_cast<std::uint32_t>(i & 1U);
        for (std::size_t k = 1; k < ring.size(); ++k) {
            ring[k] = ring[k - 1];
            benchmark::DoNotOptimize(advance(bearer(), ring[k], intent, Seconds{tick}));
        }
        i = i + 1 < all.size() ? i + 1 : 0;
    }
}
BENCHMARK(replay_eight)->Name("restore_and_replay_8_ticks");

}  // namespace

namespace {

/// kB that something made by `make` holds.
template <class Make>
std::string held(Make&& make) {
    const auto in_use = [] {
        const struct mallinfo2 info = mallinfo2();
        return info.uordblks + info.hblkhd;
    };
    const std::size_t before = in_use();
    const auto made = make();
    benchmark::DoNotOptimize(made);
    return std::to_string((in_use() - before) / 1000) + " kB";
}

std::string held_by_server(std::size_t seats, std::size_t runners) {
    return held([&] {
        link::ServerConfig config;
        config.seats = seats;
        config.runners = runners;
        config.secret = 1;
        return std::make_unique<link::Server>(std::vector{bearer()}, config);
    });
}
std::string held_by_client(std::size_t runners) {
    return held([&] {
        link::ClientConfig config;
        config.identity = config.attempt = 1;
        config.runners = runners;
        return std::make_unique<link::Client>(std::vector{bearer()}, config);
    });
}

}  // namespace

int main(int argc, char** argv) {
    static_cast<void>(bearer());
    for (const std::size_t count : {std::size_t{16}, std::size_t{64}, std::size_t{200}}) {
        const std::string text = std::to_string(count);
        benchmark::AddCustomContext("server of " + text + " seats and runners", held_by_server(count, count));
        benchmark::AddCustomContext("client for " + text + " runners", held_by_client(count));
    }
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
