#include "survey/scout/player.hpp"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace cursimeter::survey {
namespace {

/// The part of a line, 0 to 1, after which it first comes so near to a place, if it does. Between two ticks a runner may come near and
/// go on, so their ends alone would tell something else at each rate.
std::optional<double> part_until_near(const glm::dvec3& from, const glm::dvec3& to, const glm::dvec3& place,
                                      double within) {
    const glm::dvec3 way = to - from, away = from - place;
    const double beyond = glm::dot(away, away) - within * within;
    if (beyond <= 0.0) {
        return 0.0;
    }
    const double square = glm::dot(way, way), towards = -glm::dot(away, way);
    const double root = towards * towards - square * beyond;
    if (!(towards > 0.0) || root < 0.0) {
        return std::nullopt;
    }
    const double part = (towards - std::sqrt(root)) / square;
    return part <= 1.0 ? std::optional(part) : std::nullopt;
}

/// Whether a line leads through a zone, however thin it is.
bool crosses(const ZoneSpec& zone, const glm::dvec3& from, const glm::dvec3& to) {
    double enters = 0.0, leaves = 1.0;
    for (int axis = 0; axis < 3; ++axis) {
        const auto i = static_cast<std::size_t>(axis);
        const double low = std::min(zone.from[i], zone.to[i]), high = std::max(zone.from[i], zone.to[i]);
        const double way = to[axis] - from[axis];
        if (way == 0.0) {
            if (from[axis] < low || from[axis] > high) {
                return false;
            }
            continue;
        }
        const double a = (low - from[axis]) / way, b = (high - from[axis]) / way;
        enters = std::max(enters, std::min(a, b));
        leaves = std::min(leaves, std::max(a, b));
    }
    return enters <= leaves;
}

glm::dvec3 middle_of(const Chart& chart, const Runner& runner) {
    return runner.position() + glm::dvec3(0.0, 0.0, 0.5 * chart.body(runner.state()).height);
}

}  // namespace

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
    intent.facing = errand_.begin.facing;
    intent.naming = errand_.chart.naming();
    changes_.clear();
    if (hands != now.hands) {
        add_changes(changes_, now.hands, hands, errand_.chart.action_count());
        now.hands = hands;
    }
    intent.changes = changes_;
    return tick(now, intent);
}

Player::Outcome Player::tick(Situation& now, const Intent& intent) {
    const double begin = errand_.time_of(now.tick), end = errand_.time_of(now.tick + 1);
    const glm::dvec3 from = now.runner.position();
    const glm::dvec3 middle = middle_of(errand_.chart, now.runner);
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
    if (now.runner.grounded()) {
        now.stood_at = now.runner.position().z;
    }
    look_for_goal(now, from);
    if (!std::isnan(now.progress.arrived)) {
        return Outcome::arrived;
    }
    return is_barred(now.runner, middle) ? Outcome::barred : Outcome::on;
}

void Player::look_for_goal(Situation& now, const glm::dvec3& from) const {
    if ((errand_.all_legs & ~now.progress.ended) != 0) {
        return;
    }
    const double begin = errand_.time_of(now.tick - 1), end = errand_.time_of(now.tick);
    if (errand_.plan.place) {
        const cursimeter::Point& at = *errand_.plan.place;
        if (const auto part =
                part_until_near(from, now.runner.position(), {at[0], at[1], at[2]}, errand_.plan.within)) {
            now.progress.arrived = begin + (end - begin) * *part;
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

bool Player::is_barred(const Runner& runner, const glm::dvec3& middle_before) const {
    if (runner.position().z < errand_.floor) {
        return true;
    }
    const auto off_foot = [&](const Event& event) {
        return event.kind == EventKind::entered &&
               errand_.chart.kind(StateId{event.subject}) != StateKind::ground;
    };
    if (errand_.plan.on_foot && (errand_.chart.kind(runner.state()) != StateKind::ground ||
                                 std::any_of(report_.events().begin(), report_.events().end(), off_foot))) {
        return true;
    }
    const glm::dvec3 middle = middle_of(errand_.chart, runner);
    return std::any_of(errand_.avoided.begin(), errand_.avoided.end(),
                       [&](const ZoneSpec& zone) { return crosses(zone, middle_before, middle); });
}

Player::Outcome Player::follow(Situation& now, const Way& way) {
    auto change = std::lower_bound(way.changes.begin(), way.changes.end(), now.tick,
                                   [](const HandsAt& one, std::uint32_t tick) { return one.tick < tick; });
    Outcome outcome = Outcome::on;
    while (now.tick < way.end && outcome == Outcome::on) {
        Hands hands = now.hands;
        if (change != way.changes.end() && change->tick == now.tick) {
            hands = change->hands;
            ++change;
        }
        outcome = tick(now, hands);
    }
    return outcome;
}

}  // namespace cursimeter::survey
