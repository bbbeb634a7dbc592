#include <fmt/format.h>

#include <algorithm>

#include "window/session.hpp"

/// Time passes: the ticks that are due, alone or over a network, and where the bodies on the stage face meanwhile.
namespace cursimeter::tool {
namespace {

constexpr Seconds long_enough_to_turn{1.0};  ///< half a turn, at the rate at which bodies turn

}  // namespace

void Session::run_until(double now) {
    const double passed = std::clamp(now - now_, 0.0, tryout::TickClock::longest_stall.value);
    now_ = now;
    const double left_out = clock.left_out().value;
    clock.tell_time(Seconds{now});
    if (clock.left_out().value > left_out && now_ > 1.0) {  // loading took its time
        tell(fmt::format("the machine stood still: {:.2f} s were left out",
                         clock.left_out().value - left_out));
    }
    if (net_) {
        play_over_network(clock.paused() ? 0.0 : passed * clock.pace());
    }
    if (!net_ && play.now() != turned_) {  // turned back, or on: the bodies stand as they went then
        turn_bodies(long_enough_to_turn);
    }
    for (; clock.due(); clock.next()) {
        if (!net_) {
            play_tick();
        }
    }
    if (clock.paused()) {  // one can look around all the same
        take_inputs(1e300);
        controls_.next_tick(Seconds{0.0});
    }
}

void Session::play_tick() {
    take_inputs(clock.tick().value - instant_width.value);
    const double begin = play.world_time();
    const bool by_hands = !drill_ && !play.looped();
    if (by_hands && play.now() != expected_) {
        controls_.set_look({play.runner().yaw(), play.runner().pitch()});
    }
    play.tick(wanted(begin, begin + clock.tick().value));
    turn_bodies(clock.tick());
    controls_.next_tick(clock.tick());
    expected_ = by_hands ? play.now() : tryout::Moment{};
}

void Session::play_over_network(double passed) {
    take_inputs(1e300);
    net_time_ += passed;
    bool asked = false, written = false;  // a tick's intent is asked for, and written into the history
    const auto end_tick = [&] {
        if (written) {
            net_history_.end_tick(net_->own(), net_->client().report());
            turn_bodies(clock.tick());
        }
        written = false;
        if (asked) {
            controls_.next_tick(clock.tick());
        }
        asked = false;
    };
    net_->run_until(net_time_, [&](Seconds length) {
        end_tick();
        asked = true;
        if (!net_->playing()) {
            return controls_.intent();
        }
        // A drill begins when there is somebody to play it.
        const double begin = (drill_ ? drill_file_->drill.begin().value : 0.0) +
                             static_cast<double>(net_ticks_++) * length.value;
        const Intent intent = wanted(begin, begin + length.value);
        net_history_.begin_tick(play.chart(), net_->own(), intent, length);
        written = true;
        return intent;
    });
    end_tick();
}

Look Session::look() const {
    const bool hands = net_ != nullptr || (!drill_ && !play.looped() && play.now() == expected_);
    return hands ? controls_.look() : Look{play.runner().yaw(), play.runner().pitch()};
}

template <class Work>
void Session::each_body(Work&& work) const {
    work(ShownBody::own, net_ ? net_->own() : play.runner(), look());
    const auto stands = [&](ShownBody body, const Runner& runner) {
        work(body, runner, Look{runner.yaw(), runner.pitch()});
    };
    if (net_) {
        stands(ShownBody::truth, net_->truth());
        if (const std::optional<link::Shown> seen = net_->seen()) {
            work(ShownBody::seen, seen->runner, seen->look);
        }
    } else if (const std::optional<tryout::GhostReading> ghost = play.ghost()) {
        stands(ShownBody::ghost, ghost->runner);
    }
}

void Session::turn_bodies(Seconds time) {
    each_body([&](ShownBody body, const Runner& runner, const Look&) {
        facings_[static_cast<std::size_t>(body)].follow(runner, play.facing(), time);
    });
    turned_ = play.now();
}

Look Session::faced(ShownBody body) const {
    if (play.facing() == Facing::movement) {
        return {facings_[static_cast<std::size_t>(body)].yaw(), 0.0};
    }
    Look faced = look();
    each_body(
        [&](ShownBody shown, const Runner&, const Look& looks) { faced = shown == body ? looks : faced; });
    return faced;
}

}  // namespace cursimeter::tool
