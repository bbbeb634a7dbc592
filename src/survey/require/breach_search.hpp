#pragma once

#include <cursimeter/survey/require.hpp>
#include <functional>

#include "survey/require/asked.hpp"
#include "survey/scout/hands.hpp"

/// Playing at random for a run that breaks a requirement.
namespace cursimeter::survey {

/// Until a requirement counts as broken, s: so long a state that was just left is held back.
inline constexpr double held_back_seconds = shortest_return.value;

/// Whether a way breaks it, played anew and looked at instant by instant: when, s.
using Breaks = std::function<std::optional<double>(const Way&)>;
/// Whether a settled runner looks as if it did, or soon might.
using LooksBroken = std::function<bool(const Runner& runner, const detail::Facts& facts)>;

/// Keeps one runner of each kind that it comes to (state, facts that the chart compares, levels in sixteenths) and goes on from any of
/// them by keys that some state asks for. The same seed finds the same.
class BreachSearch {
  public:
    BreachSearch(const Asked& asked, const RequirePlan& plan);

    /// The shortest way that it found and then could not shorten, and when it breaks. Nothing after so many ticks.
    [[nodiscard]] std::optional<std::pair<Way, double>> run(const LooksBroken& looks, const Breaks& breaks);
    [[nodiscard]] std::uint64_t ticks() const { return ticks_; }
    [[nodiscard]] std::size_t kinds() const { return seen_.size(); }

  private:
    struct Node {
        Runner runner;
        Hands hands;
        std::uint32_t tick = 0, parent = 0;
        HandsAt change;  ///< that led here from the parent
    };
    [[nodiscard]] double time_of(std::uint32_t tick) const { return static_cast<double>(tick) / plan_.rate; }
    void try_from(std::uint32_t index);
    void play(Node& node, const Hands& hands, std::uint32_t ticks);
    [[nodiscard]] Hands some_hands(const Hands& before);
    [[nodiscard]] std::uint64_t kind_of(const Runner& runner, const detail::Facts& facts) const;
    [[nodiscard]] Way way_to(const Node& node) const;
    void consider(const Node& node);
    [[nodiscard]] std::pair<Way, double> shortened(Way way, double at) const;

    const Asked& asked_;
    RequirePlan plan_;
    const LooksBroken* looks_ = nullptr;
    const Breaks* breaks_ = nullptr;
    std::vector<Hands> asked_for_;  ///< keys and moves that states ask for
    std::vector<Node> nodes_;
    std::vector<std::uint64_t> seen_;  ///< kinds of runners, sorted
    std::optional<std::pair<Way, double>> found_;
    std::uint64_t ticks_ = 0, found_at_ = 0;
    std::uint32_t latest_ = 0;  ///< tick after which nothing is of use
};

}  // namespace cursimeter::survey
