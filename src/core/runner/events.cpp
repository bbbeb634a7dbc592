#include <array>
#include <cursimeter/report.hpp>

/// What events are called and what they are about: a row for each kind.
namespace cursimeter {
namespace {

struct Row {
    EventKind kind;
    std::string_view name;
    EventSubject subject;
};

constexpr std::array event_table{
    Row{EventKind::left, "left", EventSubject::state},
    Row{EventKind::entered, "entered", EventSubject::state},
    Row{EventKind::pressed, "pressed", EventSubject::action},
    Row{EventKind::released, "released", EventSubject::action},
    Row{EventKind::draining, "draining", EventSubject::meter},
    Row{EventKind::rested, "rested", EventSubject::meter},
    Row{EventKind::emptied, "emptied", EventSubject::meter},
    Row{EventKind::filled, "filled", EventSubject::meter},
    Row{EventKind::spent, "spent", EventSubject::meter},
    Row{EventKind::recovered, "recovered", EventSubject::meter},
    Row{EventKind::ready, "ready", EventSubject::cooldown},
    Row{EventKind::jumped, "jumped", EventSubject::state},
    Row{EventKind::lifted, "lifted", EventSubject::state},
    Row{EventKind::landed, "landed", EventSubject::state},
    Row{EventKind::bumped, "bumped", EventSubject::state},
    Row{EventKind::pushed, "pushed", EventSubject::state},
    Row{EventKind::began, "began", EventSubject::modifier},
    Row{EventKind::stacked, "stacked", EventSubject::modifier},
    Row{EventKind::ended, "ended", EventSubject::modifier},
    Row{EventKind::crowded, "crowded out", EventSubject::modifier},
    Row{EventKind::refused, "refused", EventSubject::state},
    Row{EventKind::crossed, "crossed", EventSubject::meter},
    Row{EventKind::footstep, "footstep", EventSubject::state},
    Row{EventKind::held_back, "held back", EventSubject::state},
    Row{EventKind::crushed, "crushed", EventSubject::state},
};

constexpr bool in_order() {
    for (std::size_t i = 0; i < event_table.size(); ++i) {
        if (event_table[i].kind != static_cast<EventKind>(i)) {
            return false;
        }
    }
    return event_table.size() == static_cast<std::size_t>(last_event_kind) + 1;
}
static_assert(in_order(), "a row for each kind, in their order");

const Row& row_of(EventKind kind) {
    return event_table[static_cast<std::size_t>(kind)];
}

}  // namespace

std::string_view to_string(EventKind kind) {
    return kind <= last_event_kind ? row_of(kind).name : "unknown";
}

EventSubject subject_of(EventKind kind) {
    return kind <= last_event_kind ? row_of(kind).subject : EventSubject::state;
}

const std::string& subject_name(const Chart& chart, const Event& event) {
    switch (subject_of(event.kind)) {
        case EventSubject::state:
            return chart.name(StateId{event.subject});
        case EventSubject::action:
            return chart.name(ActionId{event.subject});
        case EventSubject::modifier:
            return chart.name(ModifierId{event.subject});
        case EventSubject::cooldown:
            return chart.name(CooldownId{event.subject});
        case EventSubject::meter:
            break;
    }
    return chart.name(MeterId{event.subject});
}

}  // namespace cursimeter
