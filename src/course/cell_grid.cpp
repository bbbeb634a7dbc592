#include "course/cell_grid.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

namespace cursimeter::detail {
namespace {

/// Side of a cell, m. A body's tick reaches far less, so most questions touch one cell. Of 2 to 32 m, with 1,000 boxes of
/// 1 to 6 m, 8 was quickest.
constexpr double cell_size = 8.0;
/// A box that lies in more cells than this is listed apart.
constexpr double most_cells_of_a_box = 4096.0;
/// Further out than this, m, nothing is listed by cells: their numbers would not fit.
constexpr double furthest = 1e9;

struct Range {
    std::int32_t from = 0, to = 0;
    [[nodiscard]] double count() const { return static_cast<double>(to) - from + 1.0; }
};

bool is_within(double low, double high) {
    return low >= -furthest && high <= furthest;
}
Range cells_between(double low, double high) {
    return {static_cast<std::int32_t>(std::floor(low / cell_size)),
            static_cast<std::int32_t>(std::floor(high / cell_size))};
}

std::size_t hash_of(std::int32_t x, std::int32_t y) {
    const std::uint64_t both =
        std::uint64_t{static_cast<std::uint32_t>(x)} << 32U | static_cast<std::uint32_t>(y);
    return static_cast<std::size_t>((both * 0x9e3779b97f4a7c15U) >> 32U);
}

}  // namespace

CellGrid::CellGrid(std::span<const Extent> extents) : count_(static_cast<std::uint32_t>(extents.size())) {
    std::vector<std::pair<std::pair<std::int32_t, std::int32_t>, std::uint32_t>> listed;  // cell, box
    for (std::uint32_t index = 0; index < count_; ++index) {
        const Extent& box = extents[index];
        if (!is_within(box.low.x, box.high.x) || !is_within(box.low.y, box.high.y)) {
            everywhere_.push_back(index);
            continue;
        }
        const Range x = cells_between(box.low.x, box.high.x), y = cells_between(box.low.y, box.high.y);
        if (x.count() * y.count() > most_cells_of_a_box) {
            everywhere_.push_back(index);
            continue;
        }
        for (std::int32_t i = x.from; i <= x.to; ++i) {
            for (std::int32_t k = y.from; k <= y.to; ++k) {
                listed.push_back({{i, k}, index});
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
    for (const auto& [cell, index] : listed) {
        Cell& place = table_[place_of(cell.first, cell.second)];
        if (place.count == 0) {
            place = {cell.first, cell.second, static_cast<std::uint32_t>(indices_.size()), 0};
        }
        ++place.count;
        indices_.push_back(index);
    }
}

/// Where the cell stands in the table, or the free place where it would.
std::size_t CellGrid::place_of(std::int32_t x, std::int32_t y) const {
    std::size_t place = hash_of(x, y) & (table_.size() - 1);
    while (table_[place].count != 0 && (table_[place].x != x || table_[place].y != y)) {
        place = (place + 1) & (table_.size() - 1);
    }
    return place;
}

std::span<const std::uint32_t> CellGrid::in_cell(std::int32_t x, std::int32_t y) const {
    if (table_.empty()) {
        return {};
    }
    const Cell& cell = table_[place_of(x, y)];
    return std::span(indices_).subspan(cell.first, cell.count);
}

bool CellGrid::lists_around(const Extent& around, Lists& lists) const {
    if (!is_within(around.low.x, around.high.x) || !is_within(around.low.y, around.high.y)) {
        return false;  // NaN as well
    }
    const Range x = cells_between(around.low.x, around.high.x),
                y = cells_between(around.low.y, around.high.y);
    if (x.count() * y.count() > static_cast<double>(most_cells)) {
        return false;
    }
    lists.add(everywhere_);
    for (std::int32_t i = x.from; i <= x.to; ++i) {
        for (std::int32_t k = y.from; k <= y.to; ++k) {
            lists.add(in_cell(i, k));
        }
    }
    return true;
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
