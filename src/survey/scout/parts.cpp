#include <algorithm>
#include <array>
#include <utility>

#include "survey/scout/cells.hpp"

namespace cursimeter::survey {
namespace {

constexpr std::size_t least_cells = 20;  // of a part of the world

/// How many different cells a set has, about: the least hashes tell (Bar-Yossef and others 2002, "Counting distinct elements in a data
/// stream"). Sets are joined without counting twice what both have, which makes a look over the whole world linear in its passages.
/// Exact below `kept` cells, else right within a quarter as a rule.
class CellCount {
  public:
    void add(std::uint32_t cell) {
        std::uint64_t z = (cell + 1) * 0x9e3779b97f4a7c15U;
        z = (z ^ (z >> 30U)) * 0xbf58476d1ce4e5b9U;
        add_hash(static_cast<std::uint32_t>((z ^ (z >> 27U)) >> 32U));
    }
    void add(const CellCount& other) {
        for (std::uint32_t i = 0; i < other.count_ && (count_ < kept || other.least_[i] < least_[kept - 1]);
             ++i) {
            add_hash(other.least_[i]);
        }
    }
    [[nodiscard]] std::size_t size() const {
        return count_ < kept ? count_
                             : static_cast<std::size_t>((kept - 1) * 0x1p32 / (least_[kept - 1] + 1.0));
    }

  private:
    static constexpr std::uint32_t kept = 24;
    void add_hash(std::uint32_t hash) {
        std::uint32_t* const end = least_.data() + count_;
        std::uint32_t* const at = std::lower_bound(least_.data(), end, hash);
        if (at == least_.data() + kept || (at != end && *at == hash)) {
            return;
        }
        count_ = std::min(count_ + 1, kept);
        std::move_backward(at, least_.data() + count_ - 1, least_.data() + count_);
        *at = hash;
    }
    std::array<std::uint32_t, kept> least_{};  ///< ascending
    std::uint32_t count_ = 0;
};

/// Strongly connected components by Tarjan's algorithm (1972), with a stack of its own in place of recursion.
class Components {
  public:
    explicit Components(const CellPassages& out)
        : out_(out),
          parts_(out.cells(), no_number),
          component_(out.cells(), no_number),
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
    /// How many cells each part leads to, about.
    [[nodiscard]] std::vector<std::size_t> take_reach() { return std::move(reach_); }

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
        CellCount reached;
        for (auto at = first; at != open_.end(); ++at) {
            reached.add(*at);
            for (const CellPassage& one : out_.of(*at)) {
                if (component_[one.other] != no_number) {  // what it leads to is finished before it
                    reached.add(reached_[component_[one.other]]);
                }
            }
        }
        std::uint32_t part = no_number;
        if (static_cast<std::size_t>(open_.end() - first) >= least_cells) {
            part = static_cast<std::uint32_t>(reach_.size());
            reach_.push_back(reached.size());
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
            component_[*at] = static_cast<std::uint32_t>(reached_.size());
        }
        reached_.push_back(reached);
        open_.erase(first, open_.end());
    }

    const CellPassages& out_;
    std::vector<std::uint32_t> parts_, component_, index_, low_, open_;
    std::vector<CellCount> reached_;  ///< by component
    std::vector<std::size_t> reach_;  ///< by part
    std::vector<char> is_open_;
    std::uint32_t next_index_ = 0;
};

/// Marks the cells to which passages lead from one, itself included.
void spread(const CellPassages& passages, std::uint32_t from, std::vector<std::uint32_t>& marks) {
    std::vector<std::uint32_t> open{from};
    while (!open.empty()) {
        const std::uint32_t cell = open.back();
        open.pop_back();
        if (std::exchange(marks[cell], 1) == 1) {
            continue;
        }
        for (const CellPassage& one : passages.of(cell)) {
            if (marks[one.other] == 0) {
                open.push_back(one.other);
            }
        }
    }
}

}  // namespace

void CellMap::find_parts() {
    const CellPassages out = passages(Direction::onward);
    Components components(out);
    parts_ = components.take_parts();
    reach_ = components.take_reach();
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
            spread(back, cell, returns_);
        }
    }
}

}  // namespace cursimeter::survey
