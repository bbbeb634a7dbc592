#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <cursimeter/chart.hpp>
#include <cursimeter/ids.hpp>
#include <glm/vec3.hpp>
#include <span>
#include <string_view>

namespace cursimeter {

/// Kinds of events. `of` says which index an event carries in `Event::subject`.
enum class EventKind : std::uint8_t {
    left,       ///< a state was left; of: state, value: distance walked since spawning, m
    entered,    ///< a state was entered, with its cause; of: state, value: as for left
    pressed,    ///< a key went down; of: action
    released,   ///< a key went up; of: action
    draining,   ///< a meter begins to drain; of: meter, value: level
    rested,     ///< a meter drains no longer; of: meter, value: level
    emptied,    ///< a meter reached 0; of: meter
    filled,     ///< a meter reached its capacity; of: meter
    spent,      ///< a meter's latch closed; of: meter, value: level
    recovered,  ///< a meter's latch opened again; of: meter, value: level
    ready,      ///< a cooldown is over; of: cooldown
    jumped,     ///< a launch; of: the state that launches, value: upward speed, m/s
    lifted,     ///< the ground was left otherwise; of: state, value: speed, m/s
    landed,     ///< the ground was reached; of: the state until then, value: speed against the ground, m/s
    bumped,     ///< it ran into something; of: state, value: speed against it, m/s
    pushed,     ///< a push began; of: state, value: its speed, m/s
    began,      ///< a modifier is at work; of: modifier, value: its stacks
    stacked,    ///< its stacks have changed; of: modifier, value: how many
    ended,      ///< it is over; of: modifier
    crowded,    ///< the chart wanted it and there was no place left; of: modifier
    refused,    ///< a press could not bring a state about; of: state, cause: the first term that fails
    crossed,    ///< a meter passed a named threshold; of: meter, value: level, which: threshold
    footstep,   ///< a foot comes down; of: state, value: speed, m/s, which: 0 left, 1 right
    held_back,  ///< states undo each other's conditions: one waits (shortest_return); told once until something comes
                ///< from outside; of: the state that waits
    crushed,  ///< solids leave no room for the body; of: state, value: how deep it is in one, m
};

/// The kind that stands last.
inline constexpr EventKind last_event_kind = EventKind::crushed;

/// What an event is about.
enum class EventSubject : std::uint8_t { state, action, meter, cooldown, modifier };

[[nodiscard]] std::string_view to_string(EventKind kind);
[[nodiscard]] EventSubject subject_of(EventKind kind);

/// Something that happened, with its time inside the tick.
struct Event {
    double at;     ///< s after the tick's start
    double value;  ///< by kind, see there; otherwise 0
    EventKind kind;
    std::uint8_t subject;  ///< index of a state, an action or a meter, by kind
    Cause cause;           ///< of `entered` and `refused`; meaningless for others
    std::uint8_t which;    ///< of `crossed`: index of the threshold; of `footstep`: foot
    bool rising;           ///< of `crossed`: upward
};

/// Name of the thing an event is about.
[[nodiscard]] const std::string& subject_name(const Chart& chart, const Event& event);

/// Why `advance` did nothing at all.
enum class Refusal : std::uint8_t {
    none,
    bad_dt,          ///< negative or not a number
    foreign_chart,   ///< the runner was spawned with another chart
    foreign_intent,  ///< the intent means the actions of a chart with other names (`Intent::naming`)
};

/// What one `advance` returns. About 3 kB; only the first `event_count` events are written.
struct Report {
    Report() {}  // NOLINT(cppcoreguidelines-pro-type-member-init): the event array stays unwritten on purpose
    /// Copies the events that there are, not the room for them: about 60 bytes and 24 for each event.
    Report(const Report& other) {
        *this = other;
    }  // NOLINT(cppcoreguidelines-pro-type-member-init): see above
    Report& operator=(const Report& other) {
        if (this != &other) {
            refusal = other.refusal;
            intent_mended = other.intent_mended;
            dt_shortened = other.dt_shortened;
            instants_capped = other.instants_capped;
            instants = other.instants;
            event_count = other.event_count;
            events_lost = other.events_lost;
            seconds = other.seconds;
            displacement = other.displacement;
            std::copy_n(other.event_table.begin(), other.event_count, event_table.begin());
        }
        return *this;
    }

    Refusal refusal = Refusal::none;
    /// Something in the intent was not a number, out of range or unknown, and was left out.
    bool intent_mended = false;
    /// dt was above `longest_tick`; only that much was simulated. Call again with the rest.
    bool dt_shortened = false;
    /// More instants than limits::instants_per_tick; the rest of the tick ran without being cut, its
    /// remaining changes taken in at once.
    bool instants_capped = false;
    std::uint16_t instants = 0;     ///< at which the tick was cut or its facts gathered
    std::uint16_t event_count = 0;  ///< see events()
    std::uint32_t events_lost = 0;  ///< that did not fit into the table
    double seconds = 0.0;           ///< simulated
    glm::dvec3 displacement{0.0};   ///< m
    std::array<Event, limits::events_per_report> event_table;

    /// The events of this tick in order of time. They live as long as the report, so not of a temporary one.
    [[nodiscard]] std::span<const Event> events() const& { return {event_table.data(), event_count}; }
    void events() const&& = delete;
};

}  // namespace cursimeter
