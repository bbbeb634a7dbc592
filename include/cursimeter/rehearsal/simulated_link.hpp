#pragma once

#include <cstddef>
#include <cstdint>
#include <cursimeter/units.hpp>
#include <optional>
#include <span>
#include <vector>

/// A bad network in virtual time: for tests and tools. It waits for nothing and the same seed gives the same faults.
namespace cursimeter::rehearsal {

/// A small random number generator (SplitMix64, Steele, Lea and Flood 2014): the same numbers everywhere.
class Random {
  public:
    explicit Random(std::uint64_t seed) : state_(seed) {}
    std::uint64_t next() {
        std::uint64_t z = (state_ += 0x9e3779b97f4a7c15U);
        z = (z ^ (z >> 30U)) * 0xbf58476d1ce4e5b9U;
        z = (z ^ (z >> 27U)) * 0x94d049bb133111ebU;
        return z ^ (z >> 31U);
    }
    /// 0 to below 1.
    double part() { return static_cast<double>(next() >> 11U) * 0x1p-53; }
    double between(double least, double most) { return least + (most - least) * part(); }
    std::uint64_t below(std::uint64_t count) { return next() % count; }
    bool chance(double probability) { return part() < probability; }

  private:
    std::uint64_t state_;
};

/// What one direction of a link does to packets. Parts are 0 to 1.
struct LinkFaults {
    Seconds delay{0.0};      ///< one way
    Seconds jitter{0.0};     ///< each packet's delay is up to this much more or less, evenly
    double loss = 0.0;       ///< part that is lost
    Seconds burst{0.0};      ///< losses come in stretches of up to this length; 0: each for itself
    double duplicate = 0.0;  ///< part that comes twice
    double reorder = 0.0;    ///< part that is held up so that later ones overtake it
    double corrupt = 0.0;    ///< part in which one bit is turned over
    double bandwidth =
        0.0;  ///< bytes per second; what comes faster waits, up to a quarter of a second; 0: any
};

/// One direction of a link.
class SimulatedLink {
  public:
    SimulatedLink(const LinkFaults& faults, std::uint64_t seed) : faults_(faults), random_(seed) {}

    void send(double now, std::span<const std::byte> bytes);
    /// The time at which the next packet arrives, s.
    [[nodiscard]] std::optional<double> next_arrival() const;
    /// s that any packet takes at least.
    [[nodiscard]] double least_delay() const;
    /// Takes the next packet off the link. There must be one.
    [[nodiscard]] std::vector<std::byte> take();
    /// Everything is lost until then.
    void be_silent_until(double time) { silent_until_ = time; }
    void set_faults(const LinkFaults& faults) { faults_ = faults; }
    /// Packets that were sent, and that the link has dropped.
    [[nodiscard]] std::uint64_t sent() const { return sent_; }
    [[nodiscard]] std::uint64_t dropped() const { return dropped_; }

  private:
    struct Flying {
        double at;
        std::uint64_t order;
        std::vector<std::byte> bytes;
    };
    [[nodiscard]] bool loses(double now);
    void put(double at, std::span<const std::byte> bytes);

    LinkFaults faults_;
    Random random_;
    std::vector<Flying> flying_;  ///< a heap, the next arrival first
    std::uint64_t order_ = 0, sent_ = 0, dropped_ = 0;
    double silent_until_ = -1.0;
    double burst_begin_ = -1.0, burst_end_ = -1.0;
    double line_free_ = 0.0;
};

}  // namespace cursimeter::rehearsal
