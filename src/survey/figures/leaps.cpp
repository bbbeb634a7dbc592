#include "survey/figures/leaps.hpp"

#include <algorithm>
#include <numeric>

namespace cursimeter::survey {
namespace {

constexpr double longest_leap = 300.0;  // s
constexpr double degree = 3.141592653589793 / 180.0;

constexpr double found_to = 1e-3;  // m

}  // namespace

std::optional<double> largest_that(const std::function<bool(double)>& gets_there, double least, double most) {
    double low = least, step = 1.0 / 128.0, high = least + step;
    while (low < most && gets_there(high)) {
        low = high;
        step *= 2.0;
        high = std::min(low + step, most);
    }
    if (low == least || low >= most) {
        return std::nullopt;
    }
    while (high - low > found_to) {
        const double middle = 0.5 * (low + high);
        (gets_there(middle) ? low : high) = middle;
    }
    return low;
}

Answer answer_of(std::optional<double> largest, const std::string& how) {
    return largest ? Answer{*largest, how} : Answer{no_figure, "a run and a press do not bring it about"};
}

LeapPart jump_part(const FigureSource& source, std::uint8_t jump) {
    return {jump, source.state(jump).launch.count};
}

LeapPart burst_part(const FigureSource& source, std::uint8_t burst) {
    LeapPart part{burst};
    const detail::CompiledState& state = source.state(burst);
    if (state.cooldown != detail::no_cooldown) {
        part.times = source.data().cooldowns[state.cooldown].charges;
    }
    if (goes_up(source, burst)) {
        part.pitches = {90.0, 75.0, 60.0, 45.0, 30.0};
    }
    return part;
}

std::optional<std::uint8_t> fastest_run(const FigureSource& source) {
    const std::vector<std::uint8_t> grounds = run_up_states(source);
    return grounds.empty() ? std::nullopt : std::optional(grounds.back());
}

std::optional<std::uint8_t> first_jump(const FigureSource& source) {
    for (std::uint8_t i = 0; i < source.data().states.size(); ++i) {
        if (source.state(i).launch.count > 0 && !source.state(i).launch.off_wall) {
            return i;
        }
    }
    return std::nullopt;
}

bool goes_up(const FigureSource& source, std::uint8_t burst) {
    const detail::CompiledBurst& data = source.state(burst).burst;
    return data.along_count > 0 && data.along[0] == Along::look;
}

Leaps::Leaps(const FigureSource& source, std::uint8_t run, std::vector<LeapPart> parts, std::uint32_t held)
    : source_(source), run_(recipe_of(source.data(), run)), parts_(std::move(parts)), besides_(held) {}

std::size_t Leaps::count() const {
    return std::accumulate(parts_.begin(), parts_.end(), std::size_t{0},
                           [](std::size_t sum, const LeapPart& part) { return sum + part.times; });
}

bool Leaps::lead(const Runner& from, const Terrain& terrain, const Goal& goal) const {
    Probe probe(source_.chart, &terrain);
    probe.runner() = from;
    probe.move = run_.move;
    probe.held = run_held();
    Left left;
    for (const LeapPart& part : parts_) {
        left.push_back(part.times);
    }
    return leaps(probe, left, goal);
}

bool Leaps::leaps(const Probe& at, const Left& left, const Goal& goal) const {
    for (std::size_t i = 0; i < parts_.size(); ++i) {
        if (left[i] == 0) {
            continue;
        }
        for (const double pitch : parts_[i].pitches) {
            Probe probe = at;
            if (!begins(probe, parts_[i], pitch)) {
                break;  // it is the same for every look
            }
            Left after = left;
            --after[i];
            if (flies(probe, after, goal)) {
                return true;
            }
        }
    }
    return false;
}

bool Leaps::begins(Probe& probe, const LeapPart& part, double pitch) const {
    const detail::CompiledState& state = source_.state(part.state);
    if (state.launch.off_wall && !probe.runner().by_wall()) {
        return false;
    }
    const Recipe recipe = recipe_of(source_.data(), part.state);
    if ((probe.held & recipe.pressed) != 0) {
        probe.held &= ~recipe.pressed;
        static_cast<void>(probe.tick(fine_step));
    }
    probe.held |= recipe.held | recipe.pressed;
    probe.look.pitch = pitch * degree;
    const EventKind begun = state.launch.count > 0 ? EventKind::jumped : EventKind::entered;
    return probe.until_event(begun, part.state, 2.0 * fine_step).has_value();
}

bool Leaps::flies(Probe& probe, const Left& left, const Goal& goal) const {
    const auto landed = [](const Event& event) { return event.kind == EventKind::landed; };
    const double end = probe.now() + longest_leap;
    const bool nothing_left =
        std::all_of(left.begin(), left.end(), [](std::size_t times) { return times == 0; });
    // One that begins late, beyond the edge of a gap that is narrower still, begins inside of solids: it goes nowhere.
    const auto goes_on = [&] {
        const Runner& runner = probe.runner();
        const double height = runner.position().z;
        return height > goal.floor && !runner.crushed() && !runner.grounded() && probe.now() < end &&
               !(nothing_left && runner.velocity().z < 0.0 && height < goal.sinking);
    };
    for (int step = 1; goes_on(); ++step) {
        if (probe.until(landed, fine_step)) {
            return goal.wanted(probe.runner());
        }
        if (!nothing_left && step % press_steps_ == 0 && leaps(probe, left, goal)) {
            return true;
        }
    }
    return false;
}

}  // namespace cursimeter::survey
