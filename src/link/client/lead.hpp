#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>

/// When a client plays its ticks: as far ahead of the server as the network needs, and no further. All times are in
/// seconds, so that nothing depends on the tick rate.
namespace cursimeter::link {

/// The least of the margins of the last seconds, and what is usual.
class Margins {
  public:
    void clear() { *this = {}; }
    void add(double margin, double time);
    [[nodiscard]] bool empty() const { return count_ == 0; }
    /// The least of them; but not so far below the usual that it would be planned for something rare.
    [[nodiscard]] double worst() const;
    [[nodiscard]] double usual() const { return usual_; }
    /// s since the first.
    [[nodiscard]] double span() const { return last_ - first_; }
    /// The highest and the lowest of the last few; only if there are as many.
    static constexpr std::size_t few = 4;
    [[nodiscard]] bool has_few() const { return count_ >= few; }
    [[nodiscard]] double highest_of_few() const;
    [[nodiscard]] double lowest_of_few() const;

  private:
    /// The window is of stretches, each with its least.
    static constexpr std::size_t stretches = 48;
    std::array<double, stretches> least_{};
    std::array<std::int64_t, stretches> which_{};  ///< the number of the stretch that is there
    std::array<double, few> recent_{};
    std::size_t count_ = 0;
    double usual_ = 0.0, first_ = 0.0, last_ = 0.0;
};

class Lead {
  public:
    /// `spare` is the time that intents are to wait at the server at least, besides a tick.
    Lead(double spare, double tick) : spare_(spare), tick_(tick) {}
    /// The first tick, of this number, is due at `time`.
    void start(std::uint32_t tick, double time);

    [[nodiscard]] double due_at() const { return due_at_; }
    /// Goes over the ticks that need not be played at `time`, since the server will have played them before it could hear of
    /// them: this program stood still, or the lead is far too small. Returns how many.
    [[nodiscard]] std::uint32_t skip(double time, bool stood_still);
    /// The next tick is played.
    void play();
    /// Intents that came to the server since its last news had `margin` ticks to wait there at the worst moment; the newest
    /// is that of tick `newest`, one of the last 256. Where nothing came, nothing is known.
    void observe(double margin, std::uint32_t newest, double time);

    /// Real time from one tick to the next, in tick lengths.
    [[nodiscard]] double pace() const { return pace_; }
    /// s that intents are to wait at the server at the worst moments, and that they will as far as is known.
    [[nodiscard]] double wanted() const;
    [[nodiscard]] double expected() const { return margins_.worst() + earlier_; }
    /// s that they usually wait there, once something is known.
    [[nodiscard]] std::optional<double> usual_margin() const {
        return margins_.empty() ? std::nullopt : std::optional(margins_.usual() + earlier_);
    }
    /// s that they are to wait as long as nothing is known.
    [[nodiscard]] static double at_first(double spare, double tick);

  private:
    void steer();
    /// What the server says tells nothing of the network until it has an intent from here on.
    void doubt();
    void start_again();
    static constexpr std::uint32_t ticks_noted = 256;
    double spare_, tick_;
    double due_at_ = 0.0, pace_ = 1.0;
    double earlier_ = 0.0;    ///< s by which steering has made ticks earlier; a jump begins anew
    double short_of_ = 0.0;   ///< s to be made good by a jump
    std::uint32_t next_ = 0;  ///< number of the next tick
    bool doubtful_ = false;
    std::uint32_t trusted_ = 0;  ///< first tick whose intent ends the doubt
    bool heard_ = false;
    std::uint32_t newest_ = 0;                 ///< of the last news
    std::array<double, ticks_noted> noted_{};  ///< `earlier_` of the last ticks
    Margins margins_;                          ///< as they would be if nothing had been steered
};

}  // namespace cursimeter::link
