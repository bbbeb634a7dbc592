#include "survey/require/breach_search.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cursimeter/advance.hpp>

#include "core/choose/looking_on.hpp"
#include "survey/dice.hpp"
#include "survey/probe.hpp"

namespace cursimeter::survey {
namespace {

constexpr std::size_t most_nodes = 20'000;
constexpr double longest_way = 120.0;  ///< s

/// How a runner stands at a moment: what it would do without another key.
struct Settling {
    detail::Facts facts;
    bool settled = true;
};
Settling settling_of(const Chart& chart, const Runner& runner) {
    Settling settling;
    const auto tell = [](void* to, const detail::Choosing& made) {
        *static_cast<Settling*>(to) = {made.now, !made.choice.change};
    };
    detail::look_on_now(chart, runner, {&settling, tell});
    return settling;
}

}  // namespace

BreachSearch::BreachSearch(const Asked& asked, const RequirePlan& plan) : asked_(asked), plan_(plan) {
    const auto add = [&](const Hands& hands) {
        if (std::find(asked_for_.begin(), asked_for_.end(), hands) == asked_for_.end()) {
            asked_for_.push_back(hands);
        }
    };
    add({});
    for (std::uint8_t state = 0; state < asked.states(); ++state) {
        const Recipe recipe = recipe_of(asked.data(), state);
        Hands hands;
        hands.held = recipe.held | recipe.pressed;
        hands.move = recipe.move.forward > 0.0   ? 1
                     : recipe.move.forward < 0.0 ? 5
                     : recipe.move.side > 0.0    ? 3
                                                 : 0;
        add(hands);
    }
    // Keys that bring no state about steer one: up and down in flight, how long a jump is held.
    for (std::uint8_t i = 0; i < asked.chart().action_count(); ++i) {
        const std::uint32_t key = key_bit(ActionId{i});
        const bool known = std::any_of(asked_for_.begin(), asked_for_.end(),
                                       [&](const Hands& hands) { return (hands.held & key) != 0; });
        if (!known) {
            Hands hands;
            hands.held = key;
            add(hands);
        }
    }
    latest_ = static_cast<std::uint32_t>(longest_way * plan.rate);
}

std::uint64_t BreachSearch::kind_of(const Runner& runner, const detail::Facts& facts) const {
    std::uint64_t hash = runner.state().index;
    const auto take = [&](std::uint64_t value) { hash = Dice(hash, value).next(); };
    for (const std::uint64_t word : facts.derived.words) {
        take(word);
    }
    take(facts.fixed.words[0] >> 32U);  // contacts and moves, not the keys
    for (std::uint8_t i = 0; i < asked_.chart().meter_count(); ++i) {
        take(static_cast<std::uint64_t>(16.0 * read_meter(asked_.chart(), runner, MeterId{i}).fraction));
    }
    take(static_cast<std::uint64_t>(runner.speed()));
    take(static_cast<std::uint64_t>(
        std::bit_width(static_cast<std::uint64_t>(8.0 * runner.time_in_state().value))));
    return hash;
}

Hands BreachSearch::some_hands(const Hands& before) {
    Dice dice(plan_.seed, ticks_ * 2 + 1);
    Hands hands = asked_for_[dice.below(static_cast<std::uint32_t>(asked_for_.size()))];
    if (dice.percent(30)) {  // some more keys, or those of before as well
        hands.held |= dice.percent(50)
                          ? before.held
                          : asked_for_[dice.below(static_cast<std::uint32_t>(asked_for_.size()))].held;
    }
    if (dice.percent(30)) {
        hands.move = static_cast<std::uint8_t>(dice.below(9));
    }
    hands.yaw = before.yaw;
    if (dice.percent(10)) {
        hands.yaw = static_cast<std::int16_t>(90 * dice.between(-1, 2));
    }
    return hands;
}

void BreachSearch::play(Node& node, const Hands& hands, std::uint32_t ticks) {
    const Chart& chart = asked_.chart();
    std::vector<Change> changes;
    for (std::uint32_t i = 0; i < ticks && node.tick < latest_; ++i) {
        Intent intent;
        intent.move = move_of(node.hands.move);
        intent.look = look_of(node.hands);
        intent.held = node.hands.held;
        intent.naming = chart.naming();
        changes.clear();
        add_changes(changes, node.hands, hands, chart.action_count());
        intent.changes = changes;
        static_cast<void>(
            advance(chart, node.runner, intent, Seconds{time_of(node.tick + 1) - time_of(node.tick)}));
        node.hands = hands;
        ++node.tick;
        ++ticks_;
        const Settling settling = settling_of(chart, node.runner);
        if (settling.settled && (*looks_)(node.runner, settling.facts)) {
            consider(node);
        }
    }
}

Way BreachSearch::way_to(const Node& node) const {
    Way way;
    way.end = node.tick;
    for (const Node* at = &node; at->tick > 0; at = &nodes_[at->parent]) {
        way.changes.push_back(at->change);
    }
    std::reverse(way.changes.begin(), way.changes.end());
    return way;
}

void BreachSearch::consider(const Node& node) {
    Way way = way_to(node);
    ticks_ += way.end;  // these are played, too
    const std::optional<double> at = (*breaks_)(way);
    if (!at) {
        return;
    }
    if (!found_) {
        found_at_ = ticks_;
    }
    found_ = {std::move(way), *at};
    latest_ = node.tick > 1 ? node.tick - 1 : 0;
}

void BreachSearch::try_from(std::uint32_t index) {
    Dice dice(plan_.seed, ticks_ * 2);
    constexpr std::uint32_t lengths[] = {1, 1, 2, 3, 6, 12, 30, 60, 120, 300, 600};
    const auto length = [&] {
        const double scaled = lengths[dice.below(std::size(lengths))] * plan_.rate / 60.0;
        return std::max(1U, static_cast<std::uint32_t>(scaled));
    };
    Node node = nodes_[index];
    node.parent = index;
    const Hands hands = dice.percent(25) ? node.hands : some_hands(node.hands);
    Hands released = hands;  // a key that is down has to come up before it can be pressed anew
    released.held &= ~node.hands.held;
    const bool press_anew = released.held != hands.held && dice.percent(50);
    if (press_anew) {
        node.change = {node.tick, released};
        play(node, released, 1);
        if (nodes_.size() >= most_nodes || node.tick >= latest_) {
            return;
        }
        nodes_.push_back(node);
        node.parent = static_cast<std::uint32_t>(nodes_.size() - 1);
    }
    node.change = {node.tick, hands};
    play(node, hands, length());
    const std::uint64_t kind = kind_of(node.runner, settling_of(asked_.chart(), node.runner).facts);
    const auto place = std::lower_bound(seen_.begin(), seen_.end(), kind);
    if ((place == seen_.end() || *place != kind) && nodes_.size() < most_nodes) {
        seen_.insert(place, kind);
        nodes_.push_back(node);
    }
}

std::pair<Way, double> BreachSearch::shortened(Way way, double at) const {
    for (std::size_t i = way.changes.size(); i-- > 0;) {
        Way without = way;
        without.changes.erase(without.changes.begin() + static_cast<std::ptrdiff_t>(i));
        if (const std::optional<double> still = (*breaks_)(without)) {
            way = std::move(without);
            at = *still;
        }
    }
    const auto end = static_cast<std::uint32_t>(std::ceil((at + 2.0 * held_back_seconds) * plan_.rate)) + 1;
    Way cut = way;
    cut.end = std::min(cut.end, end);
    std::erase_if(cut.changes, [&](const HandsAt& change) { return change.tick >= cut.end; });
    if (const std::optional<double> still = (*breaks_)(cut)) {
        return {std::move(cut), *still};
    }
    return {std::move(way), at};
}

std::optional<std::pair<Way, double>> BreachSearch::run(const LooksBroken& looks, const Breaks& breaks) {
    looks_ = &looks;
    breaks_ = &breaks;
    Node first;
    first.runner = spawn(asked_.chart());
    for (std::uint8_t i = 0; i < asked_.chart().action_count(); ++i) {
        set_press_mode(first.runner, ActionId{i}, PressMode::hold);
    }
    nodes_.push_back(first);
    while (ticks_ < plan_.ticks && latest_ > 1) {
        if (found_ && ticks_ > found_at_ + std::max(found_at_, plan_.ticks / 4)) {
            break;  // long enough for a shorter one
        }
        Dice dice(plan_.seed ^ 0x5eed, ticks_);
        const auto count = static_cast<std::uint32_t>(nodes_.size());
        const std::uint32_t index =
            dice.percent(50) ? dice.below(count) : count - 1 - dice.below(std::min(count, 64U));
        if (nodes_[index].tick >= latest_) {
            ++ticks_;
            continue;
        }
        try_from(index);
    }
    if (found_) {
        found_ = shortened(std::move(found_->first), found_->second);
    }
    return found_;
}

}  // namespace cursimeter::survey
