#include <algorithm>
#include <utility>

#include "survey/scout/cells.hpp"

namespace cursimeter::survey {
namespace {

constexpr std::size_t least_cells = 20;  // of a part of the world

/// Strongly connected components by Tarjan's algorithm (1972), with a stack of its own in place of recursion.
class Components {
  public:
    explicit Components(const CellPassages& out)
        : out_(out),
          parts_(out.cells(), no_number),
          index_(out.cells(), no_number),
          low_(out.cells(), 0),
          is_open_(out.cells(), 0) {
        for (std::uint32_t cell = 0; cell < out.cells(); ++cell) {
            if (index_[cell] == no_number) {
                visit(cell);
            }
        }
    }
    /// By cell; none for a cell that leads to no part.
    [[nodiscard]] std::vector<std::uint32_t> take_parts() { return std::move(parts_); }
    /// One cell of each part.
    [[nodiscard]] const std::vector<std::uint32_t>& members() const { return members_; }

  private:
    void visit(std::uint32_t root) {
        std::vector<std::pair<std::uint32_t, std::size_t>> path;  // cells, and their next passage
        const auto enter = [&](std::uint32_t cell) {
            path.emplace_back(cell, 0);
            index_[cell] = low_[cell] = next_index_++;
            open_.push_back(cell);
            is_open_[cell] = 1;
        };
        enter(root);
        while (!path.empty()) {
            const std::uint32_t cell = path.back().first;
            const std::span<const CellPassage> onward = out_.of(cell);
            if (path.back().second < onward.size()) {
                const std::uint32_t other = onward[path.back().second++].other;
                if (index_[other] == no_number) {
                    enter(other);
                } else if (is_open_[other] != 0) {
                    low_[cell] = std::min(low_[cell], index_[other]);
                }
                continue;
            }
            path.pop_back();
            if (!path.empty()) {
                std::uint32_t& low = low_[path.back().first];
                low = std::min(low, low_[cell]);
            }
            if (low_[cell] == index_[cell]) {
                close(cell);
            }
        }
    }

    /// A component is whole: all that lie open from its first cell on. One that is too small to be a part goes with the part to which
    /// it leads. Parts are finished from the last that one gets to up to the first, so the highest number leads to most.
    void close(std::uint32_t first_cell) {
        const auto first = std::find(open_.rbegin(), open_.rend(), first_cell).base() - 1;
        std::uint32_t part = no_number;
        if (static_cast<std::size_t>(open_.end() - first) >= least_cells) {
            part = static_cast<std::uint32_t>(members_.size());
            members_.push_back(first_cell);
        } else {
            for (auto at = first; at != open_.end(); ++at) {
                for (const CellPassage& one : out_.of(*at)) {
                    const std::uint32_t other = parts_[one.other];
                    if (other != no_number && (part == no_number || other > part)) {
                        part = other;
                    }
                }
            }
        }
        for (auto at = first; at != open_.end(); ++at) {
            is_open_[*at] = 0;
            parts_[*at] = part;
        }
        open_.erase(first, open_.end());
    }

    const CellPassages& out_;
    std::vector<std::uint32_t> parts_, index_, low_, open_, members_;
    std::vector<char> is_open_;
    std::uint32_t next_index_ = 0;
};

/// Marks the cells to which passages lead from one, itself included, and counts those that were not marked so.
std::size_t spread(const CellPassages& passages, std::uint32_t from, std::vector<std::uint32_t>& marks,
                   std::uint32_t mark) {
    std::size_t reached = 0;
    std::vector<std::uint32_t> open{from};
    while (!open.empty()) {
        const std::uint32_t cell = open.back();
        open.pop_back();
        if (std::exchange(marks[cell], mark) == mark) {
            continue;
        }
        ++reached;
        for (const CellPassage& one : passages.of(cell)) {
            if (marks[one.other] != mark) {
                open.push_back(one.other);
            }
        }
    }
    return reached;
}

}  // namespace

void CellMap::find_parts() {
    const CellPassages out = passages(Direction::onward);
    Components components(out);
    parts_ = components.take_parts();
    std::vector<std::uint32_t> marks(keys_.size(), 0);
    reach_.clear();
    for (const std::uint32_t member : components.members()) {
        reach_.push_back(spread(out, member, marks, static_cast<std::uint32_t>(reach_.size()) + 1));
    }
    for (std::uint32_t cell = 0; cell < keys_.size(); ++cell) {  // what leads nowhere as yet
        if (parts_[cell] == no_number) {
            parts_[cell] = came_from_[cell] == cell ? 0 : parts_[came_from_[cell]];
        }
    }
    returns_.assign(keys_.size(), 0);
    const CellPassages back = passages(Direction::back);
    for (std::uint32_t cell = 0; cell < keys_.size();
         ++cell) {  // the start, whatever gates were passed meanwhile
        if (place_of(keys_[cell]) == place_of(keys_[0])) {
            spread(back, cell, returns_, 1);
        }
    }
}

}  // namespace cursimeter::survey
