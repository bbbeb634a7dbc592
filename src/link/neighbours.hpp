#pragma once

#include <cursimeter/link/protocol.hpp>
#include <span>
#include <utility>
#include <vector>

namespace cursimeter::link {

/// Where all runners are before a tick, for steppers that want to know where the others are. Their order is part of
/// what makes a tick come out the same.
class Neighbours {
  public:
    explicit Neighbours(std::size_t places) : among_(places) { all_.reserve(places); }

    void clear() { all_.clear(); }
    void add(RunnerKey key, const Chart& chart, const Runner& runner) {
        among_[key.place] = all_.size();
        all_.push_back({key,
                        runner.position(),
                        runner.velocity(),
                        {runner.yaw(), runner.pitch()},
                        chart.body(runner.state())});
    }
    /// Calls `step` with all but the one at this place; with none if they are not wanted.
    template <class Step>
    void around(std::size_t place, Step&& step) {
        if (all_.empty()) {
            step(std::span<const Neighbour>());
            return;
        }
        // Itself goes to the end meanwhile, so that the others are in a row.
        Neighbour& own = all_[among_[place]];
        std::swap(own, all_.back());
        step(std::span<const Neighbour>(all_).first(all_.size() - 1));
        std::swap(own, all_.back());
    }

  private:
    std::vector<Neighbour> all_;
    std::vector<std::size_t> among_;  ///< by place
};

}  // namespace cursimeter::link
