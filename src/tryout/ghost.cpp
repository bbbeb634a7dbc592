#include <algorithm>
#include <cmath>
#include <cursimeter/reload.hpp>
#include <cursimeter/tryout/tryout.hpp>
#include <glm/geometric.hpp>

namespace cursimeter::tryout {

void Tryout::start_ghost(const Chart& chart, std::string name) {
    const Runner begun = carry_over(chart_, runner_, chart).runner;
    Ghost ghost{chart, std::move(name), IdMap(chart_, chart), {}, begun, begun, now_, begun, runner_, {}, {},
                {}};
    if (course_) {
        ghost.terrain.emplace(*course_, chart);
    }
    ghost.kept.resize(history_.room());
    ghost.kept[now_.value % ghost.kept.size()] = begun;
    ghost_ = std::move(ghost);
}

void Tryout::restart_ghost() {
    if (ghost_) {
        start_ghost(Chart(ghost_->chart),
                    std::string(ghost_->name));  // copies: it takes the place of the old one
    }
}

void Tryout::end_ghost() {
    ghost_.reset();
}

void Tryout::play_ghost(const Intent& intent, double begin, Seconds dt) {
    if (!ghost_) {
        return;
    }
    Ghost& ghost = *ghost_;
    std::array<Change, History::most_changes> changes;
    std::size_t count = 0;
    for (const Change& change : intent.changes) {
        if (const std::optional<Change> mapped = ghost.ids(change)) {
            changes[count++] = *mapped;
        }
    }
    Intent same = intent;
    same.naming = ghost.chart.naming();
    same.held = ghost.ids.held(intent.held);
    same.changes = std::span(changes).first(count);
    ghost.before = ghost.runner;
    if (ghost.terrain) {
        ghost.terrain->set_time(begin);
        static_cast<void>(advance(ghost.chart, ghost.runner, same, *ghost.terrain, dt));
    } else {
        static_cast<void>(advance(ghost.chart, ghost.runner, same, dt));
    }
    ghost.kept[now_.value % ghost.kept.size()] = ghost.runner;
    const std::string &own = chart_.name(runner_.state()), &other = ghost.chart.name(ghost.runner.state());
    if (!ghost.parting && own != other) {
        ghost.parting = {history_.time(now_), own, other};
        ghost.parted = now_;
    }
}

/// After a leap in time: where the ghost was then, or beside the runner if it had not begun.
void Tryout::place_ghost() {
    if (!ghost_) {
        return;
    }
    Ghost& ghost = *ghost_;
    if (now_ < ghost.since || ghost.since < history_.first()) {
        restart_ghost();
        return;
    }
    ghost.runner = ghost.before = ghost.kept[now_.value % ghost.kept.size()];
    if (ghost.parting && ghost.parted > now_) {
        ghost.parting.reset();
    }
}

std::optional<GhostReading> Tryout::ghost() const {
    if (!ghost_) {
        return std::nullopt;
    }
    const Ghost& ghost = *ghost_;
    GhostReading reading;
    reading.name = ghost.name;
    reading.runner = ghost.runner;
    reading.since = history_.size() > 0 ? history_.time(std::max(ghost.since, history_.first())) : 0.0;
    reading.apart = glm::length(ghost.runner.position() - runner_.position());
    reading.parting = ghost.parting;
    const auto walked = [](const Runner& runner, const Runner& start) {
        return runner.distance() - start.distance();
    };
    const double own = walked(runner_, ghost.own_start), other = walked(ghost.runner, ghost.start);
    reading.ahead = other - own;
    const double both = std::min(own, other);
    if (both > 0.0) {
        // The one that is ahead passed the place of the other some time ago.
        const bool ghost_ahead = other > own;
        Moment at = now_;
        const auto walked_at = [&](Moment moment) {
            return ghost_ahead ? walked(ghost.kept[moment.value % ghost.kept.size()], ghost.start)
                               : walked(history_.runner(moment), ghost.own_start);
        };
        const Moment oldest = std::max(ghost.since, history_.first());
        while (at > oldest && walked_at({at.value - 1}) >= both) {
            --at.value;
        }
        double seconds = history_.time(now_) - history_.time(at);
        if (at > oldest) {
            const double before = walked_at({at.value - 1});
            const double after = at == now_ ? std::max(own, other) : walked_at(at);
            const double tick = history_.time(at) - history_.time({at.value - 1});
            seconds += after > before ? (after - both) / (after - before) * tick : 0.0;
        }
        reading.earlier = ghost_ahead ? seconds : -seconds;
    }
    return reading;
}

}  // namespace cursimeter::tryout
