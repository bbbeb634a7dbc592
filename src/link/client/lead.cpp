#include "link/client/lead.hpp"

#include <algorithm>
#include <cmath>

namespace cursimeter::link {
namespace {

/// s of one of the stretches that make the window: 24 s together. What happened before is forgotten.
constexpr double stretch = 0.5;
constexpr std::int64_t long_ago = -1000;  ///< stretches
/// Part by which a margin moves what is usual.
constexpr double usual_gain = 1.0 / 32.0;
/// s without news from a client for which a lead is worth having. Longer silences are rare and would cost delay always.
constexpr double longest_burst = 0.25;

/// Part of what the network is known to vary by that intents are to have in hand, since it may do worse.
constexpr double caution = 0.5;
/// s in hand besides, at first: nothing is known of the network yet.
constexpr double first_caution = 0.05;
/// Part by which the pace changes per second of lead that is missing, and its limits: 4 % faster is not seen, and a lead
/// that is too large only costs delay, so it is given up slowly, unless it is very much too large.
constexpr double pace_gain = 1.2, most_faster = 0.04, most_slower = 0.015, much_slower = 0.05;
constexpr double much = 0.1;  ///< s
/// s by which a lead may be too large, and for which it must have been so, before it is reduced.
constexpr double slack = 0.01, patience = 3.0;
/// s that a lead must be short of, or too large by, for some news in a row, to be made good at once.
constexpr double jump_from = 0.13, hold_from = 0.5;

[[nodiscard]] std::int32_t after(std::uint32_t a, std::uint32_t b) {
    return static_cast<std::int32_t>(a - b);
}

}  // namespace

void Margins::add(double margin, double time) {
    const auto number = static_cast<std::int64_t>(time / stretch);
    const auto place = static_cast<std::size_t>(number) % stretches;
    if (count_ == 0) {
        which_.fill(long_ago);
        first_ = time;
        usual_ = margin;
    }
    least_[place] = which_[place] == number ? std::min(least_[place], margin) : margin;
    which_[place] = number;
    last_ = time;
    usual_ += (std::max(margin, usual_ - longest_burst) - usual_) * usual_gain;
    recent_[count_++ % few] = margin;
}

double Margins::worst() const {
    const auto newest = static_cast<std::int64_t>(last_ / stretch);
    double least = usual_;
    for (std::size_t i = 0; i < stretches; ++i) {
        if (newest - which_[i] < static_cast<std::int64_t>(stretches)) {
            least = std::min(least, least_[i]);
        }
    }
    return std::max(least, usual_ - longest_burst);
}

double Margins::highest_of_few() const {
    return *std::max_element(recent_.begin(), recent_.end());
}
double Margins::lowest_of_few() const {
    return *std::min_element(recent_.begin(), recent_.end());
}

void Lead::start(std::uint32_t tick, double time) {
    due_at_ = time;
    pace_ = 1.0;
    earlier_ = short_of_ = 0.0;
    next_ = tick;
    doubtful_ = heard_ = false;
    margins_.clear();
}

double Lead::wanted() const {
    return spare_ + std::max(tick_, caution * (margins_.usual() - margins_.worst()));
}

double Lead::at_first(double spare, double tick) {
    return spare + tick + first_caution;
}

std::uint32_t Lead::skip(double time, bool stood_still) {
    std::uint32_t count = 0;
    if (short_of_ > 0.0) {
        count = static_cast<std::uint32_t>(std::ceil(short_of_ / tick_));
        short_of_ = 0.0;
    }
    // What is overdue by less than the time that it had in hand still comes in time.
    const double overdue = time - due_at_;
    const double in_hand = margins_.empty() ? at_first(spare_, tick_) : std::max(0.0, expected());
    if (overdue > in_hand + tick_) {
        const double lost = std::floor((overdue - in_hand) / tick_);
        due_at_ += lost * tick_;
        count += static_cast<std::uint32_t>(std::min(lost, 1e9));
    }
    for (std::uint32_t i = 0; i < std::min(count, ticks_noted); ++i) {
        noted_[(next_ + count - 1 - i) % ticks_noted] = earlier_;
    }
    next_ += count;
    if (stood_still) {
        doubt();
    }
    return count;
}

void Lead::play() {
    noted_[next_++ % ticks_noted] = earlier_;
    due_at_ += tick_ * pace_;
    earlier_ += tick_ * (1.0 - pace_);
    steer();
}

void Lead::doubt() {
    doubtful_ = true;
    trusted_ = next_;
}

void Lead::observe(double margin, std::uint32_t newest, double time) {
    // The worst moment may lie before the newest intent; so the one before that must be trusted, too.
    const bool doubtful = doubtful_ && (!heard_ || after(newest_, trusted_) < 0);
    newest_ = newest;
    heard_ = true;
    if (doubtful) {
        return;
    }
    doubtful_ = false;
    margins_.add(margin * tick_ - noted_[newest % ticks_noted], time);
    if (margins_.has_few()) {
        const double short_of = wanted() - (margins_.highest_of_few() + earlier_);
        const double too_much = margins_.lowest_of_few() + earlier_ - wanted();
        if (short_of > jump_from) {
            short_of_ = short_of;
            start_again();
        } else if (too_much > hold_from) {
            due_at_ += too_much;
            start_again();
        }
    }
    steer();
}

void Lead::start_again() {
    margins_.clear();
    doubt();
    trusted_ += static_cast<std::uint32_t>(std::ceil(short_of_ / tick_));
}

void Lead::steer() {
    pace_ = 1.0;
    if (margins_.empty()) {
        return;
    }
    const double short_of = wanted() - expected();
    double faster = 0.0;
    if (short_of > 0.0) {
        faster = std::min(short_of * pace_gain, most_faster);
    } else if (short_of < -slack && margins_.span() >= patience) {
        const double most = -short_of > much ? much_slower : most_slower;
        faster = std::max((short_of + slack) * pace_gain, -most);
    }
    pace_ = 1.0 / (1.0 + faster);
}

}  // namespace cursimeter::link
