#include "course/cell_grid.hpp"

#include <algorithm>
#include <utility>

namespace cursimeter::detail {
namespace {

/// A box that lies in more cells than this is listed apart.
constexpr std::int64_t most_cells_of_a_box = 4096;

}  // namespace

CellGrid::CellGrid(std::span<const Extent> extents) : count_(static_cast<std::uint32_t>(extents.size())) {
    using Place = std::pair<std::int32_t, std::int32_t>;
    std::vector<std::pair<Place, std::uint32_t>> listed;
    for (std::uint32_t index = 0; index < count_; ++index) {
        const Extent& box = extents[index];
        const Cells cells = is_listed(box) ? cells_of(box) : Cells{};
        if (!is_listed(box) || cells.count() > most_cells_of_a_box) {
            everywhere_.push_back(index);
            continue;
        }
        for (std::int32_t x = cells.from_x; x <= cells.to_x; ++x) {
            for (std::int32_t y = cells.from_y; y <= cells.to_y; ++y) {
                listed.push_back({{x, y}, index});
            }
        }
    }
    std::sort(listed.begin(), listed.end());
    std::size_t cells = 0;
    for (std::size_t i = 0; i < listed.size(); ++i) {
        cells += i == 0 || listed[i].first != listed[i - 1].first ? 1 : 0;
    }
    std::size_t places = cells == 0 ? 0 : 1;
    while (places < 2 * cells) {
        places *= 2;
    }
    table_.resize(places);
    for (const auto& [at, index] : listed) {
        Cell& cell = table_[place_of(at.first, at.second)];
        if (cell.count == 0) {
            cell = {at.first, at.second, static_cast<std::uint32_t>(indices_.size()), 0};
        }
        ++cell.count;
        indices_.push_back(index);
    }
}

CellGrid::Lists CellGrid::lists_of(const Cells& cells) const {
    Lists lists;
    lists.add(everywhere_);
    for (std::int32_t x = cells.from_x; x <= cells.to_x; ++x) {
        for (std::int32_t y = cells.from_y; y <= cells.to_y; ++y) {
            lists.add(in_cell(x, y));
        }
    }
    return lists;
}

std::uint32_t CellGrid::Lists::take_least() {
    std::uint32_t least = none;
    for (std::size_t i = 0; i < count; ++i) {
        least = of[i].empty() ? least : std::min(least, of[i].front());
    }
    for (std::size_t i = 0; i < count; ++i) {
        if (!of[i].empty() && of[i].front() == least) {
            of[i] = of[i].subspan(1);
        }
    }
    return least;
}

}  // namespace cursimeter::detail
