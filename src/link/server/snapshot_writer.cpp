#include "link/server/snapshot_writer.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "link/wire/exact_runner.hpp"

namespace cursimeter::link {
namespace {

/// What entries cost at a guess, bytes; the guess is scaled by what they took in the last snapshots.
constexpr double scale_gain = 1.0 / 8.0;
constexpr double quiet_entry = 1, changed_entry = 9, whole_entry = 40, event_cost = 4;
/// m; at this distance a runner is half as urgent as close by.
constexpr double near_by = 20.0;
/// A runner leaves a little further out than it comes in, so that none flickers at the border.
constexpr double leaving_margin = 1.1;

/// Snapshots that a replica may be old to be told as a whole: the reader has to carry it on from there.
constexpr std::uint32_t oldest_whole = 8;

/// Entries at the end of a packet that may turn out not to fit, before no more are tried.
constexpr int most_failed = 16;
/// Bytes that the flag which ends the entries and the end of the number take at most.
constexpr std::size_t last_flag_bytes = 4;
/// Bytes of messages for which whole runners leave room, all but the first; and what a piece of them takes besides.
constexpr std::size_t least_message_bytes = 64, piece_head_bytes = 10;
/// What an entry changes, apart from what the packet has learnt, as it was before.
struct Attempt {
    wire::Writer writer;
    View view;
    std::size_t entries;
};

/// From where a client looks: from each of its runners, or else from where the game says.
class Viewpoints {
  public:
    Viewpoints(const Crowd& crowd, const Seat& seat) {
        for (const SeatPlayer& player : seat.present()) {
            if (player.runner && crowd.exists(*player.runner)) {
                points_[count_++] = crowd.actors()[player.runner->place].runner.position();
            }
        }
        if (count_ == 0 && seat.viewpoint) {
            points_[count_++] = *seat.viewpoint;
        }
    }
    [[nodiscard]] bool any() const { return count_ > 0; }
    /// m² from the nearest.
    [[nodiscard]] double apart_squared(const glm::dvec3& place) const {
        double least = squared(place - points_[0]);
        for (std::size_t i = 1; i < count_; ++i) {
            least = std::min(least, squared(place - points_[i]));
        }
        return least;
    }

  private:
    static double squared(const glm::dvec3& way) { return way.x * way.x + way.y * way.y + way.z * way.z; }

    std::array<glm::dvec3, most_players> points_{};
    std::size_t count_ = 0;
};
/// Whether it is the runner of a player who is at this client now.
bool is_own(const Actor& actor, const Seat& seat, SeatId id) {
    return actor.owner == id && actor.player < seat.player_count;
}

}  // namespace

SnapshotWriter::SnapshotWriter(const ServerConfig& config)
    : interest_(config.interest),
      budget_(config.budget),
      every_(config.snapshot_every),
      tick_seconds_(1.0 / config.tick_rate),
      shortlist_(config.runners),
      replicas_(wire::in_a_row(models_)),
      here_(wire::in_a_row(models_)),
      told_(config.runners) {
    for (std::vector<Told>& known : told_) {
        known.reserve(wire::replicas_kept + 1);  // no more can be baselines
    }
    // Enough for some 60 bases of each runner, as a rule.
    replicas_.reserve((config.runners + 1) * wire::most_replica_steps);
    here_.reserve(wire::most_replica_steps);
    learnt_.reserve(2 * wire::most_replica_steps);
    wanted_whole_.reserve(config.runners * config.seats);
}

void SnapshotWriter::update_views(const Crowd& crowd, Seat& seat, SeatId id, SnapshotNumber number) const {
    const std::vector<Actor>& actors = crowd.actors();
    const Viewpoints from(crowd, seat);
    for (std::size_t i = 0; i < actors.size(); ++i) {
        const Actor& actor = actors[i];
        View& view = seat.views[i];
        bool wanted = actor.used && !is_own(actor, seat, id);
        view.concern =
            wanted && asked_ != nullptr ? static_cast<float>(asked_->concern(id, crowd.key(i))) : 1.0F;
        wanted = wanted && view.concern > 0.0F;
        if (wanted && from.any()) {
            const double reach = view.told ? interest_ * leaving_margin : interest_;
            wanted = from.apart_squared(actor.runner.position()) <= reach * reach;
        }
        if (view.told && (!wanted || view.life != actor.life)) {
            view.told = false;
            view.leaving = true;
            view.since = number;
        }
        if (wanted && !view.told) {
            const float concern = view.concern;
            view = {};
            view.concern = concern;
            view.told = true;
            view.life = actor.life;
            view.since = number;
            // Events from before it came into view are no news.
            view.first_event = view.event_acked = actor.next_event;
            view.events_told.fill(actor.next_event);
            view.all_events_at = number;
        }
    }
}

void SnapshotWriter::list(const Crowd& crowd, Seat& seat, SnapshotNumber number) {
    const std::vector<Actor>& actors = crowd.actors();
    const Viewpoints from(crowd, seat);
    shortlist_.clear();
    const auto cost = [&](std::uint16_t place, SnapshotNumber base) {
        const View& view = seat.views[place];
        if (view.leaving) {
            return 2.0;
        }
        const Actor& actor = actors[place];
        const double events = std::min(actor.next_event - view.event_acked, wire::most_events_told);
        return (base == 0                ? whole_entry
                : actor.refreshed > base ? changed_entry
                                         : quiet_entry) +
               events * event_cost;
    };
    for (std::size_t i = 0; i < actors.size(); ++i) {
        View& view = seat.views[i];
        if (!view.told && !view.leaving) {
            continue;
        }
        const auto place = static_cast<std::uint16_t>(i);
        float urgency = 1.0F;
        if (view.told && from.any()) {
            const double distance = std::sqrt(from.apart_squared(actors[i].runner.position()));
            urgency = static_cast<float>(near_by / (near_by + distance));
        }
        if (view.told && actors[i].refreshed > view.acked) {
            urgency *= 2.0F;
        }
        view.priority += view.told
                             ? urgency * view.concern
                             : urgency;  // grows for as long as it is left out, so everyone's turn comes
        const SnapshotNumber base = view.leaving ? 0 : seat.base_of(view, number).value_or(0);
        shortlist_.add({view.priority, place, cost(place, base), base, false});
    }
}

void SnapshotWriter::write_own(wire::Writer& writer, const Crowd& crowd, Seat& seat, Tick tick,
                               std::size_t packet_room, wire::SnapshotHead& head) const {
    head.any_intent = seat.newest.has_value();
    head.newest = static_cast<std::uint16_t>(seat.newest.value_or(0));
    head.heard = seat.in_hand.heard();
    if (head.heard) {
        head.beyond =
            static_cast<std::int16_t>(static_cast<std::uint16_t>(seat.in_hand.newest()) - head.newest);
        head.spare = static_cast<std::int32_t>(std::floor(seat.in_hand.least() * wire::spare_steps));
    }
    seat.in_hand.told();
    head.players = seat.player_count;
    std::size_t room = budget_ - wire::most_head_bytes - least_message_bytes;
    std::size_t whole_bytes = 0;
    for (std::size_t i = 0; i < seat.player_count; ++i) {
        // Where not all fit, each in turn comes first.
        const std::size_t at = (i + tick.value / every_) % seat.player_count;
        const SeatPlayer& player = seat.players[at];
        wire::OwnHead& own = head.own[at];
        own.owned = player.runner && crowd.exists(*player.runner);
        if (!own.owned) {
            continue;
        }
        const Actor& actor = crowd.actors()[player.runner->place];
        own.place = player.runner->place;
        own.life = player.runner->life;
        own.chart = actor.chart;
        const bool wants_exact = player.wants_exact || !player.agreed;
        const std::size_t bytes = wants_exact ? wire::length_of(actor.runner) : 0;
        own.exact = wants_exact && (i == 0 || bytes <= room);
        whole_bytes += own.exact ? bytes : 0;
        room -= std::min(room, own.exact ? bytes : 0);
        own.agreed = wants_exact ? 0 : tick.value - *player.agreed + 1;
    }
    wire::HeadModels models;
    const std::size_t begun = writer.size();
    wire::code(writer, models, head);
    const std::size_t head_bytes = writer.size() - begun;
    const std::size_t taken = head_bytes + whole_bytes + piece_head_bytes + last_flag_bytes;
    wire::MessageStream::Piece piece =
        seat.messages.speak(std::min(wire::most_message_bytes, packet_room - std::min(packet_room, taken)),
                            tick.value * tick_seconds_, seat.round_trips.shortest());
    wire::code(writer, piece);
    const std::size_t message_bytes = writer.size() - begun - head_bytes;
    for (const wire::OwnHead& own : std::span(head.own).first(head.players)) {
        if (own.exact) {
            wire::write_runner(writer, crowd.actors()[own.place].runner);
            seat.reading.exact_states += 1;
        }
    }
    seat.reading.message_bytes += message_bytes;
    seat.reading.own_bytes += writer.size() - begun - message_bytes;
}

std::size_t SnapshotWriter::write(const Crowd& crowd, Seat& seat, SeatId id, Tick tick, SnapshotNumber number,
                                  std::span<std::byte> packet) {
    update_views(crowd, seat, id, number);
    const std::size_t before_body = seat.channel.before_body();
    wire::Writer writer(packet.subspan(before_body));
    wire::SnapshotHead head;
    head.snapshot = static_cast<std::uint16_t>(number);
    const SnapshotNumber usual = seat.usual_base(number);
    head.base = usual != 0 ? number - usual : 0;
    write_own(writer, crowd, seat, tick, packet.size() - before_body, head);

    SentSnapshot& sent = seat.sent[number % seat.sent.size()];
    sent.number = number;
    sent.sent = true;
    sent.acked = false;
    sent.entries.clear();
    const std::size_t limit = std::min(budget_, packet.size()) - before_body;
    const std::size_t before = writer.size();
    list(crowd, seat, number);
    wire::EntryModels models = wire::fresh_entry_models;
    const std::span<wire::Model> learning = wire::in_a_row(models);
    std::uint16_t from = 0;
    int failed = 0;
    std::optional<Attempt> kept;
    double guessed = 0.0;
    for (std::size_t i = 0; i < shortlist_.size(); ++i) {
        const Shortlist::Candidate& candidate = shortlist_[i];
        const double room = static_cast<double>(limit) - static_cast<double>(writer.size() + last_flag_bytes);
        if (!shortlist_.tells(i, room, seat.cost_scale)) {
            continue;
        }
        const Actor& actor = crowd.actors()[candidate.place];
        View& view = seat.views[candidate.place];
        if (!view.leaving && candidate.base == 0 && number - actor.refreshed > oldest_whole) {
            wanted_whole_.push_back(candidate.place);  // the next snapshot has a fresh one
            continue;
        }
        // Where the longest entry may not fit any more, it is tried whether this one does; if not, it never was.
        const std::size_t events = std::min(actor.next_event - view.event_acked, wire::most_events_told);
        const bool may_not_fit = writer.size() + wire::most_entry_bytes(events) > limit;
        if (may_not_fit) {
            kept.emplace(Attempt{writer, view, sent.entries.size()});
            learnt_.clear();
        }
        for (const std::span<const wire::Step> steps : entry(crowd, seat, sent, candidate, from, number)) {
            if (may_not_fit) {
                learnt_.note(steps, learning);
            }
            writer.play(steps, learning);
        }
        if (may_not_fit && writer.size() + last_flag_bytes > limit) {
            writer = kept->writer;
            learnt_.restore(learning);
            view = kept->view;
            sent.entries.resize(kept->entries);
            if (++failed == most_failed) {
                break;
            }
            continue;
        }
        from = static_cast<std::uint16_t>(candidate.place + 1);
        guessed += candidate.cost;
    }
    if (guessed > 0.0) {
        const double took = static_cast<double>(writer.size() - before) / guessed;
        seat.cost_scale = std::clamp(seat.cost_scale + (took - seat.cost_scale) * scale_gain, 0.2, 5.0);
    }
    bool more = false;
    writer.bit(models.more, more);
    const std::size_t size = before_body + writer.finish();
    seat.reading.remotes_told += sent.entries.size();
    seat.reading.remote_bits += (size - before_body > before ? size - before_body - before : 0) * 8;
    seat.channel.close(packet.first(size), wire::Kind::snapshot);
    return size;
}

}  // namespace cursimeter::link
