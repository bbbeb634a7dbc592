#include "survey/figures/leaps.hpp"

#include <algorithm>

namespace cursimeter::survey {
namespace {

constexpr int press_steps = 12;         // between two times at which a further jump is tried
constexpr double longest_leap = 300.0;  // s

constexpr double found_to = 1e-3;  // m

}  // namespace

Answer largest_that(const std::function<bool(double)>& gets_there, double most, const char* how) {
    double low = 0.0, high = 1.0 / 128.0;
    while (low < most && gets_there(high)) {
        low = high;
        high = std::min(2.0 * high, most);
    }
    if (low == 0.0 || low >= most) {
        return {no_figure, "a run and a press do not bring it about"};
    }
    while (high - low > found_to) {
        const double middle = 0.5 * (low + high);
        (gets_there(middle) ? low : high) = middle;
    }
    return {low, how};
}

Leaps::Leaps(const FigureSource& source, std::uint8_t run, std::uint8_t jump)
    : source_(source), jump_(jump), run_(recipe_of(source.data(), run)) {
    const Recipe recipe = recipe_of(source.data(), jump);
    held_ = run_held() | recipe.held;
    pressed_ = recipe.pressed;
}

bool Leaps::lead(const Runner& from, const Terrain& terrain, double floor,
                 const std::function<bool(const Runner&)>& wanted) const {
    Probe probe(source_.chart, &terrain);
    probe.runner() = from;
    probe.move = run_.move;
    return jumps(probe, count() - 1U, {floor, wanted});
}

bool Leaps::jumps(Probe& probe, std::size_t further, const Flight& flight) const {
    probe.held = held_ | pressed_;
    if (!probe.until_event(EventKind::jumped, jump_, 2.0 * fine_step)) {
        return false;
    }
    const auto landed = [](const Event& event) { return event.kind == EventKind::landed; };
    const double end = probe.now() + longest_leap;
    // One that begins late, beyond the edge of a gap that is narrower still, begins inside of solids: it goes nowhere.
    const auto flies = [&] {
        return probe.runner().position().z > flight.floor && !probe.runner().crushed() && probe.now() < end;
    };
    for (int step = 1; flies(); ++step) {
        if (probe.until(landed, fine_step)) {
            return flight.wanted(probe.runner());
        }
        if (further > 0 && step % press_steps == 0 && jumps_again(probe, further, flight)) {
            return true;
        }
    }
    return false;
}

bool Leaps::jumps_again(const Probe& flying, std::size_t further, const Flight& flight) const {
    Probe probe = flying;
    probe.held = held_;
    static_cast<void>(probe.tick(fine_step));
    return jumps(probe, further - 1, flight);
}

}  // namespace cursimeter::survey
