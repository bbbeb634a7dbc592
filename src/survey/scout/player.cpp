#include "survey/scout/player.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>
#include <glm/geometric.hpp>

#include "core/chart/chart_data.hpp"
#include "core/chart/findings.hpp"

namespace cursimeter::survey {
namespace {

constexpr double depth = 5.0;  // m below everything solid, from where nobody comes back

/// The index of a name, or a finding that names the nearest.
template <class Names>
std::optional<std::size_t> index_of(const Names& names, const std::string& name, const std::string& path,
                                    const char* what, detail::Findings& findings) {
    const auto found = std::find(names.begin(), names.end(), name);
    if (found == names.end()) {
        findings.add(path, fmt::format("there is no {} named '{}'", what, name),
                     detail::advise_name(name, names));
        return std::nullopt;
    }
    return static_cast<std::size_t>(found - names.begin());
}

glm::dvec3 middle_of(const GateSpec& gate) {
    return {0.5 * (gate.from[0] + gate.to[0]), 0.5 * (gate.from[1] + gate.to[1]),
            0.5 * (gate.from[2] + gate.to[2])};
}

void check_range(const char* path, double value, double least, double most, detail::Findings& findings) {
    if (!(value >= least && value <= most)) {
        findings.add(path, fmt::format("{:g} is out of range", value),
                     fmt::format("{:g} <= {} <= {:g}", least, path, most));
    }
}

}  // namespace

Errand::Errand(const Chart& own, const Course* world, const ScoutPlan& wanted)
    : chart(own), course(world), plan(wanted) {
    detail::Findings findings;
    check_range("rate", plan.rate, 10.0, 1000.0, findings);
    check_range("seconds", plan.seconds, 0.5, 600.0, findings);
    check_range("cell", plan.cell, 0.1, 10.0, findings);
    check_range("effort", plan.effort, 0.1, 2000.0, findings);
    check_range("within", plan.within, 0.05, 100.0, findings);
    if (plan.distance) {
        check_range("distance", *plan.distance, 1.0, 10'000.0, findings);
    }
    if ((plan.leg ? 1 : 0) + (plan.place ? 1 : 0) + (plan.distance ? 1 : 0) > 1) {
        findings.add("goal", "is said in more than one way", "say one of a leg, a place and a distance");
    }
    actions = actions_below(chart.action_count());
    const std::vector<std::string> names = detail::names_of(chart.data().actions);
    for (const std::string& name : plan.without) {
        if (const auto action = index_of(names, name, "without", "action", findings)) {
            actions &= ~(std::uint32_t{1} << *action);
        }
    }
    if (course == nullptr && (plan.leg || plan.all_legs || !plan.avoid.empty())) {
        findings.add("course", "is missing: legs and zones are a course's", "give a course");
    } else if (course != nullptr) {
        std::vector<std::string> legs, kinds;
        for (const LegSpec& one : course->spec().legs) {
            legs.push_back(one.name);
        }
        for (const ZoneSpec& zone : course->spec().zones) {
            kinds.push_back(zone.kind);
        }
        if (plan.leg) {
            const auto found = index_of(legs, *plan.leg, "leg", "leg", findings);
            leg = found ? static_cast<int>(*found) : -1;
        }
        if (legs.size() > 64) {
            findings.add("course", fmt::format("has {} legs", legs.size()), "64 at most for a search");
        } else if (plan.all_legs) {
            for (std::size_t i = 0; i < legs.size(); ++i) {
                all_legs |= std::uint64_t{1} << i;
            }
            if (legs.empty()) {
                findings.add("course", "has no legs to pass", "give its file [[leg]] tables");
            }
        }
        for (const std::string& kind : plan.avoid) {
            if (index_of(kinds, kind, "avoid", "zone", findings)) {
                std::copy_if(course->spec().zones.begin(), course->spec().zones.end(),
                             std::back_inserter(avoided),
                             [&](const ZoneSpec& zone) { return zone.kind == kind; });
            }
        }
        floor = 1e300;
        for (const Solid& solid : course->solids()) {
            floor = std::min(floor, solid.middle.z - glm::length(solid.half));
        }
        floor = std::min(floor, plan.start.position[2]) - depth;
    } else {
        floor = -1e300;
    }
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
    last_tick = static_cast<std::uint32_t>(std::llround(plan.seconds * plan.rate));
    const Situation now = start();
    origin = now.runner.position();
    const detmath::SineCosine looks = detmath::sine_cosine(now.runner.yaw());
    heading = {looks.cosine, looks.sine, 0.0};
}

std::optional<glm::dvec3> Errand::goal_place() const {
    if (plan.place) {
        return glm::dvec3((*plan.place)[0], (*plan.place)[1], (*plan.place)[2]);
    }
    if (plan.distance) {
        return origin + heading * *plan.distance;
    }
    if (course == nullptr || course->spec().legs.empty() || !has_goal()) {
        return std::nullopt;
    }
    const GateSpec& gate = leg >= 0 ? course->spec().legs[static_cast<std::size_t>(leg)].finish
                                    : course->spec().legs.back().finish;
    return middle_of(gate);
}

std::optional<glm::dvec3> Errand::next_place(const Progress& progress) const {
    for (std::size_t i = 0; all_legs != 0 && i < course->spec().legs.size(); ++i) {
        const LegSpec& one = course->spec().legs[i];
        const std::uint64_t bit = std::uint64_t{1} << i;
        if ((progress.begun & bit) == 0) {
            return middle_of(one.start);
        }
        if ((progress.ended & bit) == 0) {
            return middle_of(one.finish);
        }
    }
    return goal_place();
}

Situation Errand::start() const {
    Situation now;
    now.hands.yaw = whole_turn(static_cast<int>(plan.start.yaw.value));
    now.runner = spawn(chart, {{plan.start.position[0], plan.start.position[1], plan.start.position[2]},
                               Degrees(now.hands.yaw).radians()});
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        if (chart.press_mode(ActionId{i}) == PressMode::toggle) {
            set_press_mode(now.runner, ActionId{i}, PressMode::hold);
        }
    }
    return now;
}

Player::Player(const Errand& errand) : errand_(errand) {
    if (errand.course != nullptr) {
        terrain_.emplace(*errand.course, errand.chart);
    }
}

Player::Outcome Player::tick(Situation& now, const Hands& hands) {
    // As a drill's player hands it over, so that the drill gives the same bits.
    Intent intent;
    intent.move = move_of(now.hands.move);
    intent.look = look_of(now.hands);
    intent.held = now.hands.held;
    intent.naming = errand_.chart.naming();
    changes_.clear();
    if (hands != now.hands) {
        for (std::uint8_t i = 0; i < errand_.chart.action_count(); ++i) {
            if ((now.hands.held & ~hands.held & key_bit(ActionId{i})) != 0) {
                changes_.push_back(Change::release(ActionId{i}, 0.0));
            }
        }
        for (std::uint8_t i = 0; i < errand_.chart.action_count(); ++i) {
            if ((hands.held & ~now.hands.held & key_bit(ActionId{i})) != 0) {
                changes_.push_back(Change::press(ActionId{i}, 0.0));
            }
        }
        if (hands.move != now.hands.move) {
            changes_.push_back(Change::move_to(move_of(hands.move), 0.0));
        }
        if (hands.yaw != now.hands.yaw || hands.pitch != now.hands.pitch) {
            changes_.push_back(Change::look_to(look_of(hands), 0.0));
        }
        now.hands = hands;
    }
    intent.changes = changes_;
    return tick(now, intent);
}

Player::Outcome Player::tick(Situation& now, const Intent& intent) {
    const double begin = errand_.time_of(now.tick), end = errand_.time_of(now.tick + 1);
    const glm::dvec3 from = now.runner.position();
    ++ticks_;
    ++now.tick;
    if (!terrain_) {
        report_ = advance(errand_.chart, now.runner, intent, Seconds{end - begin});
    } else {
        const glm::dvec3 velocity = now.runner.velocity() + carrying_velocity(errand_.chart, now.runner);
        terrain_->set_time(begin);
        report_ = advance(errand_.chart, now.runner, intent, *terrain_, Seconds{end - begin});
        pass_gates(now, from, velocity);
    }
    look_for_goal(now, from);
    if (!std::isnan(now.progress.arrived)) {
        return Outcome::arrived;
    }
    return is_barred(now.runner) ? Outcome::barred : Outcome::on;
}

void Player::look_for_goal(Situation& now, const glm::dvec3& from) const {
    if ((errand_.all_legs & ~now.progress.ended) != 0) {
        return;
    }
    const double begin = errand_.time_of(now.tick - 1), end = errand_.time_of(now.tick);
    if (errand_.plan.place) {
        const cursimeter::Point& at = *errand_.plan.place;
        if (glm::distance(now.runner.position(), glm::dvec3(at[0], at[1], at[2])) <= errand_.plan.within) {
            now.progress.arrived = end;
        }
    } else if (errand_.plan.distance) {
        const double before = glm::dot(from - errand_.origin, errand_.heading);
        const double after = glm::dot(now.runner.position() - errand_.origin, errand_.heading);
        if (after >= *errand_.plan.distance) {
            now.progress.arrived =
                begin + (end - begin) * (*errand_.plan.distance - before) / (after - before);
        }
    }
}

void Player::pass_gates(Situation& now, const glm::dvec3& from, const glm::dvec3& velocity) const {
    const std::vector<LegSpec>& legs = errand_.course->spec().legs;
    if (!errand_.has_goal() || legs.empty() || legs.size() > 64) {
        return;
    }
    PathStretch stretch;
    stretch.begin = errand_.time_of(now.tick - 1);
    stretch.end = errand_.time_of(now.tick);
    stretch.from = from;
    stretch.to = now.runner.position();
    stretch.velocity_from = velocity;
    stretch.velocity_to = now.runner.velocity() + carrying_velocity(errand_.chart, now.runner);
    Progress& progress = now.progress;
    double last = stretch.begin;
    for (std::size_t i = 0; i < legs.size(); ++i) {
        const std::uint64_t bit = std::uint64_t{1} << i;
        if (errand_.leg != static_cast<int>(i) && (errand_.all_legs & bit) == 0) {
            continue;
        }
        double begun = 0.0;
        if ((progress.begun & bit) == 0) {
            begun = gate_passage(legs[i].start, stretch);
            if (std::isnan(begun)) {
                continue;
            }
            progress.begun |= bit;
        }
        if ((progress.ended & bit) == 0) {
            const double ended = gate_passage(legs[i].finish, stretch);
            if (ended > begun) {
                progress.ended |= bit;
                last = std::max(last, ended);
            }
        }
    }
    const std::uint64_t wanted =
        errand_.all_legs | (errand_.leg >= 0 ? std::uint64_t{1} << errand_.leg : std::uint64_t{0});
    if (!errand_.plan.place && !errand_.plan.distance && (wanted & ~progress.ended) == 0) {
        progress.arrived = last;
    }
}

bool Player::is_barred(const Runner& runner) const {
    if (runner.position().z < errand_.floor ||
        (errand_.plan.on_foot && errand_.chart.kind(runner.state()) != StateKind::ground)) {
        return true;
    }
    if (errand_.avoided.empty()) {
        return false;
    }
    const glm::dvec3 middle =
        runner.position() + glm::dvec3(0.0, 0.0, 0.5 * errand_.chart.body(runner.state()).height);
    return std::any_of(errand_.avoided.begin(), errand_.avoided.end(), [&](const ZoneSpec& zone) {
        bool inside = true;
        for (int i = 0; i < 3; ++i) {
            const auto axis = static_cast<std::size_t>(i);
            inside = inside && middle[i] >= std::min(zone.from[axis], zone.to[axis]) &&
                     middle[i] <= std::max(zone.from[axis], zone.to[axis]);
        }
        return inside;
    });
}

Player::Outcome Player::follow(Situation& now, const Way& way) {
    auto turn = std::lower_bound(way.turns.begin(), way.turns.end(), now.tick,
                                 [](const Turn& one, std::uint32_t tick) { return one.tick < tick; });
    Outcome outcome = Outcome::on;
    while (now.tick < way.end && outcome == Outcome::on) {
        Hands hands = now.hands;
        if (turn != way.turns.end() && turn->tick == now.tick) {
            hands = turn->hands;
            ++turn;
        }
        outcome = tick(now, hands);
    }
    return outcome;
}

}  // namespace cursimeter::survey
