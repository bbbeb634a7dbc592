#pragma once

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
        Lists lists;
        if (!lists_around(around, lists)) {
            for (std::uint32_t index = 0; index < count_; ++index) {
                visit(index);
            }
            return;
        }
        if (lists.count == 1) {
            for (const std::uint32_t index : lists.of[0]) {
                visit(index);
            }
            return;
        }
        for (std::uint32_t index = lists.take_least(); index != none; index = lists.take_least()) {
            visit(index);
        }
    }

  private:
    static constexpr std::uint32_t none = ~std::uint32_t{0};
    /// Cells that one question may touch; one that touches more asks all boxes.
    static constexpr std::size_t most_cells = 9;

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

    [[nodiscard]] bool lists_around(const Extent& around, Lists& lists) const;
    [[nodiscard]] std::span<const std::uint32_t> in_cell(std::int32_t x, std::int32_t y) const;
    [[nodiscard]] std::size_t place_of(std::int32_t x, std::int32_t y) const;

    std::vector<Cell> table_;                ///< open addressing; its size is a power of two, or 0
    std::vector<std::uint32_t> indices_;     ///< of all cells, one after the other
    std::vector<std::uint32_t> everywhere_;  ///< boxes too large to be listed by cells
    std::uint32_t count_ = 0;
};

}  // namespace cursimeter::detail
