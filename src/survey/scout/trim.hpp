#pragma once

#include "survey/scout/search.hpp"

/// Making a way to the goal shorter by small edits, each of which has to arrive at other tick rates as well.
namespace cursimeter::survey {

class Trimmer {
  public:
    Trimmer(const Errand& errand, unsigned threads);

    /// Takes the fastest of some ways, of which there is one at least, that arrives at all rates; otherwise the fastest, with the rates that it misses.
    void begin(const std::vector<Arrival>& arrivals);
    /// A round of edits of the way at hand.
    void round();

    [[nodiscard]] std::uint64_t ticks() const;
    [[nodiscard]] double seconds() const { return best_ ? best_->seconds : never; }
    [[nodiscard]] std::optional<FoundWay> result() const;

  private:
    struct Rates {
        std::vector<double> kept, missed;
    };
    [[nodiscard]] Rates try_rates(const Way& way, bool all);
    [[nodiscard]] Way edited(Dice& dice) const;
    void settle(Arrival arrival);

    const Errand& errand_;
    StintMaker maker_;
    unsigned threads_;
    std::vector<Player> players_;
    std::optional<Arrival> best_;  ///< the way at hand
    Rates rates_;
    std::vector<Situation> marks_;  ///< along the way at hand, every `mark_ticks`
    std::uint64_t rate_ticks_ = 0, edits_ = 0;
};

}  // namespace cursimeter::survey
