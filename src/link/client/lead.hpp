#pragma once

#include <array>
#include <cstddef>

/// How far a client plays ahead of the server, and how far behind it shows the others. Both follow what the
/// network does, slowly enough not to be seen.
namespace cursimeter::link {

/// The lowest of the last values, in order of coming.
template <std::size_t Size>
class Window {
  public:
    void add(double value) { values_[count_++ % Size] = value; }
    void clear() { count_ = 0; }
    [[nodiscard]] bool empty() const { return count_ == 0; }
    [[nodiscard]] std::size_t size() const { return count_ < Size ? count_ : Size; }
    /// The value above which all but `rank` of them lie.
    [[nodiscard]] double low(std::size_t rank) const;
    [[nodiscard]] double middle() const { return low(size() / 2); }
    /// The highest of the last few.
    [[nodiscard]] double recent_high(std::size_t count) const;

  private:
    std::array<double, Size> values_{};
    std::size_t count_ = 0;
};

/// The client's own clock, counted in tick lengths of real time, and its lead over it.
class Lead {
  public:
    explicit Lead(double spare) : spare_(spare) {}
    void start();
    /// Tick lengths of real time until the next tick.
    [[nodiscard]] double pace() const { return pace_; }
    /// A tick was played.
    void tick();
    /// The ticks were played without any time passing.
    void skip(double ticks) { phase_ += ticks; }
    /// Real time, in tick lengths, since the start.
    [[nodiscard]] double time() const { return time_; }
    /// Ticks played beyond what real time would have brought.
    [[nodiscard]] double phase() const { return phase_; }
    /// The server had `spare` ticks in hand at its worst moment, at a time when this client's phase was `phase`.
    void observe(double spare, double phase);
    /// Ticks to skip at once, since the server waits in vain for what this client is going to play.
    [[nodiscard]] int ticks_to_skip() const;

  private:
    void steer();
    /// Ticks that the lead is short of, for what the network does again and again.
    [[nodiscard]] double missing() const;
    double spare_, pace_ = 1.0, time_ = 0.0, phase_ = 0.0;
    Window<256> spares_;  ///< about 13 seconds of snapshots, without the phase
    double worst_ = 0.0;  ///< of them, short of what is too rare to plan for
};

/// The time of the server that is shown for others.
class ShownTime {
  public:
    void start() {
        started_ = false;
        arrivals_.clear();
    }
    /// A newer snapshot than all before came at a time of the client's own clock; `last` is the newest before it.
    void observe(double last, double newest, double time);
    /// The client's clock has gone on.
    void tick(double time, double passed);
    [[nodiscard]] bool started() const { return started_; }
    [[nodiscard]] double now() const { return now_; }

  private:
    bool started_ = false;
    double now_ = 0.0;
    Window<64> arrivals_;  ///< how far ahead of the clock the server was known to be at the worst moments
};

}  // namespace cursimeter::link
