#pragma once

#include <algorithm>
#include <cstdint>
#include <vector>

namespace cursimeter::link {

/// Who is told in a snapshot if not all fit into it: those of the lowest priority are left out, wherever they stand
/// in the row. What an entry takes is known only when it is written, so it is decided anew before each of them, by
/// the room that is left. All memory is taken when it is made.
class Shortlist {
  public:
    struct Candidate {
        float priority = 0.0F;
        std::uint16_t place = 0;
        double cost = 0.0;       ///< bytes, at a guess
        std::uint32_t base = 0;  ///< snapshot by which it is told; 0: none
        bool dropped = false;
    };
    explicit Shortlist(std::size_t most) {
        candidates_.reserve(most);
        by_priority_.reserve(most);
    }
    void clear() {
        candidates_.clear();
        by_priority_.clear();
        left_ = 0.0;
        lowest_ = 0;
        sorted_ = false;
    }
    /// In the order of places.
    void add(const Candidate& candidate) {
        by_priority_.push_back(static_cast<std::uint16_t>(candidates_.size()));
        candidates_.push_back(candidate);
        left_ += candidate.cost;
    }
    [[nodiscard]] std::size_t size() const { return candidates_.size(); }
    [[nodiscard]] const Candidate& operator[](std::size_t i) const { return candidates_[i]; }
    /// Whether the next in the row is told, if `room` bytes are left for it and those after it, and entries take
    /// `scale` times what was guessed. Each is asked about once.
    [[nodiscard]] bool tells(std::size_t next, double room, double scale) {
        while (left_ * scale * (1.0 + doubt) + at_least > room && lowest_ < by_priority_.size()) {
            sort();
            const std::uint16_t lowest = by_priority_[lowest_++];
            if (lowest >= next) {
                candidates_[lowest].dropped = true;
                left_ -= candidates_[lowest].cost;
            }
        }
        left_ -= candidates_[next].dropped ? 0.0 : candidates_[next].cost;
        return !candidates_[next].dropped;
    }

  private:
    /// Only where not all fit is it asked who comes last.
    void sort() {
        if (sorted_) {
            return;
        }
        sorted_ = true;
        std::sort(by_priority_.begin(), by_priority_.end(), [&](std::uint16_t a, std::uint16_t b) {
            const Candidate &one = candidates_[a], &other = candidates_[b];
            return one.priority != other.priority ? one.priority < other.priority : one.place > other.place;
        });
    }

    /// By what part, and bytes, what is left may take more than guessed: so that the last in the row, of whatever
    /// priority, are not those who pay for a wrong guess.
    static constexpr double doubt = 0.04, at_least = 12.0;
    std::vector<Candidate> candidates_;       ///< by place
    std::vector<std::uint16_t> by_priority_;  ///< the lowest first
    double left_ = 0.0;                       ///< costs of those that are not told and not dropped yet
    std::size_t lowest_ = 0;
    bool sorted_ = false;
};

}  // namespace cursimeter::link
