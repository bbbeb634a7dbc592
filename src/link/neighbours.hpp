#pragma once

#include <algorithm>
#include <cstddef>
#include <cursimeter/link/protocol.hpp>
#include <span>
#include <vector>

namespace cursimeter::link {

[[nodiscard]] inline Neighbour neighbour(RunnerKey key, const Chart& chart, const Runner& runner) {
    return {key,
            runner.position(),
            runner.velocity(),
            {runner.yaw(), runner.pitch()},
            chart.body(runner.state())};
}

/// Where all runners are before a tick, for advancers that want to know where the others are. Their order, by place, is
/// part of what makes a tick come out the same.
class Neighbours {
  public:
    explicit Neighbours(std::size_t places) : among_(places) { all_.reserve(places); }

    void clear() { all_.clear(); }
    void add(RunnerKey key, const Chart& chart, const Runner& runner) {
        among_[key.place] = all_.size();
        all_.push_back(neighbour(key, chart, runner));
    }
    /// Calls `use` with all but the one at this place; with none if they are not wanted.
    template <class Use>
    void around(std::size_t place, Use&& use) {
        if (all_.empty()) {
            use(std::span<const Neighbour>());
            return;
        }
        // Itself goes to the end meanwhile, so that the others are in a row.
        const auto own = all_.begin() + static_cast<std::ptrdiff_t>(among_[place]);
        std::rotate(own, own + 1, all_.end());
        use(std::span<const Neighbour>(all_).first(all_.size() - 1));
        std::rotate(own, all_.end() - 1, all_.end());
    }

  private:
    std::vector<Neighbour> all_;
    std::vector<std::size_t> among_;  ///< by place
};

}  // namespace cursimeter::link
