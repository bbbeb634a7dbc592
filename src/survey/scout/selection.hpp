#pragma once

#include <unordered_map>

#include "survey/scout/cells.hpp"
#include "survey/scout/stints.hpp"

/// Who of all that may be gone on from gets the places of a layer.
namespace cursimeter::survey {

/// A stint that has been played and may be gone on from.
struct Candidate {
    std::uint32_t parent = no_number;   ///< branch
    std::uint32_t layer = 0, slot = 0;  ///< where the parent's situation is kept
    std::uint32_t end = 0;
    std::array<HandsAt, 2> changes{};
    std::uint8_t count = 0;
    CellKey cell = 0;
    std::uint64_t likeness = 0, means = 0;
    std::uint32_t to_goal = no_time;  ///< ticks
    float to_next = 0.0F;             ///< m, in a straight line, to the next gate or the goal
    std::uint32_t part = 0;           ///< of the world; see CellMap
    std::uint16_t phase = 0;          ///< of what moves there; see Errand
    std::uint64_t lot = 0;            ///< by chance, for order
};

/// What a wave lets pass.
struct WaveKind {
    std::size_t width = 0, cap = 0;  ///< situations a layer, and a cell
    std::uint32_t slack = 0;         ///< ticks after the first arrival in a cell
    bool towards_goal = false;
    bool evens_out = false;  ///< of those that explore: every second place goes to where least has been tried
};

class Selection {
  public:
    Selection(const Errand& errand, const CellMap& map) : errand_(errand), map_(map) {}
    /// Before a new wave: what the last one let pass in each cell is forgotten.
    void clear() { seen_.clear(); }
    /// Those that a layer takes, in their order; `open` is used up.
    [[nodiscard]] std::vector<Candidate> select(std::vector<Candidate>& open, const WaveKind& kind);

  private:
    struct Seen {
        std::uint32_t first = 0;
        std::vector<std::uint64_t> likenesses;
    };
    void order_by_share(std::vector<Candidate>& open, const WaveKind& kind) const;
    static void order_by_promise(std::vector<Candidate>& open);
    /// What a part of the world that has situations in a layer counts there.
    struct LayerPart {
        std::size_t gates = 0;  ///< that have been passed in it
        std::size_t reach = 0;  ///< cells to which it leads
        std::uint32_t part = 0;
    };
    /// Puts parts in the order in which they count, and returns of each how often the places for it are halved.
    [[nodiscard]] static std::vector<std::size_t> rank(std::vector<LayerPart>& parts);
    void nearest_every_third(const std::vector<Candidate>& open, std::vector<std::size_t>& list) const;

    const Errand& errand_;
    const CellMap& map_;
    std::unordered_map<std::uint64_t, std::uint64_t>
        tries_;  ///< by quarter: situations that were gone on from, in all waves
    std::unordered_map<std::uint64_t, Seen> seen_;  ///< what the wave has let pass, by cell and phase
};

}  // namespace cursimeter::survey
