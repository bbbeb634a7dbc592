#include <algorithm>
#include <array>
#include <cursimeter/crowd.hpp>
#include <limits>
#include <optional>
#include <stdexcept>

#include "core/tick/open_ground.hpp"

/// Of a runner that goes on as it is, with nothing new and at an even speed, what its ticks read and write stands in a row of its
/// own, and they work on that row alone, by the same code as for one runner: of 100,000 who walk on, a tick moves 256 bytes
/// each. Whoever wants something new, or has something due, is brought up to date and goes on whole, until a tick has passed
/// in which nothing was new: a mouse that moves in every tick costs no copying.
namespace cursimeter {
namespace detail {

struct CrowdAccess {
    static RunnerState& whole(Crowd& crowd, std::size_t index) {
        return RunnerAccess::state(crowd.whole_[index]);
    }
    static QuietRunner* quiet(Crowd& crowd) { return crowd.quiet_.data(); }
    static std::uint8_t* quiet_now(Crowd& crowd) { return crowd.quiet_now_.data(); }
    static void catch_up(Crowd& crowd, std::size_t index) { crowd.catch_up(index); }

    static void begin(CrowdReport& report) {
        report.count_ = report.lost_ = report.advanced_ = report.refused_ = report.first_refused_ = 0;
        report.mended_ = report.capped_ = 0;
        report.first_refusal_ = Refusal::none;
        report.dt_shortened_ = false;
    }
    static void count_advanced(CrowdReport& report, std::size_t runners) { report.advanced_ += runners; }
    static void refuse(CrowdReport& report, std::size_t index, std::size_t runners, Refusal why) {
        if (report.refused_ == 0) {
            report.first_refused_ = index;
            report.first_refusal_ = why;
        }
        report.refused_ += runners;
    }
    static void take_in(CrowdReport& report, std::size_t index, const Report& one) {
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
};

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

QuietRunner quiet_part_of(const RunnerState& whole, const ChartData& chart) {
    QuietRunner quiet;
    quiet.clock = whole.clock;
    quiet.position = whole.position;
    quiet.distance = whole.distance;
    quiet.velocity = whole.velocity;
    quiet.next_due = whole.next_due;
    quiet.speed = whole.speed;
    quiet.move_forward = whole.move_forward;
    quiet.move_side = whole.move_side;
    quiet.look_yaw = whole.look_yaw;
    quiet.look_pitch = whole.look_pitch;
    quiet.held = whole.held;
    quiet.faces_movement = whole.faces_movement;
    quiet.naming = chart.naming;
    return quiet;
}

void put_back(const QuietRunner& quiet, RunnerState& whole) {
    whole.clock = quiet.clock;
    whole.position = quiet.position;
    whole.distance = quiet.distance;
}

/// Runners whose tick is not quiet wait for it in a queue, while what it reads of them comes from memory.
class Queue {
  public:
    /// How many wait. With 100,000 runners 8, 16 and 32 were equal.
    static constexpr std::size_t places = 16;
    /// Cache lines that a tick reads whose look has moved. Asking for a fifth made all slower.
    static constexpr std::uintptr_t lines_of_turns = 4;

    Queue(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt, CrowdReport& report)
        : crowd_(crowd), first_(first), intents_(intents), dt_(dt), report_(report) {}

    void add(std::size_t place) {
        expect<lines_of_turns>(reinterpret_cast<std::uintptr_t>(&CrowdAccess::whole(crowd_, first_ + place)));
        if (count_ == places) {
            serve();
        }
        waiting_[(next_ + count_++) % places] = place;
    }
    void serve_all() {
        while (count_ != 0) {
            serve();
        }
    }

  private:
    void serve() {
        const std::size_t place = waiting_[next_], index = first_ + place;
        next_ = (next_ + 1) % places;
        --count_;
        RunnerState& whole = CrowdAccess::whole(crowd_, index);
        const ChartData& chart = crowd_.chart(index).data();
        one_.instants = 0;
        const bool quiet = advance_on_open_ground(chart, whole, intents_[place], dt_, one_, nullptr);
        if (tells_anything(one_)) {
            CrowdAccess::take_in(report_, index, one_);
            clear(one_);
            return;  // what was refused must be asked again
        }
        CrowdAccess::count_advanced(report_, 1);
        if (quiet) {
            CrowdAccess::quiet(crowd_)[index] = quiet_part_of(whole, chart);
            CrowdAccess::quiet_now(crowd_)[index] = 1;
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

/// Where those go on for which there is an intent; the others are told of as refused.
std::span<const Intent> begin_part(const Crowd& crowd, std::size_t first, std::span<const Intent> intents,
                                   CrowdReport& report, bool whole) {
    CrowdAccess::begin(report);
    const std::size_t there = first < crowd.size() ? crowd.size() - first : 0;
    const std::size_t count = std::min(intents.size(), there);
    if (whole && count < there) {
        CrowdAccess::refuse(report, first + count, there - count, Refusal::none);
    }
    return intents.first(count);
}

void advance_quickly(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt,
                     CrowdReport& report) {
    if (intents.empty()) {
        return;  // `first` may be anything then
    }
    QuietRunner* const quiet = CrowdAccess::quiet(crowd) + first;
    const std::uint8_t* const quiet_now = CrowdAccess::quiet_now(crowd) + first;
    const double seconds = dt.value;
    const bool quick = seconds >= 0.0 && seconds <= longest_tick.value;
    Queue queue(crowd, first, intents, dt, report);
    std::size_t quiet_ones = 0;
    for (std::size_t i = 0; i < intents.size(); ++i) {
        if (quiet_now[i] == 0) {
            queue.add(i);
            continue;
        }
        QuietRunner& runner = quiet[i];
        const Intent& intent = intents[i];
        const std::uint64_t foreign = intent.naming != 0 ? intent.naming ^ runner.naming : 0;
        const std::uint64_t news =
            what_else_is_new(runner, intent) | how_look_is_new(runner, intent) | foreign;
        if (news == 0 && quick && runner.clock + seconds < runner.next_due) [[likely]] {
            glide_plainly(runner, seconds);
            ++quiet_ones;
        } else {
            CrowdAccess::catch_up(crowd, first + i);
            queue.add(i);
        }
    }
    queue.serve_all();
    CrowdAccess::count_advanced(report, quiet_ones);
}

void advance_in_turn(Crowd& crowd, std::size_t first, std::span<const Intent> intents, const Terrain& terrain,
                     Seconds dt, CrowdReport& report) {
    Report one;
    for (std::size_t i = 0; i < intents.size(); ++i) {
        CrowdAccess::catch_up(crowd, first + i);
        advance_in_world(crowd.chart(first + i).data(), CrowdAccess::whole(crowd, first + i), intents[i],
                         terrain, dt, one, nullptr);
        CrowdAccess::take_in(report, first + i, one);
        clear(one);
    }
}

/// Where the chart with a tag is in the list.
std::optional<std::uint16_t> place_of_tag(std::span<const Chart> charts, std::uint32_t tag) {
    for (std::size_t i = 0; i < charts.size(); ++i) {
        if (charts[i].data().tag == tag) {
            return static_cast<std::uint16_t>(i);
        }
    }
    return std::nullopt;
}

std::uint16_t chart_of(std::span<const Chart> charts, const Runner& runner) {
    if (const auto place = place_of_tag(charts, RunnerAccess::state(runner).chart_tag)) {
        return *place;
    }
    throw ChartError({{"runner",
                       "belongs to a chart that the crowd does not know",
                       "add its chart first: add_chart",
                       {},
                       0,
                       0}});
}

}  // namespace
}  // namespace detail

void Crowd::catch_up(std::size_t index) noexcept {
    if (quiet_now_[index] != 0) {
        detail::put_back(quiet_[index], detail::RunnerAccess::state(whole_[index]));
        quiet_now_[index] = 0;
    }
}

void Crowd::note_chart(std::size_t index) noexcept {
    const std::uint32_t tag = detail::RunnerAccess::state(whole_[index]).chart_tag;
    // One of a chart that the crowd does not know is refused in every tick, by whichever chart.
    chart_of_[index] = detail::place_of_tag(charts_, tag).value_or(chart_of_[index]);
}

void Crowd::add_chart(const Chart& chart) {
    if (detail::place_of_tag(charts_, chart.data().tag)) {
        return;
    }
    constexpr std::size_t most = std::numeric_limits<std::uint16_t>::max();
    if (charts_.size() == most) {
        throw ChartError({{"chart",
                           "the crowd knows 65,535 charts already",
                           "remove_chart those that none is of",
                           {},
                           0,
                           0}});
    }
    charts_.push_back(chart);
}

bool Crowd::remove_chart(const Chart& chart) {
    const auto place = detail::place_of_tag(charts_, chart.data().tag);
    if (!place || charts_.size() == 1 ||
        std::find(chart_of_.begin(), chart_of_.end(), *place) != chart_of_.end()) {
        return false;
    }
    charts_.erase(charts_.begin() + *place);
    for (std::uint16_t& of : chart_of_) {
        of = static_cast<std::uint16_t>(of > *place ? of - 1 : of);
    }
    return true;
}

void Crowd::reserve(std::size_t runners) {
    chart_of_.reserve(runners);
    whole_.reserve(runners);
    quiet_.reserve(runners);
    quiet_now_.reserve(runners);
}

std::size_t Crowd::add(const Runner& runner) {
    const std::uint16_t of = detail::chart_of(charts_, runner);
    const Runner added = runner;  // which may be one of this crowd's own
    const std::size_t room =
        std::min({chart_of_.capacity(), whole_.capacity(), quiet_.capacity(), quiet_now_.capacity()});
    if (size() == room) {
        reserve(std::max<std::size_t>(16, 2 * size()));  // before any grows, so that all do or none
    }
    chart_of_.push_back(of);
    whole_.push_back(added);
    quiet_.emplace_back();
    quiet_now_.push_back(0);
    return size() - 1;
}

std::size_t Crowd::add(const Chart& chart, const Placement& placement) {
    return add(spawn(chart, placement));
}

void Crowd::remove(std::size_t index) {
    if (index >= size()) {
        throw std::out_of_range("Crowd::remove: there is no runner of this index");
    }
    chart_of_[index] = chart_of_.back();
    whole_[index] = whole_.back();
    quiet_[index] = quiet_.back();
    quiet_now_[index] = quiet_now_.back();
    chart_of_.pop_back();
    whole_.pop_back();
    quiet_.pop_back();
    quiet_now_.pop_back();
}

Runner Crowd::runner(std::size_t index) const {
    Runner now = whole_[index];
    if (quiet_now_[index] != 0) {
        detail::put_back(quiet_[index], detail::RunnerAccess::state(now));
    }
    return now;
}

void Crowd::set(std::size_t index, const Runner& runner) {
    chart_of_[index] = detail::chart_of(charts_, runner);
    whole_[index] = runner;
    quiet_now_[index] = 0;
}

CrowdReport::CrowdReport(std::size_t most_events) : events_(most_events) {}

void advance_all(Crowd& crowd, std::span<const Intent> intents, Seconds dt, CrowdReport& report) noexcept {
    detail::advance_quickly(crowd, 0, detail::begin_part(crowd, 0, intents, report, true), dt, report);
}

void advance_all(Crowd& crowd, std::span<const Intent> intents, const Terrain& terrain, Seconds dt,
                 CrowdReport& report) noexcept {
    detail::advance_in_turn(crowd, 0, detail::begin_part(crowd, 0, intents, report, true), terrain, dt,
                            report);
}

void advance_part(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt,
                  CrowdReport& report) noexcept {
    detail::advance_quickly(crowd, first, detail::begin_part(crowd, first, intents, report, false), dt,
                            report);
}

void advance_part(Crowd& crowd, std::size_t first, std::span<const Intent> intents, const Terrain& terrain,
                  Seconds dt, CrowdReport& report) noexcept {
    detail::advance_in_turn(crowd, first, detail::begin_part(crowd, first, intents, report, false), terrain,
                            dt, report);
}

}  // namespace cursimeter
