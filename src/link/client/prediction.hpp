#pragma once

#include <array>
#include <cursimeter/link/client.hpp>
#include <optional>
#include <vector>

#include "link/client/others.hpp"
#include "link/wire/messages.hpp"

/// The runner of one of the client's players: played ahead of the server, compared with what the server found, played
/// again.
namespace cursimeter::link {

/// Ticks that are kept for comparison: how far ahead of the last news from the server a client can be.
inline constexpr std::uint32_t ticks_kept = 256;

class Prediction {
  public:
    /// `all` are those of all players, this one among them, once they are there.
    Prediction(const ClientConfig& config, const std::vector<Chart>& charts, const Others& others,
               const std::vector<Prediction>& all);

    /// Begins at a tick, without a runner.
    void start(Tick tick);
    /// Plays a tick.
    void tick(const Intent& intent, const ExtraBytes& extra, Advancer& advancer);
    /// Goes on by a tick with what is held, to catch up with the server.
    void hold(Advancer& advancer);
    /// Goes on by many without playing them: the server will say where the runner is.
    void leap(std::uint32_t ticks);
    /// The server's whole state of a tick: taken over if it differs, and everything since played again. Changes nothing if the
    /// tick is not kept: this client has not come to it yet, after a standstill, or left it long ago.
    void take_exact(RunnerKey key, std::size_t chart, Tick tick, const Runner& exact, Advancer& advancer,
                    ClientStatistics& statistics);
    /// Plays everything from this tick on again.
    void play_again(Tick since, Advancer& advancer, ClientStatistics& statistics);
    void lose_runner() { key_.reset(); }
    /// Notes what the server is told about the newest tick: the digest of the runner as it stands now.
    std::uint32_t note_told();
    /// The server has found the state after this tick to be as it was told.
    void take_agreed(Tick tick, ClientStatistics& statistics);

    [[nodiscard]] Tick now() const { return now_; }
    [[nodiscard]] const std::optional<RunnerKey>& key() const { return key_; }
    [[nodiscard]] std::size_t chart() const { return chart_; }
    [[nodiscard]] const Runner& runner() const { return moments_[now_.value % ticks_kept].runner; }
    /// Newest tick whose state is known to be the server's.
    [[nodiscard]] const std::optional<Tick>& acknowledged() const { return acknowledged_; }
    /// Where to draw it, `part` of the way from the tick before the last to the last.
    [[nodiscard]] glm::dvec3 shown(double part) const;
    [[nodiscard]] const Report& report() const { return report_; }
    /// The oldest that was not asked for yet; nullptr: none.
    [[nodiscard]] const Correction* oldest_correction() const {
        return corrections_count_ > 0 ? &corrections_[corrections_begin_] : nullptr;
    }
    void drop_correction() {
        corrections_begin_ = (corrections_begin_ + 1) % corrections_kept;
        --corrections_count_;
    }
    [[nodiscard]] std::optional<std::uint64_t> digest_at(Tick tick) const;
    /// What was wanted in a tick that is still kept.
    [[nodiscard]] const StatedIntent& intent(Tick tick) const {
        return moments_[tick.value % ticks_kept].intent;
    }
    [[nodiscard]] bool keeps(Tick tick) const {
        return now_ - tick >= 0 && now_ - tick < static_cast<std::int32_t>(ticks_kept) - 1 &&
               tick - first_ >= 0;
    }
    /// Whether the tick is kept and was played by this client: the one that it starts from was not.
    [[nodiscard]] bool played(Tick tick) const { return keeps(tick) && tick != first_; }

  private:
    struct Moment {
        StatedIntent intent;
        Runner runner;           ///< after the tick
        std::uint32_t told = 0;  ///< of its digest, to the server
    };
    static constexpr std::size_t corrections_kept = 64;
    void play(const StatedIntent& intent, Advancer& advancer, bool first_time);
    /// Where all the others are before a tick, in the server's order.
    void find_neighbours(Tick tick);
    /// Plays everything after a tick again.
    void go_over(Tick tick, Advancer& advancer);
    /// Shows the runner where it was, and lets the way to where it is fade; returns its length, m.
    double fade_from(const glm::dvec3& place);
    static void note_replayed(int ticks, ClientStatistics& statistics);
    void note(const Correction& correction);

    const std::vector<Chart>& charts_;
    const Others& others_;
    const std::vector<Prediction>& all_;
    std::vector<Neighbour> neighbours_;
    double dt_, fade_, visible_limit_;
    std::vector<Moment> moments_;  ///< ring by tick
    Tick now_, first_;
    Tick owned_since_;  ///< the first tick after which the runner is known
    std::optional<RunnerKey> key_;
    std::optional<Tick> acknowledged_;
    std::size_t chart_ = 0;
    glm::dvec3 offset_{0.0};  ///< of the shown place, fading
    Report report_;
    std::array<Correction, corrections_kept> corrections_{};
    std::size_t corrections_begin_ = 0, corrections_count_ = 0;
};

}  // namespace cursimeter::link
