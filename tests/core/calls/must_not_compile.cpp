// Each case is a mistake that the types must refuse; support/must_not_compile.cmake compiles this file
// without any of them, and once with each.
#include <cursimeter/cursimeter.hpp>

using namespace cursimeter;

void use(const Chart& chart, Runner& runner, const Intent& intent) {
    const Report report = advance(chart, runner, intent, Seconds{1.0 / 60.0});
    static_cast<void>(report);
#ifdef plain_number_as_seconds
    static_cast<void>(advance(chart, runner, intent, 60));
#endif
#ifdef meter_as_state
    static_cast<void>(chart.name(StateId{}) == chart.name(chart.meter("stamina")));
    const StateId state = chart.meter("stamina");
    static_cast<void>(state);
#endif
#ifdef degrees_as_seconds
    static_cast<void>(advance(chart, runner, intent, Degrees{1.0}));
#endif
#ifdef events_of_a_temporary
    for (const Event& event : advance(chart, runner, intent, Seconds{1.0 / 60.0}).events()) {
        static_cast<void>(event);
    }
#endif
#ifdef report_unread
    advance(chart, runner, intent, Seconds{1.0 / 60.0});
#endif
}
