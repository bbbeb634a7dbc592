#pragma once

#include <array>
#include <bitset>
#include <cursimeter/link/client.hpp>
#include <optional>
#include <vector>

#include "link/client/continuation.hpp"
#include "link/wire/snapshot_coding.hpp"

/// The other runners, as a client shows them: between two replicas, or from the last one on by the chart.
namespace cursimeter::link {

using SnapshotNumber = std::uint32_t;

/// What one entry of a snapshot brought.
struct News {
    wire::Entry entry;
    SnapshotNumber base = 0;  ///< of an entry with one
    Replica replica;          ///< of snapshot `told`
    SnapshotNumber told = 0;
    bool outdated = false;          ///< its baseline was given up since
    std::uint32_t first_event = 0;  ///< low 10 bits
    bool all_events = false;        ///< none before the first is coming any more
    std::uint32_t event_count = 0;
    std::array<wire::ToldEvent, wire::most_events_told> events{};
};

class Others {
  public:
    Others(const ClientConfig& config, const std::vector<Chart>& charts);
    void start(std::uint32_t snapshot_every);

    enum class Reading : std::uint8_t { whole, no_base, nonsense };
    /// Reads the entries of a snapshot; changes nothing. They may be told by a snapshot that has not come.
    [[nodiscard]] Reading read(wire::Reader& reader, SnapshotNumber number, std::uint32_t usual_base,
                               std::vector<News>& news) const;
    /// Takes in what was read.
    void take(SnapshotNumber number, std::span<const News> news, ClientStatistics& statistics);
    /// The world that views are kept out of; nullptr: none.
    void set_view_world(const Terrain* world) { view_world_ = world; }
    /// Shows what is at a time of the server, in ticks; `clock` is that of the client, s.
    void show(double time, double clock);

    /// Those who are there, as they will be at a time of the server, by the chart where nothing is known yet.
    void find_at(double time, std::vector<Neighbour>& found) const;
    [[nodiscard]] std::span<const RunnerKey> keys() const { return keys_; }
    [[nodiscard]] std::optional<Shown> shown(RunnerKey key) const;
    [[nodiscard]] std::optional<RemoteEvent> next_event();

  private:
    /// As many as the server keeps, and as many as may come before those.
    static constexpr std::uint32_t event_places = 512;
    struct Kept {
        SnapshotNumber number = 0;
        bool here = false;
        Replica replica;
    };
    /// How an angle comes from one replica to the next.
    struct AngleWay {
        double from = 0.0, way = 0.0;   ///< rad
        double bend = 0.0;              ///< ticks after the one replica; 0: evenly
        double came = 0.0, goes = 0.0;  ///< rad a tick, before and after the bend
        [[nodiscard]] double at(double ticks, double whole) const;
    };
    /// How a look does.
    struct LookWay {
        AngleWay yaw, pitch;
        double begun = 0.0;  ///< ticks for which it was still; 0: not at all
        /// `ticks` of `whole` after the one replica on the way to the other.
        [[nodiscard]] Look at(double ticks, double whole) const;
    };
    /// What has to be added to the continuation by the chart from the one replica, so that it ends in the other: evenly
    /// over time; or where a state was entered in between, only from then on, and on the way that leads to the other.
    struct Lead {
        SnapshotNumber before = 0, after = 0;
        std::optional<Wishes> wishes;  ///< none if they did not change in between
        double bend = 0.0;         ///< ticks after `before` from which the way leads to the other; 0: evenly
        glm::dvec3 off{0.0};       ///< m; from where that ends to where it should
        glm::dvec3 end{0.0};       ///< where it should end, m
        glm::dvec3 velocity{0.0};  ///< there, m/s
        glm::dvec3 apart{0.0};     ///< m; at the bend, from the way back from the end to the continuation
        /// Whether that is made up for before the bend: after it, it would be seen in a tick or two.
        bool early = false;
        LookWay look;

        /// The way back from the end.
        [[nodiscard]] glm::dvec3 back(double ticks, double whole, double dt) const {
            return end - velocity * ((whole - ticks) * dt);
        }
        /// What to add to the continuation's place, `ticks` of `whole` after `before`.
        [[nodiscard]] glm::dvec3 at(double ticks, double whole, double dt, const glm::dvec3& place) const;
    };
    /// How it goes on from the last replica at or before the time that is shown.
    struct Way {
        Continuation onward;
        std::optional<Lead>
            lead;  ///< to the replica after it, as long as no news comes; none: no replica after it
    };
    struct Other {
        bool known = false;
        bool visible = false;  ///< its first time has been shown
        RunnerKey key;
        std::uint8_t chart = 0;
        SnapshotNumber first = 0, newest = 0;  ///< replicas that came
        SnapshotNumber told = 0;               ///< newest snapshot that said anything of it
        std::optional<SnapshotNumber> gone;
        std::uint32_t next_event = 0;          ///< number of the next one to show
        std::uint8_t state = 0;                ///< by the events shown
        glm::dvec3 offset{0.0};                ///< m; of a correction that fades
        glm::dvec3 place{0.0}, velocity{0.0};  ///< as shown
        Look look;                             ///< the same
        double distance = 0.0;                 ///< m walked as shown
        bool waiting = false;
        decltype(Replica::modifiers) modifiers{};
        decltype(Replica::blocks) blocks{};
        Way way;
        std::array<Kept, wire::replicas_kept> kept{};
        std::array<wire::ToldEvent, event_places> events{};  ///< ring by number
        std::bitset<event_places> here;  ///< which of them have come and were not shown yet
    };

    [[nodiscard]] Replica base_of(const Other& other, SnapshotNumber base, SnapshotNumber now,
                                  const Replica* wishes) const;
    void take_one(Other& other, SnapshotNumber number, const News& news, ClientStatistics& statistics);
    void take_events(Other& other, const News& news, ClientStatistics& statistics);
    /// Where a runner is at a time, and how; by the chart it is then as `way` has it.
    struct Located {
        glm::dvec3 place{0.0}, velocity{0.0};
        Look look;
        const Replica* latest = nullptr;  ///< the last at or before that time; good until the next news
        bool waiting = false;
    };
    [[nodiscard]] std::optional<Located> locate(const Other& other, double time, Way& way) const;
    [[nodiscard]] LookWay look_between(const Other& other, const Kept& before, const Kept& after,
                                       double whole) const;
    /// Where it looks, `ticks` after the last replica.
    [[nodiscard]] Look look_beyond(const Other& other, const Kept& last, double ticks) const;
    void show_one(Other& other, double time);
    void tell_events(double time);
    /// Ticks after `before` at which the state of `after` was entered; 0: not in between.
    [[nodiscard]] double entered_between(const Other& other, const Kept& before, const Kept& after,
                                         double whole) const;
    /// Begins `onward` with what is wanted, and finds how it has to be led; `ticks` after `before` are shown now.
    [[nodiscard]] Lead lead_between(const Other& other, const Kept& before, const Kept& after, double whole,
                                    double ticks, Continuation& onward) const;
    [[nodiscard]] const Kept* kept(const Other& other, SnapshotNumber number) const;
    /// What is told is when anything wanted changed first, and a mouse changes it in every tick: presses count from where a state
    /// was entered, since one that brought no state about must not bring it about here. `entered`: ticks after `before`; 0: none.
    [[nodiscard]] std::optional<Wishes> wishes_between(const Other& other, const Replica& before,
                                                       const Replica& after, double entered) const;

    std::vector<Cast> casts_;
    double dt_, half_life_, extrapolate_;
    const Terrain* view_world_ = nullptr;
    SnapshotInterval interval_;
    std::uint32_t every_ = 1;
    double time_ = 0.0, clock_ = 0.0, passed_ = 0.0, fade_ = 1.0;
    std::vector<Other> others_;         ///< by place
    std::vector<std::uint16_t> there_;  ///< places of those known, in order
    std::vector<RunnerKey> keys_;
    std::vector<RemoteEvent> events_;  ///< to be told
    std::size_t events_next_ = 0;
};

}  // namespace cursimeter::link
