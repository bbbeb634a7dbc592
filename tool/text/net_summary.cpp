#include <fmt/format.h>

#include <algorithm>
#include <iterator>

#include "text/net_summary.hpp"

namespace cursimeter::tool {
namespace {

constexpr std::size_t most_lines = 16;

std::string faults_text(const NetOptions& o) {
    std::string text =
        fmt::format("round trip {:g} ms, jitter {:g} ms, loss {:g} %", 2.0 * o.delay, o.jitter, o.loss);
    const auto more = [&](double value, const char* name, const char* unit) {
        if (value > 0.0) {
            text += fmt::format(", {} {:g} {}", name, value, unit);
        }
    };
    more(o.burst, "in bursts up to", "ms");
    more(o.duplicate, "duplication", "%");
    more(o.reorder, "reordering", "%");
    more(o.corrupt, "corruption", "%");
    more(o.bandwidth, "bandwidth", "kB/s");
    text += o.sealed ? ", sealed" : "";
    more(o.frames, o.peers > 0 ? "programs at" : "clients at", "frames a second");
    more(o.stall, "which stand still every 10 s for", "ms");
    return text;
}

}  // namespace

std::string net_summary(const NetResult& net) {
    std::string text;
    const auto print = [&]<class... Args>(fmt::format_string<Args...> format, Args&&... args) {
        fmt::format_to(std::back_inserter(text), format, std::forward<Args>(args)...);
    };
    const rehearsal::Result& result = net.result;
    print("{}, {} client{}{}, \"{}\"{}: {:g} s at {:g} ticks and {:g} snapshots a second\n", net.chart.name(),
          result.clients.size(), result.clients.size() == 1 ? "" : "s",
          net.options.players > 1 ? fmt::format(" with {} players each", net.options.players) : "", net.drill,
          net.course.empty() ? "" : fmt::format(" over \"{}\"", net.course), result.seconds, net.options.rate,
          net.options.snapshots);
    print("{}; seed {}\n\n", faults_text(net.options), net.options.seed);

    print(
        "client  corrections     rollback        missing  late  input   others   up      down    others' "
        "places off by\n");
    print(
        "        (seen) largest  ticks, deepest  inputs         delay   behind   B/s     B/s     median  99 "
        "%    worst\n");
    std::uint64_t corrections = 0, seen = 0, missing = 0, differing = 0, compared = 0, wrong = 0, shown = 0;
    std::size_t absent = 0;
    double yaw = 0.0, yaw_p99 = 0.0, pitch = 0.0, pitch_p99 = 0.0;
    double up = 0.0, down = 0.0, packets_up = 0.0, packets_down = 0.0;
    for (std::size_t i = 0; i < result.clients.size(); ++i) {
        const rehearsal::ClientResult& c = result.clients[i];
        corrections += c.corrections;
        seen += c.visible_corrections;
        missing += c.missing_after_first_second;
        differing += c.digests_differing;
        compared += c.digests_compared;
        wrong += c.events_out_of_order + c.statistics.events_skipped;
        shown += c.events_shown;
        yaw = std::max(yaw, c.yaw_error_median);
        yaw_p99 = std::max(yaw_p99, c.yaw_error_p99);
        pitch = std::max(pitch, c.pitch_error_median);
        pitch_p99 = std::max(pitch_p99, c.pitch_error_p99);
        up += c.bytes_up_per_s;
        down += c.bytes_down_per_s;
        packets_up += c.packets_up_per_s;
        packets_down += c.packets_down_per_s;
        absent += c.joined ? 0 : 1;
        if (i < most_lines && !c.joined) {
            print("{:<6}  has not joined\n", i + 1);
        } else if (i < most_lines) {
            print(
                "{:<6}  {:<3} ({}) {:5.1f} cm  {:>5}, {:<7}  {:<7}  {:<4}  {:3.0f} ms  {:4.0f} ms  {:<6.0f}  "
                "{:<6.0f}  {:.1f} cm  {:.1f} cm  {:.1f} cm\n",
                i + 1, c.corrections, c.visible_corrections, 100.0 * c.correction_max, c.statistics.replayed,
                c.statistics.deepest, c.seat.missing, c.seat.late, 1000.0 * c.input_delay,
                1000.0 * c.view_delay, c.bytes_up_per_s, c.bytes_down_per_s, 100.0 * c.remote_error_median,
                100.0 * c.remote_error_p99, 100.0 * c.remote_error_max);
        }
    }
    if (result.clients.size() > most_lines) {
        print("...     {} more; --json has them all\n", result.clients.size() - most_lines);
    }
    if (absent > 0) {
        print("\n{} of {} clients could not join over this link: too little comes through it in the time.\n",
              absent, result.clients.size());
    }
    print("\ncorrections   {}, of which {} of more than 5 cm\n", corrections, seen);
    print("inputs        {} missed by the server after each client's first second\n", missing);
    print("own runners   {} of {} acknowledged states differ from the server's\n", differing, compared);
    print("others        {} state changes shown, {} wrong, out of order or left out\n", shown, wrong);
    print(
        "looks         of others off by {:.1f} and {:.1f} degrees of yaw, {:.1f} and {:.1f} of pitch: median "
        "and 99 %, "
        "worst client\n",
        yaw, yaw_p99, pitch, pitch_p99);
    print(
        "traffic       up {:.0f} B/s in {:.0f} packets/s, down {:.0f} B/s in {:.0f} packets/s, all clients "
        "together\n",
        up, packets_up, down, packets_down);
    print("per remote    {:.2f} bytes for each runner in each snapshot\n", result.bytes_per_remote_snapshot);
    print("digest        {:016x}\n", result.digest);
    return text;
}

std::string peers_summary(const PeersResult& peers) {
    std::string text;
    const auto print = [&]<class... Args>(fmt::format_string<Args...> format, Args&&... args) {
        fmt::format_to(std::back_inserter(text), format, std::forward<Args>(args)...);
    };
    const NetOptions& o = peers.options;
    print("{}, {} players without a server, human hands{}: {:g} s at {:g} ticks a second\n",
          peers.chart.name(), peers.result.ends.size(),
          peers.course.empty() ? "" : fmt::format(" over \"{}\"", peers.course), o.seconds, o.rate);
    print("{}; seed {}\n\n", faults_text(o), o.seed);
    print(
        "player  played again               late   ahead    round    up      others' places, at first, off "
        "by\n");
    print("        times    ticks   deepest   ticks  ticks    trip     B/s     median   99 %      worst\n");
    for (std::size_t i = 0; i < peers.result.ends.size(); ++i) {
        const rehearsal::PeerEndResult& end = peers.result.ends[i];
        const link::PeerStatistics& s = end.statistics;
        if (end.phase != link::PeerPhase::playing) {
            print("{:<6}  {}\n", i + 1,
                  end.phase == link::PeerPhase::joining ? "has not heard of all others" : "plays no more");
            continue;
        }
        print(
            "{:<6}  {:<7}  {:<6}  {:<8}  {:<5}  {:<7.1f}  {:<4.0f} ms  {:<6.0f}  {:.1f} cm   {:.1f} cm   "
            "{:.1f} cm\n",
            i + 1, s.rollbacks, s.replayed, s.deepest, s.waits, s.ahead, 1000.0 * s.round_trip.value,
            end.bytes_up_per_s, 100.0 * end.error_median, 100.0 * end.error_p99, 100.0 * end.error_max);
    }
    std::uint64_t compared = 0;
    for (const rehearsal::PeerEndResult& end : peers.result.ends) {
        compared += end.statistics.compared;
    }
    print("\nall ends      {} ticks known for good, {} to the bit; {} digests compared by themselves\n",
          peers.result.confirmed, peers.result.same ? "the same" : "NOT THE SAME", compared);
    print("digest        {:016x}\n", peers.result.digest);
    return text;
}

}  // namespace cursimeter::tool
