#pragma once

#include <limits>
#include <span>
#include <unordered_map>

#include "survey/scout/player.hpp"

/// Where a search has been.
namespace cursimeter::survey {

inline constexpr std::uint32_t no_number = std::numeric_limits<std::uint32_t>::max();
inline constexpr std::uint32_t no_time = std::numeric_limits<std::uint32_t>::max();

/// A box of places, with the gates that had been passed there: packed whole numbers.
using CellKey = std::uint64_t;

/// How a situation is told from others in its cell: by state, speed, heading, rise, meters, cooldowns and jumps, each
/// in a few steps.
[[nodiscard]] std::uint64_t likeness_of(const Errand& errand, const Situation& now);
/// What it has left to spend: meters in a few steps, and cooldowns that are ready.
[[nodiscard]] std::uint64_t means_of(const Errand& errand, const Situation& now);
[[nodiscard]] CellKey cell_of(const Errand& errand, const Situation& now);
/// The cell without the gates.
[[nodiscard]] constexpr CellKey place_of(CellKey cell) {
    return cell & ((CellKey{1} << 54U) - 1);
}
/// How many gates had been passed there.
[[nodiscard]] constexpr std::size_t gates_of(CellKey cell) {
    return static_cast<std::size_t>(cell >> 54U);
}
/// The quarter of the world in which a cell lies: a cube of about 8 m.
[[nodiscard]] std::uint64_t quarter_of(const Errand& errand, CellKey cell);
/// m; the middle of a cell.
[[nodiscard]] glm::dvec3 middle_of(const Errand& errand, CellKey cell);

/// From one cell to another, or the other way round.
struct CellPassage {
    std::uint32_t other = 0, ticks = 0;
};
/// All passages, by the cell at one end.
struct CellPassages {
    std::vector<std::size_t> first;  ///< by cell, and the end
    std::vector<CellPassage> list;
    [[nodiscard]] std::size_t cells() const { return first.size() - 1; }
    [[nodiscard]] std::span<const CellPassage> of(std::uint32_t cell) const {
        return {list.data() + first[cell], first[cell + 1] - first[cell]};
    }
};

/// The passages between cells that have been seen, each with its least time, and from them the least time from each cell to the
/// goal: never more than it takes by what was seen, as speeds and meters are left out.
class CellMap {
  public:
    /// The number of a cell, given on first sight.
    [[nodiscard]] std::uint32_t number_of(CellKey cell);
    [[nodiscard]] std::optional<std::uint32_t> find(CellKey cell) const;
    void add_passage(std::uint32_t from, std::uint32_t to, std::uint32_t ticks);
    /// From this cell the goal was reached in so many ticks.
    void add_arrival(std::uint32_t from, std::uint32_t ticks);
    /// Works the least times to the goal out anew; as long as nobody has arrived, those to the cells behind most gates.
    void settle();

    /// Works anew out which parts of the world there are: cells from each of which one gets to each other, as far as seen.
    void find_parts();
    /// The part to which a cell belongs, numbered from 0; of one in no part of some size, that to which it leads, and if it leads
    /// nowhere, that from which it was first come to. None for a cell that is newer than the parts.
    [[nodiscard]] std::optional<std::uint32_t> part_of(std::uint32_t cell) const {
        return cell < parts_.size() ? std::optional(parts_[cell]) : std::nullopt;
    }

    /// How many cells can be reached from a part, about: the fewer, the nearer it is to where nothing leads on.
    [[nodiscard]] std::size_t reach_of(std::uint32_t part) const {
        return part < reach_.size() ? reach_[part] : keys_.size();
    }

    /// Whether a way leads from a cell to the start.
    [[nodiscard]] bool returns(std::uint32_t cell) const {
        return cell < returns_.size() && returns_[cell] != 0;
    }

    /// Ticks from a cell to the goal by what `settle` saw; no_time if no way was.
    [[nodiscard]] std::uint32_t to_goal(std::uint32_t cell) const {
        return cell < to_goal_.size() ? to_goal_[cell] : no_time;
    }
    /// The next cell on that way, if there is one.
    [[nodiscard]] std::optional<CellKey> next(std::uint32_t cell) const;
    [[nodiscard]] std::size_t size() const { return keys_.size(); }
    /// How many cells have been seen in which so many gates, or more, had been passed.
    [[nodiscard]] std::size_t size_behind(std::size_t gates) const {
        return gates < behind_.size() ? behind_[gates] : 0;
    }

  private:
    enum class Direction : std::uint8_t { onward, back };
    [[nodiscard]] CellPassages passages(Direction direction) const;

    std::unordered_map<CellKey, std::uint32_t> numbers_;
    std::vector<CellKey> keys_;
    std::vector<std::uint32_t>
        came_from_;  ///< the cell from which one was first come to, itself for the start
    std::unordered_map<std::uint64_t, std::uint32_t> passages_;  ///< from, to: ticks
    std::vector<std::uint32_t> arrivals_;
    std::vector<std::uint32_t> to_goal_, next_, parts_;
    std::vector<std::size_t> reach_;      ///< by part
    std::vector<std::uint32_t> returns_;  ///< by cell
    std::vector<std::size_t> behind_;     ///< by gates
};

}  // namespace cursimeter::survey
