#include <algorithm>
#include <cmath>
#include <cursimeter/rehearsal/simulated_link.hpp>

namespace cursimeter::rehearsal {
namespace {

/// s that a packet waits at most for a line that is busy; then it is dropped.
constexpr double longest_queue = 0.25;
/// s between two stretches of loss at least, so that they do not make a longer one.
constexpr double least_quiet = 0.02;
/// s by which a held up packet comes later, at least and at most.
constexpr double held_up_least = 0.02, held_up_most = 0.06;

}  // namespace

bool SimulatedLink::loses(double now) {
    if (now < silent_until_) {
        return true;
    }
    if (!(faults_.loss > 0.0)) {
        return false;
    }
    if (!(faults_.burst.value > 0.0)) {
        return random_.chance(faults_.loss);
    }
    // Stretches of loss, evenly long up to `burst`, between quiet ones that make the part come out.
    while (now >= burst_end_) {
        const double quiet = faults_.burst.value / 2.0 * (1.0 - faults_.loss) / faults_.loss;
        const double least = std::min(least_quiet, quiet / 2.0);
        const double from = std::max(burst_end_, 0.0);
        burst_begin_ = from + least - std::log(1.0 - random_.part()) * (quiet - least);
        burst_end_ = burst_begin_ + random_.between(0.0, faults_.burst.value) + 1e-9;
    }
    return now >= burst_begin_;
}

void SimulatedLink::put(double at, std::span<const std::byte> bytes) {
    Flying packet{at, order_++, {bytes.begin(), bytes.end()}};
    if (random_.chance(faults_.corrupt) && !packet.bytes.empty()) {
        packet.bytes[random_.below(packet.bytes.size())] ^= static_cast<std::byte>(1U << random_.below(8));
    }
    flying_.push_back(std::move(packet));
    std::push_heap(flying_.begin(), flying_.end(), [](const Flying& a, const Flying& b) {
        return a.at != b.at ? a.at > b.at : a.order > b.order;
    });
}

void SimulatedLink::send(double now, std::span<const std::byte> bytes) {
    ++sent_;
    if (loses(now)) {
        ++dropped_;
        return;
    }
    double leaves = now;
    if (faults_.bandwidth > 0.0) {
        leaves = std::max(now, line_free_);
        if (leaves - now > longest_queue) {
            ++dropped_;
            return;
        }
        line_free_ = leaves + static_cast<double>(bytes.size()) / faults_.bandwidth;
        leaves = line_free_;
    }
    const int copies = random_.chance(faults_.duplicate) ? 2 : 1;
    for (int i = 0; i < copies; ++i) {
        double delay = faults_.delay.value + random_.between(-faults_.jitter.value, faults_.jitter.value);
        if (random_.chance(faults_.reorder)) {
            delay += random_.between(held_up_least, held_up_most);
        }
        put(leaves + std::max(0.0, delay), bytes);
    }
}

double SimulatedLink::least_delay() const {
    return std::max(0.0, faults_.delay.value - faults_.jitter.value);
}

std::optional<double> SimulatedLink::next_arrival() const {
    return flying_.empty() ? std::nullopt : std::optional(flying_.front().at);
}

std::vector<std::byte> SimulatedLink::take() {
    std::pop_heap(flying_.begin(), flying_.end(), [](const Flying& a, const Flying& b) {
        return a.at != b.at ? a.at > b.at : a.order > b.order;
    });
    std::vector<std::byte> bytes = std::move(flying_.back().bytes);
    flying_.pop_back();
    return bytes;
}

}  // namespace cursimeter::rehearsal
