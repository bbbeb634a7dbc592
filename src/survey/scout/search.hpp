#pragma once

#include <algorithm>
#include <deque>
#include <limits>
#include <utility>

#include "survey/scout/selection.hpp"

/// The search itself: waves of situations that roll on in layers of equal clock time.
namespace cursimeter::survey {

/// A stint that was played, and from which: a branch of the tree of all ways. The first is the start.
struct Branch {
    std::uint32_t parent = no_number;
    std::uint32_t end = 0;  ///< tick
    std::array<HandsAt, 2> changes{};
    std::uint8_t count = 0;
};

struct Scouted::Branches {
    std::vector<Branch> list;
    StartSpec start;
    double rate = 0.0;
    Chart chart;
};
/// The way along a branch's parents, up to `end`.
[[nodiscard]] Way way_of(const std::vector<Branch>& branches, std::uint32_t branch, std::uint32_t end);

/// A way that got to the goal.
struct Arrival {
    double seconds = 0.0;
    Way way;
};

class Search {
  public:
    Search(const Errand& errand, unsigned threads);

    /// Takes in where a run leads that somebody knows.
    void learn_from(const Drill& known);
    /// A wave over everything that can be reached, `width` situations a layer; with a goal, until a little after it is reached.
    void explore(std::size_t width);
    /// A wave towards the goal, along what earlier waves have seen.
    void narrow(std::size_t width);

    [[nodiscard]] std::uint64_t ticks() const { return ticks_; }
    [[nodiscard]] bool found() const { return !arrivals_.empty(); }
    /// The fastest first.
    [[nodiscard]] std::vector<Arrival> arrivals() const;
    [[nodiscard]] std::size_t arrival_count() const { return arrival_count_; }
    [[nodiscard]] double best() const { return arrivals_.empty() ? never : arrivals_.front().seconds; }
    /// Whether anything has led to the goal: a way of its own, or a run that was known before.
    [[nodiscard]] bool knows_goal() const { return found() || known_ < unknown; }
    /// s; a way that takes longer is of no use.
    [[nodiscard]] double bound() const { return found() ? std::min(best(), known_) : known_; }
    [[nodiscard]] std::vector<ReachedPlace> places();
    [[nodiscard]] std::size_t place_count() const { return stood_.size(); }
    [[nodiscard]] const std::vector<Branch>& branches() const { return branches_; }
    /// Told at each layer; false ends the wave and the search.
    std::function<bool()> going_on;

  private:
    struct Standing {
        CellKey cell = 0;
        std::uint32_t tick = 0;
    };
    /// What came of one stint.
    struct Outcome {
        Candidate candidate;
        Player::Outcome outcome = Player::Outcome::on;
        double arrived = never;
        std::vector<Standing> stood;   ///< cells in which it stood, at first sight
        std::vector<Standing> passed;  ///< cells that it came through, in order
    };
    struct Layer {
        std::vector<Situation> situations;
        std::vector<std::uint32_t> branches;
    };
    struct FirstStand {
        std::uint32_t tick = no_time, branch = no_number;
        CellKey cell = 0;  ///< with the gates passed
    };

    void survey_parts();
    void wave(const WaveKind& kind);
    void grow(std::uint32_t layer, const std::vector<Candidate>& chosen, const WaveKind& kind);
    /// Plays a stint from a situation, which becomes that at its end.
    [[nodiscard]] Outcome try_stint(Player& player, Situation& now, std::uint32_t branch,
                                    std::uint64_t number) const;
    /// Takes in where a stint led; the cell in which it ended.
    std::uint32_t learn(const Outcome& outcome, std::uint32_t from_cell, std::uint32_t begin);
    void offer(Outcome& outcome, std::uint32_t last_cell, std::uint32_t from_cell, const WaveKind& kind);
    void count_ticks();
    void note_arrival(const Outcome& outcome);

    /// Of a way through cells, in order; the last cell, and the tick at which it was come to.
    std::pair<std::uint32_t, std::uint32_t> add_passages(const std::vector<Standing>& passed,
                                                         std::uint32_t from_cell, std::uint32_t begin);

    static constexpr double unknown = std::numeric_limits<double>::infinity();
    static constexpr std::size_t stints_each = 16;
    static constexpr std::uint32_t layers_kept = 24;

    const Errand& errand_;
    StintMaker maker_;
    unsigned threads_;
    std::uint32_t layer_ticks_;
    std::vector<Player> players_;
    std::uint64_t ticks_ = 0, stints_ = 0;
    std::uint32_t pass_ = 0, explored_ = 0;
    CellMap map_;
    std::size_t look_again_ = 100;  ///< cells at which the parts of the world are looked for anew
    std::vector<Branch> branches_;
    std::unordered_map<CellKey, FirstStand> stood_;  ///< by place alone
    struct Found {
        double seconds;
        std::uint32_t branch, end;
    };
    std::vector<Found> arrivals_;
    std::size_t arrival_count_ = 0;
    /// s; the earliest arrival of a run from the start that was known before; the longest way, if those that arrive began elsewhere.
    double known_ = unknown;
    // Of the wave at hand:
    std::vector<std::vector<Candidate>> layers_;
    Selection selection_;
    std::deque<std::pair<std::uint32_t, Layer>> kept_;
    bool ended_ = false;
};

}  // namespace cursimeter::survey
