#pragma once

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

#include "course/extent.hpp"

/// Which of many boxes may meet a small one, without asking them all.
namespace cursimeter::detail {

/// Boxes by the square cells, seen from above, in which they lie. What is asked for comes in the order of the boxes'
/// indices, each once, so an answer is the same to the bit as if all had been asked. Nothing is allocated by asking.
class CellGrid {
  public:
    CellGrid() = default;
    explicit CellGrid(std::span<const Extent> extents);

    /// Calls `visit(index)` for each box in whose cells `around` lies, and perhaps for some that it does not meet.
    template <class Visit>
    void visit(const Extent& around, const Visit& visit) const {
        const bool listed = is_listed(around);
        const Cells cells = listed ? cells_of(around) : Cells{};
        if (listed && cells.is_one() && everywhere_.empty()) {
            for (const std::uint32_t index : in_cell(cells.from_x, cells.from_y)) {
                visit(index);
            }
        } else if (listed && cells.count() <= most_cells) {
            Lists lists = lists_of(cells);
            for (std::uint32_t index = lists.take_least(); index != none; index = lists.take_least()) {
                visit(index);
            }
        } else {
            for (std::uint32_t index = 0; index < count_; ++index) {
                visit(index);
            }
        }
    }

    /// Whether `test(index)` holds for each of these boxes. They come in any order, and one may come more than once.
    template <class Test>
    [[nodiscard]] bool all_pass(const Extent& around, const Test& test) const {
        const Cells cells = is_listed(around) ? cells_of(around) : Cells{};
        if (!is_listed(around) || cells.count() > most_cells) {
            for (std::uint32_t index = 0; index < count_; ++index) {
                if (!test(index)) {
                    return false;
                }
            }
            return true;
        }
        if (!std::all_of(everywhere_.begin(), everywhere_.end(), test)) {
            return false;
        }
        for (std::int32_t x = cells.from_x; x <= cells.to_x; ++x) {
            for (std::int32_t y = cells.from_y; y <= cells.to_y; ++y) {
                const std::span<const std::uint32_t> listed = in_cell(x, y);
                if (!std::all_of(listed.begin(), listed.end(), test)) {
                    return false;
                }
            }
        }
        return true;
    }

  private:
    static constexpr std::uint32_t none = ~std::uint32_t{0};
    /// Side of a cell, m. A body's tick reaches far less, so most questions touch one cell. Of 2 to 32 m, with 1,000 boxes
    /// of 1 to 6 m, 8 was quickest.
    static constexpr double cell_size = 8.0;
    /// Further out than this, m, nothing is listed by cells: their numbers would not fit.
    static constexpr double furthest = 1e9;
    /// Cells that one question may touch; one that touches more asks all boxes.
    static constexpr std::int64_t most_cells = 9;

    struct Cells {
        std::int32_t from_x = 0, from_y = 0, to_x = 0, to_y = 0;
        [[nodiscard]] bool is_one() const { return from_x == to_x && from_y == to_y; }
        [[nodiscard]] std::int64_t count() const {
            return (std::int64_t{to_x} - from_x + 1) * (std::int64_t{to_y} - from_y + 1);
        }
    };
    struct Cell {
        std::int32_t x = 0, y = 0;
        std::uint32_t first = 0, count = 0;  ///< in `indices_`; a free place has no boxes
    };
    /// Ascending indices, of the boxes that are everywhere and of each cell.
    struct Lists {
        std::array<std::span<const std::uint32_t>, most_cells + 1> of;
        std::size_t count = 0;
        void add(std::span<const std::uint32_t> indices) {
            if (!indices.empty()) {
                of[count++] = indices;
            }
        }
        [[nodiscard]] std::uint32_t take_least();
    };

    /// Not for NaN either.
    [[nodiscard]] static bool is_listed(const Extent& box) {
        return box.low.x >= -furthest && box.low.y >= -furthest && box.high.x <= furthest &&
               box.high.y <= furthest;
    }
    [[nodiscard]] static std::int32_t cell_of(double place) {
        const double cells = place * (1.0 / cell_size);
        const auto towards_zero = static_cast<std::int32_t>(cells);
        return towards_zero - (cells < towards_zero ? 1 : 0);
    }
    [[nodiscard]] static Cells cells_of(const Extent& box) {
        return {cell_of(box.low.x), cell_of(box.low.y), cell_of(box.high.x), cell_of(box.high.y)};
    }
    /// Where the cell stands in the table, or the free place where it would.
    [[nodiscard]] std::size_t place_of(std::int32_t x, std::int32_t y) const {
        const std::uint64_t both =
            std::uint64_t{static_cast<std::uint32_t>(x)} << 32U | static_cast<std::uint32_t>(y);
        std::size_t place =
            static_cast<std::size_t>((both * 0x9e3779b97f4a7c15U) >> 32U) & (table_.size() - 1);
        while (table_[place].count != 0 && (table_[place].x != x || table_[place].y != y)) {
            place = (place + 1) & (table_.size() - 1);
        }
        return place;
    }
    [[nodiscard]] std::span<const std::uint32_t> in_cell(std::int32_t x, std::int32_t y) const {
        if (table_.empty()) {
            return {};
        }
        const Cell& cell = table_[place_of(x, y)];
        return {indices_.data() + cell.first, cell.count};
    }
    [[nodiscard]] Lists lists_of(const Cells& cells) const;

    std::vector<Cell> table_;                ///< open addressing; its size is a power of two, or 0
    std::vector<std::uint32_t> indices_;     ///< of all cells, one after the other
    std::vector<std::uint32_t> everywhere_;  ///< boxes too large to be listed by cells
    std::uint32_t count_ = 0;
};

}  // namespace cursimeter::detail
