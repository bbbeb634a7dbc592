#pragma once

#include <cstddef>
#include <cstdint>
#include <cursimeter/advance.hpp>
#include <cursimeter/chart.hpp>
#include <cursimeter/detail/crowd_lanes.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>
#include <cursimeter/terrain.hpp>
#include <cursimeter/units.hpp>
#include <span>
#include <utility>
#include <vector>

/// Hundreds to hundreds of thousands of runners, of one chart or of several, moved on by one call.
///
/// The bits are those of `advance` for each runner by itself. What a crowd saves is memory traffic and calls: of those who go on
/// as they are, or turn with their look at full speed, what a tick reads and writes stands apart, side by side, and one
/// instruction works two of them, four or eight where the processor has AVX2 or AVX-512; and the events of all go into one list.
namespace cursimeter {

/// Runners of the charts that it knows. Takes 1,467 bytes for each.
class Crowd {
  public:
    /// Keeps the chart alive, as all that are added.
    explicit Crowd(const Chart& chart);

    /// Runners of this chart may be added from now on as well, up to 65,535 charts. A chart that it knows already, or that has the digest
    /// of one, is not taken twice. May allocate.
    void add_chart(const Chart& chart);
    /// Lets go of a chart, as after a reload. Returns false, with nothing changed, if a runner is of it, if it is the only one, or
    /// if it is none of the crowd's.
    bool remove_chart(const Chart& chart);
    /// In the order in which they were added; never empty.
    [[nodiscard]] std::span<const Chart> charts() const& { return charts_; }
    void charts() const&& = delete;
    /// The chart of a runner, by which its state and its events are to be read. The index must be below size().
    [[nodiscard]] const Chart& chart(std::size_t index) const { return charts_[chart_of_[index]]; }

    [[nodiscard]] std::size_t size() const { return whole_.size(); }
    /// How many runners one instruction works: as many as this processor can, 2, 4 or 8, unless fewer are asked for, as to compare. The bits are
    /// the same.
    [[nodiscard]] std::size_t lanes() const { return lanes_; }
    void use_lanes(std::size_t most);

    /// Room for so many, so that adding allocates nothing.
    void reserve(std::size_t runners);

    /// Adds a runner, behind all others. Returns its index. Throws ChartError if it belongs to a chart that the crowd does not
    /// know, or if the placement is not finite. May allocate.
    std::size_t add(const Runner& runner);
    /// Spawns one of a chart, of the first one if none is said.
    std::size_t add(const Chart& chart, const Placement& placement = {});
    std::size_t add(const Placement& placement = {}) { return add(charts_.front(), placement); }
    /// Removes a runner; the last one takes its index. Throws std::out_of_range if there is none.
    void remove(std::size_t index);

    /// A copy of the whole runner, 1,280 bytes: to save it, to send it, to ask it what is not below.
    [[nodiscard]] Runner runner(std::size_t index) const;
    /// Puts a runner in the place of another, of any chart that the crowd knows: so those of a reloaded chart are taken over, as
    /// `carry_over` made them. Throws ChartError if it belongs to another chart.
    void set(std::size_t index, const Runner& runner);
    /// Calls `change(Runner&)` for what the game does to a runner: push, grant, block, place. Returns what that returns. The
    /// reference is good only within the call.
    ///
    ///     crowd.change(i, [&](Runner& runner) { push(runner, blast); });
    template <class Change>
    decltype(auto) change(std::size_t index, Change&& change) {
        catch_up(index);
        const NotesChart afterwards{*this, index};
        return std::forward<Change>(change)(whole_[index]);
    }

    // Readings without a copy; the index must be below size().
    [[nodiscard]] glm::dvec3 position(std::size_t index) const {  ///< m
        return is_whole(index)
                   ? whole_[index].position()
                   : glm::dvec3(lane(&Block::x, index), lane(&Block::y, index), lane(&Block::z, index));
    }
    [[nodiscard]] double distance(std::size_t index) const {  ///< m since spawning
        return is_whole(index) ? whole_[index].distance() : lane(&Block::distance, index);
    }
    [[nodiscard]] glm::dvec3 velocity(std::size_t index) const {  ///< m/s, its own
        return is_whole(index) ? whole_[index].velocity()
                               : glm::dvec3(lane(&Block::velocity_x, index), lane(&Block::velocity_y, index),
                                            lane(&Block::velocity_z, index));
    }
    [[nodiscard]] double speed(std::size_t index) const {  ///< m/s
        return is_whole(index) ? whole_[index].speed() : lane(&Block::speed, index);
    }
    [[nodiscard]] double yaw(std::size_t index) const {  ///< rad
        return is_whole(index) ? whole_[index].yaw() : lane(&Block::look_yaw, index);
    }
    [[nodiscard]] StateId state(std::size_t index) const { return whole_[index].state(); }
    [[nodiscard]] bool grounded(std::size_t index) const { return whole_[index].grounded(); }

  private:
    friend struct detail::CrowdAccess;
    /// Notes at its end of which chart a runner has become.
    struct NotesChart {
        Crowd& crowd;
        std::size_t index;
        ~NotesChart() { crowd.note_chart(index); }
    };
    void note_chart(std::size_t index) noexcept;
    /// Makes the whole runner what it is now.
    void catch_up(std::size_t index) noexcept;

    using Block = detail::LaneBlock;
    [[nodiscard]] bool is_whole(std::size_t index) const {
        return going_on_[index] == detail::GoingOn::whole;
    }
    [[nodiscard]] double lane(Block::Numbers Block::*row, std::size_t index) const {
        return (blocks_[index / detail::lanes_of_block].*row)[index % detail::lanes_of_block];
    }

    std::vector<Chart> charts_;
    std::vector<std::uint16_t> chart_of_;  ///< by runner: index of its chart
    std::vector<Runner> whole_;
    std::vector<Block> blocks_;  ///< for each eight runners
    /// By runner: `whole`: `whole_` has all of it; otherwise its lane has what stands there, and `whole_` all else.
    std::vector<detail::GoingOn> going_on_;
    std::size_t lanes_;
};

/// An event of one of a crowd.
struct CrowdEvent {
    std::size_t runner;  ///< index
    Event event;
};
static_assert(sizeof(CrowdEvent) <= 32);

/// What one `advance_all` tells. Made once with room for a tick's events and used again in every tick.
class CrowdReport {
  public:
    /// Room for so many events of a tick, 32 bytes each. Of 1,000 runners that players steer, about 90 events happen in a
    /// sixtieth of a second, seldom more than 450.
    explicit CrowdReport(std::size_t most_events = 4096);

    /// In the order of the runners, those of one runner in the order of time.
    [[nodiscard]] std::span<const CrowdEvent> events() const& { return {events_.data(), count_}; }
    void events() const&& = delete;
    /// Events that did not fit.
    [[nodiscard]] std::size_t events_lost() const { return lost_; }
    /// Runners that were moved on.
    [[nodiscard]] std::size_t advanced() const { return advanced_; }
    /// Runners that were not, by a bad `dt`, an intent that means another chart's actions (`Intent::naming`), or for want of
    /// an intent; and the first of them and why. `Refusal::none` with `refused` above 0: there were fewer intents than runners.
    [[nodiscard]] std::size_t refused() const { return refused_; }
    [[nodiscard]] std::size_t first_refused() const { return first_refused_; }
    [[nodiscard]] Refusal first_refusal() const { return first_refusal_; }
    /// Intents from which something was left out; see Report::intent_mended.
    [[nodiscard]] std::size_t intents_mended() const { return mended_; }
    /// Runners whose tick held more instants than it may; see Report::instants_capped.
    [[nodiscard]] std::size_t instants_capped() const { return capped_; }
    /// dt was above `longest_tick`; only that much was simulated.
    [[nodiscard]] bool dt_shortened() const { return dt_shortened_; }

  private:
    friend struct detail::CrowdAccess;
    std::vector<CrowdEvent> events_;
    std::size_t count_ = 0, lost_ = 0, advanced_ = 0, refused_ = 0, first_refused_ = 0, mended_ = 0,
                capped_ = 0;
    Refusal first_refusal_ = Refusal::none;
    bool dt_shortened_ = false;
};

/// Moves all on by one tick on open flat ground, each by the intent with its index. The same as `advance` for each, to the
/// bit, in the order of the indices. Allocates nothing, throws nothing, locks nothing.
void advance_all(Crowd& crowd, std::span<const Intent> intents, Seconds dt, CrowdReport& report) noexcept;
/// The same in a world.
void advance_all(Crowd& crowd, std::span<const Intent> intents, const Terrain& terrain, Seconds dt,
                 CrowdReport& report) noexcept;

/// The runners from `first` on, one for each intent: a part of the crowd, for a thread of the game's own. Parts that do not
/// overlap may be moved on at once, each with a report of its own (and, in a world, with a terrain that may be asked by
/// several threads); the bits are the same however many there are.
void advance_part(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt,
                  CrowdReport& report) noexcept;
void advance_part(Crowd& crowd, std::size_t first, std::span<const Intent> intents, const Terrain& terrain,
                  Seconds dt, CrowdReport& report) noexcept;

}  // namespace cursimeter
