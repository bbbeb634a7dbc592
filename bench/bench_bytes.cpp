#include <fmt/format.h>
#include <zstd.h>

#include <cstdlib>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

#include "crowd_snapshot.pb.h"
#include "crowd_snapshot_generated.h"

/// Bytes for each other runner in each snapshot: the link beside a plain struct, and beside float fields in protobuf
/// and FlatBuffers with zstd, for the same players. usage: bench_bytes [RUNNERS [SECONDS]]
namespace {

using namespace cursimeter;

struct PlainDouble {
    double position[3], velocity[3], yaw;
    std::uint32_t id, state, held, padding;
};
struct PlainFloat {
    float position[3], velocity[3], yaw;
    std::uint32_t id, state, held;
};

std::size_t zstd_size(const void* data, std::size_t size) {
    static std::vector<char> out(1U << 20U);
    const std::size_t packed = ZSTD_compress(out.data(), out.size(), data, size, 3);
    if (ZSTD_isError(packed) != 0) {
        throw std::runtime_error("zstd fails");
    }
    return packed;
}

struct Sums {
    std::size_t protobuf = 0, flatbuffers = 0, told = 0;
};

void take_snapshot(link::Server& server, Sums& sums) {
    crowd_proto::Snapshot proto;
    proto.set_tick(server.now().value);
    std::vector<crowd_flat::Runner> flat;
    const std::vector<link::RunnerKey> keys = server.runners();
    for (std::size_t i = 1; i < keys.size(); ++i) {  // all but the reader's own
        const Runner& runner = server.runner(keys[i]);
        const glm::vec3 at(runner.position()), velocity(runner.velocity());
        const auto yaw = static_cast<float>(runner.yaw());
        crowd_proto::Runner& one = *proto.add_runners();
        one.set_id(keys[i].place);
        one.set_x(at.x);
        one.set_y(at.y);
        one.set_z(at.z);
        one.set_vx(velocity.x);
        one.set_vy(velocity.y);
        one.set_vz(velocity.z);
        one.set_yaw(yaw);
        one.set_state(runner.state().index);
        flat.emplace_back(keys[i].place, runner.state().index, at.x, at.y, at.z, velocity.x, velocity.y,
                          velocity.z, yaw);
    }
    const std::string text = proto.SerializeAsString();
    sums.protobuf += zstd_size(text.data(), text.size());
    flatbuffers::FlatBufferBuilder builder;
    const auto runners = builder.CreateVectorOfStructs(flat);
    builder.Finish(crowd_flat::CreateSnapshot(builder, server.now().value, runners));
    sums.flatbuffers += zstd_size(builder.GetBufferPointer(), builder.GetSize());
    sums.told += flat.size();
}

rehearsal::Result play(std::size_t count, double seconds, double loss, Sums* sums) {
    const Chart chart = load_chart(CURSIMETER_SOURCE_DIR "/demo/charts/bearer.toml").chart;
    rehearsal::Scene scene{chart, {}, std::nullopt};
    rehearsal::Random random(1);
    for (std::size_t i = 0; i < count; ++i) {
        scene.drills.emplace_back(rehearsal::random_hands(chart, Seconds{seconds}, random), chart);
    }
    rehearsal::Plan plan;
    plan.clients = count;
    plan.seconds = seconds;
    plan.server.seats = plan.server.runners = count;
    plan.up.delay = plan.down.delay = Seconds{0.075};
    plan.up.jitter = plan.down.jitter = Seconds{0.02};
    plan.up.loss = plan.down.loss = loss;
    rehearsal::Rehearsal rehearsal(scene, plan);
    rehearsal.before_tick([&](link::Server& server) {
        if (sums != nullptr && server.now().value % plan.server.snapshot_every == 0 &&
            server.runners().size() == count) {
            take_snapshot(server, *sums);
        }
    });
    rehearsal.run_until(seconds);
    return rehearsal.finish();
}

}  // namespace

int main(int argc, char** argv) {
    const auto count = static_cast<std::size_t>(argc > 1 ? std::atoi(argv[1]) : 64);
    const double seconds = argc > 2 ? std::atof(argv[2]) : 60.0;
    Sums sums;
    const rehearsal::Result lossy = play(count, seconds, 0.05, &sums);
    const rehearsal::Result clean = play(count, seconds, 0.0, nullptr);
    const auto per = [&](std::size_t bytes) {
        return static_cast<double>(bytes) / static_cast<double>(sums.told);
    };
    fmt::print(
        "{} runners, {:g} s, 20 snapshots a second, round trip 150 ms; bytes for each other runner in each "
        "snapshot\n\n",
        count, seconds);
    fmt::print("{:<44} {:6.2f}\n", "plain struct of doubles", static_cast<double>(sizeof(PlainDouble)));
    fmt::print("{:<44} {:6.2f}\n", "plain struct of floats", static_cast<double>(sizeof(PlainFloat)));
    fmt::print("{:<44} {:6.2f}\n", "float fields in protobuf, zstd -3", per(sums.protobuf));
    fmt::print("{:<44} {:6.2f}\n", "float fields in FlatBuffers, zstd -3", per(sums.flatbuffers));
    fmt::print("{:<44} {:6.2f}\n", "link, no loss, with state changes", clean.bytes_per_remote_snapshot);
    fmt::print("{:<44} {:6.2f}\n", "link, 5 % loss, with state changes", lossy.bytes_per_remote_snapshot);
    double up = 0.0, median = 0.0;
    for (const rehearsal::ClientResult& client : lossy.clients) {
        up += client.bytes_up_per_s / static_cast<double>(count);
        median += client.remote_error_median / static_cast<double>(count);
    }
    fmt::print("\nup, from each client: {:.0f} B/s; others shown {:.1f} cm off (median)\n", up,
               100.0 * median);
    return 0;
}
