#include "core/crowd/crowd_tick.hpp"

#include <algorithm>
#include <array>
#include <bit>
#include <cstddef>
#include <cstring>
#include <type_traits>
#include <utility>

#include "core/crowd/crowd_access.hpp"
#include "core/crowd/go_on.hpp"
#include "core/crowd/lane_block.hpp"
#include "core/tick/open_ground.hpp"
#include "core/want/move_and_look.hpp"

/// Of a runner that goes on as it is, with nothing new and at an even speed, or with nothing new but a look that it follows at full speed,
/// what its ticks read and write stands in a lane of a block, and is worked there for several at once: nothing else of it comes from
/// memory. Whoever wants anything else, or has something due, is brought up to date and goes on whole, until a tick has passed
/// after which it may go on in its lane.
namespace cursimeter::detail {

void CrowdAccess::begin(CrowdReport& report) {
    report.count_ = report.lost_ = report.advanced_ = report.refused_ = report.first_refused_ = 0;
    report.mended_ = report.capped_ = 0;
    report.first_refusal_ = Refusal::none;
    report.dt_shortened_ = false;
}

void CrowdAccess::refuse(CrowdReport& report, std::size_t index, std::size_t runners, Refusal why) {
    if (report.refused_ == 0) {
        report.first_refused_ = index;
        report.first_refusal_ = why;
    }
    report.refused_ += runners;
}

void CrowdAccess::take_in(CrowdReport& report, std::size_t index, const Report& one) {
    if (one.refusal != Refusal::none) {
        refuse(report, index, 1, one.refusal);
        return;
    }
    ++report.advanced_;
    report.mended_ += one.intent_mended ? 1 : 0;
    report.capped_ += one.instants_capped ? 1 : 0;
    report.dt_shortened_ = report.dt_shortened_ || one.dt_shortened;
    report.lost_ += one.events_lost;
    const std::size_t room = report.events_.size() - report.count_;
    const std::size_t kept = std::min<std::size_t>(room, one.event_count);
    for (std::size_t i = 0; i < kept; ++i) {
        report.events_[report.count_++] = {index, one.event_table[i]};
    }
    report.lost_ += one.event_count - kept;
}

namespace {

/// Whether there is more to a report than that the runner was moved on.
bool tells_anything(const Report& report) {
    return report.event_count != 0 || report.refusal != Refusal::none ||
           (report.intent_mended | report.dt_shortened | report.instants_capped) || report.events_lost != 0;
}
/// Puts a report back to what it was when it was made, its table apart.
void clear(Report& report) {
    report.refusal = Refusal::none;
    report.intent_mended = report.dt_shortened = report.instants_capped = false;
    report.instants = report.event_count = 0;
    report.events_lost = 0;
    report.seconds = 0.0;
    report.displacement = glm::dvec3(0.0);
}

/// Runners that go on whole wait for it in a queue, while what their tick reads comes from memory.
class Queue {
  public:
    /// How many wait. With 100,000 runners 8, 16 and 32 were equal.
    static constexpr std::size_t places = 16;
    /// Cache lines that a tick reads whose look has moved. Asking for a fifth made all slower.
    static constexpr std::uintptr_t lines_of_turns = 4;

    Queue(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt, CrowdReport& report)
        : crowd_(crowd), first_(first), intents_(intents), dt_(dt), report_(report) {}

    void add(std::size_t index) {
        expect<lines_of_turns>(reinterpret_cast<std::uintptr_t>(&CrowdAccess::whole(crowd_, index)));
        if (count_ == places) {
            serve();
        }
        waiting_[(next_ + count_++) % places] = index;
    }
    void serve_all() {
        while (count_ != 0) {
            serve();
        }
    }

  private:
    void serve() {
        const std::size_t index = waiting_[next_];
        next_ = (next_ + 1) % places;
        --count_;
        RunnerState& whole = CrowdAccess::whole(crowd_, index);
        const ChartData& chart = crowd_.chart(index).data();
        one_.instants = 0;
        const Went went = advance_on_open_ground(chart, whole, intents_[index - first_], dt_, one_, nullptr);
        if (tells_anything(one_)) {
            CrowdAccess::take_in(report_, index, one_);
            clear(one_);
            return;  // what was refused must be asked again
        }
        CrowdAccess::count_advanced(report_, 1);
        const GoingOn how = going_on_after(chart, whole, went);
        if (how != GoingOn::whole) {
            enter_lane(chart, whole, how, CrowdAccess::blocks(crowd_)[block_of(index)], lane_of(index));
            CrowdAccess::going_on(crowd_)[index] = how;
        }
    }

    Crowd& crowd_;
    std::size_t first_;
    std::span<const Intent> intents_;
    Seconds dt_;
    CrowdReport& report_;
    Report one_;
    std::array<std::size_t, places> waiting_{};
    std::size_t next_ = 0, count_ = 0;
};

/// How the lanes of a block go on, a byte each, as one number; 0: all are whole.
std::uint64_t hows_of(const GoingOn* first, std::size_t count) {
    static_assert(GoingOn{} == GoingOn::whole && lanes_of_block == sizeof(std::uint64_t));
    std::uint64_t hows = 0;
    std::memcpy(&hows, first, count);
    return hows;
}
constexpr unsigned bit_of_byte(std::size_t byte) {
    return static_cast<unsigned>(8 * (std::endian::native == std::endian::little ? byte : 7 - byte));
}

/// 1: the intent says something that is new, moves and looks apart.
std::uint64_t anything_else_is_new(const LaneBlock& block, std::size_t lane, const Intent& intent) {
    const std::uint64_t keys = lane_keys(intent.held, intent.facing == Facing::movement) ^ block.keys[lane];
    const std::uint64_t foreign = intent.naming != 0 ? intent.naming ^ block.naming[lane] : 0;
    return (keys | foreign | intent.changes.size() | reinterpret_cast<std::uintptr_t>(intent.focus)) != 0 ? 1
                                                                                                          : 0;
}
/// The same of several, a byte for each.
std::uint64_t news_of_some(const LaneBlock& block, std::size_t first_lane, std::span<const Intent> intents) {
    std::uint64_t news = 0;
    for (std::size_t i = 0; i < intents.size(); ++i) {
        news |= anything_else_is_new(block, first_lane + i, intents[i]) << bit_of_byte(i);
    }
    return news;
}
/// The same without a loop.
template <std::size_t... Lane>
std::uint64_t news_of_all(const LaneBlock& block, std::span<const Intent> intents,
                          std::index_sequence<Lane...> /*lanes*/) {
    return ((anything_else_is_new(block, Lane, intents[Lane]) << bit_of_byte(Lane)) | ...);
}
/// Where the kernel finds moves and looks.
const double* numbers_of(const Intent& intent) {
    static_assert(std::is_standard_layout_v<Intent> && offsetof(Intent, move) == 0 &&
                  offsetof(Move, side) == sizeof(double) && offsetof(Intent, look) == 2 * sizeof(double) &&
                  offsetof(Look, pitch) == sizeof(double));
    static_assert(sizeof(Intent) == numbers_of_intent * sizeof(double));
    return &intent.move.forward;
}

GoOn kernel_for(std::size_t lanes) {
#if defined(CURSIMETER_WIDE_LANES)
    if (lanes >= 4) {
        return lanes >= 8 ? go_on_by_eights : go_on_by_fours;
    }
#endif
    return lanes >= 2 ? go_on_by_twos : go_on_by_ones;
}

}  // namespace

std::size_t most_lanes() {
#if defined(CURSIMETER_WIDE_LANES)
    __builtin_cpu_init();
    if (__builtin_cpu_supports("avx512f") != 0 && __builtin_cpu_supports("avx512dq") != 0 &&
        __builtin_cpu_supports("avx512vl") != 0) {
        return 8;
    }
    if (__builtin_cpu_supports("avx2") != 0) {
        return 4;
    }
#endif
    return 2;
}

void advance_crowd(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt,
                   CrowdReport& report) {
    if (intents.empty()) {
        return;  // `first` may be anything then
    }
    const GoingOn* const going_on = CrowdAccess::going_on(crowd);
    const GoOn kernel = kernel_for(crowd.lanes());
    LaneWork work;
    work.seconds = dt.value;
    work.reach = std::max(dt.value, instant_width.value);
    work.largest_look = largest_look;
    const bool quick = dt.value >= 0.0 && dt.value <= longest_tick.value;
    Queue queue(crowd, first, intents, dt, report);
    std::size_t in_lanes = 0;
    const std::size_t end = first + intents.size();
    for (std::size_t from = first; from < end;) {
        // A block may lie in two parts, which two threads move on: of a part of one nothing else is written.
        const std::size_t block = block_of(from), to = std::min(end, (block + 1) * lanes_of_block);
        LaneBlock& lanes = CrowdAccess::blocks(crowd)[block];
        const std::size_t first_lane = lane_of(from), count = to - from;
        const bool is_full = count == lanes_of_block;
        unsigned left = ((1U << count) - 1) << first_lane;
        const std::uint64_t hows = hows_of(going_on + from, count);
        if (quick && hows != 0) {
            const std::span<const Intent> own = intents.subspan(from - first, count);
            work.intents = numbers_of(own.front());
            work.first_lane = first_lane;
            const std::uint64_t news =
                is_full ? news_of_all(lanes, own, std::make_index_sequence<lanes_of_block>())
                        : news_of_some(lanes, first_lane, own);
            constexpr std::uint64_t byte = 0xff;
            const std::uint64_t going = hows & ~(news * byte);
            std::memset(work.how, 0, sizeof work.how);
            std::memcpy(work.how + first_lane, &going, count);
            const unsigned done = (is_full ? kernel : go_on_by_ones)(lanes, work);
            in_lanes += static_cast<std::size_t>(std::popcount(done));
            left &= ~done;
        }
        for (; left != 0; left &= left - 1) {
            const std::size_t i = block * lanes_of_block + static_cast<std::size_t>(std::countr_zero(left));
            CrowdAccess::catch_up(crowd, i);
            queue.add(i);
        }
        from = to;
    }
    queue.serve_all();
    CrowdAccess::count_advanced(report, in_lanes);
}

void advance_crowd_in_world(Crowd& crowd, std::size_t first, std::span<const Intent> intents,
                            const Terrain& terrain, Seconds dt, CrowdReport& report) {
    Report one;
    for (std::size_t i = 0; i < intents.size(); ++i) {
        CrowdAccess::catch_up(crowd, first + i);
        advance_in_world(crowd.chart(first + i).data(), CrowdAccess::whole(crowd, first + i), intents[i],
                         terrain, dt, one, nullptr);
        CrowdAccess::take_in(report, first + i, one);
        clear(one);
    }
}

}  // namespace cursimeter::detail
