#pragma once

#include <cursimeter/course/course.hpp>
#include <cursimeter/drill/drill.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/link/workers.hpp>
#include <cursimeter/rehearsal/simulated_link.hpp>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

/// A server and its clients in one process, over simulated links, in virtual time: for tests and for the tool. It
/// allocates as it records.
namespace cursimeter::rehearsal {

/// A course as a world of a link, its platforms moved by the tick, for runners of these charts.
class OnCourse final : public link::Advancer {
  public:
    OnCourse(const Course& course, const std::vector<Chart>& charts, double tick_rate);
    OnCourse(const Course& course, const Chart& chart, double tick_rate)
        : OnCourse(course, std::vector{chart}, tick_rate) {}
    [[nodiscard]] Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                        const link::AdvanceContext& context) noexcept override;

  private:
    /// Each chart reads zones by names of its own.
    struct Seen {
        std::uint64_t chart;  ///< its digest
        CourseTerrain terrain;
    };
    std::vector<Seen> seen_;
    double dt_;
};

/// What is played where. Client i plays drill i, modulo their number: on open ground again and again, on a course
/// once, then it stands.
struct Scene {
    Chart chart;
    std::vector<Drill> drills;
    std::optional<Course> course;
    /// Clients play by hands of their own instead (see HumanHands): from drill i only the start is taken.
    bool human_hands = false;
};

/// A drill of random walks, looks, holds and presses, changed every 0.3 to 1.5 s: a player who tries everything.
[[nodiscard]] DrillSpec random_hands(const Chart& chart, Seconds length, Random& random);

struct Plan {
    std::size_t clients = 3;
    double seconds = 60.0;
    std::uint64_t seed = 1;
    LinkFaults up, down;  ///< from and to each client
    link::ServerConfig server;
    link::ClientConfig client;
    double start_apart = 2.0;  ///< m between the starts of neighbours, on open ground
    double drill_apart = 1.7;  ///< s of the drill by which each client is ahead of the one before
    bool keep_paths = false;   ///< for a picture
    /// The clients' programs run their loop as often in a second: packets wait for it, and so do ticks. 0: whenever
    /// there is something to do.
    double frame_rate = 0.0;
    /// Ticks that they play in one turn of the loop at most; 0: all that are due.
    int most_ticks_a_frame = 0;
    double clock_drift = 0.0;  ///< part by which the clients' clocks run fast
    bool sealed = false;       ///< with keys that are made for it
    Seconds stall{0.0};  ///< for which each client's program stands still every 10 s, one after the other
};

/// What a client saw at one of its ticks.
struct Glimpse {
    double at = 0.0;        ///< s of the rehearsal's time
    double time = 0.0;      ///< s of the server's clock that it showed (others) or played (own)
    glm::dvec3 place{0.0};  ///< m
    StateId state;
};

/// How one client did. Sizes in m, times in s.
struct ClientResult {
    bool joined = false;  ///< it has had a runner; otherwise nothing below means anything
    link::ClientStatistics statistics;
    link::SeatReading seat;
    std::uint64_t missing_after_first_second = 0;
    std::uint64_t corrections = 0, visible_corrections = 0;  ///< the latter: more than 5 cm
    double correction_max = 0.0;
    double bytes_up_per_s = 0.0, bytes_down_per_s = 0.0, packets_up_per_s = 0.0, packets_down_per_s = 0.0;
    double remote_error_median = 0.0, remote_error_p99 = 0.0, remote_error_max = 0.0;
    double remote_jump_max = 0.0;  ///< m by which another moved from one tick to the next and truly did not
    double yaw_error_median = 0.0, yaw_error_p99 = 0.0;      ///< degrees by which others' looks were off
    double pitch_error_median = 0.0, pitch_error_p99 = 0.0;  ///< the same
    double input_delay = 0.0;  ///< s from an intent to its being played at the server, mean
    double view_delay = 0.0;   ///< s that others are shown behind the server, mean
    std::size_t digests_compared = 0, digests_differing = 0;
    /// State changes of others: shown in time and order, shown wrongly, and due by now but not shown.
    std::size_t events_shown = 0, events_out_of_order = 0, events_missing = 0;
    std::vector<Glimpse> own;  ///< as drawn, if paths are kept
};

struct Result {
    std::vector<ClientResult> clients;
    link::Statistics server;
    double seconds = 0.0;
    double bytes_per_remote_snapshot = 0.0;
    std::uint64_t digest = 0;
    /// Of the first client's runner, if paths are kept: the truth, and what the second client saw.
    std::vector<Glimpse> truth, seen;
};

class Rehearsal {
  public:
    Rehearsal(Scene scene, const Plan& plan);
    ~Rehearsal();

    /// Called before each tick of the server, for what a game would do: pushes, modifiers, teleports. The clients may
    /// be as far behind it then as a packet takes.
    void before_tick(std::function<void(link::Server&)> act);
    /// Clients are played by these, as many at once as they like, and the server's packets are written by them; none:
    /// one after the other. The result is the same. They must live as long as time passes.
    void set_workers(link::Workers* workers);
    /// Virtual time, s.
    [[nodiscard]] double now() const;
    /// Lets time pass.
    void run_until(double seconds);
    /// The client's program stands still for this time, or the server's. Packets wait for it.
    void stall(std::size_t index, Seconds time);
    void stall_server(Seconds time);
    /// From now on no client wants anything.
    void hush();
    /// Adds up.
    [[nodiscard]] Result finish();

    [[nodiscard]] link::Server& server();
    [[nodiscard]] std::size_t client_count() const;
    [[nodiscard]] link::Client& client(std::size_t index);
    /// Whether the client's program runs: it was neither dropped nor has left.
    [[nodiscard]] bool running(std::size_t index) const;
    /// The links of a client, to change their faults.
    [[nodiscard]] SimulatedLink& up(std::size_t index);
    [[nodiscard]] SimulatedLink& down(std::size_t index);
    /// Another client joins now; one that left joins again as the same.
    std::size_t join();
    void rejoin(std::size_t index);
    /// The client's program is gone, without a goodbye or with one.
    void drop(std::size_t index);
    void leave(std::size_t index);

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

/// The whole of a plan.
[[nodiscard]] Result rehearse(Scene scene, const Plan& plan);

}  // namespace cursimeter::rehearsal
